// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/drive/board_net.h"
#include "core/base/at.h"

#include <algorithm>
#include <cmath>
#include <unordered_map>

#include "core/base/units.h"
#include "core/drive/net_bodies.h"
#include "core/drive/net_mesh.h"

namespace ivrant::drive {
namespace {

using model::GearKind;

constexpr double kTwentyDegTwice = 0.728;   ///< 2·tan 20°: play for each mm of distance, 20° pressure angle
constexpr double kUniversalPlayRad = 0.105; ///< ±3°, starting value
constexpr double kBevelInsideMm = 6;        ///< pitch radius of a differential's inner wheels
constexpr double kMostBendDeg = 35;

constexpr double kActuatorThreadMm =
    8; ///< diameter of its screw: lead over circumference is the tangent of its lead angle

class NetBuilder {
public:
    NetBuilder(const model::Project& project, const std::vector<geometry::Frame>& X_CB,
               const std::optional<std::vector<model::GearId>>& engaged)
        : m_project(project), m_poses(X_CB) {
        if (engaged)
            m_engaged = *engaged;
        else
            for (const auto& board : project.boards)
                for (const auto& selector : board->selectors) {
                    const auto& now = at(selector.positions, selector.at).engaged;
                    m_engaged.insert(m_engaged.end(), now.begin(), now.end());
                }
    }

    BoardNet run() {
        addShafts();
        addGears();
        setCarriers();
        addMeshes();
        for (std::size_t b = 0; b < m_project.boards.size(); ++b) addFixed(*m_project.boards[b]);
        m_net.train.things = static_cast<int>(m_net.things.size());
        findBodies(m_project, m_net);
        return std::move(m_net);
    }

private:
    [[nodiscard]] Vec3 direction(std::size_t board, model::BoardAxis axis) const {
        return m_poses[board].linear().col(static_cast<int>(axis));
    }
    [[nodiscard]] Vec3 point(std::size_t board, const std::array<std::int64_t, 3>& um) const {
        return m_poses[board] * Vec3(base::umToMm(um[0]), base::umToMm(um[1]), base::umToMm(um[2]));
    }
    int addThing(NetThing thing) {
        m_net.thingOf.emplace(thing.id, static_cast<int>(m_net.things.size()));
        m_net.things.push_back(std::move(thing));
        return static_cast<int>(m_net.things.size()) - 1;
    }
    [[nodiscard]] int thingOf(const std::string& id) const { return m_net.findThing(id); }

    void addShafts() {
        for (std::size_t b = 0; b < m_project.boards.size(); ++b)
            for (const model::Shaft& shaft : m_project.boards[b]->shafts) {
                addThing({NetThing::Kind::Shaft, shaft.id.text,
                          shaft.name.empty() ? "shaft " + shaft.id.text : shaft.name, static_cast<int>(b),
                          point(b, shaft.atUm), direction(b, shaft.axis), -1});
                m_shafts.emplace(shaft.id.text, std::make_pair(&shaft, static_cast<int>(b)));
            }
    }

    void addGears() {
        for (std::size_t b = 0; b < m_project.boards.size(); ++b)
            for (const model::Gear& gear : m_project.boards[b]->gears) {
                NetGear net;
                net.gear = &gear;
                net.board = static_cast<int>(b);
                const model::WheelSize size = model::calcWheelSize(gear.kind, gear.teeth);
                net.pitchRadiusMm = size.pitchRadiusMm;
                net.tipRadiusMm = size.tipRadiusMm;
                net.halfWidthMm = size.halfWidthMm;
                if (gear.kind == GearKind::Rack) {
                    net.axis = direction(b, gear.axis);
                    net.centre = point(b, gear.atUm) + net.axis * size.halfWidthMm;
                    net.thing = addThing({NetThing::Kind::Rack, gear.id.text, describeGear(gear, nullptr), net.board,
                                          net.centre, net.axis, -1});
                } else if (gear.kind == GearKind::Actuator) {
                    const NetThing on = at(m_net.things, thingOf(gear.shaft.text));
                    net.axis = on.axis;
                    net.centre = on.origin + on.axis * (base::umToMm(gear.alongUm) + size.halfWidthMm);
                    net.thing = addThing({NetThing::Kind::Screw, gear.id.text, describeGear(gear, &on), net.board,
                                          net.centre, net.axis, -1});
                } else {
                    const int shaft = thingOf(gear.shaft.text);
                    const NetThing on = at(m_net.things, shaft);
                    net.axis = on.axis;
                    net.centre = on.origin + on.axis * base::umToMm(gear.alongUm);
                    net.thing = gear.isFixed() ? shaft
                                               : addThing({NetThing::Kind::Wheel, gear.id.text, describeGear(gear, &on),
                                                           net.board, net.centre, net.axis, -1});
                    if (gear.isFixed()) m_net.thingOf.emplace(gear.id.text, shaft);
                }
                m_net.gearOf.emplace(gear.id.text, static_cast<int>(m_net.gears.size()));
                m_net.gears.push_back(net);
            }
    }

