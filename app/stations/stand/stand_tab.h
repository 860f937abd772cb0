// SPDX-License-Identifier: GPL-3.0-or-later
// What the tabs of Stand have in common: each looks at the report of the model as it is, and shows in the sheet what it
// found.
#pragma once

#include <QPainter>

#include "app/sheet3d/sheet3d.h"
#include "app/shell/live.h"
#include "app/shell/station_tab.h"

namespace ivrant::app {

class StandTab : public StationTab {
    Q_OBJECT
public:
    using StationTab::StationTab;
    /// The project changed: what runs is stopped, what was found is dropped. It is looked for again with its report.
    virtual void forget() = 0;
    /// Over the sheet, while this tab is up.
    virtual void drawOverlay(QPainter& painter, const Sheet3d& sheet) const = 0;
    /// How much of its bonds a part uses, below 0 when it falls; none: nothing is told of it.
    [[nodiscard]] virtual std::optional<double> findUse(const model::PartId& part) const;
    /// Does it tell anything of parts by their tint?
    [[nodiscard]] virtual bool hasTints() const { return false; }
    /// True: a drag that begins here on the sheet is for this tab, and drag() follows it.
    virtual bool takesDrag(QPointF position, const Sheet3d& sheet);
    virtual void drag(QPointF position, const Sheet3d& sheet);

protected:
    /// The report of the project as it is; null while it is worked out.
    [[nodiscard]] ReportPtr currentReport() const { return m_session.isReportCurrent() ? m_session.report() : nullptr; }
    /// The same when it has weight that could be balanced; else says `why`, and null.
    [[nodiscard]] ReportPtr weightyReport(const QString& why) const;
};

} // namespace ivrant::app
