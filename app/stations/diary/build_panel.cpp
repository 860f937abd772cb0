// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/diary/build_panel.h"

#include <QDate>
#include <QHBoxLayout>
#include <QVBoxLayout>
#include <algorithm>

#include "app/shell/flow_layout.h"
#include "app/shell/table_tools.h"
#include "app/shell/text.h"
#include "app/shell/theme.h"
#include "app/stations/diary/number_box.h"
#include "core/make/calendar.h"

namespace ivrant::app {
namespace {
constexpr int kTickMs = 1000;
constexpr double kMsAMinute = 60'000;
} // namespace

BuildPanel::BuildPanel(Session& session, QWidget* parent)
    : QWidget(parent), m_session(session), m_clock(new QPushButton("Start the clock", this)),
      m_write(new QPushButton("write it down", this)), m_running(new QLabel(this)), m_partsTold(new QLabel(this)),
      m_rate(new QLabel(this)),
      m_minutes(makeNumberBox(this, "buildMinutes", "Minutes of building", 0, 1440, 0, " min")),
      m_first(new QSpinBox(this)), m_last(new QSpinBox(this)), m_date(new QLineEdit(this)), m_who(new QLineEdit(this)),
      m_table(new QTableWidget(this)) {
    m_clock->setObjectName("buildClock");
    m_clock->setToolTip("Runs while you build; stop it and say which steps are done");
    m_write->setObjectName("buildWrite");
    m_running->setObjectName("buildRunning");
    m_rate->setObjectName("buildRate");
    m_rate->setWordWrap(true);
    m_partsTold->setObjectName("buildParts");
    for (auto* box : {m_first, m_last}) box->setRange(1, 1'000'000);
    m_first->setObjectName("buildFirst");
    m_first->setAccessibleName("First step done");
    m_last->setObjectName("buildLast");
    m_last->setAccessibleName("Last step done");
    m_date->setObjectName("buildDate");
    m_date->setAccessibleName("Day");
    m_date->setText(QDate::currentDate().toString("yyyy-MM-dd"));
    m_date->setMaximumWidth(scaled(110));
    m_who->setObjectName("buildWho");
    m_who->setAccessibleName("Who built");
    m_who->setPlaceholderText("who");
    m_table->setObjectName("builds");
    m_table->setAccessibleName("Sessions of building");
    setUpTable(m_table, "builds");
    auto* layout = new QVBoxLayout(this);
    auto* clock = new QHBoxLayout;
    clock->addWidget(m_clock);
    clock->addWidget(m_running);
    clock->addStretch(1);
    layout->addLayout(clock);
    auto* form = new QWidget(this);
    auto* flow = new FlowLayout(form);
    flow->setContentsMargins(0, 0, 0, 0);
    m_who->setMinimumWidth(scaled(120));
    for (QWidget* widget : std::initializer_list<QWidget*>{m_date, m_minutes, new QLabel("steps", form), m_first,
                                                           new QLabel("to", form), m_last, m_partsTold, m_who, m_write})
        flow->addWidget(widget);
    layout->addWidget(form);
    layout->addWidget(m_rate);
    layout->addWidget(m_table, 1);
    auto* row = new QHBoxLayout;
    auto* drop = new QPushButton("remove the chosen session", this);
    drop->setObjectName("buildRemove");
    row->addStretch(1);
    row->addWidget(drop);
    layout->addLayout(row);
    m_tick.setInterval(kTickMs);
    connect(&m_tick, &QTimer::timeout, this, [this] {
        m_running->setText(number(std::floor(static_cast<double>(m_since.elapsed()) / kMsAMinute), 0) +
                           " min since you began");
    });
    connect(m_clock, &QPushButton::clicked, this, &BuildPanel::toggleClock);
    connect(m_write, &QPushButton::clicked, this, &BuildPanel::write);
    connect(drop, &QPushButton::clicked, this, &BuildPanel::remove);
    connect(m_first, &QSpinBox::valueChanged, this, [this](int first) {
        m_last->setValue(std::max(first, m_last->value()));
        tellParts();
    });
    connect(m_last, &QSpinBox::valueChanged, this, [this] { tellParts(); });
    tellParts();
}

void BuildPanel::toggleClock() {
    if (!m_tick.isActive()) {
        m_since.start();
        m_tick.start();
        m_clock->setText("Stop the clock");
        m_running->setText("running");
        return;
    }
    m_tick.stop();
    m_minutes->setValue(std::max(0.1, static_cast<double>(m_since.elapsed()) / kMsAMinute));
    m_clock->setText("Start the clock");
    m_running->setText("stopped: say which steps are done");
}

int BuildPanel::countParts(int first, int last) const {
    int parts = 0;
    for (const make::Step& step : make::listSteps(m_session.project(), m_session.tree()))
        if (step.number >= first && step.number <= last)
            for (const make::TrayLine& line : step.tray) parts += line.count;
    return parts;
}

void BuildPanel::tellParts() {
    const int parts = countParts(m_first->value(), m_last->value());
    m_partsTold->setText(QString::number(parts) + (parts == 1 ? " part" : " parts"));
}

void BuildPanel::write() {
    model::BuildSession build;
    build.date = m_date->text().trimmed().toStdString();
    build.minutes = m_minutes->value();
    build.firstStep = m_first->value();
    build.lastStep = m_last->value();
    build.parts = countParts(build.firstStep, build.lastStep);
    build.who = m_who->text().trimmed().toStdString();
    if (!m_session.apply("Write a session down", [&](const model::Project& p) { return model::putBuild(p, build); }))
        return;
    m_first->setValue(build.lastStep + 1);
    m_last->setValue(build.lastStep + 1);
    m_minutes->setValue(0);
}

void BuildPanel::remove() {
    const QVariant id = chosenRowId(m_table);
    if (!id.isValid()) return m_session.say("Choose a session first", true);
    m_session.apply("Remove a session",
                    [&](const model::Project& p) { return model::removeBuild(p, {id.toString().toStdString()}); });
}

void BuildPanel::showProject() {
    const auto& builds = m_session.project().making.builds;
    std::vector<TableRow> rows;
    std::vector<QVariant> ids;
    for (const model::BuildSession& build : builds) {
        rows.push_back({{qs(build.date), {}},
                        numberCell(build.minutes, 1),
                        {QString::number(build.firstStep) + " to " + QString::number(build.lastStep),
                         static_cast<double>(build.firstStep)},
                        numberCell(build.parts, 0),
                        build.parts > 0 ? numberCell(build.minutes / build.parts, 2) : TableCell{"", 0.0},
                        {qs(build.who), {}}});
        ids.emplace_back(qs(build.id.text));
    }
    fillTable(m_table, {"Day", "Minutes", "Steps", "Parts", "Minutes a part", "Who"}, rows, ids);
    const auto work = make::countWork(m_session.project(), make::listSteps(m_session.project(), m_session.tree()));
    const auto rate = make::calcRate(m_session.project().making, work);
    m_rate->setText(rate.measured
                        ? number(rate.minutesAPart, 2) + " min a part over " + QString::number(rate.sessions) +
                              (rate.sessions == 1 ? " session" : " sessions") +
                              (rate.spread > 0 ? ", ±" + number(100 * rate.spread, 0) + " %" : "") + "; " +
                              QString::number(work.partsLeft()) + " of " + QString::number(work.parts) +
                              " parts are still to be put on."
                        : "No session yet: Make, Time counts " + number(rate.minutesAPart, 2) +
                              " min a part by starting values.");
    tellParts();
}

} // namespace ivrant::app
