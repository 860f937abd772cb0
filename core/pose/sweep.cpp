// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/pose/sweep.h"

#include <algorithm>
#include <cmath>
#include <queue>

#include "core/base/at.h"
#include "core/base/units.h"

namespace ivrant::pose {
namespace {

using geometry::Frame;
using geometry::Gap;
using geometry::PlacedSolid;
using geometry::Vec3;

constexpr double kTouchMm = 1e-5;   ///< gaps below this count as touching
constexpr double kShallowMm = 1e-3; ///< a contact that deepens by less is sliding
constexpr double kLeastStep = 1e-7; ///< rad or mm; keeps the advance going where the bound is flat
constexpr double kTwoPi = 2 * base::kPi;
constexpr int kMostSteps = 20'000; ///< per pair of solids; a pair that needs more is reported as stopping

/// Where a part or solid is in cylinder or shell coordinates about the joint, for leaving out pairs that never meet.
struct Extent {
    double rLow = 0, rHigh = 0;   ///< distance from the axis (Ball: from the centre), mm
    double zLow = 0, zHigh = 0;   ///< along the axis, mm (Ball: unbounded)
    double angle = 0;             ///< middle of the angular interval, rad
    double halfAngle = base::kPi; ///< π: all round
    Eigen::Vector2d middle{0, 0}; ///< across the axis, mm
    double radius = 0;            ///< about `middle`, mm
};

struct Item {
    model::PartSpot spot;
    const BodyPart* body = nullptr;
    Extent extent;
    mutable std::vector<Extent> solidExtents; ///< empty until they are asked for
};

Extent roundExtent(const Vec3& centre, double radius, SweepKind kind) {
    Extent e;
    if (kind == SweepKind::Ball) {
        e.rLow = std::max(0.0, centre.norm() - radius);
        e.rHigh = centre.norm() + radius;
        e.zLow = -1e30;
        e.zHigh = 1e30;
        return e;
    }
    const double d = centre.head<2>().norm();
    e.middle = centre.head<2>();
    e.radius = radius;
    e.rLow = std::max(0.0, d - radius);
    e.rHigh = d + radius;
    e.zLow = centre.z() - radius;
    e.zHigh = centre.z() + radius;
    e.angle = std::atan2(centre.y(), centre.x());
    e.halfAngle = d > radius ? std::asin(radius / d) : base::kPi;
    return e;
}

/// Extent of a placed solid (frame J), tight along the axis.
Extent solidExtent(const PlacedSolid& solid, SweepKind kind) {
    if (kind == SweepKind::Ball) return roundExtent(solid.centre, solid.solid->reach, kind);
    const auto support = [&](const Vec3& d) -> Vec3 {
        return solid.centre + solid.R * geometry::findSupport(*solid.solid, solid.R.transpose() * d);
    };
    const double zHigh = support(Vec3::UnitZ()).z(), zLow = support(-Vec3::UnitZ()).z();
    const double half = 0.5 * (zHigh - zLow);
    // Bounding circle of the projection: the projection of the bounding sphere, or a tighter one from the box of
    // supports.
    const double w = 0.5 * (support(Vec3::UnitX()).x() - support(-Vec3::UnitX()).x());
    const double h = 0.5 * (support(Vec3::UnitY()).y() - support(-Vec3::UnitY()).y());
    Extent e = roundExtent(solid.centre, std::min(solid.solid->reach, std::hypot(w, h)), kind);
    e.zLow = solid.centre.z() - half;
    e.zHigh = solid.centre.z() + half;
    return e;
}

PlacedSolid placeSolid(const Frame& X, const PlacedSolid& inSection) {
    return {inSection.solid, inSection.eroded, X.linear() * inSection.R, X * inSection.centre};
}

/// One pair in the queue: two parts, or two solids once the parts have been opened.
struct Pair {
    double clear = 0;                      ///< |q| up to which the pair is known not to touch (or not to be too deep)
    int moving = 0, fixed = 0;             ///< indices of items
    int movingSolid = -1, fixedSolid = -1; ///< indices in BodyPart::solids; −1: not opened yet
    double shallow = 0;      ///< largest |q| looked at where the two did not touch, or no deeper than at rest
    double restingDepth = 0; ///< mm in each other at q = 0, below the tolerance
};
struct LaterFirst {
    bool operator()(const Pair& l, const Pair& r) const {
        if (l.clear != r.clear) return l.clear > r.clear;
        return std::tie(l.moving, l.fixed, l.movingSolid, l.fixedSolid) >
               std::tie(r.moving, r.fixed, r.movingSolid, r.fixedSolid);
    }
};

class Sweep {
public:
    Sweep(const SweepRequest& request, const base::Progress* progress)
        : m_request(request), m_progress(progress), m_sign(std::signbit(request.span) ? -1.0 : 1.0),
          m_span(std::abs(request.span)) {
        std::vector<bool> moves(request.placed->X_WS.size(), false);
        for (int s : request.moving) ivrant::at(moves, s) = true;
        std::vector<bool> counts(moves.size(), request.fixed.empty());
        for (int s : request.fixed) ivrant::at(counts, s) = true;
        const Frame X_JW = request.motion.X_WJ.inverse();
        for (std::size_t s = 0; s < moves.size(); ++s) {
            m_X_JS.push_back(X_JW * request.placed->X_WS[s]);
            if (!moves[s] && !counts[s]) continue;
            auto& list = moves[s] ? m_moving : m_fixed;
            for (const auto& part : request.bodies->sections[s]->parts)
                list.push_back({{static_cast<int>(s), part.part},
                                &part,
                                roundExtent(m_X_JS[s] * part.centre, part.radius, request.motion.kind),
                                {}});
        }
    }

