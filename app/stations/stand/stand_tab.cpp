// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/stand/stand_tab.h"

namespace ivrant::app {

std::optional<double> StandTab::findUse(const model::PartId& /*part*/) const { return std::nullopt; }

bool StandTab::takesDrag(QPointF /*position*/, const Sheet3d& /*sheet*/) { return false; }

void StandTab::drag(QPointF /*position*/, const Sheet3d& /*sheet*/) {}

ReportPtr StandTab::weightyReport(const QString& why) const {
    auto report = currentReport();
    if (report && report->present.tipping) return report;
    m_session.say(why, true);
    return nullptr;
}

} // namespace ivrant::app
