// SPDX-License-Identifier: GPL-3.0-or-later
// What happens between things: several bearings of one joint, what sits and lies on what, the worst way of a push, what
// gives way as a whole.
#include <cmath>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/pose/collide.h"
#include "core/pose/path.h"
#include "core/pose/seats.h"
#include "core/pose/stance.h"
#include "core/stand/cases.h"
#include "core/stand/firm_shell.h"
#include "core/stand/rests.h"
#include "core/study/case_words.h"
#include "core/study/stand_cases.h"
#include "core/verdict/groups.h"
#include "core/verdict/mends.h"
#include "core/verdict/report.h"
#include "tests/support/figures.h"
#include "tests/support/near.h"

using namespace ivrant;
using geometry::Vec3;
using test::Figure;
using test::must;

namespace {

verdict::Report reportOf(const model::Project& project) {
    return verdict::calcReport(std::make_shared<const model::Project>(project));
}

const verdict::Verdict* findVerdict(const verdict::Report& report, const std::string& start) {
    for (const auto& v : report.verdicts)
        if (v.id.starts_with(start)) return &v;
    return nullptr;
}

stand::BondLimits startingLimits(const model::Project& project) { return study::calcBondLimits(project); }

stand::CaseResult solve(const model::Project& project, const stand::StandCase& standCase) {
    const auto tree = must(model::makeTree(project));
    const model::Placed placed = pose::calcPlaced(project, tree, pose::getValues(project, nullptr));
    return must(stand::calcWorstCase(placed, bonds::calcBonds(project), startingLimits(project), standCase));
}

/// Two beams that grip one axle: the arm of two walls.
struct Arm : Figure {
    explicit Arm(int bearings) {
        const auto axle = put(0, "axle 6 at 0 0 0");
        model::PartId first;
        for (int i = 0; i < bearings; ++i) {
            const auto beam = put(1, "beam 5 at 0 0 0");
            if (i == 0) first = beam;
        }
        // Beams lie along x with holes along y; the axle along x: turned so that hole 0 of each is on it, at pitches 0,
        // 2, 4.
        auto section = std::make_shared<model::Section>(*project.sections[1]);
        for (int i = 0; i < bearings; ++i) {
            auto& part = ivrant::at(section->parts, i);
            part.place.attitude = 3; // its y along −x… the joint below sets the rest
            part.place.atUm = {i * 16000, 0, 0};
        }
        project.sections[1] = section;
        join("axle in round hole", axle, "at 0", first, "hole 0 back");
    }
};

} // namespace

TEST(Bearings, AllPortsOnTheLineTurnWithTheJoint) {
    for (const int bearings : {1, 2, 3}) {
        const Arm arm(bearings);
        const auto context = arm.context();
        EXPECT_EQ(context.bodies.bearings[0], bearings);
        EXPECT_TRUE(pose::calcCollisions(arm.placed(), context.bodies).empty()) << bearings;
        const auto range = arm.range();
        EXPECT_TRUE(range.endless) << bearings << " stop at " << range.free.low << " and " << range.free.high;
    }
}

TEST(Bearings, ADoorOnTwoClipsOpens) {
    Figure f;
    const auto bar = f.put(0, "bar 4 at 0 0 0");
    const auto one = f.put(1, "clip plate 1x1 at 0 0 0");
    f.put(1, "clip plate 1x1 at 1 0 0");
    f.put(1, "plate 2x3 at 0 -2 -1"); // leaf below the clips
    f.join("clip on bar", bar, "bar 1", one, "clip");
    const auto context = f.context();
    EXPECT_EQ(context.bodies.bearings[0], 2);
    EXPECT_TRUE(pose::calcCollisions(f.placed(), context.bodies).empty());
    const auto range = f.range();
    EXPECT_FALSE(range.collides);
    EXPECT_GT(range.free.high - range.free.low, 90);
    // Both clips carry: the net has a contact for each.
    const auto net = stand::makeBondNet(f.placed(), bonds::calcBonds(f.project), startingLimits(f.project));
    int between = 0;
    for (const auto& contact : net.contacts) {
        if (contact.a < 0) continue;
        const auto sections =
            std::pair(ivrant::at(net.bodies, contact.a).spot.section, ivrant::at(net.bodies, contact.b).spot.section);
        between += sections.first != sections.second ? 1 : 0;
    }
    EXPECT_EQ(between, 2);
}

