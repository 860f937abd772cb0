#include "core/verdict/moves.h"

#include <algorithm>
#include <tbb/parallel_for.h>

#include "core/pose/stance.h"
#include "core/verdict/collect.h"

namespace ivrant::verdict {
namespace {

/// Values `at` 0 to 1 from one set to another.
pose::JointValues between(const pose::JointValues& from, const pose::JointValues& to, double at) {
    pose::JointValues values = from;
    for (std::size_t j = 0; j < values.size(); ++j)
        for (std::size_t k = 0; k < values[j].size(); ++k) values[j][k] += at * (to[j][k] - from[j][k]);
    return values;
}

/// False when it has no weight or touches nothing anywhere on the way.
bool walk(const Report& report, const pose::JointValues& from, const pose::JointValues& to, const model::Stance& stance, MoveTip& move) {
    for (int i = 0; i <= kMoveSteps; ++i) {
        const double share = static_cast<double>(i) / kMoveSteps;
        model::Placed placed = pose::calcPlaced(*report.project, report.tree, between(from, to, share));
        pose::applyStance(placed, stance);
        const auto tip = stand::calcTipping(placed, pose::listGroundCorners(placed, kGroundMm));
        if (!tip) return false;
        if (move.anglesDeg.empty() || tip->angleDeg < move.leastDeg) {
            move.leastDeg = tip->angleDeg;
            move.atShare = share;
            move.towardDeg = tip->towardDeg;
        }
        move.anglesDeg.push_back(tip->angleDeg);
    }
    move.endsDeg = std::min(move.anglesDeg.front(), move.anglesDeg.back());
    return true;
}

} // namespace

std::optional<MoveTip> calcMoveTip(const Report& report, const model::NamedPose& from, const model::NamedPose& to) {
    if (from.stands.kind == model::Stance::Kind::Held || from.stands != to.stands) return std::nullopt;
    MoveTip move;
    move.key = from.id.text + "-" + to.id.text;
    move.name = from.name + " to " + to.name;
    move.from = from.id;
    move.to = to.id;
    if (!walk(report, pose::getValues(*report.project, &from), pose::getValues(*report.project, &to), from.stands, move)) return std::nullopt;
    return move;
}

std::vector<MoveTip> calcMoveTips(const Report& report) {
    std::vector<MoveTip> moves;
    const model::Project& project = *report.project;
    std::vector<std::optional<MoveTip>> between(project.poses.size());
    tbb::parallel_for(std::size_t{1}, std::max<std::size_t>(1, project.poses.size()),
                      [&](std::size_t q) { between[q] = calcMoveTip(report, project.poses[q - 1], project.poses[q]); });
    for (auto& move : between)
        if (move) moves.push_back(std::move(*move));
    const model::Stance stance = report.present.stance;
    if (stance.kind == model::Stance::Kind::Held) return moves;
    for (const auto& board : project.boards)
        for (const model::DriveFunction& function : board->functions) {
            const int j = function.joint.empty() ? -1 : project.findJoint(function.joint);
            if (j < 0 || !(function.travel > 0) || report.present.values[static_cast<std::size_t>(j)].size() != 1) continue;
            MoveTip move;
            move.key = function.id.text;
            move.name = function.name;
            move.joint = function.joint;
            pose::JointValues from = report.present.values, to = from;
            from[static_cast<std::size_t>(j)][0] = function.fromDeg;
            to[static_cast<std::size_t>(j)][0] = function.fromDeg + function.travel;
            if (walk(report, from, to, stance, move)) moves.push_back(std::move(move));
        }
    return moves;
}

} // namespace ivrant::verdict
