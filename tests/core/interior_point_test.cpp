// SPDX-License-Identifier: GPL-3.0-or-later
// The solver of bounded programs against closed forms and against another solver (CLP).
#include <cmath>
#include <coin/ClpSimplex.hpp>
#include <coin/CoinPackedMatrix.hpp>
#include <gtest/gtest.h>
#include <random>

#include "core/base/at.h"
#include "core/stand/interior_point.h"

using namespace ivrant;
using stand::kNoLimit;
using stand::Program;

namespace {

Program makeProgram(int rows) {
    Program p;
    p.A.rows = rows;
    p.b.assign(static_cast<std::size_t>(rows), 0.0);
    return p;
}
void addVariable(Program& p, const std::vector<std::pair<int, double>>& entries, double c, double q, double u) {
    for (const auto& [row, value] : entries) p.A.add(row, value);
    p.A.endColumn();
    p.c.push_back(c);
    p.q.push_back(q);
    p.u.push_back(u);
}
stand::ProgramResult solve(const Program& p) {
    auto solved = stand::solveProgram(p);
    EXPECT_TRUE(solved.ok());
    EXPECT_TRUE(solved->converged);
    return *solved;
}
double objective(const Program& p, const std::vector<double>& x) {
    double sum = 0;
    for (std::size_t i = 0; i < x.size(); ++i) sum += p.c[i] * x[i] + 0.5 * p.q[i] * x[i] * x[i];
    return sum;
}

/// A random program that has a solution: b = A x for some x within the bounds.
Program makeRandom(std::mt19937& random, int rows, int columns) {
    Program p = makeProgram(rows);
    std::uniform_real_distribution<double> any(-1, 1), positive(0.1, 3);
    std::uniform_int_distribution<int> row(0, rows - 1);
    std::vector<double> inside;
    for (int j = 0; j < columns; ++j) {
        std::map<int, double> entries;
        for (int k = 0; k < 3; ++k) entries[row(random)] = any(random);
        if (j < rows) entries[j] = 1 + positive(random); // full rank
        const double u = positive(random);
        addVariable(p, {entries.begin(), entries.end()}, any(random), 0, u);
        inside.push_back(0.5 * u);
    }
    p.A.multiply(inside, p.b);
    return p;
}

double solveWithClp(const Program& p) {
    std::vector<CoinBigIndex> starts(p.A.starts.begin(), p.A.starts.end());
    std::vector<int> lengths;
    for (int j = 0; j < p.A.columns(); ++j)
        lengths.push_back(p.A.starts[static_cast<std::size_t>(j) + 1] - at(p.A.starts, j));
    const CoinPackedMatrix matrix(true, p.A.rows, p.A.columns(), static_cast<CoinBigIndex>(p.A.row.size()),
                                  p.A.value.data(), p.A.row.data(), starts.data(), lengths.data());
    std::vector<double> low(p.c.size(), 0.0), high;
    for (const double u : p.u) high.push_back(u < kNoLimit ? u : COIN_DBL_MAX);
    ClpSimplex model;
    model.setLogLevel(0);
    model.loadProblem(matrix, low.data(), high.data(), p.c.data(), p.b.data(), p.b.data());
    model.dual();
    EXPECT_EQ(model.status(), 0);
    return model.objectiveValue();
}

} // namespace

TEST(InteriorPoint, TwoVariablesByHand) {
    // min −x − 2y, x + y + s = 4, x ≤ 3, y ≤ 2: x = 2, y = 2.
    Program p = makeProgram(1);
    p.b = {4};
    addVariable(p, {{0, 1}}, -1, 0, 3);
    addVariable(p, {{0, 1}}, -2, 0, 2);
    addVariable(p, {{0, 1}}, 0, 0, kNoLimit);
    const auto solved = solve(p);
    EXPECT_NEAR(solved.x[0], 2, 1e-4);
    EXPECT_NEAR(solved.x[1], 2, 1e-4);
    EXPECT_LT(solved.residual, 1e-5);
}