TEST(Bearings, AShaftRunsInThreeBricksAtAnyDepth) {
    // Levels a brick and four plates apart: 9.6 and 12.8 mm are no quarter pitches.
    for (const double apart : {9.6, 12.8, 8.0, 10.7}) {
        Figure f;
        const auto axle = f.put(0, "axle 6 at 0 0 0");
        auto section = std::make_shared<model::Section>(*f.project.sections[0]);
        section->parts[0].place.attitude = 12; // along −z: u = 3
        f.project.sections[0] = section;
        model::Section shaft;
        model::Part rod = section->parts[0];
        shaft.parts.push_back(rod);
        for (int i = 0; i < 3; ++i) {
            model::Part beam = rod;
            beam.id = {"b" + std::to_string(i)};
            beam.shape = must(parts::makeShape("beam 2"));
            // Its hole axis (y) along the rod's (its own x, turned): laid flat.
            const Vec3 way = rod.place.frame().linear().col(0);
            geometry::Mat3 R;
            R.col(1) = way;
            R.col(0) = way.unitOrthogonal();
            R.col(2) = R.col(0).cross(R.col(1));
            const Vec3 at = rod.place.frame() * Vec3(4 + i * apart, 0, 0);
            beam.place = model::makePlace(geometry::makeFrame(R, at));
            shaft.parts.push_back(beam);
        }
        const auto mates = bonds::findMates(shaft);
        std::set<int> mated;
        for (const auto& m : mates)
            if (m.partA == 0) mated.insert(m.partB);
        EXPECT_EQ(mated.size(), 3U) << apart << " mm apart";
        EXPECT_TRUE(bonds::calcSectionBonds(shaft, {}).overlaps.empty());
    }
}

namespace {

/// A box's walls and a lid hinged at the back that closes on the front wall's studs: at 180° the hinge plates lie in
/// line.
struct Box : Figure {
    model::JointId lid;
    Box() {
        put(0, "plate 4x6 at 0 0 0");
        put(0, "brick 2x1 at 0 0 1"); // front wall, studs up
        const auto lower = put(0, "hinge plate lower at 0 4 1");
        const auto upper = put(1, "hinge plate upper at 0 0 0");
        lid = join("free hinge plate pair", lower, "hinge", upper, "hinge", {180});
    }
};

} // namespace

