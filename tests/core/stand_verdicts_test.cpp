// SPDX-License-Identifier: GPL-3.0-or-later
// Verdicts of Stand and their mends; moves; own cases in files; what comes out as JSON.
#include <algorithm>
#include <gtest/gtest.h>
#include <limits>

#include "core/files/project_file.h"
#include "core/files/results_desk.h"
#include "core/files/results_stand.h"
#include "core/model/mass.h"
#include "core/model/variants.h"
#include "core/stand/brick_layers.h"
#include "core/study/asked_tip.h"
#include "core/study/hidden.h"
#include "core/study/stand_cases.h"
#include "core/verdict/asks/asks.h"
#include "tests/support/repo.h"
#include "tests/support/reports.h"
#include "tests/support/stacks.h"

using namespace ivrant;
using test::findCheck;
using test::must;
using test::reportOf;
using test::Stack;

namespace {

/// A long arm on a turntable over a base that is long one way and narrow the other.
struct Crane : test::Figure {
    model::JointId joint;
    Crane() {
        put(0, "plate 4x12 at 0 0 0");
        const auto lower = put(0, "small turntable lower at 1 5 1");
        const auto upper = put(1, "small turntable upper at 0 0 0");
        put(1, "plate 2x10 at 0 0 1");
        put(1, "brick 2x2 at 0 8 2");
        joint = join("small turntable", lower, "lower", upper, "upper", {0});
    }
    [[nodiscard]] model::Project turned(double degrees) const {
        return must(model::setJointValue(project, joint, {degrees}));
    }
    [[nodiscard]] model::Stance onBase() const {
        model::Stance stance;
        stance.kind = model::Stance::Kind::Flat;
        stance.section = project.sections[0]->id;
        return stance;
    }
};

/// One more part in the way of the mend with the given words.
verdict::Report mended(const verdict::Report& before, const std::string& check, std::size_t index = 0) {
    const auto mends = verdict::listMends(before, *findCheck(before, check));
    if (mends.size() <= index) throw std::runtime_error("no mend for " + check);
    return reportOf(must(mends[index].apply(*before.project)));
}

} // namespace

TEST(Moves, TheLeastTipAngleIsThatOfThePlaceBetween) {
    Crane f;
    f.project = must(model::addPose(f.project, "Ahead", {{f.joint, {0}}}, f.onBase()));
    f.project = must(model::addPose(f.project, "Astern", {{f.joint, {180}}}, f.onBase()));
    const auto report = reportOf(f.project);
    ASSERT_EQ(report.moves.size(), 1U);
    const auto& move = report.moves[0];
    EXPECT_EQ(move.name, "Ahead to Astern");
    EXPECT_EQ(move.anglesDeg.size(), static_cast<std::size_t>(study::kMoveSteps) + 1);
    EXPECT_NEAR(move.atShare, 0.5, 1e-9);
    // The second way: the same figure, standing with its arm across.
    const auto across = reportOf(f.turned(90));
    EXPECT_NEAR(move.leastDeg, across.present.tipping->angleDeg, 1e-6);
    EXPECT_LT(move.leastDeg, move.endsDeg - 1);
    ASSERT_NE(findCheck(report, "tip-move"), nullptr);
    EXPECT_NEAR(findCheck(report, "tip-move")->value, move.leastDeg, 1e-9);
    // A look at one place of it: the angle of the list there, the arm where it was turned to.
    const auto there = study::calcPlaceOnWay(report, move, 0.5);
    ASSERT_TRUE(there.has_value());
    EXPECT_NEAR(there->tipping.angleDeg, move.leastDeg, 1e-9);
    EXPECT_LT((there->placed.X_WS[1].linear() * across.present.placed.X_WS[1].linear().inverse() -
               Eigen::Matrix3d::Identity())
                  .norm(),
              1e-9);
    EXPECT_NEAR(study::calcPlaceOnWay(report, move, -3)->tipping.angleDeg, move.anglesDeg.front(), 1e-9)
        << "before the start is the start";
    auto gone = move;
    gone.to = model::PoseId{"q99"};
    EXPECT_FALSE(study::calcPlaceOnWay(report, gone, 0.5).has_value());
    // One pose on another section, or held: no move.
    model::Stance held;
    f.project = must(model::setPose(f.project, f.project.poses[1].id, f.project.poses[1].values, held));
    EXPECT_TRUE(reportOf(f.project).moves.empty());
}

