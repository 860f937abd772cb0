// SPDX-License-Identifier: GPL-3.0-or-later
// Orders of building: ways out of bonds, puzzles against brute force, plans replayed by another checker.
#include <gtest/gtest.h>
#include <map>
#include <random>
#include <set>

#include "core/files/project_file.h"
#include "core/make/proposal.h"
#include "core/make/same_sections.h"
#include "core/make/steps.h"
#include "core/parts/placed_solid.h"
#include "core/script/script.h"
#include "core/script/script_export.h"
#include "core/verdict/groups.h"
#include "core/verdict/mends.h"
#include "core/verdict/report.h"
#include "tests/support/figures.h"
#include "tests/support/repo.h"

using namespace ivrant;
using geometry::Vec3;
using make::Scene;
using make::Way;

namespace {

struct Built : test::Figure {
    [[nodiscard]] Scene scene() const { return {*project.sections.front(), *bonds::calcBonds(project).front()}; }
    [[nodiscard]] const model::Section& section() const { return *project.sections.front(); }
    [[nodiscard]] int index(const model::PartId& id) const { return model::PartIndex(project).find(id).part; }
    void step(const model::PartId& id, int step) { project = test::must(model::setStep(project, {&id, 1}, step)); }
    [[nodiscard]] std::vector<make::OrderFault> faults() const {
        auto made = scene();
        return make::checkOrder(made, make::listPartSteps(section())).faults;
    }
    [[nodiscard]] make::AssemblyProposal propose(int most = make::kUsualPartsAStep) const {
        return make::proposeAssembly(section(), *bonds::calcBonds(project).front(), most);
    }
};

/// The straight ways in which `body` may go, as text: "+z -x".
std::string listFree(const Scene& scene, int body) {
    std::string text;
    for (const int k : {0, 1, 2})
        for (const int sign : {1, -1}) {
            const Way way{sign * Vec3::Unit(k), Vec3::Zero()};
            if (scene.findBlocker(body, way) < 0)
                text += (text.empty() ? "" : " ") + std::string(sign > 0 ? "+" : "-") + "xyz"[k];
        }
    return text;
}

// --- puzzles of cubes -------------------------------------------------------------------------------------------

using Cell = std::array<int, 3>;
constexpr double kCubeMm = 8;

/// Random pieces of cubes that fill part of a small box, none in another.
std::vector<std::set<Cell>> makePuzzle(std::mt19937& random, int pieces, int side) {
    std::vector<std::set<Cell>> puzzle;
    std::set<Cell> taken;
    const auto pick = [&](int n) { return std::uniform_int_distribution<int>(0, n - 1)(random); };
    for (int tries = 0; tries < 200 && static_cast<int>(puzzle.size()) < pieces; ++tries) {
        std::set<Cell> piece;
        Cell cell{pick(side), pick(side), pick(side)};
        if (taken.count(cell) > 0) continue;
        piece.insert(cell);
        const int size = 3 + pick(8);
        for (int more = 0; more < 60 && static_cast<int>(piece.size()) < size; ++more) {
            // Mostly on from where it grew last: hooks and rings lock, lumps do not.
            Cell next = pick(4) > 0 ? cell : *std::next(piece.begin(), pick(static_cast<int>(piece.size())));
            next[static_cast<std::size_t>(pick(3))] += pick(2) == 0 ? 1 : -1;
            const bool inside = std::all_of(next.begin(), next.end(), [&](int v) { return v >= 0 && v < side; });
            if (!inside || taken.count(next) > 0) continue;
            piece.insert(next);
            cell = next;
        }
        taken.insert(piece.begin(), piece.end());
        puzzle.push_back(std::move(piece));
    }
    return puzzle;
}

Scene makeScene(const std::vector<std::set<Cell>>& puzzle) {
    static std::vector<std::unique_ptr<parts::Shape>> shapes; // solids must live on
    std::vector<make::SceneBody> bodies;
    for (const auto& piece : puzzle) {
        auto shape = std::make_unique<parts::Shape>();
        for (const Cell& cell : piece) {
            const Vec3 low(kCubeMm * cell[0], kCubeMm * cell[1], kCubeMm * cell[2]);
            parts::ShapeSolid solid;
            solid.solid = geometry::makeBox(low, low + Vec3::Constant(kCubeMm));
            solid.eroded = geometry::calcEroded(solid.solid, geometry::kContactToleranceMm);
            shape->solids.push_back(solid);
        }
        bodies.push_back(make::makeSceneBody(*shape, geometry::Frame::Identity()));
        shapes.push_back(std::move(shape));
    }
    return {std::move(bodies), {}};
}

/// By whole cells: do the pieces of `moving` leave those of `staying` along the way, in steps of a cube?
bool canLeave(const std::vector<std::set<Cell>>& puzzle, unsigned moving, unsigned staying, std::size_t axis,
              int sign) {
    for (std::size_t p = 0; p < puzzle.size(); ++p) {
        if ((moving >> p & 1) == 0) continue;
        for (std::size_t q = 0; q < puzzle.size(); ++q) {
            if ((staying >> q & 1) == 0) continue;
            for (const Cell& cell : puzzle[p])
                for (int far = 1; far < 8; ++far) {
                    Cell there = cell;
                    there[axis] += sign * far;
                    if (puzzle[q].count(there) > 0) return false;
                }
        }
    }
    return true;
}

/// Brute force over all subsets: can it be parted, again and again, until only single pieces are left?
bool comesApart(const std::vector<std::set<Cell>>& puzzle, unsigned set, std::map<unsigned, bool>& known) {
    if ((set & (set - 1)) == 0) return true;
    if (const auto found = known.find(set); found != known.end()) return found->second;
    bool apart = false;
    for (unsigned part = (set - 1) & set; part != 0 && !apart; part = (part - 1) & set)
        for (std::size_t axis = 0; axis < 3 && !apart; ++axis)
            for (const int sign : {1, -1})
                if (canLeave(puzzle, part, set & ~part, axis, sign) && comesApart(puzzle, part, known) &&
                    comesApart(puzzle, set & ~part, known)) {
                    apart = true;
                    break;
                }
    return known[set] = apart;
}

} // namespace

