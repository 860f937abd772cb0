// SPDX-License-Identifier: GPL-3.0-or-later
// What stands against a function, how far it goes and what is asked of it.
#pragma once

#include <QCheckBox>
#include <QComboBox>
#include <QDialog>
#include <QFormLayout>
#include <QLabel>
#include <QLineEdit>

#include "core/model/project.h"

namespace ivrant::app {

class FunctionDialog : public QDialog {
    Q_OBJECT
public:
    FunctionDialog(model::DriveFunction function, const std::vector<model::Joint>& joints, QWidget* parent = nullptr);
    [[nodiscard]] const model::DriveFunction& function() const { return m_function; }

private:
    void take();
    void showKind();

    model::DriveFunction m_function;
    QLineEdit *m_name, *m_amount, *m_radius, *m_rate, *m_from, *m_travel, *m_within, *m_rpm;
    QComboBox *m_load, *m_joint;
    QCheckBox *m_hold, *m_together;
    QLabel *m_amountText, *m_fromText, *m_wrong;
    QFormLayout* m_form;
};

} // namespace ivrant::app
