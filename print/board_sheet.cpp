// SPDX-License-Identifier: GPL-3.0-or-later
#include "print/board_sheet.h"
#include "print/markup_text.h"

#include <QBuffer>
#include <QSvgGenerator>
#include <cmath>

#include "core/base/at.h"

namespace ivrant::print {
namespace {

constexpr double kMargin = 14;    ///< mm of the board round what lies on it
constexpr double kUnitsPerMm = 4; ///< fine units of the paper: labels are some of them high
constexpr int kTextUnits = 10;

QRectF extentOf(const DriveState& state, int board) {
    return findExtent(state, board).adjusted(-kMargin, -kMargin, kMargin, kMargin);
}

} // namespace

DriveStatePtr makeDriveState(const verdict::Report& report) {
    return makeDriveState(report.project, *report.drive, report.present.placed.X_WS);
}

double findSheetScale(const DriveState& state, int board, double widthMm, double heightMm) {
    const QRectF extent = extentOf(state, board);
    const double least = std::max(extent.width() / widthMm, extent.height() / heightMm) - 1e-9;
    for (const double scale : {1.0, 1.25, 1.5, 2.0, 2.5})
        if (scale >= least) return scale;
    return std::ceil(least);
}

QSizeF calcSheetSize(const DriveState& state, int board, double scale) { return extentOf(state, board).size() / scale; }

void paintBoardSheet(QPainter& painter, const DriveState& state, int board, double scale, QPointF at) {
    const QRectF extent = extentOf(state, board);
    const QSizeF size = calcSheetSize(state, board, scale) * kUnitsPerMm;
    painter.save();
    painter.translate(at);
    painter.scale(1 / kUnitsPerMm, 1 / kUnitsPerMm);
    painter.setClipRect(QRectF(QPointF(0, 0), size));
    QFont font("Inter");
    font.setStyleHint(QFont::SansSerif);
    font.setPixelSize(kTextUnits);
    painter.setFont(font);
    BoardView view;
    view.scale = kUnitsPerMm / scale;
    view.origin = QPointF(-extent.left() * view.scale, extent.bottom() * view.scale);
    BoardLook look;
    look.board = board;
    look.speedsRpm = drive::calcShownSpeeds(state.report);
    paintBoard(painter, QRectF(QPointF(0, 0), size), state, view, look);
    painter.restore();
}

QByteArray makeBoardSvg(const DriveState& state, int board) {
    const QSizeF size = calcSheetSize(state, board, 1);
    QBuffer bytes;
    bytes.open(QIODevice::WriteOnly);
    QSvgGenerator svg;
    svg.setOutputDevice(&bytes);
    constexpr int kDotsPerInch = 2540; // a hundredth of a millimetre
    svg.setResolution(kDotsPerInch);
    const QSize dots = (size * 100).toSize();
    svg.setSize(dots);
    svg.setViewBox(QRect(QPoint(0, 0), dots));
    svg.setTitle(markupText(ivrant::at(state.project->boards, board)->name)); // the generator writes it as it is
    QPainter painter(&svg);
    painter.scale(100, 100);
    paintBoardSheet(painter, state, board, 1, {0, 0});
    painter.end();
    return bytes.data();
}

} // namespace ivrant::print
