// SPDX-License-Identifier: GPL-3.0-or-later
// Motion studies: energy over the turn, paths, meetings, ends; what is judged of them; what a function's motor is
// asked.
#include <cmath>
#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/files/project_file.h"
#include "core/files/results_motion.h"
#include "core/model/mass.h"
#include "core/model/variants.h"
#include "core/pose/rings.h"
#include "core/study/drive_inputs.h"
#include "core/study/motion_words.h"
#include "core/verdict/pose/check_motions.h"
#include "tests/support/linkages.h"
#include "tests/support/repo.h"
#include "tests/support/reports.h"

using namespace ivrant;
using test::FourBar;
using test::must;
using test::Parallelogram;

namespace {

model::Motion motionOf(const model::Project& project, int joint, const std::string& name = "Turning") {
    model::Motion motion;
    motion.name = name;
    motion.joint = at(project.joints, joint).id;
    return motion;
}

/// A figure with a motion, standing on its frame in a plane that stands upright.
template <class Base> struct Driven : Base {
    verdict::Report report;
    explicit Driven(int joint = 0, std::optional<model::Travel> over = {}, int places = 72) {
        pose::Closed closed;
        this->project = must(pose::closeRings(this->project, {this->project.joints[0].id}, closed));
        model::Motion motion = motionOf(this->project, joint);
        motion.over = over;
        motion.places = places;
        this->project = must(model::putMotion(this->project, motion));
        look();
    }
    void look() { report = test::reportOf(this->project); }
    [[nodiscard]] const study::MotionStudy& study() const { return *report.motions.front(); }
};

double potentialOf(const verdict::Report& report, const study::MotionStudy& study, std::size_t place) {
    study::MotionInputs inputs;
    inputs.project = report.project.get();
    inputs.tree = &report.tree;
    inputs.placed = &report.present.placed;
    const auto placed = study::placeMotion(inputs, study, study.places[place].values);
    const auto mass = model::calcMass(placed);
    return base::weightN(mass.massG) * mass.centre.z();
}

} // namespace

TEST(Motion, GravityTorqueIsWhatRaisesTheWeights) {
    const Driven<FourBar> f(0, {}, 360);
    const auto& study = f.study();
    ASSERT_TRUE(study.problem.empty()) << study.problem;
    ASSERT_TRUE(study.allRound);
    ASSERT_EQ(study.places.size(), 361u);
    double sum = 0;
    for (std::size_t k = 1; k + 1 < study.places.size(); ++k) {
        const double slope = (potentialOf(f.report, study, k + 1) - potentialOf(f.report, study, k - 1)) /
                             base::degToRad(study.places[k + 1].at - study.places[k - 1].at);
        EXPECT_NEAR(study.places[k].gravityNmm, slope, 0.002 + 2e-3 * std::abs(slope)) << k;
        sum += study.places[k].gravityNmm;
    }
    sum += study.places[0].gravityNmm;
    EXPECT_NEAR(sum * base::degToRad(1), 0, 1e-6) << "over a whole turn nothing is raised";
}

TEST(Motion, FrictionIsThatOfAllJointsBySpeed) {
    const Driven<FourBar> f;
    const double holding = parts::findJointKind("ribbed pin")->holdingNmm;
    for (const auto& p : f.study().places) {
        double sum = 0;
        for (const double rate : p.rates) sum += holding * std::abs(rate);
        EXPECT_NEAR(p.frictionNmm, sum, 1e-9);
    }
    EXPECT_FALSE(f.study().frictionMeasured);
}

