// SPDX-License-Identifier: GPL-3.0-or-later
// Sessions of building: started, stopped, the steps done. They tell the builder's own rate.
#pragma once

#include <QElapsedTimer>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QSpinBox>
#include <QTableWidget>
#include <QTimer>
#include <QWidget>

#include "app/shell/session.h"

class QDoubleSpinBox;

namespace ivrant::app {

class BuildPanel : public QWidget {
    Q_OBJECT
public:
    BuildPanel(Session& session, QWidget* parent);
    void showProject();
    /// Starts the clock, or stops it and puts its minutes into their field.
    void toggleClock();
    void write();
    void remove();

private:
    [[nodiscard]] int countParts(int first, int last) const;
    void tellParts();

    Session& m_session;
    QPushButton *m_clock, *m_write;
    QLabel *m_running, *m_partsTold, *m_rate;
    QDoubleSpinBox* m_minutes;
    QSpinBox *m_first, *m_last;
    QLineEdit *m_date, *m_who;
    QTableWidget* m_table;
    QElapsedTimer m_since;
    QTimer m_tick;
};

} // namespace ivrant::app
