// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/bonds/section_bonds.h"

#include "core/base/at.h"
#include "core/bonds/fits.h"
#include "tests/support/figures.h"
#include "tests/support/near.h"

using namespace ivrant;
using test::Figure;

namespace {
bonds::SectionBonds bondsOf(const Figure& f, std::vector<int> anchored = {}) {
    return bonds::calcSectionBonds(*f.project.sections[0], anchored);
}
} // namespace

TEST(Mates, BrickOnBrickEngagesEveryStudUnderIt) {
    Figure f;
    f.put(0, "brick 2x4 at 0 0 0");
    f.put(0, "brick 2x4 at 0 2 3"); // two rows over
    const auto b = bondsOf(f);
    EXPECT_EQ(b.mates.size(), 4U);
    EXPECT_EQ(b.groupCount, 1);
    EXPECT_TRUE(b.singles.empty());
    EXPECT_TRUE(b.overlaps.empty());
    EXPECT_TRUE(b.loose.empty());
}

TEST(Mates, HalfPitchOffsetUsesTheTubes) {
    Figure f;
    f.put(0, "jumper 2x2 at 0 0 0");
    f.put(0, "plate 2x2 at 0 0 1"); // its tube is over the jumper's stud
    const auto b = bondsOf(f);
    ASSERT_EQ(b.mates.size(), 1U);
    EXPECT_TRUE(b.overlaps.empty());
}

TEST(Mates, EveryTurnOfTheWholeKeepsTheBonds) {
    Figure f;
    f.put(0, "bracket up 2x2 at 0 0 0");
    f.put(0, "plate 2x1 at 0 0 1");
    f.put(0, "brick 2x1 at 0 0 2");
    const auto count = bondsOf(f).mates.size();
    ASSERT_GT(count, 2U);
    for (int turn = 0; turn < 24; ++turn) {
        std::vector<model::PartId> ids;
        for (const auto& p : f.project.sections[0]->parts) ids.push_back(p.id);
        Figure turned;
        turned.project =
            test::must(model::moveParts(f.project, ids, geometry::makeFrame(geometry::getTurn(turn), {11, 22, 33})));
        EXPECT_EQ(bondsOf(turned).mates.size(), count) << turn;
        EXPECT_TRUE(bondsOf(turned).overlaps.empty()) << turn;
    }
}

TEST(Mates, PlateOnASideStud) {
    Figure f;
    f.put(0, "side-stud brick 1 at 0 0 0");
    // A plate 1x1 on the +y face: its z points to +y (u = 4, turn 16), its cell centre at the stud (0, 4, 5.6).
    const auto id = f.put(0, "plate 1x1 at 0 4mm 5.6mm turn 16");
    (void)id;
    const auto b = bondsOf(f);
    EXPECT_EQ(b.mates.size(), 1U);
    EXPECT_TRUE(b.overlaps.empty());
}

TEST(Mates, PinJoinsTwoBeams) {
    Figure f;
    f.put(0, "pin ribbed at 0 0 0 turn 1");
    f.put(0, "beam 3 at 0 -4mm 0");
    f.put(0, "beam 3 at 0 4mm 0");
    const auto b = bondsOf(f);
    EXPECT_EQ(b.mates.size(), 2U);
    EXPECT_TRUE(b.overlaps.empty());
    EXPECT_EQ(b.singles.size(), 2U); // one pin turns in either beam
    f.put(0, "pin ribbed at 1 0 0 turn 1");
    EXPECT_TRUE(bondsOf(f).singles.empty()); // two pins on two axes are rigid
}

TEST(Mates, WheelOnAnAxleAndBarInAStud) {
    Figure f;
    f.put(0, "axle 4 at 0 0 0");
    f.put(0, "wheel 24x12 at 12mm 0 0");
    EXPECT_FALSE(bondsOf(f).mates.empty());
    EXPECT_TRUE(bondsOf(f).overlaps.empty());
    Figure g;
    g.put(0, "round plate 1x1 at 0 0 0");
    g.put(0, "bar 3 at 0 0 1 turn 12"); // turn 12: u = 3, z points to −x, so the bar's x points up
    EXPECT_EQ(bondsOf(g).mates.size(), 1U);
}

TEST(Groups, OneStudIsReportedWithTheLighterSide) {
    Figure f;
    f.put(0, "plate 4x4 at 0 0 0");
    const auto arm = f.put(0, "plate 1x4 at 3 3 1"); // one stud at (3, 3)
    const auto b = bondsOf(f);
    ASSERT_EQ(b.singles.size(), 1U);
    EXPECT_EQ(b.groupCount, 2);
    ASSERT_EQ(b.singles[0].held.size(), 1U);
    EXPECT_EQ(at(f.project.sections[0]->parts, b.singles[0].held[0]).id, arm);
}