TEST(SectionWeights, TheirMomentsAreThatOfTheWhole) {
    Crane f;
    const auto report = reportOf(f.turned(90));
    const auto& tip = *report.present.tipping;
    const auto weights = stand::listSectionWeights(report.present.placed, tip);
    ASSERT_EQ(weights.size(), 2U);
    double sum = 0, gram = 0;
    for (const auto& weight : weights) {
        sum += weight.holdsNmm;
        gram += weight.massG;
    }
    EXPECT_NEAR(gram, tip.massG, 1e-9);
    EXPECT_GT(weights[0].holdsNmm, 0) << "the base holds it back";
    EXPECT_LT(weights[1].holdsNmm, 0) << "the arm pulls it over";
    // The second way: weight times the plumb line's distance from the edge, which the tip angle has too.
    const double distance = tip.centre.z() * std::tan(base::degToRad(tip.angleDeg));
    EXPECT_NEAR(sum, base::weightN(tip.massG) * distance, 1e-6);
    const auto json = files::makeStandJson(report, report.present, {}, 3);
    ASSERT_EQ(json["sections"].size(), 2U);
    EXPECT_NEAR(json["sections"][1]["holds_nmm"].get<double>(), weights[1].holdsNmm, 1e-3);
}

TEST(StandJson, TheWayOfTheLoadEndsBelow) {
    Stack f;
    f.put(0, "plate 8x8 at 0 0 0");
    f.put(0, "brick 1x1 at 0 0 1");
    f.put(0, "brick 1x4 at 0 0 4");
    const auto report = reportOf(f.project);
    const auto solved = must(study::calcStandCase(report, report.present, {}));
    const auto json = files::makeStandJson(report, report.present, {{{}, solved}}, 3);
    const auto& parts = f.project.sections[0]->parts;
    const auto& way = json["cases"][0]["load_path"];
    ASSERT_EQ(way.size(), 3U) << way.dump();
    for (std::size_t k = 0; k < 3; ++k) EXPECT_EQ(way[k].get<std::string>(), parts[2 - k].id.text);
}

TEST(Moves, TheSpanOfTheDemoTipsWithoutItsTailWeight) {
    const auto bare = must(files::loadProject(test::repo("/data/demo/bridge-span.ivrant")));
    const auto report = reportOf(bare);
    ASSERT_EQ(report.moves.size(), 2U); // from pose to pose, and by its drive
    EXPECT_NEAR(report.moves[0].leastDeg, report.moves[1].leastDeg, 1e-9);
    const auto& move = report.moves[0];
    EXPECT_GT(move.anglesDeg.front(), study::kUsualTipDeg);
    EXPECT_LT(move.leastDeg, 0);
    // By hand: the pier's plate is 48 mm wide less what its edge gives, the turntable in its middle; the span's centre
    // goes round it, its drive stays.
    const geometry::Vec3 axis = report.present.placed.X_WS[0] * geometry::Vec3(20, 60, 0);
    const auto span = model::calcMass(report.present.placed, {1}), pier = model::calcMass(report.present.placed, {0});
    const double reach = (span.centre - axis).head<2>().norm();
    const auto end = study::calcPlaceOnWay(report, move, 1);
    ASSERT_TRUE(end.has_value());
    const Eigen::Vector2d out =
        ((pier.centre - axis).head<2>() * pier.massG + Eigen::Vector2d(-reach, 0) * span.massG) /
        (span.massG + pier.massG);
    EXPECT_NEAR(span.centre.x(), axis.x(), 1e-6) << "it lies along y at the start, and along −x at the end";
    EXPECT_NEAR(((end->tipping.centre - axis).head<2>() - out).norm(), 0, 1e-6);
    double edge = 1e9;
    for (const auto& corner : end->tipping.support) edge = std::min(edge, std::abs(corner.x() - axis.x()));
    EXPECT_NEAR(move.anglesDeg.back(), base::radToDeg(std::atan2(edge + out.x(), end->tipping.centre.z())), 0.01);
    // With the weight in its tail it stands all the way.
    const auto weighted = std::find_if(bare.variants.begin(), bare.variants.end(),
                                       [](const auto& v) { return v.name == "B weighted tail"; });
    ASSERT_NE(weighted, bare.variants.end());
    const auto after = reportOf(must(model::showVariant(bare, weighted->id)));
    ASSERT_EQ(after.moves.size(), 2U);
    for (const auto& way : after.moves) EXPECT_GT(way.leastDeg, study::kUsualTipDeg);
}

