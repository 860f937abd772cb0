// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/drive/drive_net.h"

#include <algorithm>
#include <cmath>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/drive/net_bodies.h"
#include "core/drive/net_mesh.h"

namespace ivrant::drive {
namespace {

constexpr double kTwentyDegTwice = 0.728;   ///< 2·tan 20°: play for each mm of distance, 20° pressure angle
constexpr double kUniversalPlayRad = 0.105; ///< ±3°, starting value
constexpr double kBevelInsideMm = 6;        ///< pitch radius of a differential's inner wheels
constexpr double kMostBendDeg = 35;
constexpr double kCoupledMm = 24;     ///< longest coupling between two ends: three pitches, starting value
constexpr double kCoupledOffMm = 0.5; ///< between the lines of coupled shafts, starting value
constexpr double kOutOfPlaneMm = 1;   ///< chains and belts, starting value

constexpr double kActuatorThreadMm =
    8; ///< diameter of its screw: lead over circumference is the tangent of its lead angle

class NetBuilder {
public:
    NetBuilder(DriveModel model, const std::vector<std::string>& engaged)
        : m_net{std::move(model), {}, {}, {}, {}, {}, {}, {}, {}}, m_engaged(engaged) {}

    DriveNet run() {
        addMeshes();
        for (const Link& link : m_net.links) addLink(link);
        m_net.train.things = static_cast<int>(m_net.rotors.size());
        findBodies(m_net);
        return std::move(m_net);
    }

private:
    void add(NetRelation relation, Relation row, Efficiency efficiency, double slack) {
        m_net.relations.push_back(std::move(relation));
        m_net.train.relations.push_back(std::move(row));
        m_net.efficiency.push_back(efficiency);
        m_net.slack.push_back(slack);
    }

    [[nodiscard]] const Rotor& rotor(int index) const { return at(m_net.rotors, index); }
    [[nodiscard]] const Ring& ring(int index) const { return at(m_net.rings, index); }

    /// A relation between two things that need not be carried alike; none when it cannot be told.
    std::optional<Relation> relate(const Relation& plain, int a, int b) {
        const int carrierA = rotor(a).carrier, carrierB = rotor(b).carrier;
        if (carrierA == carrierB) return plain;
        if (carrierB >= 0 && rotor(carrierB).carrier == carrierA) return turnAlike(makeCarried(plain, carrierB, {b}));
        if (carrierA >= 0 && rotor(carrierA).carrier == carrierB) return turnAlike(makeCarried(plain, carrierA, {a}));
        m_net.notes.push_back(rotor(a).name + " and " + rotor(b).name +
                              " turn on different carriers: what joins them is not counted");
        return std::nullopt;
    }

    /// A carrier whose axis is told the other way counts with the other sign.
    [[nodiscard]] Relation turnAlike(Relation row) const {
        for (Term& term : row.terms)
            if (term.carrier >= 0 && rotor(term.thing).axis.dot(rotor(term.carrier).axis) < 0) term.sense = -1;
        return row;
    }

    void addMeshes() {
        // Sorted by x in C: only neighbours are looked at.
        std::vector<std::size_t> order(m_net.rings.size());
        for (std::size_t i = 0; i < order.size(); ++i) order[i] = i;
        const auto reach = [&](std::size_t i) { return m_net.rings[i].tipRadiusMm + m_net.rings[i].halfWidthMm; };
        const auto left = [&](std::size_t i) { return m_net.rings[i].centre.x() - reach(i); };
        std::sort(order.begin(), order.end(), [&](std::size_t i, std::size_t k) { return left(i) < left(k); });
        std::vector<std::pair<std::size_t, std::size_t>> near;
        for (std::size_t i = 0; i < order.size(); ++i)
            for (std::size_t k = i + 1; k < order.size() && left(order[k]) <= m_net.rings[order[i]].centre.x() +
                                                                                  reach(order[i]) + kLettingGoMm;
                 ++k)
                near.push_back(std::minmax(order[i], order[k]));
        std::sort(near.begin(), near.end()); // as the wheels stand in the file
        for (const auto& [i, k] : near) addPair(i, k);
    }