TEST(Groups, TwoSingleStudsOnOneRigidGroupHold) {
    Figure f;
    f.put(0, "plate 1x4 at 0 0 0");
    f.put(0, "brick 1x1 at 0 0 1");
    f.put(0, "brick 1x1 at 0 3 1");
    EXPECT_EQ(bondsOf(f).singles.size(), 2U);
    f.put(0, "plate 1x4 at 0 0 4"); // bridges both: a ring of single bonds, none of them alone
    EXPECT_TRUE(bondsOf(f).singles.empty());
}

TEST(Groups, LoosePartsAreThoseHeldByNothing) {
    Figure f;
    f.put(0, "plate 2x4 at 0 0 0");
    f.put(0, "plate 2x4 at 0 0 1");
    f.put(0, "brick 1x1 at 9 9 0");
    const auto b = bondsOf(f);
    ASSERT_EQ(b.loose.size(), 1U);
    EXPECT_EQ(b.loose[0], 2);
    // With the joint on the far brick, the rest hangs on nothing.
    EXPECT_EQ(bondsOf(f, {2}).loose.size(), 2U);
}

TEST(Overlaps, DepthAndTheTwoParts) {
    Figure f;
    f.put(0, "tile 2x2 at 0 0 0");
    f.put(0, "tile 2x2 at 0.9s 0 2p"); // 3.2 mm apart in height: no overlap
    EXPECT_TRUE(bondsOf(f).overlaps.empty());
    f.put(0, "tile 2x2 at 1.9s 0 0.2mm"); // 16 − 0.8 → bodies 15.8 wide at distance 15.2: 0.6 deep
    const auto b = bondsOf(f);
    ASSERT_EQ(b.overlaps.size(), 1U);
    EXPECT_NEAR(b.overlaps[0].depthMm, 0.6, 0.002);
}

TEST(Overlaps, StudUnderAPartWithoutACellThere) {
    Figure f;
    f.put(0, "plate 2x2 at 0 0 0");
    f.put(0, "inverted slope 1x2 at 0 0 1"); // cells only under its back row; the front row overhangs
    EXPECT_TRUE(bondsOf(f).overlaps.empty()) << "the overhang rises above the stud";
    Figure g;
    g.put(0, "plate 2x2 at 0 0 0");
    g.put(0, "tile 1x1 at 0.5s 0 1");
    const auto b = bondsOf(g);
    ASSERT_FALSE(b.overlaps.empty());
    EXPECT_TRUE(b.overlaps[0].studInBody);
}

TEST(Fits, APartUnderThePointerSnapsToTheNearestStud) {
    Figure f;
    f.put(0, "plate 4x4 at 0 0 0");
    const auto placed = f.placed();
    const auto shape = test::must(parts::makeShape("brick 1x1"));
    const auto fits =
        bonds::listFits(placed, bonds::calcBonds(f.project), {0, 0}, {15, 9, 3.2}, *shape, geometry::Mat3::Identity());
    ASSERT_FALSE(fits.empty());
    EXPECT_EQ(fits[0].targetPort, "stud 2,1");
    EXPECT_TRUE(fits[0].X_W.translation().isApprox(geometry::Vec3(16, 8, 3.2)));
    for (const auto& fit : fits) { // each fit really mates
        Figure g = f;
        model::NewPart part{shape, 0, model::makePlace(fit.X_W), {}};
        g.project = test::must(model::addParts(g.project, g.project.sections[0]->id, {&part, 1}));
        EXPECT_FALSE(bondsOf(g).mates.empty());
    }
}

TEST(Offers, MovablePortsOfTwoSectionsThatMeet) {
    Figure f;
    f.put(0, "stepped hinge small fork at 0 0 0");
    f.put(1, "stepped hinge small tongue at 0 3 0"); // tongue's port: 24 − 8 = 16
    auto offers = bonds::listJointOffers(f.placed(), f.tree());
    ASSERT_EQ(offers.size(), 1U);
    EXPECT_EQ(offers[0].kind->name, "stepped hinge small");
    f.join("stepped hinge small", offers[0].from.part, offers[0].from.port, offers[0].to.part, offers[0].to.port);
    EXPECT_TRUE(bonds::listJointOffers(f.placed(), f.tree()).empty()) << "joined sections are not offered again";
}

TEST(Offers, TwoStudsAreNoSwivel) {
    Figure f;
    f.put(0, "plate 2x2 at 0 0 0");
    f.put(1, "plate 2x2 at 0 0 1");
    EXPECT_TRUE(bonds::listJointOffers(f.placed(), f.tree()).empty());
    Figure g;
    g.put(0, "plate 2x2 at 0 0 0");
    g.put(1, "plate 2x2 at 1 1 1");
    EXPECT_EQ(bonds::listJointOffers(g.placed(), g.tree()).size(), 1U);
}
