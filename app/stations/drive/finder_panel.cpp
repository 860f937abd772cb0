// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/drive/finder_panel.h"

#include <QFormLayout>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QPushButton>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

#include "app/shell/flow_layout.h"
#include "app/shell/table_tools.h"
#include "app/shell/theme.h"
#include "core/base/at.h"
#include "core/base/units.h"
#include "core/drive/ratio_text.h"

namespace ivrant::app {
namespace {

QString describe(const drive::FoundTrain& train) {
    QString text;
    for (const auto& stage : train.stages) {
        if (!text.isEmpty()) text += " · ";
        text +=
            stage.worm ? QString("worm %1").arg(stage.driven) : QString("%1:%2").arg(stage.driver).arg(stage.driven);
    }
    return text;
}

QString percent(double error) {
    return std::abs(error) < 1e-12 ? "exact" : (error > 0 ? "+" : "") + numberText(error * 100, 2) + " %";
}

} // namespace

FinderPanel::FinderPanel(QWidget* parent)
    : QWidget(parent), m_ratio(new QLineEdit("1:15", this)), m_tolerance(new QLineEdit("2", this)),
      m_load(new QLineEdit("0", this)), m_stock(new QLineEdit(this)), m_stages(new QComboBox(this)),
      m_hold(new QComboBox(this)), m_sense(new QComboBox(this)), m_motor(new QComboBox(this)),
      m_holes(new QCheckBox("holes only", this)), m_found(new QLabel(this)), m_trains(new QTableWidget(this)) {
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(4, 4, 4, 4);
    m_ratio->setObjectName("ratio");
    m_ratio->setAccessibleName("Wanted ratio, speed or torque at the output");
    m_ratio->setToolTip("A ratio, turns out for turns in (1:15), a speed (40 rpm) or a torque (300 Nmm) at the output");
    m_tolerance->setObjectName("ratioTolerance");
    m_tolerance->setAccessibleName("Tolerance in percent");
    m_tolerance->setMaximumWidth(scaled(48));
    m_stages->setAccessibleName("Most stages");
    for (int i = 1; i <= 4; ++i) m_stages->addItem(QString("%1 stages").arg(i).replace("1 stages", "1 stage"), i);
    m_stages->setCurrentIndex(2);
    m_hold->setAccessibleName("Holding without power");
    for (QComboBox* box : {m_hold, m_sense, m_motor}) box->setSizeAdjustPolicy(QComboBox::AdjustToContents);
    m_hold->addItems({"holds or not", "must hold", "no worm"});
    m_sense->setAccessibleName("Sense");
    m_sense->addItems({"any sense", "same sense", "reversed"});
    auto* first = new QHBoxLayout;
    first->addWidget(new QLabel("wanted", this));
    first->addWidget(m_ratio, 1);
    first->addWidget(new QLabel("± %", this));
    first->addWidget(m_tolerance);
    first->addWidget(m_stages);
    layout->addLayout(first);
    auto* second = new FlowLayout;
    second->addWidget(m_hold);
    second->addWidget(m_sense);
    second->addWidget(m_holes);
    layout->addLayout(second);
    auto* third = new FlowLayout;
    m_motor->setObjectName("finderMotor");
    m_motor->setAccessibleName("Motor at the input");
    m_load->setObjectName("finderLoad");
    m_load->setAccessibleName("Torque against the output, N·mm");
    m_load->setMaximumWidth(scaled(64));
    third->addWidget(new QLabel("from", this));
    third->addWidget(m_motor);
    third->addWidget(new QLabel("against N·mm", this));
    third->addWidget(m_load);
    layout->addLayout(third);
    auto* fourth = new QHBoxLayout;
    m_stock->setObjectName("finderStock");
    m_stock->setAccessibleName("Wheels at hand");
    m_stock->setPlaceholderText("any number of every wheel; or 8:4 24:2 worm:1");
    m_stock->setToolTip(
        "Which wheels there are: teeth and how many, such as 8:4 24:2 40 worm:1; empty: any number of every wheel");
    fourth->addWidget(new QLabel("stock", this));
    fourth->addWidget(m_stock, 1);
    layout->addLayout(fourth);
    m_found->setObjectName("ratioFound");
    m_found->setWordWrap(true);
    layout->addWidget(m_found);
    m_trains->setObjectName("trains");
    m_trains->setAccessibleName("Trains found");
    setUpTable(m_trains, "trains");
    layout->addWidget(m_trains, 3);
    auto* put = new QPushButton("place it on the board", this);
    put->setObjectName("placeTrain");
    put->setToolTip("Puts the chosen train on the board, from the chosen shaft or the cursor to the right");
    layout->addWidget(put);
    for (QLineEdit* edit : {m_ratio, m_tolerance, m_load, m_stock})
        connect(edit, &QLineEdit::textEdited, this, &FinderPanel::search);
    for (QComboBox* box : {m_stages, m_hold, m_sense, m_motor})
        connect(box, &QComboBox::currentIndexChanged, this, &FinderPanel::search);
    connect(m_holes, &QCheckBox::toggled, this, &FinderPanel::search);
    connect(put, &QPushButton::clicked, this, &FinderPanel::place);
    connect(m_trains, &QTableWidget::cellDoubleClicked, this, &FinderPanel::place);
    setMotors(drive::getStartingMotors(), drive::getStartingBattery());
}

void FinderPanel::look(const QString& ratio) {
    m_ratio->setText(ratio);
    search();
}

void FinderPanel::setMotors(std::vector<drive::MotorLine> motors, const drive::Battery& battery) {
    if (motors == m_motors && battery == m_battery) return;
    m_motors = std::move(motors);
    m_battery = battery;
    const QSignalBlocker quiet(m_motor);
    const QString kept = m_motor->count() > 0 ? m_motor->currentText() : "motor medium";
    m_motor->clear();
    for (const auto& motor : m_motors) m_motor->addItem(QString::fromStdString(motor.name));
    m_motor->setCurrentIndex(std::max(0, m_motor->findText(kept)));
    search();
}

std::optional<drive::LoadedMotor> FinderPanel::loadedMotor() const {
    const auto load = base::parseNumber(m_load->text().toStdString());
    const int index = m_motor->currentIndex();
    if (!load || !(*load >= 0) || index < 0 || index >= static_cast<int>(m_motors.size())) return std::nullopt;
    return drive::LoadedMotor{at(m_motors, index), m_battery, *load, 1};
}

std::optional<FinderPanel::Wish> FinderPanel::readWish() const {
    const QString text = m_ratio->text().trimmed();
    const auto before = [&](const char* unit) -> std::optional<double> {
        if (!text.endsWith(unit)) return std::nullopt;
        const auto number = base::parseNumber(text.left(text.size() - QString(unit).size()).trimmed().toStdString());
        return number ? std::optional<double>(*number) : std::nullopt;
    };
    Wish wish;
    if (const auto rpm = before("rpm"))
        wish.rpm = rpm;
    else if (const auto torque = before("N·mm") ? before("N·mm") : before("Nmm"))
        wish.torqueNmm = torque;
    else if (const auto ratio = drive::parseRatio(text.toStdString()); ratio && *ratio != 0)
        wish.ratio = std::abs(*ratio);
    else
        return std::nullopt;
    return wish;
}

base::Result<double> FinderPanel::ratioFor(const Wish& wish, double efficiency) const {
    if (wish.ratio) return *wish.ratio;
    auto loaded = loadedMotor();
    if (!loaded)
        return base::Error{"ratio.wish",
                           "A motor and a torque of 0 N·mm or more against the output are needed for that.", ""};
    loaded->efficiency = efficiency;
    return wish.rpm ? drive::calcRatioForSpeed(*loaded, *wish.rpm)
                    : drive::calcRatioForTorque(*loaded, *wish.torqueNmm);
}

QString FinderPanel::collect(double ratio, std::optional<bool> worm, bool onlyNear) {
    const auto tolerance = base::parseNumber(m_tolerance->text().toStdString());
    if (!tolerance) return "The tolerance is a number of percent.";
    drive::RatioWish wish;
    wish.ratio = ratio;
    wish.tolerance = *tolerance / 100;
    wish.mostStages = m_stages->currentData().toInt();
    wish.holds = worm;
    if (m_sense->currentIndex() > 0) wish.reversed = m_sense->currentIndex() == 2;
    if (m_holes->isChecked()) wish.coarsest = drive::GridStep::Holes;
    if (const auto st = drive::parseStock(m_stock->text().toStdString(), wish); !st)
        return "Stock: " + QString::fromStdString(st.error().message) + ".";
    const auto found = drive::searchRatios(wish);
    if (!found) return QString::fromStdString(found.error().message);
    const auto add = [&](const drive::RatioGroup& group) {
        for (const auto& train : group.trains) {
            auto loaded = loadedMotor();
            if (loaded) loaded->efficiency = drive::calcTrainEfficiency(train);
            m_rows.push_back({train, group.ratio, group.error,
                              loaded ? drive::calcTrainOutput(*loaded, group.ratio.get_d()) : drive::TrainOutput{}});
        }
    };
    for (const auto& group : found->groups) add(group);
    if (!found->groups.empty())
        return QString("%1 ratios, the nearest first")
            .arg(found->groups.size())
            .replace("1 ratios, the nearest first", "1 ratio");
    if (onlyNear) return {};
    add(found->nearest);
    return m_rows.empty() ? "No train can be built so."
                          : "No train comes within the tolerance; this is the nearest there is.";
}

/// Worms lose so much that they need another ratio for the same speed or torque: they are looked for apart, then all
/// are put in one order.
void FinderPanel::search() {
    m_rows.clear();
    const auto wish = readWish();
    if (!wish) {
        m_found->setText(
            "Type a ratio, turns out for turns in (1:15, 3:5 or 0.2), a speed (40 rpm) or a torque (300 Nmm).");
        return showRows();
    }
    std::optional<bool> worm;
    if (m_hold->currentIndex() > 0) worm = m_hold->currentIndex() == 1;
    if (wish->ratio) {
        m_found->setText(collect(*wish->ratio, worm, false));
        return showRows();
    }
    drive::FoundTrain spurs{{{}, {}}, 0}, withWorm = spurs; // two stages
    withWorm.stages[1].worm = true;
    QStringList says;
    for (const auto& [kind, model] : {std::pair{false, &spurs}, {true, &withWorm}}) {
        if (worm && *worm != kind) continue;
        const auto ratio = ratioFor(*wish, drive::calcTrainEfficiency(*model));
        const QString what = kind ? "With a worm " : "With spur wheels ";
        if (!ratio)
            says << (loadedMotor() ? what.trimmed() + ": " : QString()) +
                        QString::fromStdString(ratio.error().message) + (loadedMotor() ? "." : "");
        else if (const QString said = collect(*ratio, kind, true); !said.isEmpty())
            says << what + "about 1:" + numberText(1 / *ratio, 1) + ".";
        else
            says << what + "no train comes near 1:" + numberText(1 / *ratio, 1) + ".";
    }
    const auto off = [&](const Row& row) {
        return wish->rpm ? std::abs(row.output.rpm / *wish->rpm - 1) : std::abs(row.error);
    };
    std::stable_sort(m_rows.begin(), m_rows.end(), [&](const Row& a, const Row& b) { return off(a) < off(b); });
    says.removeDuplicates();
    m_found->setText(says.join(" "));
    showRows();
}

void FinderPanel::showRows() {
    std::vector<TableRow> rows;
    rows.reserve(m_rows.size());
    const bool known = loadedMotor().has_value();
    for (const Row& row : m_rows)
        rows.push_back({{QString::fromStdString(drive::formatRatio(row.ratio)), row.ratio.get_d()},
                        {percent(row.error), std::abs(row.error)},
                        {describe(row.train), {}},
                        numberCell(row.train.lengthMm / base::kPitchMm, 1),
                        !known               ? TableCell{}
                        : row.output.rpm > 0 ? numberCell(row.output.rpm, 1)
                                             : TableCell{"stalls", 0},
                        row.output.margin > 0 ? marginCell(row.output.margin) : TableCell{"", 1e9}});
    std::vector<QVariant> ids;
    for (std::size_t i = 0; i < m_rows.size(); ++i) ids.emplace_back(static_cast<int>(i));
    m_trains->clearSelection(); // another search: the best of it is chosen
    fillTable(m_trains, {"Ratio", "Off", "Train", "Long", "rpm", "Margin"}, rows, ids);
    m_trains->resizeColumnsToContents();
    constexpr int kWidths[] = {60, 60, 120, 42, 44, 58};
    for (int c = 0; c < 6; ++c) m_trains->setColumnWidth(c, kWidths[c]);
    if (m_trains->rowCount() > 0) m_trains->selectRow(0);
}

void FinderPanel::place() {
    const int row = m_trains->currentRow();
    if (row < 0 || !m_trains->item(row, 0)) return;
    bool good = false;
    const int index = rowId(m_trains, row).toInt(&good);
    if (good && index < static_cast<int>(m_rows.size())) emit placeAsked(at(m_rows, index).train);
}

} // namespace ivrant::app