    void addPair(std::size_t i, std::size_t k) {
        const Ring &a = m_net.rings[i], &b = m_net.rings[k];
        if (a.rotor == b.rotor || isOnSameShaft(a, b)) return;
        const auto mesh = judgePair(a, b);
        if (!mesh) return;
        if (mesh->fit != Fit::Meshes)
            m_net.faults.push_back({static_cast<int>(i), static_cast<int>(k), mesh->fit,
                                    mesh->fit == Fit::Aside ? mesh->asideMm : mesh->errorMm});
        if (mesh->fit == Fit::Apart) return;
        noteOffAxis(a, b);
        noteOffAxis(b, a);
        const auto row = relate({{{a.rotor, makeRational(senseOf(a) * mesh->factorA), -1},
                                  {b.rotor, makeRational(senseOf(b) * mesh->factorB), -1}}},
                                a.rotor, b.rotor);
        if (!row) return;
        const double play = kMeshPlayMm + kTwentyDegTwice * std::max(0.0, mesh->errorMm);
        add({mesh->kind, m_net.nameOf(a) + " meshes with " + m_net.nameOf(b), {a.id, b.id}, mesh->errorMm, mesh->fit},
            *row, mesh->efficiency, 2 * play);
    }
    /// A crown on a shaft may look either way along it.
    [[nodiscard]] long senseOf(const Ring& ring) const { return ring.axis.dot(rotor(ring.rotor).axis) < 0 ? -1 : 1; }
    static bool isOnSameShaft(const Ring& a, const Ring& b) {
        return a.shaft >= 0 && b.shaft >= 0 && (a.shaft == b.shaft || a.shaft == b.other || b.shaft == a.other);
    }
    void noteOffAxis(const Ring& standing, const Ring& moving) {
        const int carrier = rotor(moving.rotor).carrier;
        if (carrier < 0 || rotor(standing.rotor).carrier != rotor(carrier).carrier || standing.rotor == carrier) return;
        const Rotor& table = rotor(carrier);
        const Vec3 offset = standing.centre - table.origin;
        const double off = (offset - offset.dot(table.axis) * table.axis).norm();
        const bool along = std::abs(standing.axis.dot(table.axis)) > 0.9999;
        if (along && off < 0.25) return;
        m_net.offAxis.push_back({standing.id, moving.id, table.id, off});
    }

    void addLink(const Link& link) {
        switch (link.kind) {
        case Link::Kind::Differential: return addDifferential(link);
        case Link::Kind::Actuator: return addActuator(link);
        case Link::Kind::Clutch: return addClutch(link);
        case Link::Kind::Loop: return addLoop(link);
        case Link::Kind::Coupling:
        case Link::Kind::Universal: return addCoupling(link);
        case Link::Kind::Held:
            return add({RelationKind::Held, rotor(link.a).name + " is held", {rotor(link.a).id}, 0}, makeHeld(link.a),
                       {}, 0);
        }
    }

    void addClutch(const Link& link) {
        const Ring& wheel = ring(link.ring);
        if (std::find(m_engaged.begin(), m_engaged.end(), wheel.id) == m_engaged.end()) return;
        add({RelationKind::Clutch, "the clutch fixes " + rotor(wheel.rotor).name, {wheel.id, rotor(link.a).id}, 0},
            makeTogether(wheel.rotor, link.a), {}, 0);
    }

    void addDifferential(const Link& link) {
        const int housing = ring(link.ring).rotor, left = link.a, right = link.b;
        Relation row = makeDifferential(housing, left, right);
        if (rotor(left).axis.dot(rotor(right).axis) < 0) { // told against each other: the right one's sense turns round
            row.terms = {{left, 1, housing}, {right, -1, -1}, {housing, -1, -1}};
        }
        const Vec3 offset = rotor(right).origin - rotor(left).origin;
        const double off = (offset - offset.dot(rotor(left).axis) * rotor(left).axis).norm();
        if (off > 0.25 || std::abs(rotor(left).axis.dot(rotor(right).axis)) < 0.9999)
            m_net.notes.push_back(rotor(housing).name + ": its two shafts do not lie in one line");
        const double efficiency = kBevelEfficiency * kBearingEfficiency;
        add({RelationKind::Differential,
             rotor(housing).name + " shares between " + rotor(left).name + " and " + rotor(right).name,
             {rotor(housing).id, rotor(left).id, rotor(right).id},
             0},
            row, {efficiency, efficiency}, 2 * kMeshPlayMm / kBevelInsideMm);
    }

    /// mm for a turn; its thread holds like that of a worm.
    void addActuator(const Link& link) {
        const int rod = link.b, shaft = link.a;
        add({RelationKind::Screw,
             rotor(shaft).name + " turns the screw of " + rotor(rod).name,
             {rotor(rod).id, rotor(shaft).id},
             0},
            {{{shaft, rotor(shaft).axis.dot(rotor(rod).axis) < 0 ? -kActuatorLeadMm : kActuatorLeadMm, -1},
              {rod, -1, -1}}},
            makeWormEfficiency(kActuatorLeadMm, base::kPi * kActuatorThreadMm, kActuatorEfficiency), 2 * kMeshPlayMm);
    }

