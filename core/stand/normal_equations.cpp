// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/stand/normal_equations.h"

#include <algorithm>
#include <cholmod.h>
#include <cmath>
#include <mutex>
#include <numeric>
#include <tuple>

#include "core/base/at.h"
#include "core/stand/blas_guard.h"

extern "C" void
omp_set_max_active_levels(int); // of the library CHOLMOD's threads come from; its header is the compiler's

namespace ivrant::stand {
namespace {

constexpr int kSix = 6, kBlock = kSix * kSix;
constexpr double kRidge =
    1e-11; ///< of the largest diagonal entry: rows that depend on each other do not stop the factor
constexpr double kManyEntries = 1.0e7; ///< of the factor: from here on another ordering is worth its time
std::mutex g_ordering;                 // held while METIS works

} // namespace

struct NormalEquations::Cholmod {
    Cholmod() {
        cholmod_start(&common);
        common.print = 0;
        common.quick_return_if_not_posdef = 1;
        common.nmethods = 1;
        common.postorder = 1;
    }
    ~Cholmod() {
        cholmod_free_dense(&rhs, &common);
        cholmod_free_dense(&solution, &common);
        cholmod_free_dense(&y, &common);
        cholmod_free_dense(&e, &common);
        cholmod_free_factor(&factor, &common);
        cholmod_free_sparse(&matrix, &common);
        cholmod_finish(&common);
    }
    Cholmod(const Cholmod&) = delete;
    Cholmod& operator=(const Cholmod&) = delete;

