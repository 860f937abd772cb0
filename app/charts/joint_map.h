// SPDX-License-Identifier: GPL-3.0-or-later
// The map of two freedoms: free cells filled, blocked hatched, beyond own limits empty; the present values as a cross,
// named poses as dots, wanted ranges outlined. A click or Enter takes the values of a cell; arrows move the cell looked
// at.
#pragma once

#include <QWidget>
#include <vector>

#include "core/pose/map.h"

namespace ivrant::app {

struct MapDot {
    QString name;
    double first = 0, second = 0;
};

class JointMap : public QWidget {
    Q_OBJECT
public:
    explicit JointMap(QWidget* parent = nullptr);
    void show(pose::TwoJointMap map, const QString& firstName, const QString& secondName, double first, double second,
              std::vector<MapDot> dots, std::optional<model::Range> firstWanted,
              std::optional<model::Range> secondWanted);
    void clear();
    [[nodiscard]] const std::optional<pose::TwoJointMap>& map() const { return m_map; }
    /// Middle of a cell in the widget, for tests.
    [[nodiscard]] QPoint cellCentre(int i, int k) const;
    void paintChart(QPainter& painter, const QRect& area) const;
    [[nodiscard]] bool saveChart(const QString& path) const;

signals:
    void picked(double first, double second);
    void looked(const QString& text);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    [[nodiscard]] QRectF plotArea(const QRect& area) const;
    [[nodiscard]] QPointF pointOf(const QRectF& plot, double first, double second) const;
    [[nodiscard]] std::optional<std::pair<int, int>> cellAt(QPoint at) const;
    void lookAt(int i, int k);
    std::optional<pose::TwoJointMap> m_map;
    std::vector<bool> m_reachable;
    QString m_firstName, m_secondName;
    double m_first = 0, m_second = 0;
    std::vector<MapDot> m_dots;
    std::optional<model::Range> m_firstWanted, m_secondWanted;
    std::optional<std::pair<int, int>> m_cell;
};

} // namespace ivrant::app
