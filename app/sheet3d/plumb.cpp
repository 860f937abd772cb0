// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/sheet3d/plumb.h"

#include <QPainter>

#include "app/shell/theme.h"
#include "core/study/asked_tip.h"
#include "core/verdict/report.h"

namespace ivrant::app {

void drawPlumb(QPainter& painter, const Sheet3d& sheet, const stand::Tipping& tip) {
    const Theme& t = theme();
    QPolygonF support;
    for (const auto& p : tip.support) support << sheet.toScreen({p.x(), p.y(), 0});
    const QColor colour = tip.angleDeg < 0 ? t.ember : tip.angleDeg < study::kUsualTipDeg ? t.straw : t.moss;
    painter.setPen(QPen(colour, 1.6));
    painter.setBrush(QColor(colour.red(), colour.green(), colour.blue(), 36));
    painter.drawPolygon(support);
    const QPointF centre = sheet.toScreen(tip.centre), foot = sheet.toScreen({tip.centre.x(), tip.centre.y(), 0});
    painter.setPen(QPen(colour, 1.4, Qt::DashDotLine));
    painter.drawLine(centre, foot);
    painter.setBrush(t.sheet);
    painter.setPen(QPen(colour, 1.6));
    painter.drawEllipse(centre, 5, 5);
    painter.drawLine(centre - QPointF(5, 0), centre + QPointF(5, 0));
    painter.drawLine(centre - QPointF(0, 5), centre + QPointF(0, 5));
    painter.drawEllipse(foot, 3, 3);
}

} // namespace ivrant::app
