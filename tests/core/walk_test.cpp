// SPDX-License-Identifier: GPL-3.0-or-later
// Walking against closed forms: feet that go round in circles, level; support planes against a search over all
// triples; the way of least friction against trials beside it.
#include <cmath>
#include <gtest/gtest.h>
#include <random>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/pose/stance.h"
#include "core/study/walk.h"
#include "tests/support/linkages.h"

using namespace ivrant;
using geometry::Vec3;
using test::must;

namespace {

constexpr double kCrankMm = test::Treader::kCrankMm;

struct Treading : test::Treader {
    using test::Treader::Treader;
    [[nodiscard]] study::WalkStudy walk(const std::vector<int>& feet = {3, 4}) const {
        const auto sections = tree();
        const auto stood = placed();
        const auto strengths = trials::calcStrengths(project);
        study::MotionInputs in;
        in.project = &project;
        in.tree = &sections;
        in.placed = &stood;
        in.strengths = &strengths;
        in.ground = 0;
        model::Motion motion;
        motion.name = "Walking";
        motion.joint = project.joints[0].id;
        return study::calcWalk(in, motion, feet);
    }
};

} // namespace

TEST(Walk, FeetOnCirclesWalkFourCranksATurn) {
    const Treading f;
    const auto walk = f.walk();
    ASSERT_EQ(walk.problem, "");
    ASSERT_EQ(walk.places.size(), 73U);
    // Each foot stands for half a turn and goes back by its circle's width meanwhile.
    EXPECT_NEAR(walk.strideMm, 4 * kCrankMm, 1.0);
    EXPECT_NEAR(walk.turnDeg, 0, 1e-4);
    EXPECT_FALSE(walk.radiusMm);
    EXPECT_NEAR(walk.slipMm, 0, study::kTouchMm) << "but where both stand within what counts as touching";
    for (const auto& foot : walk.feet) {
        EXPECT_NEAR(foot.share, 0.5, 0.03);
        EXPECT_NEAR(foot.liftMm, 2 * kCrankMm, 0.3) << "half a turn on it is a circle's width higher than the other";
    }
    EXPECT_EQ(walk.fewPoints, 0);
    EXPECT_NEAR(walk.mostTiltDeg, 0, 1e-6);
    EXPECT_GT(walk.leastTipDeg, 10);
    // The weight rises by nearly a crank, the feet's own weight aside.
    EXPECT_NEAR(walk.riseMm, kCrankMm, 1.5);
    // Work against friction in the joints: all of them turn as fast as the crank or stand still to the feet.
    double work = 0;
    for (std::size_t k = 1; k < walk.places.size(); ++k) work += walk.places[k].frictionNmm * base::degToRad(5);
    EXPECT_NEAR(walk.jointWorkNmm, work, 0.02 * work);
    // Placed on the ground: the lowest of all feet lies at 0 all along.
    for (const auto& place : walk.places) {
        double low = 1e9;
        for (const int s : {3, 4})
            for (auto p : study::listFootPoints(*f.project.sections[static_cast<std::size_t>(s)], 0)) {
                const auto& X = at(place.placed.X_WS, s);
                p.at = X * p.at;
                p.axis = X.linear() * p.axis;
                low = std::min(low, p.findLowest(Vec3::UnitZ()).z());
            }
        EXPECT_NEAR(low, 0, 1e-6);
    }
}

TEST(Walk, AStandingFootStaysWhereItIs) {
    const Treading f;
    const auto walk = f.walk();
    for (std::size_t k = 1; k < walk.places.size(); ++k)
        for (std::size_t foot = 0; foot < 2; ++foot) {
            if (!walk.places[k].stands[foot] || !walk.places[k - 1].stands[foot]) continue;
            const Vec3 a = walk.places[k].placed.X_WS[3 + foot].translation(),
                       b = walk.places[k - 1].placed.X_WS[3 + foot].translation();
            EXPECT_NEAR((a - b).norm(), 0, study::kTouchMm / 2) << "at " << walk.places[k].at;
        }
}

TEST(Walk, TellsWhatCannotWalk) {
    const Treading f;
    EXPECT_EQ(f.walk({}).code, "walk.feet");
    // Soles far beside the weight: it falls over.
    const Treading beside("plate 4x4 at 30 -2 -4");
    EXPECT_EQ(beside.walk().code, "walk.falls");
    // Thin soles right under the beams: the body's own beam comes lower than they do half a turn on.
    Treading low("plate 24x24 at -8 -12 -1");
    low.put(0, "plate 6x6 at 0 4 -6");
    const auto drags = low.walk();
    EXPECT_EQ(drags.code, "walk.drags") << drags.clearMm;
    EXPECT_LT(drags.clearMm, 0);
    EXPECT_EQ(drags.clearSection, 0);
}

