// SPDX-License-Identifier: GPL-3.0-or-later
// A drive read off parts: what turns with what, what carries it, what holds the motor.
#include <gtest/gtest.h>

#include "core/files/project_file.h"
#include "core/pose/kinematics.h"
#include "core/script/script.h"
#include "core/study/stand_cases.h"
#include "core/verdict/mends.h"
#include "core/verdict/report.h"
#include "tests/support/machines.h"
#include "tests/support/repo.h"
#include "tests/support/reports.h"

namespace ivrant {
namespace {

using test::Machine;
using test::SeatedGearbox;

TEST(DriveParts, AGearboxOfPartsTurnsByItsTeeth) {
    SeatedGearbox g;
    g.name(g.output, "Lamp shaft");
    g.turn("Lamp", g.output);
    EXPECT_EQ(g.ratio(g.input, g.output), "-1:3");
    const auto report = g.report();
    ASSERT_EQ(report.motors.size(), 1u);
    EXPECT_EQ(report.motors[0].motor.line, "motor medium");
    ASSERT_EQ(report.positions.front().functions.size(), 1u);
    const auto& lamp = report.positions.front().functions.front();
    ASSERT_EQ(lamp.motors.size(), 1u);
    EXPECT_EQ(drive::formatRatio(lamp.motors.front().ratio), "-1:3");
    // 20 N·mm through one pair: 20 / 3 / (0.92 · 0.98) at the motor.
    EXPECT_NEAR(lamp.motors.front().point.torqueNmm, 20.0 / 3 / (0.92 * 0.98), 1e-6);
    EXPECT_EQ(report.net.rotors[static_cast<std::size_t>(lamp.rotor)].name, "Lamp shaft");
    EXPECT_EQ(report.net.rotors.size(), 2u); // the bricks' own parts are none
}

TEST(DriveParts, ShaftsAreCarriedByTheHolesOfTheWalls) {
    const SeatedGearbox g;
    const auto net = g.report().net;
    ASSERT_EQ(net.supports.size(), 2u);
    for (const auto& support : net.supports) {
        const bool input = support.shaft == g.input.text;
        // From the start of each axle: the motor's output (its hole's middle 40 mm), the walls at 56 and 80 mm.
        const std::vector<double> wanted = input ? std::vector<double>{4, 20, 44} : std::vector<double>{4, 28};
        ASSERT_EQ(support.holesMm.size(), wanted.size());
        for (std::size_t i = 0; i < wanted.size(); ++i) EXPECT_NEAR(support.holesMm[i], wanted[i], 1e-9);
        EXPECT_EQ(support.bricks, 2);
    }
}

TEST(DriveParts, WithoutItsSeatTheMotorHangs) {
    SeatedGearbox g;
    g.turn("Lamp", g.output);
    auto report = test::reportOf(g.project);
    const auto* seat = test::findCheck(report, "motor-seat");
    ASSERT_NE(seat, nullptr);
    EXPECT_EQ(seat->state, verdict::State::Good);
    g.remove(g.seatA);
    g.remove(g.seatB);
    report = test::reportOf(g.project);
    seat = test::findCheck(report, "motor-seat");
    ASSERT_NE(seat, nullptr);
    EXPECT_EQ(seat->state, verdict::State::Fail);
    ASSERT_EQ(seat->place.parts.size(), 1u);
    EXPECT_EQ(seat->place.parts.front(), g.motor);
}

TEST(DriveParts, TheSeatHoldsTheMotorsOwnTorque) {
    // Four rows of three studs across the shaft: twisted over the edge 12 mm from its middle the studs pull at 20, 12
    // and 4 mm; its weight helps at 12 mm.
    SeatedGearbox g;
    g.turn("Lamp", g.output);
    const auto report = test::reportOf(g.project);
    const auto* torque = test::findCheck(report, "motor-torque");
    ASSERT_NE(torque, nullptr);
    const auto line = drive::findStartingMotor("motor medium");
    const double stall = drive::calcStallNmm(*line, drive::getStartingBattery());
    const double pull = study::calcBondLimits(g.project).studPull.value;
    const double weight = base::weightN(test::must(parts::makeShape("motor medium"))->massG);
    const double byHand = 4 * pull * (20 + 12 + 4) / (stall - weight * 12);
    EXPECT_NEAR(*torque->margin, byHand, 0.01 * byHand);
    EXPECT_EQ(torque->state, verdict::getStateOfMargin(*torque->margin));
}

TEST(DriveParts, AShaftWithoutABushSlidesOut) {
    // Between the walls a wheel keeps its shaft; outside them nothing does on the other side.
    const std::string walls = "section Base\npart plate 8x12 slate at 0 0 0\n"
                              "part pin hole brick 1x12 fog at 1 0 1\npart pin hole brick 1x12 fog at 5 0 1\n";
    const auto told = [&](const std::string& more) {
        const auto report = test::reportOf(test::must(script::runScript(walls + more)));
        const auto* v = test::findCheck(report, "shaft-slides");
        return v ? v->detail.substr(0, v->detail.find(':')) : std::string("kept");
    };
    const std::string axle = "part axle 6 soot at -4mm 28mm 8.8mm\n";
    EXPECT_EQ(told(axle + "part spur gear 8 gorse at 24mm 28mm 8.8mm\n"), "kept"); // walls 12 mm to 36 mm
    EXPECT_EQ(told(axle + "part spur gear 8 gorse at 0mm 28mm 8.8mm\n"), "to the left");
    EXPECT_EQ(told(axle + "part spur gear 8 gorse at 0mm 28mm 8.8mm\npart bush 10 gorse at 16mm 28mm 8.8mm\n"), "kept");
    // Upright: what nothing is under falls.
    const std::string plates = "section Base\npart pin hole plate 2x4 fog at 0 0 10\n"
                               "part brick 2x1 slate at 0 0 11\npart brick 2x1 slate at 0 3 11\n"
                               "part pin hole plate 2x4 fog at 0 0 14\n"
                               "part a = axle 5 soot at 4mm 12mm 24mm turn x=+z\n";
    const auto upright =
        test::reportOf(test::must(script::runScript(plates + "part spur gear 8 gorse at 4mm 12mm 56mm turn x=+z\n")));
    EXPECT_EQ(test::findCheck(upright, "shaft-slides")->state, verdict::State::Thin); // the wheel lies on the plate
    const auto falling =
        test::reportOf(test::must(script::runScript(plates + "part spur gear 8 gorse at 4mm 12mm 28mm turn x=+z\n")));
    EXPECT_EQ(test::findCheck(falling, "shaft-slides")->state, verdict::State::Fail);
}

TEST(DriveParts, AMotorBesideTheShaftTurnsNothing) {
    SeatedGearbox g;
    g.turn("Lamp", g.output);
    g.lift(g.motor, 3.2);
    auto report = test::reportOf(g.project);
    EXPECT_TRUE(g.report().motors.empty());
    const auto* seat = test::findCheck(report, "motor-seat");
    ASSERT_NE(seat, nullptr);
    EXPECT_EQ(seat->text, "motor medium (" + g.motor.text + ") is held by nothing");
    g.lift(g.motor, -3.2);
    g.remove(g.input);
    report = test::reportOf(g.project);
    const auto* idle = test::findCheck(report, "motor-idle");
    ASSERT_NE(idle, nullptr);
    EXPECT_EQ(idle->state, verdict::State::Thin);
    const auto* driven = test::findCheck(report, "reached");
    ASSERT_NE(driven, nullptr);
    EXPECT_EQ(driven->state, verdict::State::Fail);
}

TEST(DriveParts, WhatFunctionsNameIsToldThoughNothingTurnsIt) {
    // The last wheel and the motor are gone: the axle that the function names is there still.
    SeatedGearbox g;
    g.turn("Lamp", g.output);
    for (const auto& part : {g.small, g.large, g.motor}) g.remove(part);
    EXPECT_GE(g.report().positions.front().functions.front().rotor, 0);
    EXPECT_FALSE(test::reportOf(g.project).verdicts.empty());
    // An axle in a cross hole of the frame stands.
    Machine frame;
    frame.add("plate 8x8 slate at 0 0 0");
    frame.add("cross round brick fog at 2 2 1");
    int upright = 0;
    while (geometry::getTurn(upright)(2, 0) != 1) ++upright;
    const auto post = frame.add("axle 4 soot at 20mm 20mm 3.2mm turn " + std::to_string(upright));
    frame.turn("Lamp", post);
    const auto report = frame.report();
    EXPECT_TRUE(report.positions.front().functions.front().locked);
}

TEST(DriveParts, AMotorFixedToWhatItTurnsIsTold) {
    // A wheel on its shaft is pinned to the wall beside it.
    SeatedGearbox g;
    g.remove(g.small);
    g.add("spur gear 24 gorse at 72mm 16mm 28mm");
    g.add("pin hole brick 1x1 fog at 10 3 7");
    EXPECT_EQ(g.report().net.motors.front().seat, drive::PartMotor::Seat::Firm);
    g.add("pin smooth soot at 76mm 24mm 28mm");
    EXPECT_EQ(g.report().net.motors.front().seat, drive::PartMotor::Seat::OnOwn);
    const auto told = test::reportOf(g.project);
    const auto* seat = test::findCheck(told, "motor-seat");
    ASSERT_NE(seat, nullptr);
    EXPECT_EQ(seat->state, verdict::State::Fail);
}

TEST(DriveParts, AQuickerPairOrMotorIsOfferedAsParts) {
    SeatedGearbox g;
    auto lamp = g.turn("Lamp", g.output);
    lamp.travel = 720;
    lamp.withinS = 0.9; // 8 on 24 takes longer
    g.put(lamp);
    const auto report = test::reportOf(g.project);
    const auto* slow = test::findCheck(report, "travel-time");
    ASSERT_NE(slow, nullptr);
    ASSERT_EQ(slow->state, verdict::State::Fail);
    const auto mends = verdict::listMends(report, *slow);
    ASSERT_FALSE(mends.empty());
    bool asParts = false;
    for (const auto& mend : mends) {
        const auto mended = mend.apply(g.project);
        ASSERT_TRUE(mended) << mend.text;
        asParts |= mended->sections.front()->parts.size() == g.project.sections.front()->parts.size() &&
                   test::findCheck(test::reportOf(*mended), "travel-time")->state != verdict::State::Fail;
    }
    EXPECT_TRUE(asParts);
}

TEST(DriveParts, TheNeckOfTheDemoIsMendedByWhatIsOffered) {
    const auto project = test::must(files::loadProject(test::repo("/data/demo/neck-drive.ivrant")));
    const auto report = test::reportOf(project);
    const auto* slow = test::findCheck(report, "travel-time");
    ASSERT_NE(slow, nullptr);
    ASSERT_EQ(slow->state, verdict::State::Fail);
    const auto mends = verdict::listMends(report, *slow);
    ASSERT_FALSE(mends.empty());
    const auto mended = test::reportOf(test::must(mends.front().apply(project)));
    for (const auto& v : mended.verdicts) EXPECT_NE(v.state, verdict::State::Fail) << v.text;
}

TEST(DriveParts, AWheelThatIsTakenOutStopsTheLamp) {
    SeatedGearbox g;
    g.turn("Lamp", g.output);
    g.remove(g.small);
    EXPECT_EQ(g.ratio(g.input, g.output), "0");
    const auto state = g.report().positions.front().functions.front();
    EXPECT_TRUE(state.motors.empty());
}

/// Built from a text of commands; parts are meant by their names.
struct Written {
    model::Project project;
    model::SectionTree tree;
    drive::DriveReport report;

