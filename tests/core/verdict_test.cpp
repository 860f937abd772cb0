// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/asked_tip.h"
#include "core/verdict/mends.h"

#include "core/files/project_file.h"
#include "core/make/parts_list.h"
#include "tests/support/figures.h"
#include "tests/support/near.h"
#include "tests/support/repo.h"

using namespace ivrant;
using test::Figure;
using test::must;

namespace {

verdict::Report reportOn(const model::Project& project) {
    return verdict::calcReport(std::make_shared<const model::Project>(project));
}

const verdict::Verdict* find(const verdict::Report& report, const std::string& id) {
    for (const auto& v : report.verdicts)
        if (v.id == id) return &v;
    return nullptr;
}

/// An arm of `gram` on a small hinge whose wanted range is blocked by bricks on both halves.
Figure blockedArm(double gram) {
    Figure f;
    f.put(0, "plate 4x8 at -1 -6 -1");
    const auto fork = f.put(0, "stepped hinge small fork at 0 0 0"),
               tongue = f.put(1, "stepped hinge small tongue at 0 0 0");
    f.put(0, "brick 1x2 at 0 0 1");
    const auto block = f.put(1, "brick 1x2 at 0 0 1");
    f.project = must(model::weighParts(f.project, std::array{block}, gram));
    f.join("stepped hinge small", fork, "finger", tongue, "finger", {0}, {{0, 90}});
    return f;
}

} // namespace

TEST(Verdicts, StatesFollowTheMargin) {
    using verdict::State;
    EXPECT_EQ(verdict::getStateOfMargin(0.99), State::Fail);
    EXPECT_EQ(verdict::getStateOfMargin(1.0), State::Thin);
    EXPECT_EQ(verdict::getStateOfMargin(1.5), State::Good);
    EXPECT_EQ(verdict::getStateOfMargin(std::nullopt), State::Good);
}

TEST(Verdicts, WorstFirst) {
    std::vector<verdict::Verdict> list(4);
    list[0].id = "a";
    list[1].id = "b";
    list[1].state = verdict::State::Fail;
    list[1].margin = 0.8;
    list[2].id = "c";
    list[2].state = verdict::State::Fail;
    list[2].margin = 0.2;
    list[3].id = "d";
    list[3].state = verdict::State::Thin;
    list[3].margin = 1.1;
    verdict::sortWorstFirst(list);
    EXPECT_EQ(list[0].id + list[1].id + list[2].id + list[3].id, "cbda");
}

TEST(Verdicts, ABlockedRangeNamesTheTwoPartsAndIsMended) {
    const Figure f = blockedArm(5);
    const auto report = reportOn(f.project);
    const auto* v = find(report, "range/" + f.project.joints[0].id.text + "/present");
    ASSERT_TRUE(v);
    EXPECT_EQ(v->state, verdict::State::Fail);
    EXPECT_EQ(v->place.parts.size(), 2U);
    EXPECT_NEAR(*v->margin, v->value / 90, 1e-9);
    const auto mends = verdict::listMends(report, *v);
    ASSERT_FALSE(mends.empty());
    EXPECT_TRUE(mends[0].text.starts_with("want only"));
    const auto preview = must(verdict::previewMend(report, mends[0]));
    EXPECT_LT(preview.after.fail, preview.before.fail);
    const auto after = reportOn(preview.project);
    EXPECT_EQ(find(after, v->id)->state, verdict::State::Good);
}

TEST(Verdicts, ASaggingJointIsMendedByAStrongerKind) {
    // 200 g at 12 mm from the axis (cells at −8 … centre y = 4, axis −8): 1.96133 N · 12 = 23.5 N·mm against 18.
    const Figure f = blockedArm(200);
    const auto report = reportOn(f.project);
    const auto* v = find(report, "hold/" + f.project.joints[0].id.text + "/present");
    ASSERT_TRUE(v);
    EXPECT_EQ(v->state, verdict::State::Fail);
    EXPECT_EQ(v->basis, verdict::Basis::Starting);
    bool mended = false;
    for (const auto& mend : verdict::listMends(report, *v)) {
        if (mend.text.find("stepped hinge large") == std::string::npos) continue;
        const auto after = reportOn(must(mend.apply(f.project)));
        mended = find(after, v->id)->state != verdict::State::Fail;
    }
    EXPECT_TRUE(mended);
}

