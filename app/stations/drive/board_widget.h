// SPDX-License-Identifier: GPL-3.0-or-later
// The gear board under the pointer: choosing, dragging to the grid, panning, zooming. It asks for edits, it makes none.
#pragma once

#include <QWidget>

#include "print/board_scene.h"

namespace ivrant::app {

using print::BoardLook;
using print::BoardView;
using print::DriveState;
using print::DriveStatePtr;

class BoardWidget : public QWidget {
    Q_OBJECT
public:
    explicit BoardWidget(QWidget* parent = nullptr);

    /// Null: there is no board, a hint is shown.
    void show(DriveStatePtr state, int board);
    [[nodiscard]] const BoardLook& look() const { return m_look; }
    [[nodiscard]] std::vector<std::string> chosen() const { return {m_look.chosen.begin(), m_look.chosen.end()}; }
    void choose(std::set<std::string> ids);
    void mark(std::set<std::string> ids);
    void setLayer(std::optional<std::int64_t> layerUm);
    void setSpeeds(std::vector<double> rpm);
    void setSeconds(double seconds);
    void fit();
    /// The board from its side, below the plan; boards of parts alone have one.
    void setElevation(bool shown);
    [[nodiscard]] bool hasElevation() const { return m_side != nullptr; }
    /// A pixel in it for a place in pitches: right, and out of the board. For tests.
    [[nodiscard]] QPoint elevationPixelOf(double xPitches, double outPitches) const;
    /// Where new things go, µm on the board.
    [[nodiscard]] std::array<std::int64_t, 2> cursorUm() const;
    /// A pixel for a place in pitches, for tests.
    [[nodiscard]] QPoint pixelOf(double xPitches, double yPitches) const;
    [[nodiscard]] bool saveDrawing(const QString& path) const;
    void copyPicture() const;

signals:
    void chosenChanged();
    /// During a drag, from where it began; `done` at its end. `dz`: out of the board, in the elevation.
    void dragged(const std::vector<std::string>& ids, std::int64_t dxUm, std::int64_t dyUm, std::int64_t dzUm,
                 bool done);
    void nudged(std::int64_t dxUm, std::int64_t dyUm);
    void typed(const QString& text);

protected:
    void paintEvent(QPaintEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    void paint(QPainter& painter) const;
    void lookFromSide();
    [[nodiscard]] int planHeight() const; ///< pixels; the rest is the elevation
    void fitSide();
    void emitDrag(bool done);
    [[nodiscard]] bool isPart(const std::string& id) const; ///< not a thing of the board itself
    [[nodiscard]] QPointF placeOf(const std::string& id, bool side) const;

    DriveStatePtr m_state, m_side; ///< side: null when it is not shown
    drive::Elevation m_elevation;
    BoardLook m_look;
    BoardView m_view, m_sideView;
    double m_planShare = 1;
    bool m_wantsSide = true, m_inSide = false; ///< in: where the pointer went down
    QPointF m_pressedAt, m_pressedPlace;
    std::string m_held;
    bool m_moving = false, m_panning = false, m_fitted = false;
    std::int64_t m_movedX = 0, m_movedY = 0; ///< in the view pressed in
};

} // namespace ivrant::app
