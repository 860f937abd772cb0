// SPDX-License-Identifier: GPL-3.0-or-later
// Which clutch wheels does each position of a selector engage?
#pragma once

#include <QDialog>
#include <QLabel>
#include <QLineEdit>
#include <QTableWidget>

#include "core/model/project.h"

namespace ivrant::app {

class SelectorDialog : public QDialog {
    Q_OBJECT
public:
    SelectorDialog(const model::Project& project, model::Selector selector, QWidget* parent = nullptr);
    [[nodiscard]] const model::Selector& selector() const { return m_selector; }

private:
    void addPosition(const model::SelectorPosition& position);
    void removePosition();
    void take();

    model::Selector m_selector;
    std::vector<model::GearId> m_clutches; ///< columns of the table after the name
    QLineEdit* m_name;
    QTableWidget* m_table;
    QLabel* m_wrong;
};

} // namespace ivrant::app
