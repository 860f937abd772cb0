// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/model/board_turns.h"

#include <algorithm>

#include "core/base/at.h"
#include "core/base/units.h"

namespace ivrant::model {
namespace {

using geometry::Frame;
using geometry::Vec3;

/// The board that the gear lies on; null: there is none.
const Board* findBoardOf(const Project& project, const base::GearId& gear) {
    for (const auto& board : project.boards)
        if (std::any_of(board->gears.begin(), board->gears.end(), [&](const Gear& g) { return g.id == gear; }))
            return board.get();
    return nullptr;
}

/// What carries a wheel: that of its shaft, else that of its board; empty: nothing turns it about.
base::GearId findCarrier(const Project& project, const base::GearId& gear) {
    const Board* board = findBoardOf(project, gear);
    if (!board) return {};
    const auto wheel =
        std::find_if(board->gears.begin(), board->gears.end(), [&](const Gear& g) { return g.id == gear; });
    const auto shaft =
        std::find_if(board->shafts.begin(), board->shafts.end(), [&](const Shaft& s) { return s.id == wheel->shaft; });
    return shaft != board->shafts.end() && !shaft->carrier.empty() ? shaft->carrier : board->carrier;
}

/// Ends: no carrier is carried by itself (validate_boards.h).
bool isCarriedBy(const Project& project, const Board& board, const base::GearId& gear) {
    for (base::GearId at = board.carrier; !at.empty(); at = findCarrier(project, at))
        if (at == gear) return true;
    return false;
}

Frame findSectionFrame(const Placed& placed, const Board& board) {
    const int section = board.section.empty() ? -1 : placed.project->findSection(board.section);
    return section < 0 ? Frame(Frame::Identity()) : ivrant::at(placed.X_WS, section);
}

} // namespace

bool carriesBoards(const Project& project, const base::GearId& gear) {
    return !gear.empty() && std::any_of(project.boards.begin(), project.boards.end(),
                                        [&](const BoardPtr& board) { return isCarriedBy(project, *board, gear); });
}

std::vector<Frame> calcBoardTurns(const Placed& placed, const base::GearId& gear, double angleDeg) {
    const Project& project = *placed.project;
    std::vector<Frame> turns(project.boards.size(), Frame::Identity());
    const Board* own = findBoardOf(project, gear);
    if (!own) return turns;
    const auto wheel = std::find_if(own->gears.begin(), own->gears.end(), [&](const Gear& g) { return g.id == gear; });
    const auto shaft =
        std::find_if(own->shafts.begin(), own->shafts.end(), [&](const Shaft& s) { return s.id == wheel->shaft; });
    if (shaft == own->shafts.end()) return turns;
    const Frame X_WB = findSectionFrame(placed, *own) * own->place.frame();
    const Vec3 at =
        X_WB * Vec3(base::umToMm(shaft->atUm[0]), base::umToMm(shaft->atUm[1]), base::umToMm(shaft->atUm[2]));
    const Vec3 axis = X_WB.linear().col(static_cast<int>(shaft->axis));
    Frame turn = Frame::Identity();
    turn.translate(at).rotate(Eigen::AngleAxisd(base::degToRad(angleDeg), axis)).translate(-at);
    for (std::size_t b = 0; b < turns.size(); ++b) {
        if (!isCarriedBy(project, *project.boards[b], gear)) continue;
        const Frame X_WS = findSectionFrame(placed, *project.boards[b]);
        turns[b] = X_WS.inverse() * turn * X_WS;
    }
    return turns;
}

} // namespace ivrant::model
