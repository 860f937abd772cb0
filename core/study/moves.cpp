// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/moves.h"

#include <algorithm>
#include <tbb/parallel_for.h>

#include "core/base/at.h"
#include "core/model/board_turns.h"
#include "core/pose/stance.h"
#include "core/study/facts.h"

namespace ivrant::study {
namespace {

/// Values at both ends and what it stands on.
struct Way {
    pose::JointValues from, to;
    model::Stance stance;
    model::GearId turntable; ///< that carries gear boards; empty: none
    double turnDeg = 0;      ///< of it at the end
};

constexpr double kWholeTurnDeg = 360;

/// The joint of the model that a function turns over its travel, up or down; −1: none.
int findDriven(const Facts& facts, const model::DriveFunction& function) {
    model::JointId joint = function.joint;
    if (facts.drive)
        for (const auto& state : facts.drive->positions.front().functions)
            if (state.function->id == function.id) joint = state.joint;
    const int j = joint.empty() ? -1 : facts.project->findJoint(joint);
    return j >= 0 && function.travel != 0 && at(facts.present.values, j).size() == 1 ? j : -1;
}

std::optional<Way> findWay(const Facts& facts, const MoveTip& move) {
    const model::Project& project = *facts.project;
    if (move.from && move.to) {
        const int from = project.findPose(*move.from), to = project.findPose(*move.to);
        if (from < 0 || to < 0) return std::nullopt;
        const auto &start = at(project.poses, from), &end = at(project.poses, to);
        return Way{pose::getValues(project, &start), pose::getValues(project, &end), start.stands, {}, 0};
    }
    for (const auto& board : project.boards)
        for (const model::DriveFunction& function : board->functions) {
            if (function.id.text != move.key) continue;
            Way way{facts.present.values, facts.present.values, facts.present.stance, {}, 0};
            if (const int j = findDriven(facts, function); j >= 0) {
                at(way.from, j)[0] = function.fromDeg;
                at(way.to, j)[0] = function.fromDeg + function.travel;
            }
            if (model::carriesBoards(project, function.gear)) {
                way.turntable = function.gear;
                way.turnDeg = function.travel != 0 ? function.travel : kWholeTurnDeg;
            }
            return way;
        }
    return std::nullopt;
}

std::optional<stand::Standing> placeAt(const Facts& facts, const Way& way, double share) {
    pose::JointValues values = way.from;
    for (std::size_t j = 0; j < values.size(); ++j)
        for (std::size_t k = 0; k < values[j].size(); ++k) values[j][k] += share * (way.to[j][k] - way.from[j][k]);
    stand::Standing place{pose::calcPlaced(*facts.project, facts.tree, values), {}};
    if (!way.turntable.empty())
        place.placed.boardTurns = model::calcBoardTurns(place.placed, way.turntable, share * way.turnDeg);
    pose::applyStance(place.placed, way.stance);
    const auto tip = stand::calcTipping(place.placed, pose::listGroundCorners(place.placed, kGroundMm));
    if (!tip) return std::nullopt;
    place.tipping = *tip;
    return place;
}

/// False when it has no weight or touches nothing anywhere on the way.
bool walk(const Facts& facts, MoveTip& move) {
    const auto way = findWay(facts, move);
    if (!way) return false;
    for (int i = 0; i <= kMoveSteps; ++i) {
        const double share = static_cast<double>(i) / kMoveSteps;
        const auto place = placeAt(facts, *way, share);
        if (!place) return false;
        const stand::Tipping& tip = place->tipping;
        if (move.anglesDeg.empty() || tip.angleDeg < move.leastDeg) {
            move.leastDeg = tip.angleDeg;
            move.atShare = share;
            move.towardDeg = tip.towardDeg;
        }
        move.anglesDeg.push_back(tip.angleDeg);
    }
    move.endsDeg = std::min(move.anglesDeg.front(), move.anglesDeg.back());
    return true;
}

} // namespace

std::optional<MoveTip> calcMoveTip(const Facts& facts, const model::NamedPose& from, const model::NamedPose& to) {
    if (from.stands.kind == model::Stance::Kind::Held || from.stands != to.stands) return std::nullopt;
    MoveTip move;
    move.key = from.id.text + "-" + to.id.text;
    move.name = from.name + " to " + to.name;
    move.from = from.id;
    move.to = to.id;
    if (!walk(facts, move)) return std::nullopt;
    return move;
}

std::optional<stand::Standing> calcPlaceOnWay(const Facts& facts, const MoveTip& move, double share) {
    const auto way = findWay(facts, move);
    if (!way) return std::nullopt;
    return placeAt(facts, *way, std::clamp(share, 0.0, 1.0));
}

std::vector<stand::Standing> listStandings(const Facts& facts, const MoveTip& move) {
    std::vector<stand::Standing> standings;
    const auto way = findWay(facts, move);
    for (int i = 0; way && i <= kMoveSteps; ++i)
        if (auto place = placeAt(facts, *way, static_cast<double>(i) / kMoveSteps))
            standings.push_back(std::move(*place));
    return standings;
}

std::vector<MoveTip> calcMoveTips(const Facts& facts) {
    std::vector<MoveTip> moves;
    const model::Project& project = *facts.project;
    std::vector<std::optional<MoveTip>> between(project.poses.size());
    tbb::parallel_for(std::size_t{1}, std::max<std::size_t>(1, project.poses.size()),
                      [&](std::size_t q) { between[q] = calcMoveTip(facts, project.poses[q - 1], project.poses[q]); });
    for (auto& move : between)
        if (move) moves.push_back(std::move(*move));
    if (facts.present.stance.kind == model::Stance::Kind::Held) return moves;
    for (const auto& board : project.boards)
        for (const model::DriveFunction& function : board->functions) {
            const bool drives = findDriven(facts, function) >= 0;
            if (!drives && !model::carriesBoards(project, function.gear)) continue;
            MoveTip move;
            move.key = function.id.text;
            move.name = function.name;
            if (drives) move.joint = at(project.joints, findDriven(facts, function)).id;
            if (walk(facts, move)) moves.push_back(std::move(move));
        }
    return moves;
}

} // namespace ivrant::study
