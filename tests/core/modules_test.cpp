// SPDX-License-Identifier: GPL-3.0-or-later
// What lifts off by hand: force and room by hand arithmetic, what comes along against the balance of the whole, order,
// folding, reach; stored, written and built again.
#include "core/study/modules.h"

#include <gtest/gtest.h>

#include <set>

#include "core/base/units.h"
#include "core/files/project_file.h"
#include "core/model/edits_options.h"
#include "core/parts/family_table.h"
#include "core/script/script.h"
#include "core/script/script_export.h"
#include "core/study/stand_cases.h"
#include "core/trials/strengths.h"
#include "core/verdict/mends.h"
#include "tests/support/figures.h"
#include "tests/support/reports.h"

using namespace ivrant;
using geometry::Vec3;
using test::must;

namespace {

struct Lifted : test::Figure {
    void lifts(const std::string& name, const std::vector<model::PartId>& parts) {
        model::Module one;
        one.name = name;
        one.parts = parts;
        project = must(model::putModule(project, one));
    }
    void reach(const model::PartId& part, model::Side side, bool plug = false, int most = 1) {
        model::Reach one;
        one.name = "Switch";
        one.part = part;
        one.side = side;
        one.plug = plug;
        one.mostMoves = most;
        project = must(model::putReach(project, one));
    }
    [[nodiscard]] study::Facts facts() const {
        study::Wanted wanted;
        wanted.facts = study::kModules | study::kAtRest;
        return study::calcFacts(std::make_shared<const model::Project>(project), wanted);
    }
    [[nodiscard]] study::LiftModule lift(std::size_t index = 0) const { return facts().modules->modules.at(index); }
    [[nodiscard]] study::ReachWay way(std::size_t index = 0) const { return facts().modules->reaches.at(index); }
    [[nodiscard]] double studN() const { return trials::calcStudPull(project).value; }
    [[nodiscard]] std::set<std::string> names(const std::vector<model::PartSpot>& spots) const {
        std::set<std::string> ids;
        for (const auto spot : spots) ids.insert(model::getPart(project, spot).id.text);
        return ids;
    }
};

/// Walls two bricks high round a field of 2x2 studs; what goes into it has a wall on each of its four sides.
struct Well : Lifted {
    Well() {
        put(0, "plate 6x6 at 0 0 0");
        for (const char* z : {"1", "4"}) {
            put(0, std::string("brick 2x2 at 0 2 ") + z);
            put(0, std::string("brick 2x2 at 4 2 ") + z);
            put(0, std::string("brick 2x2 at 2 0 ") + z);
            put(0, std::string("brick 2x2 at 2 4 ") + z);
        }
    }
};

} // namespace

TEST(Modules, ALidIsHeldByItsStudsAndItsWeight) {
    Lifted figure;
    figure.put(0, "plate 4x4 at 0 0 0");
    const auto lid = figure.put(0, "plate 2x2 at 1 1 1");
    figure.lifts("Lid", {lid});
    const auto one = figure.lift();
    ASSERT_TRUE(one.lifts);
    EXPECT_EQ(study::describeWayOut(one.way), "upward");
    const double weight = base::weightN(must(parts::makeShape("plate 2x2"))->massG);
    EXPECT_NEAR(one.holdN, 4 * figure.studN(), 1e-9);
    EXPECT_NEAR(one.forceN(), 4 * figure.studN() + weight, 1e-9);
    ASSERT_EQ(one.bonds.size(), 1U);
    EXPECT_EQ(one.bonds[0].count, 4);
    EXPECT_FALSE(one.measured);
    EXPECT_TRUE(one.sides.empty());
    EXPECT_EQ(one.alsoGoes, (std::vector<std::string>{"a pitch aside"})) << "a square plate looks alike when turned";
}

