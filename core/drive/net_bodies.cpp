// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/drive/net_bodies.h"

#include <algorithm>
#include <cmath>

#include "core/base/at.h"
#include "core/base/units.h"

namespace ivrant::drive {
namespace {

using model::GearKind;

constexpr double kTouchMm = 0.05; ///< deeper than this is a clash
constexpr double kRodMm = model::kAxleMm / 2;
constexpr double kParallel = 0.9999;

struct Rod {
    int rotor = -1;
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
    explicit Bodies(DriveNet& net) : m_net(net) {
        for (std::size_t r = 0; r < net.rotors.size(); ++r)
            if (const Rotor& shaft = net.rotors[r]; shaft.kind == Rotor::Kind::Shaft)
                m_rods.push_back({static_cast<int>(r), shaft.origin, shaft.axis, shaft.lengthMm});
    }

    void run() {
        for (std::size_t i = 0; i < m_rods.size(); ++i) {
            for (std::size_t k = i + 1; k < m_rods.size(); ++k) checkRods(m_rods[i], m_rods[k]);
            for (const Ring& gear : m_net.rings) checkRodAndWheel(m_rods[i], gear);
            addSupport(m_rods[i]);
        }
        for (std::size_t i = 0; i < m_net.rings.size(); ++i)
            for (std::size_t k = i + 1; k < m_net.rings.size(); ++k)
                checkWheels(static_cast<int>(i), static_cast<int>(k));
    }

private:
    [[nodiscard]] std::string nameOf(const Ring& ring) const { return m_net.nameOf(ring); }
    [[nodiscard]] const Rotor& shaftOf(const Rod& rod) const { return ivrant::at(m_net.rotors, rod.rotor); }
    /// Of two parts the tips alone: what is deeper is an overlap of the parts.
    bool clash(const std::string& idA, const std::string& idB, const std::string& a, const std::string& b, double depth,
               double tips = 0) {
        if ((isPart(idA) && isPart(idB) && depth > tips) || depth <= kTouchMm) return false;
        m_net.clashes.push_back({idA, idB, a + " runs into " + b, depth});
        return true;
    }
    /// Turning bodies of different carriers change places; what is met in one position only is not looked at.
    [[nodiscard]] bool isFarCarried(int rotorA, int rotorB) const {
        const int a = ivrant::at(m_net.rotors, rotorA).carrier, b = ivrant::at(m_net.rotors, rotorB).carrier;
        return a != b && a >= 0 && b >= 0;
    }

    [[nodiscard]] bool isPart(const std::string& id) const {
        if (const int ring = m_net.findRing(id); ring >= 0) return ivrant::at(m_net.rings, ring).board < 0;
        const int rotor = m_net.findRotor(id);
        return rotor >= 0 && ivrant::at(m_net.rotors, rotor).board < 0;
    }
    static double tipOf(const Ring& ring) { return ring.tipRadiusMm - ring.pitchRadiusMm; }

    void checkRods(const Rod& a, const Rod& b) {
        if (isFarCarried(a.rotor, b.rotor)) return;
        if (const Vec3 between = b.start - a.start; between.norm() > a.length + b.length + model::kAxleMm) return;
        const Rotor &shaftA = shaftOf(a), &shaftB = shaftOf(b);
        const double distance = segmentDistance(a, b);
        if (std::abs(a.axis.dot(b.axis)) > kParallel) { // ends of rods in one line may touch
            const Vec3 offset = b.start - a.start;
            const double along = offset.dot(a.axis), apart = (offset - along * a.axis).norm();
            const double other = along + b.axis.dot(a.axis) * b.length, low = std::min(along, other),
                         high = std::max(along, other);
            const double shared = std::min(high, a.length) - std::max(low, 0.0);
            if (shared > kTouchMm && apart < model::kAxleMm)
                clash(shaftA.id, shaftB.id, shaftA.name, shaftB.name, apart < kRodMm ? shared : model::kAxleMm - apart);
            return;
        }
        if (isCoupled(a.rotor, b.rotor)) return;
        clash(shaftA.id, shaftB.id, shaftA.name, shaftB.name, model::kAxleMm - distance);
    }
    [[nodiscard]] bool isCoupled(int a, int b) const {
        return std::any_of(m_net.links.begin(), m_net.links.end(), [&](const Link& link) {
            return (link.kind == Link::Kind::Coupling || link.kind == Link::Kind::Universal) &&
                   ((link.a == a && link.b == b) || (link.a == b && link.b == a));
        });
    }

    /// The teeth, and a differential's case beside them.
    static std::vector<Ring> listDiscs(const Ring& wheel) {
        std::vector<Ring> discs{wheel};
        if (wheel.kind != GearKind::Differential) return discs;
        discs.push_back(wheel);
        discs.back().halfWidthMm = model::kCaseHalfMm;
        discs.back().pitchRadiusMm = discs.back().tipRadiusMm = model::kCaseRadiusMm;
        return discs;
    }

