// SPDX-License-Identifier: GPL-3.0-or-later
// Which facts of the snapshot before still hold of a new one, because nothing that they read has changed?
//
// Exact: inputs are compared value by value, names of sections and joints, colours and steps left out where nothing
// reads them. What is kept is what would have been found again, bit for bit. Cost: O(parts), less for sections that
// both snapshots share.
#pragma once

#include "core/study/facts.h"

namespace ivrant::study {

class KeptFacts {
public:
    /// Nothing is kept: no facts before.
    KeptFacts() = default;
    /// `now` has its project, tree, bodies and strengths; `before` must outlive this.
    KeptFacts(const Facts& before, const Facts& now);

    /// The facts of the same named pose, or of the present values where `named` is null, when they have not changed;
    /// else null.
    [[nodiscard]] const PoseFacts* findPose(const model::Project& now, const model::NamedPose* named) const;
    /// Ranges of the same values before the edit, with what the edit changed; empty when that does not help.
    [[nodiscard]] PoseBefore findRanges(const model::Project& now, const model::NamedPose* named) const;
    /// The worst load of a joint when nothing that it carries has changed; null: it is to be found again. `now` has its
    /// poses.
    [[nodiscard]] const pose::WorstLoad* findWorst(const Facts& now, std::size_t joint) const;
    /// Bits of Fact, of kWorst, kMoves, kAtRest and what follows from the bonds, that need not be found again once
    /// every pose was looked at; kAtRest: of the poses that have not changed. `now` has its poses.
    [[nodiscard]] unsigned findUnchanged(const Facts& now) const;
    [[nodiscard]] const Facts* before() const { return m_before; }

private:
    const Facts* m_before = nullptr;
    bool m_sameParts = false;  ///< and how they are joined, boards, posts, what was measured
    bool m_sameWanted = false; ///< ranges of the joints
    bool m_sameColours = false;
    std::optional<pose::BodyChange> m_change; ///< of parts alone; none: more, or too many
    bool m_worstAlike = false;                ///< what worst loads read but what is carried
    std::vector<bool> m_otherWeight;          ///< by section: parts, weights or ballast are other
};

} // namespace ivrant::study
