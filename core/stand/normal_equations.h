// SPDX-License-Identifier: GPL-3.0-or-later
// A Θ Aᵀ of one sparse A, made and factored again and again with other Θ. Part of interior_point.h and certificate.h;
// for use inside core/stand.
//
// Rows come in sixes, one body each, and a column touches one or two bodies: the product is put together from blocks of
// six by six, and the order of elimination is sought among bodies, not among rows. Any other A works too, with blocks
// of less use. CHOLMOD factors.
#pragma once

#include <cstddef>
#include <memory>
#include <vector>

#include "core/base/at.h"
#include "core/stand/interior_point.h"

namespace ivrant::stand {

class NormalEquations {
public:
    /// Keeps a reference to A. The order and the pattern of the factor are found here, once.
    explicit NormalEquations(const SparseMatrix& A);
    ~NormalEquations();
    NormalEquations(const NormalEquations&) = delete;
    NormalEquations& operator=(const NormalEquations&) = delete;

    /// False when the matrix cannot be factored. Θ ≥ 0, one for each column of A.
    [[nodiscard]] bool factor(const std::vector<double>& theta);
    /// (A Θ Aᵀ)⁻¹ r of the last factor.
    [[nodiscard]] std::vector<double> solve(const std::vector<double>& r);
    /// left −= A Θ Aᵀ y
    void subtractProduct(const std::vector<double>& y, const std::vector<double>& theta,
                         std::vector<double>& left) const;

private:
    struct Cholmod;
    /// Neighbouring columns that touch the same bodies, and where their blocks lie.
    struct Run {
        int first = 0, end = 0;
        std::vector<int> groups; ///< sixes of rows, by their place in the order, ascending
        std::vector<int> blocks; ///< of (l, r) with l ≥ r, row after row: index into the blocks
    };
    void findRuns();
    void findPairs();
    void orderBodies();
    void place();
    void fill(const std::vector<double>& theta);
    [[nodiscard]] int sizeOf(int place) const {
        return m_first[static_cast<std::size_t>(place) + 1] - at(m_first, place);
    }

    const SparseMatrix& m_A;
    int m_groups = 0;
    std::vector<int> m_place; ///< by six of rows: when it is eliminated
    std::vector<int> m_first; ///< by place: its first row in that order
    std::vector<Run> m_runs;
    std::vector<std::pair<int, int>> m_pairs; ///< (l, r), l ≥ r, by block
    std::vector<std::size_t> m_at;            ///< by block and column in it: where its first entry lies in the values
    std::vector<std::size_t> m_inRun;         ///< by entry of A: its row among those of its run
    std::vector<double> m_blocks;             ///< 36 each, column after column
    std::unique_ptr<Cholmod> m_cholmod;
};

} // namespace ivrant::stand
