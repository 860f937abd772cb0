// SPDX-License-Identifier: GPL-3.0-or-later
// How do verdicts come about? The one way to add one and to put a value against its limit.
#pragma once

#include "core/study/facts.h"
#include "core/verdict/verdict.h"

namespace ivrant::verdict {

/// Takes up the verdicts of check groups.
class VerdictList {
public:
    /// A new one with the id "check/idRest", to be filled in. Valid until the next is added.
    Verdict& add(const std::string& check, const std::string& idRest, Station station);
    /// Of a joint in a pose; `key`: the pose's id, and what tells several of that joint apart.
    Verdict& addAt(const std::string& check, const model::Joint& joint, const study::PoseFacts& pose,
                   const std::string& key);
    void add(Verdict verdict);

    /// What is added from now on comes from this group.
    void setGroup(const std::string& group) { m_group = group; }
    [[nodiscard]] const std::vector<Verdict>& all() const { return m_all; }
    [[nodiscard]] std::vector<Verdict> take() { return std::move(m_all); }

private:
    std::vector<Verdict> m_all;
    std::string m_group;
};

/// What is needed against what there is, with its basis; the state follows from the margin.
void setNeed(Verdict& v, double need, const model::Capacity& have, const std::string& unit,
             const std::optional<double>& margin);
/// "starting value", or what it was measured by.
[[nodiscard]] std::string shortBasis(const model::Capacity& capacity);

} // namespace ivrant::verdict
