// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/charts/joint_map.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <cmath>

#include "app/charts/drawing.h"
#include "app/shell/theme.h"
#include "core/base/at.h"
#include "core/base/units.h"

namespace ivrant::app {
namespace {
constexpr int kMapLeft = 64, kMapTop = 10, kMapRight = 14, kMapBottom = 40;

QString degrees(double v) { return QString::fromStdString(base::formatNumber(v, 1)) + "°"; }

/// A step of the scale that gives about five marks.
double scaleStep(const model::Range& r) {
    const double span = r.high - r.low;
    for (const double step : {5.0, 10.0, 15.0, 30.0, 45.0, 90.0})
        if (span / step <= 6) return step;
    return 180;
}
} // namespace

JointMap::JointMap(QWidget* parent) : QWidget(parent) {
    setObjectName("jointMap");
    setAccessibleName("Map of two joints");
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
    setMinimumSize(220, 150);
}

void JointMap::show(pose::TwoJointMap map, const QString& firstName, const QString& secondName, double first,
                    double second, std::vector<MapDot> dots, std::optional<model::Range> firstWanted,
                    std::optional<model::Range> secondWanted) {
    m_reachable = map.findReachable(first, second);
    m_map = std::move(map);
    m_firstName = firstName;
    m_secondName = secondName;
    m_first = first;
    m_second = second;
    m_dots = std::move(dots);
    m_firstWanted = firstWanted;
    m_secondWanted = secondWanted;
    m_cell.reset();
    update();
}

void JointMap::clear() {
    m_map.reset();
    update();
}

QRectF JointMap::plotArea(const QRect& area) const {
    return QRectF(area).adjusted(kMapLeft, kMapTop, -kMapRight, -kMapBottom);
}

QPointF JointMap::pointOf(const QRectF& plot, double first, double second) const {
    const auto& a = m_map->request.firstRange;
    const auto& b = m_map->request.secondRange;
    return {plot.left() + (first - a.low) / (a.high - a.low) * plot.width(),
            plot.bottom() - (second - b.low) / (b.high - b.low) * plot.height()};
}

QPoint JointMap::cellCentre(int i, int k) const {
    return m_map ? pointOf(plotArea(rect()), m_map->firstValue(i), m_map->secondValue(k)).toPoint() : QPoint();
}

std::optional<std::pair<int, int>> JointMap::cellAt(QPoint at) const {
    if (!m_map) return std::nullopt;
    const QRectF plot = plotArea(rect());
    const int n = m_map->request.steps;
    const int i = static_cast<int>(std::floor((at.x() - plot.left()) / plot.width() * n)),
              k = static_cast<int>(std::floor((plot.bottom() - at.y()) / plot.height() * n));
    if (i < 0 || k < 0 || i >= n || k >= n) return std::nullopt;
    return std::pair(i, k);
}

void JointMap::paintChart(QPainter& painter, const QRect& area) const {
    const Theme& t = theme();
    if (!m_map) {
        painter.setPen(t.quiet);
        painter.drawText(area, Qt::AlignCenter, "Pick a second joint to see which positions of both are free together");
        return;
    }
    const QRectF plot = plotArea(area);
    const int n = m_map->request.steps;
    const double w = plot.width() / n, h = plot.height() / n;
    painter.fillRect(plot, t.panel);
    painter.setPen(Qt::NoPen);
    const auto runs = [&](auto wanted, const QBrush& brush) { // one rectangle for each run of like cells of a column
        for (int i = 0; i < n; ++i)
            for (int k = 0; k < n;) {
                const int from = k;
                while (k < n && wanted(i, k)) ++k;
                if (k > from)
                    painter.fillRect(QRectF(plot.left() + i * w, plot.bottom() - k * h, w + 0.5, (k - from) * h + 0.5),
                                     brush);
                if (k == from) ++k;
            }
    };
    const auto isReachable = [&](int i, int k) { return m_reachable.empty() || ivrant::at(m_reachable, i * n + k); };
    const QColor free(t.brine.red(), t.brine.green(), t.brine.blue(), 110),
        apart(t.brine.red(), t.brine.green(), t.brine.blue(), 40);
    runs([&](int i, int k) { return m_map->at(i, k) == pose::Cell::Free && isReachable(i, k); }, free);
    runs([&](int i, int k) { return m_map->at(i, k) == pose::Cell::Free && !isReachable(i, k); }, apart);
    runs([&](int i, int k) { return m_map->at(i, k) == pose::Cell::Blocked; }, QBrush(t.ember, Qt::BDiagPattern));
    const auto& a = m_map->request.firstRange;
    const auto& b = m_map->request.secondRange;
    const QFontMetrics metrics(painter.font());
    for (const bool first : {true, false}) {
        const auto& r = first ? a : b;
        const double step = scaleStep(r);
        for (double v = std::ceil(r.low / step) * step; v <= r.high + 1e-9; v += step) {
            const QPointF at = first ? pointOf(plot, v, b.low) : pointOf(plot, a.low, v);
            painter.setPen(QPen(t.rule, 1));
            painter.drawLine(at, first ? QPointF(at.x(), plot.top()) : QPointF(plot.right(), at.y()));
            painter.setPen(t.quiet);
            if (first)
                painter.drawText(QRectF(at.x() - 30, plot.bottom() + 2, 60, metrics.height()), Qt::AlignCenter,
                                 degrees(v));
            else
                painter.drawText(QRectF(plot.left() - 46, at.y() - metrics.height() / 2.0, 42, metrics.height()),
                                 Qt::AlignRight | Qt::AlignVCenter, degrees(v));
        }
    }
    painter.setPen(t.ink);
    painter.drawText(QRectF(plot.left(), plot.bottom() + 4 + metrics.height(), plot.width(), metrics.height()),
                     Qt::AlignCenter, m_firstName);
    painter.save();
    painter.translate(area.left() + 12, plot.center().y());
    painter.rotate(-90);
    painter.drawText(QRectF(-plot.height() / 2, -metrics.height() / 2.0, plot.height(), metrics.height()),
                     Qt::AlignCenter, m_secondName);
    painter.restore();
    if (m_firstWanted && m_secondWanted) {
        painter.setPen(QPen(t.ink, 1.5));
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(QRectF(pointOf(plot, m_firstWanted->low, m_secondWanted->high),
                                pointOf(plot, m_firstWanted->high, m_secondWanted->low)) &
                         plot);
    }
    painter.setBrush(t.sheet);
    painter.setPen(QPen(t.ink, 1.4));
    for (const auto& dot : m_dots) painter.drawEllipse(pointOf(plot, dot.first, dot.second), 3.5, 3.5);
    const QPointF now = pointOf(plot, m_first, m_second);
    painter.setPen(QPen(t.ink, 2));
    painter.drawLine(now - QPointF(8, 0), now + QPointF(8, 0));
    painter.drawLine(now - QPointF(0, 8), now + QPointF(0, 8));
    if (m_cell) {
        painter.setBrush(Qt::NoBrush);
        painter.setPen(QPen(t.ink, 1));
        painter.drawRect(QRectF(plot.left() + m_cell->first * w, plot.bottom() - (m_cell->second + 1) * h, w, h));
    }
}

void JointMap::paintEvent(QPaintEvent* event) {
    (void)event;
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    paintChart(painter, rect());
    if (hasFocus()) {
        painter.setPen(QPen(theme().brine, 1, Qt::DotLine));
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(rect().adjusted(0, 0, -1, -1));
    }
}

void JointMap::lookAt(int i, int k) {
    m_cell = std::pair(i, k);
    const auto cell = m_map->at(i, k);
    const int n = m_map->request.steps;
    QString state = cell == pose::Cell::Free      ? "free"
                    : cell == pose::Cell::Blocked ? "blocked"
                                                  : "beyond its own limit";
    if (cell == pose::Cell::Free && !m_reachable.empty() && !ivrant::at(m_reachable, i * n + k))
        state = "free, but not reached from here without a collision";
    QString text = m_firstName + " " + degrees(m_map->firstValue(i)) + ", " + m_secondName + " " +
                   degrees(m_map->secondValue(k)) + ": " + state;
    for (const auto& dot : m_dots)
        if (std::abs(dot.first - m_map->firstValue(i)) < 4 && std::abs(dot.second - m_map->secondValue(k)) < 4)
            text += " · " + dot.name;
    emit looked(text);
    update();
}

void JointMap::mouseMoveEvent(QMouseEvent* event) {
    if (const auto cell = cellAt(event->pos())) lookAt(cell->first, cell->second);
}

void JointMap::mousePressEvent(QMouseEvent* event) {
    if (const auto cell = cellAt(event->pos())) {
        lookAt(cell->first, cell->second);
        emit picked(m_map->firstValue(cell->first), m_map->secondValue(cell->second));
    }
}

void JointMap::keyPressEvent(QKeyEvent* event) {
    if (!m_map) return QWidget::keyPressEvent(event);
    const int n = m_map->request.steps;
    auto cell = m_cell.value_or(std::pair(n / 2, n / 2));
    switch (event->key()) {
    case Qt::Key_Left: cell.first = std::max(0, cell.first - 1); break;
    case Qt::Key_Right: cell.first = std::min(n - 1, cell.first + 1); break;
    case Qt::Key_Up: cell.second = std::min(n - 1, cell.second + 1); break;
    case Qt::Key_Down: cell.second = std::max(0, cell.second - 1); break;
    case Qt::Key_Return:
    case Qt::Key_Enter: emit picked(m_map->firstValue(cell.first), m_map->secondValue(cell.second)); return;
    default: return QWidget::keyPressEvent(event);
    }
    lookAt(cell.first, cell.second);
}

bool JointMap::saveChart(const QString& path) const {
    return saveDrawing(path, size(), "Map of two joints", [&](QPainter& painter) {
        painter.setFont(font());
        paintChart(painter, rect());
    });
}

} // namespace ivrant::app
