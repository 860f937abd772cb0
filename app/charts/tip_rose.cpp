// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/charts/tip_rose.h"

#include <QPainter>
#include <cmath>

#include "app/charts/drawing.h"
#include "app/shell/text.h"
#include "app/shell/theme.h"
#include "core/base/units.h"

namespace ivrant::app {
namespace {

constexpr double kLeastRoseDeg = 15;
constexpr int kSteps = 180;

} // namespace

TipRose::TipRose(QWidget* parent) : QWidget(parent) {
    setObjectName("tipRose");
    setAccessibleName("Tip angle by direction, from above");
    setToolTip("How far it may lean that way before it falls, and the push at its top that tips it");
    setMinimumSize(220, 200);
}

void TipRose::show(std::optional<stand::Tipping> tipping, double askedDeg, double topMm,
                   std::optional<stand::Tipping> after) {
    m_tipping = std::move(tipping);
    m_after = std::move(after);
    m_askedDeg = askedDeg;
    m_topMm = std::max(1.0, topMm);
    update();
}

bool TipRose::saveChart(const QString& path) const {
    return saveDrawing(path, size(), "Tip rose", [this](QPainter& painter) { paintChart(painter, QRectF(rect())); });
}

void TipRose::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    paintChart(painter, QRectF(rect()));
}

void TipRose::paintChart(QPainter& painter, const QRectF& area) const {
    const Theme& t = theme();
    painter.setRenderHint(QPainter::Antialiasing);
    painter.fillRect(area, t.sheet);
    if (!m_tipping) {
        painter.setPen(t.quiet);
        painter.drawText(area, Qt::AlignCenter | Qt::TextWordWrap,
                         "Nothing stands here yet:\nput parts on the ground in Shape.");
        return;
    }
    double most = std::max(kLeastRoseDeg, m_askedDeg * 1.2);
    for (int k = 0; k < kSteps; ++k)
        most = std::max(most, std::min(60.0, stand::calcTipAngleToward(*m_tipping, 2.0 * k)));
    const double radius = std::min(area.width() - 156, area.height() - 88) / 2;
    const QPointF centre = area.center();
    const auto at = [&](double angle, double toward) {
        const double r = std::clamp(angle, 0.0, most) / most * radius, a = base::degToRad(toward);
        return centre + QPointF(r * std::cos(a), -r * std::sin(a));
    };
    painter.setBrush(Qt::NoBrush);
    const double step = most > 30 ? 15 : 5;
    for (double ring = step; ring <= most; ring += step) {
        painter.setPen(QPen(t.rule, 1));
        painter.drawEllipse(centre, ring / most * radius, ring / most * radius);
    }
    const auto outline = [&](const stand::Tipping& tipping) {
        QPolygonF polygon;
        for (int k = 0; k < kSteps; ++k) polygon << at(stand::calcTipAngleToward(tipping, 2.0 * k), 2.0 * k);
        return polygon;
    };
    const QColor state = m_tipping->angleDeg < m_askedDeg         ? t.ember
                         : m_tipping->angleDeg < 1.5 * m_askedDeg ? t.straw
                                                                  : t.brine;
    painter.setPen(QPen(state, 2));
    painter.setBrush(QColor(state.red(), state.green(), state.blue(), 40));
    painter.drawPolygon(outline(*m_tipping));
    if (m_after) {
        painter.setPen(QPen(t.ink, 1.6, Qt::DashLine));
        painter.setBrush(Qt::NoBrush);
        painter.drawPolygon(outline(*m_after));
    }
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(t.ink, 1.6));
    painter.drawEllipse(centre, m_askedDeg / most * radius, m_askedDeg / most * radius);
    const QPointF weakest = at(std::max(m_tipping->angleDeg, most * 0.06), m_tipping->towardDeg);
    painter.setPen(QPen(state, 2));
    painter.drawLine(centre, weakest);
    const auto tell = [&](double toward, const QString& name, const QRectF& box, int flags) {
        const double angle = stand::calcTipAngleToward(*m_tipping, toward),
                     push = stand::calcTipPushN(*m_tipping, toward, m_topMm);
        painter.setPen(angle < m_askedDeg ? t.ember : t.quiet);
        painter.drawText(box, flags | Qt::TextWordWrap, name + " " + number(angle, 1) + "°\n" + number(push, 2) + " N");
    };
    const double side = (area.width() - 2 * radius) / 2 - 4;
    tell(90, "back", {centre.x() - 90, area.top() + 1, 180, 40}, Qt::AlignHCenter | Qt::AlignTop);
    tell(270, "front", {centre.x() - 90, area.bottom() - 41, 180, 40}, Qt::AlignHCenter | Qt::AlignBottom);
    tell(180, "left", {area.left() + 2, centre.y() - 20, side, 40}, Qt::AlignLeft | Qt::AlignVCenter);
    tell(0, "right", {area.right() - side - 2, centre.y() - 20, side, 40}, Qt::AlignRight | Qt::AlignVCenter);
}

} // namespace ivrant::app