TEST(Walk, TheSupportPlaneIsTheHighestUnderTheCentreOfAllTriples) {
    std::mt19937 random(4);
    std::uniform_real_distribution<double> any(-30, 30), low(0, 12);
    int stood = 0;
    for (int run = 0; run < 400; ++run) {
        std::vector<study::FootPoint> points;
        const int count = 4 + run % 9;
        for (int k = 0; k < count; ++k) points.push_back({0, {any(random), any(random), low(random)}, Vec3::Zero(), 0});
        const Vec3 centre(any(random) / 4, any(random) / 4, 60);
        // Second route: every triple that has the centre between its three and no point below it.
        double best = -1e300;
        for (int a = 0; a < count; ++a)
            for (int b = a + 1; b < count; ++b)
                for (int c = b + 1; c < count; ++c) {
                    const auto p = [&](int k) { return at(points, k).at; };
                    Vec3 n = (p(b) - p(a)).cross(p(c) - p(a));
                    if (std::abs(n.z()) < 1e-9) continue;
                    if (n.z() < 0) n = -n;
                    const auto above = [&](const Vec3& q) { return n.dot(q - p(a)); };
                    bool fits = true;
                    for (int k = 0; k < count && fits; ++k) fits = above(p(k)) > -1e-7;
                    if (fits) best = std::max(best, (n.dot(p(a)) - n.x() * centre.x() - n.y() * centre.y()) / n.z());
                }
        const auto support = study::calcSupport(points, centre, Vec3::UnitZ());
        if (!support) continue;
        ++stood;
        // It stands on three of them, none lies below, and its weight lies between those that carry.
        for (const auto& p : points) EXPECT_GT(p.at.dot(support->up), support->offset - 1e-6);
        ASSERT_GE(support->contacts.size(), 3U);
        Vec3 load = Vec3::Zero();
        double sum = 0;
        for (std::size_t k = 0; k < support->contacts.size(); ++k) {
            EXPECT_GE(support->shares[k], 0);
            load += support->shares[k] * support->contacts[k];
            sum += support->shares[k];
        }
        EXPECT_NEAR(sum, 1, 1e-9);
        const Vec3 lever = centre - load;
        EXPECT_NEAR((lever - lever.dot(support->up) * support->up).norm(), 0, 1e-6);
        // From straight above the first plane is that of the triples.
        if (best > -1e299 && support->up.z() > 0.9999) {
            EXPECT_NEAR((support->offset - support->up.x() * centre.x() - support->up.y() * centre.y()) /
                            support->up.z(),
                        best, 0.05);
        }
    }
    EXPECT_GT(stood, 200);
}

TEST(Walk, RoundFeetTouchByTheirRims) {
    study::FootPoint rim{0, {0, 0, 10}, Vec3::UnitY(), 4};
    EXPECT_NEAR((rim.findLowest(Vec3::UnitZ()) - Vec3(0, 0, 6)).norm(), 0, 1e-12);
    const Vec3 up = Vec3(0.3, 0, 1).normalized();
    EXPECT_NEAR(rim.findLowest(up).dot(up), 10 * up.z() - 4, 1e-12);
    rim.axis = Vec3::Zero(); // a ball
    EXPECT_NEAR((rim.findLowest(Vec3::UnitZ()) - Vec3(0, 0, 6)).norm(), 0, 1e-12);
}

TEST(Walk, TheWayOfLeastFrictionIsNoWorseThanAnyBesideIt) {
    std::mt19937 random(11);
    std::uniform_real_distribution<double> any(-1, 1);
    for (int run = 0; run < 200; ++run) {
        std::vector<Eigen::Vector2d> before, now;
        std::vector<double> shares;
        for (int k = 0; k < 3 + run % 5; ++k) {
            before.emplace_back(40 * any(random), 40 * any(random));
            now.push_back(before.back() + Eigen::Vector2d(any(random), any(random)));
            shares.push_back(0.2 + std::abs(any(random)));
        }
        const auto move = study::calcPlaneMove(before, now, shares);
        const auto slipOf = [&](double turn, const Eigen::Vector2d& shift) {
            double slip = 0;
            for (std::size_t i = 0; i < now.size(); ++i)
                slip += shares[i] * (study::turnBy(turn, now[i]) + shift - before[i]).norm();
            return slip;
        };
        EXPECT_NEAR(slipOf(move.turn, move.shift), move.slip, 1e-9);
        for (int trial = 0; trial < 200; ++trial) {
            const double size = std::pow(10.0, -1 - 3 * std::abs(any(random)));
            EXPECT_GE(slipOf(move.turn + size * any(random) / 20,
                             move.shift + size * Eigen::Vector2d(any(random), any(random))),
                      move.slip * (1 - 1e-3))
                << run;
        }
        // All moved alike: nothing slips.
        for (std::size_t i = 0; i < now.size(); ++i) now[i] = study::turnBy(0.02, before[i]) + Eigen::Vector2d(1, -2);
        EXPECT_NEAR(study::calcPlaneMove(before, now, shares).slip, 0, 1e-6);
    }
}