    std::optional<SweepContact> run() {
        openAll();
        while (!m_queue.empty()) {
            const Pair pair = m_queue.top();
            if (pair.clear > m_span || (m_progress && m_progress->stopped())) break;
            m_queue.pop();
            if (pair.movingSolid < 0) {
                openPair(pair);
                continue;
            }
            if (auto contact = advance(pair)) return contact;
        }
        return std::nullopt;
    }

    std::vector<bool> blocked(const std::vector<double>& at) {
        std::vector<bool> found(at.size(), false);
        std::vector<std::vector<Ready>> moving(m_moving.size()), fixed(m_fixed.size());
        for (std::size_t i = 0; i < m_moving.size(); ++i)
            for (std::size_t k = 0; k < m_fixed.size(); ++k) {
                const Item &m = m_moving[i], &f = m_fixed[k];
                const double first = firstMeeting(m.extent, f.extent);
                if (first < 0 || isAllBlocked(at, found, first, lastMeeting(m.extent, f.extent, first))) continue;
                if (moving[i].empty()) moving[i] = makeReady(m);
                if (fixed[k].empty()) fixed[k] = makeReady(f);
                for (const Ready& a : moving[i])
                    for (const Ready& b : fixed[k]) blockSolids(a, b, first, at, found);
            }
        return found;
    }

private:
    /// A solid where it is at q = 0, looked at more closely.
    struct Ready {
        SolidRef ref;
        PlacedSolid placed;
        Extent extent;
    };
    [[nodiscard]] std::vector<Ready> makeReady(const Item& item) const {
        std::vector<Ready> list;
        for (std::size_t k = 0; k < item.body->solids.size(); ++k) {
            const PlacedSolid placed = solidAtStart(item, static_cast<int>(k));
            list.push_back({refOf(item, static_cast<int>(k)), placed, solidExtent(placed, m_request.motion.kind)});
        }
        return list;
    }
    /// Largest q at which two extents that first can meet at `first` still can, before they come round again.
    [[nodiscard]] double lastMeeting(const Extent& a, const Extent& b, double first) const {
        if (m_request.motion.kind == SweepKind::Slide)
            return (m_sign > 0 ? b.zHigh - a.zLow : a.zHigh - b.zLow) + kTouchMm;
        if (m_request.motion.kind == SweepKind::Ball || a.halfAngle + b.halfAngle >= base::kPi) return m_span;
        const double widths = 2 * (a.halfAngle + b.halfAngle);
        if (first > 0) return first + widths > kTwoPi ? m_span : first + widths;
        double ahead =
            std::fmod(m_sign * (b.angle - a.angle), kTwoPi); // near each other at the start: ahead or just passed
        if (ahead < 0) ahead += kTwoPi;
        if (ahead > base::kPi) ahead -= kTwoPi;
        const double last = ahead + 0.5 * widths;
        return last + kTwoPi - widths < m_span ? m_span : last; // they meet again within the span
    }
    [[nodiscard]] static bool isAllBlocked(const std::vector<double>& at, const std::vector<bool>& found, double first,
                                           double last) {
        for (auto i = static_cast<std::size_t>(std::lower_bound(at.begin(), at.end(), first) - at.begin());
             i < at.size() && at[i] <= last; ++i)
            if (!found[i]) return false;
        return true;
    }

