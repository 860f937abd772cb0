// SPDX-License-Identifier: GPL-3.0-or-later
// Which kind of joint goes here: every kind tried on the model, sorted by a preference between smooth and firm.
#pragma once

#include <QLabel>
#include <QPushButton>
#include <QSlider>
#include <QTableWidget>

#include "app/stations/pose/pose_tab.h"
#include "core/pose/choose.h"

namespace ivrant::app {

class ChooseTab : public PoseTab {
    Q_OBJECT
public:
    ChooseTab(Session& session, QWidget* parent);

protected:
    void refresh() override;

private:
    void showTable();
    void showDetail();
    void use();
    [[nodiscard]] const pose::JointChoice* chosen() const;
    QSlider* m_firm;
    QTableWidget* m_table;
    QLabel* m_detail;
    QPushButton* m_use;
    Live<std::vector<pose::JointChoice>> m_live;
    std::vector<pose::JointChoice> m_choices;
};

} // namespace ivrant::app
