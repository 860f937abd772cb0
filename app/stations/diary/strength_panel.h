// SPDX-License-Identifier: GPL-3.0-or-later
// A test of what a joint or a stud holds, led step by step: readings typed or taken from an instrument, what they say,
// where they count.
#pragma once

#include <QComboBox>
#include <QDoubleSpinBox>

#include "app/shell/live.h"
#include "app/stations/diary/test_panel.h"
#include "core/trials/instrument.h"
#include "core/trials/lever.h"
#include "core/trials/statistics.h"

namespace ivrant::app {

class StrengthPanel : public TestPanel {
    Q_OBJECT
public:
    StrengthPanel(Session& session, QWidget* parent);
    void showProject();
    void take() override;
    void importReadings();

private:
    enum Test { LeverTest, PullTest, WearTest, StudTest, ShearTest };
    enum Source { Typed, Simulated, Serial };
    struct Reading {
        double raw = 0; ///< g (typed lever and wear tests) or N
        bool isForce = false;
        double value = 0; ///< N·mm or N
        double moves = 0;
        bool imported = false; ///< the value as it stood in a file
    };
    void fillScopes();
    void showForm();
    void showReadings();
    [[nodiscard]] QString listSteps() const;
    [[nodiscard]] QString tellStrength(const trials::Statistics& statistics) const;
    [[nodiscard]] QString rawText(const Reading& reading) const;
    void addTyped() override;
    void addReading(double raw, bool isForce);
    void removeResult(int index) override;
    void startAnew() override;
    [[nodiscard]] model::Series makeSeries() const override;
    [[nodiscard]] Test test() const { return static_cast<Test>(m_test->currentIndex()); }
    [[nodiscard]] bool isTorque() const { return test() == LeverTest || test() == WearTest; }
    [[nodiscard]] bool isOfJoint() const { return test() == LeverTest || test() == PullTest || test() == WearTest; }
    [[nodiscard]] QString unit() const { return isTorque() ? "N·mm" : "N"; }
    [[nodiscard]] trials::Lever lever() const { return {m_distance->value(), m_arm->value(), m_armCentre->value()}; }
    [[nodiscard]] const parts::JointKind* testedKind() const;
    [[nodiscard]] std::optional<model::JointId> testedJoint() const;
    [[nodiscard]] base::Result<std::shared_ptr<trials::Instrument>> instrument();

    QComboBox *m_test, *m_scope, *m_source;
    QLabel* m_rawUnit;
    QDoubleSpinBox *m_distance, *m_arm, *m_armCentre, *m_moves;
    QLabel *m_distanceLabel, *m_armLabel, *m_armCentreLabel, *m_movesLabel, *m_deviceLabel;
    QLineEdit* m_device;
    Live<base::Result<double>> m_live;
    std::shared_ptr<trials::Instrument> m_instrument;
    QString m_instrumentKey;
    std::vector<Reading> m_readings;
    bool m_scopeChosen = false; ///< by the person; else it follows the current joint
};

} // namespace ivrant::app
