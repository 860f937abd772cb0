// SPDX-License-Identifier: GPL-3.0-or-later
// Ways of lines against hand geometry, against a search over all choices of rounds, and rates against differences.
#include <cmath>
#include <gtest/gtest.h>
#include <numbers>
#include <optional>
#include <random>

#include "core/pose/strand_path.h"

using namespace ivrant;
using geometry::Vec3;
using pose::StrandGuide;
using pose::StrandPath;

namespace {

constexpr double kPi = std::numbers::pi;

StrandGuide eye(double x, double y, double z = 0) { return {{x, y, z}, Vec3::UnitZ(), 0, 0, false}; }
StrandGuide pin(double x, double y, double r, int side, bool captive = false) {
    return {{x, y, 0}, Vec3::UnitZ(), r, side, captive};
}
StrandPath path(std::vector<StrandGuide> guides, bool closed = false) { return pose::calcStrandPath(guides, closed); }

/// Second route, by angles: from disc to disc at the angle of the centres' line turned by asin(e/d).
struct Trial {
    double mm = 0;
    bool fits = true;
};
Trial tryChoice(const std::vector<StrandGuide>& guides, unsigned choice) {
    std::vector<std::size_t> on{0};
    for (std::size_t i = 1; i + 1 < guides.size(); ++i)
        if (choice >> (i - 1) & 1U) on.push_back(i);
    on.push_back(guides.size() - 1);
    Trial trial;
    std::vector<double> heading;
    std::vector<Eigen::Vector2d> from, to;
    for (std::size_t k = 0; k + 1 < on.size(); ++k) {
        const StrandGuide &a = guides[on[k]], &b = guides[on[k + 1]];
        const Vec3 d = b.at - a.at;
        const double e = b.side * b.radius - a.side * a.radius, dist = d.head<2>().norm();
        if (std::abs(e) > dist) return {0, false};
        heading.push_back(std::atan2(d.y(), d.x()) - std::asin(e / dist));
        const double h = heading.back();
        const Eigen::Vector2d right(std::sin(h), -std::cos(h));
        from.push_back(a.at.head<2>() + a.side * a.radius * right);
        to.push_back(b.at.head<2>() + b.side * b.radius * right);
        trial.mm += (to.back() - from.back()).norm();
        // Discs left out between these two must not be cut, and lie on their own side.
        for (std::size_t i = on[k] + 1; i < on[k + 1]; ++i) {
            const Eigen::Vector2d u(std::cos(h), std::sin(h)), way = guides[i].at.head<2>() - from.back();
            const double along = way.dot(u), left = u.x() * way.y() - u.y() * way.x();
            if (along > 0 && along < (to.back() - from.back()).norm() &&
                guides[i].side * left < guides[i].radius - 1e-9)
                trial.fits = false;
        }
    }
    for (std::size_t k = 1; k + 1 < on.size(); ++k) {
        const double turn = guides[on[k]].side * std::remainder(heading[k] - heading[k - 1], 2 * kPi);
        if (turn < -1e-9) trial.fits = false;
        trial.mm += guides[on[k]].radius * turn;
    }
    return trial;
}

} // namespace

TEST(StrandPath, StraightThroughEyesAndBentAtThem) {
    const StrandPath way = path({eye(0, 0), eye(30, 40), eye(30, 40, 12)});
    EXPECT_NEAR(way.lengthMm, 50 + 12, 1e-12);
    ASSERT_EQ(way.pieces.size(), 2U);
    EXPECT_NEAR(way.bends[0], 0, 1e-12);
    EXPECT_NEAR(way.bends[1], kPi / 2, 1e-12);
}

