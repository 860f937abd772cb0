// SPDX-License-Identifier: GPL-3.0-or-later
// Statistics against published tables and against simulation; the lever's arithmetic by hand; instruments that
// misbehave.
#include <clocale>
#include <cmath>
#include <fcntl.h>
#include <random>
#include <stdlib.h>
#include <thread>
#include <unistd.h>

#include "core/base/units.h"
#include "core/trials/instrument.h"
#include "core/trials/lever.h"
#include "core/trials/readings_csv.h"
#include "core/trials/statistics.h"
#include "core/trials/strengths.h"
#include "tests/support/figures.h"
#include "tests/support/near.h"

using namespace ivrant;
using test::must;

TEST(Statistics, ToleranceFactorsOfThePublishedTable) {
    // One-sided factors for 90 % of the population with 95 % confidence: Natrella, NBS Handbook 91, table A-7, to three
    // decimals.
    const std::vector<std::pair<int, double>> table{{3, 6.158},  {4, 4.163},  {5, 3.407},  {6, 3.006},
                                                    {7, 2.755},  {8, 2.582},  {10, 2.355}, {15, 2.068},
                                                    {20, 1.926}, {30, 1.778}, {50, 1.646}};
    for (const auto& [n, k] : table)
        EXPECT_NEAR(trials::calcToleranceFactor(n), k, 0.004) << n; // the old table rounds differently at n = 3
    EXPECT_THROW((void)trials::calcToleranceFactor(1), std::invalid_argument);
    EXPECT_THROW((void)trials::calcToleranceFactor(5, 1.0), std::invalid_argument);
    for (int n = 3; n < 40; ++n) EXPECT_GT(trials::calcToleranceFactor(n), trials::calcToleranceFactor(n + 1)) << n;
}

TEST(Statistics, TheBoundHoldsInSimulation) {
    // Second route: of many series of 6 readings, 95 % must have their bound below the value that 90 % of all joints
    // exceed.
    std::mt19937 random(5);
    std::normal_distribution<double> joint(30, 2);
    const double exceeded = 30 - 1.2815516 * 2; // z of 0.90 (any normal table)
    int covers = 0;
    constexpr int kSeries = 20'000;
    for (int i = 0; i < kSeries; ++i) {
        std::vector<double> readings(6);
        for (double& r : readings) r = joint(random);
        covers += must(trials::calcStatistics(readings)).lowerBound <= exceeded ? 1 : 0;
    }
    EXPECT_NEAR(static_cast<double>(covers) / kSeries, 0.95, 0.005); // three standard errors of a share of 20,000
}

TEST(Statistics, MeanSpreadAndBoundByHand) {
    // 14, 16, 18: mean 16, spread √((4 + 0 + 4) / 2) = 2; k(3) = 6.155: bound 16 − 12.31 = 3.69.
    const auto s = must(trials::calcStatistics({14, 16, 18}));
    EXPECT_NEAR(s.mean, 16, test::kRounding);
    EXPECT_NEAR(s.spread, 2, test::kRounding);
    EXPECT_NEAR(s.lowerBound, 16 - 6.155 * 2, 0.01);
    EXPECT_TRUE(s.outliers.empty());
}

TEST(Statistics, FewReadingsAndNonsense) {
    const auto one = must(trials::calcStatistics({20}));
    EXPECT_FALSE(one.factor);
    EXPECT_NEAR(one.lowerBound, 12, test::kRounding); // 0.6 × mean
    EXPECT_NEAR(must(trials::calcStatistics({20, 30})).lowerBound, 15, test::kRounding);
    EXPECT_EQ(trials::calcStatistics({}).error().code, "series.empty");
    EXPECT_EQ(trials::calcStatistics({1, -2}).error().place, "1");
    EXPECT_EQ(trials::calcStatistics({1, std::nan("")}).error().code, "series.reading");
    EXPECT_EQ(must(trials::calcStatistics({1, 100, 1, 100})).lowerBound, 0); // never below nothing
}

