// SPDX-License-Identifier: GPL-3.0-or-later
// Tip angle along a move, against what is asked; the other moves thin behind it. A press or drag asks for a place on
// the way.
#pragma once

#include <QWidget>

#include "core/study/moves.h"

namespace ivrant::app {

class TipWay : public QWidget {
    Q_OBJECT
public:
    explicit TipWay(QWidget* parent = nullptr);
    void show(std::vector<study::MoveTip> moves, int chosen, double askedDeg);
    /// The place that is shown in the sheet, 0 to 1.
    void setShare(double share);
    void paintChart(QPainter& painter, const QRectF& area) const;
    [[nodiscard]] bool saveChart(const QString& path) const;

signals:
    void askedFor(double share);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;

private:
    [[nodiscard]] static QRectF plotIn(const QRectF& area);
    void ask(const QPointF& position);

    std::vector<study::MoveTip> m_moves;
    int m_chosen = 0;
    double m_askedDeg = 8, m_share = 0;
};

} // namespace ivrant::app
