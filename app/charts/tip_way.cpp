// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/charts/tip_way.h"

#include <QMouseEvent>
#include <QPainter>
#include <algorithm>
#include <cmath>

#include "app/charts/drawing.h"
#include "app/shell/text.h"
#include "app/shell/theme.h"
#include "core/base/at.h"
#include "core/base/units.h"

namespace ivrant::app {
namespace {

constexpr double kLeastShownDeg = 15, kMostShownDeg = 60, kLowestShownDeg = -60;

} // namespace

TipWay::TipWay(QWidget* parent) : QWidget(parent) {
    setObjectName("tipWay");
    setAccessibleName("Tip angle along a move");
    setToolTip("How far it may lean before it falls, all along the move; press or drag to see the model there");
    setMinimumSize(220, 160);
    setCursor(Qt::CrossCursor);
}

void TipWay::show(std::vector<study::MoveTip> moves, int chosen, double askedDeg) {
    m_moves = std::move(moves);
    m_chosen = chosen;
    m_askedDeg = askedDeg;
    update();
}

void TipWay::setShare(double share) {
    m_share = share;
    update();
}

bool TipWay::saveChart(const QString& path) const {
    return saveDrawing(path, size(), "Tip angle along a move",
                       [this](QPainter& painter) { paintChart(painter, QRectF(rect())); });
}

void TipWay::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    paintChart(painter, QRectF(rect()));
}

QRectF TipWay::plotIn(const QRectF& area) { return area.adjusted(44, 24, -14, -26); }

void TipWay::ask(const QPointF& position) {
    const QRectF plot = plotIn(QRectF(rect()));
    emit askedFor(std::clamp((position.x() - plot.left()) / std::max(1.0, plot.width()), 0.0, 1.0));
}
void TipWay::mousePressEvent(QMouseEvent* event) { ask(event->position()); }
void TipWay::mouseMoveEvent(QMouseEvent* event) {
    if (event->buttons() & Qt::LeftButton) ask(event->position());
}

void TipWay::paintChart(QPainter& painter, const QRectF& area) const {
    const Theme& t = theme();
    painter.setRenderHint(QPainter::Antialiasing);
    painter.fillRect(area, t.sheet);
    if (m_moves.empty()) {
        painter.setPen(t.quiet);
        painter.drawText(area, Qt::AlignCenter | Qt::TextWordWrap,
                         "Two poses that stand make a move:\nkeep them in Pose.");
        return;
    }
    double most = kLeastShownDeg, least = 0;
    for (const study::MoveTip& move : m_moves)
        for (const double angle : move.anglesDeg) {
            most = std::max(most, std::min(angle, kMostShownDeg));
            least = std::min(least, std::max(angle, kLowestShownDeg));
        }
    most *= 1.08;
    const QRectF plot = plotIn(area);
    const auto yOf = [&](double angle) {
        return plot.bottom() - (std::clamp(angle, least, most) - least) / (most - least) * plot.height();
    };
    const auto at = [&](double share, double angle) { return QPointF(plot.left() + share * plot.width(), yOf(angle)); };
    // Below nothing it falls.
    painter.fillRect(QRectF(QPointF(plot.left(), yOf(0)), plot.bottomRight()),
                     QColor(t.ember.red(), t.ember.green(), t.ember.blue(), 36));
    painter.setPen(QPen(t.ink, 1));
    painter.drawLine(plot.bottomLeft(), plot.topLeft());
    painter.drawLine(QPointF(plot.left(), yOf(0)), QPointF(plot.right(), yOf(0)));
    painter.setPen(QPen(t.ink, 1.4, Qt::DashLine));
    painter.drawLine(QPointF(plot.left(), yOf(m_askedDeg)), QPointF(plot.right(), yOf(m_askedDeg)));
    painter.setPen(t.quiet);
    const auto tell = [&](double angle) {
        painter.drawText(QRectF(area.left(), yOf(angle) - 9, 40, 18), Qt::AlignRight | Qt::AlignVCenter,
                         number(angle, 0) + "°");
    };
    tell(m_askedDeg);
    tell(0);
    if (most > 2 * m_askedDeg) tell(std::floor(most / 5) * 5);
    const auto lineOf = [&](const study::MoveTip& move) {
        QPolygonF line;
        const auto last = static_cast<double>(move.anglesDeg.size() - 1);
        for (std::size_t k = 0; k < move.anglesDeg.size(); ++k)
            line << at(static_cast<double>(k) / last, move.anglesDeg[k]);
        return line;
    };
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(t.rule, 1.2));
    for (std::size_t m = 0; m < m_moves.size(); ++m)
        if (static_cast<int>(m) != m_chosen) painter.drawPolyline(lineOf(m_moves[m]));
    if (m_chosen < 0 || m_chosen >= static_cast<int>(m_moves.size())) return;
    const study::MoveTip& move = ivrant::at(m_moves, m_chosen);
    const QColor state = move.leastDeg < m_askedDeg ? t.ember : move.leastDeg < 1.5 * m_askedDeg ? t.straw : t.brine;
    painter.setPen(QPen(state, 2.2));
    painter.drawPolyline(lineOf(move));
    painter.setBrush(state);
    painter.drawEllipse(at(move.atShare, move.leastDeg), 4, 4);
    // Where the sheet shows it.
    painter.setPen(QPen(t.brine, 1.4));
    painter.drawLine(QPointF(plot.left() + m_share * plot.width(), plot.top()),
                     QPointF(plot.left() + m_share * plot.width(), plot.bottom()));
    painter.setPen(t.quiet);
    painter.drawText(QRectF(plot.left(), area.top() + 2, plot.width(), 18), Qt::AlignLeft | Qt::AlignVCenter,
                     "tip angle over the way");
    painter.drawText(QRectF(plot.left(), plot.bottom() + 4, plot.width(), 18), Qt::AlignLeft, "start");
    painter.drawText(QRectF(plot.left(), plot.bottom() + 4, plot.width(), 18), Qt::AlignRight, "end");
}

} // namespace ivrant::app
