// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/make/time_tab.h"

#include <QDateTime>
#include <QFileDialog>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QPushButton>
#include <QRegularExpression>
#include <QVBoxLayout>

#include "app/shell/flow_layout.h"
#include "app/shell/table_tools.h"
#include "app/shell/text.h"
#include "app/shell/theme.h"
#include "core/base/at.h"
#include "core/files/atomic_file.h"
#include "core/files/results_supply.h"
#include "core/parts/palette.h"

namespace ivrant::app {
namespace {

base::Day todayOf(const model::Project& project) {
    const auto known = base::parseDay(project.today);
    return known ? *known : std::chrono::floor<std::chrono::days>(std::chrono::system_clock::now());
}

QString hoursText(double hours) { return number(hours, hours < 10 ? 1 : 0) + " h"; }

QString describeOthers(const model::Schedule& schedule) {
    QStringList days;
    for (const auto& other : schedule.others) days << qs(other.day) + ": " + number(other.hours, 2);
    return days.join(", ");
}

/// "2026-12-06: 0, 2026-12-12: 6"; nothing, and which word is wrong, when it cannot be read.
std::optional<std::vector<model::Schedule::Other>> readOthers(const QString& text, QString& wrong) {
    std::vector<model::Schedule::Other> others;
    for (const QString& word : text.split(QRegularExpression("[,;]"), Qt::SkipEmptyParts)) {
        const auto colon = word.indexOf(':');
        const std::string day = word.left(colon < 0 ? word.size() : colon).trimmed().toStdString();
        const auto hours = colon < 0 ? base::Result<double>(0.0) : base::parseNumber(word.mid(colon + 1).toStdString());
        if (!base::parseDay(day) || !hours) {
            wrong = "'" + word.trimmed() + "' is no day with its hours: expected such as 2026-12-06: 0";
            return {};
        }
        others.push_back({day, *hours});
    }
    return others;
}

} // namespace

TimeTab::TimeTab(Session& session, QWidget* parent)
    : StationTab(session, parent), m_due(new QLineEdit(this)), m_others(new QLineEdit(this)),
      m_builders(new QSpinBox(this)), m_travel(new QSpinBox(this)), m_tests(new QSpinBox(this)),
      m_pack(new QDoubleSpinBox(this)), m_told(new QLabel(this)), m_wrong(new QLabel(this)),
      m_chart(new PlanChart(this)), m_waits(new QTableWidget(this)) {
    m_told->setObjectName("planTold");
    m_told->setWordWrap(true);
    m_wrong->setObjectName("planWrong");
    m_wrong->setWordWrap(true);
    m_waits->setObjectName("planWaits");
    m_waits->setAccessibleName("Parts that steps wait for");
    setUpTable(m_waits, "waits");
    auto* form = new QWidget(this);
    makeForm(form);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(12, 8, 12, 4);
    layout->addWidget(form);
    layout->addWidget(m_wrong);
    layout->addWidget(m_told);
    layout->addWidget(m_chart, 2);
    layout->addWidget(m_waits, 2);
    auto* bar = new QHBoxLayout;
    bar->addStretch(1);
    const auto button = [&](const QString& text, const QString& name, const QString& hint, const QString& ending) {
        auto* b = new QPushButton(text, this);
        b->setObjectName(name);
        b->setToolTip(hint);
        connect(b, &QPushButton::clicked, this, [this, ending] {
            const QString path = QFileDialog::getSaveFileName(this, "Calendar", "calendar." + ending,
                                                              ending.toUpper() + " (*." + ending + ")");
            if (!path.isEmpty()) writePlan(path);
        });
        bar->addWidget(b);
    };
    button("Calendar entries …", "planIcs", "For a calendar program (iCalendar)", "ics");
    button("As CSV …", "planCsv", "Phases and what must be there by when", "csv");
    button("Drawing …", "planSvg", "The chart as a drawing (SVG)", "svg");
    layout->addLayout(bar);
    connect(&session, &Session::projectChanged, this, [this] { outdate(); });
}

void TimeTab::makeForm(QWidget* form) {
    auto* flow = new FlowLayout(form);
    flow->setContentsMargins(0, 0, 0, 0);
    // A field goes on to the next line with its name.
    const auto add = [&](const QString& text, QWidget* widget, const QString& name, const QString& spoken) {
        auto* pair = new QWidget(form);
        auto* row = new QHBoxLayout(pair);
        row->setContentsMargins(0, 0, 0, 0);
        auto* label = new QLabel(text, pair);
        label->setBuddy(widget);
        widget->setObjectName(name);
        widget->setAccessibleName(spoken);
        row->addWidget(label);
        row->addWidget(widget);
        flow->addWidget(pair);
    };
    m_due->setPlaceholderText("2026-12-19");
    m_due->setMaximumWidth(scaled(110));
    add("It must stand there on", m_due, "planDue", "Day it must stand there");
    m_travel->setRange(0, 365);
    add("days of travel", m_travel, "planTravel", "Days of travel");
    m_pack->setRange(0, 1000);
    m_pack->setDecimals(1);
    add("hours of packing", m_pack, "planPack", "Hours of packing");
    m_tests->setRange(0, 365);
    add("days of trials", m_tests, "planTests", "Days of trials");
    m_builders->setRange(1, 100);
    add("builders", m_builders, "planBuilders", "Builders");
    for (std::size_t d = 0; d < m_hours.size(); ++d) {
        auto* box = m_hours[d] = new QDoubleSpinBox(form);
        box->setRange(0, 24);
        box->setDecimals(1);
        box->setButtonSymbols(QAbstractSpinBox::NoButtons);
        box->setFixedWidth(scaled(56));
        const QString day = base::getWeekdayName(static_cast<int>(d));
        add(d == 0 ? "Hours to build on " + day : day, box, "planHours" + day, "Hours to build on " + day);
    }
    m_others->setPlaceholderText("other days: 2026-12-06: 0");
    m_others->setToolTip("Days with other hours than their weekday: 0 is a day off");
    m_others->setObjectName("planOthers");
    m_others->setAccessibleName("Days with other hours");
    m_others->setMinimumWidth(scaled(190));
    flow->addWidget(m_others);
    for (auto* line : {m_due, m_others}) connect(line, &QLineEdit::editingFinished, this, &TimeTab::takeForm);
    for (auto* box : {m_travel, m_tests, m_builders})
        connect(box, &QSpinBox::editingFinished, this, &TimeTab::takeForm);
    for (auto* box : m_hours) connect(box, &QDoubleSpinBox::editingFinished, this, &TimeTab::takeForm);
    connect(m_pack, &QDoubleSpinBox::editingFinished, this, &TimeTab::takeForm);
}

void TimeTab::fillForm() {
    const model::Schedule& schedule = m_session.project().making.schedule;
    m_filling = true;
    m_due->setText(qs(schedule.dueOn));
    for (std::size_t d = 0; d < m_hours.size(); ++d) m_hours[d]->setValue(schedule.hours[d]);
    m_others->setText(describeOthers(schedule));
    m_builders->setValue(schedule.builders);
    m_travel->setValue(schedule.travelDays);
    m_tests->setValue(schedule.testDays);
    m_pack->setValue(schedule.packHours);
    m_filling = false;
}

void TimeTab::takeForm() {
    if (m_filling) return;
    model::Schedule schedule = m_session.asSet().making.schedule;
    QString wrong;
    const auto others = readOthers(m_others->text(), wrong);
    const std::string due = m_due->text().trimmed().toStdString();
    if (!due.empty() && !base::parseDay(due)) wrong = "'" + qs(due) + "' is no day: expected such as 2026-12-19";
    m_wrong->setText(wrong);
    m_wrong->setVisible(!wrong.isEmpty());
    if (!wrong.isEmpty() || !others) return; // what was typed stays in its field
    schedule.dueOn = due;
    schedule.others = *others;
    for (std::size_t d = 0; d < m_hours.size(); ++d) schedule.hours[d] = m_hours[d]->value();
    schedule.builders = m_builders->value();
    schedule.travelDays = m_travel->value();
    schedule.testDays = m_tests->value();
    schedule.packHours = m_pack->value();
    if (schedule == m_session.asSet().making.schedule) return;
    m_session.apply("Change the calendar", [&](const model::Project& p) { return model::setSchedule(p, schedule); });
}

void TimeTab::refresh() {
    fillForm();
    m_wrong->setVisible(false);
    const auto& project = m_session.project();
    const auto plan = make::calcPlan(project, m_session.tree(), todayOf(project));
    m_plan = plan ? std::optional(*plan) : std::nullopt;
    m_chart->show(m_plan, todayOf(project));
    tell(plan);
    std::vector<TableRow> rows;
    const auto dayCell = [](const std::optional<base::Day>& day) {
        return day ? TableCell{qs(base::describeDay(*day)), static_cast<double>(day->time_since_epoch().count())}
                   : TableCell{"", 0.0};
    };
    if (m_plan)
        for (const make::Wait& wait : m_plan->waits)
            rows.push_back({{qs(wait.shape), {}},
                            {qs(parts::getColourName(wait.colour)), {}},
                            numberCell(wait.count, 0),
                            numberCell(wait.step, 0),
                            dayCell(wait.neededBy),
                            dayCell(wait.due),
                            dayCell(wait.orderBy)});
    fillTable(m_waits, {"Part", "Colour", "Pieces", "For step", "There by", "Ordered for", "Order by"}, rows);
    m_waits->setVisible(!rows.empty());
}

void TimeTab::tell(const base::Result<make::Plan>& result) {
    if (!result) return m_told->setText(qs(result.error().message));
    const make::Plan& plan = *result;
    const make::Work& work = plan.work;
    QStringList told;
    told << hoursText(plan.buildHours) + " of building are left: " + QString::number(work.partsLeft()) + " of " +
                QString::number(work.parts) + " parts, " + number(plan.rate.minutesAPart, 2) + " min a part " +
                (plan.rate.measured
                     ? "by " + QString::number(plan.rate.sessions) + " sessions" +
                           (plan.rate.spread > 0 ? " (±" + number(100 * plan.rate.spread, 0) + " %)" : "")
                     : QString("(starting values: time a session in Diary, Building)")) +
                ".";
    if (plan.due) {
        if (!plan.latestStart)
            told << "There are not so many free hours before that day.";
        else
            told << "Begin by " + qs(base::describeDay(*plan.latestStart)) + " at the latest.";
        if (plan.ready) {
            told << "Begun today it is ready on " + qs(base::describeDay(*plan.ready)) +
                        (plan.readyEarly && plan.readyLate && *plan.readyEarly != *plan.readyLate
                             ? " (" + qs(base::describeDay(*plan.readyEarly)) + " to " +
                                   qs(base::describeDay(*plan.readyLate)) + ")"
                             : QString()) +
                        (plan.spareDays >= 0 ? ", " + QString::number(plan.spareDays) + " days to spare."
                                             : ", " + QString::number(-plan.spareDays) + " days too late.");
        }
        if (plan.decideBy) told << "Show it to the person who asked by " + qs(base::describeDay(*plan.decideBy)) + ".";
    }
    m_told->setText(told.join(" "));
}

void TimeTab::writePlan(const QString& path) {
    if (!m_plan || !m_plan->due) return m_session.say("Name the day it must stand there first", true);
    base::Status saved;
    if (path.endsWith(".ics"))
        saved = files::writeFileAtomically(
            path.toStdString(),
            make::makeICalendar(m_session.project().name, *m_plan,
                                QDateTime::currentDateTimeUtc().toString("yyyyMMdd'T'HHmmss'Z'").toStdString()));
    else if (path.endsWith(".csv"))
        saved = files::writeFileAtomically(path.toStdString(), files::makePlanCsv(*m_plan));
    else if (!m_chart->saveChart(path))
        saved = base::Error{"file.write", "the drawing cannot be written there", path.toStdString()};
    saved ? m_session.say("Written: " + path) : m_session.warn("Not written: " + qs(saved.error().message));
}

} // namespace ivrant::app
