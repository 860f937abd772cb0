// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/worst_load.h"

#include <algorithm>
#include <map>

#include "core/base/at.h"
#include "core/geometry/hull.h"
#include "core/model/section_body.h"
#include "core/pose/ground_corners.h"
#include "core/stand/support_edges.h"
#include "core/study/asked_tip.h"

namespace ivrant::study {

const PoseFacts& findWorstPose(const Facts& facts, std::size_t joint) {
    return *std::max_element(facts.poses.begin(), facts.poses.end(), [&](const PoseFacts& l, const PoseFacts& r) {
        return l.loads[joint].needNmm < r.loads[joint].needNmm;
    });
}

namespace {

stand::Tipping calcTippingOf(const Facts& facts, const pose::JointValues& values, const model::Stance& stance,
                             model::Placed& placed) {
    placed = pose::calcPlaced(*facts.project, facts.tree, values);
    pose::applyStance(placed, stance);
    return stand::calcTipping(placed, pose::listGroundCorners(placed, kGroundMm)).value_or(stand::Tipping{});
}

bool stillStands(const Facts& facts, const pose::WorstLoad& worst) {
    if (worst.stance.kind == model::Stance::Kind::Held) return true;
    model::Placed placed;
    return calcTippingOf(facts, worst.values, worst.stance, placed).angleDeg >= worst.tiltDeg;
}

/// Tilts of the base with which values still stand. A figure that stands flat on a section is looked at as that section
/// sees it, whose own corners are found once.
class StandSets {
public:
    StandSets(const Facts& facts, const model::Stance& stance)
        : m_stance(stance), m_kinematics(*facts.project, facts.tree), m_placed{facts.project.get(), {}} {
        const auto& boards = facts.project->boards;
        // Posts and boards that live alone are where they are in the world.
        const bool free =
            facts.project->posts.empty() &&
            std::none_of(boards.begin(), boards.end(), [](const auto& board) { return board->section.empty(); });
        if (free && stance.kind == model::Stance::Kind::Flat) m_flat = facts.project->findSection(stance.section);
    }

    /// None when it falls on level ground. `ground`: the section that everything is seen from.
    std::optional<pose::StandSet> calc(const pose::JointValues& values, int ground) {
        m_kinematics.place(values, m_placed.X_WS);
        if (m_flat >= 0 && m_flat == ground) {
            if (m_flatSupport.empty()) keepFlat();
            const geometry::Frame move = m_X_WG * at(m_placed.X_WS, ground).inverse(Eigen::Isometry);
            for (geometry::Frame& X : m_placed.X_WS) X = move * X;
            at(m_placed.X_WS, ground) = m_X_WG;
            const model::MassPoint mass = model::calcMass(m_placed);
            return makeSet(mass, findSupport(ground), ground);
        }
        pose::applyStance(m_placed, m_stance);
        const auto tip = stand::calcTipping(m_placed, pose::listGroundCorners(m_placed, kGroundMm));
        return tip ? makeSet({tip->massG, tip->centre}, tip->support, ground) : std::nullopt;
    }

private:
    /// What it stands on there, and whatever else touches the ground. The other foot is often where it was: while a
    /// neck bends, or when a leg comes back to an earlier place.
    std::vector<Eigen::Vector2d> findSupport(int ground) {
        std::vector<double> low; // sections that come down to the ground, and where they are
        for (std::size_t s = 0; s < m_placed.X_WS.size(); ++s) {
            const geometry::Frame& X = m_placed.X_WS[s];
            if (static_cast<int>(s) == ground ||
                model::getSectionBody(m_placed.project->sections[s])->calcLowBound(X) > model::kGroundContactMm)
                continue;
            low.push_back(static_cast<double>(s));
            low.insert(low.end(), X.matrix().data(), X.matrix().data() + X.matrix().size());
        }
        const bool fromBoards = !m_placed.project->boards.empty(); // they lie elsewhere than their sections' bodies
        if (const auto known = m_supports.find(low); known != m_supports.end() && !fromBoards) return known->second;
        auto touching = m_flatSupport;
        for (const geometry::Vec3& p : pose::listGroundCornersBut(m_placed, model::kGroundContactMm, ground))
            if (p.z() <= model::kGroundContactMm) touching.push_back(p.head<2>());
        auto support = geometry::calcHull2(std::move(touching));
        m_supports[std::move(low)] = support;
        return support;
    }

