// SPDX-License-Identifier: GPL-3.0-or-later
// Other steps for parts that cannot go in at theirs. Part of check_make.h.
#include <algorithm>
#include <map>
#include <set>

#include "core/base/at.h"
#include "core/make/proposal.h"
#include "core/study/assembly.h"
#include "core/verdict/make/check_make.h"

namespace ivrant::verdict {

namespace {

/// These parts, and what would hang on nothing without them, join `ids`; false: nothing of a section would be left.
bool addWithHanging(const model::Project& project, const std::vector<bonds::SectionBondsPtr>& bonds,
                    const std::vector<model::PartSpot>& spots, std::vector<model::PartId>& ids) {
    std::map<int, std::vector<int>> bySection;
    for (const model::PartSpot spot : spots) bySection[spot.section].push_back(spot.part);
    for (auto& [s, parts] : bySection) {
        const model::Section& section = *ivrant::at(project.sections, s);
        const make::Scene scene(section, *ivrant::at(bonds, s));
        const auto hanging = scene.listCutOff(parts);
        parts.insert(parts.end(), hanging.begin(), hanging.end());
        if (parts.size() >= section.parts.size()) return false;
        for (const int p : parts)
            if (const auto& id = ivrant::at(section.parts, p).id; std::find(ids.begin(), ids.end(), id) == ids.end())
                ids.push_back(id);
    }
    return true;
}

/// What is in the way of a section waits until that section is on; what is then in the way of that waits as well.
void addWaiting(const Report& report, const Verdict& verdict, std::vector<Mend>& mends) {
    const auto join = std::find_if(report.assembly->joins.begin(), report.assembly->joins.end(), [&](const auto& each) {
        return ivrant::at(report.project->sections, each.section)->id == *verdict.place.section;
    });
    if (join == report.assembly->joins.end() || join->goes || join->blocked.empty()) return;
    const model::Section& on = *ivrant::at(report.project->sections, join->section);
    std::vector<model::PartId> ids;
    if (!addWithHanging(*report.project, report.bonds, join->blocked, ids)) return;
    constexpr int kRounds = 4;
    study::Wanted wanted;
    wanted.facts = study::kAssembly;
    for (int round = 0; round < kRounds; ++round) {
        const auto tried = model::setAfter(*report.project, ids, on.id);
        if (!tried) return;
        study::Facts facts = study::calcFacts(std::make_shared<const model::Project>(*tried), wanted);
        if (!facts.assembly) facts.assembly = study::calcAssembly(facts);
        std::vector<model::PartSpot> further;
        for (const study::WaitingFault& fault : facts.assembly->waiting)
            if (fault.after == join->section) further.insert(further.end(), fault.others.begin(), fault.others.end());
        if (further.empty() || !addWithHanging(*report.project, report.bonds, further, ids)) break;
    }
    constexpr std::size_t kMostTold = 5;
    const model::PartIndex index(*report.project);
    std::string names = ids.size() > kMostTold ? std::to_string(ids.size()) + " parts" : "";
    for (const auto& id : ids.size() > kMostTold ? std::vector<model::PartId>() : ids)
        names += (names.empty() ? "" : ", ") + model::getPart(*report.project, index.find(id)).shape->name;
    mends.push_back({"put " + names + " on once " + on.name + " is on",
                     [ids, id = on.id](const model::Project& p) { return model::setAfter(p, ids, id); }});
}

} // namespace

void proposeAssemblyMends(const Report& report, const Verdict& verdict, std::vector<Mend>& mends) {
    if (verdict.check == "joins-on" && verdict.place.section && report.assembly) addWaiting(report, verdict, mends);
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