// A second way to the force: the whole, held at its base, is pulled at the middle of the lid. It just holds at that
// force and no longer beyond it.
TEST(Modules, TheForceIsThatAtWhichTheBalanceOfTheWholeGivesWay) {
    for (const char* lid : {"plate 2x2 at 1 1 1", "plate 2x4 at 1 0 1", "brick 4x4 at 0 0 1", "plate 1x3 at 1 1 1"}) {
        Lifted figure;
        figure.put(0, "plate 4x6 at 0 0 0");
        const auto id = figure.put(0, lid);
        figure.lifts("Lid", {id});
        const auto facts = figure.facts();
        const auto& one = facts.modules->modules.at(0);
        const auto& pose = facts.poses.front();
        const auto limits = study::calcBondLimits(facts);
        stand::NetRequest request;
        request.ground = false;
        auto net = stand::makeBondNet(pose.placed, facts.bonds, limits, request);
        stand::Contact grip;
        grip.kind = stand::ContactKind::Hand;
        grip.b = 0;
        grip.corners = {net.bodies[0].centre};
        net.contacts.push_back(grip);
        net.floating.clear();
        for (const double share : {0.99, 1.01}) {
            auto loads = stand::calcLoads(net, {0, 0, -1});
            stand::addPush(loads, net, 1, net.bodies[1].centre, Vec3(0, 0, share * one.forceN()));
            EXPECT_EQ(must(stand::calcEquilibrium(net, loads)).stands, share < 1) << lid << " at " << share;
        }
    }
}

TEST(Modules, OnOneStudTheHatTakesTheHeadAlong) {
    Lifted figure;
    figure.put(0, "plate 4x4 at 0 0 0");
    figure.put(0, "round brick 1x1 at 1 1 1");
    const auto head = figure.put(0, "brick 2x2 at 1 1 4");
    const auto hat = figure.put(0, "plate 2x2 at 1 1 7");
    figure.lifts("Hat", {hat});
    const auto one = figure.lift();
    // Four studs part the hat, one holds the head: held at the base the head would come along.
    EXPECT_TRUE(one.rest.holdThere);
    EXPECT_EQ(model::getPart(figure.project, one.rest.hold).id, head);
    EXPECT_GE(one.rest.bonds.value(), 1);
    const auto report = test::reportOf(figure.project);
    const auto* hold = test::findCheck(report, "module-along");
    ASSERT_TRUE(hold);
    EXPECT_EQ(hold->state, verdict::State::Note);
    EXPECT_NE(hold->text.find("brick 2x2"), std::string::npos) << hold->text;
    // On the head itself a cap of one stud holds less than the neck.
    Lifted other;
    other.put(0, "plate 4x4 at 0 0 0");
    other.put(0, "brick 2x2 at 1 1 1");
    const auto knob = other.put(0, "round plate 1x1 at 1 1 4");
    other.lifts("Knob", {knob});
    EXPECT_FALSE(other.lift().rest.holdThere);
    EXPECT_EQ(test::findCheck(test::reportOf(other.project), "module")->state, verdict::State::Thin);
}

TEST(Modules, WhatHangsTogetherByLessThanItsSeatComesOffInPieces) {
    Lifted figure;
    figure.put(0, "plate 4x4 at 0 0 0");
    // Two plates side by side on eight studs, joined above by one stud each.
    const auto left = figure.put(0, "plate 2x2 at 0 0 1"), right = figure.put(0, "plate 2x2 at 2 0 1");
    const auto bridge = figure.put(0, "plate 1x2 at 1 0 2 turn 1");
    figure.lifts("Pair", {left, right, bridge});
    const auto one = figure.lift();
    ASSERT_TRUE(one.self.bonds);
    // The far plate is pulled down by 4 studs and pulls at one: 6 N against 1.5.
    EXPECT_LT(*one.self.bonds, 1);
    EXPECT_NE(test::findCheck(test::reportOf(figure.project), "module-whole"), nullptr);
}

TEST(Modules, WallsGiveRoomAndLeadIt) {
    Well figure;
    const auto block = figure.put(0, "brick 2x2 at 2 2 1");
    figure.lifts("Block", {block});
    const auto one = figure.lift();
    ASSERT_TRUE(one.lifts);
    ASSERT_EQ(one.sides.size(), 4U);
    for (const auto& side : one.sides) EXPECT_NEAR(side.mm, 0.2, 0.01); // each side face 0.1 mm inside its grid
    // The walls are two bricks high: they lead the block until its underside is above them.
    EXPECT_NEAR(one.ledMm, 2 * 9.6, 0.6);
    EXPECT_TRUE(one.alsoGoes.empty());
    // With a wider field and nothing that holds it, it would rattle; with studs it does not matter.
    EXPECT_EQ(test::findCheck(test::reportOf(figure.project), "module-room"), nullptr);
}