TEST(StrandPath, OverAPinAsByHand) {
    // Level, over a pin of 5 mm in the middle: two tangents of √(30² − 5²) and an arc of 2·asin(5/30).
    const StrandPath way = path({eye(-30, 0), pin(0, 0, 5, -1), eye(30, 0)});
    EXPECT_NEAR(way.lengthMm, 2 * std::sqrt(900 - 25.0) + 5 * 2 * std::asin(5 / 30.0), 1e-12);
    EXPECT_GT(way.pieces[0].b.y(), 0) << "turning right it passes above";
    EXPECT_NEAR(way.bends[1], 2 * std::asin(5 / 30.0), 1e-12);
    const StrandPath below = path({eye(-30, 0), pin(0, 0, 5, 1), eye(30, 0)});
    EXPECT_NEAR(below.lengthMm, way.lengthMm, 1e-12);
    EXPECT_LT(below.pieces[0].b.y(), 0);
}

TEST(StrandPath, AnAxisThatLooksTheOtherWayTurnsTheSides) {
    StrandGuide other = pin(0, 0, 5, 1);
    other.axis = -Vec3::UnitZ();
    EXPECT_NEAR((path({eye(-30, 0), other, eye(30, 0)}).pieces[0].b -
                 path({eye(-30, 0), pin(0, 0, 5, -1), eye(30, 0)}).pieces[0].b)
                    .norm(),
                0, 1e-12);
}

TEST(StrandPath, LetsGoOfAPinThatItDoesNotTouchUnlessItIsHeld) {
    const StrandPath away = path({eye(-30, 0), pin(0, -20, 5, -1), eye(30, 0)});
    EXPECT_NEAR(away.lengthMm, 60, 1e-12);
    EXPECT_EQ(away.free, std::vector<int>{1});
    const StrandPath held = path({eye(-30, 0), pin(0, -20, 5, -1, true), eye(30, 0)});
    EXPECT_TRUE(held.free.empty());
    EXPECT_EQ(held.pieces.size(), 2U);
}

TEST(StrandPath, ClimbsEvenlyAlongThePins) {
    const StrandPath plane = path({eye(-30, 0), pin(0, 3, 5, -1), eye(30, 0)});
    const StrandPath rising = path({eye(-30, 0, -4), pin(0, 3, 5, -1), eye(30, 0, 9)});
    EXPECT_NEAR(rising.lengthMm, std::hypot(plane.lengthMm, 13), 1e-12);
    EXPECT_NEAR(rising.pieces.front().unit.z(), rising.pieces.back().unit.z(), 1e-12);
    EXPECT_NEAR(rising.pieces.front().unit.z(), 13 / rising.lengthMm, 1e-12);
}

TEST(StrandPath, LoopsRoundTwoAndThreePins) {
    // Crossed by nothing: 2·d + 2πr; with unequal radii the open belt of the books.
    EXPECT_NEAR(path({pin(0, 0, 4, 1), pin(50, 0, 4, 1)}, true).lengthMm, 100 + 2 * kPi * 4, 1e-9);
    const double d = 50, r = 3, big = 9, tilt = std::asin((big - r) / d);
    EXPECT_NEAR(path({pin(0, 0, r, 1), pin(d, 0, big, 1)}, true).lengthMm,
                2 * std::sqrt(d * d - (big - r) * (big - r)) + r * (kPi - 2 * tilt) + big * (kPi + 2 * tilt), 1e-9);
    EXPECT_NEAR(path({pin(0, 0, 2, 1), pin(30, 0, 2, 1), pin(0, 40, 2, 1)}, true).lengthMm, 30 + 40 + 50 + 2 * kPi * 2,
                1e-9);
    // An eye among them: it begins and ends there.
    EXPECT_NEAR(path({pin(40, 0, 5, 1), eye(0, 0)}, true).lengthMm,
                2 * std::sqrt(1600 - 25.0) + 5 * (kPi + 2 * std::asin(5 / 40.0)), 1e-9);
}

