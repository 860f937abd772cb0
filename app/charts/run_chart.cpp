// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/charts/run_chart.h"

#include <QPainter>

#include "app/charts/drawing.h"
#include "app/shell/text.h"
#include "app/shell/theme.h"
#include "core/base/units.h"

namespace ivrant::app {
RunChart::RunChart(QWidget* parent) : QWidget(parent) {
    setObjectName("runChart");
    setAccessibleName("Runs of the motor and their line");
    setMinimumSize(220, 150);
}

void RunChart::show(std::vector<model::MotorRun> runs, double ratedV, std::optional<trials::MotorFit> fit) {
    m_runs = std::move(runs);
    m_ratedV = ratedV;
    m_fit = fit;
    update();
}

bool RunChart::saveChart(const QString& path) const {
    return saveDrawing(path, size(), "Motor runs", [this](QPainter& painter) { paintChart(painter, QRectF(rect())); });
}

void RunChart::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    paintChart(painter, QRectF(rect()));
}

void RunChart::paintChart(QPainter& painter, const QRectF& area) const {
    painter.setRenderHint(QPainter::Antialiasing);
    painter.fillRect(area, theme().sheet);
    if (m_runs.empty()) {
        painter.setPen(theme().quiet);
        painter.drawText(area, Qt::AlignCenter | Qt::TextWordWrap,
                         "Every run becomes a point here;\nthree under different weights make a line.");
        return;
    }
    double torque = m_fit ? m_fit->stallNmm : 1, rpm = m_fit ? m_fit->noLoadRpm : 1;
    const auto speedOf =
        [&](const model::MotorRun& run) { // moved in parallel to the rated voltage, where the line is known
            return m_fit ? run.rpm + (m_ratedV - run.voltageV) / m_ratedV * m_fit->noLoadRpm : run.rpm;
        };
    for (const auto& run : m_runs) {
        torque = std::max(torque, run.torqueNmm);
        rpm = std::max(rpm, speedOf(run));
    }
    torque *= 1.1;
    rpm *= 1.1;
    const QRectF plot = area.adjusted(46, 22, -12, -28);
    const auto at = [&](double t, double n) {
        return QPointF(plot.left() + t / torque * plot.width(), plot.bottom() - n / rpm * plot.height());
    };
    painter.setPen(QPen(theme().ink, 1));
    painter.drawLine(plot.bottomLeft(), plot.topLeft());
    painter.drawLine(plot.bottomLeft(), plot.bottomRight());
    painter.setPen(theme().quiet);
    painter.drawText(QRectF(area.left() + 4, area.top() + 2, area.width() - 8, 18), Qt::AlignLeft | Qt::AlignVCenter,
                     m_fit ? "rpm at " + number(m_ratedV, 1) + " V over torque" : QString("rpm over torque"));
    painter.drawText(QRectF(plot.left(), plot.bottom() + 4, plot.width(), 18), Qt::AlignLeft, "0");
    painter.drawText(QRectF(plot.left(), plot.bottom() + 4, plot.width(), 18), Qt::AlignRight,
                     number(torque, 0) + " N·mm");
    painter.drawText(QRectF(area.left(), plot.top() - 8, 42, 16), Qt::AlignRight | Qt::AlignVCenter, number(rpm, 0));
    if (m_fit) {
        painter.setPen(QPen(theme().brine, 2));
        painter.drawLine(at(0, m_fit->noLoadRpm), at(m_fit->stallNmm, 0));
    }
    painter.setPen(QPen(theme().ink, 1.6));
    painter.setBrush(theme().sheet);
    for (const auto& run : m_runs) painter.drawEllipse(at(run.torqueNmm, std::max(0.0, speedOf(run))), 4, 4);
}

} // namespace ivrant::app