TEST(AssemblyWays, EachBondLetsGoAlongItsPorts) {
    struct Case {
        const char *first, *second;
        const char* ways; ///< of the second
    };
    // Hand-made from the shapes: studs upward; a pin out of its hole; an axle through a hole both ways, out of a
    // motor one way; ball and cup apart; fingers apart; a clip off its bar.
    for (const Case& c :
         std::initializer_list<Case>{{"brick 2x4 at 0 0 0", "plate 2x2 at 0 0 3", "+z"},
                                     {"plate 2x4 at 0 0 3", "brick 2x2 at 0 0 0", "-z"},
                                     {"brick 2x4 at 0 0 0", "brick 2x4 at 3 0 0", "+x +y -y +z -z"},
                                     {"beam 3 at 0 0 0", "pin ribbed at 1 -0.5 0 turn 1", "-y"},
                                     {"pin hole brick 1x2 at 0 0 0", "axle 4 at -1 0.5 5.6mm", "+x -x"}}) {
        Built built;
        built.put(0, c.first);
        built.put(0, c.second);
        const auto scene = built.scene();
        EXPECT_EQ(listFree(scene, 1), c.ways) << c.first << " and " << c.second;
        // Going in is coming out backwards: what lets one leave one way lets the other leave the other way.
        for (const int k : {0, 1, 2})
            for (const int sign : {1, -1}) {
                const Way out{sign * Vec3::Unit(k), Vec3::Zero()}, back{-sign * Vec3::Unit(k), Vec3::Zero()};
                EXPECT_EQ(scene.findBlocker(1, out) < 0, scene.findBlocker(0, back) < 0)
                    << c.first << " and " << c.second << " along " << k << " " << sign;
            }
    }
}

namespace {
/// With as few ports as there are, so that a pair is mated by one alone.
base::Result<parts::ShapePtr> makeSmall(const parts::Family& family) {
    auto shape = parts::makeShape(parts::detail::makeName(family, family.low));
    return shape ? shape : parts::makeShape(parts::detail::makeName(family, family.usual));
}
} // namespace