    void setCarriers() {
        for (NetThing& thing : m_net.things) {
            model::GearId carrier = at(m_project.boards, thing.board)->carrier;
            std::string onShaft = thing.id;
            if (thing.kind == NetThing::Kind::Wheel || thing.kind == NetThing::Kind::Screw)
                onShaft = at(m_net.gears, m_net.gearOf.at(thing.id)).gear->shaft.text;
            if (const auto shaft = m_shafts.find(onShaft); shaft != m_shafts.end()) {
                carrier = at(m_project.boards, shaft->second.second)->carrier;
                if (!shaft->second.first->carrier.empty()) carrier = shaft->second.first->carrier;
            }
            if (!carrier.empty()) thing.carrier = thingOf(carrier.text);
        }
    }

    void add(NetRelation relation, Relation row, Efficiency efficiency, double slack) {
        m_net.relations.push_back(std::move(relation));
        m_net.train.relations.push_back(std::move(row));
        m_net.efficiency.push_back(efficiency);
        m_net.slack.push_back(slack);
    }

    [[nodiscard]] const NetThing& thing(int index) const { return at(m_net.things, index); }
    [[nodiscard]] std::string nameOf(const NetGear& gear) const {
        return describeGear(*gear.gear,
                            gear.gear->kind == GearKind::Rack ? nullptr : &thing(thingOf(gear.gear->shaft.text)));
    }

    /// A relation between two things that need not be carried alike; none when it cannot be told.
    std::optional<Relation> relate(const Relation& plain, int a, int b) {
        const int carrierA = thing(a).carrier, carrierB = thing(b).carrier;
        if (carrierA == carrierB) return plain;
        if (carrierB >= 0 && thing(carrierB).carrier == carrierA) return makeCarried(plain, carrierB, {b});
        if (carrierA >= 0 && thing(carrierA).carrier == carrierB) return makeCarried(plain, carrierA, {a});
        m_net.notes.push_back(thing(a).name + " and " + thing(b).name +
                              " turn on different carriers: what joins them is not counted");
        return std::nullopt;
    }

    void addMeshes() {
        // Sorted by x in C: only neighbours are looked at.
        std::vector<std::size_t> order(m_net.gears.size());
        for (std::size_t i = 0; i < order.size(); ++i) order[i] = i;
        const auto reach = [&](std::size_t i) { return m_net.gears[i].tipRadiusMm + m_net.gears[i].halfWidthMm; };
        const auto left = [&](std::size_t i) { return m_net.gears[i].centre.x() - reach(i); };
        std::sort(order.begin(), order.end(), [&](std::size_t i, std::size_t k) { return left(i) < left(k); });
        std::vector<std::pair<std::size_t, std::size_t>> near;
        for (std::size_t i = 0; i < order.size(); ++i)
            for (std::size_t k = i + 1; k < order.size() && left(order[k]) <= m_net.gears[order[i]].centre.x() +
                                                                                  reach(order[i]) + kLettingGoMm;
                 ++k)
                near.push_back(std::minmax(order[i], order[k]));
        std::sort(near.begin(), near.end()); // as the wheels stand in the file
        for (const auto& [i, k] : near) addPair(i, k);
    }

