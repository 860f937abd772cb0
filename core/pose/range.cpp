// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/pose/range.h"

#include <algorithm>
#include <cmath>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/pose/kept_ranges.h"
#include "core/pose/rings.h"

namespace ivrant::pose {
namespace {

using base::degToRad;
using geometry::Frame;
using geometry::Vec3;
using parts::JointMotion;

constexpr double kFullTurnDeg = 360;
constexpr double kAtSeat = 1e-3;      ///< rad or mm: where it stands
constexpr double kSeatAheadRad = 0.5; ///< a stud meets what it will sit in at most so far before it sits
constexpr double kLeavesCos = 0.7;    ///< a port is left along its axis, give and take 45°

/// Sections that the joint carries, moved on by q.
void moveCarried(model::Placed& placed, const RangeContext& context, const SweepMotion& motion, int joint, double q) {
    const Frame move = motion.X_WJ * motion.at(q) * motion.X_WJ.inverse();
    for (const int s : context.tree.carriedBy(joint)) ivrant::at(placed.X_WS, s) = move * ivrant::at(placed.X_WS, s);
}

/// Pull-out of a seat's port, N: starting values.
double pullOutN(const parts::Port& a, const parts::Port& b, parts::BondKind kind) {
    const auto* joint = parts::findJointKindFor(a.kind, b.kind);
    if (kind == parts::BondKind::Stud || (a.kind == parts::PortKind::Stud) || (b.kind == parts::PortKind::Stud))
        joint = parts::findJointKind("one-stud swivel");
    return joint ? joint->pullOutN.value_or(0) : 0;
}

/// Moment about the axis that pulls all ports of a seat off at once.
double calcOpening(const model::Placed& placed, const std::vector<bonds::AcrossMate>& seat, const Frame& X_WJ) {
    double moment = 0;
    for (const auto& mate : seat) {
        const parts::Port &a = bonds::getPort(*placed.project, mate.a, mate.portA),
                          &b = bonds::getPort(*placed.project, mate.b, mate.portB);
        const Vec3 to = placed.X_WP(mate.a) * a.origin - X_WJ.translation();
        moment += pullOutN(a, b, mate.kind) *
                  std::abs(X_WJ.linear().col(2).cross(to).dot(placed.X_WP(mate.a).linear() * a.axis));
    }
    return moment;
}

/// What the moving side sits on, at any place of a sweep.
class SeatFinder {
public:
    SeatFinder(const RangeContext& context, const SweepRequest& request) : m_context(context), m_request(request) {
        const auto count = static_cast<int>(request.placed->X_WS.size());
        m_fixed = request.fixed;
        if (m_fixed.empty())
            for (int s = 0; s < count; ++s)
                if (std::find(request.moving.begin(), request.moving.end(), s) == request.moving.end())
                    m_fixed.push_back(s);
    }