    cholmod_common common{};
    cholmod_sparse* matrix = nullptr; ///< lower triangle of A Θ Aᵀ
    cholmod_factor* factor = nullptr;
    cholmod_dense *rhs = nullptr, *solution = nullptr, *y = nullptr, *e = nullptr;
};

NormalEquations::NormalEquations(const SparseMatrix& A)
    : m_A(A), m_groups((A.rows + kSix - 1) / kSix), m_cholmod(std::make_unique<Cholmod>()) {
    findRuns();
    findPairs();
    orderBodies();
    for (Run& run : m_runs) {
        for (int& g : run.groups) g = ivrant::at(m_place, g);
        std::sort(run.groups.begin(), run.groups.end());
    }
    findPairs();
    place();
    auto& [common, matrix, factor, rhs, solution, y, e] = *m_cholmod;
    common.method[0].ordering = CHOLMOD_NATURAL; // the rows are in order already: CHOLMOD has nothing to copy
    common.postorder = 0;
    factor = cholmod_analyze(matrix, &common);
    rhs = cholmod_allocate_dense(static_cast<std::size_t>(A.rows), 1, static_cast<std::size_t>(A.rows), CHOLMOD_REAL,
                                 &common);
}

NormalEquations::~NormalEquations() = default;

void NormalEquations::findRuns() {
    std::vector<int> groups;
    for (int j = 0; j < m_A.columns(); ++j) {
        groups.clear();
        for (int k = ivrant::at(m_A.starts, j); k < m_A.starts[static_cast<std::size_t>(j) + 1]; ++k)
            groups.push_back(ivrant::at(m_A.row, k) / kSix);
        std::sort(groups.begin(), groups.end());
        groups.erase(std::unique(groups.begin(), groups.end()), groups.end());
        if (m_runs.empty() || m_runs.back().groups != groups) m_runs.push_back({j, j, groups, {}});
        m_runs.back().end = j + 1;
    }
}

void NormalEquations::findPairs() {
    m_pairs.clear();
    for (int g = 0; g < m_groups; ++g) m_pairs.emplace_back(g, g);
    for (const Run& run : m_runs)
        for (std::size_t l = 0; l < run.groups.size(); ++l)
            for (std::size_t r = 0; r < l; ++r) m_pairs.emplace_back(run.groups[l], run.groups[r]);
    const auto byColumn = [](const auto& l, const auto& r) {
        return std::tie(l.second, l.first) < std::tie(r.second, r.first);
    };
    std::sort(m_pairs.begin(), m_pairs.end(), byColumn);
    m_pairs.erase(std::unique(m_pairs.begin(), m_pairs.end()), m_pairs.end());
    for (Run& run : m_runs) {
        run.blocks.clear();
        for (std::size_t l = 0; l < run.groups.size(); ++l)
            for (std::size_t r = 0; r <= l; ++r) {
                const std::pair<int, int> pair{run.groups[l], run.groups[r]};
                run.blocks.push_back(static_cast<int>(std::lower_bound(m_pairs.begin(), m_pairs.end(), pair, byColumn) -
                                                      m_pairs.begin()));
            }
    }
}

/// The order is found among the bodies: their rows have the same neighbours and follow each other.
void NormalEquations::orderBodies() {
    auto& common = m_cholmod->common;
    const auto n = static_cast<std::size_t>(m_groups);
    cholmod_sparse* graph = cholmod_allocate_sparse(n, n, m_pairs.size(), 1, 1, -1, CHOLMOD_PATTERN, &common);
    auto* starts = static_cast<int*>(graph->p);
    std::fill(starts, starts + n + 1, 0);
    for (std::size_t k = 0; k < m_pairs.size(); ++k) {
        ++starts[m_pairs[k].second + 1];
        static_cast<int*>(graph->i)[k] = m_pairs[k].first;
    }
    for (std::size_t g = 0; g < n; ++g) starts[g + 1] += starts[g];
    std::vector<int> order(n);
    std::iota(order.begin(), order.end(), 0);
    double least = 0;
    for (const int ordering : {CHOLMOD_AMD, CHOLMOD_METIS}) {
        common.method[0].ordering = ordering;
        // METIS draws from the one sequence of random numbers of the process: two at once would order otherwise each
        // time.
        std::unique_lock<std::mutex> alone(g_ordering, std::defer_lock);
        if (ordering == CHOLMOD_METIS) alone.lock();
        cholmod_factor* found = cholmod_analyze(graph, &common);
        if (found && (least == 0 || common.fl < least)) {
            const auto* perm = static_cast<const int*>(found->Perm);
            order.assign(perm, perm + n);
            least = common.fl;
        }
        cholmod_free_factor(&found, &common);
        if (common.lnz * kBlock < kManyEntries) break;
    }
    cholmod_free_sparse(&graph, &common);
    m_place.resize(n);
    m_first.assign(1, 0);
    for (std::size_t k = 0; k < n; ++k) {
        ivrant::at(m_place, order[k]) = static_cast<int>(k);
        m_first.push_back(m_first.back() + std::min(kSix, m_A.rows - kSix * order[k]));
    }
}

/// The pattern of the lower triangle, and where each column of each block lies in it.
void NormalEquations::place() {
    auto& [common, matrix, factor, rhs, solution, y, e] = *m_cholmod;
    std::size_t entries = 0;
    for (const auto& [l, r] : m_pairs)
        entries += static_cast<std::size_t>(l == r ? sizeOf(r) * (sizeOf(r) + 1) / 2 : sizeOf(l) * sizeOf(r));
    const auto n = static_cast<std::size_t>(m_A.rows);
    matrix = cholmod_allocate_sparse(n, n, entries, 1, 1, -1, CHOLMOD_REAL, &common);
    auto *starts = static_cast<int*>(matrix->p), *rows = static_cast<int*>(matrix->i);
    m_at.assign(m_pairs.size() * kSix, 0);
    std::size_t at = 0, pair = 0;
    for (int g = 0; g < m_groups; ++g) {
        std::size_t end = pair;
        while (end < m_pairs.size() && m_pairs[end].second == g) ++end;
        for (int column = 0; column < sizeOf(g); ++column) {
            starts[ivrant::at(m_first, g) + column] = static_cast<int>(at);
            for (std::size_t k = pair; k < end; ++k) {
                const int l = m_pairs[k].first;
                m_at[k * kSix + static_cast<std::size_t>(column)] = at;
                for (int row = l == g ? column : 0; row < sizeOf(l); ++row) rows[at++] = ivrant::at(m_first, l) + row;
            }
        }
        pair = end;
    }
    starts[n] = static_cast<int>(at);
    m_blocks.resize(m_pairs.size() * kBlock);
    m_inRun.resize(m_A.row.size());
    for (const Run& run : m_runs)
        for (int k = ivrant::at(m_A.starts, run.first); k < ivrant::at(m_A.starts, run.end); ++k) {
            const int row = ivrant::at(m_A.row, k), body = ivrant::at(m_place, row / kSix);
            const auto group = std::lower_bound(run.groups.begin(), run.groups.end(), body) - run.groups.begin();
            ivrant::at(m_inRun, k) = static_cast<std::size_t>(group * kSix + row % kSix);
        }
}

void NormalEquations::fill(const std::vector<double>& theta) {
    std::fill(m_blocks.begin(), m_blocks.end(), 0.0);
    std::vector<double> whole; // of one run, column after column
    for (const Run& run : m_runs) {
        const std::size_t n = run.groups.size() * kSix;
        whole.assign(n * n, 0.0);
        for (int j = run.first; j < run.end; ++j) {
            const double t = ivrant::at(theta, j);
            const auto first = static_cast<std::size_t>(ivrant::at(m_A.starts, j)),
                       end = static_cast<std::size_t>(m_A.starts[static_cast<std::size_t>(j) + 1]);
            for (std::size_t c = first; c < end; ++c) {
                const double f = t * m_A.value[c];
                for (std::size_t r = c; r < end; ++r) {
                    const auto [column, row] = std::minmax(m_inRun[c], m_inRun[r]);
                    whole[column * n + row] += f * m_A.value[r];
                }
            }
        }
        std::size_t block = 0;
        for (std::size_t l = 0; l < run.groups.size(); ++l)
            for (std::size_t r = 0; r <= l; ++r) {
                double* to = &m_blocks[static_cast<std::size_t>(run.blocks[block++]) * kBlock];
                for (std::size_t column = 0; column < kSix; ++column)
                    for (std::size_t row = 0; row < kSix; ++row)
                        to[column * kSix + row] += whole[(r * kSix + column) * n + l * kSix + row];
            }
    }
    auto* values = static_cast<double*>(m_cholmod->matrix->x);
    for (std::size_t k = 0; k < m_pairs.size(); ++k) {
        const auto& [l, r] = m_pairs[k];
        for (int column = 0; column < sizeOf(r); ++column) {
            const auto from = static_cast<std::size_t>(l == r ? column : 0);
            const double* first = &m_blocks[k * kBlock + static_cast<std::size_t>(column) * kSix];
            std::copy(first + from, first + sizeOf(l), values + m_at[k * kSix + static_cast<std::size_t>(column)]);
        }
    }
}

bool NormalEquations::factor(const std::vector<double>& theta) {
    auto& [common, matrix, factor, rhs, solution, y, e] = *m_cholmod;
    if (!factor) return false;
    fill(theta);
    omp_set_max_active_levels(0); // many small blocks: waking threads for each costs more than they do
    double largest = 0;
    for (std::size_t k = 0; k < m_pairs.size(); ++k)
        if (m_pairs[k].first == m_pairs[k].second)
            for (std::size_t d = 0; d < kSix; ++d) largest = std::max(largest, m_blocks[k * kBlock + d * (kSix + 1)]);
    const auto guard = guardBlas();
    for (double ridge = 0; ridge < 1e-3; ridge = ridge == 0 ? kRidge : ridge * 100) {
        double beta[2] = {ridge * std::max(largest, 1e-12), 0};
        if (cholmod_factorize_p(matrix, beta, nullptr, 0, factor, &common) && common.status == CHOLMOD_OK &&
            factor->minor == static_cast<std::size_t>(m_A.rows))
            return true;
    }
    return false;
}

std::vector<double> NormalEquations::solve(const std::vector<double>& r) {
    auto& [common, matrix, factor, rhs, solution, y, e] = *m_cholmod;
    auto* right = static_cast<double*>(rhs->x);
    const auto rowOf = [&](std::size_t i) {
        return static_cast<std::size_t>(ivrant::at(m_first, m_place[i / kSix])) + i % kSix;
    };
    for (std::size_t i = 0; i < r.size(); ++i) right[rowOf(i)] = r[i];
    const auto guard = guardBlas();
    cholmod_solve2(CHOLMOD_A, factor, rhs, nullptr, &solution, nullptr, &y, &e, &common);
    const auto* values = static_cast<const double*>(solution->x);
    std::vector<double> found(r.size());
    for (std::size_t i = 0; i < r.size(); ++i) found[i] = values[rowOf(i)];
    return found;
}

void NormalEquations::subtractProduct(const std::vector<double>& y, const std::vector<double>& theta,
                                      std::vector<double>& left) const {
    for (int j = 0; j < m_A.columns(); ++j) {
        const double t = ivrant::at(theta, j) * m_A.dotColumn(j, y);
        for (int k = ivrant::at(m_A.starts, j); k < m_A.starts[static_cast<std::size_t>(j) + 1]; ++k)
            ivrant::at(left, ivrant::at(m_A.row, k)) -= ivrant::at(m_A.value, k) * t;
    }
}

} // namespace ivrant::stand
