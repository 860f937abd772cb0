// What is seen of one gear board, and how is it drawn to scale? The window and exported drawings use the same.
#pragma once

#include <QPainter>
#include <QRectF>
#include <memory>
#include <optional>
#include <set>

#include "core/drive/drive_report.h"

namespace ivrant::app {

/// A report with the project it points into.
struct DriveState {
    std::shared_ptr<const model::Project> project;
    drive::DriveReport report;
};
using DriveStatePtr = std::shared_ptr<const DriveState>;

/// Millimetres of the board to pixels; the board's y points up.
struct BoardView {
    QPointF origin;   ///< pixel of the board's origin
    double scale = 3; ///< pixels a mm
    [[nodiscard]] QPointF toPixel(double x, double y) const { return {origin.x() + x * scale, origin.y() - y * scale}; }
    [[nodiscard]] QPointF toBoard(QPointF pixel) const { return {(pixel.x() - origin.x()) / scale, (origin.y() - pixel.y()) / scale}; }
};

struct BoardLook {
    int board = 0;
    std::optional<std::int64_t> layerUm; ///< only wheels of this height in full; none: all
    std::set<std::string> chosen;        ///< shafts and racks
    std::set<std::string> marked;        ///< what a verdict is about
    std::optional<QPointF> cursor;       ///< mm
    std::vector<double> speedsRpm;       ///< by thing
    double seconds = 0;                  ///< of playing
};

/// Extent of everything on the board, mm; a patch of holes when it is empty.
[[nodiscard]] QRectF findExtent(const DriveState& state, int board);
void paintBoard(QPainter& painter, const QRectF& area, const DriveState& state, const BoardView& view, const BoardLook& look);

/// Shaft or rack under a point (mm); the smallest wheel there wins. Empty: nothing.
[[nodiscard]] std::string findAt(const DriveState& state, const BoardLook& look, QPointF mm);

} // namespace ivrant::app
