// SPDX-License-Identifier: GPL-3.0-or-later
// Boards through the project file and back, hostile ones refused with their place; verdicts on boards and what mends
// them.
#include <cmath>
#include <gtest/gtest.h>

#include "core/brief/measures.h"
#include "core/files/project_file.h"
#include "core/files/results_drive.h"
#include "core/make/parts_list.h"
#include "core/model/board_parts.h"
#include "core/model/mass.h"
#include "core/model/variants.h"
#include "core/parts/family.h"
#include "core/verdict/asks/asks.h"
#include "core/verdict/mends.h"
#include "tests/support/boards.h"
#include "tests/support/repo.h"

using namespace ivrant;
using model::GearKind;
using test::BoardFigure;
using test::must;
using verdict::State;

namespace {

verdict::Report report(const BoardFigure& f) {
    return verdict::calcReport(std::make_shared<const model::Project>(f.project));
}

const verdict::Verdict* find(const verdict::Report& r, const std::string& check) {
    for (const auto& v : r.verdicts)
        if (v.check == check) return &v;
    return nullptr;
}

/// One of each kind of thing.
BoardFigure makeFull() {
    BoardFigure f;
    f.project = must(model::setWalls(f.project, f.board, {0, 24000}));
    const auto a = f.shaft(0, 0, 5, -0.5), b = f.shaft(2, 0, 5, -0.5),
               c = f.shaft(0, 4, 4, 1, model::BoardAxis::Right, "Across");
    f.spur(a, 8, 1.5);
    const auto loose = f.gear(b, GearKind::Spur, 24, 1.5, true);
    model::Gear worm;
    worm.kind = GearKind::Worm;
    worm.teeth = 2;
    worm.leftHand = true;
    worm.shaft = c;
    worm.alongUm = 16000;
    f.put(worm);
    f.rack(-3, -1, 1, 12);
    const auto sa = f.gear(a, GearKind::Sprocket, 10, 3.5), sb = f.gear(b, GearKind::Sprocket, 10, 3.5);
    f.project = must(model::putLoop(f.project, f.board, {{}, false, false, {sa, sb}, 12, {}}));
    f.project = must(model::putCoupling(f.project, f.board, {{}, a, c, true, {}}));
    f.motor(a);
    f.project = must(model::putSelector(f.project, f.board, {{}, "S", {{"on", {loose}}, {"off", {}}}, 1, {}}));
    model::DriveFunction function;
    function.name = "Lift";
    function.shaft = b;
    function.load = model::LoadKind::Arm;
    function.amount = 120.5;
    function.radiusMm = 40;
    function.fromDeg = -15;
    function.travel = 80;
    function.withinS = 2.5;
    function.wantedRpm = 7;
    function.mustHold = function.withOthers = true;
    f.function(function);
    model::Place place;
    place.atUm = {1000, 2000, 3000};
    place.attitude = 5;
    f.project = must(model::placeBoard(f.project, f.board, f.project.sections[0]->id, place));
    return f;
}

TEST(BoardFile, RoundTripKeepsEverything) {
    const BoardFigure f = makeFull();
    const std::string text = files::writeProject(f.project);
    const auto again = must(files::parseProject(text));
    EXPECT_EQ(files::writeProject(again), text);
    const auto &was = *f.project.boards.at(0), &now = *again.boards.at(0);
    EXPECT_EQ(now.wallsUm, was.wallsUm);
    EXPECT_TRUE(now.place == was.place);
    ASSERT_EQ(now.gears.size(), was.gears.size());
    EXPECT_TRUE(now.gears[1].loose);
    EXPECT_TRUE(now.gears[2].leftHand);
    EXPECT_EQ(now.gears[3].kind, GearKind::Rack);
    EXPECT_EQ(now.loops.at(0).links, 12);
    EXPECT_TRUE(now.couplings.at(0).universal);
    EXPECT_EQ(now.selectors.at(0).at, 1);
    EXPECT_EQ(now.functions.at(0).amount, 120.5);
    EXPECT_EQ(now.functions.at(0).withinS, 2.5);
    EXPECT_TRUE(now.functions.at(0).mustHold);
    EXPECT_TRUE(now.functions.at(0).withOthers);
    EXPECT_EQ(again.nextId, f.project.nextId) << "ids on boards count";
}

TEST(BoardFile, UnknownKeysSurvive) {
    std::string text = files::writeProject(makeFull().project);
    const std::string key = "\"kind\": \"worm\"";
    text.replace(text.find(key), key.size(), key + ", \"later\": { \"x\": [1, 2] }");
    EXPECT_NE(files::writeProject(must(files::parseProject(text))).find("\"later\": { \"x\": [1, 2] }"),
              std::string::npos);
}

TEST(BoardFile, HostileBoardsAreRefusedWithTheirPlace) {
    const std::string text = files::writeProject(makeFull().project);
    const auto expect = [&](const std::string& was, const std::string& now, const std::string& pointer) {
        std::string broken = text;
        const auto at = broken.find(was);
        ASSERT_NE(at, std::string::npos) << was;
        broken.replace(at, was.size(), now);
        const auto result = files::parseProject(broken);
        ASSERT_FALSE(result.ok()) << now;
        EXPECT_EQ(result.error().place.rfind(pointer, 0), 0U) << result.error().place << ": " << result.error().message;
    };
    expect("\"teeth\": 8", "\"teeth\": 0", "/boards/0/gears/0/teeth");
    expect("\"teeth\": 8", "\"teeth\": 1e300", "/boards/0/gears/0/teeth");
    expect("\"teeth\": 8", "\"teeth\": 99999999999", "/boards/0/gears/0/teeth");
    expect("\"kind\": \"spur\"", "\"kind\": \"cog\"", "/boards/0/gears/0/kind");
    expect("\"axis\": \"out\"", "\"axis\": \"down\"", "/boards/0/shafts/0/axis");
    expect("\"load\": \"arm\"", "\"load\": \"wind\"", "/boards/0/functions/0/load");
    expect("\"now\": 1", "\"now\": 7", "/boards/0/selectors/0/now");
    expect("\"amount\": 120.5", "\"amount\": -1", "/boards/0/functions/0/amount");
    expect("\"within_s\": 2.5", "\"within_s\": 0", "/boards/0/functions/0/within_s");
    expect("\"kind\": \"chain\"", "\"kind\": \"rope\"", "/boards/0/loops/0/kind");
    expect("\"section\": \"", "\"section\": \"nowhere", "/boards/0/section");
}

TEST(BoardFile, VariantsHaveBoardsOfTheirOwn) {
    BoardFigure f = makeFull();
    f.project = must(model::addVariant(f.project, "B four motors", "A two motors"));
    f.project = must(model::removeBoard(f.project, f.board));
    EXPECT_TRUE(f.project.boards.empty());
    const auto again = must(files::parseProject(files::writeProject(f.project)));
    const auto first = must(model::showVariant(again, again.variants[0].id));
    EXPECT_EQ(first.boards.size(), 1U);
}

TEST(BoardFile, AResultOfTheCommandLineTellsRatiosAsFractions) {
    BoardFigure f;
    const auto a = f.shaft(0, 0), b = f.shaft(2, 0);
    f.spur(a, 8);
    f.spur(b, 24);
    const auto r = report(f);
    const auto json = files::makeDriveJson(r);
    EXPECT_EQ(json["things"][1]["turns"][0]["fraction"], "-1:3");
    EXPECT_EQ(json["freedom"], 1);
    EXPECT_EQ(json["meshes"].size(), 1U);
}

TEST(DriveVerdicts, NoBoardsNoVerdicts) {
    const auto r = verdict::calcReport(std::make_shared<const model::Project>(model::makeEmptyProject("Nothing")));
    EXPECT_FALSE(r.drive);
    EXPECT_EQ(find(r, "reached"), nullptr);
}

TEST(DriveVerdicts, BindingHasMendsThatMendIt) {
    BoardFigure f;
    f.project = must(model::setWalls(f.project, f.board, {0, 16000}));
    const auto a = f.shaft(0, 0, 3, -0.5), b = f.shaft(2.5, 0, 3, -0.5);
    f.spur(a, 24, 1.5);
    f.spur(b, 20, 1.5); // 2 mm too near
    const auto r = report(f);
    const auto* v = find(r, "mesh");
    ASSERT_NE(v, nullptr);
    EXPECT_EQ(v->state, State::Fail);
    EXPECT_NEAR(v->value, -2, 1e-9);
    const auto mends = verdict::listMends(r, *v);
    ASSERT_GE(mends.size(), 2U);
    for (const auto& mend : mends) {
        BoardFigure after;
        after.project = must(mend.apply(f.project));
        EXPECT_TRUE(after.net().faults.empty()) << mend.text;
    }
    const auto preview = must(verdict::previewMend(r, mends[0]));
    EXPECT_LT(preview.after.fail, preview.before.fail);
}

/// A motor that lifts a weight over one pair of wheels.
BoardFigure makeHoist(double grams, int driver, int driven) {
    BoardFigure f;
    f.project = must(model::setWalls(f.project, f.board, {0, 16000}));
    const auto a = f.shaft(0, 0, 3, -0.5), b = f.shaft((driver + driven) / 16.0, 0, 3, -0.5);
    f.spur(a, driver, 1.5);
    f.spur(b, driven, 1.5);
    f.motor(a, "motor small");
    model::DriveFunction lift;
    lift.name = "Hoist";
    lift.shaft = b;
    lift.load = model::LoadKind::Lift;
    lift.amount = grams;
    lift.radiusMm = 10;
    lift.travel = 360;
    lift.withinS = 60;
    lift.mustHold = true;
    f.function(lift);
    return f;
}

TEST(DriveVerdicts, AStallIsMendedByOtherTeeth) {
    // 24 on 24 with 400 g: 39.2 N·mm on a motor of about 19.
    const BoardFigure f = makeHoist(400, 24, 24);
    const auto r = report(f);
    const auto* pull = find(r, "motor-pull");
    ASSERT_NE(pull, nullptr);
    EXPECT_EQ(pull->state, State::Fail);
    EXPECT_EQ(pull->basis, verdict::Basis::Starting);
    // By hand: asked 0.4·9.80665·10/(0.92·0.98).
    EXPECT_NEAR(*pull->margin,
                drive::calcStallNmm(*drive::findStartingMotor("motor small"), drive::getStartingBattery()) /
                    (0.4 * 9.80665 * 10 / 0.92 / 0.98),
                1e-9);
    EXPECT_EQ(find(r, "travel-time")->state, State::Fail);
    EXPECT_EQ(find(r, "self-hold")->state, State::Fail);
    const auto mends = verdict::listMends(r, *pull);
    ASSERT_FALSE(mends.empty());
    BoardFigure after;
    after.project = must(mends[0].apply(f.project));
    const auto later = report(after);
    EXPECT_GT(*find(later, "motor-pull")->margin, *pull->margin);
    EXPECT_TRUE(after.net().faults.empty());
}

TEST(DriveVerdicts, MendsOfTheBridgeChangeTheMotorThatLifts) {
    // The span is lifted by the second motor; the first one only makes it creep.
    const auto bridge = must(files::loadProject(test::repo("/tests/fixtures/boards/bridge.ivrant")));
    const auto r = verdict::calcReport(std::make_shared<const model::Project>(bridge));
    const auto* slow = find(r, "travel-time");
    ASSERT_NE(slow, nullptr);
    ASSERT_EQ(slow->state, State::Fail);
    const auto mends = verdict::listMends(r, *slow);
    ASSERT_FALSE(mends.empty());
    for (const auto& mend : mends) {
        const auto later = verdict::calcReport(std::make_shared<const model::Project>(must(mend.apply(bridge))));
        for (const auto& v : later.verdicts)
            if (v.id == slow->id) {
                EXPECT_LT(v.value, slow->value) << mend.text;
            }
        EXPECT_TRUE(later.drive->net.clashes.empty()) << mend.text;
    }
}

TEST(DriveVerdicts, WhatNoFamilyMakesIsSaid) {
    BoardFigure f;
    const auto a = f.shaft(0, 0, 20);
    f.spur(a, 22, 1);
    const auto r = report(f);
    int missing = 0;
    for (const auto& v : r.verdicts) missing += v.check == "no-part" && v.state == State::Thin ? 1 : 0;
    EXPECT_EQ(missing, 2) << "an axle of 20 and a wheel of 22";
}

TEST(DriveVerdicts, StateFollowsTheLoad) {
    EXPECT_EQ(find(report(makeHoist(20, 8, 40)), "motor-pull")->state, State::Good);
    EXPECT_EQ(find(report(makeHoist(4000, 8, 40)), "motor-pull")->state, State::Fail);
    const auto heavy = report(makeHoist(4000, 8, 40));
    EXPECT_EQ(heavy.drive->positions[0].functions[0].speed, 0);
}

TEST(DriveVerdicts, UnreachedUncarriedAndTogether) {
    BoardFigure f;
    const auto a = f.shaft(0, 0), b = f.shaft(2, 0), c = f.shaft(8, 0);
    f.spur(a, 16);
    f.spur(b, 16);
    f.motor(a);
    for (const auto& [name, shaft] : {std::pair{"One", a}, std::pair{"Two", b}, std::pair{"Three", c}}) {
        model::DriveFunction function;
        function.name = name;
        function.shaft = shaft;
        f.function(function);
    }
    const auto r = report(f);
    int never = 0;
    for (const auto& v : r.verdicts)
        if (v.check == "reached" && v.state == State::Fail) {
            ++never;
            EXPECT_EQ(v.text, "Three is never driven");
        }
    EXPECT_EQ(never, 1);
    ASSERT_NE(find(r, "together"), nullptr);
    EXPECT_NE(find(r, "together")->detail.find("One, Two"), std::string::npos);
    ASSERT_NE(find(r, "shaft-carried"), nullptr);
    EXPECT_EQ(find(r, "shaft-carried")->state, State::Fail);
    const auto mends = verdict::listMends(r, *find(r, "shaft-carried"));
    ASSERT_EQ(mends.size(), 2U);
    BoardFigure walled;
    walled.project = must(mends[0].apply(f.project));
    for (const auto& support : walled.net().supports)
        EXPECT_EQ(support.holesMm.size(), 2U) << "walls carry all shafts that stand in holes";
    walled.project = must(mends[1].apply(f.project));
    EXPECT_EQ(walled.project.boards[0]->shafts[0].bearingsUm.size(), 2U);
}

TEST(FunctionAsks, AreMeasuredAndKeptInTheFile) {
    BoardFigure f = makeHoist(20, 8, 40);
    const auto ask = [&](const std::string& measure, model::Comparison comparison, double value,
                         const std::string& word = "") {
        model::Ask added;
        added.measure = measure;
        added.comparison = comparison;
        added.value = value;
        added.word = word;
        added.function = "Hoist";
        f.project = must(model::putAsk(f.project, added));
    };
    ask("function-ratio", model::Comparison::Equal, 0.2);
    ask("function-margin", model::Comparison::AtLeast, 1000);
    ask("function-time", model::Comparison::AtMost, 60);
    ask("function-holds", model::Comparison::Equal, 0, "holds");
    ask("function-speed", model::Comparison::AtLeast, 1);
    f.project = must(files::parseProject(files::writeProject(f.project)));
    const auto r = report(f);
    std::vector<bool> passes;
    for (const auto& ask_ : f.project.asks)
        for (const auto& v : r.verdicts)
            if (v.check == "ask" && v.id.starts_with("ask/" + ask_.id.text + "/"))
                passes.push_back(v.state == State::Good);
    EXPECT_EQ(passes, (std::vector<bool>{true, false, true, false, true}));
    // The value asked for is the function's own.
    const auto results = verdict::measureAsks(r, f.project.asks);
    ASSERT_EQ(results.size(), 5U);
    EXPECT_NEAR(*results[0].value, 0.2, 1e-12);
    EXPECT_NEAR(*results[2].value, *r.drive->positions[0].functions[0].travelS, 1e-12);
    EXPECT_EQ(results[3].word, "runs back");
    EXPECT_EQ(results[1].basis, verdict::Basis::Starting);
}

TEST(FunctionAsks, WhatIsNotThereIsSaid) {
    BoardFigure f = makeHoist(20, 8, 40);
    model::Ask ask;
    ask.measure = "function-time";
    EXPECT_FALSE(brief::checkAsk(ask).ok()) << "it needs a function";
    ask.function = "Crane";
    EXPECT_NE(verdict::measureAsks(report(f), {ask})[0].problem.find("no function called 'Crane'"), std::string::npos);
    const auto bare = verdict::calcReport(std::make_shared<const model::Project>(model::makeEmptyProject("Bare")));
    EXPECT_EQ(verdict::measureAsks(bare, {ask})[0].problem, "there is no gear board");
    ask.function = "Ho*";
    ask.value = 1;
    EXPECT_TRUE(verdict::measureAsks(report(f), {ask})[0].problem.empty());
    EXPECT_EQ(brief::composeSentence(ask), "The travel time of Ho* must be at least 1 s.");
}

TEST(DriveVerdicts, ChainsCloseInWholeLinks) {
    BoardFigure f;
    const auto a = f.shaft(0, 0), b = f.shaft(8, 0);
    const auto ga = f.gear(a, GearKind::Sprocket, 10, 1), gb = f.gear(b, GearKind::Sprocket, 10, 1);
    f.project = must(model::putLoop(f.project, f.board, {{}, false, false, {ga, gb}, 0, {}}));
    EXPECT_EQ(find(report(f), "loop")->state, State::Good);
    model::Loop fixed = f.project.boards[0]->loops[0];
    const int fits = must(model::calcChain(10, 10, 64)).links;
    fixed.links = fits - 1;
    f.project = must(model::putLoop(f.project, f.board, fixed));
    EXPECT_EQ(find(report(f), "loop")->text, "The chain is too short");
    fixed.links = fits + 3;
    f.project = must(model::putLoop(f.project, f.board, fixed));
    EXPECT_EQ(find(report(f), "loop")->state, State::Thin);
}

TEST(DriveVerdicts, ABoardGoesWithItsSectionAndItsFrictionRests) {
    BoardFigure f = makeFull();
    const auto r = report(f);
    ASSERT_TRUE(r.drive);
    // X_WB = X_WS · X_SB: the shaft that starts at (0, 0, −4) mm of the board.
    const auto& thing = r.drive->net.rotors[0];
    const auto expected = r.present.placed.X_WS[0] * f.project.boards[0]->place.frame() * geometry::Vec3(0, 0, -4);
    EXPECT_LT((thing.origin - expected).norm(), 1e-9);
}

TEST(BoardParts, ShaftsWheelsAndMotorsAreParts) {
    BoardFigure f;
    const auto a = f.shaft(0, 0, 4.3), b = f.shaft(2, 0, 3, 0, model::BoardAxis::Right), c = f.shaft(9, 0, 20);
    const auto spur = f.spur(a, 24, 2), odd = f.spur(c, 22, 1);
    f.gear(b, GearKind::Worm, 1, 1);
    f.rack(0, 3, 1, 13); // 40.8 mm: six pitches
    f.motor(b, "motor large");
    const auto listed = model::listBoardParts(*f.project.boards[0]);
    std::map<std::string, const model::BoardPart*> byId;
    for (const auto& part : listed.parts) byId[part.id] = &part;
    EXPECT_EQ(byId.at(a.text)->shape->name, "axle 5") << "the shortest that is long enough";
    EXPECT_EQ(byId.at(spur.text)->shape->name, "spur gear 24");
    // Out of the board: the wheel's own x points along z of the board.
    EXPECT_LT((byId.at(spur.text)->X_BP.linear() * geometry::Vec3::UnitX() - geometry::Vec3::UnitZ()).norm(), 1e-12);
    EXPECT_NEAR(byId.at(spur.text)->X_BP.translation().z(), 16, 1e-12);
    EXPECT_EQ(listed.missing, (std::vector<std::string>{c.text, odd.text})) << "no axle of 20, no wheel of 22";
    std::map<std::string, int> counts;
    for (const auto& line : make::listParts(f.project)) counts[line.shape] += line.count;
    EXPECT_EQ(counts["rack 6"], 1);
    EXPECT_EQ(counts["worm gear"], 1);
    EXPECT_EQ(counts["motor large"], 1);
}

TEST(BoardParts, TheyWeighInTheirSection) {
    BoardFigure f;
    const auto section = f.project.sections[0]->id;
    model::Place place;
    place.atUm = {10'000, 0, 0};
    f.project = must(model::placeBoard(f.project, f.board, section, place));
    const auto shaft = f.shaft(1, 2, 4);
    f.spur(shaft, 40, 2);
    const model::Placed placed{&f.project, {geometry::Frame::Identity()}};
    const auto mass = model::calcMass(placed);
    const auto axle = parts::makeShape("axle 4").value(), gear = parts::makeShape("spur gear 40").value();
    EXPECT_NEAR(mass.massG, axle->massG + gear->massG, 1e-9);
    // Both are symmetrical about the shaft, which stands at (10 + 8, 16); their middles at z = 16.
    EXPECT_LT((mass.centre - geometry::Vec3(18, 16, 16)).norm(), 1e-6);
    f.project = must(model::placeBoard(f.project, f.board, {}, place));
    EXPECT_EQ(model::calcMass(placed).massG, 0) << "a board that lives alone is in no section";
}

TEST(DriveFamilies, WheelsCollideAsTheirPitchCylinders) {
    for (const int teeth : drive::getSpurTeeth()) {
        const auto wheel = parts::makeShape("spur gear " + std::to_string(teeth)).value();
        EXPECT_NEAR(wheel->bounds.high.z() - wheel->bounds.low.z(), teeth, 0.01) << "two in mesh just touch";
        EXPECT_NEAR(wheel->centre.norm(), 0, 1e-9);
        EXPECT_GT(wheel->massG, 0);
    }
    EXPECT_EQ(parts::parseShapeName("gear 24").value(), "spur gear 24");
    EXPECT_EQ(parts::parseShapeName("22 gear").error().code, "shape.size");
    EXPECT_EQ(parts::parseShapeName("bevel gear 20").value(), "double bevel gear 20");
}

} // namespace