TEST(AssemblyWays, EveryKindOfJointComesApartAlongItsOwnLine) {
    // Of every kind a bare pair, mated in one section: it must come apart, and by straight ways only those of its bond.
    int kinds = 0;
    for (const parts::JointKind& kind : parts::getJointKinds())
        for (const auto& [from, to] : kind.ports) {
            const parts::Family *carrying = nullptr, *carried = nullptr;
            const auto has = [](const parts::Family& family, parts::PortKind port) {
                const auto shape = makeSmall(family);
                return shape && std::any_of((*shape)->ports.begin(), (*shape)->ports.end(),
                                            [&](const parts::Port& p) { return p.kind == port; });
            };
            for (const parts::Family& family : parts::getFamilies()) {
                if (!carrying && has(family, from)) carrying = &family;
                if (!carried && has(family, to)) carried = &family;
            }
            ASSERT_TRUE(carrying && carried) << kind.name;
            const auto a = *makeSmall(*carrying), b = *makeSmall(*carried);
            int portA = 0, portB = 0;
            while (at(a->ports, portA).kind != from) ++portA;
            while (at(b->ports, portB).kind != to) ++portB;
            const geometry::Frame X_a = geometry::Frame::Identity();
            // Origins together, axes opposed, references alike: the joint at zero.
            const auto &p = at(a->ports, portA), &q = at(b->ports, portB);
            const geometry::Frame X_b = geometry::makeAxisFrame(p.origin, -p.axis, p.reference) * q.X_PF().inverse();
            const auto bond =
                make::makeSceneBond(0, *a, X_a, 1, *b, X_b, {{0, portA, 1, portB, parts::BondKind::Movable}});
            Scene scene({make::makeSceneBody(*a, X_a), make::makeSceneBody(*b, X_b)}, {bond});
            std::vector<Way> free;
            for (const Way& way : scene.ways(1))
                if (way.lift == Vec3::Zero() && scene.findBlocker(1, way) < 0) free.push_back(way);
            EXPECT_FALSE(free.empty()) << kind.name << ": " << a->name << " and " << b->name;
            for (const Way& way : free) {
                const bool along = std::any_of(bond.lines[0].begin(), bond.lines[0].end(),
                                               [&](const Vec3& v) { return -v.dot(way.off) > make::kSameWay; });
                EXPECT_TRUE(along) << kind.name << " leaves along " << way.off.transpose();
            }
            ++kinds;
        }
    EXPECT_GE(kinds, 12);
}

TEST(AssemblyPlan, PuzzlesOfCubesAgreeWithBruteForceOverAllSubsets) {
    std::mt19937 random(20261130);
    int apart = 0;
    for (int round = 0; round < 400; ++round) {
        const auto puzzle = makePuzzle(random, 3 + round % 6, 4);
        auto scene = makeScene(puzzle);
        const auto plan = make::planAssembly(scene, make::calcBuildKeys(scene));
        std::map<unsigned, bool> known;
        const bool brute = comesApart(puzzle, (1U << puzzle.size()) - 1, known);
        EXPECT_EQ(plan.stuck.empty(), brute) << "round " << round;
        EXPECT_EQ(plan.order.size() + plan.stuck.size(), puzzle.size());
        EXPECT_EQ(scene.thereCount(), scene.count()) << "the scene is as before";
        apart += brute ? 1 : 0;
    }
    EXPECT_GT(apart, 100);
}

TEST(AssemblyPlan, LinkedRingsStayLinkedAndAPegInItsRingGoesInAsOne) {
    std::set<Cell> flat, upright;
    for (int u = 0; u < 3; ++u)
        for (int v = 0; v < 3; ++v) {
            if (u == 1 && v == 1) continue;
            flat.insert({u, v, 1});
            upright.insert({1, v + 1, u});
        }
    auto linked = makeScene({flat, upright});
    EXPECT_EQ(make::planAssembly(linked, make::calcBuildKeys(linked)).stuck.size(), 2U);

    const std::set<Cell> peg{{1, 1, 2}, {2, 1, 2}};
    std::set<Cell> ring;
    for (int y = 0; y < 3; ++y)
        for (int z = 1; z < 4; ++z)
            if (y != 1 || z != 2) ring.insert({2, y, z});
    // A cradle open above, whose ends keep the peg in the ring and whose sides keep the two in it.
    const std::set<Cell> cradle{{1, 0, 0}, {1, 0, 1}, {1, 0, 2}, {1, 2, 0}, {1, 2, 1}, {1, 2, 2}, {0, 1, 2},
                                {0, 1, 1}, {0, 1, 0}, {1, 1, 0}, {2, 1, 0}, {3, 1, 0}, {3, 1, 1}, {3, 1, 2}};
    auto scene = makeScene({peg, ring, cradle});
    const auto plan = make::planAssembly(scene, make::calcBuildKeys(scene));
    EXPECT_TRUE(plan.stuck.empty());
    ASSERT_EQ(plan.subs.size(), 1U);
    EXPECT_EQ(plan.subs[0].bodies, (std::vector<int>{0, 1}));
    EXPECT_EQ(make::describeWayIn(plan.subs[0].way), "from above");
    // In one step they are joined before they go in; one after the other they never come together.
    EXPECT_TRUE(make::checkOrder(scene, {2, 2, 1}).faults.empty());
    const auto faults = make::checkOrder(scene, {3, 2, 1}).faults;
    ASSERT_EQ(faults.size(), 1U);
    EXPECT_EQ(faults[0].body, 0);
}