TEST(Motion, APathIsThatOfThePortOnTheLink) {
    FourBar f;
    model::Motion motion = motionOf(f.project, 0);
    const auto& coupler = f.project.sections[2]->parts.front();
    motion.traced.push_back({coupler.id, "hole 6 back"});
    f.project = must(model::putMotion(f.project, motion));
    const auto report = test::reportOf(f.project);
    const auto& study = *report.motions.front();
    ASSERT_EQ(study.traces.size(), 1u);
    const auto& trace = study.traces[0];
    ASSERT_EQ(trace.path.size(), study.places.size());
    // It is pinned to the rocker: it stays on a circle of 40 mm about the rocker's own joint.
    const geometry::Vec3 centre =
        (report.present.placed.X_WS[0] * pose::calcFromFrame(f.project, report.tree, 2)).translation();
    for (const auto& p : trace.path) EXPECT_NEAR(std::hypot(p.x() - centre.x(), p.z() - centre.z()), 40, 1e-6);
    for (std::size_t k = 0; k < trace.speed.size(); ++k) // and moves as fast as the rocker turns
        EXPECT_NEAR(trace.speed[k], 40 * std::abs(study.places[k].rates[2]), 1e-6);
}

TEST(Motion, WhatACrankCarriesAlongIsTold) {
    const Driven<FourBar> f;
    const auto& study = f.study();
    EXPECT_TRUE(study.returns);
    EXPECT_TRUE(study.changePoints.empty());
    ASSERT_EQ(study.joints.size(), 4u);
    EXPECT_TRUE(study.joints[0].round);
    EXPECT_FALSE(study.joints[2].round);
    EXPECT_GT(study.joints[2].timeRatio, 1.0);
    ASSERT_GE(study.leastSine, 0);
    // Least where the crank lies along the base: cos μ = (b² + c² − (d ± a)²) / 2bc.
    const double near = base::radToDeg(std::acos((48. * 48 + 40. * 40 - 40. * 40) / (2. * 48 * 40)));
    const double far = base::radToDeg(std::acos((48. * 48 + 40. * 40 - 72. * 72) / (2. * 48 * 40)));
    EXPECT_NEAR(study::getTransmissionDeg(at(study.places, study.leastSine)), std::min(near, 180 - far), 0.2);
    const auto* v = test::findCheck(f.report, "transmission");
    ASSERT_NE(v, nullptr);
    EXPECT_EQ(v->state, verdict::getStateOfMargin(verdict::calcTransmissionMargin(v->value)));
    const auto* travel = test::findCheck(f.report, "motion");
    ASSERT_NE(travel, nullptr);
    EXPECT_EQ(travel->text, "Turning goes all round");
}

TEST(Motion, TransmissionMarginsAreThoseOfTheBook) {
    EXPECT_NEAR(verdict::calcTransmissionMargin(20), 1, 1e-12);
    EXPECT_NEAR(verdict::calcTransmissionMargin(40), 1.5, 1e-12);
    EXPECT_LT(verdict::calcTransmissionMargin(19), 1);
    EXPECT_GT(verdict::calcTransmissionMargin(60), 1.5);
}

TEST(Motion, ADrivenRockerTellsBothDeadPoints) {
    const Driven<FourBar> f(2);
    EXPECT_FALSE(f.study().allRound);
    EXPECT_EQ(f.study().low.by, pose::LoopEnd::Dead);
    EXPECT_EQ(f.study().high.by, pose::LoopEnd::Dead);
    EXPECT_EQ(f.report.motions.front()->places.front().at, f.study().low.at);
    const auto* v = test::findCheck(f.report, "motion");
    ASSERT_NE(v, nullptr);
    EXPECT_NE(v->text.find("dead points at both ends"), std::string::npos) << v->text;
    // What is asked is asked on the way, not where any friction is too much.
    EXPECT_GT(f.study().hardestUp, 0);
    EXPECT_LT(f.study().hardestUp, static_cast<int>(f.study().places.size()) - 1);
    EXPECT_LT(f.study().torqueAt(static_cast<std::size_t>(f.study().hardestUp), true), 2000);
}

