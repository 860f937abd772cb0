// A Θ Aᵀ of a sparse matrix, factored again and again with other Θ. Part of interior_point.h and certificate.h; for use inside core/stand.
#pragma once

#include <algorithm>
#include <cholmod.h>
#include <cmath>

#include "core/stand/interior_point.h"

namespace ivrant::stand {

inline constexpr double kRidge = 1e-11;       ///< of the largest diagonal entry: rows that depend on each other do not stop the factor
inline constexpr double kManyEntries = 1.0e7; ///< of the factor: from here on another ordering is worth its time

/// A Θ Aᵀ of one pattern, factored again and again.
class NormalEquations {
public:
    explicit NormalEquations(const SparseMatrix& A) : m_A(A) {
        cholmod_start(&m_common);
        m_common.print = 0;
        m_common.quick_return_if_not_posdef = 1;
        m_common.nmethods = 1;
        m_common.method[0].ordering = CHOLMOD_AMD;
        m_common.postorder = 1;
        m_scaled =
            cholmod_allocate_sparse(static_cast<std::size_t>(A.rows), static_cast<std::size_t>(A.columns()), A.row.size(), 0, 1, 0, CHOLMOD_REAL, &m_common);
        std::copy(A.starts.begin(), A.starts.end(), static_cast<int*>(m_scaled->p));
        std::copy(A.row.begin(), A.row.end(), static_cast<int*>(m_scaled->i));
        m_factor = cholmod_analyze(m_scaled, &m_common);
        if (m_factor && m_common.lnz > kManyEntries) {
            cholmod_free_factor(&m_factor, &m_common);
            m_common.method[0].ordering = CHOLMOD_METIS;
            m_factor = cholmod_analyze(m_scaled, &m_common);
        }
        m_rhs = cholmod_allocate_dense(static_cast<std::size_t>(A.rows), 1, static_cast<std::size_t>(A.rows), CHOLMOD_REAL, &m_common);
    }
    ~NormalEquations() {
        cholmod_free_dense(&m_rhs, &m_common);
        cholmod_free_dense(&m_solution, &m_common);
        cholmod_free_dense(&m_y, &m_common);
        cholmod_free_dense(&m_e, &m_common);
        cholmod_free_factor(&m_factor, &m_common);
        cholmod_free_sparse(&m_scaled, &m_common);
        cholmod_finish(&m_common);
    }
    NormalEquations(const NormalEquations&) = delete;
    NormalEquations& operator=(const NormalEquations&) = delete;

    [[nodiscard]] bool factor(const std::vector<double>& theta) {
        if (!m_factor) return false;
        auto* values = static_cast<double*>(m_scaled->x);
        std::vector<double> diagonal(static_cast<std::size_t>(m_A.rows), 0.0);
        for (int j = 0; j < m_A.columns(); ++j) {
            const double root = std::sqrt(theta[static_cast<std::size_t>(j)]);
            for (int k = m_A.starts[static_cast<std::size_t>(j)]; k < m_A.starts[static_cast<std::size_t>(j) + 1]; ++k) {
                const auto at = static_cast<std::size_t>(k);
                values[at] = m_A.value[at] * root;
                diagonal[static_cast<std::size_t>(m_A.row[at])] += values[at] * values[at];
            }
        }
        const double largest = diagonal.empty() ? 1 : *std::max_element(diagonal.begin(), diagonal.end());
        for (double ridge = 0; ridge < 1e-3; ridge = ridge == 0 ? kRidge : ridge * 100) {
            double beta[2] = {ridge * std::max(largest, 1e-12), 0};
            if (cholmod_factorize_p(m_scaled, beta, nullptr, 0, m_factor, &m_common) && m_common.status == CHOLMOD_OK &&
                m_factor->minor == static_cast<std::size_t>(m_A.rows))
                return true;
        }
        return false;
    }
    [[nodiscard]] std::vector<double> solve(const std::vector<double>& r) {
        std::copy(r.begin(), r.end(), static_cast<double*>(m_rhs->x));
        cholmod_solve2(CHOLMOD_A, m_factor, m_rhs, nullptr, &m_solution, nullptr, &m_y, &m_e, &m_common);
        const auto* values = static_cast<const double*>(m_solution->x);
        return {values, values + r.size()};
    }
    /// left −= A Θ Aᵀ y
    void subtractProduct(const std::vector<double>& y, const std::vector<double>& theta, std::vector<double>& left) const {
        for (int j = 0; j < m_A.columns(); ++j) {
            const double t = theta[static_cast<std::size_t>(j)] * m_A.dotColumn(j, y);
            for (int k = m_A.starts[static_cast<std::size_t>(j)]; k < m_A.starts[static_cast<std::size_t>(j) + 1]; ++k)
                left[static_cast<std::size_t>(m_A.row[static_cast<std::size_t>(k)])] -= m_A.value[static_cast<std::size_t>(k)] * t;
        }
    }

private:
    const SparseMatrix& m_A;
    cholmod_common m_common{};
    cholmod_sparse* m_scaled = nullptr;
    cholmod_factor* m_factor = nullptr;
    cholmod_dense *m_rhs = nullptr, *m_solution = nullptr, *m_y = nullptr, *m_e = nullptr;
};

} // namespace ivrant::stand
