// SPDX-License-Identifier: GPL-3.0-or-later
// What is left of each scarce part against the steps: it falls, and below nothing it lacks. The pointer reads it.
#pragma once

#include <QWidget>
#include <optional>

#include "core/make/stock.h"

namespace ivrant::app {

class TideChart : public QWidget {
    Q_OBJECT
public:
    explicit TideChart(QWidget* parent = nullptr);
    /// The lines with these indices; the one `chosen` (an index of a line, or −1) stands out.
    void show(const make::Tide& tide, std::vector<int> lines, int chosen);
    void paintChart(QPainter& painter, const QRectF& area) const;
    [[nodiscard]] bool saveChart(const QString& path) const;
    /// What the pointer reads at a step, in words.
    [[nodiscard]] QString describe(int step) const;
    [[nodiscard]] std::optional<int> stepUnder(QPointF position) const;

signals:
    void stepPicked(int step); ///< by a click

protected:
    void paintEvent(QPaintEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void leaveEvent(QEvent* event) override;

private:
    [[nodiscard]] QRectF plotIn(const QRectF& area) const;
    make::Tide m_tide;
    std::vector<int> m_lines;
    int m_chosen = -1;
    std::optional<int> m_pointed; ///< step
};

} // namespace ivrant::app
