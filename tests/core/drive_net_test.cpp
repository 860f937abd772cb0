// SPDX-License-Identifier: GPL-3.0-or-later
// A drive as one net: what motors, loads, closed loops and selectors do to each other.
#include <cmath>
#include <random>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/drive/settle.h"
#include "core/pose/kinematics.h"
#include "core/study/pose_meshes.h"
#include "core/verdict/report.h"
#include "tests/support/boards.h"
#include "tests/support/near.h"

using namespace ivrant;
using model::GearKind;
using test::BoardFigure;
using test::must;

namespace {

constexpr double kSpur = drive::kSpurEfficiency * drive::kBearingEfficiency;
constexpr double kWatt = 2 * base::kPi / 60 / 1000; ///< for a N·mm at 1 rpm

struct Trial : BoardFigure {
    void load(const model::ShaftId& on, double nmm, model::LoadKind kind = model::LoadKind::Friction,
              double travel = 90) {
        model::DriveFunction f;
        f.name = "f" + on.text;
        f.shaft = on;
        f.load = kind;
        f.amount = nmm;
        f.radiusMm = kind == model::LoadKind::Lift ? 10 : 0;
        f.travel = travel;
        function(std::move(f));
    }
    [[nodiscard]] drive::DriveReport report(double ohm) const {
        drive::DriveInputs inputs;
        inputs.battery.innerOhm = ohm;
        return drive::calcDriveReport(project, drive::readBoards(project, poses()), inputs);
    }
    [[nodiscard]] std::vector<std::string> checks(verdict::State state) const {
        std::vector<std::string> list;
        for (const auto& v : verdict::calcReport(std::make_shared<const model::Project>(project)).verdicts)
            if (v.state == state) list.push_back(v.check);
        return list;
    }
    [[nodiscard]] bool has(verdict::State state, const std::string& check) const {
        const auto list = checks(state);
        return std::find(list.begin(), list.end(), check) != list.end();
    }
};

/// Two motors on one shaft, an 8 on a 24 behind it.
struct Pair : Trial {
    model::ShaftId in = shaft(0, 0), out = shaft(2, 0);
    Pair(const std::string& one, const std::string& other) {
        spur(in, 8);
        spur(out, 24);
        motor(in, one);
        project = must(model::putMotor(project, board, {{}, "N", other, in, true, {}}));
    }
};

/// A motor on the case of a differential, a shaft on either side.
struct Sides : Trial {
    model::ShaftId in = shaft(-3.25, 0), left = shaft(0, 0, 2), right = shaft(0, 0, 2, 2);
    Sides() {
        model::Gear differential;
        differential.kind = GearKind::Differential;
        differential.teeth = 28;
        differential.shaft = left;
        differential.other = right;
        differential.alongUm = um(2);
        put(differential);
        spur(in, 24, 2);
        motor(in);
    }
};

const drive::FunctionState& now(const drive::DriveReport& report, std::size_t function) {
    return at(report.positions, report.present).functions.at(function);
}

} // namespace

TEST(DriveNet, ThreePlanetsCarryAThirdEach) {
    // Sun 24, ring 56 held, planets 16 on the carrier: 100 N·mm on it are 30 on the sun and 70 on the ring.
    drive::Train train{6, {drive::makeHeld(1)}};
    for (const int planet : {3, 4, 5}) {
        train.relations.push_back(drive::makeCarried(drive::makeSpur(0, 24, planet, 16), 2, {planet}));
        train.relations.push_back(drive::makeCarried(drive::makeChain(1, 56, planet, 16), 2, {planet}));
    }
    const auto motion = drive::solveTrain(train, {0});
    ASSERT_EQ(motion.redundant.size(), 2u);
    const auto load = must(drive::calcLoad(train, motion, {{{0, 100.0}}, {{2, -100.0}}, {}}));
    EXPECT_NEAR(load.driveNmm.at(0), 30, 1e-9);
    for (const std::size_t sun : {1U, 3U, 5U}) EXPECT_NEAR(std::abs(load.onTerms[sun][0]), 30 / 3.0, 1e-9);
    for (const std::size_t ring : {2U, 4U, 6U}) EXPECT_NEAR(std::abs(load.onTerms[ring][0]), 70 / 3.0, 1e-9);
    EXPECT_NEAR(load.outW, load.inW, 1e-12);
    EXPECT_GT(load.outW, 0);
}