    void checkRodAndWheel(const Rod& rod, const Ring& wheel) {
        if (wheel.kind == GearKind::Rack || wheel.shaft == rod.rotor || wheel.other == rod.rotor ||
            isFarCarried(rod.rotor, wheel.rotor))
            return;
        for (const Ring& disc : listDiscs(wheel))
            if (checkRodAndDisc(rod, disc)) return;
    }
    bool checkRodAndDisc(const Rod& rod, const Ring& wheel) {
        const Vec3 offset = rod.start - wheel.centre;
        if (offset.norm() > rod.length + wheel.tipRadiusMm + wheel.halfWidthMm) return false;
        const double cosine = rod.axis.dot(wheel.axis), hole = wheel.holeRadiusMm;
        double depth = 0;
        if (std::abs(cosine) > kParallel) {
            const double along = offset.dot(wheel.axis), other = along + cosine * rod.length;
            if (std::max(along, other) < -wheel.halfWidthMm + kTouchMm ||
                std::min(along, other) > wheel.halfWidthMm - kTouchMm)
                return false;
            const double apart = (offset - along * wheel.axis).norm();
            if (apart + kRodMm <= hole + kTouchMm) return false;
            if (hole == 0 && apart < 0.25)
                return false; // in line with it: its bore, or its shaft's neighbour, which the rods tell
            depth = wheel.tipRadiusMm + kRodMm - apart;
        } else {
            depth = crossingDepth(rod, wheel);
        }
        return clash(shaftOf(rod).id, wheel.id, shaftOf(rod).name, nameOf(wheel), depth, tipOf(wheel));
    }
    /// A rod that lies across a disc: how far into it, from the flat or from the rim, whichever is less.
    static double crossingDepth(const Rod& rod, const Ring& wheel) {
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
        const Ring &a = ivrant::at(m_net.rings, i), &b = ivrant::at(m_net.rings, k);
        if (a.kind == GearKind::Rack || b.kind == GearKind::Rack || isFarCarried(a.rotor, b.rotor)) return;
        if (isPair(i, k)) return;
        for (const Ring& discA : listDiscs(a))
            for (const Ring& discB : listDiscs(b))
                if (checkDiscs(discA, discB)) return;
    }
    bool checkDiscs(const Ring& a, const Ring& b) {
        const Vec3 offset = b.centre - a.centre;
        if (offset.norm() > a.tipRadiusMm + b.tipRadiusMm + a.halfWidthMm + b.halfWidthMm) return false;
        const double cosine = a.axis.dot(b.axis);
        double depth = 0;
        if (std::abs(cosine) > kParallel) {
            const double along = std::abs(offset.dot(a.axis)), apart = (offset - offset.dot(a.axis) * a.axis).norm();
            const double deep = a.halfWidthMm + b.halfWidthMm - along;
            if (isInHole(a, b, apart) || isInHole(b, a, apart)) return false;
            depth = std::min(deep, a.tipRadiusMm + b.tipRadiusMm - apart);
        } else {
            depth = std::min(crossingDepth(asRod(a), b),
                             crossingDepth(asRod(b), a)); // by their hubs only: rims interleave where they mesh
        }
        return clash(a.id, b.id, nameOf(a), nameOf(b), depth, tipOf(a) + tipOf(b));
    }
    static bool isInHole(const Ring& outer, const Ring& inner, double apart) {
        return outer.holeRadiusMm > 0 && apart + inner.tipRadiusMm <= outer.holeRadiusMm + kTouchMm;
    }
    static Rod asRod(const Ring& gear) {
        return {gear.rotor, gear.centre - gear.axis * gear.halfWidthMm, gear.axis, 2 * gear.halfWidthMm};
    }
    /// Meshing, binding or skipping: told as such.
    [[nodiscard]] bool isPair(int i, int k) const {
        if (std::any_of(m_net.faults.begin(), m_net.faults.end(),
                        [&](const MeshFault& f) { return f.gearA == i && f.gearB == k; }))
            return true;
        const std::string &a = ivrant::at(m_net.rings, i).id, &b = ivrant::at(m_net.rings, k).id;
        return std::any_of(m_net.relations.begin(), m_net.relations.end(), [&](const NetRelation& r) {
            return (r.kind == RelationKind::Mesh || r.kind == RelationKind::Worm) && r.ids[0] == a && r.ids[1] == b;
        });
    }

    void addSupport(const Rod& rod) {
        ShaftSupport support;
        support.shaft = shaftOf(rod).id;
        for (const Bearing& bearing : m_net.bearings)
            if (bearing.rotor == rod.rotor) {
                support.holesMm.push_back(bearing.alongMm);
                support.bricks += bearing.by == Bearing::By::Brick ? 1 : 0;
            }
        for (const Link& link : m_net.links)
            if (link.kind == Link::Kind::Universal && (link.a == rod.rotor || link.b == rod.rotor))
                ++support.universals;
        for (const Ring& ring : m_net.rings) {
            if (ring.shaft != rod.rotor || ring.isStraight() || ring.kind == GearKind::Turntable ||
                ring.kind == GearKind::Differential) // its sides end in it
                continue;
            const double along = ring.alongMm;
            support.shortMm = std::max(
                {support.shortMm, along + ring.halfWidthMm - rod.length - 0.5, ring.halfWidthMm - along - 0.5});
            if (!support.holesMm.empty())
                support.overhangMm =
                    std::max({support.overhangMm, along - support.holesMm.back(), support.holesMm.front() - along});
        }
        m_net.supports.push_back(std::move(support));
    }

    DriveNet& m_net;
    std::vector<Rod> m_rods;
};

} // namespace

void findBodies(DriveNet& net) { Bodies(net).run(); }

} // namespace ivrant::drive
