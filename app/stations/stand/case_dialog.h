// SPDX-License-Identifier: GPL-3.0-or-later
// A case of the builder's own: how the model stands or is carried, tilted, shaken and pushed.
#pragma once

#include <QCheckBox>
#include <QComboBox>
#include <QDialog>
#include <QDoubleSpinBox>
#include <QLabel>
#include <QLineEdit>

#include "core/model/project.h"

namespace ivrant::app {

class CaseDialog : public QDialog {
    Q_OBJECT
public:
    /// `chosen`: parts that are chosen in the model; they can be taken hold of or pushed.
    CaseDialog(const model::Project& project, model::OwnCase own, std::vector<model::PartId> chosen,
               QWidget* parent = nullptr);
    [[nodiscard]] const model::OwnCase& ownCase() const { return m_own; }

private:
    void take();

    model::OwnCase m_own;
    std::vector<model::PartId> m_chosen;
    QLineEdit* m_name;
    QComboBox* m_held;
    QComboBox* m_pose;
    QDoubleSpinBox *m_toward = nullptr, *m_slope = nullptr, *m_down = nullptr, *m_aside = nullptr, *m_push = nullptr;
    QCheckBox* m_pushChosen;
    QLabel* m_wrong;
};

} // namespace ivrant::app
