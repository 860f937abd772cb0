// SPDX-License-Identifier: GPL-3.0-or-later
// What typed lines mean, and what the data files hold.
#include <set>

#include "core/parts/family.h"
#include "core/parts/joint_kind.h"
#include "core/parts/palette.h"
#include "core/parts/part_line.h"
#include "tests/support/figures.h"
#include "tests/support/near.h"

using namespace ivrant;
using test::must;

namespace {

struct Typed {
    const char *text, *shape, *colour;
};
class PartLine : public testing::TestWithParam<Typed> {};

} // namespace

TEST_P(PartLine, MeansAShapeAndAColour) {
    const auto line = must(parts::parsePartLine(GetParam().text));
    EXPECT_EQ(line.shape, GetParam().shape) << GetParam().text;
    EXPECT_EQ(line.colour.value_or(""), GetParam().colour) << GetParam().text;
    EXPECT_FALSE(line.atUm.has_value());
}

INSTANTIATE_TEST_SUITE_P(
    Texts, PartLine,
    testing::Values(
        Typed{"2x4 plate", "plate 2x4", ""}, Typed{"plate 2 x 4 kelp", "plate 2x4", "kelp"},
        Typed{"PLATE 2X4", "plate 2x4", ""}, Typed{"deep water brick 2x2", "brick 2x2", "deep water"},
        Typed{"beam 7", "beam 7", ""}, Typed{"7 beam soot", "beam 7", "soot"},
        Typed{"plate with clip 1x1", "clip plate 1x1", ""}, Typed{"plate with ball", "ball plate small 1x2", ""},
        Typed{"large ball plate", "ball plate large 1x2", ""}, Typed{"hinge fork", "stepped hinge small fork", ""},
        Typed{"large hinge tongue", "stepped hinge large tongue", ""}, Typed{"pin", "pin ribbed", ""},
        Typed{"smooth pin", "pin smooth", ""}, Typed{"side-stud brick 4", "side-stud brick 4", ""},
        Typed{"brick with pin holes 1x4", "pin hole brick 1x4", ""}, Typed{"tooth plate gorse", "tooth plate", "gorse"},
        Typed{"wheel 30x14", "wheel 30x14", ""}, Typed{"1×2 jumper", "jumper 1x2", ""},
        Typed{"bracket down 2x1", "bracket down 2x1", ""}, Typed{"turntable lower", "small turntable lower", ""}));

TEST(PartLineNumbers, UnitsAndDefaultUnits) {
    const auto line = must(parts::parsePartLine("brick 2x2 at 2 -1.5 3 turn 5"));
    EXPECT_EQ(*line.atUm, (std::array<std::int64_t, 3>{16000, -12000, 9600})) << "studs, studs, plates";
    EXPECT_EQ(*line.turn, 5);
    EXPECT_EQ(*must(parts::parsePartLine("brick 2x2 at 14mm 2.5s 3p")).atUm,
              (std::array<std::int64_t, 3>{14000, 20000, 9600}));
}

TEST(PartLineNumbers, WhatIsWrongIsSaid) {
    for (const auto& [text, code] :
         {std::pair("brick 2x2 at 1 2", "line.at"), std::pair("brick 2x2 at a b c", "line.at"),
          std::pair("brick 2x2 turn 24", "line.turn"), std::pair("brick 2x2 turn 1.5", "line.turn"),
          std::pair("brick 2x2 turn", "line.turn"), std::pair("", "shape.unknown"),
          std::pair("flooble 2x2", "shape.unknown"), std::pair("brick 0x0", "shape.size"),
          std::pair("brick 2x2x2", "shape.size"), std::pair("brick 99999999999999999999x1", "shape.size"),
          std::pair("beam 1", "shape.size"), std::pair("beam 16", "shape.size"),
          std::pair("round plate 2x4", "shape.size"), std::pair("side-stud brick 3", "shape.size")}) {
        const auto result = parts::parsePartLine(text);
        ASSERT_FALSE(result) << text;
        EXPECT_EQ(result.error().code, code) << text << ": " << result.error().message;
    }
    EXPECT_NE(parts::parsePartLine("brikc 2x4").error().message.find("there is no shape"), std::string::npos);
}