TEST(AssemblyPlan, OrdersOfCubesAreFaultyExactlyWhenNoOrderWithinTheStepsWorks) {
    std::mt19937 random(7);
    int good = 0, bad = 0;
    for (int round = 0; round < 400; ++round) {
        const auto puzzle = makePuzzle(random, 5, 3);
        std::vector<int> steps;
        for (std::size_t p = 0; p < puzzle.size(); ++p)
            steps.push_back(std::uniform_int_distribution<int>(1, 3)(random));
        auto scene = makeScene(puzzle);
        // On a table nothing hangs; here pieces hold to nothing, so only ways count.
        const auto faults = make::checkOrder(scene, steps).faults;
        // Brute force: from the last step back, the pieces of a step leave in some order or in groups of it.
        bool works = true;
        unsigned there = (1U << puzzle.size()) - 1;
        for (int step = 3; step >= 1 && works; --step) {
            unsigned open = 0;
            for (std::size_t p = 0; p < puzzle.size(); ++p)
                if (steps[p] == step) open |= 1U << p;
            for (bool more = true; more && open != 0;) {
                more = false;
                for (unsigned part = open; part != 0 && !more; part = (part - 1) & open)
                    for (std::size_t axis = 0; axis < 3 && !more; ++axis)
                        for (const int sign : {1, -1})
                            if (canLeave(puzzle, part, there & ~part, axis, sign)) {
                                there &= ~part;
                                open &= ~part;
                                more = true;
                                break;
                            }
            }
            works = open == 0;
        }
        const bool blocked = std::any_of(faults.begin(), faults.end(), [](const make::OrderFault& fault) {
            return fault.kind == make::OrderFault::Kind::InTheWay;
        });
        EXPECT_EQ(!blocked, works) << "round " << round;
        ++(works ? good : bad);
    }
    EXPECT_GT(good, 30);
    EXPECT_GT(bad, 20);
}

TEST(AssemblyPlan, AShaftGoesThroughItsWheelBetweenWalls) {
    // Two walls of holed bricks, a wheel of 24 between them, an axle through all three; nothing else carries the wheel.
    Built built;
    built.put(0, "plate 8x8 at 0 0 0");
    built.put(0, "brick 1x2 at 1 2 1");
    built.put(0, "brick 1x2 at 4 2 1");
    built.put(0, "pin hole brick 1x2 at 1 2 4");
    built.put(0, "pin hole brick 1x2 at 4 2 4");
    const auto wheel = built.put(0, "spur gear 24 at 2.5 2.5 18.4mm");
    const auto axle = built.put(0, "axle 5 at 0.5 2.5 18.4mm");
    const auto proposal = built.propose();
    EXPECT_TRUE(proposal.plan.stuck.empty());
    ASSERT_EQ(proposal.plan.subs.size(), 1U);
    EXPECT_EQ(proposal.plan.subs[0].kind, make::SubAssembly::Kind::Threaded);
    EXPECT_EQ(at(proposal.steps, built.index(wheel)), at(proposal.steps, built.index(axle)))
        << "the wheel is held while the axle is pushed through it";
    // The axle before its wheel: nothing can be put on it any more.
    const auto parts = built.section().parts; // each step makes the section anew
    for (const model::Part& part : parts) built.step(part.id, part.id == wheel ? 2 : 1);
    const auto faults = built.faults();
    ASSERT_EQ(faults.size(), 1U);
    EXPECT_EQ(faults[0].body, built.index(wheel));
    EXPECT_EQ(faults[0].kind, make::OrderFault::Kind::InTheWay);
}

TEST(AssemblyPlan, WhatHangsUnderAPlateGoesInWithIt) {
    // A bridge of two posts; under its deck hangs a plate between the posts.
    Built built;
    // Its underside is 1.5 mm above the floor's studs: a stud's height cannot be lowered there.
    built.put(0, "plate 8x2 at 0 0 0");
    for (const char* post : {"plate 1x2 at 0 0 1", "plate 1x2 at 7 0 1", "plate 1x2 at 0 0 2", "plate 1x2 at 7 0 2"})
        built.put(0, post);
    const auto hung = built.put(0, "plate 4x2 at 2 0 2");
    const auto deck = built.put(0, "plate 8x2 at 0 0 3");
    const auto proposal = built.propose();
    ASSERT_EQ(proposal.plan.subs.size(), 1U);
    EXPECT_EQ(proposal.plan.subs[0].kind, make::SubAssembly::Kind::Whole);
    EXPECT_EQ(proposal.plan.subs[0].bodies, (std::vector<int>{built.index(hung), built.index(deck)}));
    EXPECT_EQ(make::describeWayIn(proposal.plan.subs[0].way), "from above");
    // Before the deck it hangs in the air; after it, it is hung from below past the floor, which leaves no room.
    built.step(deck, 2);
    const auto before = built.faults();
    ASSERT_EQ(before.size(), 1U);
    EXPECT_EQ(before[0].kind, make::OrderFault::Kind::NothingToHold);
    EXPECT_EQ(before[0].others, std::vector<int>{built.index(deck)});
    built.step(hung, 3);
    const auto after = built.faults();
    ASSERT_EQ(after.size(), 1U);
    EXPECT_EQ(after[0].kind, make::OrderFault::Kind::InTheWay);
    built.step(hung, 2);
    EXPECT_TRUE(built.faults().empty());
}

