// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/pose/lines_tab.h"

#include <QHBoxLayout>
#include <QHeaderView>
#include <QPainter>
#include <QSplitter>
#include <QVBoxLayout>
#include <algorithm>

#include "app/shell/flow_layout.h"
#include "app/shell/table_tools.h"
#include "app/shell/text.h"
#include "app/shell/theme.h"
#include "app/shell/when_seen.h"
#include "core/base/at.h"
#include "core/model/edits.h"
#include "core/script/line_command.h"
#include "core/study/strand_words.h"

namespace ivrant::app {
namespace {

/// A line without an end is tied where it was led through last.
std::string finish(std::string text) {
    for (const char* end : {" to ", " onto ", " by hand ", " round "})
        if (text.find(end) != std::string::npos) return text;
    const std::size_t last = text.rfind(" through ");
    if (last != std::string::npos) text.replace(last, 9, " to ");
    return text;
}

} // namespace

LinesTab::LinesTab(Session& session, QWidget* parent)
    : PoseTab(session, parent), m_typed(new QLineEdit(this)), m_click(new QPushButton("Click guides", this)),
      m_new(new QPushButton("New line", this)), m_remove(new QPushButton("Remove", this)),
      m_more(new QPushButton("One more", this)), m_less(new QPushButton("One less", this)), m_told(new QLabel(this)),
      m_lines(new QTableWidget(this)), m_poses(new QTableWidget(this)) {
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 2, 0, 0);
    layout->setSpacing(3);
    m_typed->setObjectName("lineTyped");
    m_typed->setAccessibleName("Line as words");
    m_typed->setPlaceholderText(
        "string Beak from PART PORT through PART PORT by hand through PART PORT works JOINT 0 35");
    m_typed->setToolTip(
        "string, band or spring NAME from PART PORT, through … or round …, to PART PORT, onto a drum or "
        "by hand through …; then length, count, law MM N, works JOINT FROM TO. Enter puts it in.");
    auto* top = new QHBoxLayout;
    auto* label = new QLabel("line", this);
    label->setBuddy(m_typed);
    top->addWidget(label);
    top->addWidget(m_typed, 1);
    layout->addLayout(top);
    auto* buttons = new QWidget(this);
    auto* row = new FlowLayout(buttons);
    row->setContentsMargins(0, 0, 0, 0);
    const auto button = [&](QPushButton* b, const char* name, const char* tip) {
        b->setObjectName(name);
        b->setToolTip(tip);
        row->addWidget(b);
    };
    button(m_new, "lineNew", "Begin another line");
    button(m_click, "lineClick",
           "Click its guides in the sheet, one after another: each is added to the words; Enter "
           "puts the line in");
    m_click->setCheckable(true);
    button(m_more, "lineMore", "One more band side by side");
    button(m_less, "lineLess", "One band less");
    button(m_remove, "lineRemove", "Take the line out");
    layout->addWidget(buttons);
    m_told->setObjectName("lineTold");
    m_told->setAccessibleName("What was found");
    m_told->setWordWrap(true);
    m_told->setTextFormat(Qt::PlainText);
    m_told->setTextInteractionFlags(Qt::TextSelectableByMouse);
    layout->addWidget(m_told);
    m_lines->setObjectName("lineTable");
    m_lines->setAccessibleName("Strings, bands and springs");
    setUpTable(m_lines, "lines");
    m_poses->setObjectName("linePoses");
    m_poses->setAccessibleName("The line in each pose");
    setUpTable(m_poses, "line");
    auto* halves = new QSplitter(this);
    halves->addWidget(m_lines);
    halves->addWidget(m_poses);
    halves->setSizes({scaled(600), scaled(330)});
    layout->addWidget(halves, 1);
    connect(m_typed, &QLineEdit::returnPressed, this, &LinesTab::enter);
    connect(m_new, &QPushButton::clicked, this, [this] {
        m_editing = {};
        m_lines->clearSelection();
        m_typed->clear();
        m_typed->setFocus();
        showChosen();
    });
    connect(m_click, &QPushButton::toggled, this, [this](bool on) {
        if (!on) return;
        m_editing = {};
        m_lines->clearSelection();
        m_typed->clear();
        m_session.say("Click what the line is tied to, then each guide in order; Enter puts it in.");
    });
    connect(m_remove, &QPushButton::clicked, this, &LinesTab::remove);
    connect(m_more, &QPushButton::clicked, this, [this] { count(1); });
    connect(m_less, &QPushButton::clicked, this, [this] { count(-1); });
    connect(m_lines, &QTableWidget::itemSelectionChanged, this, [this] {
        if (m_filling) return;
        const QVariant id = chosenRowId(m_lines);
        if (!id.isValid()) return;
        m_editing.text = id.toString().toStdString();
        m_click->setChecked(false);
        showChosen();
    });
    connect(&session, &Session::reportChanged, this, whenSeen(this, [this] { outdate(); }));
}