TEST(Verdicts, BallastMendsATippingFigure) {
    // A post of three bricks at the edge of a plate 2x2, its top brick 400 g: the centre of gravity is about 25 mm up
    // and 3.9 mm inside the edge, atan(3.9 / 25) = 9°, under the 10° asked.
    Figure f;
    f.put(0, "plate 2x2 at 0 0 0");
    f.put(0, "brick 1x2 at 1 0 1");
    f.put(0, "brick 1x2 at 1 0 4");
    const auto top = f.put(0, "brick 1x2 at 1 0 7");
    f.project = must(model::weighParts(f.project, std::array{top}, 400));
    const auto report = reportOn(f.project);
    const auto* tip = find(report, "tip/present");
    ASSERT_TRUE(tip);
    ASSERT_NE(tip->state, verdict::State::Good);
    EXPECT_GT(tip->value, 0);
    const auto mends = verdict::listMends(report, *tip);
    ASSERT_FALSE(mends.empty());
    EXPECT_TRUE(mends[0].text.starts_with("add "));
    const auto after = reportOn(must(mends[0].apply(f.project)));
    EXPECT_GE(find(after, "tip/present")->value, study::kUsualTipDeg);
}

TEST(Verdicts, TheDemoTeachesAllThreeStates) {
    const auto heron = must(files::loadProject(test::repo("/data/demo/heron.ivrant")));
    const auto report = reportOn(heron);
    const auto sum = verdict::countStates(report.verdicts);
    EXPECT_GT(sum.fail, 0);
    EXPECT_GT(sum.thin, 0);
    EXPECT_GT(sum.good, 10);
    EXPECT_GE(heron.partCount(), 120U);
    EXPECT_GE(heron.joints.size(), 12U);
    EXPECT_EQ(heron.poses.size(), 5U);
    std::set<std::string> kinds;
    for (const auto& joint : heron.joints) kinds.insert(joint.kind->name);
    EXPECT_GE(kinds.size(), 4U);
    for (const auto& v : verdict::collapsePoses(report.verdicts))
        if (v.state == verdict::State::Fail) {
            EXPECT_FALSE(verdict::listMends(report, v).empty()) << v.id << " " << v.text;
        }
}

TEST(Verdicts, SameProjectSameVerdicts) {
    const auto heron = must(files::loadProject(test::repo("/data/demo/heron.ivrant")));
    const auto a = reportOn(heron), b = reportOn(heron);
    ASSERT_EQ(a.verdicts.size(), b.verdicts.size());
    for (std::size_t i = 0; i < a.verdicts.size(); ++i) {
        EXPECT_EQ(a.verdicts[i].id, b.verdicts[i].id);
        EXPECT_EQ(a.verdicts[i].value, b.verdicts[i].value);
    }
}

TEST(Facts, AskedForAloneAreThoseOfTheWholeReport) {
    for (const char* name : {"/data/demo/heron.ivrant", "/data/demo/bridge.ivrant"}) {
        const auto project = std::make_shared<const model::Project>(must(files::loadProject(test::repo(name))));
        const auto whole = verdict::calcReport(project);
        const auto only = [&](unsigned facts) {
            study::Wanted wanted;
            wanted.facts = facts;
            const auto report = verdict::calcReport(project, nullptr, wanted);
            EXPECT_TRUE(report.verdicts.empty());
            EXPECT_EQ(report.poses.size(), whole.poses.size());
            return report;
        };
        const auto ranges = only(study::kRanges), loads = only(study::kLoads), bonds = only(study::kBonds),
                   worst = only(study::kWorst), drive = only(study::kDrive), moves = only(study::kMoves),
                   collisions = only(study::kCollisions), none = only(0);
        for (std::size_t q = 0; q < whole.poses.size(); ++q) {
            const auto& pose = whole.poses[q];
            EXPECT_TRUE(none.poses[q].ranges.empty());
            EXPECT_TRUE(none.poses[q].loads.empty());
            EXPECT_FALSE(none.poses[q].standing);
            ASSERT_EQ(ranges.poses[q].ranges.size(), pose.ranges.size());
            for (std::size_t r = 0; r < pose.ranges.size(); ++r) {
                EXPECT_EQ(ranges.poses[q].ranges[r].free.low, pose.ranges[r].free.low);
                EXPECT_EQ(ranges.poses[q].ranges[r].free.high, pose.ranges[r].free.high);
            }
            ASSERT_EQ(loads.poses[q].loads.size(), pose.loads.size());
            for (std::size_t j = 0; j < pose.loads.size(); ++j)
                EXPECT_EQ(loads.poses[q].loads[j].needNmm, pose.loads[j].needNmm);
            EXPECT_EQ(collisions.poses[q].collisions.size(), pose.collisions.size());
            ASSERT_EQ(none.poses[q].tipping.has_value(), pose.tipping.has_value());
            if (pose.tipping) {
                EXPECT_EQ(none.poses[q].tipping->angleDeg, pose.tipping->angleDeg);
            }
            ASSERT_EQ(bonds.poses[q].standing != nullptr, pose.standing != nullptr);
            if (pose.standing) {
                EXPECT_EQ(bonds.poses[q].standing->equilibrium.lambda, pose.standing->equilibrium.lambda);
            }
        }
        for (std::size_t j = 0; j < whole.worst.size(); ++j) EXPECT_EQ(worst.worst[j].needNmm, whole.worst[j].needNmm);
        EXPECT_EQ(moves.moves.size(), whole.moves.size());
        for (std::size_t m = 0; m < whole.moves.size(); ++m)
            EXPECT_EQ(moves.moves[m].leastDeg, whole.moves[m].leastDeg);
        EXPECT_EQ(drive.drive != nullptr, whole.drive != nullptr);
        EXPECT_EQ(none.drive, nullptr);
    }
}