TEST(AssemblyPlan, AWayUnderSomethingIsALiftAndAPush) {
    // A tile's edge over the last row of studs: the plate under it goes in aslant of nothing, but by lifting off.
    EXPECT_EQ(make::describeWayIn({Vec3::UnitZ(), Vec3::Zero()}), "from above");
    EXPECT_EQ(make::describeWayIn({-Vec3::UnitY(), Vec3(0, 0, 2)}), "from the front, then down");
    Built built;
    built.put(0, "plate 6x2 at 0 0 0");
    built.put(0, "brick 1x2 at 0 0 1");
    built.put(0, "brick 1x2 at 0 0 4");
    built.put(0, "plate 2x2 at 0 0 7"); // overhangs by one stud, two bricks up
    const auto low = built.put(0, "plate 1x2 at 1 0 1");
    const auto scene = built.scene();
    EXPECT_GE(scene.findBlocker(built.index(low), {Vec3::UnitZ(), Vec3::Zero()}), 0);
    bool found = false;
    for (const Way& way : scene.ways(built.index(low)))
        found = found || (scene.findBlocker(built.index(low), way) < 0 && way.lift.z() > 0 && way.off.x() > 0.9);
    EXPECT_TRUE(found) << "up by a stud's height and out to the right";
    EXPECT_TRUE(built.propose().plan.stuck.empty());
}

TEST(AssemblyMend, MovesAsFewAsBruteForce) {
    // Stacks of plates side by side in shuffled steps: how few must move, tried over all subsets and steps.
    std::mt19937 random(11);
    for (int round = 0; round < 25; ++round) {
        Built built;
        built.put(0, "plate 8x2 at 0 0 0");
        std::vector<model::PartId> stack;
        for (int k = 1; k <= 3; ++k) stack.push_back(built.put(0, "plate 2x2 at 0 0 " + std::to_string(k)));
        for (int k = 1; k <= 2; ++k) stack.push_back(built.put(0, "plate 2x2 at 4 0 " + std::to_string(k)));
        for (const auto& id : stack) built.step(id, std::uniform_int_distribution<int>(1, 4)(random));
        const auto steps = make::listPartSteps(built.section());
        auto scene = built.scene();
        std::size_t fewest = 99;
        for (unsigned set = 0; set < 32; ++set) {
            const auto size = static_cast<std::size_t>(__builtin_popcount(set));
            if (size >= fewest) continue;
            std::vector<int> moved;
            for (int k = 0; k < 5; ++k)
                if (set >> k & 1) moved.push_back(1 + k);
            int all = 1;
            for (std::size_t k = 0; k < moved.size(); ++k) all *= 4;
            for (int code = 0; code < all; ++code) {
                auto tried = steps;
                int rest = code;
                for (const int b : moved) {
                    at(tried, b) = 1 + rest % 4;
                    rest /= 4;
                }
                if (make::checkOrder(scene, tried).faults.empty()) {
                    fewest = size;
                    break;
                }
            }
        }
        const auto mend = built.propose().mend;
        EXPECT_EQ(mend.moves.size(), fewest) << "round " << round;
        if (!mend.moves.empty()) {
            EXPECT_TRUE(make::checkOrder(scene, mend.steps).faults.empty());
        }
    }
}