TEST(DriveNet, ClosedLoopsShareByLeastNorm) {
    // Four 16 in a square: from one to its opposite there are two like ways, each with half of the load.
    drive::Train train{4, {}};
    for (const auto& [a, b] : {std::pair{0, 1}, {1, 2}, {2, 3}, {3, 0}})
        train.relations.push_back(drive::makeSpur(a, 16, b, 16));
    const auto motion = drive::solveTrain(train, {0});
    ASSERT_EQ(motion.redundant.size(), 1u);
    const auto load = must(drive::calcLoad(train, motion, {{{0, 100.0}}, {{2, -80.0}}, {}}));
    EXPECT_NEAR(load.driveNmm.at(0), 80, 1e-9);
    for (const auto& terms : load.onTerms) EXPECT_NEAR(std::abs(terms[0]), 40, 1e-9);
    // With losses power still adds up, and both ways stay alike.
    const auto lossy = must(
        drive::calcLoad(train, motion, {{{0, 100.0}}, {{2, -80.0}}, std::vector<drive::Efficiency>(4, {0.9, 0.9})}));
    EXPECT_NEAR(lossy.driveNmm.at(0), 80 / 0.81, 1e-9);
    double lost = 0;
    for (const double loss : lossy.lossW) lost += loss;
    EXPECT_NEAR(lossy.inW, lossy.outW + lost, 1e-12);
    EXPECT_NEAR(std::abs(lossy.onTerms[0][0]), std::abs(lossy.onTerms[3][1]), 1e-9);
}

TEST(DriveNet, LikeMotorsOnAShaftGiveHalfEach) {
    Pair both("motor medium", "motor medium");
    both.load(both.out, 120);
    const auto report = both.report(0);
    const auto& state = now(report, 0);
    ASSERT_EQ(state.motors.size(), 2u);
    const double asked = 120 / 3.0 / kSpur;
    for (const auto& share : state.motors) EXPECT_NEAR(share.point.torqueNmm, asked / 2, 1e-6);
    const auto& line = *drive::findStartingMotor("motor medium");
    EXPECT_NEAR(state.motors[0].point.rpm, line.noLoadRpm * (1 - asked / 2 / line.stallNmm), 1e-6);
    EXPECT_NEAR(state.speed, state.motors[0].point.rpm / 3, 1e-6);
    EXPECT_NEAR(*state.margin, 2 * line.stallNmm / asked, 1e-6);
    EXPECT_NEAR(state.inW, asked * state.motors[0].point.rpm * kWatt, 1e-9);
    EXPECT_NEAR(state.inW, state.outW + state.lostW, 1e-12);
    EXPECT_TRUE(both.has(verdict::State::Good, "motor-share"));
    EXPECT_FALSE(both.has(verdict::State::Fail, "fight"));
}

TEST(DriveNet, UnlikeMotorsShareByTheirLines) {
    Pair both("motor medium", "motor large");
    both.load(both.out, 300);
    const auto report = both.report(0);
    const auto& state = now(report, 0);
    const auto &a = *drive::findStartingMotor("motor medium"), &b = *drive::findStartingMotor("motor large");
    // Ta(1 − n/na) + Tb(1 − n/nb) = T.
    const double asked = 300 / 3.0 / kSpur,
                 n = (a.stallNmm + b.stallNmm - asked) / (a.stallNmm / a.noLoadRpm + b.stallNmm / b.noLoadRpm);
    EXPECT_NEAR(state.motors[0].point.rpm, n, 1e-6);
    EXPECT_NEAR(state.motors[1].point.rpm, n, 1e-6);
    EXPECT_NEAR(state.motors[0].point.torqueNmm, a.stallNmm * (1 - n / a.noLoadRpm), 1e-6);
    EXPECT_NEAR(state.motors[1].point.torqueNmm, b.stallNmm * (1 - n / b.noLoadRpm), 1e-6);
    // On a battery with resistance both sag by both currents: the same speed still.
    const auto sagging = both.report(1);
    EXPECT_NEAR(now(sagging, 0).motors[0].point.rpm, now(sagging, 0).motors[1].point.rpm, 1e-6);
    EXPECT_LT(now(sagging, 0).speed, state.speed);
}