TEST(StrandPath, TellsWhatCannotBe) {
    StrandGuide across = pin(20, 0, 5, 1);
    across.axis = Vec3::UnitX();
    const StrandPath askew = path({eye(-30, 0), pin(0, 0, 5, 1), across, eye(30, 0)});
    EXPECT_EQ(askew.fault, pose::StrandFault::Askew);
    EXPECT_EQ(askew.faultGuide, 2);
    const StrandPath inside = path({eye(-30, 0), pin(0, 0, 5, 1, true), eye(2, 0)});
    EXPECT_EQ(inside.fault, pose::StrandFault::Inside);
    EXPECT_EQ(inside.faultGuide, 1);
    EXPECT_EQ(path({eye(0, 0), eye(0, 0)}).lengthMm, 0) << "two eyes in one place";
}

TEST(StrandPath, TautSetsEqualASearchOverAllChoices) {
    std::mt19937 random(18);
    std::uniform_real_distribution<double> across(-14, 14), radius(1, 5);
    int pulled = 0, compared = 0;
    for (int run = 0; run < 3000; ++run) {
        const int rounds = 1 + run % 6;
        std::vector<StrandGuide> guides{eye(0, across(random))};
        for (int k = 1; k <= rounds; ++k)
            guides.push_back(pin(14.0 * k, across(random), radius(random), run / (1 + k) % 2 ? 1 : -1));
        guides.push_back(eye(14.0 * (rounds + 1), across(random)));
        std::optional<double> best;
        for (unsigned choice = 0; choice < (1U << static_cast<unsigned>(rounds)); ++choice) {
            const Trial trial = tryChoice(guides, choice);
            if (trial.fits && (!best || trial.mm < *best)) best = trial.mm;
        }
        if (!best) continue;
        const StrandPath way = path(guides);
        ASSERT_EQ(way.fault, pose::StrandFault::None);
        EXPECT_NEAR(way.lengthMm, *best, 1e-9) << "run " << run;
        ++compared;
        pulled += way.free.empty() ? 0 : 1;
    }
    EXPECT_GT(compared, 2500);
    EXPECT_GT(pulled, 500) << "many of them let go of some";
}

TEST(StrandPath, LengthChangesAsThePiecesSay) {
    // Every guide on a body of its own that turns and moves: Σ u·(v_to − v_from) against a small step.
    std::mt19937 random(7);
    std::uniform_real_distribution<double> any(-1, 1);
    for (int run = 0; run < 300; ++run) {
        std::vector<StrandGuide> guides{eye(0, 5 * any(random), 3 * any(random)),
                                        pin(20, 6 * any(random), 4, -1, true),
                                        pin(45, 6 * any(random), 3, 1, true),
                                        eye(70, 5 * any(random), 8 * any(random)),
                                        pin(90, 6 * any(random), 4, run % 2 ? 1 : -1, true),
                                        eye(110, 5 * any(random))};
        std::vector<Vec3> move, spin; // rounds stay parallel: each turns about its own axis and moves
        for (const StrandGuide& guide : guides) {
            move.emplace_back(any(random), any(random), any(random));
            spin.push_back(guide.radius > 0 ? Vec3(0, 0, any(random)) : Vec3(any(random), any(random), any(random)));
        }
        const StrandPath now = path(guides);
        double rate = 0;
        for (const auto& piece : now.pieces) {
            const auto speed = [&](int g, const Vec3& p) {
                const auto k = static_cast<std::size_t>(g);
                return Vec3(move[k] + spin[k].cross(p - guides[k].at));
            };
            rate += piece.unit.dot(speed(piece.to, piece.b) - speed(piece.from, piece.a));
        }
        constexpr double kStep = 1e-5;
        const auto moved = [&](double h) {
            auto there = guides;
            for (std::size_t k = 0; k < there.size(); ++k) there[k].at += h * move[k];
            return path(there).lengthMm;
        };
        EXPECT_NEAR(rate, (moved(kStep) - moved(-kStep)) / (2 * kStep), 1e-6) << "run " << run;
    }
}