    void blockSolids(const Ready& m, const Ready& f, double clear, const std::vector<double>& at,
                     std::vector<bool>& found) const {
        const double first = firstMeeting(m.extent, f.extent);
        if (first < 0) return;
        const double last = lastMeeting(m.extent, f.extent, first);
        bool looked = false;
        const PlacedSolid &start = m.placed, &fixed = f.placed;
        for (auto i =
                 static_cast<std::size_t>(std::lower_bound(at.begin(), at.end(), std::max(first, clear)) - at.begin());
             i < at.size() && at[i] <= last;) {
            if (found[i]) {
                ++i;
                continue;
            }
            if (!looked && isApart(m.ref, f.ref)) return;
            looked = true;
            const PlacedSolid moved = movedTo(start, at[i]);
            Gap gap = geometry::calcGap(moved, fixed);
            if (gap.distance <= kTouchMm) gap = geometry::calcToleratedGap(moved, fixed);
            if (gap.distance <= kTouchMm) {
                found[i++] = true;
                continue;
            }
            const double free = at[i] + safeStep(moved, gap.distance, gap.normal);
            do ++i;
            while (i < at.size() && at[i] < free);
        }
    }

    /// Least q at which two extents can meet; negative when they never do within the span.
    [[nodiscard]] double firstMeeting(const Extent& a, const Extent& b) const {
        if (m_request.motion.kind != SweepKind::Slide && (a.rLow > b.rHigh || b.rLow > a.rHigh)) return -1;
        if (m_request.motion.kind == SweepKind::Slide) {
            const double reach = a.radius + b.radius;
            if ((a.middle - b.middle).squaredNorm() > reach * reach) return -1;
            const double away = m_sign > 0 ? b.zLow - a.zHigh : a.zLow - b.zHigh;
            return away > m_span ? -1 : std::max(0.0, away);
        }
        if (a.zLow > b.zHigh || b.zLow > a.zHigh) return -1;
        if (m_request.motion.kind == SweepKind::Ball) return 0;
        const double widths = a.halfAngle + b.halfAngle;
        if (widths >= base::kPi) return 0;
        double ahead = std::fmod(m_sign * (b.angle - a.angle), kTwoPi);
        if (ahead < 0) ahead += kTwoPi;
        if (ahead <= widths || ahead >= kTwoPi - widths) return 0;
        return ahead - widths > m_span ? -1 : ahead - widths;
    }