TEST(Motion, WhatIsAskedBeyondADeadPointFails) {
    const double now = Driven<FourBar>(2).project.joints[2].value[0];
    const Driven<FourBar> f(2, model::Travel{now, now + 300});
    const auto* v = test::findCheck(f.report, "motion");
    ASSERT_NE(v, nullptr);
    EXPECT_EQ(v->state, verdict::State::Fail);
    EXPECT_NE(v->text.find("sticks at"), std::string::npos) << v->text;
    const Driven<FourBar> never(2, model::Travel{now + 200, now + 300});
    const auto* begins = test::findCheck(never.report, "motion");
    ASSERT_NE(begins, nullptr);
    EXPECT_EQ(begins->text, "Turning does not get to its beginning");
}

TEST(Motion, AParallelogramHasChangePointsAndReturns) {
    const Driven<Parallelogram> f;
    EXPECT_TRUE(f.study().allRound);
    EXPECT_TRUE(f.study().returns);
    EXPECT_EQ(f.study().changePoints.size(), 2u);
    const auto* v = test::findCheck(f.report, "change-point");
    ASSERT_NE(v, nullptr);
    EXPECT_EQ(v->state, verdict::State::Thin);
}

TEST(Motion, WhatIsInTheWayIsMetBetweenThePlacesToo) {
    FourBar f;
    // A thin post in the plane of the rocker, where its tip passes.
    f.put(0, "brick 1x1 at 4 1 8");
    f.project = must(model::putMotion(f.project, motionOf(f.project, 0)));
    for (const int places : {8, 72}) {
        model::Motion motion = f.project.motions.front();
        motion.places = places;
        f.project = must(model::putMotion(f.project, motion));
        const auto report = test::reportOf(f.project);
        const auto& meetings = report.motions.front()->meetings;
        // By brute force: every half degree, with the search that looks for collisions in poses.
        study::MotionInputs inputs;
        inputs.project = report.project.get();
        inputs.tree = &report.tree;
        inputs.placed = &report.present.placed;
        inputs.strengths = &report.strengths;
        motion.places = 720;
        const auto fine = study::calcMotion(inputs, motion);
        std::set<std::pair<model::PartSpot, model::PartSpot>> expected, found;
        for (const auto& place : fine.places) {
            const auto placed = study::placeMotion(inputs, fine, place.values);
            for (const auto& hit : pose::calcCollisions(placed, *report.bodies)) expected.emplace(hit.a, hit.b);
        }
        for (const auto& one : meetings) found.emplace(one.a.spot, one.b.spot);
        EXPECT_FALSE(expected.empty());
        for (const auto& pair : expected) EXPECT_EQ(found.count(pair), 1u) << places;
        EXPECT_EQ(found.size(), expected.size()) << places;
    }
}

TEST(Motion, AnotherHoleMendsABadTransmission) {
    test::Linkage f; // crank 16, coupler 48, rocker 24, base 48: hardly passes motion on
    f.put(0, "beam 8 at 0 0 0");
    const auto crank = f.put(1, "beam 3 at 0 0 0"), coupler = f.put(2, "beam 11 at 0 0 0"),
               rocker = f.put(3, "beam 6 at 0 0 0");
    f.tie(0, 0, crank, "hole 0 back", 0);
    f.tie(1, 2, coupler, "hole 0 back", 90);
    f.tie(0, 7, rocker, "hole 0 back", 0);
    f.tie(3, 5, coupler, "hole 8 back", 0);
    f.project = must(model::putMotion(f.project, motionOf(f.project, 0)));
    const auto report = test::reportOf(f.project);
    ASSERT_TRUE(report.motions.front()->problem.empty()) << report.motions.front()->problem;
    const auto* v = test::findCheck(report, "transmission");
    ASSERT_NE(v, nullptr);
    ASSERT_NE(v->state, verdict::State::Good) << v->detail;
    std::vector<verdict::Mend> mends;
    verdict::proposeMotionMends(report, *v, mends);
    ASSERT_FALSE(mends.empty());
    const auto mended = must(mends.front().apply(f.project));
    const auto after = test::reportOf(mended);
    const auto* better = test::findCheck(after, "transmission");
    ASSERT_NE(better, nullptr);
    EXPECT_GT(better->value, v->value + 1) << mends.front().text;
    EXPECT_TRUE(after.present.rings.front().isClosed()) << "its loops are closed at once";
}

