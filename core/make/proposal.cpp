// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/make/proposal.h"

#include <algorithm>

namespace ivrant::make {

AssemblyProposal proposeAssembly(const model::Section& section, const bonds::SectionBonds& bonds, int mostPartsAStep,
                                 base::Progress* progress) {
    AssemblyProposal proposal;
    Scene scene(section, bonds);
    const auto keys = calcBuildKeys(scene);
    const auto present = listPartSteps(section);
    // What waits for other sections is put on last, whatever else would be easier.
    std::vector<int> waiting;
    for (std::size_t p = 0; p < section.parts.size(); ++p)
        if (!section.parts[p].after.empty()) waiting.push_back(static_cast<int>(p));
    for (const int p : waiting) scene.take(p);
    proposal.plan = planAssembly(scene, keys, progress);
    for (const int p : waiting) scene.putBack(p);
    if (!proposal.plan.complete) return proposal;
    proposal.steps = makeSteps(proposal.plan, keys, mostPartsAStep);
    int last = 0;
    for (std::size_t p = 0; p < section.parts.size(); ++p)
        if (section.parts[p].after.empty()) last = std::max(last, proposal.steps[p]);
    for (const int p : waiting) proposal.steps[static_cast<std::size_t>(p)] = last + 1;
    if (!checkOrder(scene, present, progress).faults.empty()) // an order that works is left alone
        proposal.mend = mendOrder(scene, proposal.plan, present);
    return proposal;
}

model::EditResult takeProposals(const model::Project& project, Take take, int onlySection, int mostPartsAStep) {
    const auto found = bonds::calcBonds(project);
    model::Project next = project;
    for (std::size_t s = 0; s < next.sections.size(); ++s) {
        const model::SectionPtr section = next.sections[s];
        if (section->parts.empty() || (onlySection >= 0 && static_cast<int>(s) != onlySection)) continue;
        const auto proposal = proposeAssembly(*section, *found[s], mostPartsAStep);
        const auto& steps = take == Take::Plan ? proposal.steps : proposal.mend.steps;
        if (steps.empty()) continue; // nothing is wrong there
        auto changed = model::setSteps(next, section->id, steps);
        if (!changed) return changed;
        next = std::move(changed).value();
    }
    return next;
}

std::vector<int> listPartSteps(const model::Section& section) {
    std::vector<int> steps;
    steps.reserve(section.parts.size());
    int last = 0;
    for (const model::Part& part : section.parts) {
        steps.push_back(part.step);
        if (part.after.empty()) last = std::max(last, part.step);
    }
    for (std::size_t p = 0; p < steps.size(); ++p)
        if (!section.parts[p].after.empty()) steps[p] = std::max(steps[p], last + 1);
    return steps;
}

} // namespace ivrant::make