    [[nodiscard]] std::optional<pose::StandSet> makeSet(const model::MassPoint& mass,
                                                        const std::vector<Eigen::Vector2d>& support, int ground) const {
        const Eigen::Vector2d foot = mass.centre.head<2>();
        const auto edges = stand::listEdges(support);
        if (!(mass.massG > 0) || edges.empty() ||
            std::any_of(edges.begin(), edges.end(), [&](const auto& edge) { return !(edge.inside(foot) > 0); }))
            return std::nullopt;
        pose::StandSet set;
        set.axes = at(m_placed.X_WS, ground).linear().transpose();
        for (const auto& corner : support) set.polygon.push_back((corner - foot) / std::max(mass.centre.z(), 1e-6));
        return set;
    }

    /// Where the section stands by the stance itself, but for its heading and place; of its corners those that a
    /// support can have.
    void keepFlat() {
        const auto s = static_cast<std::size_t>(m_flat);
        model::Placed flat = m_placed;
        pose::applyStance(flat, m_stance);
        m_X_WG.translation().z() = flat.X_WS[s].translation().z();
        flat.X_WS[s] = m_X_WG;
        std::vector<Eigen::Vector2d> touching;
        for (const geometry::Vec3& p : pose::listGroundCornersOf(flat, kGroundMm, m_flat))
            if (p.z() <= model::kGroundContactMm) touching.push_back(p.head<2>());
        m_flatSupport = geometry::calcHull2(std::move(touching));
    }

    const model::Stance& m_stance;
    pose::Kinematics m_kinematics;
    model::Placed m_placed;
    int m_flat = -1; ///< the section it stands flat on, where that is all that matters
    geometry::Frame m_X_WG = geometry::Frame::Identity();
    std::vector<Eigen::Vector2d> m_flatSupport; ///< of that section alone; empty: not found yet
    std::map<std::vector<double>, std::vector<Eigen::Vector2d>> m_supports; ///< by what else comes down to the ground
};

} // namespace

pose::WorstLoad findWorst(const Facts& facts, const pose::RangeContext& context, int joint,
                          const model::JointStrength& strength) {
    std::optional<pose::WorstLoad> worst;
    std::vector<std::pair<model::Stance::Kind, model::SectionId>>
        seen; // poses that stand alike ask alike, but for joints without wanted ranges
    for (const PoseFacts& pose : facts.poses) {
        const std::pair key(pose.stance.kind, pose.stance.section);
        if (pose.stance.kind != model::Stance::Kind::Settle && std::find(seen.begin(), seen.end(), key) != seen.end())
            continue;
        seen.push_back(key);
        auto load = pose::calcWorstLoad(context, pose.values, pose.stance, joint, facts.project->tiltDeg, strength);
        if (!worst || load.needNmm > worst->needNmm) worst = std::move(load);
    }
    if (worst->margin && *worst->margin < 1 && !stillStands(facts, *worst)) {
        std::vector<pose::JointValues> starts;
        for (const PoseFacts& pose : facts.poses)
            if (pose.stance == worst->stance) starts.push_back(pose.values);
        starts.push_back(worst->values);
        StandSets sets(facts, worst->stance);
        const auto stands = [&](const pose::JointValues& values, int ground) { return sets.calc(values, ground); };
        return pose::calcWorstStanding(context, starts, worst->stance, joint,
                                       std::clamp(facts.project->tiltDeg, 0.0, kMostTiltDeg), strength, stands);
    }
    return *worst;
}

} // namespace ivrant::study
