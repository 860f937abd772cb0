// SPDX-License-Identifier: GPL-3.0-or-later
// How long and how short does the way of a line get within the wanted ranges?
//
// Joints that it runs past are climbed one after another, each over its whole wanted range in steps, from every pose of
// the project, up and down. A lower bound of what is possible: no proof that nothing lies beyond. Joints in rings keep
// their value. mm.
#pragma once

#include "core/study/strands.h"

namespace ivrant::study {

class SpanSearch {
public:
    /// `works`: the joint that stays at `workedAt` all along; −1: none. All must outlive it.
    SpanSearch(const Facts& facts, const pose::Lines& lines, const pose::Kinematics& kinematics, std::size_t line,
               int works, double workedAt);
    /// `present`: the line in the present pose, that lengths are compared with. Some µs × joints × steps × poses.
    [[nodiscard]] StrandSpan run(const pose::LineState& present, const base::Progress* progress);

private:
    struct Freedom {
        pose::FreedomRef ref;
        model::Range range;
    };
    [[nodiscard]] std::optional<double> calcLonger(const pose::JointValues& values);
    void climb(pose::JointValues values, double sign, double& best, pose::JointValues& at);

    const Facts& m_facts;
    const pose::Lines& m_lines;
    const pose::Kinematics& m_kinematics;
    std::size_t m_line;
    int m_works;
    double m_workedAt;
    std::vector<Freedom> m_freedoms;
    const pose::LineState* m_present = nullptr;
    std::vector<geometry::Frame> m_X_WS;
};

} // namespace ivrant::study
