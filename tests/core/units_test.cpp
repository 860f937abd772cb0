// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/units.h"

#include "core/base/ids.h"
#include "tests/support/near.h"

using namespace ivrant::base;

TEST(Units, ReadsLengthsWithUnits) {
    EXPECT_DOUBLE_EQ(*parseLengthMm("3p", 1), 9.6);  // 3 × 3.2
    EXPECT_DOUBLE_EQ(*parseLengthMm("2.5s", 1), 20); // 2.5 × 8
    EXPECT_DOUBLE_EQ(*parseLengthMm("14 mm", 8), 14);
    EXPECT_DOUBLE_EQ(*parseLengthMm("2", 8), 16);
    EXPECT_DOUBLE_EQ(*parseLengthMm("-1.5 studs", 1), -12);
}

TEST(Units, RefusesWhatIsNoLength) {
    for (const char* text : {"", "mm", "2x", "nan", "inf", "1e400", "--3", "3 4"})
        EXPECT_FALSE(parseLengthMm(text, 1)) << text;
    EXPECT_EQ(parseLengthMm("99999999mm", 1).error().code, "number.range");
}

TEST(Units, ADecimalCommaIsUnderstoodOrRefusedNeverCut) {
    EXPECT_DOUBLE_EQ(*parseNumber("1,5"), 1.5);
    EXPECT_DOUBLE_EQ(*parseNumber("-0,125"), -0.125); // no thousands begin with 0
    EXPECT_DOUBLE_EQ(*parseNumber("1234,567"), 1234.567);
    EXPECT_DOUBLE_EQ(*parseLengthMm("2,5s", 1), 20);
    for (const char* text : {"1,500", "-12,000", "1,2,3", "1,5.2", "1.5,2", ",", "+-1", "0x10", "1 5"})
        EXPECT_FALSE(parseNumber(text)) << text;
}

TEST(Units, ControlCharactersAreShownNotSent) {
    EXPECT_EQ(printable("Neck \x1b[31m red\x07\x7f"), "Neck ?[31m red??");
    EXPECT_EQ(printable("A\xC2\x9B"
                        "B é λ\n\t"),
              "A?B é λ\n\t"); // U+009B is a control sequence too
}

TEST(Units, FormatsForReading) {
    EXPECT_EQ(formatNumber(-0.0001, 2), "0");
    EXPECT_EQ(formatNumber(12.50, 2), "12.5");
    EXPECT_EQ(formatMargin(0.714), "0.71");
    EXPECT_EQ(formatMargin(1.24), "1.2");
    EXPECT_EQ(formatMargin(12.4), "12");
    EXPECT_EQ(formatMargin(1e9), ">99");
    EXPECT_EQ(formatLength(20, LengthUnit::Studs), "2.5 studs");
    EXPECT_EQ(formatAngle(-12.35), "-12.3°");
}

TEST(Units, WeightIsMassTimesStandardGravity) { EXPECT_NEAR(weightN(1000), 9.80665, ivrant::test::kRounding); }

TEST(Ids, KnowsLegalIds) {
    EXPECT_TRUE(isLegalId("p12"));
    EXPECT_TRUE(isLegalId("base"));
    for (const char* bad : {"", "1p", "P1", "p-1", "p 1", "é"}) EXPECT_FALSE(isLegalId(bad)) << bad;
}