TEST(DriveNet, ASlowMotorIsDraggedByAFastOne) {
    Pair both("motor medium", "motor steering"); // 400 and 100 rpm
    both.load(both.out, 1);
    EXPECT_EQ(both.report(0).positions[0].dragged, std::vector<int>{1});
    EXPECT_TRUE(both.has(verdict::State::Fail, "fight"));
}

TEST(DriveNet, MotorsThatCannotPullAloneDoTogether) {
    const auto& line = *drive::findStartingMotor("motor medium");
    const double most = 1.5 * line.stallNmm * 3 * kSpur;
    Pair both("motor medium", "motor medium");
    both.load(both.out, most);
    EXPECT_NEAR(*now(both.report(0), 0).margin, 2 / 1.5, 1e-6);
    Pair one("motor medium", "motor medium");
    one.project = must(model::removeFromBoard(one.project, {one.project.boards.front()->motors[1].id.text}));
    one.load(one.out, most);
    EXPECT_TRUE(now(one.report(0), 0).motors[0].point.stalls);
}

TEST(DriveNet, TheLighterSideOfADifferentialTurns) {
    for (const bool leftLight : {true, false}) {
        Sides f;
        f.load(f.left, leftLight ? 10 : 30);
        f.load(f.right, leftLight ? 30 : 10);
        const auto report = f.report(0);
        const auto &light = now(report, leftLight ? 0 : 1), &heavy = now(report, leftLight ? 1 : 0);
        EXPECT_FALSE(light.motors.empty());
        EXPECT_TRUE(heavy.motors.empty()) << "it rests";
        ASSERT_EQ(light.motors.size(), 1u);
        // It turns twice as fast as the case, which carries twice its torque.
        EXPECT_NEAR(std::abs(light.motors[0].ratio.get_d()), 2 * 24.0 / 28, 1e-12);
        const double bevel = drive::kBevelEfficiency * drive::kBearingEfficiency;
        // In the case's frame the heavy side gives and the light one takes: 10 on the light side, 10/η on the heavy
        // one.
        EXPECT_NEAR(light.motors[0].point.torqueNmm, 10 * (1 + 1 / bevel) * 24.0 / 28 / kSpur, 1e-9);
        EXPECT_TRUE(f.has(verdict::State::Fail, "reached"));
    }
}

TEST(DriveNet, LikeLoadsOfADifferentialAreBothDriven) {
    for (const auto kind : {model::LoadKind::Friction, model::LoadKind::Lift, model::LoadKind::None}) {
        Sides f;
        f.load(f.left, 20, kind);
        f.load(f.right, 20, kind);
        const auto report = f.report(0);
        for (const std::size_t side : {0U, 1U}) {
            const auto& state = now(report, side);
            ASSERT_EQ(state.motors.size(), 1u) << side;
            EXPECT_FALSE(state.loose);
            EXPECT_NEAR(std::abs(state.motors[0].ratio.get_d()), 24.0 / 28, 1e-12) << "as the case";
            EXPECT_NEAR(state.inW, state.outW + state.lostW, 1e-12);
        }
        EXPECT_EQ(report.positions[0].alike.size(), 1u);
        EXPECT_FALSE(f.has(verdict::State::Fail, "reached"));
    }
}

TEST(DriveNet, OneSideWithoutALoadSpins) {
    Sides f;
    f.load(f.left, 20);
    EXPECT_TRUE(now(f.report(0), 0).motors.empty()) << "the other side goes instead";
    EXPECT_TRUE(f.has(verdict::State::Fail, "reached"));
}

