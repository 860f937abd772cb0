// SPDX-License-Identifier: GPL-3.0-or-later
// Diary: bench tests led step by step, what was measured, decisions with reasons, failures that stay open until
// answered.
#pragma once

#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QTabWidget>
#include <QTableWidget>

#include "app/shell/station.h"

namespace ivrant::app {

class StrengthPanel;
class MotorPanel;
class BuildPanel;
class WeighPanel;

class DiaryStation : public Station {
    Q_OBJECT
public:
    explicit DiaryStation(Session& session, QWidget* parent = nullptr);

    [[nodiscard]] QString title() const override { return "Diary"; }
    [[nodiscard]] int number() const override { return 7; }
    [[nodiscard]] verdict::Station kind() const override { return verdict::Station::Diary; }
    [[nodiscard]] QString keysText() const override {
        return "R takes a reading · Enter adds a typed one · decisions and failures in their own tabs";
    }
    void goTo(const verdict::Place& place) override;
    [[nodiscard]] QWidget* focusTarget() override;

private:
    QWidget* makeMeasured();
    QWidget* makeNotes();
    void showProject();
    void showMeasured();
    void showNotes();
    void removeSeries();
    void addNote();
    void answerNote();
    void removeNote();
    [[nodiscard]] std::optional<model::DiaryEntry> chosenNote() const;

    Session& m_session;
    QTabWidget* m_tabs;
    StrengthPanel* m_strength;
    MotorPanel* m_motorPanel;
    WeighPanel* m_scales;
    BuildPanel* m_builds;
    QWidget* m_notesPage;
    QTableWidget *m_measured, *m_notes;
    QComboBox *m_kind, *m_joint;
    QLineEdit *m_text, *m_reason, *m_answer;
    QPushButton *m_addNote, *m_answerNote;
};

} // namespace ivrant::app