TEST(Modules, TurnedOnesAreToldWhereTheyLookDifferent) {
    Lifted figure;
    figure.put(0, "plate 2x2 at 0 0 0");
    const auto cap = figure.put(0, "plate 2x2 at 0 0 1");
    const auto peak = figure.put(0, "plate 1x2 at 0 0 2");
    figure.lifts("Cap", {cap, peak});
    EXPECT_EQ(figure.lift().alsoGoes, (std::vector<std::string>{"turned by 90°", "turned by 180°", "turned by 270°"}));
    // Where its brim juts out a wall forbids one of them.
    Lifted keyed;
    keyed.put(0, "plate 4x2 at 0 0 0");
    keyed.put(0, "brick 2x2 at 2 0 1");
    const auto own = keyed.put(0, "brick 2x2 at 0 0 1");
    const auto brim = keyed.put(0, "plate 3x2 at -1 0 4");
    keyed.put(0, "brick 2x2 at 2 0 4");
    keyed.lifts("Cap", {own, brim});
    EXPECT_EQ(keyed.lift().alsoGoes, (std::vector<std::string>{"turned by 90°", "turned by 270°"}));
}

TEST(Modules, OneAfterTheOtherAndWhatIsInTheWay) {
    Well figure;
    const auto block = figure.put(0, "brick 2x2 at 2 2 1");
    const auto roof = figure.put(0, "plate 6x6 at 0 0 7");
    figure.lifts("Block", {block});
    auto one = figure.lift();
    EXPECT_FALSE(one.lifts);
    EXPECT_EQ(figure.names(one.blocked), (std::set<std::string>{roof.text}));
    const auto report = test::reportOf(figure.project);
    const auto* stuck = test::findCheck(report, "module");
    ASSERT_TRUE(stuck);
    EXPECT_EQ(stuck->state, verdict::State::Fail);
    const auto mends = verdict::listMends(report, *stuck);
    ASSERT_FALSE(mends.empty());
    const auto mended = must(mends.front().apply(figure.project));
    EXPECT_EQ(mended.modules.list[0].parts.size(), 2U);
    // As a module of its own the roof goes first.
    figure.lifts("Roof", {roof});
    const auto facts = figure.facts();
    EXPECT_TRUE(facts.modules->modules[0].lifts);
    EXPECT_EQ(facts.modules->modules[0].after, (std::vector<int>{1}));
    EXPECT_EQ(study::listLiftOrder(*facts.modules), (std::vector<int>{1, 0}));
}

TEST(Modules, WhatIsOffBeforeHoldsNothingAnyMore) {
    Well figure;
    const auto low = figure.put(0, "brick 2x2 at 2 2 1"), high = figure.put(0, "brick 2x2 at 2 2 4");
    const auto roof = figure.put(0, "plate 6x6 at 0 0 7"); // on the walls and on the block's four studs
    figure.lifts("Block", {low, high});
    figure.lifts("Roof", {roof});
    const auto one = figure.lift();
    ASSERT_TRUE(one.lifts);
    EXPECT_EQ(one.after, (std::vector<int>{1}));
    EXPECT_NEAR(one.holdN, 4 * figure.studN(), 1e-9) << "the floor's studs alone";
    ASSERT_EQ(one.bonds.size(), 1U);
    EXPECT_EQ(one.bonds[0].count, 4);
    // The roof itself is held by the sixteen studs of the walls and the block's four.
    EXPECT_NEAR(figure.lift(1).holdN, 20 * figure.studN(), 1e-9);
}

TEST(Modules, WhatStandsBesideItStaysStanding) {
    Lifted figure;
    figure.put(0, "plate 4x4 at 0 0 0");
    const auto lid = figure.put(0, "plate 2x2 at 1 1 1");
    figure.put(0, "brick 2x2 at 8 0 0"); // by itself on the ground
    figure.put(0, "brick 2x2 at 8 0 3");
    figure.lifts("Lid", {lid});
    const auto one = figure.lift();
    ASSERT_TRUE(one.rest.bonds);
    EXPECT_GE(*one.rest.bonds, 1);
    EXPECT_TRUE(one.rest.along.empty());
    EXPECT_EQ(test::findCheck(test::reportOf(figure.project), "module-along"), nullptr);
}

