// SPDX-License-Identifier: GPL-3.0-or-later
#include "print/board_spots.h"

#include <algorithm>
#include <cmath>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/drive/board_view.h"
#include "core/model/board_parts.h"

namespace ivrant::print {
namespace {

using base::umToMm;
using model::BoardAxis;
using model::GearKind;

QRectF rodBox(const model::Shaft& shaft) {
    const double x = umToMm(shaft.atUm[0]), y = umToMm(shaft.atUm[1]), length = umToMm(shaft.lengthUm), r = 3;
    if (shaft.axis == BoardAxis::Right) return {x, y - r, length, 2 * r};
    if (shaft.axis == BoardAxis::Up) return {x - r, y, 2 * r, length};
    return {x - r, y - r, 2 * r, 2 * r};
}

} // namespace

const model::Board& boardOf(const DriveState& state, int board) { return ivrant::at(state.seen, board); }

DriveStatePtr makeDriveState(std::shared_ptr<const model::Project> project, drive::DriveReport report,
                             const std::vector<geometry::Frame>& X_WS) {
    auto state = std::make_shared<DriveState>();
    state->project = std::move(project);
    state->report = std::move(report);
    state->X_WB = model::calcBoardFrames({state->project.get(), X_WS});
    const auto& X_WB = state->X_WB;
    for (std::size_t b = 0; b < X_WB.size(); ++b)
        state->seen.push_back(drive::makeSeenBoard(*state->project, static_cast<int>(b), state->report.net, X_WB[b]));
    for (const auto& board : state->project->boards)
        state->bodies.push_back(drive::listSeenBodies(*state->project, *board));
    return state;
}

DriveStatePtr makeElevationState(const DriveStatePtr& state, int board) {
    if (!state || ivrant::at(state->project->boards, board)->section.empty()) return nullptr;
    auto turned = std::make_shared<DriveState>(*state);
    model::Board& seen = ivrant::at(turned->seen, board);
    seen = drive::makeSeenElevation(*state->project, board, state->report.net, ivrant::at(state->X_WB, board));
    if (seen.shafts.empty() && seen.gears.empty()) return nullptr;
    const geometry::Frame X_BE = drive::getElevation(*ivrant::at(state->project->boards, board)).X_BE;
    geometry::Frame& X_WB = ivrant::at(turned->X_WB, board);
    X_WB = X_WB * X_BE;
    for (drive::SeenBody& body : ivrant::at(turned->bodies, board)) {
        geometry::Bounds box;
        box.include(X_BE.inverse(Eigen::Isometry) * body.box.low);
        box.include(X_BE.inverse(Eigen::Isometry) * body.box.high);
        body.box = box;
    }
    return turned;
}

std::vector<Spot> listSpots(const model::Board& board) {
    std::vector<Spot> spots;
    for (const model::Gear& gear : board.gears) {
        Spot spot;
        spot.gear = &gear;
        spot.size = model::calcWheelSize(gear.kind, gear.teeth);
        std::array<double, 3> at{};
        if (gear.kind == GearKind::Rack) {
            spot.axis = gear.axis;
            for (std::size_t k = 0; k < 3; ++k) at[k] = umToMm(gear.atUm[k]);
            ivrant::at(at, gear.axis) += spot.size.halfWidthMm;
        } else {
            for (const model::Shaft& shaft : board.shafts)
                if (shaft.id == gear.shaft) spot.shaft = &shaft;
            if (!spot.shaft) continue; // its shaft lies on another board, where it is drawn
            spot.axis = spot.shaft->axis;
            for (std::size_t k = 0; k < 3; ++k) at[k] = umToMm(spot.shaft->atUm[k]);
            ivrant::at(at, spot.axis) +=
                umToMm(gear.alongUm) + (gear.kind == GearKind::Actuator ? spot.size.halfWidthMm : 0);
        }
        spot.at = {at[0], at[1]};
        spot.height = at[2];
        spots.push_back(spot);
    }
    // Big ones first, so that small ones stay in sight.
    std::stable_sort(spots.begin(), spots.end(),
                     [](const Spot& a, const Spot& b) { return a.size.tipRadiusMm > b.size.tipRadiusMm; });
    return spots;
}

QRectF findBox(const Spot& spot) {
    const double r = spot.gear->kind == GearKind::Rack ? 4 : spot.size.tipRadiusMm, h = spot.size.halfWidthMm;
    const double x = spot.axis == BoardAxis::Right ? h : r, y = spot.axis == BoardAxis::Up ? h : r;
    return {spot.at.x() - x, spot.at.y() - y, 2 * x, 2 * y};
}

QRectF findExtent(const DriveState& state, int board) {
    QRectF extent;
    for (const Spot& spot : listSpots(boardOf(state, board))) extent |= findBox(spot);
    for (const model::Shaft& shaft : boardOf(state, board).shafts) extent |= rodBox(shaft);
    for (const drive::SeenBody& body : ivrant::at(state.bodies, board))
        extent |= QRectF(body.box.low.x(), body.box.low.y(), body.box.size().x(), body.box.size().y());
    return extent.isNull() ? QRectF(-40, -32, 80, 64) : extent;
}

std::string findAt(const DriveState& state, const BoardLook& look, QPointF mm) {
    const model::Board& board = boardOf(state, look.board);
    for (const model::Shaft& shaft : board.shafts)
        if (rodBox(shaft).contains(mm)) return shaft.id.text;
    const auto spots = listSpots(board);
    for (auto spot = spots.rbegin(); spot != spots.rend(); ++spot) { // smallest first
        const bool hidden = look.layerUm && std::abs(spot->height - umToMm(*look.layerUm)) > spot->size.halfWidthMm &&
                            spot->axis == BoardAxis::Out;
        if (hidden || !findBox(*spot).contains(mm)) continue;
        const QPointF off = mm - spot->at;
        if (spot->axis == BoardAxis::Out && std::hypot(off.x(), off.y()) > spot->size.tipRadiusMm) continue;
        return spot->shaft ? spot->shaft->id.text : spot->gear->id.text;
    }
    return "";
}

} // namespace ivrant::print