namespace {

/// Another checker: moves each body of a plan out by small steps and asks for depths in the ordinary way.
void replay(const model::Section& section, const bonds::SectionBonds& bonds, const make::AssemblyPlan& plan) {
    std::set<std::array<int, 4>> mated; // part, solid, part, solid: both ways round
    for (const bonds::Mate& mate : bonds.mates)
        for (const int k : at(at(section.parts, mate.partA).shape->ports, mate.portA).solids)
            for (const int l : at(at(section.parts, mate.partB).shape->ports, mate.portB).solids) {
                mated.insert({mate.partA, k, mate.partB, l});
                mated.insert({mate.partB, l, mate.partA, k});
            }
    std::set<std::pair<int, int>> overlapping;
    for (const auto& overlap : bonds.overlaps) {
        overlapping.emplace(overlap.partA, overlap.partB);
        overlapping.emplace(overlap.partB, overlap.partA);
    }
    const auto boxOf = [](const parts::Shape& shape, const geometry::Frame& X) {
        geometry::Bounds box;
        for (int corner = 0; corner < 8; ++corner)
            box.include(X * Vec3(corner & 1 ? shape.bounds.high.x() : shape.bounds.low.x(),
                                 corner & 2 ? shape.bounds.high.y() : shape.bounds.low.y(),
                                 corner & 4 ? shape.bounds.high.z() : shape.bounds.low.z()));
        return box;
    };
    std::vector<geometry::Bounds> boxes;
    for (const model::Part& part : section.parts) boxes.push_back(boxOf(*part.shape, part.place.frame()));
    std::set<int> there(plan.stuck.begin(), plan.stuck.end());
    for (const make::PlannedBody& planned : plan.order) {
        if (planned.sub < 0) { // groups are asked as a whole by the checker of orders
            const auto& part = at(section.parts, planned.body);
            for (double far = 1; far <= 24; far += 1.5) {
                const Vec3 lift = planned.way.lift, by = lift + far * planned.way.off;
                geometry::Frame X = part.place.frame();
                X.translation() += by;
                for (const int q : there) {
                    if (overlapping.count({planned.body, q}) > 0) continue;
                    const auto& other = at(section.parts, q);
                    if (!part.shape->rings.empty() && !other.shape->rings.empty()) continue; // teeth along teeth
                    if (!boxOf(*part.shape, X).overlaps(at(boxes, q), 0)) continue;
                    for (std::size_t k = 0; k < part.shape->solids.size(); ++k)
                        for (std::size_t l = 0; l < other.shape->solids.size(); ++l) {
                            const bool seat =
                                mated.count({planned.body, static_cast<int>(k), q, static_cast<int>(l)}) > 0;
                            if (seat && lift == Vec3::Zero()) continue;
                            // A shaft through holes further on is right where it is in line with them.
                            if (part.shape->family == "axle" || other.shape->family == "axle") continue;
                            const double depth =
                                geometry::calcDepth(parts::placeSolid(part.shape->solids[k], X),
                                                    parts::placeSolid(other.shape->solids[l], other.place.frame()));
                            EXPECT_LE(depth, geometry::kContactToleranceMm + 1e-6)
                                << part.id.text << " " << part.shape->name << " " << make::describeWayIn(planned.way)
                                << " past " << other.id.text << " " << other.shape->name;
                        }
                }
            }
        }
        there.insert(planned.body);
    }
}

} // namespace

TEST(AssemblyDemo, EveryPlanOfEveryDemoIsReplayedByAnotherChecker) {
    for (const char* name : {"heron", "cart", "bridge", "neck-drive", "drum", "fairgoer-captain", "heron-stand",
                             "crab-leg", "heron-beak"}) {
        const auto project = test::must(files::loadProject(test::repo(std::string("/data/demo/") + name + ".ivrant")));
        const auto bonds = bonds::calcBonds(project);
        for (std::size_t s = 0; s < project.sections.size(); ++s) {
            SCOPED_TRACE(name + (" " + project.sections[s]->name));
            const auto proposal = make::proposeAssembly(*project.sections[s], *bonds[s]);
            EXPECT_TRUE(proposal.plan.stuck.empty());
            replay(*project.sections[s], *bonds[s], proposal.plan);
            Scene scene(*project.sections[s], *bonds[s]);
            EXPECT_TRUE(make::checkOrder(scene, proposal.steps).faults.empty()) << "the plan's own steps";
            EXPECT_TRUE(make::checkOrder(scene, make::listPartSteps(*project.sections[s])).faults.empty())
                << "the steps that the demo has";
        }
    }
}