TEST(PartLineNumbers, RandomTextNeverBreaksIt) {
    std::srand(4);
    const std::string alphabet = "abx 0123456789.-×at turnplatebrick\t,\"\\/\xff";
    for (int i = 0; i < 5000; ++i) {
        std::string text;
        for (int k = std::rand() % 40; k > 0; --k)
            text += alphabet[static_cast<std::size_t>(std::rand()) % alphabet.size()];
        const auto line = parts::parsePartLine(text);
        if (line) {
            EXPECT_TRUE(parts::makeShape(line->shape)) << text;
        } else {
            EXPECT_FALSE(line.error().message.empty());
        }
    }
}

TEST(Families, EverySizeInRangeMakesAWholeShape) {
    for (const auto& family : parts::getFamilies()) {
        std::vector<parts::Size> sizes{family.low, family.usual, family.high};
        for (const auto size : sizes) {
            if (family.allows && !family.allows(size)) continue;
            const auto shape = must(parts::makeShape(parts::detail::makeName(family, size)));
            EXPECT_GT(shape->massG, 0) << shape->name;
            EXPECT_LT(shape->massG, 2000) << shape->name;
            EXPECT_FALSE(shape->solids.empty());
            EXPECT_EQ(shape->ports.empty(), family.name == "belt") << shape->name; // a belt only lies round pulleys
            std::set<std::string> names;
            for (const auto& port : shape->ports) {
                EXPECT_TRUE(names.insert(port.name).second) << shape->name << ": " << port.name << " twice";
                EXPECT_NEAR(port.axis.norm(), 1, 1e-12);
                EXPECT_NEAR(port.reference.norm(), 1, 1e-12);
                EXPECT_NEAR(port.axis.dot(port.reference), 0, 1e-12);
                for (int solid : port.solids) EXPECT_LT(static_cast<std::size_t>(solid), shape->solids.size());
            }
            EXPECT_TRUE((shape->centre.array() >= shape->bounds.low.array() - 0.2).all() &&
                        (shape->centre.array() <= shape->bounds.high.array() + 0.2).all())
                << shape->name;
        }
    }
}

TEST(Families, NamesReadBackAsThemselves) {
    for (const auto& family : parts::getFamilies()) {
        const auto name = parts::detail::makeName(family, family.usual);
        EXPECT_EQ(must(parts::parseShapeName(name)), name);
        std::string_view rest = family.otherNames;
        while (!rest.empty()) {
            const auto slash = rest.find('/');
            EXPECT_EQ(must(parts::parseShapeName(rest.substr(0, slash))).substr(0, family.name.size()), family.name)
                << rest;
            rest = slash == std::string_view::npos ? std::string_view() : rest.substr(slash + 1);
        }
    }
}

TEST(Families, MassFollowsVolumeAndFill) {
    // Brick 2x4: 16 · 32 · 9.6 mm³ and 8 studs of π · 2.4² · 1.7, × 1.05e-3 g/mm³ × 0.45.
    const auto brick = must(parts::makeShape("brick 2x4"));
    EXPECT_NEAR(brick->massG, (16.0 * 32 * 9.6 + 8 * 3.14159265358979 * 2.4 * 2.4 * 1.7) * 1.05e-3 * 0.45, 1e-6);
    EXPECT_NEAR(brick->centre.x(), 4, 1e-9);
    EXPECT_NEAR(brick->centre.y(), 12, 1e-9);
}

TEST(Data, EveryPortPairMakesOneKindInEitherOrder) {
    for (const auto& kind : parts::getJointKinds())
        for (const auto& [a, b] : kind.ports) {
            EXPECT_EQ(parts::findJointKindFor(a, b), &kind);
            EXPECT_EQ(parts::findJointKindFor(b, a), &kind);
        }
    EXPECT_EQ(parts::findJointKindFor(parts::PortKind::Stud, parts::PortKind::Stud), nullptr);
}
