// SPDX-License-Identifier: GPL-3.0-or-later
// Fits: whatever is offered to a hanging part must really mate when it is put down.
#include "core/bonds/fits.h"

#include <random>

#include "core/base/at.h"
#include "tests/support/figures.h"
#include "tests/support/near.h"

using namespace ivrant;
using geometry::Vec3;
using test::Figure;
using test::must;

namespace {

std::vector<bonds::Fit> fitsOn(const Figure& f, int part, const Vec3& near, const char* shape, int wishedTurn = 0) {
    return bonds::listFits(f.placed(), bonds::calcBonds(f.project), {0, part}, near, *must(parts::makeShape(shape)),
                           geometry::getTurn(wishedTurn));
}

/// The figure with the part put down at the fit.
Figure putDown(const Figure& f, const char* shape, const bonds::Fit& fit) {
    Figure g = f;
    model::NewPart part;
    part.shape = must(parts::makeShape(shape));
    part.place = model::makePlace(f.placed().X_WS[0].inverse() * fit.X_W);
    g.project = must(model::addParts(g.project, g.project.sections[0]->id, {&part, 1}));
    return g;
}

bool mates(const Figure& f, const bonds::Fit& fit) {
    const auto& section = *f.project.sections[0];
    const int fresh = static_cast<int>(section.parts.size()) - 1;
    for (const auto& mate : bonds::findMates(section)) {
        const bool newIsB = mate.partB == fresh;
        if (mate.partA != fresh && !newIsB) continue;
        const auto name = [&](int part, int port) { return at(at(section.parts, part).shape->ports, port).name; };
        const std::string own = newIsB ? name(mate.partB, mate.portB) : name(mate.partA, mate.portA);
        const std::string other = newIsB ? name(mate.partA, mate.portA) : name(mate.partB, mate.portB);
        if (own == fit.ownPort && other == fit.targetPort) return true;
    }
    return false;
}

} // namespace

TEST(Fits, EveryOfferMatesWhereItSaysItDoes) {
    const char* const targets[] = {
        "plate 4x4",       "brick 2x2",           "side-stud brick 4", "bracket up 2x2", "beam 5", "pin hole brick 1x4",
        "round plate 1x1", "clip plate 1x2",      "bar plate 1x1",     "pin smooth",     "axle 4", "bar 4",
        "jumper 1x2",      "ball plate small 1x2"};
    const char* const hung[] = {"plate 2x2", "brick 1x1",   "tile 1x2",       "pin ribbed",          "beam 3",
                                "bar 2",     "wheel 24x12", "clip plate 1x1", "cup plate small 1x1", "round brick 1x1"};
    std::mt19937 random(12);
    std::uniform_real_distribution<double> nudge(-6, 6);
    int checked = 0;
    for (const char* target : targets)
        for (const char* shape : hung) {
            Figure f;
            f.put(0, std::string(target) + " at 0 0 0");
            for (const auto& fit : fitsOn(f, 0, Vec3(nudge(random), nudge(random), nudge(random)), shape)) {
                EXPECT_TRUE(mates(putDown(f, shape, fit), fit))
                    << shape << ": " << fit.ownPort << " on " << fit.targetPort << " of " << target;
                ++checked;
            }
        }
    EXPECT_GT(checked, 300);
}

TEST(Fits, NoTwoAreTheSamePlace) {
    Figure f;
    f.put(0, "plate 4x4 at 0 0 0");
    const auto fits = fitsOn(f, 0, Vec3(0, 0, 3), "plate 2x2");
    EXPECT_GT(fits.size(), 4U);
    for (std::size_t i = 0; i < fits.size(); ++i)
        for (std::size_t j = 0; j < i; ++j) EXPECT_FALSE(fits[i].X_W.isApprox(fits[j].X_W, 1e-6)) << i << " " << j;
}

TEST(Fits, TheNearestStudComesFirst) {
    Figure f;
    f.put(0, "plate 6x6 at 0 0 0");
    for (int i = 0; i < 6; ++i)
        for (int j = 0; j < 6; ++j) {
            const auto fits = fitsOn(f, 0, Vec3(8 * i + 1, 8 * j - 1, 4.9), "brick 1x1");
            ASSERT_FALSE(fits.empty());
            EXPECT_EQ(fits.front().targetPort, "stud " + std::to_string(i) + "," + std::to_string(j));
        }
}