TEST(Seats, ALidClosedOnStudsSitsAndOpens) {
    // A swivelling lid: a plate hinged by clips whose cells come down on a stud. Built by placing the lid closed, and
    // reading the joint off it.
    Figure f;
    f.put(0, "plate 4x6 at 0 0 0");
    f.put(0, "plate 1x1 at 0 1 1");
    f.put(0, "plate 1x1 at 0 1 2"); // what it sits on: its stud at (0, 8, 9.6)
    const auto bar = f.put(0, "bar plate 1x1 at 0 5 4");
    f.put(0, "brick 1x1 at 0 5 1");
    // The bar lies along x at (0, 4·8, 3.2 + 4·3.2) = one pitch before the plate; a clip plate whose clip is there,
    // lying flat towards −y.
    const auto clip = f.put(1, "clip plate 1x1 at 0 0 0");
    f.put(1, "plate 1x3 at 0 -2 -1");
    f.join("clip on bar", bar, "bar", clip, "clip", {0, 0});
    const auto context = f.context();
    const auto seats = pose::listSeats(f.placed(), context.tree);
    ASSERT_EQ(seats.size(), 1U) << "its cell has come down on the stud of the post";
    EXPECT_TRUE(pose::calcCollisions(f.placed(), context.bodies).empty());
    const auto range = f.range();
    EXPECT_FALSE(range.collides);
    EXPECT_TRUE(range.seated);
    const bool opensUp = range.free.high - range.value > range.value - range.free.low;
    const auto& closed = opensUp ? range.low : range.high;
    EXPECT_EQ(closed.by, pose::StopBy::Seat);
    EXPECT_NEAR(opensUp ? range.free.low : range.free.high, 0, 1e-6) << "it goes no further than closed";
    EXPECT_GT(std::max(range.free.high, -range.free.low), 60) << "and opens the way it came";
    // One stud of 1.5 N at its lever about the bar.
    const auto& seat = seats.front();
    const auto& spot = seat.a.section == 0 ? seat.a : seat.b;
    const Vec3 stud =
        f.placed().X_WP(spot) * bonds::getPort(f.project, spot, seat.a.section == 0 ? seat.portA : seat.portB).origin;
    const auto joint = f.placed().X_WS[0] * pose::calcFromFrame(f.project, context.tree, 0);
    const Vec3 arm = stud - joint.translation();
    EXPECT_NEAR(closed.openNmm, 1.5 * std::abs(arm.y()), 1e-6);
    // From open, the range ends where it sits, not where the stud's rim first meets the lid.
    model::Project open = must(model::setJointValue(f.project, f.project.joints[0].id, {opensUp ? 40.0 : -40.0, 0}));
    const auto tree = must(model::makeTree(open));
    const auto openContext = pose::makeRangeContext(open, tree, bonds::calcBonds(open));
    const auto back = pose::calcRange(openContext, pose::getValues(open, nullptr), 0, 0);
    EXPECT_NEAR(opensUp ? back.free.low : back.free.high, 0, 0.01);
    EXPECT_EQ((opensUp ? back.low : back.high).by, pose::StopBy::Seat);
    // Closed it rests: nothing to hold, in hold and in the bonds.
    const auto report = reportOf(f.project);
    EXPECT_TRUE(report.present.loads[0].restsOn);
    ASSERT_TRUE(report.present.standing);
    EXPECT_TRUE(report.present.standing->equilibrium.stands);
}

TEST(Rests, WhatLiesOnSomethingFallsOnlyIfItDoes) {
    Figure f;
    f.put(0, "plate 4x4 at 0 0 0");
    f.put(0, "tile 4x4 at 0 0 1");
    f.put(0, "brick 2x2 at 1 1 2"); // lies on the tile, held by nothing
    const auto standing = solve(f.project, {});
    EXPECT_TRUE(standing.equilibrium.stands) << study::describeOutcome(standing);
    EXPECT_TRUE(standing.net.floating.empty());
    // Half over the edge it tips off: its centre beyond the tile's edge.
    Figure over;
    over.put(0, "plate 4x4 at 0 0 0");
    over.put(0, "tile 4x4 at 0 0 1");
    over.put(0, "brick 2x4 at 3 1 2");
    over.put(0, "brick 2x4 at 3 1 5");
    const auto shifted = [&](std::int64_t um) { // its middle lies over the tile's edge at x = 28 mm
        model::Project project = over.project;
        auto section = std::make_shared<model::Section>(*project.sections[0]);
        for (std::size_t i = 2; i < 4; ++i) section->parts[i].place.atUm[0] += um;
        project.sections[0] = section;
        return solve(project, {});
    };
    EXPECT_TRUE(shifted(-500).equilibrium.stands);
    const auto falls = shifted(500);
    EXPECT_FALSE(falls.equilibrium.stands);
    EXPECT_EQ(falls.equilibrium.falling.size(), 2U);
    // On a slope it slides off when the friction of 0.3 is passed: atan 0.3 = 16.7°.
    for (const double slope : {16.0, 17.5}) {
        stand::StandCase tilted;
        const double a = base::degToRad(slope);
        tilted.accelerationG = {std::sin(a), 0, -std::cos(a)};
        tilted.strapped = true; // the base stays
        EXPECT_EQ(solve(f.project, tilted).equilibrium.stands, slope < 16.7) << slope;
    }
}

