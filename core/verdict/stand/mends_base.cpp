// SPDX-License-Identifier: GPL-3.0-or-later
// A plate under what stands on one section, reaching out where it would fall. Part of check_stand.h.
#include <algorithm>
#include <cmath>
#include <set>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/base/words.h"
#include "core/parts/body_box.h"
#include "core/parts/family.h"
#include "core/pose/stance.h"
#include "core/study/case_words.h"
#include "core/verdict/stand/check_stand.h"

namespace ivrant::verdict {
namespace {

using geometry::Bounds;
using geometry::Vec3;

constexpr double kSlackMm = 0.3;
constexpr std::size_t kMostBases = 2;
constexpr std::array<std::array<int, 2>, 11> kPlates{
    {{4, 4}, {4, 6}, {4, 8}, {6, 6}, {4, 10}, {6, 8}, {8, 8}, {6, 10}, {6, 12}, {8, 16}, {16, 16}}};

class BaseFinder {
public:
    BaseFinder(const Report& report, const study::PoseFacts& pose, int section, double wishDeg)
        : m_report(report), m_pose(pose), m_section(section), m_wishDeg(wishDeg),
          m_body(*ivrant::at(report.project->sections, section)) {}

    void run(std::vector<Mend>& mends) {
        if (!findFoot()) return;
        std::size_t offered = 0;
        for (const auto& size : kPlates)
            for (const bool turned : {false, true}) {
                if (offered >= kMostBases || (turned && size[0] == size[1])) continue;
                if (auto mend = tryPlate(size, turned)) {
                    mends.push_back(std::move(*mend));
                    ++offered;
                }
            }
    }

private:
    /// Cells of the lowest parts; the grid is theirs.
    bool findFoot() {
        double low = 1e30;
        for (const model::Part& part : m_body.parts)
            if (const Bounds box = parts::calcBodyBox(*part.shape, part.place.frame()); !box.empty())
                low = std::min(low, box.low.z());
        for (const model::Part& part : m_body.parts) {
            const Bounds box = parts::calcBodyBox(*part.shape, part.place.frame());
            if (box.empty() || box.low.z() > low + kSlackMm) continue;
            m_foot.include(box.low);
            m_foot.include(box.high);
            m_step = std::max(1, m_step == 0 ? part.step : std::min(m_step, part.step));
        }
        m_lowUm = base::mmToUm(std::round(low / base::kPlateMm) * base::kPlateMm) - base::mmToUm(base::kPlateMm);
        return !m_foot.empty();
    }
    [[nodiscard]] int cells(int axis) const {
        return static_cast<int>(std::lround(m_foot.size()[axis] / base::kPitchMm));
    }

    /// As far towards the fall as it can be and still hold all of the foot.
    [[nodiscard]] std::optional<Mend> tryPlate(const std::array<int, 2>& size, bool turned) const {
        const int wide = turned ? size[1] : size[0], deep = turned ? size[0] : size[1];
        const int spareX = wide - cells(0), spareY = deep - cells(1);
        if (spareX < 0 || spareY < 0) return std::nullopt;
        const Vec3 fall = ivrant::at(m_pose.placed.X_WS, m_section).linear().transpose() *
                          Vec3(std::cos(base::degToRad(m_pose.tipping->towardDeg)),
                               std::sin(base::degToRad(m_pose.tipping->towardDeg)), 0);
        const auto shift = [](int spare, double way) {
            return way > 0.3 ? 0 : way < -0.3 ? spare : spare / 2;
        }; // cells before the foot
        const int beforeX = shift(spareX, fall.x()), beforeY = shift(spareY, fall.y());
        const auto shape = parts::makeShape("plate " + std::to_string(size[0]) + "x" + std::to_string(size[1]));
        if (!shape) return std::nullopt;
        model::NewPart part;
        part.shape = *shape;
        part.colour = m_body.parts.front().colour;
        part.step = m_step;
        part.place.attitude = turned ? 1 : 0;
        const Bounds own = parts::calcBodyBox(*part.shape, part.place.frame());
        const auto at = [&](int axis, int before) {
            return base::mmToUm(std::round((m_foot.low[axis] - own.low[axis]) * 1000) / 1000 - before * base::kPitchMm);
        };
        part.place.atUm = {at(0, beforeX), at(1, beforeY), m_lowUm};
        const auto apply = [id = m_body.id, part](const model::Project& p) {
            return model::addParts(p, id, {&part, 1}, nullptr);
        };
        const auto changed = apply(*m_report.project);
        if (!changed) return std::nullopt;
        const auto angle = tipWith(*changed);
        const auto bonds = bonds::calcBonds(*changed);
        const auto& before = *ivrant::at(m_report.bonds, m_section);
        const auto& after = *ivrant::at(bonds, m_section);
        if (!angle || *angle < m_wishDeg || after.overlaps.size() > before.overlaps.size() ||
            after.loose.size() > before.loose.size())
            return std::nullopt;
        const int beyond = std::max(std::abs(fall.x()) > 0.3 ? spareX : 0, std::abs(fall.y()) > 0.3 ? spareY : 0);
        return Mend{
            part.shape->name + " under it, " +
                (beyond > 0
                     ? base::countText(static_cast<std::size_t>(beyond), "cell", "cells") + " beyond its foot towards "
                     : std::string("as wide as its foot towards ")) +
                base::formatNumber(m_pose.tipping->towardDeg, 0) + "°: tips at " + base::formatNumber(*angle, 0) + "°",
            apply};
    }
    [[nodiscard]] std::optional<double> tipWith(const model::Project& project) const {
        const auto tree = model::makeTree(project);
        if (!tree) return std::nullopt;
        model::Placed placed = pose::calcPlaced(project, *tree, m_pose.values);
        pose::applyStance(placed, m_pose.stance);
        const auto tip = stand::calcTipping(placed, pose::listGroundCorners(placed, study::kGroundMm));
        return tip ? std::optional(tip->angleDeg) : std::nullopt;
    }

    const Report& m_report;
    const study::PoseFacts& m_pose;
    int m_section;
    double m_wishDeg;
    const model::Section& m_body;
    Bounds m_foot;
    int m_step = 0;
    std::int64_t m_lowUm = 0;
};

} // namespace

void addBasePlates(const Report& report, const Verdict& verdict, std::vector<Mend>& mends) {
    const auto pose = std::find_if(report.poses.begin(), report.poses.end(),
                                   [&](const study::PoseFacts& p) { return p.id == verdict.place.pose && p.tipping; });
    if (pose == report.poses.end() || pose->stance.kind != model::Stance::Kind::Flat) return;
    // Several sections on the ground, in this pose or another: a plate under one of them would lift the others.
    std::set<int> standing;
    for (const study::PoseFacts& p : report.poses) {
        if (p.stance.kind == model::Stance::Kind::Held) continue;
        for (std::size_t s = 0; s < p.placed.X_WS.size(); ++s)
            for (const auto& corner : pose::listCorners(p.placed, static_cast<int>(s)))
                if (corner.z() <= model::kGroundContactMm) standing.insert(static_cast<int>(s));
    }
    if (standing.size() == 1) BaseFinder(report, *pose, *standing.begin(), verdict.limit).run(mends);
}

} // namespace ivrant::verdict