    void addPair(std::size_t i, std::size_t k) {
        const NetGear &a = m_net.gears[i], &b = m_net.gears[k];
        if (a.thing == b.thing || isOnSameShaft(a, b)) return;
        const auto mesh = judgePair(a, b);
        if (!mesh) return;
        if (mesh->fit != Fit::Meshes)
            m_net.faults.push_back({static_cast<int>(i), static_cast<int>(k), mesh->fit, mesh->errorMm});
        if (mesh->fit == Fit::Apart) return;
        noteOffAxis(a, b);
        noteOffAxis(b, a);
        const auto row =
            relate({{{a.thing, makeRational(mesh->factorA), -1}, {b.thing, makeRational(mesh->factorB), -1}}}, a.thing,
                   b.thing);
        if (!row) return;
        const double play = kMeshPlayMm + kTwentyDegTwice * std::max(0.0, mesh->errorMm);
        add({mesh->kind, nameOf(a) + " meshes with " + nameOf(b), {a.gear->id.text, b.gear->id.text}, mesh->errorMm},
            *row, mesh->efficiency, 2 * play);
    }
    static bool isOnSameShaft(const NetGear& a, const NetGear& b) {
        return a.gear->kind != GearKind::Rack && b.gear->kind != GearKind::Rack &&
               (a.gear->shaft == b.gear->shaft || (!b.gear->other.empty() && a.gear->shaft == b.gear->other) ||
                (!a.gear->other.empty() && b.gear->shaft == a.gear->other));
    }
    void noteOffAxis(const NetGear& standing, const NetGear& moving) {
        const int carrier = thing(moving.thing).carrier;
        if (carrier < 0 || thing(standing.thing).carrier != thing(carrier).carrier || standing.thing == carrier) return;
        const NetThing& table = thing(carrier);
        const Vec3 offset = standing.centre - table.origin;
        const double off = (offset - offset.dot(table.axis) * table.axis).norm();
        const bool along = std::abs(standing.axis.dot(table.axis)) > 0.9999;
        if (along && off < 0.25) return;
        m_net.offAxis.push_back({standing.gear->id.text, moving.gear->id.text, table.id, off});
    }

    void addFixed(const model::Board& board) {
        for (const model::Gear& gear : board.gears) {
            if (gear.kind == GearKind::Differential) addDifferential(gear);
            if (gear.kind == GearKind::Actuator) addActuator(gear);
            if (gear.loose && std::find(m_engaged.begin(), m_engaged.end(), gear.id) != m_engaged.end()) {
                const int wheel = thingOf(gear.id.text), shaft = thingOf(gear.shaft.text);
                add({RelationKind::Clutch, "the clutch fixes " + thing(wheel).name, {gear.id.text, gear.shaft.text}, 0},
                    makeTogether(wheel, shaft), {}, 0);
            }
        }
        for (const model::Loop& loop : board.loops) addLoop(loop);
        for (const model::Coupling& coupling : board.couplings) addCoupling(coupling);
        for (const model::Shaft& shaft : board.shafts)
            if (shaft.held)
                add({RelationKind::Held, thing(thingOf(shaft.id.text)).name + " is held", {shaft.id.text}, 0},
                    makeHeld(thingOf(shaft.id.text)), {}, 0);
    }

    void addDifferential(const model::Gear& gear) {
        const int housing = thingOf(gear.id.text), left = thingOf(gear.shaft.text), right = thingOf(gear.other.text);
        Relation row = makeDifferential(housing, left, right);
        if (thing(left).axis.dot(thing(right).axis) < 0) { // told against each other: the right one's sense turns round
            row.terms = {{left, 1, housing}, {right, -1, -1}, {housing, -1, -1}};
        }
        const Vec3 offset = thing(right).origin - thing(left).origin;
        const double off = (offset - offset.dot(thing(left).axis) * thing(left).axis).norm();
        if (off > 0.25 || std::abs(thing(left).axis.dot(thing(right).axis)) < 0.9999)
            m_net.notes.push_back(thing(housing).name + ": its two shafts do not lie in one line");
        const double efficiency = kBevelEfficiency * kBearingEfficiency;
        add({RelationKind::Differential,
             thing(housing).name + " shares between " + thing(left).name + " and " + thing(right).name,
             {gear.id.text, gear.shaft.text, gear.other.text},
             0},
            row, {efficiency, efficiency}, 2 * kMeshPlayMm / kBevelInsideMm);
    }

    /// mm for a turn; its thread holds like that of a worm.
    void addActuator(const model::Gear& gear) {
        const int rod = thingOf(gear.id.text), shaft = thingOf(gear.shaft.text);
        add({RelationKind::Screw,
             thing(shaft).name + " turns the screw of " + thing(rod).name,
             {gear.id.text, gear.shaft.text},
             0},
            {{{shaft, kActuatorLeadMm, -1}, {rod, -1, -1}}},
            makeWormEfficiency(kActuatorLeadMm, base::kPi * kActuatorThreadMm, kActuatorEfficiency), 2 * kMeshPlayMm);
    }