TEST(DriveNet, NestedDifferentialsShareBetweenFour) {
    // Case 0 between 1 and 2, which are cases themselves of 3 4 and 5 6.
    const drive::Train train{
        7, {drive::makeDifferential(0, 1, 2), drive::makeDifferential(1, 3, 4), drive::makeDifferential(2, 5, 6)}};
    const auto alike = drive::settleTrain(train, {0}, {{3, 5}, {4, 5}, {5, 5}, {6, 5}}, {});
    EXPECT_EQ(alike.motion.freedom(), 1);
    for (const int wheel : {3, 4, 5, 6}) EXPECT_EQ(alike.motion.ratio(wheel, 0), drive::Rational(1)) << wheel;
    // One wheel off the ground takes all of it: a quarter of the torque of none.
    const auto light = drive::settleTrain(train, {0}, {{3, 5}, {4, 5}, {5, 1}, {6, 5}}, {});
    EXPECT_EQ(light.motion.ratio(5, 0), drive::Rational(4));
    for (const int wheel : {3, 4, 6}) EXPECT_EQ(light.motion.ratio(wheel, 0), drive::Rational(0)) << wheel;
}

TEST(DriveNet, AnIdlersAxleIsNotTwisted) {
    Trial f;
    const auto in = f.shaft(0, 0), idler = f.shaft(2, 0), out = f.shaft(5, 0);
    f.spur(in, 8);
    f.spur(idler, 24);
    f.spur(out, 24);
    f.motor(in);
    f.load(out, 90);
    const auto report = f.report(0);
    const auto& state = now(report, 0);
    // The output's axle passes 90 from its wheel to the load; the input's a third and the losses; the idler's nothing.
    EXPECT_NEAR(state.mostTwistNmm, 90, 1e-9);
    EXPECT_EQ(state.mostTwistAt, at(report.net.rotors, report.net.findRotor(out.text)).name);
    f.project = must(model::removeFromBoard(f.project, {f.project.boards.front()->functions[0].id.text}));
    f.load(idler, 90); // now something leaves there
    EXPECT_NEAR(now(f.report(0), 0).mostTwistNmm, 90, 1e-9);
}

TEST(DriveNet, EveryMotorDrawsOnTheSameBattery) {
    Trial f;
    const auto a = f.shaft(0, 0), b = f.shaft(6, 0);
    f.spur(a, 8);
    f.spur(b, 8);
    f.motor(a);
    f.load(a, 20);
    const double alone = now(f.report(2), 0).speed;
    f.motor(b, "motor large");
    f.load(b, 100);
    const auto report = f.report(2);
    const auto &one = now(report, 0).motors[0].point, &other = now(report, 1).motors[0].point;
    EXPECT_LT(now(report, 0).speed, alone);
    // By hand: both currents through 2 Ω.
    const double volts = 9 - 2 * (one.currentA + other.currentA);
    const auto& line = *drive::findStartingMotor("motor medium");
    EXPECT_NEAR(one.rpm, line.noLoadRpm * (volts / line.ratedV - one.torqueNmm / line.stallNmm), 1e-5);
    EXPECT_NEAR(one.voltageV, volts, 1e-5);
}

TEST(DriveNet, SeveralSelectorsAreCombined) {
    Trial f;
    const auto in = f.shaft(0, 0), out = f.shaft(2, 0, 6);
    f.spur(in, 8, 1);
    f.spur(in, 8, 3);
    const auto low = f.gear(out, GearKind::Spur, 24, 1, true), high = f.gear(out, GearKind::Spur, 24, 3, true);
    f.motor(in);
    f.load(out, 30);
    for (const auto& wheel : {low, high})
        f.project =
            must(model::putSelector(f.project, f.board, {{}, "S" + wheel.text, {{"off", {}}, {"on", {wheel}}}, 0, {}}));
    const auto report = f.report(0);
    ASSERT_EQ(report.positions.size(), 4u);
    ASSERT_EQ(report.combinations.size(), 1u) << "only both on is none of the positions";
    EXPECT_EQ(report.combinations[0].setting.size(), 2u);
    EXPECT_EQ(report.combinations[0].setting[0].second, "on");
    EXPECT_EQ(report.combinations[0].setting[1].second, "on");
    EXPECT_EQ(report.leftOut, 0u);
    EXPECT_FALSE(report.combinations[0].functions[0].motors.empty());
}