TEST(Standing, TheHeronOfTheDemoStandsWhereItsStandIsUnderIt) {
    const auto study = must(files::loadProject(test::repo("/data/demo/heron-stand.ivrant")));
    const auto with = std::find_if(study.variants.begin(), study.variants.end(),
                                   [](const auto& v) { return v.name == "C on a stand"; });
    ASSERT_NE(with, study.variants.end());
    const auto before = reportOf(study), after = reportOf(must(model::showVariant(study, with->id)));
    const auto tipOf = [](const verdict::Report& report, const char* pose) {
        for (const auto& p : report.poses)
            if (p.name == pose) return p.tipping->angleDeg;
        throw std::runtime_error("no such pose");
    };
    for (const char* pose : {"Standing", "Asleep", "Wings out"}) {
        EXPECT_LT(tipOf(before, pose), study::kUsualTipDeg) << pose;
        EXPECT_GT(tipOf(after, pose), 1.5 * study::kUsualTipDeg) << pose;
    }
    EXPECT_EQ(before.moves.size(), after.moves.size());
}

TEST(StandMends, FrictionMayHoldUnderTheRulesForDisplay) {
    verdict::Report report = reportOf(Crane().project);
    ASSERT_TRUE(report.structure);
    verdict::Verdict friction;
    friction.check = "friction";
    friction.group = "structure";
    friction.station = verdict::Station::Stand;
    friction.state = verdict::State::Thin;
    friction.margin = 4;
    const auto mends = verdict::listMends(report, friction);
    ASSERT_EQ(mends.size(), 1U);
    EXPECT_FALSE(mends[0].caution.empty());
    EXPECT_EQ(must(mends[0].apply(*report.project)).rules, model::BuildRules::Display);
    friction.margin = 0.8; // it falls out: no rule helps
    friction.state = verdict::State::Fail;
    EXPECT_TRUE(verdict::listMends(report, friction).empty());
}

/// A block of bricks, its walls `shell` cells thick; 0: solid.
model::Project makeBlock(int side, int courses, int shell) {
    stand::CellGrid grid{side, side, courses, {}, {}, base::kBrickMm};
    grid.filled.assign(static_cast<std::size_t>(side * side * courses), 1);
    if (shell > 0) grid = stand::makeHollow(grid, shell);
    return must(stand::makeStatue("Block", must(stand::layBricks(grid, stand::getUsualSizes())), 0));
}

TEST(StandMends, FewerPartsAreAskedAndTheCoreIsLeftOut) {
    const auto solid = makeBlock(16, 12, 0);
    model::Ask ask;
    ask.measure = "parts";
    ask.comparison = model::Comparison::AtMost;
    ask.value = static_cast<double>(solid.partCount()) - 10;
    const auto asked = must(model::putAsk(solid, ask));
    const auto before = reportOf(asked);
    const auto found = std::find_if(before.verdicts.begin(), before.verdicts.end(),
                                    [](const verdict::Verdict& v) { return v.check == "ask"; });
    ASSERT_NE(found, before.verdicts.end());
    ASSERT_EQ(found->state, verdict::State::Fail);
    const auto mends = verdict::listMends(before, *found);
    ASSERT_EQ(mends.size(), 1U);
    const auto hollow = must(mends[0].apply(asked));
    EXPECT_EQ(hollow.variants.size(), 2U) << "the solid one stays beside it";
    const auto after = reportOf(hollow);
    EXPECT_TRUE(verdict::measureAsks(after, hollow.asks)[0].passes);
    // Nothing of the kind for at least so many, or where nothing can go.
    ask.id = asked.asks[0].id;
    ask.comparison = model::Comparison::AtLeast;
    const auto more = must(model::putAsk(asked, ask));
    auto failing = *found;
    EXPECT_TRUE(verdict::listMends(reportOf(more), failing).empty());
}

