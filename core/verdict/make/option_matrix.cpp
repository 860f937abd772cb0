// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/verdict/make/option_matrix.h"

#include <tbb/parallel_for.h>

#include <algorithm>
#include <atomic>
#include <map>

#include "core/base/at.h"
#include "core/model/mass.h"

namespace ivrant::verdict {
namespace {

CombinationRow lookAt(const Report& before, const make::Combination& combination) {
    CombinationRow row;
    row.combination = combination;
    const model::Options& options = before.project->options;
    for (std::size_t o = 0; o < combination.size(); ++o)
        row.price += at(options.list[o].alternatives, combination[o]).price;
    auto project = make::takeCombination(*before.project, combination);
    if (!project) {
        row.problem = project.error().message;
        return row;
    }
    // Of its own: fractions of single reports are of no interest, and each is short.
    const Report report =
        calcReport(std::make_shared<const model::Project>(std::move(project).value()), nullptr, {}, {}, &before);
    row.parts = static_cast<int>(report.project->partCount());
    const make::Tide tide = make::calcTide(*report.project, report.tree);
    for (const make::TideLine& line : tide.lines) row.missing += tide.isStocked ? line.missing() : 0;
    for (const study::PoseFacts& pose : report.poses) {
        if (pose.tipping) {
            row.tipDeg = row.tipDeg ? std::min(*row.tipDeg, pose.tipping->angleDeg) : pose.tipping->angleDeg;
            row.massG = pose.tipping->massG;
        }
        if (pose.standing && pose.standing->equilibrium.lambda) {
            const double margin = 1 / *pose.standing->equilibrium.lambda;
            row.bonds = row.bonds ? std::min(*row.bonds, margin) : margin;
        }
    }
    for (const Verdict& v : report.verdicts)
        if (v.state == State::Fail && v.group != "supplies") row.fails.push_back(v);
    return row;
}

} // namespace

OptionMatrix calcOptionMatrix(const Report& before, std::size_t most, base::Progress* progress) {
    OptionMatrix matrix;
    matrix.combinations = make::listCombinations(before.project->options, most);
    const auto& list = matrix.combinations.list;
    std::vector<CombinationRow> rows(list.size());
    std::atomic<std::size_t> done = 0;
    tbb::parallel_for(std::size_t(0), list.size(), [&](std::size_t i) {
        if (progress && progress->stopped()) return;
        rows[i] = lookAt(before, list[i]);
        if (progress) progress->report(static_cast<double>(++done) / static_cast<double>(list.size()));
    });
    for (CombinationRow& row : rows) {
        const bool whole = !row.combination.empty();
        if (whole) matrix.rows.push_back(std::move(row));
        matrix.complete = matrix.complete && whole;
    }
    std::map<std::string, std::size_t> counts;
    std::size_t looked = 0;
    for (const CombinationRow& row : matrix.rows) {
        looked += row.problem.empty() ? 1 : 0;
        for (const Verdict& v : row.fails) ++counts[v.id];
    }
    for (CombinationRow& row : matrix.rows)
        std::erase_if(row.fails, [&](const Verdict& v) {
            if (looked < 2 || counts[v.id] < looked) return false;
            const bool known = std::any_of(matrix.always.begin(), matrix.always.end(),
                                           [&](const Verdict& other) { return other.id == v.id; });
            if (!known) matrix.always.push_back(v);
            return true;
        });
    return matrix;
}

} // namespace ivrant::verdict