TEST(DriveNet, ManyCombinationsAreCappedAndCounted) {
    Trial f;
    const auto in = f.shaft(0, 0);
    const auto wheel = f.gear(in, GearKind::Spur, 24, 1, true);
    for (int s = 0; s < 8; ++s)
        f.project = must(model::putSelector(f.project, f.board,
                                            {{}, "S" + std::to_string(s), {{"off", {}}, {"on", {wheel}}}, 0, {}}));
    const auto report = f.report(0);
    EXPECT_EQ(report.combinations.size(), drive::kMostCombinations);
    EXPECT_EQ(report.combinations.size() + report.leftOut, 256u - 1 - 8);
}

TEST(DriveNet, ALockNamesTheContradictionOnly) {
    // A motor, three stages, then three wheels in a ring.
    Trial f;
    const auto in = f.shaft(0, 0), second = f.shaft(2, 0), third = f.shaft(4, 0, 6);
    f.spur(in, 8);
    f.spur(second, 24);
    f.spur(third, 8);
    f.motor(in);
    const auto a = f.shaft(4 + 2, 0, 6), b = f.shaft(4, 2, 6), c = f.shaft(6, 2, 6);
    for (const auto& [on, along] : {std::pair{third, 3}, {a, 3}, {third, 5}, {b, 5}, {b, 4}, {c, 4}, {a, 4}})
        f.spur(on, 16, along);
    // c meshes with b and with a at 4: third – a turns back, third – b back, b – c on, a – c on: it runs.
    EXPECT_TRUE(f.report(0).positions[0].lock.empty());
    f.spur(a, 8, 2); // and an 8 to 24 beside the like pair: another ratio between the same two
    f.spur(third, 24, 2);
    const auto lock = f.report(0).positions[0].lock;
    EXPECT_EQ(lock.size(), 2u) << "16 on 16 and 24 on 8 between the same two shafts";
}

TEST(DriveNet, MeshesAreLookedAtInEveryPose) {
    // Wheels of 16 in two sections of a hinge, 16 mm apart as it stands; bent by a step they are further apart, the
    // other way they bind.
    test::HingeRun run(1);
    const auto tree = run.tree();
    const pose::Kinematics kinematics(run.project, tree);
    const auto placed = run.placed();
    const geometry::Frame X_WJ = kinematics.jointFrame(placed.X_WS, 0);
    Trial f;
    f.project = run.project;
    for (int s = 0; s < 2; ++s) {
        const geometry::Frame X_WB =
            X_WJ * geometry::makeFrame(geometry::Mat3::Identity(), {30, s == 0 ? -16.0 : 0.0, 0});
        f.addBoard(f.project.sections[static_cast<std::size_t>(s)]->id,
                   model::makePlace(at(placed.X_WS, s).inverse(Eigen::Isometry) * X_WB));
        f.spur(f.shaft(0, 0), 16);
    }
    const double step = 22.5;
    for (const auto& [name, value] : {std::pair{"Away", step}, {"Near", -step}, {"As it is", 0.0}})
        f.project = must(model::addPose(f.project, name, {{f.project.joints[0].id, {value}}}, {}));
    study::Wanted wanted;
    wanted.facts = study::kDrive;
    const auto project = std::make_shared<const model::Project>(f.project);
    const auto facts = study::calcFacts(project, wanted);
    ASSERT_EQ(facts.drive->net.relations.size(), 1u);
    using How = study::PoseMesh::How;
    std::map<std::string, std::set<How>> told;
    for (const auto& mesh : study::findPoseMeshes(facts))
        for (const auto& pose : mesh.poses) told[pose].insert(mesh.how);
    EXPECT_EQ(told["Away"], std::set<How>{How::Parts});
    EXPECT_TRUE(told["Near"].count(How::Binds) > 0 || told["Near"].count(How::Clash) > 0);
    EXPECT_EQ(told.count("As it is"), 0u);
    EXPECT_TRUE(f.has(verdict::State::Fail, "mesh-pose"));
    EXPECT_TRUE(f.has(verdict::State::Thin, "mesh-pose"));
}

