// SPDX-License-Identifier: GPL-3.0-or-later
// The motor bench led step by step: runs under weights on a drum, typed or taken from the stand-in, and the line that
// they make.
#pragma once

#include <QComboBox>
#include <QDoubleSpinBox>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QTableWidget>

#include "app/charts/run_chart.h"
#include "app/shell/session.h"
#include "core/trials/motor_stand.h"

namespace ivrant::app {

class MotorBench : public QWidget {
    Q_OBJECT
public:
    MotorBench(Session& session, QWidget* parent);
    void showProject();
    void takeRun();

private:
    void showForm();
    void showRuns();
    void addTyped();
    void addRun(const model::MotorRun& run);
    void removeRun();
    void startAnew();
    void keep(bool workshop);
    [[nodiscard]] std::string line() const { return m_motor->currentText().toStdString(); }
    [[nodiscard]] bool isSimulated() const { return m_source->currentIndex() == 1; }
    [[nodiscard]] double ratedV() const;

    Session& m_session;
    QComboBox *m_motor, *m_source;
    QDoubleSpinBox *m_drum, *m_weight;
    QLabel *m_weightLabel, *m_typedLabel, *m_steps, *m_says;
    QLineEdit *m_typed, *m_note;
    QPushButton *m_add, *m_take, *m_drop, *m_keep, *m_keepWorkshop;
    QTableWidget* m_table;
    RunChart* m_chart;
    std::vector<model::MotorRun> m_runs;
    std::optional<trials::SimulatedMotorStand> m_stand;
    bool m_simulated = false; ///< some run came from the stand-in
};

} // namespace ivrant::app
