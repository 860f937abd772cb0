// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/parts/family.h"

#include <set>

#include "core/base/at.h"
#include "core/base/ids.h"
#include "core/base/units.h"
#include "core/parts/joint_kind.h"
#include "core/parts/palette.h"
#include "core/parts/part_line.h"
#include "tests/support/figures.h"
#include "tests/support/near.h"

using namespace ivrant;
using namespace ivrant::parts;
using test::must;

TEST(Names, ManyTextsMeanOneShape) {
    for (const char* text : {"plate 2x4", "2x4 plate", "plate 2 x 4", "Plate 2×4", "2 x 4 plate", "plate 2X4"})
        EXPECT_EQ(must(parseShapeName(text)), "plate 2x4") << text;
    EXPECT_EQ(must(parseShapeName("beam 7")), "beam 7");
    EXPECT_EQ(must(parseShapeName("7 beam")), "beam 7");
    EXPECT_EQ(must(parseShapeName("plate with clip")), "clip plate 1x2");
    EXPECT_EQ(must(parseShapeName("ball plate")), "ball plate small 1x2");
    EXPECT_EQ(must(parseShapeName("brick 1x4 with pin holes")), "pin hole brick 1x4");
    EXPECT_EQ(must(parseShapeName("hinge fork")), "stepped hinge small fork");
}

TEST(Names, ImpossibleSizesNameTheLegalOnes) {
    for (const char* text : {"brick 0x4", "brick 17x1", "beam 16", "beam 1", "plate 2x4x8", "slope 1x3",
                             "round plate 2x3", "plate 99999999999999999999x1", "tooth plate 3"}) {
        const auto shape = parseShapeName(text);
        ASSERT_FALSE(shape) << text;
        EXPECT_EQ(shape.error().code, "shape.size") << text;
    }
    EXPECT_NE(parseShapeName("beam 16").error().message.find("2 to 15"), std::string::npos);
    EXPECT_EQ(parseShapeName("plaet 2x4").error().code, "shape.unknown");
    EXPECT_EQ(parseShapeName("").error().code, "shape.unknown");
    EXPECT_EQ(parseShapeName(std::string(5000, 'a')).error().code, "shape.unknown");
}

TEST(Names, SuggestionsBeginWithWhatWasTyped) {
    const auto offers = suggestShapes("pla 2x", 8);
    ASSERT_FALSE(offers.empty());
    EXPECT_EQ(offers.front().find("plate"), 0U);
    EXPECT_EQ(suggestShapes("brick 2x4", 1).front(), "brick 2x4");
}

TEST(Names, ListNameForgetsTheQuarterTurn) {
    EXPECT_EQ(getListName(*must(makeShape("plate 4x2"))), "plate 2x4");
    EXPECT_EQ(getListName(*must(makeShape("slope 4x2"))), "slope 4x2");
}

TEST(Shapes, BrickTwoByFourByHand) {
    const auto brick = must(makeShape("brick 2x4"));
    // 8 studs, 8 cells, 3 tubes (between 2x4 cells: 1 × 3).
    EXPECT_EQ(brick->ports.size(), 19U);
    EXPECT_TRUE(at(brick->ports, brick->findPort("stud 1,3")).origin.isApprox(geometry::Vec3(8, 24, 9.6)));
    EXPECT_TRUE(at(brick->ports, brick->findPort("tube 0,2")).origin.isApprox(geometry::Vec3(4, 20, 0)));
    // 16·32·9.6 + 8·π·2.4²·1.7 = 4915.2 + 246.1 mm³; × 1.05e-3 × 0.45 = 2.4388 g.
    EXPECT_NEAR(brick->massG, (4915.2 + 8 * base::kPi * 2.4 * 2.4 * 1.7) * 1.05e-3 * 0.45, test::kRounding);
    // Sides inset by 0.1 mm, top and bottom not.
    EXPECT_TRUE(brick->bounds.low.isApprox(geometry::Vec3(-3.9, -3.9, 0)));
    EXPECT_NEAR(brick->bounds.high.z(), 11.3, 1e-9); // with studs
}

TEST(Shapes, OnlySquareRoundsLoseCornerStuds) {
    const auto count = [](const char* name) {
        int studs = 0;
        for (const auto& p : must(makeShape(name))->ports) studs += p.kind == PortKind::Stud ? 1 : 0;
        return studs;
    };
    EXPECT_EQ(count("round plate 1x1"), 1);
    EXPECT_EQ(count("round brick 2x2"), 4);
    EXPECT_EQ(count("round plate 4x4"), 12);
}

