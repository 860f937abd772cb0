// SPDX-License-Identifier: GPL-3.0-or-later
// Other steps for parts that cannot go in at theirs. Part of check_make.h.
#include <algorithm>
#include <set>

#include "core/base/at.h"
#include "core/make/proposal.h"
#include "core/verdict/make/check_make.h"

namespace ivrant::verdict {

void proposeAssemblyMends(const Report& report, const Verdict& verdict, std::vector<Mend>& mends) {
    if (verdict.check != "order" || !verdict.place.section || verdict.state != State::Fail) return;
    const int s = report.project->findSection(*verdict.place.section);
    if (s < 0) return;
    const model::Section& section = *ivrant::at(report.project->sections, s);
    const auto proposal = make::proposeAssembly(section, *ivrant::at(report.bonds, s));
    const auto add = [&](const std::string& text, const std::vector<int>& steps) {
        mends.push_back(
            {text, [id = section.id, steps](const model::Project& p) { return model::setSteps(p, id, steps); }});
    };
    // Both were checked against the section as it is; nothing else reads steps.
    if (const auto& moves = proposal.mend.moves; moves.size() == 1)
        add("move the " + ivrant::at(section.parts, moves[0].first).shape->name + " of " + section.name +
                " from step " + std::to_string(ivrant::at(section.parts, moves[0].first).step) + " to step " +
                std::to_string(moves[0].second),
            proposal.mend.steps);
    else if (!moves.empty())
        add("move " + std::to_string(moves.size()) + " parts of " + section.name + " to other steps",
            proposal.mend.steps);
    if (proposal.steps.empty()) return;
    const int count = *std::max_element(proposal.steps.begin(), proposal.steps.end());
    add("take the order that is worked out for " + section.name + ", " + std::to_string(count) + " steps",
        proposal.steps);
}

} // namespace ivrant::verdict
