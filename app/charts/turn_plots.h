// SPDX-License-Identifier: GPL-3.0-or-later
// Several values over the same turn or travel, side by side. The pointer reads them, a click or drag chooses a place.
#pragma once

#include <QWidget>
#include <vector>

class QCustomPlot;
class QCPAxisRect;
class QCPItemStraightLine;
class QCPTextElement;

namespace ivrant::app {

struct TurnPlot {
    QString title, unit;
    std::vector<double> y;
    std::vector<double> limits; ///< drawn across, dashed
    int decimals = 1;
};

class TurnPlots : public QWidget {
    Q_OBJECT
public:
    explicit TurnPlots(QWidget* parent = nullptr);
    /// `x`: of all, in the order of the way; not necessarily rising.
    void show(std::vector<double> x, const QString& unit, std::vector<TurnPlot> plots);
    /// Where the mark stands, an index of x.
    void setPlace(int place);
    [[nodiscard]] int place() const { return m_place; }
    /// What stands over the plot: title, and the value at the pointer or the mark.
    [[nodiscard]] QString headOf(std::size_t plot) const;
    [[nodiscard]] bool saveChart(const QString& path) const;

signals:
    void placeChosen(int place);

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;
    void contextMenuEvent(QContextMenuEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    void build();
    void writeHeads();
    [[nodiscard]] int placeAt(const QPointF& position) const;

    QCustomPlot* m_plot;
    std::vector<double> m_x;
    QString m_unit;
    std::vector<TurnPlot> m_plots;
    std::vector<QCPAxisRect*> m_rects;
    std::vector<QCPTextElement*> m_heads;
    std::vector<QCPItemStraightLine*> m_marks;
    int m_place = 0, m_pointed = -1;
    bool m_dragging = false;
};

} // namespace ivrant::app