    void openAll() {
        std::vector<Pair> pairs;
        for (std::size_t m = 0; m < m_moving.size(); ++m)
            for (std::size_t f = 0; f < m_fixed.size(); ++f) {
                if (!isLookedAt(m_moving[m].spot) && !isLookedAt(m_fixed[f].spot)) continue;
                const double first = firstMeeting(m_moving[m].extent, m_fixed[f].extent);
                if (first >= 0) pairs.push_back({first, static_cast<int>(m), static_cast<int>(f)});
            }
        m_queue = std::priority_queue<Pair, std::vector<Pair>, LaterFirst>(LaterFirst{}, std::move(pairs));
    }

    [[nodiscard]] bool isLookedAt(model::PartSpot spot) const {
        return !m_request.only || ivrant::at(ivrant::at(*m_request.only, spot.section), spot.part);
    }
    [[nodiscard]] PlacedSolid solidAtStart(const Item& item, int solid) const {
        return placeSolid(ivrant::at(m_X_JS, item.spot.section), ivrant::at(item.body->solids, solid).inSection);
    }
    [[nodiscard]] bool isApart(const SolidRef& a, const SolidRef& b) const {
        return m_request.bodies->isExempt(a, b) ||
               (!m_request.apart.empty() && m_request.apart.count(a < b ? std::pair(a, b) : std::pair(b, a)) > 0);
    }
    [[nodiscard]] SolidRef refOf(const Item& item, int solid) const {
        return {item.spot, ivrant::at(item.body->solids, solid).solid};
    }

    /// Of its solids at the start, worked out when first asked for.
    const std::vector<Extent>& extentsOf(const Item& item) {
        if (item.solidExtents.empty())
            for (std::size_t k = 0; k < item.body->solids.size(); ++k)
                item.solidExtents.push_back(
                    solidExtent(solidAtStart(item, static_cast<int>(k)), m_request.motion.kind));
        return item.solidExtents;
    }

    void openPair(const Pair& pair) {
        const Item& m = ivrant::at(m_moving, pair.moving);
        const Item& f = ivrant::at(m_fixed, pair.fixed);
        const auto &movingExtents = extentsOf(m), &fixedExtents = extentsOf(f);
        for (std::size_t k = 0; k < m.body->solids.size(); ++k) {
            for (std::size_t l = 0; l < f.body->solids.size(); ++l) {
                const double first = firstMeeting(movingExtents[k], fixedExtents[l]);
                if (first < 0 || isApart(refOf(m, static_cast<int>(k)), refOf(f, static_cast<int>(l)))) continue;
                m_queue.push(
                    {std::max(first, pair.clear), pair.moving, pair.fixed, static_cast<int>(k), static_cast<int>(l)});
            }
        }
    }

    /// Longest step from q that keeps a gap `s` (mm) with separating normal n from closing.
    [[nodiscard]] double safeStep(const PlacedSolid& moving, double s, const Vec3& n) const {
        if (s <= 0) return 0;
        const double reach = moving.centre.norm() + moving.solid->reach;
        switch (m_request.motion.kind) {
        case SweepKind::Slide: return m_sign * n.z() > 1e-12 ? s / (m_sign * n.z()) : 1e30;
        case SweepKind::Ball: return s / std::max(reach, 1e-9);
        case SweepKind::Turn: break;
        }
        const Vec3 w = m_sign * n.cross(Vec3::UnitZ());
        const double flat = w.norm();
        if (flat < 1e-12) return 1e30;
        const double v =
            w.dot(moving.centre) + w.dot(moving.R * geometry::findSupport(*moving.solid, moving.R.transpose() * w));
        const double a = flat * (moving.centre.head<2>().norm() + moving.solid->reach);
        const double bottom = v + std::sqrt(v * v + 2 * a * s);
        return bottom > 1e-12 ? 2 * s / bottom : 1e30;
    }

    [[nodiscard]] PlacedSolid movedTo(const PlacedSolid& start, double q) const {
        return placeSolid(m_request.motion.at(m_sign * q), start);
    }

