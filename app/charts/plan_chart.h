// SPDX-License-Identifier: GPL-3.0-or-later
// Days until the show: as late as each phase can be above, as early as it can be below. The pointer reads a day.
#pragma once

#include <QWidget>

#include "core/make/calendar.h"

namespace ivrant::app {

class PlanChart : public QWidget {
    Q_OBJECT
public:
    explicit PlanChart(QWidget* parent = nullptr);
    void show(std::optional<make::Plan> plan, base::Day today);
    void paintChart(QPainter& painter, const QRectF& area) const;
    [[nodiscard]] bool saveChart(const QString& path) const;
    /// What happens on the day under the pointer; empty: nothing is there.
    [[nodiscard]] QString describe(QPointF position) const;

protected:
    void paintEvent(QPaintEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;

private:
    [[nodiscard]] std::pair<base::Day, base::Day> findSpan() const;
    [[nodiscard]] QRectF plotIn(const QRectF& area) const;
    std::optional<make::Plan> m_plan;
    base::Day m_today{};
};

} // namespace ivrant::app