// Every kind of joint, bare: the carried side lifts off by itself, against its pull-out force and its weight.
TEST(Modules, EveryKindOfJointLetsGo) {
    int kinds = 0;
    for (const parts::JointKind& kind : parts::getJointKinds())
        for (const auto& [from, to] : kind.ports) {
            const auto shapeWith = [](parts::PortKind port) -> parts::ShapePtr {
                for (const parts::Family& family : parts::getFamilies())
                    for (const auto& sizes : {family.low, family.usual})
                        if (const auto shape = parts::makeShape(parts::detail::makeName(family, sizes)))
                            if (std::any_of((*shape)->ports.begin(), (*shape)->ports.end(),
                                            [&](const parts::Port& p) { return p.kind == port; }))
                                return *shape;
                return nullptr;
            };
            const auto nameOf = [](const parts::Shape& shape, parts::PortKind port) {
                for (const parts::Port& p : shape.ports)
                    if (p.kind == port) return p.name;
                return std::string();
            };
            const auto a = shapeWith(from), b = shapeWith(to);
            ASSERT_TRUE(a && b) << kind.name;
            Lifted figure;
            const auto lower = figure.put(0, a->name + " at 0 0 0"), upper = figure.put(1, b->name + " at 0 0 0");
            figure.join(kind.name, lower, nameOf(*a, from), upper, nameOf(*b, to));
            figure.lifts("Carried", {upper});
            const auto one = figure.lift();
            EXPECT_TRUE(one.lifts) << kind.name << ": " << a->name << " and " << b->name;
            ASSERT_FALSE(one.bonds.empty()) << kind.name;
            if (kind.pullOutN && one.bonds.size() == 1 && one.bonds[0].joint == 0 && one.bonds[0].count == 1) {
                const auto strength = trials::calcStrengths(figure.project).front();
                EXPECT_NEAR(one.holdN, strength.pull ? strength.pull->value : *kind.pullOutN, 1e-6) << kind.name;
            }
            EXPECT_GT(one.holdN, 0) << kind.name;
            ++kinds;
        }
    EXPECT_GE(kinds, 12);
}

TEST(Modules, FoldedFirst) {
    Lifted figure;
    figure.put(0, "plate 10x8 at 0 0 0");
    const auto lid = figure.put(0, "plate 2x2 at 6 3 1");
    for (const char* wall : {"brick 2x2 at 6 1 1", "brick 2x2 at 6 5 1", "brick 2x2 at 4 3 1", "brick 2x2 at 8 3 1"})
        figure.put(0, wall); // it goes upward alone
    figure.put(0, "brick 2x2 at 2 3 1");
    const auto lower = figure.put(0, "small turntable lower at 2 3 4");
    const auto upper = figure.put(1, "small turntable upper at 0 0 0");
    figure.put(1, "plate 6x2 at 0 0 1");
    const auto joint = figure.join("small turntable", lower, "lower", upper, "upper", {0}, {{-180, 180}});
    const auto base = figure.project.sections[0]->id;
    model::Stance flat{model::Stance::Kind::Flat, base, {}};
    figure.project = must(model::addPose(figure.project, "Over it", {{joint, {0}}}, flat));
    figure.project = must(model::addPose(figure.project, "Aside", {{joint, {180}}}, flat));
    figure.lifts("Lid", {lid});
    const auto one = figure.lift();
    ASSERT_TRUE(one.lifts);
    EXPECT_TRUE(one.mustFold);
    EXPECT_EQ(one.pose, 1);
    // Where the person says in which pose, that one counts.
    model::Module fixed = figure.project.modules.list[0];
    fixed.pose = figure.project.poses[0].id;
    figure.project = must(model::putModule(figure.project, fixed));
    EXPECT_FALSE(figure.lift().lifts);
}

TEST(Modules, ACounterweightIsMissed) {
    Lifted figure;
    figure.put(0, "plate 4x2 at 0 0 0");
    figure.put(0, "brick 2x2 at 0 0 1");
    figure.put(0, "plate 8x2 at 0 0 4");
    figure.put(0, "brick 2x2 at 6 0 5");
    const auto weight = figure.put(0, "brick 2x2 at 0 0 5");
    const auto more = figure.put(0, "brick 2x2 at 0 0 8");
    figure.lifts("Tail", {weight, more});
    const auto facts = figure.facts();
    const auto one = facts.modules->modules[0];
    ASSERT_TRUE(one.without.tipDeg);
    // By hand: the same model built without them.
    const auto rest = must(model::removeParts(figure.project, std::vector<model::PartId>{weight, more}));
    study::Wanted nothing;
    nothing.facts = 0;
    const auto bare = study::calcFacts(std::make_shared<const model::Project>(rest), nothing);
    EXPECT_NEAR(*one.without.tipDeg, bare.poses.front().tipping->angleDeg, 1e-9);
    EXPECT_LT(*one.without.tipDeg, facts.poses.front().tipping->angleDeg);
}