TEST(StandMends, AHollowWithWeakBondsIsFilledWhereItHelps) {
    auto shell = makeBlock(16, 7, 2);
    for (const auto& [quantity, reading] :
         {std::pair(model::Quantity::StudPull, 0.012), std::pair(model::Quantity::StudShear, 0.024)}) {
        model::Series series; // worn studs, measured
        series.quantity = quantity;
        series.readings = {reading, reading, reading};
        shell = must(model::putSeries(shell, series));
    }
    const auto before = reportOf(shell);
    const auto* bonds = findCheck(before, "bonds");
    ASSERT_NE(bonds, nullptr);
    ASSERT_NE(bonds->state, verdict::State::Good) << bonds->detail;
    const auto mends = verdict::listMends(before, *bonds);
    const auto filling = std::find_if(mends.begin(), mends.end(), [](const auto& m) {
        return m.text.find("inside the hollow") != std::string::npos;
    });
    ASSERT_NE(filling, mends.end());
    const auto after = reportOf(must(filling->apply(shell)));
    EXPECT_GT(after.project->partCount(), shell.partCount());
    EXPECT_LT(*after.poses.front().standing->equilibrium.lambda, *before.poses.front().standing->equilibrium.lambda);
}

TEST(StandMends, ALongerPartTiesASeam) {
    Stack f;
    f.put(0, "plate 4x8 at 0 0 0");
    for (int i = 0; i < 5; ++i)
        for (const char* at : {"1 2 ", "1 4 "}) f.put(0, "brick 2x2 at " + std::string(at) + std::to_string(1 + 3 * i));
    const auto before = reportOf(f.project);
    ASSERT_NE(findCheck(before, "seam"), nullptr);
    EXPECT_EQ(findCheck(before, "seam")->value, 5);
    EXPECT_EQ(findCheck(before, "seam")->state, verdict::State::Thin);
    const auto after = mended(before, "seam");
    EXPECT_EQ(findCheck(after, "seam"), nullptr) << "tied in the middle, two courses are left on either side";
    EXPECT_EQ(after.project->partCount(), f.project.partCount() - 1);
    EXPECT_TRUE(after.bonds[0]->overlaps.empty());
    EXPECT_TRUE(after.bonds[0]->loose.empty());
}

TEST(StandMends, PartsAcrossANeckAndUnderAPullHelp) {
    // A block on one stud of a post: it opens and comes off easily; the post has room beside it.
    Stack f;
    f.put(0, "plate 6x6 at 0 0 0");
    f.put(0, "brick 1x1 at 2 2 1");
    f.put(0, "brick 2x4 at 2 1 4");
    f.put(0, "brick 2x4 at 2 1 7");
    const auto before = reportOf(f.project);
    ASSERT_TRUE(before.structure);
    ASSERT_NE(findCheck(before, "tug"), nullptr);
    ASSERT_NE(findCheck(before, "neck"), nullptr);
    const double shake = before.structure->necks.front().shakeG, pull = before.structure->pieces.front().forceN;
    EXPECT_GT(shake, 0);
    const auto firm = mended(before, "tug");
    EXPECT_GT(firm.structure->pieces.empty() ? 1e9 : firm.structure->pieces.front().forceN, pull);
}

TEST(StandMends, ACaseOfOnesOwnIsMendedByATry) {
    test::Overhang f;
    model::OwnCase own;
    own.name = "jolted";
    own.downG = 3;
    own.strapped = true;
    f.project =
        must(model::addBallast(f.project, f.project.sections[0]->id, {20, {0, 24'000, 14'000}})); // in the arm's end
    f.project = must(model::putCase(f.project, own));
    const auto before = reportOf(f.project);
    const auto& solved = before.ownCases[0].result->equilibrium;
    ASSERT_TRUE(solved.lambda);
    ASSERT_NE(findCheck(before, "case")->state, verdict::State::Good);
    const auto mends = verdict::listMends(before, *findCheck(before, "case"));
    ASSERT_FALSE(mends.empty());
    const auto after = reportOf(must(mends[0].apply(f.project)));
    EXPECT_LT(after.ownCases[0].result->equilibrium.lambda.value_or(1e9), *solved.lambda);
}

