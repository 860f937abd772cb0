// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/diary/diary_station.h"

#include <QDate>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QInputDialog>
#include <QVBoxLayout>

#include "app/shell/table_tools.h"
#include "app/shell/theme.h"
#include "app/shell/when_seen.h"
#include "app/stations/diary/build_panel.h"
#include "app/stations/diary/motor_panel.h"
#include "app/stations/diary/strength_panel.h"
#include "app/stations/diary/weigh_panel.h"
#include "core/base/at.h"
#include "core/base/units.h"
#include "core/drive/motor.h"
#include "core/trials/motor_fit.h"
#include "core/trials/statistics.h"

namespace ivrant::app {
namespace {

std::string today() { return QDate::currentDate().toString("yyyy-MM-dd").toStdString(); }

} // namespace

DiaryStation::DiaryStation(Session& session, QWidget* parent)
    : Station(parent), m_session(session), m_tabs(new QTabWidget(this)), m_strength(new StrengthPanel(session, this)),
      m_motorPanel(new MotorPanel(session, this)), m_scales(new WeighPanel(session, this)),
      m_builds(new BuildPanel(session, this)), m_notesPage(nullptr), m_measured(new QTableWidget(this)),
      m_notes(new QTableWidget(this)), m_kind(new QComboBox(this)), m_joint(new QComboBox(this)),
      m_text(new QLineEdit(this)), m_reason(new QLineEdit(this)), m_answer(new QLineEdit(this)),
      m_addNote(new QPushButton("write it down", this)), m_answerNote(new QPushButton("answered by this", this)) {
    m_tabs->setObjectName("diaryTabs");
    m_tabs->addTab(m_strength, "Bench");
    m_tabs->addTab(m_motorPanel, "Motor bench");
    m_tabs->addTab(makeMeasured(), "Measured");
    m_tabs->addTab(m_notesPage = makeNotes(), "Decisions and failures");
    m_tabs->addTab(m_builds, "Building");
    m_tabs->addTab(m_scales, "Scales");
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(8, 4, 8, 4);
    layout->addWidget(m_tabs);
    addCommand(this, "Take a reading", QKeySequence("R"),
               [this] { m_tabs->currentWidget() == m_motorPanel ? m_motorPanel->take() : m_strength->take(); });
    addCommand(this, "Import readings …", {}, [this] { m_strength->importReadings(); });
    addCommand(this, "Remove the chosen series", {}, [this] { removeSeries(); });
    addCommand(this, "Remove the chosen entry", {}, [this] { removeNote(); });
    connect(&session, &Session::projectChanged, this, whenSeen(this, [this] { showProject(); }));
    connect(&session, &Session::selectionChanged, m_strength,
            whenSeen(m_strength, [this] { m_strength->showProject(); }));
    showProject();
}

QWidget* DiaryStation::focusTarget() { return m_tabs; }

QWidget* DiaryStation::makeMeasured() {
    auto* page = new QWidget(this);
    auto* layout = new QVBoxLayout(page);
    m_measured->setObjectName("measured");
    m_measured->setAccessibleName("Series of readings");
    setUpTable(m_measured, "measured");
    layout->addWidget(m_measured, 1);
    auto* row = new QHBoxLayout;
    auto* drop = new QPushButton("remove the chosen series", page);
    drop->setObjectName("removeSeries");
    connect(drop, &QPushButton::clicked, this, &DiaryStation::removeSeries);
    row->addStretch(1);
    row->addWidget(drop);
    layout->addLayout(row);
    return page;
}

QWidget* DiaryStation::makeNotes() {
    auto* page = new QWidget(this);
    auto* layout = new QVBoxLayout(page);
    auto* form = new QHBoxLayout;
    m_kind->setObjectName("noteKind");
    m_kind->setAccessibleName("Kind of entry");
    for (const auto kind : {model::DiaryKind::Decision, model::DiaryKind::Failure, model::DiaryKind::Trial})
        m_kind->addItem(model::getDiaryKindName(kind));
    m_joint->setObjectName("noteJoint");
    m_joint->setAccessibleName("Joint");
    m_text->setObjectName("noteText");
    m_text->setAccessibleName("What");
    m_text->setPlaceholderText("what: came off after 40 moves");
    m_reason->setObjectName("noteReason");
    m_reason->setAccessibleName("Why, or what came out");
    m_reason->setPlaceholderText("why, or what came out");
    m_addNote->setObjectName("noteAdd");
    form->addWidget(m_kind);
    form->addWidget(m_joint);
    form->addWidget(m_text, 2);
    form->addWidget(m_reason, 2);
    form->addWidget(m_addNote);
    layout->addLayout(form);
    m_notes->setObjectName("notes");
    m_notes->setAccessibleName("Diary entries");
    setUpTable(m_notes, "diary");
    layout->addWidget(m_notes, 1);
    auto* answer = new QHBoxLayout;
    m_answer->setObjectName("noteAnswer");
    m_answer->setAccessibleName("The change that answers the failure");
    m_answer->setPlaceholderText("the change that answers the chosen failure");
    m_answerNote->setObjectName("noteAnswered");
    m_answerNote->setToolTip("A failure stays open, as a failing verdict, until a change answers it");
    answer->addWidget(m_answer, 1);
    answer->addWidget(m_answerNote);
    layout->addLayout(answer);
    connect(m_addNote, &QPushButton::clicked, this, &DiaryStation::addNote);
    connect(m_text, &QLineEdit::returnPressed, this, &DiaryStation::addNote);
    connect(m_reason, &QLineEdit::returnPressed, this, &DiaryStation::addNote);
    connect(m_answerNote, &QPushButton::clicked, this, &DiaryStation::answerNote);
    connect(m_answer, &QLineEdit::returnPressed, this, &DiaryStation::answerNote);
    return page;
}

void DiaryStation::showProject() {
    m_strength->showProject();
    m_builds->showProject();
    m_scales->showProject();
    showMeasured();
    showNotes();
    const QSignalBlocker quiet(m_joint);
    const QString kept = m_joint->currentData().toString();
    m_joint->clear();
    m_joint->addItem("no joint", "");
    for (const auto& j : m_session.project().joints)
        m_joint->addItem(QString::fromStdString(j.name), QString::fromStdString(j.id.text));
    m_joint->setCurrentIndex(std::max(0, m_joint->findData(kept)));
}

void DiaryStation::showMeasured() {
    std::vector<TableRow> rows;
    std::vector<QVariant> ids;
    const auto add = [&](const model::Series& s, bool workshop) {
        if (s.quantity == model::Quantity::Motor) {
            const auto* starting = drive::findStartingMotor(s.kind);
            const auto fit =
                trials::fitMotor(s.runs, starting ? starting->ratedV : drive::getStartingBattery().voltage);
            rows.push_back({{QString::fromStdString(s.kind), {}},
                            {"motor line", {}},
                            {workshop ? "workshop" : "this project", {}},
                            numberCell(static_cast<double>(s.runs.size()), 0),
                            fit ? numberCell(fit->noLoadRpm, 0) : TableCell{"no line", {}},
                            fit ? numberCell(fit->spreadRpm, 1) : TableCell{},
                            fit ? numberCell(fit->noLoadRpm, 0) : TableCell{},
                            {fit ? "rpm; stalls at " + numberText(fit->stallNmm, 1) + " N·mm" : QString("rpm"), {}},
                            {QString::fromStdString(s.date), {}},
                            {QString::fromStdString(s.note), {}}});
            ids.push_back(workshop ? QString() : QString::fromStdString(s.id.text));
            return;
        }
        const auto statistics = trials::calcStatistics(s.readings);
        if (!statistics) return;
        const int j = s.joint ? m_session.project().findJoint(*s.joint) : -1;
        const QString scope = workshop ? "workshop"
                              : j >= 0 ? "joint " + QString::fromStdString(at(m_session.project().joints, j).name)
                                       : "this project";
        rows.push_back({{QString::fromStdString(s.kind.empty() ? std::string("stud") : s.kind), {}},
                        {model::getQuantityName(s.quantity), {}},
                        {scope, {}},
                        numberCell(statistics->count, 0),
                        numberCell(statistics->mean, 2),
                        numberCell(statistics->spread, 2),
                        numberCell(statistics->lowerBound, 2),
                        {model::getQuantityUnit(s.quantity), {}},
                        {QString::fromStdString(s.date), {}},
                        {QString::fromStdString((s.moves.empty() ? "" : "wear test; ") + s.note), {}}});
        ids.push_back(workshop ? QString() : QString::fromStdString(s.id.text));
    };
    for (const auto& s : m_session.project().measured) add(s, false);
    if (m_session.project().workshop)
        for (const auto& s : *m_session.project().workshop) add(s, true);
    fillTable(m_measured,
              {"Kind", "What", "Counts for", "Readings", "Mean", "Spread", "Counted on", "Unit", "Date", "Note"}, rows,
              ids);
}

void DiaryStation::showNotes() {
    std::vector<TableRow> rows;
    std::vector<QVariant> ids;
    for (const auto& e : m_session.project().diary) {
        const bool open = e.kind == model::DiaryKind::Failure && e.answer.empty();
        const int j = e.joint ? m_session.project().findJoint(*e.joint) : -1;
        rows.push_back(
            {{open                                  ? "▼ open"
              : e.kind == model::DiaryKind::Failure ? "▲ answered"
                                                    : "",
              {}},
             {model::getDiaryKindName(e.kind), {}},
             {QString::fromStdString(e.date), {}},
             {j >= 0 ? QString::fromStdString(at(m_session.project().joints, j).name) : QString(), {}},
             {QString::fromStdString(e.text), {}},
             {QString::fromStdString(e.reason), {}},
             {QString::fromStdString(e.answer + (e.answeredOn.empty() ? "" : " (" + e.answeredOn + ")")), {}}});
        ids.push_back(QString::fromStdString(e.id.text));
    }
    fillTable(m_notes, {"", "Entry", "Date", "Joint", "What", "Why, or what came out", "Answer"}, rows, ids);
    for (int r = 0; r < m_notes->rowCount(); ++r) {
        if (m_notes->item(r, 0)->text().startsWith("▼")) m_notes->item(r, 0)->setForeground(theme().ember);
    }
}

void DiaryStation::removeSeries() {
    const int row = m_measured->currentRow();
    if (row < 0) return;
    const QString id = rowId(m_measured, row).toString();
    if (id.isEmpty())
        return m_session.say("Series of the workshop's library belong to every project; they are removed from its file",
                             true);
    m_session.apply("Remove readings",
                    [&](const model::Project& p) { return model::removeSeries(p, {id.toStdString()}); });
}

void DiaryStation::addNote() {
    model::DiaryEntry entry;
    entry.kind = *model::findDiaryKind(m_kind->currentText().toStdString());
    entry.date = today();
    entry.text = m_text->text().trimmed().toStdString();
    entry.reason = m_reason->text().trimmed().toStdString();
    if (!m_joint->currentData().toString().isEmpty())
        entry.joint = model::JointId{m_joint->currentData().toString().toStdString()};
    if (entry.kind == model::DiaryKind::Decision && entry.reason.empty())
        return m_session.say("A decision needs its reason", true);
    if (!m_session.apply("Write in the diary", [&](const model::Project& p) { return model::putDiaryEntry(p, entry); }))
        return;
    m_text->clear();
    m_reason->clear();
}

std::optional<model::DiaryEntry> DiaryStation::chosenNote() const {
    const int row = m_notes->currentRow();
    if (row < 0 || !m_notes->item(row, 1)) return std::nullopt;
    const std::string id = rowId(m_notes, row).toString().toStdString();
    for (const auto& e : m_session.project().diary)
        if (e.id.text == id) return e;
    return std::nullopt;
}

void DiaryStation::answerNote() {
    auto entry = chosenNote();
    if (!entry || entry->kind != model::DiaryKind::Failure)
        return m_session.say("Choose the failure that is answered", true);
    entry->answer = m_answer->text().trimmed().toStdString();
    if (entry->answer.empty()) return m_session.say("Say which change answers it", true);
    entry->answeredOn = today();
    if (m_session.apply("Answer the failure", [&](const model::Project& p) { return model::putDiaryEntry(p, *entry); }))
        m_answer->clear();
}

void DiaryStation::removeNote() {
    if (const auto entry = chosenNote())
        m_session.apply("Remove entry", [&](const model::Project& p) { return model::removeDiaryEntry(p, entry->id); });
}

void DiaryStation::goTo(const verdict::Place& place) {
    (void)place; // open failures are what verdicts here are about
    m_tabs->setCurrentWidget(m_notesPage);
    m_notes->setFocus();
}

} // namespace ivrant::app
