// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/charts/motor_chart.h"

#include <QPainter>

#include "app/charts/drawing.h"
#include "app/shell/text.h"
#include "app/shell/theme.h"
#include "core/base/units.h"

namespace ivrant::app {
MotorChart::MotorChart(QWidget* parent) : QWidget(parent) {
    setObjectName("motorChart");
    setAccessibleName("Motor line and working point");
    setMinimumSize(200, 130);
}

void MotorChart::show(std::optional<MotorPlot> plot) {
    m_plot = std::move(plot);
    setToolTip(m_plot ? QString("%1: %2 rpm at %3 N·mm, %4 A; %5")
                            .arg(m_plot->title, number(m_plot->point.rpm, 0), number(m_plot->point.torqueNmm, 1),
                                 number(m_plot->point.currentA, 2),
                                 m_plot->line.measured ? "motor measured, losses are starting values"
                                                       : "starting values, not measured")
                      : QString());
    update();
}

bool MotorChart::saveChart(const QString& path) const {
    return saveDrawing(path, size(), "Motor and load",
                       [this](QPainter& painter) { paintChart(painter, QRectF(rect())); });
}

void MotorChart::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    paintChart(painter, QRectF(rect()));
}

void MotorChart::paintChart(QPainter& painter, const QRectF& area) const {
    painter.setRenderHint(QPainter::Antialiasing);
    painter.fillRect(area, theme().sheet);
    if (!m_plot) {
        painter.setPen(theme().quiet);
        painter.drawText(area, Qt::AlignCenter | Qt::TextWordWrap,
                         "Choose a function that a motor drives\nto see where motor and load meet.");
        return;
    }
    const double rpm = std::max({m_plot->point.noLoadRpm, m_plot->point.rpm, 1.0}),
                 torque = std::max({m_plot->point.stallNmm, m_plot->askedNmm, 1.0}) * 1.08;
    const QRectF plot = area.adjusted(44, 20, -12, -30);
    const auto at = [&](double t, double n) {
        return QPointF(plot.left() + t / torque * plot.width(), plot.bottom() - n / rpm * plot.height());
    };
    painter.setPen(QPen(theme().ink, 1));
    painter.drawLine(plot.bottomLeft(), plot.topLeft());
    painter.drawLine(plot.bottomLeft(), plot.bottomRight());
    painter.setPen(theme().quiet);
    painter.drawText(QRectF(area.left(), plot.top() - 8, 40, 16), Qt::AlignRight | Qt::AlignVCenter, number(rpm, 0));
    painter.drawText(QRectF(area.left(), plot.center().y() - 8, 40, 16), Qt::AlignRight | Qt::AlignVCenter, "rpm");
    painter.drawText(QRectF(plot.left(), plot.bottom() + 3, plot.width(), 16), Qt::AlignLeft, "torque, N·mm");
    painter.drawText(QRectF(plot.left() + 4, area.top(), plot.width() - 4, 18), Qt::AlignLeft | Qt::AlignVCenter,
                     m_plot->title + (m_plot->line.measured ? " · measured" : " · starting values"));
    // Half of stall: beyond it the motor gets hot.
    painter.setPen(QPen(theme().straw, 1, Qt::DashLine));
    painter.drawLine(at(m_plot->point.stallNmm / 2, 0), at(m_plot->point.stallNmm / 2, rpm));
    painter.setPen(QPen(theme().brine, 2));
    painter.drawLine(at(0, drive::calcSpeedRpm(m_plot->line, m_plot->battery, 0)), at(m_plot->point.stallNmm, 0));
    painter.setPen(QPen(theme().ember, 2));
    painter.drawLine(at(m_plot->askedNmm, 0), at(m_plot->askedNmm, rpm));
    painter.setPen(QPen(theme().ink, 2));
    painter.setBrush(theme().sheet);
    painter.drawEllipse(at(m_plot->point.torqueNmm, m_plot->point.rpm), 5, 5);
    painter.setPen(theme().ink);
    const bool right = m_plot->askedNmm < torque * 0.55;
    const QString text = m_plot->point.stalls
                             ? "stalls: asks " + number(m_plot->askedNmm, 1)
                             : number(m_plot->point.rpm, 0) + " rpm at " + number(m_plot->point.torqueNmm, 1);
    const QPointF spot = at(m_plot->askedNmm, rpm * 0.92);
    painter.drawText(QRectF(right ? spot.x() + 8 : spot.x() - 208, spot.y() - 8, 200, 16),
                     static_cast<int>(right ? Qt::AlignLeft : Qt::AlignRight) | Qt::AlignVCenter, text);
    painter.setPen(theme().quiet);
    painter.drawText(QRectF(at(m_plot->point.stallNmm, 0).x() - 70, plot.bottom() + 3, 76, 16), Qt::AlignCenter,
                     "stall " + number(m_plot->point.stallNmm, 0));
}

} // namespace ivrant::app
