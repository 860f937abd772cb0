// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/drive/net_bodies.h"
#include "core/base/at.h"

#include <algorithm>
#include <cmath>

#include "core/base/units.h"
#include "core/drive/brick_bearings.h"

namespace ivrant::drive {
namespace {

using model::GearKind;

constexpr double kTouchMm = 0.05; ///< deeper than this is a clash
constexpr double kSameHoleMm = 4; ///< a typed wall and the brick that it stands for
constexpr double kRodMm = model::kAxleMm / 2;
constexpr double kParallel = 0.9999;

struct Rod {
    const model::Shaft* shaft = nullptr;
    int thing = 0;
    Vec3 start = Vec3::Zero(), axis = Vec3::UnitZ();
    double length = 0;
};

/// Smallest distance of two segments (Ericson, Real-Time Collision Detection, 5.1.9).
double segmentDistance(const Rod& a, const Rod& b) {
    const Vec3 r = a.start - b.start;
    const double cosine = a.axis.dot(b.axis), c = a.axis.dot(r), f = b.axis.dot(r), denominator = 1 - cosine * cosine;
    double s = denominator > 1e-9 ? std::clamp((cosine * f - c) / denominator, 0.0, a.length) : 0.0;
    double t = cosine * s + f;
    if (t < 0 || t > b.length) {
        t = std::clamp(t, 0.0, b.length);
        s = std::clamp(cosine * t - c, 0.0, a.length);
    }
    return (r + a.axis * s - b.axis * t).norm();
}

class Bodies {
public:
    Bodies(const model::Project& project, BoardNet& net) : m_project(project), m_net(net), m_bricks(project) {
        int thing = 0;
        for (const auto& board : project.boards)
            for (const model::Shaft& shaft : board->shafts) {
                const NetThing& at = ivrant::at(net.things, thing);
                m_rods.push_back({&shaft, thing++, at.origin, at.axis, base::umToMm(shaft.lengthUm)});
            }
    }

    void run() {
        for (std::size_t i = 0; i < m_rods.size(); ++i) {
            for (std::size_t k = i + 1; k < m_rods.size(); ++k) checkRods(m_rods[i], m_rods[k]);
            for (const NetGear& gear : m_net.gears) checkRodAndWheel(m_rods[i], gear);
            addSupport(m_rods[i]);
        }
        for (std::size_t i = 0; i < m_net.gears.size(); ++i)
            for (std::size_t k = i + 1; k < m_net.gears.size(); ++k)
                checkWheels(static_cast<int>(i), static_cast<int>(k));
    }

private:
    [[nodiscard]] std::string nameOf(const NetGear& gear) const {
        if (gear.gear->kind == GearKind::Rack) return describeGear(*gear.gear, nullptr);
        return describeGear(*gear.gear, &ivrant::at(m_net.things, m_net.findThing(gear.gear->shaft.text)));
    }
    void clash(const std::string& idA, const std::string& idB, const std::string& a, const std::string& b,
               double depth) {
        if (depth > kTouchMm) m_net.clashes.push_back({idA, idB, a + " runs into " + b, depth});
    }
    /// Turning bodies of different carriers change places; what is met in one position only is not looked at.
    [[nodiscard]] bool isFarCarried(int thingA, int thingB) const {
        const int a = ivrant::at(m_net.things, thingA).carrier, b = ivrant::at(m_net.things, thingB).carrier;
        return a != b && a >= 0 && b >= 0;
    }