TEST(AssemblyDemo, TheHeronsOldOrderIsToldWithTheMovesThatMendIt) {
    auto project = test::must(files::loadProject(test::repo("/data/demo/heron.ivrant")));
    // As it was first written down: of both wings the square plate came before what it hangs on.
    std::vector<model::PartId> plates;
    for (const auto& section : project.sections)
        for (const model::Part& part : section->parts)
            if (section->name.ends_with("wing") && part.shape->name == "plate 3x3") plates.push_back(part.id);
    ASSERT_EQ(plates.size(), 2U);
    project = test::must(model::setStep(project, plates, 2));
    const auto report = verdict::calcReport(std::make_shared<const model::Project>(project));
    std::vector<verdict::Verdict> told;
    for (const auto& v : report.verdicts)
        if (v.check == "order" && v.state == verdict::State::Fail) told.push_back(v);
    ASSERT_EQ(told.size(), 2U);
    for (const auto& v : told) {
        EXPECT_NE(v.text.find("plate 3x3 of "), std::string::npos) << v.text;
        EXPECT_NE(v.text.find("has nothing to hold to at step 2"), std::string::npos) << v.text;
        EXPECT_NE(v.detail.find("plate 1x6 of step 3"), std::string::npos) << v.detail;
        const auto mends = verdict::listMends(report, v);
        ASSERT_FALSE(mends.empty());
        EXPECT_NE(mends[0].text.find("move the plate 3x3"), std::string::npos) << mends[0].text;
        EXPECT_NE(mends[0].text.find("from step 2 to step 3"), std::string::npos) << mends[0].text;
        EXPECT_TRUE(mends[0].tried);
    }
    // Each wing is a line of its own; all good sections are one.
    const auto groups = verdict::groupVerdicts(report.verdicts, project);
    EXPECT_EQ(std::count_if(groups.begin(), groups.end(),
                            [](const verdict::Group& group) {
                                return group.members.front().check == "order" && group.state == verdict::State::Good;
                            }),
              1);
}

TEST(AssemblyScript, OrderWorksTheStepsOut) {
    const std::string parts = "part floor = plate 8x2 at 0 0 0\npart post = brick 1x2 at 0 0 1\n"
                              "part hung = plate 4x2 at 1 0 3\nstep\npart deck = plate 8x2 at 0 0 4\n";
    const auto stepOf = [](const model::Project& project, std::size_t part) {
        return project.sections.front()->parts.at(part).step;
    };
    const auto plain = test::must(script::runScript("section Gate\n" + parts));
    EXPECT_EQ(stepOf(plain, 2), 1);
    const auto mended = test::must(script::runScript("section Gate\n" + parts + "order\n"));
    EXPECT_EQ(stepOf(mended, 2), stepOf(mended, 3)) << "what hangs on the deck goes in with it";
    const auto planned = test::must(script::runScript("section Gate\n" + parts + "order plan most 2\n"));
    EXPECT_EQ(stepOf(planned, 0), 1);
    EXPECT_GE(stepOf(planned, 3), 2);
    EXPECT_FALSE(script::runScript("section Gate\n" + parts + "order plan most 0\n"));
    EXPECT_EQ(script::runScript("section Gate\norder nowhere\n").error().place, "line 2");
}

namespace {

/// An arm that turns on an axle between two walls of its base.
struct ArmBetweenWalls : test::Figure {
    model::PartId axle, arm;
    ArmBetweenWalls() {
        put(0, "plate 8x8 at 0 0 0");
        for (const char* part :
             {"brick 1x2 at 1 2 1", "brick 1x2 at 4 2 1", "pin hole brick 1x2 at 1 2 4", "pin hole brick 1x2 at 4 2 4"})
            put(0, part);
        axle = put(0, "axle 5 at 0.5 2.5 18.4mm");
        arm = put(1, "cross beam 3 at 0 0 0");
        join("driven by axle", axle, "at 1", arm, "cross");
    }
    [[nodiscard]] verdict::Report report() const {
        return verdict::calcReport(std::make_shared<const model::Project>(project));
    }
};

const verdict::Verdict* findCheck(const verdict::Report& report, const std::string& check) {
    for (const auto& v : report.verdicts)
        if (v.check == check && v.state != verdict::State::Good) return &v;
    return nullptr;
}

} // namespace