TEST(FrictionHeld, ABarInAStudIsSaidToHoldByFrictionAlone) {
    Stack f;
    f.put(0, "plate 2x2 at 0 0 0");
    f.put(0, "brick 2x2 at 0 0 1");
    const auto net = f.net();
    EXPECT_TRUE(stand::findFrictionHeld(net).empty());
    // The same contact said to be friction: the upper brick hangs by it.
    auto rubbed = net;
    double holds = 0;
    for (auto& contact : rubbed.contacts)
        if (contact.a >= 0) {
            contact.kind = stand::ContactKind::Friction;
            for (const auto& column : contact.columns)
                if (column.role == stand::ColumnRole::Pull) holds += column.high;
        }
    const auto held = stand::findFrictionHeld(rubbed);
    ASSERT_EQ(held.size(), 1U);
    EXPECT_EQ(held[0].bodies, std::vector<int>{1});
    EXPECT_NEAR(held[0].holdsN, holds, 1e-12);
    EXPECT_NEAR(held[0].massG, net.bodies[1].massG, 1e-12);
}

TEST(OwnCaseFiles, AreWrittenReadAndRefusedWithTheirPlace) {
    Stack f;
    const auto part = f.put(0, "plate 4x4 at 0 0 0");
    model::OwnCase own;
    own.name = "car boot";
    own.slopeDeg = 5;
    own.towardDeg = -90;
    own.downG = 1.5;
    own.asideG = 0.4;
    own.strapped = true;
    own.pushN = 2;
    own.pushed = part;
    own.hands = {part};
    const auto project = must(model::putCase(f.project, own));
    const std::string text = files::writeProject(project);
    const auto back = must(files::parseProject(text));
    ASSERT_EQ(back.cases.size(), 1U);
    EXPECT_EQ(files::writeProject(back), text);
    EXPECT_EQ(back.cases[0].hands, own.hands);
    EXPECT_EQ(back.cases[0].asideG, 0.4);
    EXPECT_TRUE(back.cases[0].strapped);
    EXPECT_GT(back.nextId, 2) << "the case's id counts";
    // What stays at its usual value is not written.
    model::OwnCase plain;
    plain.name = "plain";
    EXPECT_EQ(files::writeProject(must(model::putCase(f.project, plain))).find("down_g"), std::string::npos);
    const auto broken = [&](const std::string& from, const std::string& to) {
        std::string bad = text;
        bad.replace(bad.find(from), from.size(), to);
        return files::parseProject(bad).error();
    };
    EXPECT_EQ(broken("\"slope_deg\": 5", "\"slope_deg\": 500").place, "/cases/0/slope_deg");
    EXPECT_EQ(broken("\"slope_deg\": 5", "\"slope_deg\": \"steep\"").code, "file.type");
    EXPECT_EQ(broken("\"strapped\": true", "\"strapped\": 1").place, "/cases/0/strapped");
    EXPECT_EQ(broken("\"name\": \"car boot\"", "\"name\": \"\"").code, "case.name");
    // A key of a later version is kept.
    std::string later = text;
    later.replace(later.find("\"strapped\": true"), 16, "\"strapped\": true, \"wind\": 3");
    EXPECT_NE(files::writeProject(must(files::parseProject(later))).find("\"wind\": 3"), std::string::npos);
}

TEST(StandJson, TellsMovesStructureAndSupports) {
    Crane f;
    f.project = must(model::addPose(f.project, "Ahead", {{f.joint, {0}}}, f.onBase()));
    f.project = must(model::addPose(f.project, "Astern", {{f.joint, {180}}}, f.onBase()));
    const auto report = reportOf(f.project);
    const auto json = files::makeStandJson(report, report.poses.front(), {});
    ASSERT_EQ(json["moves"].size(), 1U);
    EXPECT_EQ(json["moves"][0]["angles_deg"].size(), static_cast<std::size_t>(study::kMoveSteps) + 1);
    EXPECT_TRUE(json["necks"].is_array());
    const auto design = must(study::calcPosts(report, report.present));
    const auto supports = files::makePostJson(report, report.present, design);
    EXPECT_EQ(supports["supports"].size(), design.spots.size());
    for (const auto& support : supports["supports"]) EXPECT_GE(support["tips_deg"].get<double>(), design.wishDeg);
    stand::FirmProposal firm;
    firm.after = std::numeric_limits<double>::infinity();
    EXPECT_TRUE(files::makeFirmJson(firm)["lambda_after"].is_null()) << "no strength helps";
}