    void checkRods(const Rod& a, const Rod& b) {
        if (isFarCarried(a.thing, b.thing)) return;
        if (const Vec3 between = b.start - a.start; between.norm() > a.length + b.length + model::kAxleMm) return;
        const std::string &nameA = ivrant::at(m_net.things, a.thing).name,
                          &nameB = ivrant::at(m_net.things, b.thing).name;
        const double distance = segmentDistance(a, b);
        if (std::abs(a.axis.dot(b.axis)) > kParallel) { // ends of rods in one line may touch
            const Vec3 offset = b.start - a.start;
            const double along = offset.dot(a.axis), apart = (offset - along * a.axis).norm();
            const double other = along + b.axis.dot(a.axis) * b.length, low = std::min(along, other),
                         high = std::max(along, other);
            const double shared = std::min(high, a.length) - std::max(low, 0.0);
            if (shared > kTouchMm && apart < model::kAxleMm)
                clash(a.shaft->id.text, b.shaft->id.text, nameA, nameB,
                      apart < kRodMm ? shared : model::kAxleMm - apart);
            return;
        }
        if (isCoupled(a.shaft->id, b.shaft->id)) return;
        clash(a.shaft->id.text, b.shaft->id.text, nameA, nameB, model::kAxleMm - distance);
    }
    [[nodiscard]] bool isCoupled(const model::ShaftId& a, const model::ShaftId& b) const {
        for (const auto& board : m_project.boards)
            for (const auto& coupling : board->couplings)
                if ((coupling.a == a && coupling.b == b) || (coupling.a == b && coupling.b == a)) return true;
        return false;
    }

    void checkRodAndWheel(const Rod& rod, const NetGear& wheel) {
        const model::Gear& gear = *wheel.gear;
        if (gear.kind == GearKind::Rack || gear.shaft == rod.shaft->id || gear.other == rod.shaft->id ||
            isFarCarried(rod.thing, wheel.thing))
            return;
        const Vec3 offset = rod.start - wheel.centre;
        if (offset.norm() > rod.length + wheel.tipRadiusMm + wheel.halfWidthMm) return;
        const double cosine = rod.axis.dot(wheel.axis), hole = model::calcWheelSize(gear.kind, gear.teeth).holeRadiusMm;
        double depth = 0;
        if (std::abs(cosine) > kParallel) {
            const double along = offset.dot(wheel.axis), other = along + cosine * rod.length;
            if (std::max(along, other) < -wheel.halfWidthMm + kTouchMm ||
                std::min(along, other) > wheel.halfWidthMm - kTouchMm)
                return;
            const double apart = (offset - along * wheel.axis).norm();
            if (apart + kRodMm <= hole + kTouchMm) return;
            if (hole == 0 && apart < 0.25)
                return; // in line with it: its bore, or its shaft's neighbour, which the rods tell
            depth = wheel.tipRadiusMm + kRodMm - apart;
        } else {
            depth = crossingDepth(rod, wheel);
        }
        clash(rod.shaft->id.text, gear.id.text, ivrant::at(m_net.things, rod.thing).name, nameOf(wheel), depth);
    }
    /// A rod that lies across a disc: how far into it, from the flat or from the rim, whichever is less.
    static double crossingDepth(const Rod& rod, const NetGear& wheel) {
        const Vec3 offset = rod.start - wheel.centre;
        const double lean = rod.axis.dot(wheel.axis), height = offset.dot(wheel.axis);
        // The part of the rod within the disc's thickness.
        double low = 0, high = rod.length;
        const double reach = wheel.halfWidthMm + kRodMm;
        if (std::abs(lean) > 1e-9) {
            const double one = (-reach - height) / lean, two = (reach - height) / lean;
            low = std::max(low, std::min(one, two));
            high = std::min(high, std::max(one, two));
        } else if (std::abs(height) >= reach) {
            return 0;
        }
        if (low >= high) return 0;
        const Vec3 flat = offset - height * wheel.axis, run = rod.axis - lean * wheel.axis;
        const double best = run.squaredNorm() > 1e-12 ? std::clamp(-flat.dot(run) / run.squaredNorm(), low, high) : low;
        const double inside = wheel.tipRadiusMm + kRodMm - (flat + run * best).norm();
        return std::min(inside, reach - std::abs(height + lean * best));
    }