TEST(Statistics, OutliersAreShownNotDropped) {
    // Grubbs 1969, table of two-sided 5 % limits: n = 5: 1.715, n = 10: 2.290.
    EXPECT_NEAR(trials::calcGrubbsLimit(5), 1.715, 0.001);
    EXPECT_NEAR(trials::calcGrubbsLimit(10), 2.290, 0.001);
    const auto s = must(trials::calcStatistics({20, 21, 20, 19, 20, 21, 60}));
    EXPECT_EQ(s.outliers, std::vector<int>{6});
    EXPECT_EQ(s.count, 7);
    EXPECT_NEAR(s.mean, 181.0 / 7, test::kRounding); // it is counted
}

TEST(Statistics, WearIsTheSlopeOfTheLogarithm) {
    // 20 % lost in every 100 moves: 30 · 0.8^(n/100).
    std::vector<double> moves, holding;
    for (double n : {0.0, 50.0, 100.0, 250.0, 400.0}) {
        moves.push_back(n);
        holding.push_back(30 * std::pow(0.8, n / 100));
    }
    EXPECT_NEAR(trials::calcLossPer100(moves, holding).value(), 0.2, 1e-9);
    EXPECT_FALSE(trials::calcLossPer100({0, 0, 0}, {1, 2, 3}));
    EXPECT_FALSE(trials::calcLossPer100({0, 1}, {1, 2}));
    EXPECT_EQ(trials::calcLossPer100({0, 100, 200}, {10, 11, 12}).value(), 0); // gaining with use is no loss
}

TEST(Lever, TorqueByHand) {
    // 12 g at 80 mm: 0.1176798 N · 80 = 9.41438; the arm's own 5 g at 30 mm adds 0.04903325 · 30 = 1.4709975.
    EXPECT_NEAR(must(trials::calcLeverTorque({80, 5, 30}, 12)), 9.414384 + 1.4709975, 1e-6);
    EXPECT_NEAR(must(trials::calcLeverTorqueFromForce({80, 5, 30}, 0.1176798)), 10.8853815, 1e-6);
    EXPECT_EQ(trials::calcLeverTorque({0, 0, 0}, 12).error().code, "lever.distance");
    EXPECT_EQ(trials::calcLeverTorque({80, 0, 0}, -1).error().code, "lever.weight");
    EXPECT_EQ(trials::calcLeverTorque({80, 50, -80}, 10).error().code, "lever.lost"); // the arm hangs on the other side
    EXPECT_NEAR(trials::calcFirstWeightG({100, 0, 0}, 30), 10 / 100.0 / 9.80665e-3, 1e-6);
}

TEST(Instrument, LinesOfManyScales) {
    EXPECT_NEAR(must(trials::parseForceLine("ST,+  12.50 g\r")), 0.122583125, 1e-9);
    EXPECT_NEAR(must(trials::parseForceLine("0.35 N")), 0.35, 1e-12);
    EXPECT_NEAR(must(trials::parseForceLine("- 250 mN")), -0.25, 1e-12);
    EXPECT_NEAR(must(trials::parseForceLine("1.2kg")), 11.76798, 1e-9);
    EXPECT_NEAR(must(trials::parseForceLine("7")), 7 * 9.80665e-3, 1e-12); // a bare number is grams
    EXPECT_EQ(trials::parseForceLine("no reading").error().code, "instrument.text");
    EXPECT_EQ(trials::parseForceLine("12 stone").error().code, "instrument.text");
}

TEST(Instrument, SimulatedScaleHasAValueNoiseAndAnEnd) {
    trials::SimulatedScale scale(2.0, 0.1, 3, 500);
    double sum = 0;
    for (int i = 0; i < 500; ++i) sum += must(scale.read(std::chrono::milliseconds(1)));
    EXPECT_NEAR(sum / 500, 2.0, 0.015); // 0.1 / √500 · 3
    EXPECT_EQ(scale.read(std::chrono::milliseconds(1)).error().code, "instrument.gone");
}

