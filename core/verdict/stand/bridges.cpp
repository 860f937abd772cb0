// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/verdict/stand/bridges.h"

#include <algorithm>
#include <cmath>
#include <set>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/parts/body_box.h"
#include "core/parts/family.h"

namespace ivrant::verdict {
namespace {

using geometry::Bounds;
using geometry::Frame;
using geometry::Vec3;

constexpr int kReachCells = 4;
constexpr std::size_t kMostTried = 24, kMostOffered = 3;
constexpr double kSlack = 0.25; ///< parts are inset by 0.1 mm a side
constexpr double kBetter = 0.97;

/// Boxes of a section's parts, by which free places are told.
class Room {
public:
    explicit Room(const model::Section& section) {
        for (const model::Part& part : section.parts)
            m_boxes.push_back(parts::calcBodyBox(*part.shape, part.place.frame()));
    }
    [[nodiscard]] bool isFree(const Bounds& box) const {
        return std::none_of(m_boxes.begin(), m_boxes.end(),
                            [&](const Bounds& other) { return other.overlaps(box, -kSlack); });
    }
    /// How many parts it touches above or below with at least a cell.
    [[nodiscard]] int countNeighbours(const Bounds& box) const {
        int count = 0;
        for (const Bounds& other : m_boxes) {
            const bool level =
                std::abs(other.high.z() - box.low.z()) < kSlack || std::abs(box.high.z() - other.low.z()) < kSlack;
            const double x = std::min(other.high.x(), box.high.x()) - std::max(other.low.x(), box.low.x());
            const double y = std::min(other.high.y(), box.high.y()) - std::max(other.low.y(), box.low.y());
            if (level && x > base::kPitchMm / 2 && y > base::kPitchMm / 2) ++count;
        }
        return count;
    }

private:
    std::vector<Bounds> m_boxes;
};

struct Candidate {
    model::NewPart part;
    int neighbours = 0;
    double massG = 0;
};

class BridgeFinder {
public:
    BridgeFinder(const Report& report, const study::PoseFacts& pose, int section, const BridgeTrial& trial)
        : m_report(report), m_pose(pose), m_project(*report.project), m_section(section), m_trial(trial) {}

    void run(model::PartSpot low, model::PartSpot high, std::vector<Mend>& mends) {
        auto found = listCandidates(low, high);
        std::stable_sort(found.begin(), found.end(), [](const Candidate& l, const Candidate& r) {
            return std::pair(-l.neighbours, l.massG) < std::pair(-r.neighbours, r.massG);
        });
        if (found.size() > kMostTried) found.resize(kMostTried);
        std::vector<std::pair<double, Mend>> good;
        for (const Candidate& candidate : found) {
            const auto then = tryPart(candidate);
            if (then && *then < kBetter * m_trial.now) good.emplace_back(*then, makeMend(candidate, *then));
        }
        std::stable_sort(good.begin(), good.end(), [](const auto& l, const auto& r) { return l.first < r.first; });
        for (std::size_t i = 0; i < good.size() && i < kMostOffered; ++i) mends.push_back(std::move(good[i].second));
    }

private:
    [[nodiscard]] const model::Section& section() const { return *ivrant::at(m_project.sections, m_section); }

