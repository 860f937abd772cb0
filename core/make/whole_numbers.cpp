// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/make/whole_numbers.h"

#include <CbcEventHandler.hpp>
#include <CbcModel.hpp>
#include <CbcSolver.hpp>
#include <CoinPackedMatrix.hpp>
#include <OsiClpSolverInterface.hpp>
#include <cmath>
#include <csignal>
#include <mutex>
#include <string>

namespace ivrant::make {
namespace {

/// Ends the search when the person does.
class StopOnWish : public CbcEventHandler {
public:
    explicit StopOnWish(const base::Progress* progress) : m_progress(progress) {}
    CbcAction event(CbcEvent) override { return m_progress && m_progress->stopped() ? stop : noAction; }
    [[nodiscard]] CbcEventHandler* clone() const override { return new StopOnWish(*this); } // owned by the solver

private:
    const base::Progress* m_progress;
};

int ignoreEvents(CbcModel*, int) { return 0; }

/// The solver takes the interrupt key for itself, and keeps it.
class KeepInterrupt {
public:
    KeepInterrupt() { sigaction(SIGINT, nullptr, &m_before); }
    ~KeepInterrupt() { sigaction(SIGINT, &m_before, nullptr); }
    KeepInterrupt(const KeepInterrupt&) = delete;
    KeepInterrupt& operator=(const KeepInterrupt&) = delete;

private:
    struct sigaction m_before = {};
};

} // namespace

int Programme::addColumn(double low, double high, double cost, bool isWhole) {
    m_low.push_back(low);
    m_high.push_back(high);
    m_cost.push_back(cost);
    m_whole.push_back(isWhole);
    return static_cast<int>(m_low.size()) - 1;
}

void Programme::addRow(double low, double high, std::vector<std::pair<int, double>> entries) {
    m_rows.push_back({low, high, std::move(entries)});
}

void Programme::setCosts(std::vector<double> costs) { m_cost = std::move(costs); }

ProgrammeResult Programme::solve(double mostSeconds, const base::Progress* progress) const {
    static std::mutex solving; // the solver keeps some of its settings in places that all share
    const std::lock_guard lock(solving);
    ProgrammeResult result;
    if (progress && progress->stopped()) {
        result.stopped = true;
        return result;
    }
    OsiClpSolverInterface solver;
    solver.messageHandler()->setLogLevel(0);
    const auto bound = [](double value) {
        return value >= kNoBound ? COIN_DBL_MAX : value <= -kNoBound ? -COIN_DBL_MAX : value;
    };
    std::vector<int> rows, columns;
    std::vector<double> factors, low, high, rowLow, rowHigh;
    for (const Row& row : m_rows) {
        for (const auto& [column, factor] : row.entries) {
            rows.push_back(static_cast<int>(rowLow.size()));
            columns.push_back(column);
            factors.push_back(factor);
        }
        rowLow.push_back(bound(row.low));
        rowHigh.push_back(bound(row.high));
    }
    for (std::size_t c = 0; c < m_low.size(); ++c) {
        low.push_back(bound(m_low[c]));
        high.push_back(bound(m_high[c]));
    }
    CoinPackedMatrix matrix(false, rows.data(), columns.data(), factors.data(),
                            static_cast<CoinBigIndex>(factors.size()));
    matrix.setDimensions(static_cast<int>(m_rows.size()), static_cast<int>(m_low.size()));
    solver.loadProblem(matrix, low.data(), high.data(), m_cost.data(), rowLow.data(), rowHigh.data());
    for (std::size_t c = 0; c < m_whole.size(); ++c)
        if (m_whole[c]) solver.setInteger(static_cast<int>(c));

    const KeepInterrupt keep;
    CbcModel model(solver);
    CbcSolverUsefulData data;
    CbcMain0(model, data);
    model.setLogLevel(0);
    StopOnWish handler(progress);
    model.passInEventHandler(&handler);
    const std::string seconds = std::to_string(std::max(0.1, mostSeconds));
    const char* words[]{"ivrant", "-log", "0", "-timeMode", "elapsed", "-seconds", seconds.c_str(), "-solve", "-quit"};
    CbcMain1(static_cast<int>(std::size(words)), words, model, ignoreEvents, data);

    result.stopped = progress && progress->stopped();
    const double* best = model.bestSolution();
    result.proven = model.isProvenOptimal() && best;
    result.found = best != nullptr;
    if (!best) return result;
    result.values.assign(best, best + m_low.size());
    for (std::size_t c = 0; c < m_whole.size(); ++c)
        if (m_whole[c]) result.values[c] = std::round(result.values[c]);
    for (std::size_t c = 0; c < m_cost.size(); ++c) result.cost += m_cost[c] * result.values[c];
    result.bound = result.proven ? result.cost : std::min(result.cost, model.getBestPossibleObjValue());
    return result;
}

} // namespace ivrant::make