TEST(DriveNet, TimesCountInEveryPosition) {
    Trial f;
    const auto in = f.shaft(0, 0), out = f.shaft(2, 0, 6);
    f.spur(in, 8, 1);
    f.spur(in, 16, 3);
    const auto slow = f.gear(out, GearKind::Spur, 24, 1, true), fast = f.gear(out, GearKind::Spur, 16, 3, true);
    f.motor(in);
    model::DriveFunction lift;
    lift.name = "Out";
    lift.shaft = out;
    lift.load = model::LoadKind::Friction;
    lift.amount = 20;
    lift.travel = 720;
    f.function(lift);
    f.project =
        must(model::putSelector(f.project, f.board, {{}, "Speed", {{"slow", {slow}}, {"fast", {fast}}}, 1, {}}));
    const auto report = f.report(1);
    const double slowS = *report.positions[0].functions[0].travelS, fastS = *report.positions[1].functions[0].travelS;
    ASSERT_GT(slowS, fastS);
    auto asked = f.project.boards.front()->functions.front();
    asked.withinS = (slowS + fastS) / 2;
    f.project = must(model::putFunction(f.project, f.board, asked));
    EXPECT_TRUE(f.has(verdict::State::Fail, "travel-time"));
}

TEST(DriveNet, OneMotorOnBothIsGoodWhenItIsMeant) {
    for (const bool meant : {false, true}) {
        Trial f;
        const auto in = f.shaft(0, 0), left = f.shaft(-2, 0), right = f.shaft(2, 0);
        f.spur(in, 8);
        f.spur(left, 24);
        f.spur(right, 24);
        f.motor(in);
        f.load(left, 5);
        f.load(right, 5);
        const auto functions = f.project.boards.front()->functions; // each edit makes a new board
        for (auto function : functions) {
            function.withOthers = meant;
            f.project = must(model::putFunction(f.project, f.board, function));
        }
        EXPECT_TRUE(f.has(meant ? verdict::State::Good : verdict::State::Thin, "together"));
    }
}

TEST(DriveNet, PowerAddsUpInRandomNets) {
    std::mt19937 random(12);
    std::uniform_int_distribution<int> pick(0, 3), load(1, 60);
    const int teeth[] = {8, 16, 24, 40};
    int driven = 0;
    for (int round = 0; round < 40; ++round) {
        Trial f;
        // A row of shafts, each two wheels apart from the next, some with a motor, most with a load.
        double x = 0;
        model::ShaftId last = f.shaft(0, 0, 20);
        f.motor(last);
        for (int s = 1; s < 5; ++s) {
            const int a = teeth[pick(random)], b = teeth[pick(random)];
            x += (a + b) / 16.0;
            const auto next = f.shaft(x, 0, 20);
            f.spur(last, a, s * 2);
            f.spur(next, b, s * 2);
            if (pick(random) == 0) f.motor(next, "motor large");
            f.load(next, load(random) / 4.0, pick(random) < 2 ? model::LoadKind::Friction : model::LoadKind::Lift);
            last = next;
        }
        const auto report = f.report(1);
        for (const auto* position : report.listStates())
            for (const auto& state : position->functions) {
                if (state.motors.empty() || !(state.speed > 0)) continue;
                ++driven;
                EXPECT_NEAR(state.inW, state.outW + state.lostW, 1e-9 * (1 + state.inW)) << round;
                double given = 0;
                for (const auto& share : state.motors)
                    given += std::max(0.0, share.point.torqueNmm) * share.point.rpm * kWatt;
                EXPECT_LE(given, state.inW * (1 + 1e-4)) << round; // loads that push come on top
            }
    }
    EXPECT_GT(driven, 60);
}
