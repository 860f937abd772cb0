// SPDX-License-Identifier: GPL-3.0-or-later
// The results side of the Drive station: what its tables, chart and texts show of the report.
#include <QHBoxLayout>
#include <QHeaderView>
#include <algorithm>

#include "app/shell/table_tools.h"
#include "app/shell/text.h"
#include "app/stations/drive/drive_station.h"
#include "core/base/at.h"
#include "core/base/units.h"
#include "core/drive/selector_compare.h"
#include "core/study/drive_inputs.h"

namespace ivrant::app {
namespace {

constexpr int kFunctionWidths[] = {90, 74, 76, 52, 60};

QString whyStill(const drive::FunctionState& function) {
    if (function.locked) return "locked";
    return function.stuck ? "worm holds" : "not driven";
}

} // namespace

void DriveStation::rebuild() {
    m_stale = false;
    m_state.reset();
    if (!m_session.project().boards.empty()) {
        const auto project = std::make_shared<const model::Project>(m_session.project());
        const auto& X_WS = m_session.placed().X_WS;
        m_state = print::makeDriveState(project, study::calcDrive({project.get(), X_WS}, m_session.tree()), X_WS);
    }
    m_board = std::clamp(m_board, 0, std::max(0, static_cast<int>(m_session.project().boards.size()) - 1));
    showTabs();
    m_widget->show(m_state, m_board);
    m_widget->setSpeeds(m_state ? drive::calcShownSpeeds(m_state->report) : std::vector<double>());
    showLayers();
    showFunctions();
    showSelector();
    showMotors();
    m_selectorStale = true;
    showSelectorPage();
}

/// The page of the selector is filled when it is looked at: while something is dragged there is no time for what nobody
/// sees.
void DriveStation::showSelectorPage() {
    if (!m_selectorStale || m_side->currentIndex() != kSelectorTab) return;
    m_selectorStale = false;
    showPositions();
    showComparison();
}

void DriveStation::showTabs() {
    const QSignalBlocker quiet(m_boards);
    const auto& boards = m_session.project().boards;
    while (m_boards->count() > static_cast<int>(boards.size())) m_boards->removeTab(m_boards->count() - 1);
    for (std::size_t b = 0; b < boards.size(); ++b) {
        if (static_cast<int>(b) >= m_boards->count()) m_boards->addTab("");
        m_boards->setTabText(static_cast<int>(b), qs(boards[b]->name));
    }
    m_boards->setCurrentIndex(boards.empty() ? -1 : m_board);
}

void DriveStation::showLayers() {
    const QSignalBlocker quiet(m_layer);
    const QVariant kept = m_layer->currentData();
    m_layer->clear();
    m_layer->addItem("all layers");
    if (m_state) {
        std::set<std::int64_t> heights;
        const auto& board = at(m_state->seen, m_board);
        for (const auto& gear : board.gears)
            for (const auto& shaft : board.shafts)
                if (shaft.id == gear.shaft)
                    heights.insert(shaft.atUm[2] + (shaft.axis == model::BoardAxis::Out ? gear.alongUm : 0));
        for (const std::int64_t height : heights)
            m_layer->addItem("layer " +
                                 numberText(static_cast<double>(height) / static_cast<double>(base::kPitchUm), 2),
                             QVariant::fromValue<qlonglong>(height));
    }
    const int index = m_layer->findData(kept);
    m_layer->setCurrentIndex(kept.isValid() && index > 0 ? index : 0);
    m_widget->setLayer(m_layer->currentIndex() <= 0 ? std::nullopt
                                                    : std::optional<std::int64_t>(m_layer->currentData().toLongLong()));
}

void DriveStation::showFunctions() {
    std::vector<TableRow> rows;
    std::vector<QVariant> ids;
    if (m_state) {
        const auto& report = m_state->report;
        const auto& position = at(report.positions, report.present);
        for (const auto& function : position.functions) {
            const bool driven = !function.motors.empty();
            const QString unit = function.straight ? " mm/s" : " rpm";
            rows.push_back(
                {{qs(function.function->name), {}},
                 {driven ? qs(drive::formatRatio(function.motors.front().ratio)) : whyStill(function),
                  driven ? std::optional<double>(function.motors.front().ratio.get_d()) : std::nullopt},
                 {driven && function.motors.front().known ? numberText(function.speed, 1) + unit : "", function.speed},
                 {function.travelS ? numberText(*function.travelS, 1) + " s" : "", function.travelS.value_or(1e9)},
                 driven ? marginCell(function.margin) : TableCell{"", 1e9}});
            ids.emplace_back(qs(function.function->id.text));
        }
    }
    fillTable(m_functions, {"Function", "Ratio", "Speed", "Travel", "Margin"}, rows, ids);
    for (int c = 0; c < 5; ++c) m_functions->setColumnWidth(c, kFunctionWidths[c]);
    if (m_functions->currentRow() < 0 && m_functions->rowCount() > 0) m_functions->selectRow(0);
    showMotor();
}

void DriveStation::showMotor() {
    std::optional<MotorPlot> plot;
    const int row = m_functions->currentRow();
    if (m_state && row >= 0 && m_functions->item(row, 0)) {
        const std::string id = rowId(m_functions, row).toString().toStdString();
        const auto& report = m_state->report;
        for (const auto& function : at(report.positions, report.present).functions)
            if (function.function->id.text == id && !function.motors.empty() && function.motors.front().known) {
                const auto& share = function.motors.front();
                const auto& motor = at(report.motors, share.motor);
                const double asked = share.point.stalls && share.point.margin > 0
                                         ? share.point.stallNmm / share.point.margin
                                         : share.point.torqueNmm;
                plot = MotorPlot{*motor.line, report.battery, share.point, asked,
                                 qs(motor.motor.name) + " on " + qs(function.function->name)};
            }
    }
    m_chart->show(plot);
    m_train->setText(trainText());
}

/// Why it is locked; else what the chosen shaft does, exactly; else what the whole does.
QString DriveStation::trainText() const {
    if (!m_state) return "No gear board yet. Type a wheel below the board, or find a train for a ratio and place it.";
    const auto& report = m_state->report;
    const auto& position = at(report.positions, report.present);
    const auto nameOf = [&](int thing) { return qs(at(report.net.rotors, thing).name); };
    if (!position.lock.empty()) {
        QStringList sentences;
        for (const auto& sentence : position.lock) sentences << qs(sentence);
        return "Locked: " + sentences.join("; ") +
               (sentences.size() > 1 ? ". Without any one of them it would turn." : ".");
    }
    const auto chosen = m_widget->chosen();
    if (const int thing = chosen.size() == 1 ? report.net.findRotor(chosen[0]) : -1; thing >= 0) {
        QStringList turns;
        for (const auto& [independent, factor] : at(report.motion.motions, thing))
            turns << (independent == thing ? QString("by itself")
                                           : qs(drive::formatRatio(factor)) + " of " + nameOf(independent));
        return nameOf(thing) + ": " + (turns.isEmpty() ? QString("cannot turn") : "turns " + turns.join(" and "));
    }
    QString text = QString("Freedom %1, %2 %3.")
                       .arg(report.motion.freedom())
                       .arg(report.net.relations.size())
                       .arg(report.net.relations.size() == 1 ? "connection" : "connections");
    if (report.motors.empty() && !report.net.rotors.empty()) text += " No motor: turned by hand at " + nameOf(0) + ".";
    QStringList loose;
    for (const int thing : report.motion.listLoose(report.drivers)) loose << nameOf(thing);
    if (!loose.isEmpty())
        text +=
            QString(" Loose: %1%2.")
                .arg(loose.mid(0, 4).join(", "), loose.size() > 4 ? QString(" and %1 more").arg(loose.size() - 4) : "");
    return text;
}

void DriveStation::showSelector() {
    qDeleteAll(m_positions->findChildren<QWidget*>(QString(), Qt::FindDirectChildrenOnly));
    if (!m_state) return;
    auto* layout = static_cast<QHBoxLayout*>(m_positions->layout());
    for (const auto& board : m_state->project->boards)
        for (const auto& selector : board->selectors) {
            auto* name = new QLabel(qs(selector.name), m_positions);
            layout->addWidget(name);
            name->show();
            for (std::size_t p = 0; p < selector.positions.size(); ++p) {
                auto* button = new QPushButton(qs(selector.positions[p].name), m_positions);
                button->setObjectName(QString("position%1").arg(p));
                button->setCheckable(true);
                button->setChecked(static_cast<int>(p) == selector.at);
                connect(button, &QPushButton::clicked, this, [this, id = qs(selector.id.text), p] {
                    // The button goes with the strip that the edit rebuilds.
                    QTimer::singleShot(0, this, [this, id, p] { setSelector(id, static_cast<int>(p)); });
                });
                layout->addWidget(button);
                button->show();
            }
        }
}

/// Function by position: motor, ratio, margin. Below it what moves together and what creeps.
void DriveStation::showPositions() {
    std::vector<TableRow> rows;
    QStringList heads{"Function"};
    QStringList notes;
    if (m_state) {
        const auto& report = m_state->report;
        const auto motorOf = [&](const drive::MotorShare& share) {
            return qs(at(report.motors, share.motor).motor.name);
        };
        const auto states = report.listStates(); // positions, then combinations of several selectors
        for (const drive::PositionState* position : states)
            heads << (position->name.empty() ? QString("Always") : qs(position->name));
        for (std::size_t f = 0; f < report.positions.front().functions.size(); ++f) {
            TableRow row{{qs(report.positions.front().functions[f].function->name), {}}};
            for (const drive::PositionState* position : states) {
                const auto& function = position->functions[f];
                QStringList drives;
                for (const auto& share : function.motors)
                    drives << motorOf(share) + " " + qs(drive::formatRatio(share.ratio));
                QString text =
                    drives.isEmpty() && (function.locked || function.stuck) ? whyStill(function) : drives.join(" + ");
                if (function.margin) text += " ×" + qs(base::formatMargin(*function.margin));
                row.push_back({text, {}});
            }
            rows.push_back(std::move(row));
        }
        for (const drive::PositionState* state : states) {
            const drive::PositionState& position = *state;
            QStringList moving;
            for (const auto& function : position.functions)
                if (!function.motors.empty()) moving << qs(function.function->name);
            notes << (position.name.empty() ? QString("Together") : qs(position.name)) + ": " +
                         (moving.isEmpty() ? QString("nothing moves") : moving.join(", "));
            for (const auto& function : position.functions)
                for (const auto& share : function.creep)
                    notes << qs(function.function->name) + " creeps " + qs(drive::formatRatio(share.ratio)) + " of " +
                                 motorOf(share) + ", which turns what it stands on";
        }
        if (report.leftOut > 0)
            notes << QString::number(report.leftOut) + " more combinations of the selectors are not shown";
    }
    m_table->setSortingEnabled(false);
    fillTable(m_table, heads, rows);
    m_table->resizeColumnsToContents();
    m_tableText->setText(notes.join("\n"));
}

void DriveStation::showComparison() {
    const auto both = m_state ? drive::compareSelector(*m_state->project, m_state->report) : std::nullopt;
    m_compare->setVisible(both.has_value());
    m_compareText->setVisible(both.has_value());
    if (!both) return;
    std::vector<TableRow> rows;
    const auto add = [&](const char* what, double a, double b, int decimals) {
        rows.push_back({{what, {}}, numberCell(a, decimals), numberCell(b, decimals)});
    };
    add("motors", both->asBuilt.motors, both->oneEach.motors, 0);
    add("parts of the boards", both->asBuilt.parts, both->oneEach.parts, 0);
    add("their mass, g", both->asBuilt.massG, both->oneEach.massG, 1);
    add("functions at the same time", both->asBuilt.together, both->oneEach.together, 0);
    add("positions to change over", both->asBuilt.positions, both->oneEach.positions, 0);
    m_compare->setSortingEnabled(false);
    fillTable(m_compare, {"", "As built", "One motor each"}, rows);
    m_compare->resizeColumnsToContents();
    m_compareText->setText("One motor each is counted, not laid out: motors of the kinds used now, clutch wheels made "
                           "fast. Lay it out in a variant to be sure.");
}

/// What the finder may start from: usual motors, measured ones in their place.
void DriveStation::showMotors() {
    std::vector<drive::MotorLine> lines = drive::getStartingMotors();
    for (const auto& motor : m_state ? m_state->report.motors : std::vector<drive::MotorState>()) {
        if (!motor.line) continue;
        const auto known = std::find_if(lines.begin(), lines.end(),
                                        [&](const drive::MotorLine& line) { return line.name == motor.line->name; });
        if (known != lines.end())
            *known = *motor.line;
        else
            lines.push_back(*motor.line);
    }
    m_finder->setMotors(std::move(lines), m_state ? m_state->report.battery : drive::getStartingBattery());
}

} // namespace ivrant::app