TEST(Facts, OfOneJointInOnePoseAreThoseAlone) {
    const auto project =
        std::make_shared<const model::Project>(must(files::loadProject(test::repo("/data/demo/heron.ivrant"))));
    const auto whole = verdict::calcReport(project);
    study::Wanted wanted;
    wanted.facts = study::kRanges;
    wanted.inPose = [](const model::NamedPose* named) { return named && named->name == "Asleep"; };
    wanted.ofJoint = [](const model::Joint& joint) { return joint.name == "Left wing"; };
    const auto report = verdict::calcReport(project, nullptr, wanted);
    EXPECT_TRUE(report.present.ranges.empty());
    for (std::size_t q = 0; q < report.poses.size(); ++q) {
        if (report.poses[q].name != "Asleep") {
            EXPECT_TRUE(report.poses[q].ranges.empty());
            continue;
        }
        ASSERT_EQ(report.poses[q].ranges.size(), 2U) << "a clip on a bar turns and slides";
        for (const auto& range : report.poses[q].ranges)
            for (const auto& same : whole.poses[q].ranges)
                if (same.joint == range.joint && same.freedom == range.freedom) {
                    EXPECT_EQ(range.free.low, same.free.low);
                    EXPECT_EQ(range.free.high, same.free.high);
                }
    }
}

TEST(Verdicts, StoppingLeavesAnIncompleteReport) {
    base::Progress progress;
    progress.stop();
    EXPECT_FALSE(
        verdict::calcReport(std::make_shared<const model::Project>(blockedArm(1).project), &progress).complete);
}

TEST(Make, StepsFollowTheTreeAndCountEveryPart) {
    const auto heron = must(files::loadProject(test::repo("/data/demo/heron.ivrant")));
    const auto steps = make::listSteps(heron, must(model::makeTree(heron)));
    std::size_t added = 0, inTrays = 0, inList = 0;
    for (std::size_t i = 0; i < steps.size(); ++i) {
        EXPECT_EQ(steps[i].number, static_cast<int>(i) + 1);
        added += steps[i].added.size();
        for (const auto& line : steps[i].tray) inTrays += static_cast<std::size_t>(line.count);
    }
    for (const auto& line : make::listParts(heron)) inList += static_cast<std::size_t>(line.count);
    EXPECT_EQ(added, heron.partCount());
    EXPECT_EQ(inTrays, heron.partCount());
    EXPECT_EQ(inList, heron.partCount());
}

