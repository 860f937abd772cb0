// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/charts/tide_chart.h"

#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QToolTip>
#include <cmath>

#include "app/charts/drawing.h"
#include "app/shell/text.h"
#include "app/shell/theme.h"
#include "core/base/at.h"
#include "core/parts/palette.h"

namespace ivrant::app {
namespace {

QString nameOf(const make::TideLine& line) { return qs(line.shape + " " + parts::getColourName(line.colour)); }

/// A round number not below `least`: 1, 2 or 5 of a power of ten.
int roundStep(double least) {
    double unit = 1;
    while (unit * 10 <= least) unit *= 10;
    for (const double factor : {1.0, 2.0, 5.0, 10.0})
        if (unit * factor >= least) return static_cast<int>(unit * factor);
    return 1;
}

/// Told apart by dash as well as by colour.
QPen penOf(std::size_t i, bool chosen) {
    const QColor colours[]{theme().ember, theme().brine, theme().moss, theme().straw};
    const Qt::PenStyle dashes[]{Qt::SolidLine, Qt::DashLine, Qt::DashDotLine, Qt::DotLine};
    return QPen(colours[i % 4], chosen ? 3 : 1.8, dashes[i % 4]);
}

} // namespace

TideChart::TideChart(QWidget* parent) : QWidget(parent) {
    setObjectName("tideChart");
    setAccessibleName("What is left of scarce parts, step by step");
    setMinimumSize(240, 150);
    setMouseTracking(true);
}

void TideChart::show(const make::Tide& tide, std::vector<int> lines, int chosen) {
    m_tide = tide;
    m_lines = std::move(lines);
    m_chosen = chosen;
    m_pointed.reset();
    update();
}

bool TideChart::saveChart(const QString& path) const {
    return saveDrawing(path, size(), "Stock tide", [this](QPainter& painter) { paintChart(painter, QRectF(rect())); });
}

QString TideChart::describe(int step) const {
    QStringList lines{"after step " + QString::number(step)};
    for (const int index : m_lines) {
        const int left = at(m_tide.lines, index).leftAfter(step);
        lines << nameOf(at(m_tide.lines, index)) + ": " +
                     (left >= 0 ? QString::number(left) + " left" : QString::number(-left) + " short");
    }
    return lines.join("\n");
}

QRectF TideChart::plotIn(const QRectF& area) const {
    double names = 60;
    for (const int index : m_lines)
        names = std::max(names, fontMetrics().horizontalAdvance(nameOf(at(m_tide.lines, index))) + 30.0);
    return area.adjusted(scaled(40), scaled(12), -std::min(names, area.width() * 0.4), -scaled(26));
}

std::optional<int> TideChart::stepUnder(QPointF position) const {
    const QRectF plot = plotIn(QRectF(rect()));
    if (m_tide.steps == 0 || m_lines.empty() || !plot.adjusted(-6, -6, 6, 6).contains(position)) return {};
    const double share = (position.x() - plot.left()) / plot.width();
    return std::clamp(static_cast<int>(std::lround(share * m_tide.steps)), 0, m_tide.steps);
}

void TideChart::mouseMoveEvent(QMouseEvent* event) {
    m_pointed = stepUnder(event->position());
    if (m_pointed)
        QToolTip::showText(event->globalPosition().toPoint(), describe(*m_pointed), this);
    else
        QToolTip::hideText();
    update();
}

void TideChart::mousePressEvent(QMouseEvent* event) {
    if (const auto step = stepUnder(event->position()); step && *step > 0) emit stepPicked(*step);
}

void TideChart::leaveEvent(QEvent*) {
    m_pointed.reset();
    update();
}

void TideChart::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    paintChart(painter, QRectF(rect()));
}

