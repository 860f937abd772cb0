// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/stand/interior_point.h"

#include <algorithm>
#include <cmath>

#include "core/base/at.h"
#include "core/stand/normal_equations.h"

namespace ivrant::stand {
namespace {

constexpr double kLeastWeight =
    1e-9; ///< floor of Q + Z/X + W/S: keeps Θ, and with it A Θ Aᵀ, within what doubles carry
constexpr double kNearlyGap = 1e-3;
constexpr int kMostCentrings = 3;
constexpr double kLongStep = 0.9;
constexpr int kMostRefinements = 6;
constexpr double kRefined = 1e-8;
constexpr double kToBoundary = 0.995;
constexpr double kStartShare = 1; ///< of the products that the slope makes where it starts

double dot(const std::vector<double>& a, const std::vector<double>& b) {
    double sum = 0;
    for (std::size_t i = 0; i < a.size(); ++i) sum += a[i] * b[i];
    return sum;
}
double largest(const std::vector<double>& v) {
    double most = 0;
    for (const double e : v) most = std::max(most, std::abs(e));
    return most;
}

class Solver {
public:
    Solver(const Program& program, const ProgramOptions& options)
        : m_p(program), m_options(options), m_normal(program.A), m_n(program.c.size()) {}

    base::Result<ProgramResult> run() {
        start();
        ProgramResult result, best;
        best.gap = kNoLimit;
        for (int iteration = 0;; ++iteration) {
            const std::vector<double> rp = primalResidual();
            const std::vector<double> rd = dualResidual();
            result.iterations = iteration;
            result.residual = largest(rp);
            result.gap = relativeGap();
            const double mu = complementarity();
            const bool dual = largest(rd) < 1e-6 * (1 + largest(m_p.c));
            result.converged = result.residual <= m_options.residual && result.gap <= m_options.gap && dual;
            if (!result.converged && m_options.enough && m_options.enough(m_x, result.residual, result.gap))
                result.converged = true;
            if (m_options.progress && m_options.progress->stopped()) result.stopped = true;
            if (result.residual <= m_options.residual && result.gap < best.gap) {
                best = result;
                best.x = m_x;
            }
            if (!std::isfinite(mu)) break;
            if (result.converged || result.stopped || iteration >= m_options.mostIterations || !(mu > 1e-18)) break;
            if (!step(rp, rd, mu)) {
                if (iteration == 0)
                    return base::Error{"stand.solver", "the equations of balance could not be solved", ""};
                break;
            }
        }
        // Rounding can spoil the balance when the gap gets very small: the last good one counts, and is good enough
        // when the gap nearly was.
        if (!result.converged && !best.x.empty()) {
            best.stopped = result.stopped;
            best.iterations = result.iterations;
            best.converged = best.gap <= kNearlyGap;
            return best;
        }
        result.x = m_x;
        return result;
    }

private:
    [[nodiscard]] bool isBounded(std::size_t i) const { return m_p.u[i] < kNoLimit; }