    void addLoop(const Link& loop) {
        const std::string name = loop.belt ? "the belt" : "the chain";
        for (std::size_t i = 0; i + 1 < loop.rings.size(); ++i) {
            const Ring &a = ring(loop.rings[i]), &b = ring(loop.rings[i + 1]);
            const double cosine = a.axis.dot(b.axis);
            if (std::abs(cosine) < 0.9999) {
                refuse(a.id, b.id,
                       (loop.belt ? "The belt " : "The chain ") + loop.id + " cannot run between shafts that cross");
                continue;
            }
            if (const double off = std::abs((b.centre - ring(loop.rings[0]).centre).dot(a.axis)); off > kOutOfPlaneMm) {
                refuse(a.id, b.id,
                       (loop.belt ? "The belt " : "The chain ") + loop.id + " would run " + base::formatNumber(off, 1) +
                           " mm out of its plane");
                continue;
            }
            const bool same = (cosine > 0) != loop.crossed;
            const Relation plain =
                same ? makeChain(a.rotor, a.teeth, b.rotor, b.teeth) : makeSpur(a.rotor, a.teeth, b.rotor, b.teeth);
            const auto row = relate(plain, a.rotor, b.rotor);
            if (!row) continue;
            const double efficiency = kChainEfficiency * kBearingEfficiency;
            add({loop.belt ? RelationKind::Belt : RelationKind::Chain,
                 name + " joins " + m_net.nameOf(a) + " and " + m_net.nameOf(b),
                 {loop.id, a.id, b.id},
                 0},
                *row, {efficiency, efficiency}, loop.belt ? 0 : 2 * kMeshPlayMm);
        }
    }
    /// What cannot be built moves nothing.
    void refuse(const std::string& idA, const std::string& idB, const std::string& why) {
        m_net.clashes.push_back({idA, idB, why, 0});
    }
    /// Between the lines of two shafts.
    [[nodiscard]] static double findOffset(const Rotor& a, const Rotor& b) {
        const Vec3 offset = b.origin - a.origin, normal = a.axis.cross(b.axis);
        if (normal.norm() > 1e-6) return std::abs(offset.dot(normal.normalized()));
        return (offset - offset.dot(a.axis) * a.axis).norm();
    }
    /// Between the nearest ends of two shafts.
    [[nodiscard]] static double findGap(const Rotor& a, const Rotor& b) {
        double least = 1e300;
        for (const Vec3& p : {a.origin, Vec3(a.origin + a.lengthMm * a.axis)})
            for (const Vec3& q : {b.origin, Vec3(b.origin + b.lengthMm * b.axis)})
                least = std::min(least, (p - q).norm());
        return least;
    }

    void addCoupling(const Link& coupling) {
        const int a = coupling.a, b = coupling.b;
        const bool universal = coupling.kind == Link::Kind::Universal;
        const double cosine = rotor(a).axis.dot(rotor(b).axis);
        if (std::abs(cosine) < std::cos(base::degToRad(universal ? kMostBendDeg + 0.05 : 0.5)))
            return refuse(rotor(a).id, rotor(b).id,
                          rotor(a).name + " and " + rotor(b).name + " are coupled at " +
                              base::formatAngle(base::radToDeg(std::acos(std::abs(cosine)))) + ", at most " +
                              (universal ? "35°" : "0°") + " runs");
        if (const double off = findOffset(rotor(a), rotor(b)); off > kCoupledOffMm)
            return refuse(rotor(a).id, rotor(b).id,
                          rotor(a).name + " and " + rotor(b).name +
                              " are coupled, and their lines miss each other by " + base::formatNumber(off, 1) + " mm");
        if (const double gap = findGap(rotor(a), rotor(b)); gap > kCoupledMm)
            return refuse(rotor(a).id, rotor(b).id,
                          rotor(a).name + " and " + rotor(b).name + " cannot be coupled across " +
                              base::formatNumber(gap, 0) + " mm, at most " + base::formatNumber(kCoupledMm, 0));
        const auto row = relate(cosine >= 0 ? makeTogether(a, b) : makeSpur(a, 1, b, 1), a, b);
        if (!row) return;
        add({RelationKind::Coupling,
             rotor(a).name + " is coupled to " + rotor(b).name,
             {coupling.id, rotor(a).id, rotor(b).id},
             0},
            *row, {}, universal ? kUniversalPlayRad : 0);
    }

    DriveNet m_net;
    const std::vector<std::string>& m_engaged;
};

} // namespace

DriveNet makeDriveNet(DriveModel model, const std::vector<std::string>& engaged) {
    return NetBuilder(std::move(model), engaged).run();
}

} // namespace ivrant::drive
