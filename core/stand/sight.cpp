// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/stand/sight.h"

#include <algorithm>
#include <atomic>
#include <cmath>
#include <random>
#include <set>
#include <tbb/parallel_for.h>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/model/board_parts.h"
#include "core/stand/ray_grid.h"

namespace ivrant::stand {
namespace {

using geometry::Frame;
using geometry::Vec3;

constexpr double kPatchMm = 2, kCoveredMm = 0.3, kOffMm = 0.35;
constexpr std::size_t kLeastFreeRays = 32, kMostFreeRays = 1024; ///< from each place
constexpr int kHemisphereRays = 40,
              kLooks = 12; ///< about a place that is seen; such places of a part that are looked about from

/// Directions spread evenly over the sphere, turned at random.
Vec3 anyWay(std::mt19937_64& random) {
    std::uniform_real_distribution<double> unit(-1, 1), turn(0, 2 * base::kPi);
    const double z = unit(random), phi = turn(random), r = std::sqrt(std::max(0.0, 1 - z * z));
    return {r * std::cos(phi), r * std::sin(phi), z};
}

class Eyes {
public:
    explicit Eyes(const model::Placed& placed) : m_placed(placed) {
        for (std::size_t s = 0; s < placed.X_WS.size(); ++s)
            for (std::size_t p = 0; p < placed.project->sections[s]->parts.size(); ++p) {
                const model::PartSpot spot{static_cast<int>(s), static_cast<int>(p)};
                const int owner = static_cast<int>(m_spots.size());
                m_spots.push_back(spot);
                for (const auto& solid : getPart(*placed.project, spot).shape->drawn)
                    m_grid.add(solid, placed.X_WP(spot), owner);
            }
        if (!placed.project->boards.empty()) { // what stands on gear boards hides things too
            const auto poses = model::calcBoardFrames(placed);
            for (std::size_t b = 0; b < poses.size(); ++b)
                for (const auto& part : model::listBoardParts(*placed.project->boards[b]).parts) {
                    m_boardShapes.push_back(part.shape);
                    for (const auto& solid : m_boardShapes.back()->drawn)
                        m_grid.add(solid, poses[b] * part.X_BP, kNobody);
                }
        }
        m_grid.finish();
    }

    base::Result<Sight> run(const std::vector<std::vector<Look>>& before, base::Progress* progress) {
        Sight sight;
        for (const auto& section : m_placed.project->sections)
            sight.look.emplace_back(section->parts.size(), Look::Openly);
        std::vector<Peek> peeks(m_spots.size());
        std::vector<Look> looks(m_spots.size(), Look::Openly); // in this pose alone
        std::atomic<std::size_t> rays{0}, done{0};
        tbb::parallel_for(std::size_t{0}, m_spots.size(), [&](std::size_t i) {
            if (progress && progress->stopped()) return;
            const model::PartSpot spot = m_spots[i];
            Look& look = ivrant::at(ivrant::at(sight.look, spot.section), spot.part);
            const Look known = before.empty() ? Look::Never : ivrant::at(ivrant::at(before, spot.section), spot.part);
            if (known == Look::Openly) return;
            rays += Gaze(*this, static_cast<int>(i)).run(look, peeks[i]);
            looks[i] = look;
            look = std::max(look, known);
            if (const std::size_t count = ++done; progress && count % 64 == 0)
                progress->report(static_cast<double>(count) / static_cast<double>(m_spots.size()));
        });
        if (progress && progress->stopped()) return base::Error{"stopped", "stopped", ""};
        for (std::size_t i = 0; i < m_spots.size(); ++i)
            if (looks[i] == Look::Glimpse) sight.peeks.push_back(std::move(peeks[i]));
        sight.rays = rays;
        return sight;
    }

private:
    static constexpr int kNobody = -1;

    /// All looks at one part.
    class Gaze {
    public:
        Gaze(const Eyes& eyes, int owner)
            : m_eyes(eyes), m_owner(owner),
              m_shape(*getPart(*eyes.m_placed.project, ivrant::at(eyes.m_spots, owner)).shape),
              m_X_WP(eyes.m_placed.X_WP(ivrant::at(eyes.m_spots, owner))),
              m_random(static_cast<std::uint64_t>(owner) + 1) {}

        std::size_t run(Look& look, Peek& peek) {
            if (m_shape.drawn.empty()) return 0;
            look = Look::Never;
            peek.part = ivrant::at(m_eyes.m_spots, m_owner);
            lookStraight();
            lookAslant();
            if (m_seen) look = m_openly ? Look::Openly : Look::Glimpse;
            for (const int owner : m_around) peek.around.push_back(ivrant::at(m_eyes.m_spots, owner));
            return m_rays;
        }