    /// From what is given: duals that fit the slope of the objective there, and all products about alike.
    void startFrom(const std::vector<double>& x) {
        m_x = x;
        m_z.assign(m_n, 0.0);
        m_w.assign(m_n, 0.0);
        m_y.assign(static_cast<std::size_t>(m_p.A.rows), 0.0);
        double size = 0;
        for (std::size_t i = 0; i < m_n; ++i)
            size +=
                std::abs(m_p.c[i] + m_p.q[i] * m_x[i]) * (isBounded(i) ? std::min(m_x[i], m_p.u[i] - m_x[i]) : m_x[i]);
        const double mu = std::max(kStartShare * size / static_cast<double>(m_n), 1e-12);
        for (std::size_t i = 0; i < m_n; ++i) {
            const double slope = m_p.c[i] + m_p.q[i] * m_x[i];
            m_z[i] = mu / m_x[i] + (isBounded(i) ? std::max(slope, 0.0) : std::abs(slope));
            if (isBounded(i)) m_w[i] = mu / (m_p.u[i] - m_x[i]) + std::max(-slope, 0.0);
        }
    }
    /// In the middle of the bounds; what has none at its usual size.
    void start() {
        if (!m_p.from.empty()) return startFrom(m_p.from);
        m_x.resize(m_n);
        m_z.assign(m_n, 1.0);
        m_w.assign(m_n, 0.0);
        m_y.assign(static_cast<std::size_t>(m_p.A.rows), 0.0);
        for (std::size_t i = 0; i < m_n; ++i) {
            m_x[i] = isBounded(i) ? 0.5 * m_p.u[i] : m_p.usual;
            if (isBounded(i)) m_w[i] = 1.0;
        }
    }
    [[nodiscard]] std::vector<double> primalResidual() const {
        std::vector<double> r(static_cast<std::size_t>(m_p.A.rows), 0.0);
        m_p.A.multiply(m_x, r);
        for (std::size_t i = 0; i < r.size(); ++i)
            r[i] = m_p.b[i] - r[i] - (m_p.dense.empty() ? 0 : m_p.dense[i] * m_x.back());
        return r;
    }
    [[nodiscard]] double columnDot(std::size_t j, const std::vector<double>& y) const {
        return j < static_cast<std::size_t>(m_p.A.columns()) ? m_p.A.dotColumn(static_cast<int>(j), y)
                                                             : dot(m_p.dense, y);
    }
    [[nodiscard]] std::vector<double> dualResidual() const {
        std::vector<double> r(m_n);
        for (std::size_t j = 0; j < m_n; ++j)
            r[j] = -(m_p.q[j] * m_x[j] + m_p.c[j] - columnDot(j, m_y) - m_z[j] + m_w[j]);
        return r;
    }
    [[nodiscard]] double complementarity() const {
        double sum = 0;
        std::size_t count = m_n;
        for (std::size_t i = 0; i < m_n; ++i) {
            sum += m_x[i] * m_z[i];
            if (!isBounded(i)) continue;
            sum += (m_p.u[i] - m_x[i]) * m_w[i];
            ++count;
        }
        return sum / static_cast<double>(count);
    }
    /// Σ xz + Σ sw is the difference of the objectives when both sides are feasible.
    [[nodiscard]] double relativeGap() const {
        double primal = 0, sum = 0;
        for (std::size_t i = 0; i < m_n; ++i) {
            primal += m_p.c[i] * m_x[i] + 0.5 * m_p.q[i] * m_x[i] * m_x[i];
            sum += m_x[i] * m_z[i] + (isBounded(i) ? (m_p.u[i] - m_x[i]) * m_w[i] : 0);
        }
        return sum / (1e-3 + std::abs(primal));
    }

    /// (A Θ Aᵀ + θ d dᵀ) y = r, the last term by Sherman and Morrison, refined until little is left.
    [[nodiscard]] std::vector<double> solveWhole(const std::vector<double>& r) {
        const bool dense = !m_p.dense.empty();
        const auto once = [&](const std::vector<double>& right) {
            std::vector<double> y = m_normal.solve(right);
            if (!dense) return y;
            const double factor = m_theta.back() * dot(m_p.dense, y) / (1 + m_theta.back() * dot(m_p.dense, m_column));
            for (std::size_t i = 0; i < y.size(); ++i) y[i] -= factor * m_column[i];
            return y;
        };
        std::vector<double> y = once(r);
        double before = std::numeric_limits<double>::infinity();
        for (int round = 0; round < kMostRefinements; ++round) {
            std::vector<double> left = r;
            m_normal.subtractProduct(y, m_theta, left);
            if (dense) {
                const double t = m_theta.back() * dot(m_p.dense, y);
                for (std::size_t i = 0; i < left.size(); ++i) left[i] -= m_p.dense[i] * t;
            }
            const double now = largest(left);
            if (now <= kRefined * (1e-12 + largest(r)) || !(now < 0.5 * before)) break;
            before = now;
            const std::vector<double> more = once(left);
            for (std::size_t i = 0; i < y.size(); ++i) y[i] += more[i];
        }
        return y;
    }