TEST(Motion, ALoopThatCannotCloseIsAFinding) {
    test::OpenLinks open;
    open.project = must(model::putMotion(open.project, motionOf(open.project, 0)));
    const auto report = test::reportOf(open.project);
    EXPECT_EQ(report.motions.front()->code, "motion.open");
    const auto* v = test::findCheck(report, "motion");
    ASSERT_NE(v, nullptr);
    EXPECT_EQ(v->state, verdict::State::Fail);
    EXPECT_NE(v->detail.find("mm"), std::string::npos);
    EXPECT_FALSE(files::makeMotionsJson(open.project, report.tree, report.motions, true).empty());
}

TEST(Motion, ItIsKeptWithTheFileAndGoesWithItsJoint) {
    FourBar f;
    model::Motion motion = motionOf(f.project, 3); // the one that closes the ring
    motion.over = model::Travel{-20, 40.5};
    motion.places = 36;
    motion.traced.push_back({f.project.sections[3]->parts.front().id, "hole 5 back"});
    f.project = must(model::putMotion(f.project, motion));
    const auto read = must(files::parseProject(files::writeProject(f.project)));
    ASSERT_EQ(read.motions.size(), 1u);
    EXPECT_EQ(read.motions[0].over, motion.over);
    EXPECT_EQ(read.motions[0].places, 36);
    EXPECT_EQ(read.motions[0].traced, motion.traced);
    EXPECT_EQ(files::writeProject(read), files::writeProject(f.project));
    const auto gone = must(model::removeJoint(f.project, motion.joint, {}));
    EXPECT_TRUE(gone.motions.empty());
    const auto other = must(model::addVariant(f.project, "Other", "First"));
    EXPECT_EQ(other.motions.size(), 1u) << "the new variant begins as a copy";
}

TEST(Motion, BadMotionsAreRefusedWithTheirPlace) {
    const FourBar f;
    model::Motion motion = motionOf(f.project, 0);
    motion.places = 3;
    EXPECT_EQ(model::putMotion(f.project, motion).error().code, "motion.places");
    motion.places = 72;
    motion.over = model::Travel{5, 5};
    EXPECT_EQ(model::putMotion(f.project, motion).error().code, "motion.over");
    motion.over.reset();
    motion.name.clear();
    EXPECT_EQ(model::putMotion(f.project, motion).error().code, "edit.name");
    motion.name = "Turning";
    motion.joint = {"j999"};
    EXPECT_EQ(model::putMotion(f.project, motion).error().code, "edit.missing");
}

TEST(Motion, AFunctionsMotorIsAskedForAllThatIsCarriedAlong) {
    const Driven<FourBar> f;
    const auto curve = study::makeLoopLoad(f.report.present.placed, f.report.tree, 0);
    ASSERT_NE(curve, nullptr);
    EXPECT_TRUE(curve->round);
    model::DriveFunction function;
    function.load = model::LoadKind::Joint;
    const auto loaded = drive::resolveLoad(function, nullptr, curve);
    for (const auto& p : f.study().places)
        EXPECT_NEAR(drive::calcLoadNmm(loaded, p.at), p.gravityNmm + p.frictionNmm, 1e-6) << p.at;
    const auto hardest = drive::calcHardest(loaded);
    EXPECT_NEAR(hardest.nmm, f.study().torqueAt(static_cast<std::size_t>(f.study().hardestUp), true), 1e-9);
    function.travel = -360;
    EXPECT_NEAR(drive::calcHardest(drive::resolveLoad(function, nullptr, curve)).nmm,
                f.study().torqueAt(static_cast<std::size_t>(f.study().hardestDown), false), 1e-9);
    EXPECT_EQ(study::makeLoopLoad(f.report.present.placed, f.report.tree, -1), nullptr);
}

