// SPDX-License-Identifier: GPL-3.0-or-later
// The strip at Stand's foot: in which pose and which case it is tried, and up to which step it is built.
#pragma once

#include <QComboBox>
#include <QSpinBox>

#include "app/shell/flow_layout.h"
#include "app/shell/session.h"

namespace ivrant::app {

class CaseStrip : public QWidget {
    Q_OBJECT
public:
    CaseStrip(Session& session, QWidget* parent);
    /// The cases there are, the one of this key chosen; `hands`: carried at so many places that were chosen by hand.
    void showCases(const QString& key, std::size_t hands);
    /// Poses and steps of the project as it is.
    void showProject();
    void nextCase();
    [[nodiscard]] int step() const { return m_step->value(); }
    [[nodiscard]] int steps() const { return m_step->maximum(); }
    /// Without telling anybody.
    void setStep(int step);
    void focusStep() { m_step->setFocus(); }
    /// The model is looked at in a pose.
    void lookAt(const model::PoseId& id);

signals:
    void caseChosen(const QString& key);
    void keepAsked();      ///< keep a case of one's own
    void everyStepAsked(); ///< build it up step by step
    void poseShown();

private:
    Session& m_session;
    QStringList m_shown; ///< what the chips were made for
    QWidget* m_chips;
    QComboBox* m_pose;
    QSpinBox* m_step;
};

} // namespace ivrant::app