class EveryFamily : public testing::TestWithParam<int> {};

TEST_P(EveryFamily, KeepsTheRulesOfTheSpine) {
    const Family& family = at(getFamilies(), GetParam());
    const auto shape = must(makeShape(family.name));
    EXPECT_EQ(must(makeShape(shape->name)), shape) << "the canonical name makes the same shape";
    EXPECT_GT(shape->massG, 0);
    EXPECT_FALSE(shape->solids.empty());
    EXPECT_FALSE(shape->drawn.empty());
    EXPECT_FALSE(family.about.empty());
    std::set<std::string> names;
    for (const Port& port : shape->ports) {
        EXPECT_TRUE(names.insert(port.name).second) << port.name << " twice in " << shape->name;
        EXPECT_NEAR(port.axis.norm(), 1, 1e-12);
        EXPECT_NEAR(port.reference.norm(), 1, 1e-12);
        EXPECT_NEAR(port.axis.dot(port.reference), 0, 1e-12);
        for (int s : port.solids) EXPECT_LT(s, static_cast<int>(shape->solids.size()));
    }
    EXPECT_EQ(shape->ports.empty(), shape->family == "belt"); // a belt only lies round pulleys
}

INSTANTIATE_TEST_SUITE_P(All, EveryFamily, testing::Range(0, static_cast<int>(getFamilies().size())));

TEST(JointKinds, StartingValuesAreThoseOfTheTable) {
    const auto* hinge = findJointKind("stepped hinge small");
    ASSERT_TRUE(hinge);
    EXPECT_EQ(hinge->holdingNmm, 30);
    EXPECT_EQ(*hinge->turnLimitDeg, 90);
    EXPECT_EQ(hinge->stepDeg, 22.5);
    EXPECT_EQ(findJointKind("small ball and cup")->coneDeg, 45);
    EXPECT_FALSE(findJointKind("smooth pin")->turnLimitDeg);
    EXPECT_EQ(findJointKind("hinge"), nullptr);
}

TEST(JointKinds, PortsDecideHowTwoPartsHold) {
    const auto port = [](const char* shape, const char* name) {
        const auto s = must(makeShape(shape));
        return at(s->ports, s->findPort(name));
    };
    EXPECT_EQ(findBondKind(port("plate 2x4", "stud 0,0"), port("brick 1x1", "cell 0,0")), BondKind::Stud);
    EXPECT_EQ(findBondKind(port("pin ribbed", "end+"), port("beam 5", "hole 2")), BondKind::Pin);
    EXPECT_EQ(findBondKind(port("axle 4", "at 1"), port("wheel 24x12", "hub")), BondKind::Fixed);
    EXPECT_EQ(findBondKind(port("plate 2x4", "stud 0,0"), port("beam 5", "hole 2")), BondKind::Fixed);
    EXPECT_EQ(findBondKind(port("bar 3", "end+"), port("round plate 1x1", "stud 0,0")), BondKind::Friction);
    EXPECT_EQ(findBondKind(port("ball plate small 1x2", "ball"), port("cup plate small 1x2", "cup")),
              BondKind::Movable);
    EXPECT_EQ(findBondKind(port("ball plate small 1x2", "ball"), port("cup plate large 1x2", "cup")), BondKind::None);
    EXPECT_EQ(findBondKind(port("plate 2x4", "stud 0,0"), port("plate 2x4", "stud 0,0")), BondKind::None);
}

TEST(PartLine, ReadsPlaceTurnAndColour) {
    const auto line = must(parsePartLine("2x4 plate kelp at 2 0 3 turn 1"));
    EXPECT_EQ(line.shape, "plate 2x4");
    EXPECT_EQ(*line.colour, "kelp");
    EXPECT_EQ((*line.atUm)[0], 16000);
    EXPECT_EQ((*line.atUm)[2], 9600); // 3 plates
    EXPECT_EQ(*line.turn, 1);
    EXPECT_EQ(*must(parsePartLine("deep water brick 1x2")).colour, "deep water");
    EXPECT_EQ((*must(parsePartLine("tile 1x1 at 5.5s 3mm 2p")).atUm)[0], 44000);
}

