// SPDX-License-Identifier: GPL-3.0-or-later
// A motor's line against its load: speed over torque, the working point where they cross, stall where the line ends.
#pragma once

#include <QWidget>
#include <optional>

#include "core/drive/motor.h"

namespace ivrant::app {

struct MotorPlot {
    drive::MotorLine line;
    drive::Battery battery;
    drive::WorkingPoint point;
    double askedNmm = 0; ///< at the motor, where the function is hardest
    QString title;       ///< "M2 lifts the span"
};

class MotorChart : public QWidget {
    Q_OBJECT
public:
    explicit MotorChart(QWidget* parent = nullptr);
    void show(std::optional<MotorPlot> plot);
    void paintChart(QPainter& painter, const QRectF& area) const;
    [[nodiscard]] bool saveChart(const QString& path) const;

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    std::optional<MotorPlot> m_plot;
};

} // namespace ivrant::app