    void addLoop(const model::Loop& loop) {
        const std::string name = loop.belt ? "the belt" : "the chain";
        for (std::size_t i = 0; i + 1 < loop.gears.size(); ++i) {
            const NetGear &a = gear(loop.gears[i]), &b = gear(loop.gears[i + 1]);
            const double cosine = a.axis.dot(b.axis);
            if (std::abs(cosine) < 0.9999) {
                m_net.notes.push_back(name + " " + loop.id.text +
                                      " runs between shafts that are not parallel: not counted");
                continue;
            }
            const bool same = (cosine > 0) != loop.crossed;
            const Relation plain = same ? makeChain(a.thing, a.gear->teeth, b.thing, b.gear->teeth)
                                        : makeSpur(a.thing, a.gear->teeth, b.thing, b.gear->teeth);
            const auto row = relate(plain, a.thing, b.thing);
            if (!row) continue;
            const double efficiency = kChainEfficiency * kBearingEfficiency;
            add({loop.belt ? RelationKind::Belt : RelationKind::Chain,
                 name + " joins " + nameOf(a) + " and " + nameOf(b),
                 {loop.id.text, a.gear->id.text, b.gear->id.text},
                 0},
                *row, {efficiency, efficiency}, loop.belt ? 0 : 2 * kMeshPlayMm);
        }
    }
    [[nodiscard]] const NetGear& gear(const model::GearId& id) const {
        return at(m_net.gears, m_net.gearOf.at(id.text));
    }

    void addCoupling(const model::Coupling& coupling) {
        const int a = thingOf(coupling.a.text), b = thingOf(coupling.b.text);
        const double cosine = thing(a).axis.dot(thing(b).axis);
        if (std::abs(cosine) < std::cos(base::degToRad(coupling.universal ? kMostBendDeg + 0.05 : 0.5)))
            m_net.clashes.push_back({coupling.a.text, coupling.b.text,
                                     thing(a).name + " and " + thing(b).name + " are coupled at " +
                                         base::formatAngle(base::radToDeg(std::acos(std::abs(cosine)))) + ", at most " +
                                         (coupling.universal ? "35°" : "0°") + " runs",
                                     0});
        const auto row = relate(cosine >= 0 ? makeTogether(a, b) : makeSpur(a, 1, b, 1), a, b);
        if (!row) return;
        add({RelationKind::Coupling,
             thing(a).name + " is coupled to " + thing(b).name,
             {coupling.id.text, coupling.a.text, coupling.b.text},
             0},
            *row, {}, coupling.universal ? kUniversalPlayRad : 0);
    }

    const model::Project& m_project;
    const std::vector<geometry::Frame>& m_poses;
    std::vector<model::GearId> m_engaged;
    BoardNet m_net;
    std::unordered_map<std::string, std::pair<const model::Shaft*, int>> m_shafts;
};

} // namespace

double NetThing::mmPerUnit() const { return kind == Kind::Rack ? base::kPi : kind == Kind::Screw ? 1 : 0; }

int BoardNet::findThing(const std::string& id) const {
    const auto found = thingOf.find(id);
    return found == thingOf.end() ? -1 : found->second;
}

int BoardNet::findGear(const std::string& id) const {
    const auto found = gearOf.find(id);
    return found == gearOf.end() ? -1 : found->second;
}

std::string describeGear(const model::Gear& gear, const NetThing* shaft) {
    std::string text = gear.kind == GearKind::Spur ? std::to_string(gear.teeth)
                       : gear.kind == GearKind::Worm
                           ? std::string("worm")
                           : std::string(model::getGearKindName(gear.kind)) + " " + std::to_string(gear.teeth);
    if (gear.loose) text = "loose " + text;
    if (shaft) text += " on " + shaft->name;
    return text;
}

BoardNet makeBoardNet(const model::Project& project, const std::vector<geometry::Frame>& X_CB,
                      const std::optional<std::vector<model::GearId>>& engaged) {
    return NetBuilder(project, X_CB, engaged).run();
}

} // namespace ivrant::drive
