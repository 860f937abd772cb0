// SPDX-License-Identifier: GPL-3.0-or-later
// Runs of a motor and the straight line that fits them: speed at the rated voltage over torque.
#pragma once

#include <QWidget>
#include <optional>

#include "core/trials/motor_fit.h"

namespace ivrant::app {

class RunChart : public QWidget {
    Q_OBJECT
public:
    explicit RunChart(QWidget* parent = nullptr);
    void show(std::vector<model::MotorRun> runs, double ratedV, std::optional<trials::MotorFit> fit);
    void paintChart(QPainter& painter, const QRectF& area) const;
    [[nodiscard]] bool saveChart(const QString& path) const;

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    std::vector<model::MotorRun> m_runs;
    double m_ratedV = 9;
    std::optional<trials::MotorFit> m_fit;
};

} // namespace ivrant::app