TEST(Fits, TheWishedTurnIsKept) {
    Figure f;
    f.put(0, "plate 8x8 at 0 0 0");
    for (int turn = 0; turn < 4; ++turn) {
        const auto fits = fitsOn(f, 0, Vec3(24, 24, 4.9), "brick 1x4", turn);
        ASSERT_FALSE(fits.empty());
        EXPECT_EQ(geometry::findTurn(fits.front().X_W.linear()), turn);
    }
}

TEST(Fits, TakenStudsAreNotOffered) {
    Figure f;
    f.put(0, "plate 2x2 at 0 0 0");
    f.put(0, "brick 1x1 at 0 0 1");
    for (const auto& fit : fitsOn(f, 0, Vec3(0, 0, 4), "plate 1x1")) EXPECT_NE(fit.targetPort, "stud 0,0");
}

TEST(Fits, NothingFitsNothing) {
    Figure f;
    f.put(0, "tile 1x1 at 0 0 0");
    for (const auto& fit : fitsOn(f, 0, Vec3(0, 0, 3), "tile 1x1"))
        EXPECT_NE(fit.targetPort.find("cell"), 0U) << "two cells do not hold each other";
    EXPECT_TRUE(fitsOn(f, 0, Vec3(0, 0, 3), "small turntable upper").empty() ||
                fitsOn(f, 0, Vec3(0, 0, 3), "small turntable upper").front().targetPort == "cell 0,0");
}

TEST(Offers, TheFirstRootCarriesAndRingsAreNotOffered) {
    Figure f;
    const auto fork = f.put(0, "stepped hinge small fork at 0 0 0");
    const auto tongue = f.put(1, "stepped hinge small tongue at 0 3 0");
    const auto offers = bonds::listJointOffers(f.placed(), f.tree());
    ASSERT_EQ(offers.size(), 1U);
    EXPECT_EQ(offers[0].from.part, fork);
    EXPECT_EQ(offers[0].to.part, tongue);
    EXPECT_EQ(offers[0].fromSection, 0);
    EXPECT_EQ(offers[0].kind->name, "stepped hinge small");
}

TEST(Offers, SectionsFarApartOfferNothing) {
    Figure f;
    f.put(0, "stepped hinge small fork at 0 0 0");
    f.put(1, "stepped hinge small tongue at 0 30 0");
    EXPECT_TRUE(bonds::listJointOffers(f.placed(), f.tree()).empty());
}

TEST(Offers, BallsMeetInAnyAttitude) {
    Figure f;
    f.put(0, "ball plate small 1x2 at 0 0 0");
    f.put(1, "cup plate small 1x2 at 0 0 0");
    // The cup's centre brought onto the ball's (0, 16, 3.2), turned by an odd angle.
    const geometry::Mat3 R = Eigen::AngleAxisd(0.5, Vec3(1, 0.3, 0.2).normalized()).toRotationMatrix();
    f.project =
        must(model::placeSection(f.project, f.project.sections[1]->id,
                                 model::makePlace(geometry::makeFrame(R, Vec3(0, 16, 3.2) - R * Vec3(0, -8, 3.2)))));
    const auto offers = bonds::listJointOffers(f.placed(), f.tree());
    ASSERT_EQ(offers.size(), 1U);
    EXPECT_EQ(offers[0].kind->name, "small ball and cup");
}

TEST(Offers, TwoPartsAreJoinedByTheirMovablePortsBeforeTheirStuds) {
    Figure f;
    f.put(0, "clip plate 1x2 at 0 0 0");
    f.put(1, "bar plate 1x2 at 0 20 0");
    const auto offer = bonds::findJointBetween(f.placed(), f.tree(), {0, 0}, {1, 0});
    ASSERT_TRUE(offer);
    EXPECT_EQ(offer->kind->name, "clip on bar");
    EXPECT_EQ(offer->from.port, "clip");
    EXPECT_FALSE(bonds::findJointBetween(f.placed(), f.tree(), {0, 0}, {0, 0})) << "not within one section";
}