const model::Line* LinesTab::line() const {
    for (const model::Line& one : m_session.project().lines)
        if (one.id == m_editing) return &one;
    return nullptr;
}

std::shared_ptr<const study::StrandStudy> LinesTab::study(const model::LineId& id) const {
    const auto report = m_session.report();
    if (!report || !m_session.isReportCurrent()) return nullptr;
    for (const auto& one : report->lines)
        if (one->index < static_cast<int>(report->project->lines.size()) &&
            at(report->project->lines, one->index).id == id)
            return one;
    return nullptr;
}

void LinesTab::enter() {
    const std::string text = finish(m_typed->text().trimmed().toStdString());
    if (text.empty()) return;
    auto parsed = script::parseLine(m_session.project(), text);
    if (!parsed) return m_session.say(qs(parsed.error().message), true);
    model::Line next = std::move(parsed).value();
    if (const auto* known = line()) {
        next.id = known->id;
        next.extra = known->extra;
    }
    const bool isNew = next.id.empty();
    if (!m_session.apply(isNew ? "New line" : "Change the line",
                         [&](const model::Project& p) { return model::putLine(p, next); }))
        return;
    m_click->setChecked(false);
    m_editing = isNew ? m_session.project().lines.back().id : next.id;
    refresh();
}

void LinesTab::remove() {
    const auto* one = line();
    if (!one) return;
    const auto id = one->id;
    m_editing = {};
    m_session.apply("Remove line", [&](const model::Project& p) { return model::removeLine(p, id); });
    m_typed->clear();
    refresh();
}

void LinesTab::count(int by) {
    const auto* one = line();
    if (!one) return;
    model::Line next = *one;
    next.count = std::clamp(next.count + by, 1, model::kMostLinesAbreast);
    if (next.count == one->count) return;
    m_session.apply("Lines side by side", [&](const model::Project& p) { return model::putLine(p, next); });
    refresh();
}

bool LinesTab::goTo(const verdict::Place& place) {
    if (place.things.empty()) return false;
    for (const model::Line& one : m_session.project().lines)
        if (one.id.text == place.things.front()) {
            m_editing = one.id;
            refresh();
            return true;
        }
    return false;
}

bool LinesTab::take(const PickHit& hit) {
    if (!isVisible() || !m_click->isChecked()) return false;
    const model::Part& part = model::getPart(m_session.project(), hit.spot);
    const geometry::Vec3 point = m_session.placed().X_WP(hit.spot).inverse(Eigen::Isometry) * hit.point;
    QString text = m_typed->text().trimmed();
    const parts::Port* nearest = nullptr;
    for (const parts::Port& port : part.shape->ports)
        if (pose::takesLine(port, text.isEmpty()) &&
            (!nearest || (port.origin - point).norm() < (nearest->origin - point).norm()))
            nearest = &port;
    if (!nearest) {
        m_session.say("No line can go through " + qs(part.shape->name) + ": it has neither eye nor hole.", true);
        return true;
    }
    if (text.isEmpty())
        text = "string \"String " + QString::number(m_session.project().lines.size() + 1) + "\" from ";
    else
        text += " through ";
    m_typed->setText(text + qs(part.id.text) + " " + qs(nearest->name));
    m_typed->setFocus();
    return true;
}

void LinesTab::refresh() {
    m_filling = true;
    std::vector<TableRow> rows;
    std::vector<QVariant> ids;
    const model::Project& project = m_session.project();
    for (const model::Line& one : project.lines) {
        const auto known = study(one.id);
        rows.push_back({{qs(one.name), {}},
                        {qs(study::describeLineKind(one)), {}},
                        {known ? qs(study::describeWork(project, *known)) : QString(), {}},
                        {known ? qs(study::describeResult(*m_session.report(), *known)) : QString("…"), {}}});
        ids.emplace_back(qs(one.id.text));
    }
    fillTable(m_lines, {"Line", "Kind", "For", "Found"}, rows, ids);
    m_lines->horizontalHeader()->setSectionResizeMode(3, QHeaderView::Stretch);
    if (!line() && !project.lines.empty() && m_typed->text().isEmpty() && !m_click->isChecked())
        m_editing = project.lines.front().id;
    const int chosen = findRow(m_lines, qs(m_editing.text));
    if (chosen >= 0) m_lines->selectRow(chosen);
    m_filling = false;
    showChosen();
}