    [[nodiscard]] model::Placed placedAt(double q) const {
        model::Placed placed{m_request.placed->project, m_request.placed->X_WS};
        const Frame move = m_request.motion.X_WJ * m_request.motion.at(q) * m_request.motion.X_WJ.inverse();
        for (const int s : m_request.moving) ivrant::at(placed.X_WS, s) = move * ivrant::at(placed.X_WS, s);
        return placed;
    }
    /// Mates of the two sides that are neither a joint's own nor its bearings.
    [[nodiscard]] std::vector<bonds::AcrossMate> at(double q) const {
        const auto placed = placedAt(q);
        auto mates = bonds::findMatesAcross(placed, m_context.bodies.portBounds, m_request.moving, m_fixed);
        std::erase_if(mates, [&](const bonds::AcrossMate& mate) {
            std::set<std::pair<SolidRef, SolidRef>> pairs;
            addPortSolids(*m_context.project, mate, pairs);
            return std::any_of(pairs.begin(), pairs.end(),
                               [&](const auto& pair) { return m_context.bodies.isExempt(pair.first, pair.second); });
        });
        return mates;
    }
    /// Solids of the mates at q that a motion the given way draws out of each other along their ports.
    [[nodiscard]] std::set<std::pair<SolidRef, SolidRef>> leaving(double q, double way) const {
        return leaving(at(q), q, way);
    }
    [[nodiscard]] std::set<std::pair<SolidRef, SolidRef>> leaving(const std::vector<bonds::AcrossMate>& mates, double q,
                                                                  double way) const {
        std::set<std::pair<SolidRef, SolidRef>> pairs;
        if (mates.empty()) return pairs;
        const auto placed = placedAt(q);
        for (const auto& mate : mates)
            if (leaves(placed, mate, way)) addPortSolids(*m_context.project, mate, pairs);
        return pairs;
    }
    /// Where the two solids that ran into each other sit on each other, the nearest such place ahead; turns only.
    [[nodiscard]] std::optional<double> findNear(const SweepContact& contact, double span) const {
        if (m_request.motion.kind != SweepKind::Turn || std::abs(contact.q) < kAtSeat) return std::nullopt;
        const double sign = span > 0 ? 1 : -1;
        const model::Project& project = *m_context.project;
        const Frame X_JW = m_request.motion.X_WJ.inverse();
        std::optional<double> best;
        for (const parts::Port& p : model::getPart(project, contact.moving.spot).shape->ports)
            for (const parts::Port& r : model::getPart(project, contact.fixed.spot).shape->ports) {
                if (parts::findBondKind(p, r) == parts::BondKind::None) continue;
                if (!has(p, contact.moving.solid) && !has(r, contact.fixed.solid)) continue;
                const Vec3 a = X_JW * (m_request.placed->X_WP(contact.moving.spot) * p.origin),
                           b = X_JW * (m_request.placed->X_WP(contact.fixed.spot) * r.origin);
                if (std::abs(a.z() - b.z()) > bonds::kMateDistanceMm ||
                    std::abs(a.head<2>().norm() - b.head<2>().norm()) > bonds::kMateDistanceMm)
                    continue;
                double q = std::atan2(b.y(), b.x()) - std::atan2(a.y(), a.x());
                while (sign * q < 0) q += sign * 2 * base::kPi;
                while (sign * q > 2 * base::kPi) q -= sign * 2 * base::kPi;
                if (sign * (q - contact.q) < -kAtSeat || sign * (q - contact.q) > kSeatAheadRad ||
                    sign * (q - span) > kAtSeat)
                    continue;
                if (best && sign * (q - *best) >= 0) continue;
                const auto placed = placedAt(q);
                if (bonds::isSeated(p, placed.X_WP(contact.moving.spot), r, placed.X_WP(contact.fixed.spot))) best = q;
            }
        return best;
    }

private:
    static bool has(const parts::Port& port, int solid) {
        return std::find(port.solids.begin(), port.solids.end(), solid) != port.solids.end();
    }

    [[nodiscard]] bool leaves(const model::Placed& placed, const bonds::AcrossMate& mate, double way) const {
        const bool movesA =
            std::find(m_request.moving.begin(), m_request.moving.end(), mate.a.section) != m_request.moving.end();
        const auto& spot = movesA ? mate.a : mate.b;
        const parts::Port& port = bonds::getPort(*m_context.project, spot, movesA ? mate.portA : mate.portB);
        const Frame X = placed.X_WP(spot);
        const Vec3 axis = m_request.motion.X_WJ.linear().col(2);
        Vec3 speed = way * axis;
        if (m_request.motion.kind != SweepKind::Slide)
            speed = way * axis.cross(X * port.origin - m_request.motion.X_WJ.translation());
        const double fast = speed.norm();
        if (fast < 1e-9) return false;
        // Its axis points out of it, into the other side: it leaves against its axis. Clips and forks let go across.
        const double along = -speed.dot(X.linear() * port.axis) / fast;
        const bool across = port.kind == parts::PortKind::Clip || port.kind == parts::PortKind::Bar;
        return across ? std::abs(along) < kLeavesCos : along > kLeavesCos;
    }

