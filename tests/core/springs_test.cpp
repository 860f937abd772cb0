// SPDX-License-Identifier: GPL-3.0-or-later
// Springs that yield and the matrix behind them: against dense algebra, by hand, and against the exact answer for
// models of over a thousand parts.
#include <Eigen/Dense>
#include <cmath>
#include <gtest/gtest.h>
#include <optional>
#include <random>
#include <thread>

#include "core/base/at.h"
#include "core/stand/certificate.h"
#include "core/stand/normal_equations.h"
#include "core/stand/size_rows.h"
#include "core/stand/yielding_springs.h"
#include "core/study/stand_cases.h"
#include "tests/support/near.h"
#include "tests/support/stacks.h"

using namespace ivrant;
using geometry::Vec3;
using test::must;

namespace {

/// Columns that touch one, two or three sixes of rows, in any order.
stand::SparseMatrix makeRandom(std::mt19937& random, int rows, int columns, Eigen::MatrixXd& dense) {
    stand::SparseMatrix A;
    A.rows = rows;
    dense = Eigen::MatrixXd::Zero(rows, columns);
    std::uniform_real_distribution<double> value(-1, 1);
    std::uniform_int_distribution<int> row(0, rows - 1), count(1, 8);
    for (int j = 0; j < columns; ++j) {
        for (int k = count(random); k > 0; --k) {
            const int r = row(random);
            if (dense(r, j) != 0) continue;
            dense(r, j) = value(random);
            A.add(r, dense(r, j));
        }
        A.endColumn();
    }
    return A;
}

stand::YieldingSprings makePair(double load, double high) { // side by side: 1 and 3 N/mm
    stand::YieldingSprings s;
    s.A.rows = 1;
    for (int k = 0; k < 2; ++k) {
        s.A.add(0, 1);
        s.A.endColumn();
    }
    s.load = {load};
    s.low = {0, 0};
    s.high = {10, high};
    s.stiffness = {1, 3};
    s.rest = {0, 0};
    return s;
}

/// A mushroom of bricks: a stem and a cap that reaches out by `reach` cells all round.
struct Mushroom {
    std::shared_ptr<const model::Project> project;
    std::vector<bonds::SectionBondsPtr> bonds;
    model::Placed placed;
    stand::BondLimits limits;

    static constexpr int kCapFrom = 24;
    explicit Mushroom(int reach) {
        const int stem = 16, nx = stem + 2 * reach;
        stand::CellGrid grid{nx, nx, 34, {}, {}, base::kBrickMm};
        grid.filled.assign(static_cast<std::size_t>(nx * nx * grid.nz), 0);
        for (int z = 0; z < grid.nz; ++z)
            for (int y = 0; y < nx; ++y)
                for (int x = 0; x < nx; ++x) {
                    const bool within = x >= reach && y >= reach && x < nx - reach && y < nx - reach;
                    grid.filled[grid.index(x, y, z)] = within || z >= kCapFrom ? 1 : 0;
                }
        project = std::make_shared<const model::Project>(
            must(stand::makeStatue("Mushroom", must(stand::calcSize(grid, {})).layers, 0)));
        bonds = bonds::calcBonds(*project);
        placed = {project.get(), {geometry::Frame::Identity()}};
        limits = study::calcBondLimits(*project);
    }
    [[nodiscard]] stand::BondNet net(const stand::NetRequest& request = {}) const {
        return stand::makeBondNet(placed, bonds, limits, request);
    }
};

} // namespace

TEST(NormalEquations, SolveWhatADenseMatrixSolves) {
    std::mt19937 random(11);
    std::uniform_real_distribution<double> positive(0.01, 5), any(-1, 1);
    for (const int rows : {1, 5, 6, 7, 20, 48}) { // whole sixes and others
        Eigen::MatrixXd A;
        const auto sparse = makeRandom(random, rows, 4 * rows + 3, A);
        stand::NormalEquations normal(sparse);
        for (int round = 0; round < 3; ++round) {
            std::vector<double> theta(static_cast<std::size_t>(A.cols())), r(static_cast<std::size_t>(rows));
            for (double& t : theta) t = positive(random);
            for (double& e : r) e = any(random);
            const Eigen::Map<const Eigen::VectorXd> weight(theta.data(), A.cols()), right(r.data(), rows);
            const Eigen::MatrixXd whole = A * weight.asDiagonal() * A.transpose();
            if (whole.fullPivLu().rank() < rows) continue;
            ASSERT_TRUE(normal.factor(theta));
            const auto y = normal.solve(r);
            const Eigen::Map<const Eigen::VectorXd> found(y.data(), rows);
            EXPECT_LT((whole * found - right).cwiseAbs().maxCoeff(), 1e-7) << rows;
            std::vector<double> left = r;
            normal.subtractProduct(y, theta, left);
            for (const double e : left) EXPECT_NEAR(e, 0, 1e-7);
        }
    }
}