void TideChart::paintChart(QPainter& painter, const QRectF& area) const {
    painter.setRenderHint(QPainter::Antialiasing);
    painter.fillRect(area, theme().sheet);
    if (m_lines.empty()) {
        painter.setPen(theme().quiet);
        painter.drawText(area, Qt::AlignCenter | Qt::TextWordWrap,
                         m_tide.isStocked
                             ? "Nothing runs out: choose a part below to see how it falls."
                             : "Add a stock: a table of what lies in your drawers (CSV).\nThen you see here "
                               "at which step something runs out.");
        return;
    }
    int high = 1, low = 0;
    for (const int index : m_lines) {
        const make::TideLine& line = at(m_tide.lines, index);
        high = std::max(high, line.there());
        low = std::min(low, line.leftAfter(m_tide.steps));
    }
    const QRectF plot = plotIn(area);
    const auto place = [&](double step, double left) {
        return QPointF(plot.left() + step / m_tide.steps * plot.width(),
                       plot.bottom() - (left - low) / static_cast<double>(high - low) * plot.height());
    };
    // Below nothing: hatched.
    if (low < 0) {
        const QRectF under(place(0, 0), QPointF(plot.right(), plot.bottom()));
        QColor pale = theme().ember;
        pale.setAlpha(70);
        painter.fillRect(under, QBrush(pale, Qt::BDiagPattern));
    }
    painter.setPen(QPen(theme().ink, 1));
    painter.drawLine(plot.topLeft(), plot.bottomLeft());
    painter.drawLine(place(0, 0), place(m_tide.steps, 0));
    const QFontMetricsF metrics(painter.font());
    const double row = metrics.height();
    painter.setPen(theme().quiet);
    const int tick = roundStep((high - low) * row * 1.5 / plot.height());
    for (int value = low / tick * tick; value <= high; value += tick)
        painter.drawText(QRectF(area.left(), place(0, value).y() - row / 2, plot.left() - area.left() - 6, row),
                         Qt::AlignRight | Qt::AlignVCenter, QString::number(value));
    const int stepTick = roundStep(m_tide.steps * scaled(44) / plot.width());
    for (int step = stepTick; step <= m_tide.steps; step += stepTick)
        painter.drawText(QRectF(place(step, 0).x() - 30, plot.bottom() + 3, 60, row), Qt::AlignHCenter,
                         QString::number(step));
    painter.drawText(QRectF(area.left(), plot.bottom() + 3, plot.left() - area.left() - 6, row), Qt::AlignRight,
                     "step");
    // Names at the right ends, moved apart where they would lie on each other.
    std::vector<std::pair<double, std::size_t>> ends;
    for (std::size_t i = 0; i < m_lines.size(); ++i) {
        const make::TideLine& line = at(m_tide.lines, m_lines[i]);
        QPainterPath path(place(0, line.there()));
        int left = line.there();
        for (const make::TideUse& use : line.uses) {
            path.lineTo(place(use.step, left)); // parts are taken when their step comes
            left -= use.count;
            path.lineTo(place(use.step, left));
        }
        path.lineTo(place(m_tide.steps, left));
        painter.setPen(penOf(i, m_lines[i] == m_chosen));
        painter.setBrush(Qt::NoBrush);
        painter.drawPath(path);
        if (line.runsOutAt > 0) {
            painter.setBrush(theme().sheet);
            painter.drawEllipse(place(line.runsOutAt, 0), 4, 4);
        }
        ends.emplace_back(place(m_tide.steps, left).y(), i);
    }
    std::sort(ends.begin(), ends.end());
    double next = plot.top();
    for (std::size_t k = 0; k < ends.size(); ++k) {
        const double room = plot.bottom() - row / 2 - row * static_cast<double>(ends.size() - 1 - k);
        const double y = std::min(std::max(ends[k].first, next), room);
        next = y + row;
        const std::size_t i = ends[k].second;
        QPen pen = penOf(i, false);
        painter.setPen(pen);
        painter.drawLine(QPointF(plot.right(), ends[k].first), QPointF(plot.right() + 6, y));
        painter.drawLine(QPointF(plot.right() + 6, y), QPointF(plot.right() + 18, y));
        const QRectF room2(plot.right() + 22, y - row / 2, area.right() - plot.right() - 24, row);
        painter.setPen(theme().ink);
        painter.drawText(room2, Qt::AlignLeft | Qt::AlignVCenter,
                         metrics.elidedText(nameOf(at(m_tide.lines, m_lines[i])), Qt::ElideRight, room2.width()));
    }
    if (!m_pointed) return;
    painter.setPen(QPen(theme().ink, 1, Qt::DashLine));
    painter.drawLine(QPointF(place(*m_pointed, 0).x(), plot.top()), QPointF(place(*m_pointed, 0).x(), plot.bottom()));
}

} // namespace ivrant::app
