// SPDX-License-Identifier: GPL-3.0-or-later
// A bench test led step by step: what to do, readings typed or taken from an instrument, what they say, where they
// count.
#pragma once

#include <QComboBox>
#include <QDoubleSpinBox>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QTableWidget>

#include "app/shell/live.h"
#include "app/shell/session.h"
#include "core/trials/instrument.h"
#include "core/trials/lever.h"

class QGridLayout;

namespace ivrant::app {

class BenchPanel : public QWidget {
    Q_OBJECT
public:
    BenchPanel(Session& session, QWidget* parent);
    void showProject();
    void takeReading();
    void importReadings();
    [[nodiscard]] QWidget* focusTarget() { return m_typed; }

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
    void makeForm(QGridLayout* form);
    void fillScopes();
    void showForm();
    void showReadings();
    [[nodiscard]] QString rawText(const Reading& reading) const;
    void addTyped();
    void addReading(double raw, bool isForce);
    void removeReading();
    void startAnew();
    void keep(bool workshop);
    [[nodiscard]] Test test() const { return static_cast<Test>(m_test->currentIndex()); }
    [[nodiscard]] bool isTorque() const { return test() == LeverTest || test() == WearTest; }
    [[nodiscard]] bool isOfJoint() const { return test() == LeverTest || test() == PullTest || test() == WearTest; }
    [[nodiscard]] trials::Lever lever() const { return {m_distance->value(), m_arm->value(), m_armCentre->value()}; }
    [[nodiscard]] const parts::JointKind* testedKind() const;
    [[nodiscard]] std::optional<model::JointId> testedJoint() const;
    [[nodiscard]] base::Result<std::shared_ptr<trials::Instrument>> instrument();

    Session& m_session;
    QComboBox *m_test, *m_scope, *m_source;
    QLabel *m_steps, *m_says, *m_rawUnit;
    QDoubleSpinBox *m_distance, *m_arm, *m_armCentre, *m_moves;
    QLabel *m_distanceLabel, *m_armLabel, *m_armCentreLabel, *m_movesLabel, *m_deviceLabel;
    QLineEdit *m_typed, *m_device, *m_note;
    QPushButton *m_add, *m_read, *m_keep, *m_keepWorkshop, *m_drop;
    QTableWidget* m_table;
    Live<base::Result<double>> m_live;
    std::shared_ptr<trials::Instrument> m_instrument;
    QString m_instrumentKey;
    std::vector<Reading> m_readings;
    bool m_scopeChosen = false; ///< by the person; else it follows the current joint
    bool m_simulated = false;   ///< some reading came from the simulated scale
};

} // namespace ivrant::app