TEST(Reaches, MovesAreCounted) {
    Well figure;
    const auto box = figure.put(0, "brick 2x2 at 2 2 1");
    figure.reach(box, model::Side::Top);
    EXPECT_TRUE(figure.way().found); // a well of 16 mm takes a finger of 14
    EXPECT_EQ(figure.way().moves, 0);
    const auto roof = figure.put(0, "plate 6x6 at 0 0 7");
    EXPECT_FALSE(figure.way().found);
    EXPECT_EQ(figure.names(figure.way().blocked), (std::set<std::string>{roof.text}));
    figure.lifts("Roof", {roof});
    EXPECT_TRUE(figure.way().found);
    EXPECT_EQ(figure.way().moves, 1);
    EXPECT_EQ(figure.way().lifted, (std::vector<int>{0}));
    const auto top = figure.put(0, "brick 2x6 at 2 0 8");
    figure.lifts("Top", {top});
    EXPECT_EQ(figure.way().moves, 2) << "the brick on the roof belongs to no roof";
    EXPECT_EQ(figure.way().lifted, (std::vector<int>{1, 0}));
    const auto report = test::reportOf(figure.project);
    const auto* far = test::findCheck(report, "reach");
    ASSERT_TRUE(far);
    EXPECT_EQ(far->state, verdict::State::Fail);
    EXPECT_NE(far->detail.find("lift off Top, then lift off Roof"), std::string::npos) << far->detail;
}

TEST(Reaches, AModuleThatTakesThePlaceAlongFreesWhatStaysBehind) {
    // A switch under a lid that is part of the same module stays covered; one on the module's underside comes free.
    Lifted figure;
    figure.put(0, "plate 6x6 at 0 0 0");
    const auto box = figure.put(0, "brick 4x4 at 1 1 1"), lid = figure.put(0, "plate 6x6 at 0 0 4");
    figure.lifts("Upper", {box, lid});
    figure.reach(box, model::Side::Top);
    figure.reach(box, model::Side::Bottom, false, 2);
    EXPECT_FALSE(figure.way(0).found);
    EXPECT_EQ(figure.names(figure.way(0).blocked), (std::set<std::string>{lid.text}));
    ASSERT_TRUE(figure.way(1).found);
    EXPECT_EQ(figure.way(1).lifted, (std::vector<int>{0}));
    EXPECT_EQ(figure.way(1).moves, 2) << "lifted off and turned over";
}

TEST(Reaches, AFingerIsWiderThanAPlug) {
    // A shaft of 1.5 pitches cannot be built; one of a pitch and a half of air beside a wall can: 12 mm take the plug.
    Lifted figure;
    const auto floor = figure.put(0, "tile 1x1 at 2 2 1");
    figure.put(0, "plate 6x6 at 0 0 0");
    for (const char* wall : {"brick 2x6 at 0 0 1", "brick 2x6 at 3 0 1", "brick 1x2 at 2 0 1", "brick 1x3 at 2 3 1"})
        figure.put(0, wall);
    figure.reach(floor, model::Side::Top);
    figure.reach(floor, model::Side::Top, true);
    const auto facts = figure.facts();
    EXPECT_FALSE(facts.modules->reaches[0].found) << "a hole of one pitch takes no finger";
    EXPECT_FALSE(facts.modules->reaches[1].found) << "nor a plug of 10 mm";
    Lifted wide;
    const auto low = wide.put(0, "tile 2x2 at 2 2 1");
    wide.put(0, "plate 6x6 at 0 0 0");
    wide.reach(low, model::Side::Top);
    wide.reach(low, model::Side::Bottom);
    EXPECT_EQ(wide.way(0).moves, 0);
    EXPECT_FALSE(wide.way(1).found) << "it lies on a plate";
    // From below the model is turned over.
    Lifted under;
    const auto plate = under.put(0, "plate 4x4 at 0 0 0");
    under.reach(plate, model::Side::Bottom, false, 0);
    EXPECT_TRUE(under.way().turnedOver);
    EXPECT_EQ(under.way().moves, 1);
    EXPECT_EQ(test::findCheck(test::reportOf(under.project), "reach")->state, verdict::State::Fail);
}

