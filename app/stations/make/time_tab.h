// SPDX-License-Identifier: GPL-3.0-or-later
// Time: the day it must stand there, the hours there are, and the calendar worked out between.
#pragma once

#include <QDoubleSpinBox>
#include <QLabel>
#include <QLineEdit>
#include <QSpinBox>
#include <QTableWidget>
#include <array>

#include "app/charts/plan_chart.h"
#include "app/shell/station_tab.h"

namespace ivrant::app {

class TimeTab : public StationTab {
    Q_OBJECT
public:
    TimeTab(Session& session, QWidget* parent);
    /// By the ending: .ics, .csv, .svg or .png.
    void writePlan(const QString& path);

protected:
    void refresh() override;

private:
    void makeForm(QWidget* form);
    void fillForm();
    void takeForm();
    void tell(const base::Result<make::Plan>& plan);

    QLineEdit* m_due;
    std::array<QDoubleSpinBox*, 7> m_hours{};
    QLineEdit* m_others;
    QSpinBox *m_builders, *m_travel, *m_tests;
    QDoubleSpinBox* m_pack;
    QLabel *m_told, *m_wrong;
    PlanChart* m_chart;
    QTableWidget* m_waits;
    std::optional<make::Plan> m_plan;
    bool m_filling = false;
};

} // namespace ivrant::app