TEST(Instrument, WhatIsNoReadingIsNotReadAsOne) {
    for (const char* junk : {"error 42", "E12", "12 34 g", "0x12 g", "1e3 g", "12.5.3 g", "nan g", "12:30", "1,500 g",
                             "2026-11-20", "OL", "ready 15 g", "12 g of 30 g", "--5 g", ""})
        EXPECT_EQ(trials::parseForceLine(junk).error().code, "instrument.text") << junk;
    EXPECT_NEAR(must(trials::parseForceLine("12,5 g")), 12.5 * 9.80665e-3, 1e-9); // a decimal comma is understood
    EXPECT_NEAR(must(trials::parseForceLine("net: 12.5 g")), 12.5 * 9.80665e-3, 1e-9);
    EXPECT_NEAR(must(trials::parseForceLine("ST,GS,-  .5 g")), -0.5 * 9.80665e-3, 1e-9);
}

TEST(Instrument, TheLocaleDoesNotCount) {
    const char* before = std::setlocale(LC_ALL, nullptr);
    const std::string kept = before ? before : "C";
    for (const char* name : {"de_DE.UTF-8", "fr_FR.UTF-8", "C.UTF-8"}) {
        if (!std::setlocale(LC_ALL, name)) continue; // not on this machine
        EXPECT_NEAR(must(trials::parseForceLine("12.5 g")), 12.5 * 9.80665e-3, 1e-9) << name;
        EXPECT_NEAR(must(base::parseNumber("12.5")), 12.5, 1e-12) << name;
    }
    std::setlocale(LC_ALL, kept.c_str());
}

namespace {

/// A serial line whose other end the test holds.
struct Line {
    int master = posix_openpt(O_RDWR | O_NOCTTY);
    std::unique_ptr<trials::Instrument> scale;
    Line() {
        EXPECT_EQ(grantpt(master), 0);
        EXPECT_EQ(unlockpt(master), 0);
        scale = must(trials::openSerialInstrument(ptsname(master)));
    }
    void send(const std::string& text) {
        EXPECT_EQ(::write(master, text.data(), text.size()), static_cast<ssize_t>(text.size()));
    }
    /// Reads while another thread sends once the reading has begun to wait (the pause of mid-line is over).
    base::Result<double> read(const std::string& text) {
        std::thread sender([&] {
            std::this_thread::sleep_for(std::chrono::milliseconds(150));
            send(text);
        });
        auto value = scale->read(std::chrono::milliseconds(5000));
        sender.join();
        return value;
    }
};

} // namespace

TEST(Instrument, SerialLineReadsWaitsAndVanishes) {
    Line line;
    EXPECT_EQ(line.read("ready\n").error().code, "instrument.text"); // a line without a number is said, not swallowed
    EXPECT_NEAR(must(line.read(" 15.0 g\r\n")), 15 * 9.80665e-3, 1e-9);
    EXPECT_NEAR(must(line.read("0.2 N\r")), 0.2, 1e-12);
    EXPECT_EQ(line.scale->read(std::chrono::milliseconds(20)).error().code, "instrument.silent");
    close(line.master);
    EXPECT_EQ(line.scale->read(std::chrono::milliseconds(2000)).error().code, "instrument.gone");
    EXPECT_EQ(trials::openSerialInstrument("/dev/null").error().code, "instrument.open");
    EXPECT_EQ(trials::openSerialInstrument("/nowhere/at/all").error().code, "instrument.open");
}

TEST(Instrument, WhatWaitedAndHalfLinesDoNotCount) {
    Line line;
    line.send("99.0 g\n98.0 g\n97."); // sent before anybody asked; the last one is half a line
    EXPECT_NEAR(must(line.read("5 g\n12.5 g\n")), 12.5 * 9.80665e-3, 1e-9); // "5 g" ends the half line
    line.send("50 g\n");
    EXPECT_NEAR(must(line.read("13 g\n")), 13 * 9.80665e-3, 1e-9);
    EXPECT_EQ(line.scale->read(std::chrono::milliseconds(30)).error().code, "instrument.silent");
    std::thread gone([&] {
        std::this_thread::sleep_for(std::chrono::milliseconds(100));
        line.send("77");
        close(line.master); // unplugged in the middle of a line
    });
    EXPECT_FALSE(line.scale->read(std::chrono::milliseconds(3000)).ok());
    gone.join();
}

