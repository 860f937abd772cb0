// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/trials/strengths.h"

#include "core/base/units.h"

namespace ivrant::trials {
namespace {

using model::Capacity;
using model::Quantity;
using model::Series;

struct Pool {
    std::vector<double> readings, moves, worn;
};

/// Wear tests tell how holding falls with use; only their readings before any move count as strength.
template <class Wanted> Pool collect(const std::vector<Series>& list, Quantity quantity, Wanted wanted) {
    Pool pool;
    for (const Series& s : list) {
        if (s.quantity != quantity || !wanted(s)) continue;
        for (std::size_t i = 0; i < s.readings.size(); ++i) {
            if (s.moves.empty() || s.moves[i] == 0) pool.readings.push_back(s.readings[i]);
            if (s.moves.empty()) continue;
            pool.moves.push_back(s.moves[i]);
            pool.worn.push_back(s.readings[i]);
        }
    }
    return pool;
}

std::vector<std::pair<Pool, std::string>> collectScopes(const model::Project& project, Quantity quantity,
                                                        const std::string& kind, const model::JointId* joint) {
    std::vector<std::pair<Pool, std::string>> scopes;
    if (joint)
        scopes.emplace_back(collect(project.measured, quantity,
                                    [&](const Series& s) { return s.joint && *s.joint == *joint && s.kind == kind; }),
                            "this joint");
    scopes.emplace_back(
        collect(project.measured, quantity, [&](const Series& s) { return !s.joint && s.kind == kind; }),
        "this project");
    if (project.workshop)
        scopes.emplace_back(collect(*project.workshop, quantity, [&](const Series& s) { return s.kind == kind; }),
                            "the workshop's library");
    return scopes;
}

Capacity calcCapacity(const model::Project& project, Quantity quantity, const std::string& kind,
                      const model::JointId* joint, double starting) {
    for (const auto& [pool, scope] : collectScopes(project, quantity, kind, joint)) {
        const auto statistics = calcStatistics(pool.readings);
        if (!statistics) continue;
        const std::string count = std::to_string(statistics->count) + (statistics->count == 1 ? " test" : " tests");
        std::string basis = statistics->factor ? "lower bound of " : "0.6 × mean of only ";
        basis.append(count).append(", ").append(scope);
        return {statistics->lowerBound, true, std::move(basis)};
    }
    if (quantity == Quantity::Holding)
        return {starting * kUnmeasuredFactor, false, "starting value × 0.6, not measured"};
    return {starting, false, "starting value, not measured"};
}

} // namespace

model::JointStrength calcStrength(const model::Project& project, const parts::JointKind& kind,
                                  const model::JointId* joint) {
    model::JointStrength strength;
    strength.holding = calcCapacity(project, Quantity::Holding, kind.name, joint, kind.holdingNmm);
    if (kind.pullOutN) strength.pull = calcCapacity(project, Quantity::PullOut, kind.name, joint, *kind.pullOutN);
    for (const auto& [pool, scope] : collectScopes(project, Quantity::Holding, kind.name, joint))
        if (const auto loss = calcLossPer100(pool.moves, pool.worn)) {
            strength.lossPer100 = loss;
            break;
        }
    return strength;
}

model::JointStrengths calcStrengths(const model::Project& project) {
    model::JointStrengths strengths;
    for (const auto& joint : project.joints) strengths.push_back(calcStrength(project, *joint.kind, &joint.id));
    return strengths;
}

Capacity calcStudPull(const model::Project& project) {
    return calcCapacity(project, Quantity::StudPull, "", nullptr,
                        parts::findJointKind("one-stud swivel")->pullOutN.value_or(0));
}

Capacity calcStudShear(const model::Project& project) {
    return calcCapacity(project, Quantity::StudShear, "", nullptr, kStudShearN);
}

} // namespace ivrant::trials