TEST(AssemblyJoins, AnAxleIsPushedThroughOnceTheArmIsThere) {
    ArmBetweenWalls figure;
    const auto report = figure.report();
    const auto* told = findCheck(report, "joins-on");
    ASSERT_TRUE(told);
    EXPECT_EQ(told->state, verdict::State::Thin);
    EXPECT_NE(told->text.find("Section 2 has no straight way onto"), std::string::npos) << told->text;
    const auto mends = verdict::listMends(report, *told);
    ASSERT_EQ(mends.size(), 1U);
    EXPECT_EQ(mends[0].text, "put axle 5 on once Section 2 is on");
    figure.project = test::must(mends[0].apply(figure.project));
    const auto mended = figure.report();
    EXPECT_FALSE(findCheck(mended, "joins-on"));
    EXPECT_FALSE(findCheck(mended, "order"));
    EXPECT_FALSE(findCheck(mended, "order-waiting"));
    const auto steps = make::listSteps(figure.project, figure.tree());
    ASSERT_GE(steps.size(), 3U);
    EXPECT_EQ(steps.back().after, 1);
    EXPECT_EQ(steps.back().added, std::vector<int>{model::PartIndex(figure.project).find(figure.axle).part});
    std::size_t built = 0;
    for (const auto& step : steps) built += step.added.size();
    EXPECT_EQ(built, figure.project.partCount()) << "each part once";
    // Through file and script and back.
    const auto read = test::must(files::parseProject(files::writeProject(figure.project)));
    EXPECT_EQ(files::writeProject(read), files::writeProject(figure.project));
    const auto scripted = test::must(script::runScript(script::writeScript(figure.project)));
    EXPECT_EQ(make::listSteps(scripted, test::must(model::makeTree(scripted))).back().after, 1);
    // With a lid that closes the way the axle takes, nothing helps any more and it is told.
    for (const char* plug : {"brick 1x2 at -1 2 4", "brick 1x2 at -1 2 1", "brick 1x2 at 6 2 1", "brick 1x2 at 6 2 4"})
        figure.put(0, plug);
    const auto closed = figure.report();
    const auto* waiting = findCheck(closed, "order-waiting");
    ASSERT_TRUE(waiting);
    EXPECT_EQ(waiting->state, verdict::State::Fail);
    EXPECT_NE(waiting->text.find("axle 5 of Base cannot go in once Section 2 is on"), std::string::npos)
        << waiting->text;
}

TEST(AssemblyJoins, WhatWaitsForAGoneSectionWaitsForNothing) {
    ArmBetweenWalls figure;
    const auto arm = figure.project.sections[1]->id;
    figure.project = test::must(model::setAfter(figure.project, {&figure.axle, 1}, arm));
    EXPECT_EQ(figure.project.sections[0]->parts.back().after, arm);
    EXPECT_TRUE(model::setAfter(figure.project, {&figure.arm, 1}, arm)) << "once its own section is on";
    EXPECT_FALSE(model::setAfter(figure.project, {&figure.axle, 1}, {"nowhere"}));
    const auto back = test::must(model::setAfter(figure.project, {&figure.axle, 1}, {}));
    EXPECT_TRUE(back.sections[0]->parts.back().after.empty());
    const auto base = figure.project.sections[0]->id;
    const auto own = test::must(model::setAfter(figure.project, {&figure.axle, 1}, base));
    const auto twice = test::must(model::duplicateSection(own, base, false, geometry::Frame::Identity()));
    EXPECT_EQ(twice.sections.back()->parts.back().after, twice.sections.back()->id) << "a copy waits for itself";
    const auto alone = test::must(model::removeSection(figure.project, arm));
    EXPECT_TRUE(alone.sections[0]->parts.back().after.empty());
    // A file that names a section that is not there is refused with its place.
    std::string text = files::writeProject(figure.project);
    const std::string named = "\"after\": \"" + arm.text + "\"";
    ASSERT_NE(text.find(named), std::string::npos);
    text.replace(text.find(named), named.size(), "\"after\": \"s99\"");
    const auto refused = files::parseProject(text);
    ASSERT_FALSE(refused);
    EXPECT_EQ(refused.error().code, "part.after");
    EXPECT_NE(refused.error().place.find("/after"), std::string::npos);
}

TEST(AssemblyJoins, SectionsOfOneSetOfPartsAreFoundInAnyTurn) {
    test::Figure figure;
    figure.put(0, "plate 2x4 at 0 0 0");
    figure.put(0, "slope 2x2 at 0 0 1");
    figure.put(1, "plate 2x4 at 5 5 0");
    figure.put(1, "slope 2x2 at 5 5 1");
    figure.put(2, "plate 4x2 at 0 0 0 turn 0"); // a quarter turn of it: (x, y) to (-y, x)
    figure.put(3, "plate 2x4 at 0 0 0");
    figure.put(3, "slope 2x2 at 0 2 1"); // at the other end
    const auto like = make::findLikeSections(figure.project);
    EXPECT_EQ(like.same, (std::vector<int>{0, 0, 2, 3}));
    test::Figure colours = figure;
    const auto id = colours.project.sections[1]->parts.front().id;
    colours.project = test::must(model::recolourParts(colours.project, {&id, 1}, 3));
    EXPECT_EQ(make::findLikeSections(colours.project).same[1], 1) << "another colour is another set";
}