    void checkWheels(int i, int k) {
        const NetGear &a = ivrant::at(m_net.gears, i), &b = ivrant::at(m_net.gears, k);
        if (a.gear->kind == GearKind::Rack || b.gear->kind == GearKind::Rack || isFarCarried(a.thing, b.thing)) return;
        const Vec3 offset = b.centre - a.centre;
        if (offset.norm() > a.tipRadiusMm + b.tipRadiusMm + a.halfWidthMm + b.halfWidthMm) return;
        if (isPair(i, k)) return;
        const double cosine = a.axis.dot(b.axis);
        double depth = 0;
        if (std::abs(cosine) > kParallel) {
            const double along = std::abs(offset.dot(a.axis)), apart = (offset - offset.dot(a.axis) * a.axis).norm();
            const double deep = a.halfWidthMm + b.halfWidthMm - along;
            if (isInHole(a, b, apart) || isInHole(b, a, apart)) return;
            depth = std::min(deep, a.tipRadiusMm + b.tipRadiusMm - apart);
        } else {
            depth = std::min(crossingDepth(asRod(a), b),
                             crossingDepth(asRod(b), a)); // by their hubs only: rims interleave where they mesh
        }
        clash(a.gear->id.text, b.gear->id.text, nameOf(a), nameOf(b), depth);
    }
    static bool isInHole(const NetGear& outer, const NetGear& inner, double apart) {
        const double hole = model::calcWheelSize(outer.gear->kind, outer.gear->teeth).holeRadiusMm;
        return hole > 0 && apart + inner.tipRadiusMm <= hole + kTouchMm;
    }
    static Rod asRod(const NetGear& gear) {
        return {nullptr, gear.thing, gear.centre - gear.axis * gear.halfWidthMm, gear.axis, 2 * gear.halfWidthMm};
    }
    /// Meshing, binding or skipping: told as such.
    [[nodiscard]] bool isPair(int i, int k) const {
        if (std::any_of(m_net.faults.begin(), m_net.faults.end(),
                        [&](const MeshFault& f) { return f.gearA == i && f.gearB == k; }))
            return true;
        const std::string &a = ivrant::at(m_net.gears, i).gear->id.text, &b = ivrant::at(m_net.gears, k).gear->id.text;
        return std::any_of(m_net.relations.begin(), m_net.relations.end(), [&](const NetRelation& r) {
            return (r.kind == RelationKind::Mesh || r.kind == RelationKind::Worm) && r.ids[0] == a && r.ids[1] == b;
        });
    }

    void addSupport(const Rod& rod) {
        const NetThing& thing = ivrant::at(m_net.things, rod.thing);
        const model::Board& board = *ivrant::at(m_project.boards, thing.board);
        ShaftSupport support;
        support.shaft = rod.shaft->id.text;
        for (const std::int64_t along : rod.shaft->bearingsUm) support.holesMm.push_back(base::umToMm(along));
        const bool inHole = rod.shaft->axis == model::BoardAxis::Out &&
                            findGridStep(std::abs(rod.shaft->atUm[0]), std::abs(rod.shaft->atUm[1])).has_value();
        if (inHole)
            for (const std::int64_t wall : board.wallsUm)
                if (const double along = base::umToMm(wall - rod.shaft->atUm[2]);
                    along >= -kTouchMm && along <= rod.length + kTouchMm)
                    support.holesMm.push_back(along);
        for (const double along : m_bricks.listAlong(thing.board, *rod.shaft)) {
            const auto near = [&](double hole) { return std::abs(hole - along) < kSameHoleMm; };
            if (std::any_of(support.holesMm.begin(), support.holesMm.end(), near)) continue;
            support.holesMm.push_back(along);
            ++support.bricks;
        }
        std::sort(support.holesMm.begin(), support.holesMm.end());
        for (const NetGear& gear : m_net.gears) {
            const bool on =
                gear.gear->shaft == rod.shaft->id && !gear.gear->isStraight() && gear.gear->kind != GearKind::Turntable;
            if (!on) continue;
            const double along = base::umToMm(gear.gear->alongUm);
            if (gear.gear->kind == GearKind::Differential) continue; // its sides end in it
            support.shortMm = std::max(
                {support.shortMm, along + gear.halfWidthMm - rod.length - 0.5, gear.halfWidthMm - along - 0.5});
            if (!support.holesMm.empty())
                support.overhangMm =
                    std::max({support.overhangMm, along - support.holesMm.back(), support.holesMm.front() - along});
        }
        m_net.supports.push_back(std::move(support));
    }

    const model::Project& m_project;
    BoardNet& m_net;
    std::vector<Rod> m_rods;
    BrickBearings m_bricks;
};

} // namespace

void findBodies(const model::Project& project, BoardNet& net) { Bodies(project, net).run(); }

} // namespace ivrant::drive