TEST(Verdicts, AValueBetweenStepsOrBeyondTheLimitIsNamedAndMended) {
    Figure f = blockedArm(1);
    const auto joint = f.project.joints[0].id;
    f.project = must(model::setJointValue(f.project, joint, {30}));
    auto report = reportOn(f.project);
    const auto* v = find(report, "value/" + joint.text + "/present");
    ASSERT_TRUE(v);
    EXPECT_EQ(v->state, verdict::State::Fail);
    EXPECT_DOUBLE_EQ(v->limit, 22.5); // 30 lies 7.5 above 22.5 and 15 below 45
    auto mended = must(verdict::listMends(report, *v)[0].apply(f.project));
    EXPECT_DOUBLE_EQ(mended.joints[0].value[0], 22.5);
    EXPECT_FALSE(find(reportOn(mended), v->id));
    f.project = must(model::setJointValue(f.project, joint, {112.5}));
    report = reportOn(f.project);
    v = find(report, "value/" + joint.text + "/present");
    ASSERT_TRUE(v);
    EXPECT_TRUE(v->text.find("beyond its own limit") != std::string::npos);
    EXPECT_DOUBLE_EQ(must(verdict::listMends(report, *v)[0].apply(f.project)).joints[0].value[0], 90);
}

TEST(Verdicts, ASectionJoinedToNothingIsSaid) {
    Figure f;
    f.put(0, "plate 2x2 at 0 0 0");
    f.put(1, "plate 2x2 at 9 0 0");
    const auto report = reportOn(f.project);
    const auto* v = find(report, "unjoined/" + f.project.sections[1]->id.text);
    ASSERT_TRUE(v);
    EXPECT_EQ(v->state, verdict::State::Thin);
    EXPECT_FALSE(find(report, "unjoined/" + f.project.sections[0]->id.text));
}

TEST(Verdicts, BuildRulesDecideAboutFriction) {
    // A bar of two pitches stands in the hollow stud of a round plate.
    Figure f;
    f.put(0, "plate 2x2 at 0 0 0");
    f.put(0, "round plate 1x1 at 0 0 1");
    f.put(0, "bar 2 at 0 0 2 turn 12"); // u = 3: the bar's own z points to −x, so its own x points up
    const auto stateOf = [&](model::BuildRules rules) {
        const auto report = reportOn(must(model::setRules(f.project, rules)));
        for (const auto& v : report.verdicts)
            if (v.text.find("friction only") != std::string::npos) return std::optional(v.state);
        return std::optional<verdict::State>();
    };
    EXPECT_EQ(stateOf(model::BuildRules::Strict), verdict::State::Thin);
    EXPECT_EQ(stateOf(model::BuildRules::Display), verdict::State::Good);
}

TEST(Verdicts, WeighedModelsSayMeasured) {
    Figure f;
    const auto plate = f.put(0, "plate 4x4 at 0 0 0");
    EXPECT_EQ(find(reportOn(f.project), "tip/present")->basis, verdict::Basis::Starting);
    f.project = must(model::weighParts(f.project, std::array{plate}, 3.1));
    EXPECT_EQ(find(reportOn(f.project), "tip/present")->basis, verdict::Basis::Measured);
}

TEST(Verdicts, OnlyKindsThatCouldReachAreOfferedForARange) {
    // The captain's right shoulder is wanted to swing 30° out while lowered by 40°: √(30² + 40²) = 50° is beyond every
    // ball's cone, and no hinge swings that way at all. What remains is to want less.
    const auto report = reportOn(must(files::loadProject(test::repo("/data/demo/fairgoer-captain.ivrant"))));
    bool seen = false;
    for (const auto& v : report.verdicts) {
        if (v.state != verdict::State::Fail) continue;
        seen = true;
        EXPECT_EQ(v.place.freedom, "s1");
        for (const auto& mend : verdict::listMends(report, v))
            EXPECT_TRUE(mend.text.starts_with("want only")) << mend.text;
    }
    EXPECT_TRUE(seen);
    // A small hinge wanted to 100° is stopped by its own 90°: the large one could reach it.
    Figure f = blockedArm(1);
    f.project = must(model::removeParts(f.project, std::vector<model::PartId>{f.project.sections[0]->parts.back().id}));
    f.project = must(model::setWanted(f.project, f.project.joints[0].id, {{0, 100}}));
    const auto hinge = reportOn(f.project);
    const auto* v = find(hinge, "range/" + f.project.joints[0].id.text + "/present");
    ASSERT_EQ(v->state, verdict::State::Fail);
    const auto mends = verdict::listMends(hinge, *v);
    EXPECT_TRUE(std::any_of(mends.begin(), mends.end(),
                            [](const auto& m) { return m.text == "use stepped hinge large here"; }));
    EXPECT_TRUE(std::none_of(mends.begin(), mends.end(),
                             [](const auto& m) { return m.text.find("ball") != std::string::npos; }));
}