    const RangeContext& m_context;
    const SweepRequest& m_request;
    std::vector<int> m_fixed;
};

} // namespace

std::optional<model::Range> calcOwnRange(const parts::JointKind& kind, const std::vector<double>& values, int freedom) {
    if (kind.motion == JointMotion::TurnSlide && freedom == 1) return model::Range{-kind.slideMm, kind.slideMm};
    if (kind.motion == JointMotion::Ball) {
        if (freedom == 2) return std::nullopt;
        const double other = ivrant::at(values, 1 - freedom);
        const double room = std::sqrt(std::max(0.0, kind.coneDeg * kind.coneDeg - other * other));
        return model::Range{-room, room};
    }
    if (kind.motion == JointMotion::Universal) { // cos of the angle between the shafts = cos s1 · cos s2
        const double other = std::cos(degToRad(ivrant::at(values, 1 - freedom))),
                     least = std::cos(degToRad(kind.coneDeg));
        const double room = other > least ? base::radToDeg(std::acos(least / other)) : 0;
        return model::Range{-room, room};
    }
    if (!kind.turnLimitDeg) return std::nullopt;
    return model::Range{kind.turnLowDeg, *kind.turnLimitDeg};
}

SweepMotion makeSweepMotion(const RangeContext& context, const model::Placed& placed, const JointValues& values,
                            FreedomRef ref) {
    const auto j = static_cast<std::size_t>(ref.joint);
    const int freedom = ref.freedom;
    const auto& kind = *context.project->joints[j].kind;
    SweepMotion motion;
    motion.X_WJ = ivrant::at(placed.X_WS, context.tree.from[j].section) *
                  calcFromFrame(*context.project, context.tree, ref.joint);
    if (kind.motion == JointMotion::TurnSlide && freedom == 1) motion.kind = SweepKind::Slide;
    const auto aboutAxis = [&](const Vec3& axis) {
        motion.X_WJ = geometry::makeAxisFrame(motion.X_WJ.translation(), axis, axis.unitOrthogonal());
        return motion;
    };
    if (!kind.tilts()) return motion;
    if (kind.motion == JointMotion::Universal) { // the fork's axis stays, the other one turns with it
        const double s1 = degToRad(values[j][0]);
        return aboutAxis(motion.X_WJ.linear() * (freedom == 0 ? Vec3(1, 0, 0) : Vec3(0, std::cos(s1), std::sin(s1))));
    }
    const Eigen::Vector2d tilt(degToRad(values[j][0]), degToRad(values[j][1]));
    if (freedom == 2) { // twist: about the tilted axis
        motion.X_WJ.linear() = motion.X_WJ.linear() * geometry::expMap(Vec3(tilt.x(), tilt.y(), 0));
        return motion;
    }
    if (tilt[1 - freedom] == 0)
        return aboutAxis(motion.X_WJ.linear().col(freedom)); // a plain turn about one axis of the tilt
    motion.kind = SweepKind::Ball;
    motion.tilt = tilt;
    motion.component = freedom;
    return motion;
}

base::Status checkOutsideRings(const model::Project& project, const model::SectionTree& tree,
                               const std::vector<int>& joints, const std::string& code, const std::string& what) {
    for (const int j : joints)
        if (tree.isInRing(j))
            return base::Error{code,
                               "'" + ivrant::at(project.joints, j).name + "' lies in a ring: " + what +
                                   " is for joints that move on their own",
                               ""};
    return {};
}

double getSweepUnit(const parts::JointKind& kind, int freedom) {
    return kind.freedomUnit(freedom) == "deg" ? degToRad(1) : 1.0;
}

RangeContext makeRangeContext(const model::Project& project, const model::SectionTree& tree,
                              const std::vector<bonds::SectionBondsPtr>& bonds) {
    return {&project, tree, makeBodies(project, tree, bonds)};
}

double calcPartDistance(const model::Placed& placed, model::PartSpot a, model::PartSpot b) {
    double best = 1e30;
    const auto& sa = model::getPart(*placed.project, a).shape->solids;
    const auto& sb = model::getPart(*placed.project, b).shape->solids;
    const auto place = [](const parts::ShapeSolid& s, const Frame& X) {
        const Frame x = X * s.solid.X_PS;
        return geometry::PlacedSolid{&s.solid, &s.eroded, x.linear(), x.translation()};
    };
    const Frame Xa = placed.X_WP(a), Xb = placed.X_WP(b);
    for (const auto& p : sa)
        for (const auto& q : sb) best = std::min(best, geometry::calcDistance(place(p, Xa), place(q, Xb)));
    return best;
}

std::optional<double> calcRangeMargin(double v, const model::Range& free, const model::Range& wanted, double slack) {
    std::optional<double> margin;
    const auto offer = [&](double m) { margin = std::min(margin.value_or(m), m); };
    for (const double end : {wanted.low, wanted.high}) {
        const bool isFree = end >= free.low - slack && end <= free.high + slack;
        if (end == v || (end == wanted.low) != (end < v)) {
            if (!isFree) offer(0);
        } else {
            offer(end > v ? (free.high - v) / (end - v) : (v - free.low) / (v - end));
        }
    }
    if (margin) margin = std::max(*margin, 0.0);
    return margin;
}

namespace {

/// What stopped it before may stand: only what has changed since is looked at, up to there. None: that does not tell.
std::optional<SeatedSweep> sweepChanged(const SeatFinder& seats, const SweepRequest& request, const BodyChange& change,
                                        const RangeStop& before, const base::Progress* progress) {
    SeatedSweep result;
    result.plain = true;
    SweepRequest some = request;
    some.only = &change.isNew;
    if (before.met) {
        result.contact = change.follow(*before.met);
        if (!result.contact) return std::nullopt; // what stopped it is gone
        some.span = std::copysign(before.met->found, request.span);
    }
    const auto met = calcFirstContact(some, progress);
    if (!met || (result.contact && !isEarlier(*met, *result.contact))) return result;
    if (!met->atStart && seats.findNear(*met, request.span)) return std::nullopt;
    result.contact = met;
    return result;
}

} // namespace

SeatedSweep sweepToStop(const RangeContext& context, SweepRequest request, const base::Progress* progress,
                        const BodyChange* change, const RangeStop* before) {
    const SeatFinder seats(context, request);
    const auto mates = seats.at(0);
    if (mates.empty() && change && before && before->plain)
        if (auto kept = sweepChanged(seats, request, *change, *before, progress)) return *kept;
    request.apart = seats.leaving(mates, 0, request.span > 0 ? 1 : -1);
    SeatedSweep result;
    result.plain = mates.empty();
    result.contact = calcFirstContact(request, progress);
    if (!result.contact) return result;
    if (result.contact->atStart) {
        result.seat = mates;
        const auto [a, b] = std::minmax(result.contact->moving, result.contact->fixed);
        std::set<std::pair<SolidRef, SolidRef>> seated;
        for (const auto& mate : result.seat) addPortSolids(*context.project, mate, seated);
        if (seated.count({a, b}) == 0) result.seat.clear(); // it is run into elsewhere
        if (!result.seat.empty()) result.contact->atStart = false;
        return result;
    }
    // Run into what it may be about to sit on?
    const auto place = seats.findNear(*result.contact, request.span);
    if (!place) {
        if (std::abs(result.contact->q) < kAtSeat) result.seat = mates; // pressed on what it sits on already
        return result;
    }
    result.plain = false;
    SweepRequest whole = request;
    for (const auto& pair : seats.leaving(*place, request.span > 0 ? -1 : 1))
        whole.apart.insert(pair); // entered the way it would be left
    whole.span = *place;
    if (const auto sooner = calcFirstContact(whole, progress);
        sooner && std::abs(sooner->q) < std::abs(*place) - kAtSeat)
        return result;
    result.seat = seats.at(*place);
    result.contact->q = *place;
    return result;
}

FreedomRange calcRange(const RangeContext& context, const JointValues& values, int joint, int freedom,
                       const base::Progress* progress, const KeptRange* kept) {
    const auto j = static_cast<std::size_t>(joint);
    const model::Joint& definition = context.project->joints[j];
    const auto& kind = *definition.kind;
    const model::Placed placed = calcPlaced(*context.project, context.tree, values);
    const double toCore = getSweepUnit(kind, freedom);

    FreedomRange range;
    range.joint = joint;
    range.freedom = freedom;
    range.value = ivrant::at(values[j], freedom);
    range.own = calcOwnRange(kind, values[j], freedom);

    const auto judge = [&] {
        range.endless = !range.own && range.low.by == StopBy::Nothing && range.high.by == StopBy::Nothing;
        if (!definition.wanted.empty()) {
            range.wanted = ivrant::at(definition.wanted, freedom);
            range.margin = calcRangeMargin(range.value, range.free, *range.wanted);
            if (range.collides) range.margin = 0;
        }
        if (range.endless) range.free = {-180, 180};
        return range;
    };
    if (context.tree.isInRing(joint)) {
        calcRingRange(context, values, range, progress);
        return judge();
    }
    SweepRequest request;
    request.placed = &placed;
    request.bodies = &context.bodies;
    request.moving = context.tree.carriedBy(joint);
    request.motion = makeSweepMotion(context, placed, values, {joint, freedom});
    const auto look = [&](double limit, RangeStop& stop, const RangeStop* before) {
        request.span = (limit - range.value) * toCore;
        const auto swept = sweepToStop(context, request, progress, kept ? kept->change : nullptr, before);
        const auto& [contact, seat, plain] = swept;
        stop.met = contact;
        stop.plain = plain;
        if (!contact) {
            stop.by = range.own ? StopBy::Own : StopBy::Nothing;
            return limit;
        }
        stop.by = seat.empty() ? StopBy::Contact : StopBy::Seat;
        stop.moving = contact->moving;
        stop.fixed = contact->fixed;
        if (!seat.empty()) {
            stop.seats = static_cast<int>(seat.size());
            model::Placed there{context.project, placed.X_WS};
            moveCarried(there, context, request.motion, joint, contact->q);
            stop.openNmm = request.motion.kind == SweepKind::Turn ? calcOpening(there, seat, request.motion.X_WJ) : 0;
            range.seated = range.seated || std::abs(contact->q) < kAtSeat;
        }
        stop.clearanceMm = calcPartDistance(placed, contact->moving.spot, contact->fixed.spot);
        range.collides = range.collides || contact->atStart;
        return range.value + contact->q / toCore;
    };
    const double lowLimit = range.own ? std::min(range.own->low, range.value) : range.value - kFullTurnDeg;
    const double highLimit = range.own ? std::max(range.own->high, range.value) : range.value + kFullTurnDeg;
    range.free.low = look(lowLimit, range.low, kept ? &kept->before->low : nullptr);
    range.free.high = look(highLimit, range.high, kept ? &kept->before->high : nullptr);
    return judge();
}

} // namespace ivrant::pose
