#include "core/pose/range.h"

#include <algorithm>
#include <cmath>

#include "core/base/units.h"
#include "core/pose/rings.h"

namespace ivrant::pose {
namespace {

using base::degToRad;
using geometry::Pose;
using geometry::Vec3;
using parts::JointMotion;

constexpr double kFullTurnDeg = 360;

} // namespace

std::optional<model::Range> calcOwnRange(const parts::JointKind& kind, const std::vector<double>& values, int freedom) {
    if (kind.motion == JointMotion::TurnSlide && freedom == 1) return model::Range{-kind.slideMm, kind.slideMm};
    if (kind.motion == JointMotion::Ball) {
        if (freedom == 2) return std::nullopt;
        const double other = values[static_cast<std::size_t>(1 - freedom)];
        const double room = std::sqrt(std::max(0.0, kind.coneDeg * kind.coneDeg - other * other));
        return model::Range{-room, room};
    }
    if (kind.motion == JointMotion::Universal) { // cos of the angle between the shafts = cos s1 · cos s2
        const double other = std::cos(degToRad(values[static_cast<std::size_t>(1 - freedom)])), least = std::cos(degToRad(kind.coneDeg));
        const double room = other > least ? base::radToDeg(std::acos(least / other)) : 0;
        return model::Range{-room, room};
    }
    if (!kind.turnLimitDeg) return std::nullopt;
    return model::Range{kind.turnLowDeg, *kind.turnLimitDeg};
}

SweepMotion makeSweepMotion(const RangeContext& context, const model::Placed& placed, const JointValues& values, FreedomRef ref) {
    const auto j = static_cast<std::size_t>(ref.joint);
    const int freedom = ref.freedom;
    const auto& kind = *context.project->joints[j].kind;
    SweepMotion motion;
    motion.X_WJ = placed.X_WS[static_cast<std::size_t>(context.tree.from[j].section)] * calcFromFrame(*context.project, context.tree, ref.joint);
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
    if (tilt[1 - freedom] == 0) return aboutAxis(motion.X_WJ.linear().col(freedom)); // a plain turn about one axis of the tilt
    motion.kind = SweepKind::Ball;
    motion.tilt = tilt;
    motion.component = freedom;
    return motion;
}

base::Status checkOutsideRings(const model::Project& project, const model::SectionTree& tree, const std::vector<int>& joints, const std::string& code,
                               const std::string& what) {
    for (const int j : joints)
        if (tree.isInRing(j))
            return base::Error{
                code, "'" + project.joints[static_cast<std::size_t>(j)].name + "' lies in a ring: " + what + " is for joints that move on their own", ""};
    return {};
}

double getSweepUnit(const parts::JointKind& kind, int freedom) { return kind.freedomUnit(freedom) == "deg" ? degToRad(1) : 1.0; }

RangeContext makeRangeContext(const model::Project& project, const model::SectionTree& tree, const std::vector<bonds::SectionBondsPtr>& bonds) {
    return {&project, tree, makeBodies(project, tree, bonds)};
}

double calcPartDistance(const model::Placed& placed, model::PartSpot a, model::PartSpot b) {
    double best = 1e30;
    const auto& sa = model::getPart(*placed.project, a).shape->solids;
    const auto& sb = model::getPart(*placed.project, b).shape->solids;
    const auto place = [](const parts::ShapeSolid& s, const Pose& X) {
        const Pose x = X * s.solid.X_PS;
        return geometry::PlacedSolid{&s.solid, &s.eroded, x.linear(), x.translation()};
    };
    const Pose Xa = placed.X_WP(a), Xb = placed.X_WP(b);
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

FreedomRange calcRange(const RangeContext& context, const JointValues& values, int joint, int freedom, const base::Progress* progress) {
    const auto j = static_cast<std::size_t>(joint);
    const model::Joint& definition = context.project->joints[j];
    const auto& kind = *definition.kind;
    const model::Placed placed = calcPlaced(*context.project, context.tree, values);
    const double toCore = getSweepUnit(kind, freedom);

    FreedomRange range;
    range.joint = joint;
    range.freedom = freedom;
    range.value = values[j][static_cast<std::size_t>(freedom)];
    range.own = calcOwnRange(kind, values[j], freedom);

    const auto judge = [&] {
        range.endless = !range.own && range.low.by == StopBy::Nothing && range.high.by == StopBy::Nothing;
        if (!definition.wanted.empty()) {
            range.wanted = definition.wanted[static_cast<std::size_t>(freedom)];
            range.margin = calcRangeMargin(range.value, range.free, *range.wanted);
            if (range.collides) range.margin = 0;
        }
        if (range.endless) range.free = {-180, 180};
        return range;
    };
    if (context.tree.isClosing(joint)) {
        range.free = {range.value, range.value};
        range.low.by = range.high.by = StopBy::Ring;
        return judge();
    }
    if (context.tree.isInRing(joint)) {
        calcRingRange(context, values, range, progress);
        return judge();
    }
    SweepRequest request;
    request.placed = &placed;
    request.bodies = &context.bodies;
    request.moving = context.tree.carriedBy(joint);
    request.motion = makeSweepMotion(context, placed, values, {joint, freedom});
    const auto look = [&](double limit, RangeStop& stop) {
        request.span = (limit - range.value) * toCore;
        const auto contact = calcFirstContact(request, progress);
        if (!contact) {
            stop.by = range.own ? StopBy::Own : StopBy::Nothing;
            return limit;
        }
        stop.by = StopBy::Contact;
        stop.moving = contact->moving;
        stop.fixed = contact->fixed;
        stop.clearanceMm = calcPartDistance(placed, contact->moving.spot, contact->fixed.spot);
        range.collides = range.collides || contact->atStart;
        return range.value + contact->q / toCore;
    };
    const double lowLimit = range.own ? std::min(range.own->low, range.value) : range.value - kFullTurnDeg;
    const double highLimit = range.own ? std::max(range.own->high, range.value) : range.value + kFullTurnDeg;
    range.free.low = look(lowLimit, range.low);
    range.free.high = look(highLimit, range.high);
    return judge();
}

} // namespace ivrant::pose
