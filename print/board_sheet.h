// SPDX-License-Identifier: GPL-3.0-or-later
// A gear board drawn to scale for paper: tooth counts, hole numbers, functions and motors, black on white.
#pragma once

#include <QByteArray>

#include "core/verdict/report.h"
#include "print/board_scene.h"

namespace ivrant::print {

/// What a finished report says of the boards, for drawing them. The report's drive must not be null.
[[nodiscard]] DriveStatePtr makeDriveState(const verdict::Report& report);

/// The largest of the scales 1:1, 1:1.25, 1:1.5, 1:2, 1:2.5, 1:3 … at which the board fits into a box (mm): the number
/// after the colon.
[[nodiscard]] double findSheetScale(const DriveState& state, int board, double widthMm, double heightMm);
/// Size on paper at that scale, mm, with a margin for labels.
[[nodiscard]] QSizeF calcSheetSize(const DriveState& state, int board, double scale);
/// Draws it with its upper left corner at `at`; the painter's unit is a millimetre of the paper.
void paintBoardSheet(QPainter& painter, const DriveState& state, int board, double scale, QPointF at);

/// The board alone as SVG in true size (1:1): its width and height are given in mm.
[[nodiscard]] QByteArray makeBoardSvg(const DriveState& state, int board);

} // namespace ivrant::print