    /// Where between `shallow` and `deep` the contact begins to go deeper than it was.
    [[nodiscard]] double findOnset(const PlacedSolid& start, const PlacedSolid& fixed, double shallow, double deep,
                                   double depth) const {
        while (deep - shallow > kLeastStep) {
            const double middle = 0.5 * (shallow + deep);
            const double there =
                geometry::kContactToleranceMm - geometry::calcToleratedGap(movedTo(start, middle), fixed).distance;
            (there <= depth + kShallowMm ? shallow : deep) = middle;
        }
        return shallow;
    }

    /// Advances one pair of solids until it is clear beyond the next in the queue, or stops the motion.
    std::optional<SweepContact> advance(Pair pair) {
        const Item& m = ivrant::at(m_moving, pair.moving);
        const Item& f = ivrant::at(m_fixed, pair.fixed);
        const PlacedSolid start = solidAtStart(m, pair.movingSolid);
        const PlacedSolid fixed = solidAtStart(f, pair.fixedSolid);
        double q = pair.clear;
        for (int step = 0; step < kMostSteps; ++step) {
            pair.clear = q;
            if (q > m_span || (!m_queue.empty() && LaterFirst{}(pair, m_queue.top()))) {
                m_queue.push(pair); // somebody else may stop earlier: look again later
                return std::nullopt;
            }
            const PlacedSolid moved = movedTo(start, q);
            const Gap gap = geometry::calcGap(moved, fixed);
            if (gap.distance > kTouchMm) {
                pair.shallow = q;
                q += std::max(safeStep(moved, gap.distance, gap.normal), kLeastStep);
                continue;
            }
            const Gap tolerated = geometry::calcToleratedGap(moved, fixed);
            const double depth = geometry::kContactToleranceMm - tolerated.distance;
            if (q <= 0) pair.restingDepth = std::max(depth, 0.0);
            if (tolerated.distance <= kTouchMm) {
                const double stop = q <= 0 ? 0.0 : findOnset(start, fixed, pair.shallow, q, pair.restingDepth);
                return SweepContact{m_sign * stop, refOf(m, pair.movingSolid), refOf(f, pair.fixedSolid), q <= 0, q};
            }
            if (depth <= pair.restingDepth + kShallowMm) pair.shallow = q;
            q += std::max(safeStep(moved, tolerated.distance, tolerated.normal), kLeastStep);
        }
        return SweepContact{m_sign * pair.shallow, refOf(m, pair.movingSolid), refOf(f, pair.fixedSolid), false, q};
    }

    const SweepRequest& m_request;
    const base::Progress* m_progress;
    double m_sign, m_span;
    std::vector<Frame> m_X_JS;
    std::vector<Item> m_moving, m_fixed;
    std::priority_queue<Pair, std::vector<Pair>, LaterFirst> m_queue;
};

} // namespace

Frame SweepMotion::at(double q) const {
    switch (kind) {
    case SweepKind::Turn:
        return geometry::makeFrame(Eigen::AngleAxisd(q, Vec3::UnitZ()).toRotationMatrix(), Vec3::Zero());
    case SweepKind::Slide: return geometry::makeFrame(geometry::Mat3::Identity(), Vec3(0, 0, q));
    case SweepKind::Ball: {
        Eigen::Vector2d moved = tilt;
        moved[component] += q;
        const auto rotation = [](const Eigen::Vector2d& s) { return geometry::expMap(Vec3(s.x(), s.y(), 0)); };
        return geometry::makeFrame(rotation(moved) * rotation(tilt).transpose(), Vec3::Zero());
    }
    }
    throw std::logic_error("unknown sweep");
}

std::vector<bool> calcBlocked(const SweepRequest& request, const std::vector<double>& at) {
    SweepRequest whole = request;
    whole.span = at.empty() ? 0 : at.back();
    return Sweep(whole, nullptr).blocked(at);
}

std::optional<SweepContact> calcFirstContact(const SweepRequest& request, const base::Progress* progress) {
    return Sweep(request, progress).run();
}

} // namespace ivrant::pose