TEST(Motion, ARingHoldsAsOneByTheFrictionOfAllItsJoints) {
    const Driven<FourBar> f;
    const auto& loads = f.report.present.loads;
    const auto& place = f.study().places.front();
    EXPECT_NEAR(loads[0].needNmm, std::abs(place.gravityNmm), 1e-6) << "for one radian of the crank";
    double have = 0;
    for (std::size_t k = 0; k < place.rates.size(); ++k)
        have += at(f.report.strengths, f.study().plan.moved[k]).holding.value * std::abs(place.rates[k]);
    EXPECT_NEAR(loads[0].have.value, have, 1e-9);
    for (const auto& load : loads) {
        EXPECT_EQ(load.ring, 0);
        ASSERT_TRUE(load.margin.has_value());
        EXPECT_NEAR(*load.margin, *loads[0].margin, 1e-6 * *loads[0].margin) << "whichever joint is looked at";
    }
    int told = 0;
    for (const auto& v : f.report.verdicts) told += v.check == "hold" ? 1 : 0;
    EXPECT_EQ(told, 1) << "one finding for the ring";
}

TEST(Motion, ARingThatCannotMoveNeedsNoFriction) {
    test::Linkage f; // 24, 32 and 40 mm: a triangle
    f.put(0, "beam 5 at 0 0 0");
    const auto side = f.put(1, "beam 4 at 0 0 0"), long_ = f.put(2, "beam 6 at 0 0 0");
    f.tie(0, 0, side, "hole 0 back", 0); // upright over the base's end
    const auto far = f.put(0, "pin ribbed at 4 1.5 0 turn 1");
    f.join("ribbed pin", far, "end+", long_, "hole 0 back", {-53.13010235415598});
    f.tie(1, 3, long_, "hole 5 back", 0);
    const auto report = test::reportOf(f.project);
    ASSERT_TRUE(report.present.rings.front().isClosed()) << report.present.rings.front().gapMm;
    for (const auto& load : report.present.loads) {
        EXPECT_GE(load.ring, 0);
        EXPECT_EQ(load.needNmm, 0);
        EXPECT_FALSE(load.margin.has_value());
    }
}

TEST(Motion, TheBriefAsksForTransmissionTorqueAndPath) {
    Driven<FourBar> f;
    f.project = must(model::renameJoint(f.project, f.project.joints[0].id, "Crank"));
    const auto ask = [&](const char* measure, model::Comparison comparison, double value) {
        model::Ask one;
        one.measure = measure;
        one.joint = "Crank";
        one.comparison = comparison;
        one.value = value;
        f.project = must(model::putAsk(f.project, one));
    };
    ask("transmission", model::Comparison::AtLeast, 10);
    ask("motion-torque", model::Comparison::AtMost, 0.1);
    ask("path-width", model::Comparison::AtLeast, 500);
    f.look();
    std::vector<verdict::State> states;
    for (const auto& v : f.report.verdicts)
        if (v.check == "ask") states.push_back(v.state);
    EXPECT_EQ(states.size(), 3u);
    EXPECT_EQ(std::count(states.begin(), states.end(), verdict::State::Fail), 2);
}

TEST(Motion, AFrameWithAPivotPinIsStillTheFrameOfItsDrive) {
    const auto project = must(files::loadProject(test::repo("/data/demo/crab-leg.ivrant")));
    const auto report = test::reportOf(project);
    ASSERT_NE(report.drive, nullptr);
    EXPECT_EQ(report.drive->net.rotors.size(), 1u) << "the shaft alone turns";
    const auto& state = report.drive->positions.front().functions.front();
    const auto& study = *report.motions.front();
    EXPECT_NEAR(state.hardest.nmm, study.torqueAt(static_cast<std::size_t>(study.hardestUp), true), 0.05);
    ASSERT_TRUE(state.margin.has_value());
    EXPECT_GT(*state.margin, 1.5);
    EXPECT_TRUE(study.meetings.empty());
}
