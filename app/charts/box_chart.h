// SPDX-License-Identifier: GPL-3.0-or-later
// Boxes from above with the pieces in them, all to one scale. The pointer reads a piece.
#pragma once

#include <QWidget>

#include "core/study/packing.h"

namespace ivrant::app {

class BoxChart : public QWidget {
    Q_OBJECT
public:
    explicit BoxChart(QWidget* parent = nullptr);
    /// `foamMm`: round each piece.
    void show(std::optional<study::PackPlan> plan, double foamMm);
    void paintChart(QPainter& painter, const QRectF& area) const;
    [[nodiscard]] bool saveChart(const QString& path) const;
    /// The piece at that point of the widget with its size; empty: none is there.
    [[nodiscard]] QString describe(QPointF position) const;

protected:
    void paintEvent(QPaintEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;

private:
    struct Drawn {
        QRectF box;
        std::vector<std::pair<QRectF, int>> pieces; ///< with their index in the plan
    };
    [[nodiscard]] std::vector<Drawn> layOut(const QRectF& area) const;
    std::optional<study::PackPlan> m_plan;
    double m_foamMm = 0;
};

} // namespace ivrant::app