TEST(Modules, OfAnOptionItIsWhateverIsChosen) {
    Lifted figure;
    figure.put(0, "brick 2x2 at 0 0 0");
    const auto low = figure.put(0, "plate 2x2 at 0 0 3");
    figure.project = must(model::addOption(figure.project, "Hat", "low", std::vector<model::PartId>{low}));
    const auto option = figure.project.options.list[0].id;
    model::Module one;
    one.name = "Hat";
    one.option = option;
    figure.project = must(model::putModule(figure.project, one));
    EXPECT_EQ(figure.lift().parts.size(), 1U);
    figure.project = must(model::addAlternative(figure.project, option, "high"));
    EXPECT_TRUE(figure.lift().parts.empty());
    EXPECT_EQ(test::findCheck(test::reportOf(figure.project), "module"), nullptr) << "what is not there says nothing";
    const auto brick = figure.put(0, "brick 2x2 at 0 0 3"), more = figure.put(0, "brick 2x2 at 0 0 6");
    figure.project = must(model::assignToChosen(figure.project, option, std::vector<model::PartId>{brick, more}));
    EXPECT_EQ(figure.lift().parts.size(), 2U);
}

TEST(Modules, InVariantsFilesAndScripts) {
    Well figure;
    const auto block = figure.put(0, "brick 2x2 at 2 2 1");
    figure.lifts("Block", {block});
    figure.reach(block, model::Side::Left, true, 3);
    const std::string text = files::writeProject(figure.project);
    const auto again = must(files::parseProject(text));
    EXPECT_EQ(files::writeProject(again), text);
    EXPECT_EQ(again.modules.list[0].parts, figure.project.modules.list[0].parts);
    EXPECT_EQ(again.modules.reaches[0].side, model::Side::Left);
    EXPECT_TRUE(again.modules.reaches[0].plug);
    EXPECT_EQ(again.modules.reaches[0].mostMoves, 3);
    const auto built = must(script::runScript(script::writeScript(figure.project)));
    ASSERT_EQ(built.modules.list.size(), 1U);
    EXPECT_EQ(built.modules.list[0].name, "Block");
    EXPECT_EQ(model::listModuleParts(built, built.modules.list[0]),
              model::listModuleParts(figure.project, figure.project.modules.list[0]));
    EXPECT_EQ(built.modules.reaches[0].mostMoves, 3);
    EXPECT_TRUE(built.modules.reaches[0].plug);
    EXPECT_FALSE(script::runScript("part a = plate 2x2 at 0 0 0\nlifts Lid : b"));
    EXPECT_FALSE(script::runScript("part a = plate 2x2 at 0 0 0\nreach Switch on a sideways"));
    // What is removed is left out; an empty or nameless one is refused.
    const auto gone = must(model::removeParts(figure.project, std::vector<model::PartId>{block}));
    EXPECT_TRUE(model::listModuleParts(gone, gone.modules.list[0]).empty());
    const auto facts = study::calcFacts(std::make_shared<const model::Project>(gone));
    EXPECT_TRUE(facts.modules->reaches[0].gone);
    EXPECT_EQ(model::putModule(figure.project, {}).error().code, "edit.name");
    model::Module bare;
    bare.name = "Bare";
    EXPECT_EQ(model::putModule(figure.project, bare).error().code, "module.empty");
}

TEST(Modules, BadFilesAreToldWithTheirPlace) {
    Well figure;
    figure.lifts("Block", {figure.put(0, "brick 2x2 at 2 2 1")});
    const std::string text = files::writeProject(figure.project);
    const auto with = [&](const std::string& from, const std::string& to) {
        std::string changed = text;
        changed.replace(changed.find(from), from.size(), to);
        return files::parseProject(changed);
    };
    EXPECT_EQ(with("\"name\": \"Block\"", "\"name\": \"\"").error().place, "/modules/0/name");
    const auto reaches = [&](const std::string& entry) {
        return with(",\n  \"modules\"", ",\n  \"reaches\": [" + entry + "],\n  \"modules\"");
    };
    EXPECT_EQ(reaches(R"({"id":"r900","name":"S","part":"p1","side":"inside"})").error().place, "/reaches/0/side");
    EXPECT_EQ(reaches(R"({"id":"r900","name":"S","part":"p1","side":"top","with":"hand"})").error().place,
              "/reaches/0/with");
    EXPECT_EQ(reaches(R"({"id":"r900","name":"S","part":"p1","side":"top","most_moves":-1})").error().place,
              "/reaches/0/most_moves");
    EXPECT_TRUE(reaches(R"({"id":"r900","name":"S","part":"p9999","side":"top"})")) << "a part may be gone";
}