    /// One direction for given right sides; fills dx, dy, dz, dw.
    void solveFor(const std::vector<double>& rp, const std::vector<double>& rd, const std::vector<double>& rxz,
                  const std::vector<double>& rsw) {
        std::vector<double> g(m_n), right = rp;
        for (std::size_t i = 0; i < m_n; ++i)
            g[i] = rd[i] + rxz[i] / m_x[i] - (isBounded(i) ? rsw[i] / (m_p.u[i] - m_x[i]) : 0);
        std::vector<double> tg(static_cast<std::size_t>(m_p.A.columns()));
        for (std::size_t j = 0; j < tg.size(); ++j) tg[j] = -m_theta[j] * g[j];
        m_p.A.multiply(tg, right);
        if (!m_p.dense.empty())
            for (std::size_t i = 0; i < right.size(); ++i) right[i] -= m_p.dense[i] * m_theta.back() * g.back();
        m_dy = solveWhole(right);
        m_dx.resize(m_n);
        m_dz.resize(m_n);
        m_dw.assign(m_n, 0.0);
        for (std::size_t j = 0; j < m_n; ++j) {
            m_dx[j] = m_theta[j] * (columnDot(j, m_dy) + g[j]);
            m_dz[j] = (rxz[j] - m_z[j] * m_dx[j]) / m_x[j];
            if (isBounded(j)) m_dw[j] = (rsw[j] + m_w[j] * m_dx[j]) / (m_p.u[j] - m_x[j]);
        }
    }
    [[nodiscard]] double primalStep() const {
        double most = 1 / kToBoundary;
        for (std::size_t i = 0; i < m_n; ++i) {
            if (m_dx[i] < 0) most = std::min(most, -m_x[i] / m_dx[i]);
            if (isBounded(i) && m_dx[i] > 0) most = std::min(most, (m_p.u[i] - m_x[i]) / m_dx[i]);
        }
        return std::min(1.0, kToBoundary * most);
    }
    [[nodiscard]] double dualStep() const {
        double most = 1 / kToBoundary;
        for (std::size_t i = 0; i < m_n; ++i) {
            if (m_dz[i] < 0) most = std::min(most, -m_z[i] / m_dz[i]);
            if (isBounded(i) && m_dw[i] < 0) most = std::min(most, -m_w[i] / m_dw[i]);
        }
        return std::min(1.0, kToBoundary * most);
    }

    /// Further correctors that pull products which would get far too small or too large back to the others (Gondzio
    /// 1996), as long as they make the step longer.
    void centre(const std::vector<double>& rp, const std::vector<double>& rd, std::vector<double>& rxz,
                std::vector<double>& rsw, double target, double& ap, double& ad) {
        for (int round = 0; round < kMostCentrings && std::min(ap, ad) < kLongStep; ++round) {
            const double tp = std::min(1.0, ap * 1.08 + 0.1), td = std::min(1.0, ad * 1.08 + 0.1);
            const auto pull = [&](double product) {
                return std::max(std::clamp(product, 0.1 * target, 10 * target) - product, -10 * target);
            };
            std::vector<double> nextXz = rxz, nextSw = rsw;
            for (std::size_t i = 0; i < m_n; ++i) {
                nextXz[i] += pull((m_x[i] + tp * m_dx[i]) * (m_z[i] + td * m_dz[i]));
                if (isBounded(i)) nextSw[i] += pull((m_p.u[i] - m_x[i] - tp * m_dx[i]) * (m_w[i] + td * m_dw[i]));
            }
            const auto dx = m_dx, dy = m_dy, dz = m_dz, dw = m_dw;
            solveFor(rp, rd, nextXz, nextSw);
            const double p = primalStep(), d = dualStep();
            if (p + d < ap + ad + 0.02) { // not worth it: back to the direction before
                m_dx = dx;
                m_dy = dy;
                m_dz = dz;
                m_dw = dw;
                return;
            }
            ap = p;
            ad = d;
            rxz = std::move(nextXz);
            rsw = std::move(nextSw);
        }
    }