TEST(InteriorPoint, SquaresShareEvenly) {
    // min ½ Σ q x², Σ x = 6: x ∝ 1/q. q = 1, 2, 4: 24/7, 12/7, 6/7.
    Program p = makeProgram(1);
    p.b = {6};
    for (const double q : {1.0, 2.0, 4.0}) addVariable(p, {{0, 1}}, 0, q, 100);
    const auto solved = solve(p);
    EXPECT_NEAR(solved.x[0], 24.0 / 7, 1e-3);
    EXPECT_NEAR(solved.x[1], 12.0 / 7, 1e-3);
    EXPECT_NEAR(solved.x[2], 6.0 / 7, 1e-3);
}

TEST(InteriorPoint, AgreesWithAnotherSolver) {
    std::mt19937 random(11);
    for (int k = 0; k < 60; ++k) {
        const int rows = 3 + k % 20;
        const Program p = makeRandom(random, rows, rows * 3);
        const auto solved = solve(p);
        const double best = solveWithClp(p);
        EXPECT_NEAR(objective(p, solved.x), best, 1e-4 * (1 + std::abs(best))) << k;
        for (std::size_t i = 0; i < solved.x.size(); ++i) {
            EXPECT_GT(solved.x[i], 0);
            EXPECT_LT(solved.x[i], p.u[i]);
        }
    }
}

TEST(InteriorPoint, ADenseColumnApartIsTheSameProgram) {
    std::mt19937 random(5);
    std::uniform_real_distribution<double> any(-1, 1);
    for (int k = 0; k < 20; ++k) {
        Program within = makeRandom(random, 12, 36);
        Program apart = within;
        std::vector<std::pair<int, double>> entries;
        for (int r = 0; r < 12; ++r) {
            entries.emplace_back(r, any(random));
            apart.dense.push_back(entries.back().second);
        }
        addVariable(within, entries, -0.5, 0, 2);
        apart.c.push_back(-0.5);
        apart.q.push_back(0);
        apart.u.push_back(2);
        EXPECT_NEAR(objective(within, solve(within).x), objective(apart, solve(apart).x), 1e-4);
    }
}

TEST(InteriorPoint, RowsThatDependOnEachOtherDoNotStopIt) {
    Program p = makeProgram(2);
    p.b = {1, 2};
    addVariable(p, {{0, 1}, {1, 2}}, -1, 0, kNoLimit);
    addVariable(p, {{0, 1}, {1, 2}}, 1, 0, kNoLimit);
    const auto solved = solve(p);
    EXPECT_NEAR(solved.x[0], 1, 1e-4);
}

TEST(InteriorPoint, StopsWhenToldAndWhenEnough) {
    std::mt19937 random(3);
    const Program p = makeRandom(random, 20, 60);
    base::Progress progress;
    progress.stop();
    stand::ProgramOptions options;
    options.progress = &progress;
    EXPECT_TRUE(stand::solveProgram(p, options)->stopped);
    options.progress = nullptr;
    options.enough = [](const std::vector<double>&, double residual, double) { return residual < 1; };
    const auto early = *stand::solveProgram(p, options);
    EXPECT_TRUE(early.converged);
    EXPECT_LT(early.iterations, solve(p).iterations);
}

TEST(InteriorPoint, WhereItStartsChangesTheWayNotTheEnd) {
    std::mt19937 random(17);
    std::uniform_real_distribution<double> share(0.02, 0.98);
    int middle = 0, near = 0;
    for (int k = 0; k < 20; ++k) {
        Program p = makeRandom(random, 15, 45);
        for (std::size_t i = 0; i < p.q.size(); ++i) p.q[i] = 0.2 + share(random); // one solution only
        const auto cold = solve(p);
        for (const double u : p.u) p.from.push_back(u * share(random)); // anywhere, out of balance
        const auto any = solve(p);
        for (std::size_t i = 0; i < p.u.size(); ++i) p.from[i] = 0.9 * cold.x[i] + 0.05 * p.u[i];
        const auto close = solve(p);
        for (std::size_t i = 0; i < p.u.size(); ++i) {
            EXPECT_NEAR(any.x[i], cold.x[i], 0.02) << k;
            EXPECT_NEAR(close.x[i], cold.x[i], 0.02) << k;
        }
        middle += cold.iterations;
        near += close.iterations;
    }
    EXPECT_LT(near, middle);
}