    private:
        struct Spot {     ///< a place on the part with nothing close above it
            Vec3 at, out; ///< a little off the part
        };
        [[nodiscard]] double between(double low, double high) {
            return std::uniform_real_distribution<double>(low, high)(m_random);
        }
        /// From each face of its box, patch by patch, straight out; what is not covered is kept.
        void lookStraight() {
            const auto& box = m_shape.bounds;
            for (int axis = 0; axis < 3; ++axis) {
                const int a = (axis + 1) % 3, b = (axis + 2) % 3;
                const auto patches = [&](int k) {
                    return std::max(1, static_cast<int>(std::lround((box.high[k] - box.low[k]) / kPatchMm)));
                };
                for (int i = 0; i < patches(a); ++i)
                    for (int k = 0; k < patches(b); ++k)
                        for (const double sign : {1.0, -1.0}) {
                            if (m_openly) return;
                            Vec3 at = box.centre();
                            at[a] = box.low[a] + (i + between(0.1, 0.9)) * (box.high[a] - box.low[a]) / patches(a);
                            at[b] = box.low[b] + (k + between(0.1, 0.9)) * (box.high[b] - box.low[b]) / patches(b);
                            const Vec3 out = sign * (m_X_WP.linear() * Vec3::Unit(axis));
                            const auto surface = findSurface(m_X_WP * at, out);
                            if (!surface) continue;
                            ++m_rays;
                            if (m_eyes.m_grid.findBlocker(*surface, out, m_owner, kCoveredMm)) continue;
                            const Spot spot{*surface + kOffMm * out, out};
                            if (!isFree(spot, out)) m_open.push_back(spot);
                        }
            }
        }
        /// From the places that are not covered, all around.
        void lookAslant() {
            if (m_openly || m_open.empty()) return;
            const auto each = std::clamp<std::size_t>(kFreeRays / m_open.size(), kLeastFreeRays, kMostFreeRays);
            for (std::size_t k = 0; k < each; ++k)
                for (const Spot& spot : m_open) {
                    if (m_openly) return;
                    isFree(spot, aboutNormal(spot.out));
                }
        }
        /// Directions of the half sphere, by the cosine: as a face shows itself.
        Vec3 aboutNormal(const Vec3& normal) { return (normal + 0.999 * anyWay(m_random)).normalized(); }
        /// Where a line through `through` leaves the part on the side of `out`.
        [[nodiscard]] std::optional<Vec3> findSurface(const Vec3& through, const Vec3& out) const {
            const double far = m_eyes.m_grid.reach();
            double best = -1e30;
            for (const auto& solid : m_shape.drawn) {
                const double hit = geometry::calcRayHit(solid, m_X_WP.inverse() * (through + far * out),
                                                        m_X_WP.linear().transpose() * -out);
                if (hit >= 0) best = std::max(best, far - hit);
            }
            return best < -1e29 ? std::nullopt : std::optional<Vec3>(through + best * out);
        }
        /// Does a bundle of lines from there lead out past everything, the part itself too? Then it is seen.
        bool isFree(const Spot& spot, const Vec3& way) {
            const Vec3 side = way.unitOrthogonal(), other = way.cross(side);
            for (const Vec3& off : {Vec3(Vec3::Zero()), side, Vec3(-side), other, Vec3(-other)}) {
                ++m_rays;
                if (m_eyes.m_grid.findBlocker(spot.at + kBundleMm / 2 * off, way, kNobody - 1)) return false;
            }
            m_seen = true;
            if (m_looks++ < kLooks) lookAbout(spot.at, spot.out);
            return true;
        }
        /// How much of the half sphere is free?
        void lookAbout(const Vec3& from, const Vec3& out) {
            int free = 0;
            for (int k = 0; k < kHemisphereRays; ++k) {
                Vec3 way = anyWay(m_random);
                if (way.dot(out) < 0) way = -way;
                ++m_rays;
                const auto blocker = m_eyes.m_grid.findBlocker(from, way, kNobody - 1);
                if (!blocker)
                    ++free;
                else if (*blocker >= 0 && *blocker != m_owner)
                    m_around.insert(*blocker);
            }
            m_openly = m_openly || free >= kOpenShare * kHemisphereRays;
        }

        const Eyes& m_eyes;
        int m_owner;
        const parts::Shape& m_shape;
        Frame m_X_WP;
        std::mt19937_64 m_random;
        std::size_t m_rays = 0;
        std::vector<Spot> m_open;
        int m_looks = 0;
        bool m_seen = false, m_openly = false;
        std::set<int> m_around;
    };

    const model::Placed& m_placed;
    std::vector<model::PartSpot> m_spots;
    std::vector<parts::ShapePtr> m_boardShapes;
    RayGrid m_grid;
};

} // namespace

base::Result<Sight> calcSight(const model::Placed& placed, const std::vector<std::vector<Look>>& before,
                              base::Progress* progress) {
    return Eyes(placed).run(before, progress);
}

} // namespace ivrant::stand