    [[nodiscard]] bool step(const std::vector<double>& rp, const std::vector<double>& rd, double mu) {
        m_theta.resize(m_n);
        for (std::size_t i = 0; i < m_n; ++i) {
            const double weight = m_p.q[i] + m_z[i] / m_x[i] + (isBounded(i) ? m_w[i] / (m_p.u[i] - m_x[i]) : 0);
            m_theta[i] = 1 / std::max(weight, kLeastWeight);
        }
        if (!m_normal.factor(m_theta)) return false;
        if (!m_p.dense.empty()) m_column = m_normal.solve(m_p.dense);

        std::vector<double> rxz(m_n), rsw(m_n, 0.0);
        for (std::size_t i = 0; i < m_n; ++i) {
            rxz[i] = -m_x[i] * m_z[i];
            if (isBounded(i)) rsw[i] = -(m_p.u[i] - m_x[i]) * m_w[i];
        }
        solveFor(rp, rd, rxz, rsw); // predictor
        double ap = primalStep(), ad = dualStep(), after = 0;
        std::size_t count = m_n;
        for (std::size_t i = 0; i < m_n; ++i) {
            after += (m_x[i] + ap * m_dx[i]) * (m_z[i] + ad * m_dz[i]);
            if (!isBounded(i)) continue;
            after += (m_p.u[i] - m_x[i] - ap * m_dx[i]) * (m_w[i] + ad * m_dw[i]);
            ++count;
        }
        const double ratio = after / static_cast<double>(count) / mu,
                     sigma = std::clamp(ratio * ratio * ratio, 1e-6, 1.0);
        for (std::size_t i = 0; i < m_n; ++i) {
            rxz[i] += sigma * mu - m_dx[i] * m_dz[i];
            if (isBounded(i)) rsw[i] += sigma * mu + m_dx[i] * m_dw[i];
        }
        solveFor(rp, rd, rxz, rsw); // corrector
        ap = primalStep();
        ad = dualStep();
        centre(rp, rd, rxz, rsw, sigma * mu, ap, ad);
        const bool quadratic = std::any_of(m_p.q.begin(), m_p.q.end(), [](double q) { return q > 0; });
        if (quadratic) ap = ad = std::min(ap, ad);
        for (std::size_t i = 0; i < m_n; ++i) {
            m_x[i] += ap * m_dx[i];
            m_z[i] += ad * m_dz[i];
            m_w[i] += ad * m_dw[i];
        }
        for (std::size_t i = 0; i < m_y.size(); ++i) m_y[i] += ad * m_dy[i];
        return true;
    }

    const Program& m_p;
    const ProgramOptions& m_options;
    NormalEquations m_normal;
    std::size_t m_n;
    std::vector<double> m_x, m_y, m_z, m_w, m_theta, m_column;
    std::vector<double> m_dx, m_dy, m_dz, m_dw;
};

} // namespace

void SparseMatrix::multiply(const std::vector<double>& x, std::vector<double>& y) const {
    for (int j = 0; j < columns(); ++j)
        for (int k = at(starts, j); k < starts[static_cast<std::size_t>(j) + 1]; ++k)
            at(y, at(row, k)) += at(value, k) * at(x, j);
}

double SparseMatrix::dotColumn(int j, const std::vector<double>& y) const {
    double sum = 0;
    for (int k = at(starts, j); k < starts[static_cast<std::size_t>(j) + 1]; ++k)
        sum += at(value, k) * at(y, at(row, k));
    return sum;
}

base::Result<ProgramResult> solveProgram(const Program& program, const ProgramOptions& options) {
    return Solver(program, options).run();
}

} // namespace ivrant::stand