TEST(YieldingSprings, ShareALoadByTheirStiffnessUntilOneYields) {
    stand::SpringOptions options;
    options.allAnswer = true; // they lie at their lower limit, and answer all the same
    const auto free = must(stand::letSpringsYield(makePair(4, 10), options));
    EXPECT_NEAR(free.force[0], 1, 1e-5); // 4 · 1/4
    EXPECT_NEAR(free.force[1], 3, 1e-5);
    const auto yields = must(stand::letSpringsYield(makePair(4, 2), options));
    EXPECT_NEAR(yields.force[0], 2, 1e-5); // the other gives no more than 2
    EXPECT_NEAR(yields.force[1], 2, test::kRounding);
    EXPECT_LE(yields.residual, 1e-5);
    // From where it ended nothing is left to do.
    auto again = makePair(4, 2);
    again.rest = yields.wanted;
    EXPECT_EQ(must(stand::letSpringsYield(again)).rounds, 0);
    // Both at their limits carry 12 of 15: what is missing is told, and no force lies beyond its limit.
    const auto falls = must(stand::letSpringsYield(makePair(15, 2), options));
    EXPECT_NEAR(falls.missing[0], 3, 1e-9);
    EXPECT_LE(falls.force[0], 10);
    EXPECT_LE(falls.force[1], 2);
}

TEST(YieldingSprings, StopWhenTold) {
    base::Progress progress;
    progress.stop();
    stand::SpringOptions options;
    options.progress = &progress;
    const auto stopped = stand::letSpringsYield(makePair(4, 2), options);
    ASSERT_FALSE(stopped.ok());
    EXPECT_EQ(stopped.error().code, "stopped");
}

TEST(Certificate, OfAThousandPartsIsLookedForNearWhatYields) {
    const Mushroom shape(7);
    const auto net = shape.net();
    ASSERT_GT(net.bodies.size(), 1000U);
    const auto loads = stand::calcLoads(net, {0, 0, -1});
    const auto exact = must(stand::calcEquilibrium(net, loads));
    ASSERT_TRUE(exact.stands);
    const auto proof = must(stand::calcCertificate(net, loads));
    EXPECT_TRUE(proof.stands);
    EXPECT_LE(proof.residualN, stand::kBalanceN);
    EXPECT_GE(proof.largestUse, *exact.lambda * 0.98);
    // A part of the rim is taken away: the forces from before, and a look at one part of the model, prove it again.
    const auto& parts = shape.project->sections[0]->parts;
    stand::NetRequest without;
    const int away = static_cast<int>(parts.size()) - 1;
    without.built = [&](model::PartSpot spot) { return spot.part != away; };
    const auto edited = shape.net(without);
    stand::CertificateRequest request;
    request.start = &proof.forces;
    const auto after = must(stand::calcCertificate(edited, stand::calcLoads(edited, {0, 0, -1}), request));
    EXPECT_TRUE(after.stands);
    EXPECT_LE(after.residualN, stand::kBalanceN);
    // The same without a start: both are proofs, whatever way they came.
    EXPECT_TRUE(must(stand::calcCertificate(edited, stand::calcLoads(edited, {0, 0, -1}))).stands);
}

TEST(Certificate, OfAThousandPartsNeverProvesWhatFalls) {
    const Mushroom shape(9);
    const auto net = shape.net();
    stand::EquilibriumRequest request;
    request.use = false;
    const double lambda = *must(stand::calcEquilibrium(net, stand::calcLoads(net, {0, 0, -100}), request)).lambda;
    ASSERT_LT(lambda, stand::kNoLimit);
    const auto loads = stand::calcLoads(net, {0, 0, -150 / lambda}); // half as much again as it can
    request.lambda = false;
    const auto exact = must(stand::calcEquilibrium(net, loads, request));
    ASSERT_FALSE(exact.stands);
    EXPECT_FALSE(must(stand::calcCertificate(net, loads)).stands);
    // Only the cap reaches out: nothing below it is told to fall, and most of what is told carries hardly anything.
    ASSERT_FALSE(exact.falling.empty());
    std::size_t little = 0;
    for (const int b : exact.falling) {
        EXPECT_GT(at(net.bodies, b).centre.z(), Mushroom::kCapFrom * base::kBrickMm);
        if (at(exact.share, b) < 0.5) ++little;
    }
    EXPECT_GT(2 * little, exact.falling.size());
    EXPECT_TRUE(exact.firstToGo.has_value());
}

TEST(Certificate, OfAThousandPartsBesideOthersIsTheSameToTheBit) {
    // Large enough for the blocks that BLAS keeps buffers for: with a library that serves one caller only they would
    // destroy each other's.
    const Mushroom shape(7);
    const auto net = shape.net();
    const std::vector<Vec3> pulls{{0, 0, -1}, {0.1, 0, -1}, {0, 0.1, -1}, {-0.1, 0, -1}};
    const auto solve = [&](const Vec3& pull) { return stand::calcCertificate(net, stand::calcLoads(net, pull)); };
    std::vector<stand::Certificate> alone;
    for (const Vec3& pull : pulls) alone.push_back(must(solve(pull)));
    std::vector<std::optional<base::Result<stand::Certificate>>> together(pulls.size());
    std::vector<std::thread> threads;
    for (std::size_t k = 0; k < pulls.size(); ++k) threads.emplace_back([&, k] { together[k] = solve(pulls[k]); });
    for (std::thread& thread : threads) thread.join();
    for (std::size_t k = 0; k < pulls.size(); ++k) {
        ASSERT_TRUE(together[k]->ok()) << together[k]->error().message;
        EXPECT_EQ((*together[k])->residualN, alone[k].residualN);
        EXPECT_EQ((*together[k])->forces.values, alone[k].forces.values);
    }
}