    explicit Written(const std::string& text) : project(test::must(script::runScript(text))) {
        tree = test::must(model::makeTree(project));
        report = study::calcDrive(pose::calcPlaced(project, tree, pose::getValues(project, nullptr)), tree);
    }
    Written(const Written&) = delete;
    [[nodiscard]] std::string idOf(const std::string& name) const {
        for (const auto& section : project.sections)
            for (const auto& part : section->parts)
                if (part.name == name) return part.id.text;
        throw std::runtime_error("no " + name);
    }
    [[nodiscard]] const drive::Rotor& rotor(const std::string& name) const {
        return at(report.net.rotors, report.net.findRotor(idOf(name)));
    }
    /// Turns of one for one turn of another, the frame at rest; told relative to what carries each.
    [[nodiscard]] std::string ratio(const std::string& from, const std::string& to,
                                    const std::vector<std::string>& engaged = {}) const {
        std::vector<std::string> ids;
        for (const std::string& name : engaged) ids.push_back(idOf(name));
        const auto net = drive::makeDriveNet(report.net, ids);
        const int driver = net.findRotor(idOf(from)), driven = net.findRotor(idOf(to));
        if (driver < 0 || driven < 0) return "nothing";
        return drive::formatRatio(drive::solveTrain(net.train, {driver}).ratio(driven, driver));
    }
};

/// Two walls along y, holes along x at y = 8k + 4, 8.8 mm up; 40 mm apart.
const char* const kWalls = "section Base\n"
                           "part plate 8x12 slate at 0 0 0\n"
                           "part pin hole brick 1x12 fog at 0 0 1\n"
                           "part pin hole brick 1x12 fog at 5 0 1\n";

TEST(DriveParts, AWheelOnItsHeadTurnsAsOneTheRightWayUp) {
    // Axles and wheels laid in the other way round change no sense: a pair outside turns against each other.
    for (const char* one : {"", " turn x=-x z=+z"})
        for (const char* other : {"", " turn x=-x z=+z"}) {
            const bool flipA = *one != 0, flipB = *other != 0;
            const Written w(std::string(kWalls) + "part a = axle 6 soot at " + (flipA ? "44mm" : "-4mm") +
                            " 28mm 8.8mm" + one + "\npart spur gear 16 gorse at 20mm 28mm 8.8mm" + one +
                            "\npart b = axle 6 soot at " + (flipB ? "44mm" : "-4mm") + " 44mm 8.8mm" + other +
                            "\npart spur gear 16 gorse at 20mm 44mm 8.8mm" + other + "\nname a A\nname b B\n");
            EXPECT_EQ(w.ratio("A", "B"), flipA == flipB ? "-1:1" : "1:1"); // each about its own way along
        }
}

TEST(DriveParts, AClutchWheelTurnsByItselfUntilItIsEngaged) {
    const Written w(std::string(kWalls) + "part a = axle 6 soot at -4mm 28mm 8.8mm\n"
                                          "part spur gear 8 gorse at 20mm 28mm 8.8mm\n"
                                          "part b = axle 6 soot at -4mm 44mm 8.8mm\n"
                                          "part c = clutch gear 24 gorse at 20mm 44mm 8.8mm\n"
                                          "name a A\nname b B\nname c C\n"
                                          "selector Gear : In = c ; Off =\n");
    EXPECT_EQ(w.ratio("A", "C"), "-1:3");
    EXPECT_EQ(w.ratio("A", "B"), "0");
    EXPECT_EQ(w.ratio("A", "B", {"C"}), "-1:3");
    EXPECT_EQ(w.report.positions.size(), 2u);
}

TEST(DriveParts, ADifferentialSharesBetweenItsAxles) {
    const Written w("section Base\n"
                    "part plate 12x12 slate at 0 0 0\n"
                    "part pin hole brick 1x12 fog at 0 0 1\npart pin hole brick 1x12 fog at 0 0 4\n"
                    "part pin hole brick 1x12 fog at 11 0 1\npart pin hole brick 1x12 fog at 11 0 4\n"
                    "part pin hole brick 1x12 fog at 7 0 4\npart brick 1x12 fog at 7 0 1\n"
                    "part l = axle 5 soot at -4mm 44mm 18.4mm\n"
                    "part d = differential gorse at 40mm 44mm 18.4mm\n"
                    "part r = axle 6 soot at 44mm 44mm 18.4mm\n"
                    "part m = axle 6 soot at 24mm 24mm 18.4mm\n"
                    "part spur gear 12 gorse at 40mm 24mm 18.4mm\n"
                    "name l Left\nname r Right\nname d Case\nname m Drive\n");
    // 12 on 28; the case's turns are the mean of both sides'.
    EXPECT_EQ(w.ratio("Drive", "Case"), "-3:7");
    const auto& net = w.report.net;
    const auto motion = drive::solveTrain(net.train, {net.findRotor(w.idOf("Drive")), net.findRotor(w.idOf("Left"))});
    const auto left = motion.ratio(net.findRotor(w.idOf("Right")), net.findRotor(w.idOf("Left")));
    EXPECT_EQ(drive::formatRatio(left), "-1:1"); // with the case at rest
}

TEST(DriveParts, PlanetsGoRoundWithTheirCarrier) {
    // Sun 24, planets 8 at 16 mm, ring 40 that stands: the carrier turns 24/(24 + 40) of the sun.
    const Written w("section Base\n"
                    "part ring = ring gear 40 fog at 16mm 44mm 40mm\n"
                    "part s = axle 6 soot at 8mm 44mm 40mm\n"
                    "part spur gear 24 gorse at 16mm 44mm 40mm\n"
                    "part k = cross beam 3 fog at 24mm 44mm 40mm turn y=+x z=+z\n"
                    "part p = axle 2 soot at 12mm 28mm 40mm\n"
                    "part spur gear 8 gorse at 16mm 28mm 40mm\n"
                    "name s Sun\nname k Carrier\nname p Planet\nname ring Ring\n");
    // Fixed to the sun's axle by its cross hole the carrier is part of it: nothing can turn then.
    EXPECT_EQ(w.report.net.findRotor(w.idOf("Sun")), w.report.net.findRotor(w.idOf("Carrier")));
    EXPECT_EQ(w.ratio("Sun", "Carrier"), "0");
    const Written free("section Base\n"
                       "part ring = ring gear 40 fog at 16mm 44mm 40mm\n"
                       "part s = axle 6 soot at 8mm 44mm 40mm\n"
                       "part spur gear 24 gorse at 16mm 44mm 40mm\n"
                       "part k = beam 3 fog at 24mm 44mm 40mm turn x=-y z=+z\n"
                       "part pin hole brick 1x1 fog at 40mm 44mm 34.4mm\n"
                       "part p = axle 2 soot at 12mm 28mm 40mm\n"
                       "part spur gear 8 gorse at 16mm 28mm 40mm\n"
                       "name s Sun\nname k Carrier\nname p Planet\nname ring Ring\n");
    EXPECT_EQ(free.ratio("Sun", "Carrier"), "3:8");
}

TEST(DriveParts, TheLampTurnsOnlyWhenTheAxleIsInItsCrossHole) {
    const std::string machine = std::string(kWalls) + "part a = axle 8 soot at -4mm 28mm 8.8mm\n"
                                                      "part spur gear 8 gorse at 20mm 28mm 8.8mm\nname a A\n"
                                                      "section Arm\n";
    const std::string asked = "in Base\nboard Drive\nfunction Lamp turns a joint lamp load friction 5 travel 90\n";
    const Written good(machine +
                       "part arm = cross beam 3 fog at 0 0 0\nname arm Arm\n"
                       "join lamp = driven by axle from a at 6 to arm cross value 0\n" +
                       asked);
    EXPECT_EQ(good.report.positions.front().functions.front().joint, good.project.joints.front().id);
    EXPECT_EQ(good.ratio("A", "Arm"), "1:1");
    const Written apart(machine +
                        "part arm = beam 3 fog at 0 0 0\nname arm Arm\n"
                        "join lamp = axle in round hole from a at 6 to arm \"hole 0\" value 0\n" +
                        asked);
    EXPECT_TRUE(apart.report.positions.front().functions.front().joint.empty());
    const auto report = test::reportOf(apart.project);
    const auto* told = test::findCheck(report, "joint-apart");
    ASSERT_NE(told, nullptr);
    EXPECT_EQ(told->state, verdict::State::Fail);
    EXPECT_EQ(test::findCheck(test::reportOf(good.project), "joint-apart"), nullptr);
}

TEST(DriveParts, ATurntableCarriesWhatTurnsInItsSection) {
    const Written w(std::string("section Base\n"
                                "part plate 12x12 slate at -6 -6 -9\n"
                                "part low = large geared turntable lower fog at 0 0 0\n"
                                "part a = axle 4 soot at 32mm 0 -8mm turn x=+z\n"
                                "part spur gear 8 gorse at 32mm 0 12mm turn x=+z\nname a Pinion\n"
                                "section Top\npart up = large geared turntable upper fog at 0 0 0\nname up Table\n"
                                "part b = axle 4 soot at -8mm 0 20mm\npart spur gear 8 gorse at 0 0 20mm\nname b B\n"
                                "join t = large geared turntable from low lower to up upper value 0\n"));
    EXPECT_EQ(w.ratio("Pinion", "Table"), "-1:7"); // 8 on 56
    EXPECT_EQ(at(w.report.net.rotors, w.rotor("B").carrier).id, w.idOf("Table"));
    EXPECT_EQ(w.rotor("Table").joint, w.project.joints.front().id.text);
    EXPECT_EQ(w.rotor("Pinion").carrier, -1);
}

TEST(DriveParts, AUniversalJointJoinsTwoShafts) {
    const Written w(std::string(kWalls) + "part a = axle 4 soot at -12mm 28mm 8.8mm\n"
                                          "part fork = universal joint fork fog at 24mm 28mm 8.8mm\n"
                                          "part cross = universal joint cross fog at 24mm 28mm 8.8mm\n"
                                          "part b = axle 4 soot at 28mm 28mm 8.8mm\n"
                                          "part spur gear 8 gorse at -8mm 28mm 8.8mm\n"
                                          "name a A\nname b B\n");
    EXPECT_EQ(w.ratio("A", "B"), "1:1");
}

} // namespace
} // namespace ivrant
