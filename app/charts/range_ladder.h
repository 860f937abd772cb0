// SPDX-License-Identifier: GPL-3.0-or-later
// The range ladder: one row per freedom with the wanted band (outlined), the free band (filled), what is blocked of the
// own limit (hatched) and the present value (a tick). Failing rows first. Clicking a row selects its joint; clicking
// near an end says what stops there.
#pragma once

#include <QAbstractScrollArea>

#include "core/base/at.h"
#include "core/verdict/report.h"

namespace ivrant::app {

class RangeLadder : public QAbstractScrollArea {
    Q_OBJECT
public:
    explicit RangeLadder(QWidget* parent = nullptr);
    void show(std::shared_ptr<const verdict::Report> report, const model::JointId& current);
    /// Copies the rows as a table of text.
    [[nodiscard]] QString asText() const;
    [[nodiscard]] int rowCount() const { return static_cast<int>(m_rows.size()); }
    /// Middle of a row in the viewport, for tests and keyboard users' tooltips.
    [[nodiscard]] QPoint rowCentre(int row) const;
    [[nodiscard]] QPoint endPoint(int row, bool high) const;
    [[nodiscard]] const pose::FreedomRange& row(int index) const { return at(m_rows, index); }
    void paintChart(QPainter& painter, const QRect& area) const;
    /// All rows as SVG or PNG, by the ending; false when it cannot be written.
    [[nodiscard]] bool saveChart(const QString& path) const;

signals:
    void jointPicked(int joint);
    void stopPicked(int row, bool high);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    bool viewportEvent(QEvent* event) override;

private:
    void paintScale(QPainter& painter) const;
    [[nodiscard]] double xOf(double value, bool slide) const;
    [[nodiscard]] int rowAt(const QPoint& position) const;
    void layoutRows();
    std::shared_ptr<const verdict::Report> m_report;
    std::vector<pose::FreedomRange> m_rows;
    model::JointId m_current;
    double m_low = -180, m_high = 180;
};

} // namespace ivrant::app
