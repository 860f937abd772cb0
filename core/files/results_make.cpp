// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/files/results_make.h"

#include <algorithm>
#include <nlohmann/json.hpp>
#include <set>

#include "core/base/at.h"
#include "core/files/results_json.h"
#include "core/make/proposal.h"
#include "core/study/fingers.h"
#include "core/study/hands.h"

namespace ivrant::files {
namespace {

using model::Json;

Json partsJson(const model::Section& section, const std::vector<int>& parts) {
    Json list = Json::array();
    for (const int p : parts) {
        const model::Part& part = ivrant::at(section.parts, p);
        list.push_back({{"part", part.id.text}, {"shape", part.shape->name}, {"step", part.step}});
    }
    return list;
}

Json idsJson(const model::Section& section, const std::vector<int>& parts) {
    Json list = Json::array();
    for (const int p : parts) list.push_back(ivrant::at(section.parts, p).id.text);
    return list;
}

Json faultJson(const model::Section& section, const study::SectionAssembly& found, const make::OrderFault& fault) {
    const model::Part& part = ivrant::at(section.parts, fault.body);
    const bool blocked = fault.kind == make::OrderFault::Kind::InTheWay;
    return {{"part", part.id.text},
            {"shape", part.shape->name},
            {"step", part.step},
            {"why", blocked ? "in the way" : "nothing to hold to"},
            {"others", partsJson(section, fault.others)},
            {"with", idsJson(section, fault.with)},
            {"way_in", blocked ? Json(make::describeWayIn(fault.way)) : Json()},
            {"in_no_order", std::binary_search(found.stuck.begin(), found.stuck.end(), fault.body)}};
}

Json planJson(const model::Section& section, const make::AssemblyProposal& proposal, bool order) {
    Json json;
    json["steps"] = proposal.steps.empty() ? 0 : *std::max_element(proposal.steps.begin(), proposal.steps.end());
    json["stuck"] = idsJson(section, proposal.plan.stuck);
    json["sub_assemblies"] = Json::array();
    for (const make::SubAssembly& sub : proposal.plan.subs)
        json["sub_assemblies"].push_back({{"parts", idsJson(section, sub.bodies)},
                                          {"way_in", make::describeWayIn(sub.way)},
                                          {"within", sub.within < 0 ? Json() : Json(sub.within + 1)}});
    if (!order) return json;
    json["order"] = Json::array();
    for (const make::PlannedBody& planned : proposal.plan.order)
        json["order"].push_back({{"part", ivrant::at(section.parts, planned.body).id.text},
                                 {"shape", ivrant::at(section.parts, planned.body).shape->name},
                                 {"step", ivrant::at(proposal.steps, planned.body)},
                                 {"way_in", make::describeWayIn(planned.way)},
                                 {"sub_assembly", planned.sub < 0 ? Json() : Json(planned.sub + 1)}});
    return json;
}

Json sectionJson(const study::Facts& facts, int s, const AssemblyRequest& request, base::Progress* progress) {
    const model::Section& section = *ivrant::at(facts.project->sections, s);
    const study::SectionAssembly& found = *ivrant::at(facts.assembly->sections, s);
    std::set<int> steps;
    for (const model::Part& part : section.parts) steps.insert(part.step);
    Json json{{"section", section.id.text},
              {"name", section.name},
              {"parts", section.parts.size()},
              {"steps", steps.size()},
              {"works", found.check.faults.empty()}};
    json["faults"] = Json::array();
    for (const make::OrderFault& fault : found.check.faults) json["faults"].push_back(faultJson(section, found, fault));
    const auto proposal = make::proposeAssembly(section, *ivrant::at(facts.bonds, s), request.mostAStep, progress);
    json["moves"] = Json::array();
    for (const auto& [p, step] : proposal.mend.moves) {
        const model::Part& part = ivrant::at(section.parts, p);
        json["moves"].push_back(
            {{"part", part.id.text}, {"shape", part.shape->name}, {"from", part.step}, {"to", step}});
    }
    json["plan"] = planJson(section, proposal, request.order);
    return json;
}

Json joinJson(const study::Facts& facts, const study::SectionJoin& join) {
    const model::Project& project = *facts.project;
    Json json{{"section", ivrant::at(project.sections, join.section)->name},
              {"onto", ivrant::at(project.sections, facts.tree.parent(join.section))->name},
              {"joint", ivrant::at(project.joints, join.joint).id.text},
              {"goes", join.goes},
              {"pose", join.pose.empty() ? Json() : Json(join.pose)},
              {"way_in", make::describeWayIn(join.way)}};
    json["in_the_way"] = Json::array();
    for (const model::PartSpot spot : join.blocked) json["in_the_way"].push_back(model::getPart(project, spot).id.text);
    return json;
}

} // namespace

Json makeAssemblyJson(const study::Facts& facts, const AssemblyRequest& request, base::Progress* progress) {
    Json json = makeHead("assembly");
    json["sections"] = Json::array();
    json["joins"] = Json::array();
    if (request.hands) json["holds"] = json["fingers"] = Json::array();
    if (!facts.assembly) return json;
    for (const int s : facts.tree.order)
        if (request.onlySection < 0 || s == request.onlySection)
            json["sections"].push_back(sectionJson(facts, s, request, progress));
    for (const int s : request.hands ? facts.tree.order : std::vector<int>()) {
        if (request.onlySection >= 0 && s != request.onlySection) continue;
        const model::Section& section = *ivrant::at(facts.project->sections, s);
        for (const study::HoldHint& hint : study::calcHolds(facts, s, progress)) {
            const model::Part& part = ivrant::at(section.parts, hint.part);
            Json entry{
                {"section", section.name}, {"step", part.step}, {"part", part.id.text}, {"shape", part.shape->name}};
            entry["under"] = Json::array();
            for (const int p : hint.under) entry["under"].push_back(ivrant::at(section.parts, p).id.text);
            json["holds"].push_back(std::move(entry));
        }
    }
    for (const int s : request.hands ? facts.tree.order : std::vector<int>()) {
        if (request.onlySection >= 0 && s != request.onlySection) continue;
        const model::Section& section = *ivrant::at(facts.project->sections, s);
        const auto grips = study::calcGrips(facts, s);
        for (std::size_t p = 0; p < grips.size(); ++p)
            if (grips[p] != study::Grip::Pinch)
                json["fingers"].push_back({{"section", section.name},
                                           {"step", section.parts[p].step},
                                           {"part", section.parts[p].id.text},
                                           {"shape", section.parts[p].shape->name},
                                           {"grip", grips[p] == study::Grip::FingerTip ? "finger tip" : "none"}});
    }
    for (const study::SectionJoin& join : facts.assembly->joins)
        if (request.onlySection < 0 || join.section == request.onlySection)
            json["joins"].push_back(joinJson(facts, join));
    json["waiting"] = Json::array();
    for (const study::WaitingFault& fault : facts.assembly->waiting) {
        Json entry{{"part", model::getPart(*facts.project, fault.part).id.text},
                   {"after", ivrant::at(facts.project->sections, fault.after)->name},
                   {"why", fault.kind == make::OrderFault::Kind::InTheWay ? "in the way" : "nothing to hold to"},
                   {"way_in", make::describeWayIn(fault.way)}};
        entry["others"] = Json::array();
        for (const model::PartSpot spot : fault.others)
            entry["others"].push_back(model::getPart(*facts.project, spot).id.text);
        json["waiting"].push_back(std::move(entry));
    }
    return json;
}

} // namespace ivrant::files
