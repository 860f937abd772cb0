// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/stand/yielding_springs.h"

#include <algorithm>
#include <cmath>

#include "core/stand/normal_equations.h"

namespace ivrant::stand {
namespace {

constexpr double kAtLimit = 1e-4; ///< stiffness that is left to a column at its limit, so that the matrix stays regular
constexpr int kEarly = 4;
constexpr double kHopeless = 0.7;
constexpr double kArmijo = 1e-4;
constexpr int kMostHalvings = 12;

struct Look {
    SpringState state;
    std::vector<char> free; ///< strictly within its limits
    double value = 0;       ///< of the dual
};

Look look(const YieldingSprings& s, const std::vector<double>& y) {
    Look here;
    const std::size_t n = s.low.size();
    here.state.wanted.resize(n);
    here.state.force.resize(n);
    here.state.missing.assign(s.load.size(), 0.0);
    here.free.resize(n);
    for (std::size_t c = 0; c < n; ++c) {
        const double t = s.A.dotColumn(static_cast<int>(c), y), wanted = s.rest[c] + s.stiffness[c] * t;
        const double f = std::clamp(wanted, s.low[c], s.high[c]), moved = f - s.rest[c];
        here.state.wanted[c] = wanted;
        here.state.force[c] = f;
        here.free[c] = wanted > s.low[c] && wanted < s.high[c] ? 1 : 0;
        here.value -= f * t - 0.5 * moved * moved / s.stiffness[c];
    }
    auto& missing = here.state.missing;
    s.A.multiply(here.state.force, missing);
    for (std::size_t r = 0; r < y.size(); ++r) {
        missing[r] = s.load[r] - missing[r];
        here.value += y[r] * s.load[r];
        here.state.residual = std::max(here.state.residual, std::abs(missing[r]));
    }
    return here;
}

} // namespace

SpringState lookAt(const YieldingSprings& springs) {
    return look(springs, std::vector<double>(springs.load.size(), 0.0)).state;
}

base::Result<SpringState> letSpringsYield(const YieldingSprings& springs, const SpringOptions& options) {
    std::vector<double> y(springs.load.size(), 0.0), there(y.size()), theta(springs.low.size());
    Look now = look(springs, y);
    if (options.allAnswer) now.free.assign(now.free.size(), 1);
    if (now.state.residual <= options.residual) return std::move(now.state);
    NormalEquations normal(springs.A);
    double first = 0; // lacking after the first round
    int round = 0;
    while (round < options.mostRounds && now.state.residual > options.residual) {
        if (options.progress && options.progress->stopped()) return base::Error{"stopped", "stopped", ""};
        for (std::size_t c = 0; c < theta.size(); ++c) theta[c] = springs.stiffness[c] * (now.free[c] ? 1 : kAtLimit);
        if (!normal.factor(theta))
            return base::Error{"stand.solver", "the equations of balance could not be solved", ""};
        const std::vector<double> way = normal.solve(now.state.missing);
        double slope = 0;
        for (std::size_t r = 0; r < way.size(); ++r) slope += way[r] * now.state.missing[r];
        double length = 1;
        Look next;
        for (int halving = 0; halving < kMostHalvings; ++halving, length /= 2) {
            for (std::size_t r = 0; r < y.size(); ++r) there[r] = y[r] + length * way[r];
            next = look(springs, there);
            if (next.value >= now.value + kArmijo * length * slope) break;
        }
        y = there;
        now = std::move(next);
        if (round == 0) first = now.state.residual;
        if (options.hopeless && round == kEarly && now.state.residual > kHopeless * first)
            break; // what falls does not come nearer
        ++round;
    }
    now.state.rounds = round;
    return std::move(now.state);
}

} // namespace ivrant::stand