TEST(Rests, ALidOnWallsLoadsThem) {
    // A loose section that lies on four posts without studs: carried by contact, a quarter each by symmetry.
    Figure f;
    f.put(0, "plate 8x8 at 0 0 0");
    for (const auto& at : {"0 0", "7 0", "0 7", "7 7"}) f.put(0, std::string("brick 1x1 at ") + at + " 1");
    for (const auto& at : {"0 0", "7 0", "0 7", "7 7"}) f.put(0, std::string("tile 1x1 at ") + at + " 4");
    f.put(1, "plate 8x8 at 0 0 5");
    const auto result = solve(f.project, {});
    EXPECT_TRUE(result.equilibrium.stands);
    double lid = 0;
    int rests = 0;
    for (std::size_t k = 0; k < result.net.contacts.size(); ++k)
        if (result.net.contacts[k].kind == stand::ContactKind::Rest) {
            ++rests;
            lid += result.equilibrium.forces[k].pressN;
            EXPECT_NEAR(result.equilibrium.forces[k].pressN, base::weightN(f.project.sections[1]->parts[0].massG()) / 4,
                        1e-3);
        }
    EXPECT_EQ(rests, 4);
    EXPECT_NEAR(lid, base::weightN(f.project.sections[1]->parts[0].massG()), 1e-3);
}

TEST(WorstWay, AThinWallIsPushedAcross) {
    // A wall one cell thick: along it a push does little, across it the bonds at its foot tear.
    Figure f;
    f.put(0, "plate 8x8 at 0 0 0");
    for (int course = 0; course < 8; ++course) f.put(0, "brick 8x1 at 0 3 " + std::to_string(1 + 3 * course));
    const auto report = reportOf(f.project);
    for (const auto& c : study::listStandCases(report, report.present)) {
        if (c.kind != stand::CaseKind::Knocked && c.kind != stand::CaseKind::Slope && c.kind != stand::CaseKind::Bumped)
            continue;
        const auto worst = must(study::calcStandCase(report, report.present, c));
        ASSERT_TRUE(worst.towardDeg) << c.key;
        EXPECT_NEAR(std::abs(std::sin(base::degToRad(*worst.towardDeg))), 1, 1e-6) << c.key << ": across, not along";
        EXPECT_NE(worst.name.find("towards " + base::formatNumber(*worst.towardDeg, 0)), std::string::npos)
            << "which way is said";
        // Second way: every direction by itself, none is worse.
        for (double way = 0; way < 360; way += 30) {
            stand::StandCase one = stand::turnCase(c, way);
            one.ways.clear();
            const auto single =
                must(stand::calcCase(report.present.placed, report.bonds, study::calcBondLimits(report), one));
            if (worst.equilibrium.lambdaAtMost) { // strong enough that λ is not sought
                EXPECT_TRUE(single.equilibrium.lambdaAtMost) << c.key << " towards " << way;
                continue;
            }
            if (single.equilibrium.lambda && worst.equilibrium.lambda && !std::isinf(*worst.equilibrium.lambda)) {
                EXPECT_LE(*single.equilibrium.lambda, *worst.equilibrium.lambda * 1.002) << c.key << " towards " << way;
            }
        }
    }
}

