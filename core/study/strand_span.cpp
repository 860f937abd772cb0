// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/strand_span.h"

#include <algorithm>

#include "core/base/at.h"
#include "core/pose/range.h"

namespace ivrant::study {
namespace {
constexpr int kSteps = 8;  ///< over a wanted range
constexpr int kRounds = 4; ///< of all joints
} // namespace

SpanSearch::SpanSearch(const Facts& facts, const pose::Lines& lines, const pose::Kinematics& kinematics,
                       std::size_t line, int works, double workedAt)
    : m_facts(facts), m_lines(lines), m_kinematics(kinematics), m_line(line), m_works(works), m_workedAt(workedAt) {
    const auto& sections = lines.sections(line);
    for (std::size_t j = 0; j < facts.project->joints.size(); ++j) {
        const model::Joint& joint = facts.project->joints[j];
        const int index = static_cast<int>(j);
        if (index == works || joint.wanted.empty() || facts.tree.isInRing(index)) continue;
        const auto carried = facts.tree.carriedBy(index);
        const auto inside = std::count_if(sections.begin(), sections.end(), [&](int s) {
            return std::find(carried.begin(), carried.end(), s) != carried.end();
        });
        if (inside == 0 || inside == static_cast<std::ptrdiff_t>(sections.size())) continue;
        for (std::size_t f = 0; f < joint.wanted.size(); ++f) {
            model::Range range = joint.wanted[f];
            if (const auto own = pose::calcOwnRange(*joint.kind, {0, 0, 0}, static_cast<int>(f))) {
                range.low = std::max(range.low, own->low);
                range.high = std::min(range.high, own->high);
            }
            if (range.low < range.high) m_freedoms.push_back({{index, static_cast<int>(f)}, range});
        }
    }
}

std::optional<double> SpanSearch::calcLonger(const pose::JointValues& values) {
    m_kinematics.place(values, m_X_WS);
    const pose::LineState state = m_lines.place(m_line, m_X_WS);
    if (!state.hasWay()) return std::nullopt;
    return m_lines.calcLonger(m_line, *m_present, state);
}

void SpanSearch::climb(pose::JointValues values, double sign, double& best, pose::JointValues& at) {
    auto now = calcLonger(values);
    if (!now) return;
    double value = sign * *now;
    for (int round = 0; round < kRounds; ++round) {
        bool better = false;
        for (const Freedom& freedom : m_freedoms) {
            double& variable = ivrant::at(ivrant::at(values, freedom.ref.joint), freedom.ref.freedom);
            double kept = variable;
            for (int k = 0; k <= kSteps; ++k) {
                variable = freedom.range.low + (freedom.range.high - freedom.range.low) * k / kSteps;
                const auto longer = calcLonger(values);
                if (!longer || sign * *longer <= value + 1e-9) continue;
                value = sign * *longer;
                kept = variable;
                better = true;
            }
            variable = kept;
        }
        if (!better) break;
    }
    if (value <= sign * best) return;
    best = sign * value;
    at = std::move(values);
}

StrandSpan SpanSearch::run(const pose::LineState& present, const base::Progress* progress) {
    m_present = &present;
    StrandSpan span;
    pose::JointValues values = m_facts.present.values;
    const bool moves = m_works >= 0 && !m_facts.tree.isInRing(m_works);
    if (moves) ivrant::at(values, m_works)[0] = m_workedAt;
    span.leastMm = span.mostMm = calcLonger(values).value_or(0);
    span.atLeast = span.atMost = values;
    for (const PoseFacts& pose : m_facts.poses) {
        if (progress && progress->stopped()) break;
        values = pose.values;
        if (moves) ivrant::at(values, m_works)[0] = m_workedAt;
        climb(values, 1, span.mostMm, span.atMost);
        climb(values, -1, span.leastMm, span.atLeast);
    }
    return span;
}

} // namespace ivrant::study
