// SPDX-License-Identifier: GPL-3.0-or-later
// What every test at the table has: a form, steps to follow, results typed or taken, what they say, where they count.
#pragma once

#include <QGridLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QTableWidget>

#include "app/shell/session.h"
#include "app/shell/table_tools.h"
#include "core/model/notes.h"

namespace ivrant::app {

class TestPanel : public QWidget {
    Q_OBJECT
public:
    [[nodiscard]] QWidget* focusTarget() { return m_typed; }

protected:
    /// How one kind of test calls its things.
    struct Words {
        QString prefix;    ///< of the widgets' names
        QString table;     ///< name of the table: "strengthReadings"
        QString results;   ///< "Readings"; lower-case for exports and sentences
        QString typed;     ///< "Reading"
        QString take;      ///< "take a reading (R)"
        QString note;      ///< what a note is good for
        QString keepTip;   ///< of keeping in the project
        QString shareTip;  ///< of keeping in the workshop's library
        QString keepLabel; ///< of the edit: "Keep readings"
        QString standIn;   ///< "scale"
    };
    TestPanel(Session& session, Words words, QWidget* parent);

    /// A row of the form.
    void addField(QLabel* label, QWidget* field);
    /// Last row of the form: where a result is typed, with its unit when there is one, or taken. Then the rest.
    void layOut(QLabel* label, QWidget* unit, QWidget* chart = nullptr);

    virtual void addTyped() = 0;
    virtual void take() = 0;
    virtual void removeResult(int index) = 0;
    virtual void startAnew() = 0;
    /// What is kept; date, note and marks are put to it.
    [[nodiscard]] virtual model::Series makeSeries() const = 0;

    void fillResults(const QStringList& heads, std::vector<TableRow> rows);
    void showButtons(bool any, bool mayKeep, bool mayShare);
    void sayResults(QString text);
    void refuse(const QString& why) { m_session.say("Not taken: " + why, true); }

    Session& m_session;
    QLineEdit* m_typed;
    QPushButton *m_add, *m_take;
    QLabel* m_steps;
    bool m_simulated = false; ///< some result came from the stand-in

private:
    void keep(bool workshop);
    void removeChosen();

    Words m_words;
    QGridLayout* m_form;
    QLabel* m_says;
    QLineEdit* m_note;
    QPushButton *m_drop, *m_keep, *m_share;
    QTableWidget* m_table;
    int m_rows = 0;
};

} // namespace ivrant::app