TEST(GivesWay, SlidingTippingAndFallingAreToldApart) {
    // A cube of bricks on a slope: it slides at atan 0.3 = 16.7°, long before it tips at 45°. A tower tips first.
    Figure cube;
    for (int course = 0; course < 3; ++course) cube.put(0, "brick 4x4 at 0 0 " + std::to_string(3 * course));
    const auto sloped = [](double deg) {
        stand::StandCase c;
        const double a = base::degToRad(deg);
        c.accelerationG = {std::sin(a), 0, -std::cos(a)};
        return c;
    };
    EXPECT_TRUE(solve(cube.project, sloped(16)).equilibrium.stands);
    const auto slides = solve(cube.project, sloped(18));
    EXPECT_FALSE(slides.equilibrium.stands);
    EXPECT_EQ(slides.equilibrium.givesWay, stand::GivesWay::Slides);
    EXPECT_TRUE(study::describeOutcome(slides).starts_with("slides"));
    EXPECT_FALSE(slides.equilibrium.firstToGo) << "no bond lets go";
    Figure tower;
    for (int course = 0; course < 12; ++course) tower.put(0, "brick 2x2 at 0 0 " + std::to_string(3 * course));
    // 16 mm wide, 115.2 mm and a stud high: tips at atan(8 / 58) = 7.8°.
    EXPECT_TRUE(solve(tower.project, sloped(7)).equilibrium.stands);
    const auto tips = solve(tower.project, sloped(9));
    EXPECT_EQ(tips.equilibrium.givesWay, stand::GivesWay::Tips);
    EXPECT_TRUE(study::describeOutcome(tips).starts_with("tips over"));
    // A long arm on one stud: a part falls, the rest stands.
    Figure arm;
    arm.put(0, "plate 16x16 at 0 0 0");
    arm.put(0, "brick 1x1 at 0 0 1");
    arm.put(0, "brick 1x16 at 0 0 4");
    arm.put(0, "weight brick 2x4 at 0 13 7");
    const auto falls = solve(arm.project, {});
    EXPECT_FALSE(falls.equilibrium.stands);
    EXPECT_EQ(falls.equilibrium.givesWay, stand::GivesWay::InParts);
    EXPECT_TRUE(falls.equilibrium.firstToGo);
}

TEST(Lambda, NothingHoldsAboveOne) {
    // Scale the load of an arm until λ crosses 1: "holds" exactly where λ ≤ 1, however near.
    Figure arm;
    arm.put(0, "plate 8x8 at 0 0 0");
    arm.put(0, "brick 2x2 at 0 0 1");
    arm.put(0, "brick 2x10 at 0 0 4");
    stand::StandCase unit;
    unit.accelerationG = {0, 0, -20}; // so that λ lies about 1
    const auto known = solve(arm.project, unit);
    ASSERT_TRUE(known.equilibrium.lambda);
    for (const double factor : {0.99, 0.999, 0.9995, 1.0005, 1.001, 1.01}) {
        stand::StandCase heavier;
        heavier.accelerationG = {0, 0, -20 * factor / *known.equilibrium.lambda};
        const auto e = solve(arm.project, heavier).equilibrium;
        ASSERT_TRUE(e.lambda);
        EXPECT_EQ(e.stands, *e.lambda <= 1) << factor << " λ " << *e.lambda;
        EXPECT_NEAR(*e.lambda, factor, 1e-3 * factor + 2e-4);
    }
}

TEST(Falling, LightPartsBesideHeavyOnesAreNotToldToFallUnknown) {
    // A heavy block that falls from a weak arm, beside tiles on the base that stay: the tiles are never among what
    // falls.
    Figure f;
    f.put(0, "plate 16x16 at 0 0 0");
    for (int i = 0; i < 12; ++i) f.put(0, "tile 1x1 at " + std::to_string(2 + i) + " 12 1");
    f.put(0, "brick 1x1 at 0 0 1");
    f.put(0, "brick 1x16 at 0 0 4");
    f.put(0, "weight brick 2x4 at 0 13 7");
    const auto result = solve(f.project, {});
    EXPECT_FALSE(result.equilibrium.stands);
    for (const int body : result.equilibrium.falling) {
        const auto& part = model::getPart(f.project, ivrant::at(result.net.bodies, body).spot);
        EXPECT_NE(part.shape->family, "tile");
    }
    bool weight = false;
    for (const int body : result.equilibrium.falling)
        weight = weight ||
                 model::getPart(f.project, ivrant::at(result.net.bodies, body).spot).shape->family == "weight brick";
    EXPECT_TRUE(weight);
}

