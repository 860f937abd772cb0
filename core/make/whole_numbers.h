// SPDX-License-Identifier: GPL-3.0-or-later
// What is the least of a linear cost, where some of the unknowns are whole numbers?
//
// A mixed-integer linear programme, solved by COIN-OR Cbc (branch and cut). min c·x, low ≤ A x ≤ high, bounds on x.
#pragma once

#include <utility>
#include <vector>

#include "core/base/progress.h"

namespace ivrant::make {

inline constexpr double kNoBound = 1e30;

struct ProgrammeResult {
    bool found = false;         ///< values are there
    bool proven = false;        ///< none is better
    bool stopped = false;       ///< on the person's wish
    double cost = 0, bound = 0; ///< of the values; none costs less than the bound
    std::vector<double> values; ///< by column; whole ones are whole
};

class Programme {
public:
    /// Index of the new unknown.
    int addColumn(double low, double high, double cost, bool isWhole);
    void addRow(double low, double high, std::vector<std::pair<int, double>> entries);
    void setCosts(std::vector<double> costs);
    [[nodiscard]] std::size_t columnCount() const { return m_low.size(); }
    /// The best that is found within that time. Calls from several threads wait for each other.
    [[nodiscard]] ProgrammeResult solve(double mostSeconds, const base::Progress* progress = nullptr) const;

private:
    struct Row {
        double low, high;
        std::vector<std::pair<int, double>> entries;
    };
    std::vector<double> m_low, m_high, m_cost;
    std::vector<bool> m_whole;
    std::vector<Row> m_rows;
};

} // namespace ivrant::make
