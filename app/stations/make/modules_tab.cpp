// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/make/modules_tab.h"

#include <QHBoxLayout>
#include <QHeaderView>
#include <QPainter>
#include <QSplitter>
#include <QVBoxLayout>
#include <cmath>

#include "app/shell/flow_layout.h"
#include "app/shell/station.h"
#include "app/shell/table_tools.h"
#include "app/shell/text.h"
#include "app/shell/theme.h"
#include "app/shell/when_seen.h"
#include "core/base/at.h"
#include "core/verdict/make/check_modules.h"

namespace ivrant::app {
namespace {

constexpr double kAwayMm = 12; ///< a lifted module is drawn so far beyond its own size from its place

QString listNames(const model::Project& project, const std::vector<int>& modules) {
    QStringList names;
    for (const int one : modules) names << qs(at(project.modules.list, one).name);
    return names.join(", ");
}

QString signOf(verdict::State state) {
    switch (state) {
    case verdict::State::Fail: return "▼ ";
    case verdict::State::Thin: return "■ ";
    case verdict::State::Good: return "▲ ";
    case verdict::State::Note: break;
    }
    return "– ";
}

QString gapText(const study::LiftModule& one) {
    if (one.sides.empty()) return "no walls beside it";
    QStringList gaps;
    for (const study::SideGap& side : one.sides)
        gaps << number(side.mm, 2) + " mm " + qs(study::describeWayOut({side.towards, geometry::Vec3::Zero()}));
    return "room beside it: " + gaps.join(", ");
}

} // namespace

ModulesTab::ModulesTab(Session& session, QWidget* parent)
    : StationTab(session, parent), m_about(new QLabel(this)), m_told(new QLabel(this)),
      m_modules(new QTableWidget(this)), m_reaches(new QTableWidget(this)), m_name(new QLineEdit(this)),
      m_pose(new QComboBox(this)), m_side(new QComboBox(this)), m_with(new QComboBox(this)), m_most(new QSpinBox(this)),
      m_picture(new ScenePicture(session, this)) {
    m_about->setObjectName("modulesAbout");
    m_about->setWordWrap(true);
    m_told->setObjectName("moduleTold");
    m_told->setAccessibleName("What was found");
    m_pose->setSizeAdjustPolicy(QComboBox::AdjustToContents);
    m_told->setWordWrap(true);
    m_told->setTextFormat(Qt::PlainText);
    m_told->setTextInteractionFlags(Qt::TextSelectableByMouse);
    m_modules->setObjectName("moduleTable");
    m_modules->setAccessibleName("Modules");
    m_reaches->setObjectName("reachTable");
    m_reaches->setAccessibleName("Within reach");
    setUpTable(m_modules, "modules");
    setUpTable(m_reaches, "reaches");
    m_name->setObjectName("moduleName");
    m_name->setAccessibleName("Name");
    m_pose->setObjectName("modulePose");
    m_pose->setAccessibleName("Folded to");
    m_side->setObjectName("reachSide");
    m_side->setAccessibleName("Side of the part");
    for (const auto side : {model::Side::Top, model::Side::Bottom, model::Side::Left, model::Side::Right,
                            model::Side::Front, model::Side::Back})
        m_side->addItem(model::getSideName(side), static_cast<int>(side));
    m_with->setObjectName("reachWith");
    m_with->setAccessibleName("What must get there");
    m_with->addItem("finger, 14 mm", false);
    m_with->addItem("plug, 10 mm", true);
    m_most->setObjectName("reachMost");
    m_most->setAccessibleName("Moves at most");
    m_most->setRange(0, model::kMostReachMoves);
    m_most->setSuffix(" moves at most");
    m_picture->setObjectName("modulePicture");
    m_picture->setAccessibleName("Picture of the module lifted off");

    auto* left = new QWidget(this);
    auto* column = new QVBoxLayout(left);
    column->setContentsMargins(0, 0, 0, 0);
    column->addWidget(m_modules, 3);
    column->addWidget(m_reaches, 2);
    column->addWidget(m_name);
    auto* details = new QWidget(left);
    auto* fields = new FlowLayout(details);
    fields->setContentsMargins(0, 0, 0, 0);
    for (QWidget* field : {static_cast<QWidget*>(m_pose), static_cast<QWidget*>(m_side), static_cast<QWidget*>(m_with),
                           static_cast<QWidget*>(m_most)})
        fields->addWidget(field);
    column->addWidget(details);
    auto* buttons = new QWidget(left);
    auto* flow = new FlowLayout(buttons);
    flow->setContentsMargins(0, 0, 0, 0);
    const auto button = [&](const QString& text, const QString& name, const QString& hint, auto slot) {
        auto* b = new QPushButton(text, buttons);
        b->setObjectName(name);
        b->setToolTip(hint);
        connect(b, &QPushButton::clicked, this, slot);
        flow->addWidget(b);
    };
    button("New module", "moduleNew", "What is selected in Shape lifts off together", [this] { addModule(); });
    button("One for each option", "moduleOptions", "What is chosen for an option lifts off",
           [this] { addFromOptions(); });
    button("New reach", "reachNew", "A finger must get to the part that is selected in Shape", [this] { addReach(); });
    button("Belongs here", "moduleAssign", "What is selected in Shape belongs to the marked module or is to be reached",
           [this] { assign(); });
    button("Remove", "moduleRemove", "The marked line goes; its parts stay", [this] { remove(); });
    column->addWidget(buttons);
    auto* right = new QWidget(this);
    auto* show = new QVBoxLayout(right);
    show->setContentsMargins(8, 0, 0, 0);
    show->addWidget(m_picture, 1);
    show->addWidget(m_told);
    auto* halves = new QSplitter(this);
    halves->addWidget(left);
    halves->addWidget(right);
    halves->setStretchFactor(0, 1);
    halves->setStretchFactor(1, 1);
    halves->setSizes({scaled(560), scaled(350)});
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(12, 8, 12, 4);
    layout->addWidget(m_about);
    layout->addWidget(halves, 1);
    const auto choose = [this](bool reach) {
        if (m_filling) return;
        if (!chosenRowId(reach ? m_reaches : m_modules).isValid()) return;
        m_ofReach = reach;
        showMarked();
    };
    connect(m_modules, &QTableWidget::itemSelectionChanged, this, [choose] { choose(false); });
    connect(m_reaches, &QTableWidget::itemSelectionChanged, this, [choose] { choose(true); });
    connect(m_name, &QLineEdit::editingFinished, this, &ModulesTab::takeDetails);
    for (QComboBox* box : {m_pose, m_side, m_with}) connect(box, &QComboBox::activated, this, &ModulesTab::takeDetails);
    connect(m_most, &QSpinBox::editingFinished, this, &ModulesTab::takeDetails);
    connect(&session, &Session::projectChanged, this, [this] { outdate(); });
    connect(&session, &Session::reportChanged, this, whenSeen(this, [this] { outdate(); }));
}

void ModulesTab::refresh() {
    const auto& modules = m_session.project().modules;
    m_about->setText(modules.empty() ? "A lid, a hat, an upper half: select its parts in Shape, then New module. "
                                       "A switch or a battery that a finger must get to: select it, then New reach."
                                     : "");
    m_about->setVisible(modules.empty());
    fillTables();
    showMarked();
}

void ModulesTab::fillTables() {
    const auto report = m_session.isReportCurrent() ? m_session.report() : nullptr;
    const bool known = report && report->modules &&
                       report->modules->modules.size() == m_session.project().modules.list.size() &&
                       report->modules->reaches.size() == m_session.project().modules.reaches.size();
    m_filling = true;
    fillModules(known ? report.get() : nullptr);
    fillReaches(known ? report.get() : nullptr);
    if (!chosenRowId(m_modules).isValid() && !m_ofReach && m_modules->rowCount() > 0) m_modules->selectRow(0);
    m_filling = false;
}

void ModulesTab::fillModules(const verdict::Report* report) {
    const model::Project& project = m_session.project();
    std::vector<TableRow> rows;
    std::vector<QVariant> ids;
    for (std::size_t i = 0; i < project.modules.list.size(); ++i) {
        const model::Module& one = project.modules.list[i];
        ids.push_back(qs(one.id.text));
        TableRow row{{qs(one.name), {}}};
        if (!report) {
            row.insert(row.end(), 6, {"…", {}});
            rows.push_back(std::move(row));
            continue;
        }
        const study::LiftModule& lift = report->modules->modules[i];
        if (lift.parts.empty()) {
            row.push_back({"not in the model", {}});
            row.insert(row.end(), 5, {"", {}});
            rows.push_back(std::move(row));
            continue;
        }
        row.push_back({lift.lifts ? "▲ " + qs(study::describeWayOut(lift.way)) : "▼ no way", {}});
        row.push_back(lift.lifts ? TableCell{number(lift.forceN(), 1) + " N", lift.forceN()} : TableCell{"", 0.0});
        row.push_back({qs(verdict::describeLiftBonds(*report, lift)), {}});
        row.push_back(numberCell(lift.massG, 0));
        row.push_back({(lift.mustFold ? "fold to " + qs(at(report->poses, lift.pose).name) + " " : QString()) +
                           listNames(project, lift.after),
                       {}});
        row.push_back({listNames(project, lift.carries), {}});
        rows.push_back(std::move(row));
    }
    fillTable(m_modules, {"Module", "Lifts off", "Force", "Held by", "Weight g", "First", "Takes along"}, rows, ids);
}

void ModulesTab::fillReaches(const verdict::Report* report) {
    const model::Project& project = m_session.project();
    std::vector<TableRow> rows;
    std::vector<QVariant> ids;
    for (std::size_t i = 0; i < project.modules.reaches.size(); ++i) {
        const model::Reach& reach = project.modules.reaches[i];
        ids.push_back(qs(reach.id.text));
        TableRow row{{qs(reach.name), {}}, {reach.plug ? "plug" : "finger", {}}};
        if (!report) {
            row.insert(row.end(), 2, {"…", {}});
        } else {
            const study::ReachWay& way = report->modules->reaches[i];
            const bool good = way.found && way.moves <= reach.mostMoves;
            row.push_back(way.found ? TableCell{(good ? "▲ " : "▼ ") + number(way.moves, 0), double(way.moves)}
                                    : TableCell{way.gone ? "not in the model" : "▼ never", 1e9});
            row.push_back({way.found && way.moves == 0 ? "at once" : qs(verdict::describeMoves(*report, way)), {}});
        }
        rows.push_back(std::move(row));
    }
    fillTable(m_reaches, {"Within reach", "Of a", "Moves", "First"}, rows, ids);
}

ModulesTab::Marked ModulesTab::marked() const {
    const auto& modules = m_session.project().modules;
    const auto find = [](const auto& list, const QVariant& id) {
        for (std::size_t i = 0; i < list.size(); ++i)
            if (id.isValid() && qs(list[i].id.text) == id.toString()) return static_cast<int>(i);
        return -1;
    };
    if (m_ofReach) return {-1, find(modules.reaches, chosenRowId(m_reaches))};
    const int one = find(modules.list, chosenRowId(m_modules));
    if (one < 0 && !modules.list.empty()) return {0, -1};
    if (one < 0 && !modules.reaches.empty()) return {-1, 0};
    return {one, -1};
}

bool ModulesTab::mark(const std::string& id) {
    refresh();
    const QVariant wanted = qs(id);
    for (auto* table : {m_modules, m_reaches}) {
        const int row = findRow(table, wanted);
        if (row < 0) continue;
        m_ofReach = table == m_reaches;
        m_filling = true;
        table->selectRow(row);
        m_filling = false;
        showMarked();
        return true;
    }
    return false;
}

void ModulesTab::showMarked() {
    const model::Project& project = m_session.project();
    const Marked mark = marked();
    m_filling = true;
    if (auto* other = mark.reach >= 0 ? m_modules : m_reaches; chosenRowId(other).isValid()) {
        other->clearSelection(); // one line at a time
        other->setCurrentCell(-1, -1);
    }
    m_name->setEnabled(mark.module >= 0 || mark.reach >= 0);
    m_pose->setVisible(mark.reach < 0);
    m_pose->setEnabled(mark.module >= 0);
    for (QWidget* field : {static_cast<QWidget*>(m_side), static_cast<QWidget*>(m_with), static_cast<QWidget*>(m_most)})
        field->setVisible(mark.reach >= 0);
    m_name->clear();
    m_pose->clear();
    m_pose->addItem("folded as it needs", QString());
    for (const model::NamedPose& pose : project.poses) m_pose->addItem("folded to " + qs(pose.name), qs(pose.id.text));
    if (mark.module >= 0) {
        const model::Module& one = at(project.modules.list, mark.module);
        m_name->setText(qs(one.name));
        m_pose->setCurrentIndex(std::max(0, m_pose->findData(qs(one.pose.text))));
    }
    if (mark.reach >= 0) {
        const model::Reach& reach = at(project.modules.reaches, mark.reach);
        m_name->setText(qs(reach.name));
        m_side->setCurrentIndex(m_side->findData(static_cast<int>(reach.side)));
        m_with->setCurrentIndex(reach.plug ? 1 : 0);
        m_most->setValue(reach.mostMoves);
    }
    m_filling = false;
    const auto report = m_session.isReportCurrent() ? m_session.report() : nullptr;
    m_told->clear();
    const bool known = report && report->modules;
    if (known && mark.module >= 0 && mark.module < static_cast<int>(report->modules->modules.size()))
        tellModule(*report, at(report->modules->modules, mark.module));
    if (known && mark.reach >= 0 && mark.reach < static_cast<int>(report->modules->reaches.size()))
        tellReach(*report, at(report->modules->reaches, mark.reach));
    showPicture(known ? report.get() : nullptr);
}

void ModulesTab::tellModule(const verdict::Report& report, const study::LiftModule& one) {
    QStringList lines;
    for (const verdict::Verdict& v : report.verdicts)
        if (v.group == "modules" && v.id.ends_with("/" + at(report.project->modules.list, one.index).id.text))
            lines << signOf(v.state) + qs(v.text) + ": " + qs(v.detail);
    if (one.lifts) {
        QString back = one.ledMm > 0 ? "goes back led by its walls over the last " + number(one.ledMm, 1) + " mm"
                                     : QString("goes back by eye, no walls lead it");
        if (!one.alsoGoes.empty()) {
            QStringList ways;
            for (const auto& way : one.alsoGoes) ways << qs(way);
            back += "; it also goes on " + ways.join(", ");
        }
        lines << gapText(one) << back;
        if (one.without.tipDeg) lines << "the rest then tips at " + number(*one.without.tipDeg, 1) + "° at the worst";
    }
    m_told->setText(lines.join("\n"));
}

void ModulesTab::tellReach(const verdict::Report& report, const study::ReachWay& way) {
    QStringList lines;
    for (const verdict::Verdict& v : report.verdicts)
        if (v.group == "modules" && v.id == "reach/" + at(report.project->modules.reaches, way.index).id.text)
            lines << qs(v.text) + ": " + qs(v.detail);
    m_told->setText(lines.join("\n"));
}

void ModulesTab::showPicture(const verdict::Report* report) {
    render::PictureRequest request;
    m_picture->overlay = nullptr;
    std::optional<model::Placed> placed;
    const Marked mark = marked();
    const auto lift = [&](const study::LiftModule& one) {
        geometry::Bounds box;
        for (const model::PartSpot spot : one.parts)
            box.include(geometry::calcBounds(at(model::getPart(*report->project, spot).shape->solids, 0).solid,
                                             at(report->poses, one.pose).placed.X_WP(spot)));
        const double away = kAwayMm + box.size().dot(one.way.off.cwiseAbs());
        for (const model::PartSpot spot : one.parts) request.moved[spot] = one.way.lift + away * one.way.off;
    };
    if (report && mark.module >= 0 && mark.module < static_cast<int>(report->modules->modules.size())) {
        const study::LiftModule& one = at(report->modules->modules, mark.module);
        placed = at(report->poses, one.pose).placed;
        if (one.lifts) lift(one);
        const std::set<model::PartSpot> blocked(one.blocked.begin(), one.blocked.end());
        const QColor c = theme().ember;
        if (!blocked.empty())
            request.tint = [blocked, c](model::PartSpot spot) -> std::optional<std::array<std::uint8_t, 3>> {
                if (blocked.count(spot) == 0) return std::nullopt;
                return std::array<std::uint8_t, 3>{static_cast<std::uint8_t>(c.red()),
                                                   static_cast<std::uint8_t>(c.green()),
                                                   static_cast<std::uint8_t>(c.blue())};
            };
    }
    if (report && mark.reach >= 0 && mark.reach < static_cast<int>(report->modules->reaches.size())) {
        const study::ReachWay& way = at(report->modules->reaches, mark.reach);
        placed = at(report->poses, way.pose.value_or(0)).placed;
        for (const int k : way.lifted) lift(at(report->modules->modules, k));
        const double widthMm =
            at(report->project->modules.reaches, mark.reach).plug ? study::kPlugMm : study::kFingerMm;
        const auto tip = way.at, from = geometry::Vec3(way.at + 60 * way.from);
        const QColor c = way.found ? theme().moss : theme().ember;
        if (!way.gone)
            m_picture->overlay = [this, tip, from, c, widthMm](QPainter& painter) {
                const QPointF a = m_picture->toScreen(tip), b = m_picture->toScreen(from);
                const QPointF across = m_picture->toScreen(tip + widthMm * geometry::Vec3::UnitZ()) - a;
                QColor soft = c;
                soft.setAlpha(90);
                const double width = std::max(6.0, std::hypot(across.x(), across.y()));
                painter.setPen(QPen(soft, width, Qt::SolidLine, Qt::RoundCap));
                painter.drawLine(b, a);
                painter.setPen(QPen(c, 2));
                painter.drawLine(b, a);
                painter.setBrush(c);
                painter.drawEllipse(a, 4, 4);
            };
    }
    m_picture->show(std::move(request), std::move(placed));
}

void ModulesTab::takeDetails() {
    const Marked mark = marked();
    if (m_filling) return;
    const std::string name = m_name->text().trimmed().toStdString();
    if (mark.module >= 0) {
        model::Module one = at(m_session.project().modules.list, mark.module);
        const std::string pose = m_pose->currentData().toString().toStdString();
        if (name == one.name && pose == one.pose.text) return;
        one.name = name;
        one.pose.text = pose;
        m_session.apply("Change a module", [&](const model::Project& p) { return model::putModule(p, one); });
    }
    if (mark.reach < 0) return;
    model::Reach reach = at(m_session.project().modules.reaches, mark.reach);
    const auto side = static_cast<model::Side>(m_side->currentData().toInt());
    const bool plug = m_with->currentData().toBool();
    if (name == reach.name && side == reach.side && plug == reach.plug && m_most->value() == reach.mostMoves) return;
    reach.name = name;
    reach.side = side;
    reach.plug = plug;
    reach.mostMoves = m_most->value();
    m_session.apply("Change a reach", [&](const model::Project& p) { return model::putReach(p, reach); });
}

void ModulesTab::addModule() {
    model::Module one;
    one.parts = m_session.selectedParts();
    if (one.parts.empty()) return m_session.say("Select what lifts off together in Shape first", true);
    one.name = "Module " + std::to_string(m_session.project().modules.list.size() + 1);
    if (!m_session.apply("New module", [&](const model::Project& p) { return model::putModule(p, one); })) return;
    m_ofReach = false;
    mark(m_session.project().modules.list.back().id.text);
    m_name->setFocus();
    m_name->selectAll();
}

void ModulesTab::addFromOptions() {
    const model::Project& project = m_session.project();
    std::vector<model::Module> fresh;
    for (const model::Option& option : project.options.list) {
        const auto isOf = [&](const model::Module& one) { return one.option == option.id; };
        if (std::any_of(project.modules.list.begin(), project.modules.list.end(), isOf)) continue;
        model::Module one;
        one.name = option.name;
        one.option = option.id;
        fresh.push_back(std::move(one));
    }
    if (fresh.empty())
        return m_session.say(project.options.list.empty() ? "There are no options: make them in the tab Options"
                                                          : "Every option is a module already",
                             true);
    m_session.apply("Modules of the options", [&](const model::Project& p) {
        model::EditResult next = p;
        for (const model::Module& one : fresh)
            if (next) next = model::putModule(*next, one);
        return next;
    });
}

void ModulesTab::addReach() {
    const auto parts = m_session.selectedParts();
    if (parts.size() != 1) return m_session.say("Select the one part in Shape that must be reached", true);
    model::Reach reach;
    reach.part = parts.front();
    const auto spot = model::PartIndex(m_session.project()).find(reach.part);
    reach.name = model::getPart(m_session.project(), spot).shape->name;
    if (!m_session.apply("New reach", [&](const model::Project& p) { return model::putReach(p, reach); })) return;
    m_ofReach = true;
    mark(m_session.project().modules.reaches.back().id.text);
    m_name->setFocus();
    m_name->selectAll();
}

void ModulesTab::assign() {
    const Marked marks = marked();
    const auto parts = m_session.selectedParts();
    if (parts.empty() || (marks.module < 0 && marks.reach < 0))
        return m_session.say("Mark a line here, and select parts in Shape", true);
    if (marks.reach >= 0) {
        model::Reach reach = at(m_session.project().modules.reaches, marks.reach);
        if (parts.size() != 1) return m_session.say("Select the one part in Shape that must be reached", true);
        reach.part = parts.front();
        m_session.apply("Change a reach", [&](const model::Project& p) { return model::putReach(p, reach); });
        return;
    }
    model::Module one = at(m_session.project().modules.list, marks.module);
    for (const model::PartId& part : parts)
        if (std::find(one.parts.begin(), one.parts.end(), part) == one.parts.end()) one.parts.push_back(part);
    m_session.apply("Belongs to a module", [&](const model::Project& p) { return model::putModule(p, one); });
}

void ModulesTab::remove() {
    const Marked marks = marked();
    const auto& modules = m_session.project().modules;
    if (marks.module >= 0)
        m_session.apply("Remove a module", [id = at(modules.list, marks.module).id](const model::Project& p) {
            return model::removeModule(p, id);
        });
    else if (marks.reach >= 0)
        m_session.apply("Remove a reach", [id = at(modules.reaches, marks.reach).id](const model::Project& p) {
            return model::removeReach(p, id);
        });
    else
        m_session.say("Mark a line first", true);
}

} // namespace ivrant::app