TEST(HeldPoses, SayNothingOfTippingAndAreJudgedAsTheyAreHeld) {
    Figure f;
    f.put(0, "plate 2x2 at 0 0 0");
    f.put(0, "brick 1x16 at 0 0 1"); // far over its foot: on the ground it would tip
    const auto id = f.project.sections[0]->id;
    model::Stance held;
    held.kind = model::Stance::Kind::Held;
    held.section = id;
    f.project = must(model::addPose(f.project, "On the wall", {}, held));
    const auto report = reportOf(f.project);
    for (const auto& v : report.verdicts) EXPECT_NE(v.check, "tip") << v.text;
    ASSERT_TRUE(report.poses[0].standing) << "its bonds are looked at";
    EXPECT_TRUE(report.poses[0].standing->equilibrium.stands) << "all of its section is held";
    for (const auto& c : study::listStandCases(report, report.poses[0])) EXPECT_NE(c.kind, stand::CaseKind::Slope);
}

TEST(Tilt, ThatIsAskedOfTheBaseIsAskedOfTipping) {
    Figure f;
    f.put(0, "brick 4x4 at 0 0 0"); // tips far beyond 30°
    f.put(0, "brick 4x4 at 0 0 3");
    const double tips = reportOf(f.project).present.tipping->angleDeg;
    for (const double asked : {0.0, 5.0, 20.0, 44.0}) {
        const auto report = reportOf(must(model::setTilt(f.project, asked)));
        const auto* tip = findVerdict(report, "tip/");
        ASSERT_TRUE(tip);
        EXPECT_DOUBLE_EQ(tip->limit, std::max(8.0, asked));
        EXPECT_EQ(tip->state == verdict::State::Fail, tips < std::max(8.0, asked)) << asked;
    }
    EXPECT_FALSE(model::setTilt(f.project, 90).ok());
    f.project.tiltDeg = 90; // from a file
    const auto told = reportOf(f.project);
    ASSERT_TRUE(findVerdict(told, "tilt-asked/"));
    EXPECT_EQ(findVerdict(told, "tilt-asked/")->state, verdict::State::Fail);
}

TEST(Firm, WorksOnAnyBase) {
    // A hollow box of thin walls that are weak at their corners, with 0 to 3 plates under it: the hollow is found in
    // step with the courses.
    for (int plates = 0; plates <= 3; ++plates) {
        Figure f;
        for (int p = 0; p < plates; ++p) f.put(0, "plate 8x8 at 0 0 " + std::to_string(p));
        for (int course = 0; course < 4; ++course) {
            const std::string z = std::to_string(plates + 3 * course);
            f.put(0, "brick 8x1 at 0 0 " + z);
            f.put(0, "brick 8x1 at 0 7 " + z);
            f.put(0, "brick 1x6 at 0 1 " + z);
            f.put(0, "brick 1x6 at 7 1 " + z);
        }
        f.put(0, "plate 8x8 at 0 0 " + std::to_string(plates + 12));
        if (plates == 0) f.put(0, "plate 8x8 at 0 0 -1");
        Vec3 origin;
        const auto hollow = must(stand::listHollow(*f.project.sections[0], &origin));
        EXPECT_EQ(hollow.count(), 6U * 6U * 4U) << plates << " plates under it";
        const double off = std::fmod(origin.z() - 3.2 * plates, 9.6);
        EXPECT_NEAR(std::remainder(off, 9.6), 0, 1e-9) << plates;
    }
}

