// SPDX-License-Identifier: GPL-3.0-or-later
// A motor's test led step by step: runs under weights on a drum, typed or taken from the stand-in, and the line that
// they make.
#pragma once

#include <QComboBox>
#include <QDoubleSpinBox>

#include "app/charts/run_chart.h"
#include "app/stations/diary/test_panel.h"
#include "core/trials/motor_stand.h"

namespace ivrant::app {

class MotorPanel : public TestPanel {
    Q_OBJECT
public:
    MotorPanel(Session& session, QWidget* parent);
    void showProject();
    void take() override;

private:
    void showForm();
    void showRuns();
    void addTyped() override;
    void addRun(const model::MotorRun& run);
    void removeResult(int index) override;
    void startAnew() override;
    [[nodiscard]] model::Series makeSeries() const override;
    [[nodiscard]] std::string line() const { return m_motor->currentText().toStdString(); }
    [[nodiscard]] bool isSimulated() const { return m_source->currentIndex() == 1; }
    [[nodiscard]] double ratedV() const;

    QComboBox *m_motor, *m_source;
    QDoubleSpinBox *m_drum, *m_weight;
    QLabel* m_weightLabel;
    RunChart* m_chart;
    std::vector<model::MotorRun> m_runs;
    std::optional<trials::SimulatedMotorStand> m_stand;
};

} // namespace ivrant::app