    [[nodiscard]] std::vector<Candidate> listCandidates(model::PartSpot a, model::PartSpot b) const {
        const Room room(section());
        const model::Part &low = getPart(m_project, a), &high = getPart(m_project, b);
        const Bounds lowBox = parts::calcBodyBox(*low.shape, low.place.frame()),
                     highBox = parts::calcBodyBox(*high.shape, high.place.frame());
        std::vector<parts::ShapePtr> shapes;
        for (const char* name : {"plate 1x2", "plate 1x3", "plate 1x4", "plate 2x2", "plate 2x3", "plate 2x4",
                                 "plate 2x6", "brick 1x1", "brick 1x2", "brick 2x2", "brick 2x3", "brick 2x4"})
            shapes.push_back(parts::makeShape(name).value());
        const Vec3 corner = high.place.frame().translation();
        std::vector<Candidate> found;
        std::set<std::array<std::int64_t, 4>> seen;
        for (const parts::ShapePtr& shape : shapes) {
            const double height = parts::calcBodyBox(*shape, Frame::Identity()).high.z();
            for (const double z :
                 {lowBox.low.z(), lowBox.high.z() - height, lowBox.high.z(), highBox.high.z(), lowBox.low.z() - height})
                for (const int turn : {0, 1})
                    for (int i = -kReachCells; i <= kReachCells; ++i)
                        for (int k = -kReachCells; k <= kReachCells; ++k) {
                            Candidate candidate;
                            candidate.part.shape = shape;
                            candidate.part.colour = high.colour;
                            candidate.part.step = std::max(low.step, high.step);
                            candidate.part.place.attitude = turn;
                            const Vec3 at = corner + Vec3(i * base::kPitchMm, k * base::kPitchMm, z - corner.z());
                            candidate.part.place.atUm = {base::mmToUm(at.x()), base::mmToUm(at.y()),
                                                         base::mmToUm(at.z())};
                            const Bounds box = parts::calcBodyBox(*shape, candidate.part.place.frame());
                            // The same box by another turn is the same part.
                            if (!seen.insert({std::llround(box.low.x() * 100), std::llround(box.low.y() * 100),
                                              std::llround(box.low.z() * 100),
                                              std::llround(box.high.x() * 1000 + box.high.y() * 10 + box.high.z())})
                                     .second)
                                continue;
                            if (ivrant::at(m_pose.placed.X_WS, m_section).translation().z() + box.low.z() < -kSlack ||
                                !room.isFree(box))
                                continue;
                            candidate.neighbours = room.countNeighbours(box);
                            candidate.massG = shape->massG;
                            if (candidate.neighbours >= 2) found.push_back(std::move(candidate));
                        }
        }
        return found;
    }

    [[nodiscard]] std::optional<double> tryPart(const Candidate& candidate) const {
        const auto changed = model::addParts(m_project, section().id, {&candidate.part, 1}, nullptr);
        if (!changed) return std::nullopt;
        model::Placed placed = m_pose.placed; // an added part moves nothing
        placed.project = &*changed;
        const auto bonds = bonds::calcBonds(*changed);
        if (!ivrant::at(bonds, m_section)->overlaps.empty() && ivrant::at(m_report.bonds, m_section)->overlaps.empty())
            return std::nullopt;
        return m_trial.measure(placed, bonds);
    }
    [[nodiscard]] Mend makeMend(const Candidate& candidate, double then) const {
        const auto& at = candidate.part.place.atUm;
        const auto cells = [](std::int64_t um) { return base::formatNumber(base::umToMm(um) / base::kPitchMm, 1); };
        return {"lay " + candidate.part.shape->name + " at " + cells(at[0]) + " " + cells(at[1]) + ", " +
                    base::formatNumber(base::umToMm(at[2]) / base::kPlateMm, 0) +
                    " plates up: " + m_trial.describe(m_trial.now) + " → " + m_trial.describe(then),
                [id = section().id, part = candidate.part](const model::Project& p) {
                    return model::addParts(p, id, {&part, 1}, nullptr);
                }};
    }

    const Report& m_report;
    const study::PoseFacts& m_pose;
    const model::Project& m_project;
    int m_section;
    const BridgeTrial& m_trial;
};

} // namespace

void addBridges(const Report& report, const study::PoseFacts& pose, model::PartSpot low, model::PartSpot high,
                const BridgeTrial& trial, std::vector<Mend>& mends) {
    if (low.section != high.section) return;
    BridgeFinder(report, pose, low.section, trial).run(low, high, mends);
}

} // namespace ivrant::verdict