TEST(Groups, OneWrongPartIsOneLine) {
    // A plate in the way of many: one line about that plate, opening to every pair.
    Figure f;
    f.put(0, "plate 8x8 at 0 0 0");
    for (int i = 0; i < 6; ++i) f.put(0, "brick 1x1 at " + std::to_string(i) + " 0 1");
    f.put(0, "plate 6x1 at 0 0 2"); // stands in all of them
    const auto report = reportOf(f.project);
    int overlaps = 0, lines = 0;
    for (const auto& v : report.verdicts) overlaps += v.check == "overlap" ? 1 : 0;
    EXPECT_EQ(overlaps, 6);
    for (const auto& group : verdict::groupVerdicts(report.verdicts, f.project))
        if (group.members.front().check == "overlap") {
            ++lines;
            EXPECT_EQ(group.members.size(), 6U);
            EXPECT_NE(group.text.find("plate 6x1"), std::string::npos) << group.text;
            EXPECT_NE(group.text.find("6 parts"), std::string::npos) << group.text;
        }
    EXPECT_EQ(lines, 1);
}

TEST(Mends, PreviewsCountLinesAsTheSlipDoes) {
    Figure f;
    f.put(0, "plate 4x4 at 0 0 0");
    f.put(0, "brick 2x2 at 0 0 1");
    f.put(0, "brick 2x2 at 2 0 1");
    f.put(0, "plate 4x2 at 0 0 3"); // one plate too low: in both bricks, one line
    const auto report = reportOf(f.project);
    const auto* overlap = findVerdict(report, "overlap/");
    ASSERT_TRUE(overlap);
    const auto mends = verdict::listMends(report, *overlap);
    ASSERT_FALSE(mends.empty());
    const auto preview = must(verdict::previewMend(report, mends.front()));
    const auto lines = verdict::countGroups(verdict::groupVerdicts(report.verdicts, *report.project));
    EXPECT_EQ(preview.before.fail, lines.fail);
    EXPECT_LT(lines.fail, verdict::countStates(report.verdicts).fail);
    EXPECT_LT(preview.after.fail, preview.before.fail);
}

TEST(Mends, OfOverlapsClearThemAndFailNothing) {
    Figure f;
    f.put(0, "plate 4x4 at 0 0 0");
    f.put(0, "brick 2x2 at 0 0 1");
    f.put(0, "plate 2x2 at 0 0 3"); // one plate too low: in the brick's top
    const auto report = reportOf(f.project);
    const auto* overlap = findVerdict(report, "overlap/");
    ASSERT_TRUE(overlap);
    const auto mends = verdict::listMends(report, *overlap);
    ASSERT_FALSE(mends.empty());
    for (const auto& mend : mends) {
        const auto after = reportOf(must(mend.apply(f.project)));
        EXPECT_FALSE(findVerdict(after, overlap->id)) << mend.text;
        EXPECT_LT(verdict::countStates(after.verdicts).fail, verdict::countStates(report.verdicts).fail) << mend.text;
    }
    EXPECT_TRUE(std::any_of(mends.begin(), mends.end(),
                            [](const auto& m) { return m.text.find("one plate up") != std::string::npos; }));
}

TEST(Path, AnEndlessJointGoesTheOtherWayRound) {
    // A pointer on a swivel with a post beside it: from 30° to 330° the direct way is blocked by the post, the short
    // way over 0° is free.
    Figure f;
    f.put(0, "plate 16x16 at 0 0 0");
    const auto hub = f.put(0, "brick 1x1 at 8 8 1");
    f.put(0, "brick 1x1 at 3 8 1");
    f.put(0, "brick 1x1 at 3 8 4"); // at 180° of the hub
    const auto arm = f.put(1, "plate 6x1 at 0 0 0");
    f.join("one-stud swivel", hub, "stud 0,0", arm, "cell 0,0", {30});
    const auto context = f.context();
    const pose::PoseChecker checker(context, f.values());
    const auto way = pose::calcPath(checker, {{30}}, {{330}});
    EXPECT_TRUE(way.free);
    EXPECT_EQ(way.otherWay, std::vector<int>{0});
    EXPECT_NEAR(way.to[0][0], -30, 1e-9);
    const auto blocked = pose::calcPath(checker, {{30}}, {{180}}); // into the post: no way round
    EXPECT_FALSE(blocked.free);
    EXPECT_TRUE(blocked.blockedBy || blocked.limitOf) << "what blocks is named";
}
