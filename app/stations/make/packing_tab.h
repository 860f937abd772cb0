// SPDX-License-Identifier: GPL-3.0-or-later
// Packing: pieces, boxes, putting up at the show, and what to bring.
#pragma once

#include <QDoubleSpinBox>
#include <QLabel>
#include <QTableWidget>
#include <array>

#include "app/charts/box_chart.h"
#include "app/shell/live.h"
#include "app/shell/station_tab.h"

namespace ivrant::app {

class PackingTab : public StationTab {
    Q_OBJECT
public:
    PackingTab(Session& session, QWidget* parent);
    /// By the ending: .csv, .svg or .png.
    void writePlan(const QString& path);

protected:
    void refresh() override;

private:
    void makeForm(QWidget* form);
    void fillForm();
    void takeForm();
    void showPlan(const study::PackPlan& plan, const verdict::Report& report);

    std::array<QDoubleSpinBox*, 3> m_box{};
    QDoubleSpinBox *m_kg, *m_foam, *m_hours, *m_running;
    QLabel* m_told;
    BoxChart* m_chart;
    QTableWidget *m_putUp, *m_bring;
    Live<study::PackPlan> m_live;
    std::optional<study::PackPlan> m_plan;
    ReportPtr m_of;
    bool m_filling = false;
};

} // namespace ivrant::app
