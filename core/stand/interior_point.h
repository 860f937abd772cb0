// SPDX-License-Identifier: GPL-3.0-or-later
// How is a linear or separable quadratic program with bounds solved, when there are tens of thousands of unknowns?
//
//   minimise cᵀx + ½ xᵀdiag(q)x   subject to   A x = b,   0 ≤ x ≤ u
//
// Primal-dual interior-point method with Mehrotra's predictor and corrector on the normal equations A Θ Aᵀ, factored by
// CHOLMOD; the symbolic factor is made once. One dense column of A may be given apart: it enters by a rank-one
// correction. Unitless here; the caller chooses units so that sizes are about 1. Source: Wright, Primal-Dual
// Interior-Point Methods (1997), ch. 10 and 11; docs/derivations/bond-equilibrium.md.
#pragma once

#include <functional>
#include <limits>
#include <optional>
#include <vector>

#include "core/base/progress.h"
#include "core/base/result.h"

namespace ivrant::stand {

inline constexpr double kNoLimit = std::numeric_limits<double>::infinity();

/// Compressed columns.
struct SparseMatrix {
    int rows = 0;
    std::vector<int> starts{0}; ///< columns + 1
    std::vector<int> row;
    std::vector<double> value;

    [[nodiscard]] int columns() const { return static_cast<int>(starts.size()) - 1; }
    void add(int r, double v) {
        if (v == 0) return;
        row.push_back(r);
        value.push_back(v);
    }
    void endColumn() { starts.push_back(static_cast<int>(row.size())); }
    /// y += A x
    void multiply(const std::vector<double>& x, std::vector<double>& y) const;
    /// Column j of A times y.
    [[nodiscard]] double dotColumn(int j, const std::vector<double>& y) const;
};

struct Program {
    SparseMatrix A;
    std::vector<double> b, c, q, u; ///< q ≥ 0; u > 0 or kNoLimit
    double usual = 1;               ///< size that unlimited x have about: where they start
    std::vector<double>
        from; ///< where to start: strictly within the bounds, best with A x = b nearly; empty: the middle of the bounds
    std::vector<double>
        dense; ///< the last variable's column when it is kept out of A (then c, q, u have one entry more); else empty
};

struct ProgramOptions {
    int mostIterations = 80;
    double residual = 1e-5; ///< largest entry of A x − b at the end
    double gap = 2e-5;      ///< of the objective, relative
    /// Looked at after every iteration with x, the largest residual and the relative gap: true ends it early.
    std::function<bool(const std::vector<double>&, double, double)> enough;
    const base::Progress* progress = nullptr;
};

struct ProgramResult {
    std::vector<double> x;
    double residual = 0; ///< largest entry of A x − b
    double gap = 0;
    int iterations = 0;
    bool converged = false; ///< residual and gap reached, or `enough` said so
    bool stopped = false;   ///< by the progress token
};

/// Every x on the way lies strictly within its bounds, so that x with a small residual is a certificate whatever
/// `converged` says. Error "stand.solver" when the matrix cannot be factored.
base::Result<ProgramResult> solveProgram(const Program& program, const ProgramOptions& options = {});

} // namespace ivrant::stand