TEST(Readings, TablesOfText) {
    EXPECT_EQ(must(trials::parseReadings("12.5\n13\n\n# cold\n11\n")).values, (std::vector<double>{12.5, 13, 11}));
    const auto worn =
        must(trials::parseReadings("date;Reading N·mm;moves\r\n2026-11-20;30;0\r\n2026-11-20;27;100\r\n"));
    EXPECT_EQ(worn.values, (std::vector<double>{30, 27}));
    EXPECT_EQ(worn.moves, (std::vector<double>{0, 100}));
    EXPECT_EQ(trials::parseReadings("1\ntwo\n").error().place, "line 2");
    EXPECT_EQ(trials::parseReadings("").error().code, "csv.empty");
    EXPECT_EQ(trials::parseReadings("what\n1\n").error().code, "csv.number");
    EXPECT_EQ(trials::parseReadings("1.0,0\n2\n").error().place, "line 2"); // moves on one line only
    EXPECT_EQ(trials::parseReadings("1,5\n2,5\n").error().place, "line 1"); // 1.5, or 1 after 5 moves?
    EXPECT_EQ(must(trials::parseReadings("1,5;0\n2,25;10\n")).values, (std::vector<double>{1.5, 2.25}));
    EXPECT_EQ(must(trials::parseReadings("reading,moves\n1,5\n")).moves, (std::vector<double>{5}));
}

namespace {

struct Arm : test::Figure {
    model::JointId joint;
    Arm() {
        const auto fork = put(0, "stepped hinge small fork at 0 0 0");
        joint = join("stepped hinge small", fork, "finger", put(1, "stepped hinge small tongue at 0 0 0"), "finger");
    }
    void measure(std::vector<double> readings, bool ofJoint, model::Quantity quantity = model::Quantity::Holding,
                 std::vector<double> moves = {}) {
        model::Series s;
        s.quantity = quantity;
        s.kind = "stepped hinge small";
        if (ofJoint) s.joint = joint;
        s.readings = std::move(readings);
        s.moves = std::move(moves);
        project = must(model::putSeries(project, s));
    }
    [[nodiscard]] model::JointStrength strength() const { return trials::calcStrengths(project)[0]; }
};

} // namespace

TEST(Strengths, TheNearestMeasurementCounts) {
    Arm a;
    EXPECT_NEAR(a.strength().holding.value, 30 * 0.6, test::kRounding); // starting value × 0.6
    EXPECT_FALSE(a.strength().holding.measured);
    EXPECT_NEAR(a.strength().pull->value, 10, test::kRounding); // the starting value itself
    model::Series library;
    library.kind = "stepped hinge small";
    library.readings = {25, 25, 25};
    a.project.workshop = std::make_shared<const std::vector<model::Series>>(1, library);
    EXPECT_NEAR(a.strength().holding.value, 25, test::kRounding); // no spread: the mean
    a.measure({40, 40, 40}, false);
    EXPECT_NEAR(a.strength().holding.value, 40, test::kRounding);
    a.measure({35}, true);
    EXPECT_NEAR(a.strength().holding.value, 21, test::kRounding); // 0.6 × 35: a single reading of this joint
    EXPECT_TRUE(a.strength().holding.measured);
    a.measure({9, 9, 9}, false, model::Quantity::PullOut);
    EXPECT_NEAR(a.strength().pull->value, 9, test::kRounding);
}

TEST(Strengths, ReadingsOfOtherKindsAndWornReadingsDoNotCount) {
    Arm a;
    a.measure({30, 30, 30, 24, 19.2}, false, model::Quantity::Holding, {0, 0, 0, 100, 200});
    EXPECT_NEAR(a.strength().holding.value, 30, test::kRounding);
    EXPECT_NEAR(a.strength().lossPer100.value(), 0.2, 1e-9);
    a.project = must(model::exchangeJointKind(a.project, a.joint, "stepped hinge large"));
    EXPECT_NEAR(a.strength().holding.value, 140 * 0.6, test::kRounding); // measured on the kind that was there before
    EXPECT_FALSE(a.strength().lossPer100);
}