TEST(StandAsks, PatternsAndMovesAreMeasured) {
    Crane f;
    f.project = must(model::addPose(f.project, "Ahead", {{f.joint, {0}}}, f.onBase()));
    f.project = must(model::addPose(f.project, "Astern", {{f.joint, {180}}}, f.onBase()));
    const auto report = reportOf(f.project);
    const auto measure = [&](const char* key, double value) {
        model::Ask ask;
        ask.measure = key;
        ask.value = value;
        const auto results = verdict::measureAsks(report, {ask});
        return results.empty() ? std::nullopt : results.front().value;
    };
    EXPECT_NEAR(measure("move-tip", 8).value(), report.moves[0].leastDeg, 1e-9);
    EXPECT_EQ(measure("seam", 2).value(), 0);
    ASSERT_FALSE(report.structure->necks.empty());
    EXPECT_NEAR(measure("shake", 0.1).value(), report.structure->necks.front().shakeG, 1e-9);
    // Four studs of the arm on the turntable, 1.5 N each; asked for more than the usual tug they are still found.
    EXPECT_NEAR(measure("tug", 20).value(), 6, 1e-9);
    EXPECT_NEAR(measure("tug", 1).value(), stand::kTugN, 1e-9) << "nothing comes off below that";
}

TEST(StandAsks, WhatIsUnseenAndWhatCouldGoIsCounted) {
    const auto block = reportOf(makeBlock(16, 12, 0));
    const auto measure = [](const verdict::Report& report, const char* key) {
        model::Ask ask;
        ask.measure = key;
        ask.comparison = model::Comparison::AtMost;
        ask.value = 1;
        return verdict::measureAsks(report, {ask}).front().value;
    };
    EXPECT_EQ(measure(block, "unseen").value(), static_cast<double>(must(study::calcHidden(block)).parts.size()));
    EXPECT_GT(measure(block, "unseen").value(), 20);
    EXPECT_EQ(measure(block, "spare").value(),
              static_cast<double>(must(study::calcCore(block, block.poses.front())).leaveOut.size()));
    EXPECT_GT(measure(block, "spare").value(), 20);
    const auto crane = reportOf(Crane().project);
    EXPECT_EQ(measure(crane, "spare").value(), 0);
    EXPECT_EQ(measure(reportOf(model::makeEmptyProject("nothing")), "spare"), std::nullopt);
}

TEST(HalfBuilt, WhatIsNotJoinedYetLiesOnTheTable) {
    // A post on a base, and a head on a swivel that is built as a section of its own: before it is put on, it does not
    // fall.
    test::Figure f;
    const auto foot = f.put(0, "plate 4x4 at 0 0 0");
    const auto lower = f.put(0, "small turntable lower at 1 1 1");
    const auto upper = f.put(1, "small turntable upper at 0 0 0");
    f.put(1, "brick 2x2 at 0 0 1");
    f.join("small turntable", lower, "lower", upper, "upper");
    f.project = must(
        model::setStep(f.project, std::vector{foot}, 2)); // of the base only the turntable's half is there at first
    const auto report = reportOf(f.project);
    for (int step = 1; step <= 3; ++step) {
        const auto solved = must(study::calcStandCase(report, report.present, study::makeHalfBuilt(report, step)));
        EXPECT_TRUE(solved.equilibrium.stands) << step;
        EXPECT_TRUE(solved.net.floating.empty()) << step;
    }
    // What nothing in its own section holds is loose all the same.
    f.put(1, "brick 1x1 at 5 5 9");
    const auto loose = reportOf(f.project);
    const auto whole = must(study::calcStandCase(loose, loose.present, study::makeHalfBuilt(loose, 9)));
    EXPECT_EQ(whole.net.floating.size(), 1U);
    EXPECT_FALSE(whole.equilibrium.stands);
}