TEST(PartLine, NamesWhatIsWrong) {
    EXPECT_EQ(parsePartLine("plate 2x4 at 1 2").error().code, "line.at");
    EXPECT_EQ(parsePartLine("plate 2x4 turn 24").error().code, "line.turn");
    EXPECT_EQ(parsePartLine("plate 2x4 turn 1e300").error().code, "line.turn");
    EXPECT_EQ(parsePartLine("plate 2x4 purple").error().code, "shape.unknown");
    EXPECT_EQ(parsePartLine("plate 2x400").error().code, "shape.size");
}

TEST(Palette, AboutTwentyColoursWithDifferentNames) {
    std::set<std::string> names;
    for (const auto& colour : getPalette()) names.insert(colour.name);
    EXPECT_EQ(names.size(), getPalette().size());
    EXPECT_GE(names.size(), 18U);
    EXPECT_EQ(findColour("no such colour"), -1);
}

TEST(Shapes, EverySolidOfEverySizeIsConvexTurnsLeftAndIsInsideItsDrawing) {
    for (const Family& family : getFamilies())
        for (const Size size : {family.low, family.usual, family.high}) {
            if (family.allows && !family.allows(size)) continue;
            const auto shape = must(makeShape(detail::makeName(family, size)));
            EXPECT_GT(shape->massG, 0) << shape->name;
            geometry::Bounds drawn;
            for (const auto& solid : shape->drawn)
                drawn.include(geometry::calcBounds(solid, geometry::Frame::Identity()));
            for (const auto& s : shape->solids) {
                if (s.studPort >= 0) continue;
                const auto bounds = geometry::calcBounds(s.solid, geometry::Frame::Identity());
                EXPECT_TRUE((bounds.low.array() >= drawn.low.array() - 0.05).all() &&
                            (bounds.high.array() <= drawn.high.array() + 0.05).all())
                    << shape->name;
                if (s.solid.kind != geometry::SolidKind::Prism) continue;
                const auto& p = s.solid.polygon;
                for (std::size_t i = 0; i < p.size(); ++i) {
                    const Eigen::Vector2d a = p[(i + 1) % p.size()] - p[i],
                                          b = p[(i + 2) % p.size()] - p[(i + 1) % p.size()];
                    EXPECT_GE(a.x() * b.y() - a.y() * b.x(), -1e-9) << shape->name << ", corner " << i;
                }
            }
        }
}

TEST(Shapes, RoundedAndBentOnesByHand) {
    const auto count = [](const Shape& s, PortKind kind) {
        return std::count_if(s.ports.begin(), s.ports.end(), [&](const Port& p) { return p.kind == kind; });
    };
    const auto corner = must(makeShape("corner plate 3x2")); // an L: 3 along x and 1 more along y
    EXPECT_EQ(count(*corner, PortKind::Stud), 4);
    EXPECT_EQ(count(*corner, PortKind::Cell), 4);
    EXPECT_EQ(count(*must(makeShape("arch 1x4")), PortKind::Stud), 4);
    EXPECT_EQ(count(*must(makeShape("arch 1x4")), PortKind::Cell), 2); // one under each foot
    // A straight run of 4 and 2 more upwards share the corner: 5 holes, each open both ways.
    const auto angle = must(makeShape("angle beam 4x2"));
    EXPECT_EQ(count(*angle, PortKind::Hole), 10);
    EXPECT_TRUE(at(angle->ports, angle->findPort("hole 4")).origin.isApprox(geometry::Vec3(24, 0, 8)));
    // Bent by 53.13°: five pitches on, the hole is 3 across and 4 up from the corner.
    const auto bent = must(makeShape("bent beam 4x6"));
    EXPECT_TRUE(at(bent->ports, bent->findPort("hole 8")).origin.isApprox(geometry::Vec3(24 + 24, 0, 32)));
    EXPECT_EQ(count(*must(makeShape("frame beam 5x7")), PortKind::Hole), 2 * (2 * 5 + 2 * 5));
    // Volume of a curved slope 1x2: 8 mm × (16 · 1.6 + π/4 · 16 · 8) = 1010 mm³, the six flats a little less.
    const auto curved = must(makeShape("curved slope 1x2"));
    EXPECT_NEAR(curved->massG / (1.05e-3 * curved->fillFactor), 8 * (16 * 1.6 + base::kPi / 4 * 16 * 8), 15);
    EXPECT_EQ(count(*must(makeShape("wedge plate 2x4")), PortKind::Stud),
              count(*must(makeShape("wedge plate 2x4")), PortKind::Cell));
}
