// SPDX-License-Identifier: GPL-3.0-or-later
// What is seen of one gear board, and how is it drawn to scale? The window and exported drawings use the same.
#pragma once

#include <QColor>
#include <QPainter>
#include <QRectF>
#include <memory>
#include <optional>
#include <set>

#include "core/drive/board_view.h"
#include "core/drive/drive_report.h"

namespace ivrant::print {

/// A project with what is known of its boards.
struct DriveState {
    std::shared_ptr<const model::Project> project;
    drive::DriveReport report;                          ///< points into the project
    std::vector<model::Board> seen{};                   ///< by board: what is on it and what parts show in its plane
    std::vector<geometry::Frame> X_WB{};                ///< by board
    std::vector<std::vector<drive::SeenBody>> bodies{}; ///< by board: walls and motors, in its frame
};
using DriveStatePtr = std::shared_ptr<const DriveState>;

/// Millimetres of the board to pixels; the board's y points up.
struct BoardView {
    QPointF origin;   ///< pixel of the board's origin
    double scale = 3; ///< pixels a mm
    [[nodiscard]] QPointF toPixel(double x, double y) const { return {origin.x() + x * scale, origin.y() - y * scale}; }
    [[nodiscard]] QPointF toBoard(QPointF pixel) const {
        return {(pixel.x() - origin.x()) / scale, (origin.y() - pixel.y()) / scale};
    }
};

/// Drawn on white paper unless somebody else's are handed in.
struct BoardColours {
    QColor sheet{255, 255, 255}, panel{255, 255, 255}, ink{0x20, 0x30, 0x3A}, quiet{0x55, 0x63, 0x6B},
        rule{0xD8, 0xD0, 0xBE}, brine{0x1F, 0x7A, 0x80}, ember{0xA8, 0x3A, 0x1D};
};

struct BoardLook {
    int board = 0;
    BoardColours colours;
    std::optional<std::int64_t> layerUm; ///< only wheels of this height in full; none: all
    std::set<std::string> chosen;        ///< shafts and racks
    std::set<std::string> marked;        ///< what a verdict is about
    std::optional<QPointF> cursor;       ///< mm
    std::vector<double> speedsRpm;       ///< by thing
    double seconds = 0;                  ///< of playing
    int layerSign = 0;                   ///< elevations: the way up counts layers so; no speeds are written there
};

/// One board in its elevation (core/drive/board_view.h). Null: it shows no parts.
[[nodiscard]] DriveStatePtr makeElevationState(const DriveStatePtr& state, int board);

/// As the model stands.
[[nodiscard]] DriveStatePtr makeDriveState(std::shared_ptr<const model::Project> project, drive::DriveReport report,
                                           const std::vector<geometry::Frame>& X_WS);

/// Extent of everything on the board, mm; a patch of holes when it is empty.
[[nodiscard]] QRectF findExtent(const DriveState& state, int board);
void paintBoard(QPainter& painter, const QRectF& area, const DriveState& state, const BoardView& view,
                const BoardLook& look);

/// Shaft or rack under a point (mm); the smallest wheel there wins. Empty: nothing.
[[nodiscard]] std::string findAt(const DriveState& state, const BoardLook& look, QPointF mm);

} // namespace ivrant::print