void LinesTab::showChosen() {
    const auto* one = line();
    const bool several = one && one->kind == model::LineKind::Band;
    m_remove->setEnabled(one != nullptr);
    m_more->setEnabled(several);
    m_less->setEnabled(several && one->count > 1);
    if (one && !m_typed->hasFocus()) {
        m_typed->setText(qs(script::writeLine(m_session.project(), *one)));
        m_typed->setCursorPosition(0);
    }
    if (!one) {
        m_told->setText(m_session.project().lines.empty()
                            ? "Nothing runs through this model yet: type a string, band or spring, or click its guides."
                            : "Enter puts the line in.");
    } else {
        QString text;
        for (std::size_t g = 0; g < one->guides.size(); ++g)
            text += (g ? "; " : "") + QString::number(g + 1) + " " +
                    qs(study::describeStation(m_session.project(), *one, g));
        if (const auto known = study(one->id)) {
            if (one->kind == model::LineKind::String && known->problem.empty())
                text += ". Cut " + number(known->cutMm, 0) + " mm";
            else if (one->kind != model::LineKind::String)
                text += ". " + qs(study::describeLaw(*one));
        }
        m_told->setText(text);
    }
    fillPoses();
    emit overlayChanged();
}

void LinesTab::fillPoses() {
    const auto* one = line();
    const auto known = one ? study(one->id) : nullptr;
    std::vector<TableRow> rows;
    const bool pulls = one && one->kind == model::LineKind::String;
    if (known)
        for (const study::StrandPose& pose : known->poses) {
            const QString name = qs(at(m_session.report()->poses, pose.pose).name);
            if (pulls)
                rows.push_back({{name, {}},
                                numberCell(pose.state.path.lengthMm, 1),
                                pose.travelMm ? numberCell(*pose.travelMm, 1) : TableCell{"-", {}},
                                pose.pulledDeg ? numberCell(*pose.pulledDeg, 1) : TableCell{"-", {}},
                                numberCell(std::max(pose.slackMm, pose.slackThereMm), 1)});
            else
                rows.push_back({{name, {}},
                                numberCell(pose.state.path.lengthMm, 1),
                                numberCell(pose.state.stretchMm, 1),
                                numberCell(pose.state.pullN * one->count, 2)});
        }
    fillTable(m_poses,
              pulls ? QStringList{"Pose", "Way mm", "Pull mm", "Along °", "Loose mm"}
                    : QStringList{"Pose", "Way mm",
                                  one && one->kind == model::LineKind::Spring ? "Pressed mm" : "Stretch mm", "N"},
              rows);
}

void LinesTab::draw(QPainter& painter, const Sheet3d& sheet) const {
    const auto* one = line();
    if (!isVisible() || !one) return;
    const model::Project& project = m_session.project();
    const pose::Lines lines(project, m_session.tree());
    for (std::size_t i = 0; i < lines.size(); ++i) {
        if (lines.line(i).id != one->id) continue;
        const auto& X_WS = m_session.placed().X_WS;
        const pose::LineState state = lines.place(i, X_WS);
        QPolygonF way;
        for (const auto& p : lines.listPoints(i, state, X_WS)) way << sheet.toScreen(p);
        painter.setPen(QPen(theme().brine, 1.6));
        painter.setBrush(Qt::NoBrush);
        painter.drawPolyline(way);
        for (std::size_t k = 0; k < state.path.pieces.size(); ++k) {
            const auto mark = [&](int guide, const geometry::Vec3& at) {
                const QPointF p = sheet.toScreen(at);
                painter.setPen(Qt::NoPen);
                painter.setBrush(theme().brine);
                painter.drawEllipse(p, 3, 3);
                painter.setPen(theme().ink);
                painter.drawText(p + QPointF(5, -4), QString::number(guide + 1));
            };
            if (k == 0) mark(state.path.pieces[k].from, state.path.pieces[k].a);
            mark(state.path.pieces[k].to, state.path.pieces[k].b);
        }
    }
}

} // namespace ivrant::app
