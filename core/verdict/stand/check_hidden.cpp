// SPDX-License-Identifier: GPL-3.0-or-later
// Verdict on colours from inside that show, and how the core's colours may change. Part of check_stand.h.
#include <algorithm>
#include <map>
#include <set>

#include "core/base/units.h"
#include "core/parts/palette.h"
#include "core/study/case_words.h"
#include "core/verdict/stand/check_stand.h"

namespace ivrant::verdict {
namespace {

using base::formatNumber;

/// How much of a larger model nobody sees: worth a look at what of it carries nothing either.
void addCore(const study::Facts& facts, VerdictList& list) {
    const std::size_t parts = facts.project->partCount();
    if (parts < kWorthHollowing || facts.hidden->parts.empty()) return;
    const double share = static_cast<double>(facts.hidden->parts.size()) / static_cast<double>(parts);
    Verdict& v = list.add("core", "", Station::Stand);
    v.value = 100 * share;
    v.limit = 100 * kUsualUnseenShare;
    v.unit = "%";
    v.state = share > kUsualUnseenShare ? State::Thin : State::Good;
    v.basis = Basis::Starting;
    v.text = share > kUsualUnseenShare ? "Much of the model is never seen" : "Little of the model is never seen";
    v.detail = formatNumber(v.value, 0) + " % of its parts, " + formatNumber(facts.hidden->massG, 0) + " g; above " +
               formatNumber(v.limit, 0) +
               " % (a usual value) it is worth looking for what carries nothing and can be left out";
}

} // namespace

void judgeHidden(const study::Facts& facts, VerdictList& list) {
    if (!facts.hidden || (facts.hidden->parts.empty() && facts.hidden->showing.empty())) return;
    addCore(facts, list);
    const study::Hidden& hidden = *facts.hidden;
    Verdict& v = list.add("showing", "", Station::Stand);
    v.value = static_cast<double>(hidden.showing.size());
    v.unit = "parts";
    v.state = hidden.showing.empty() ? State::Good : State::Thin;
    for (const study::Showing& showing : hidden.showing)
        v.place.parts.push_back(getPart(*facts.project, showing.part).id);
    v.text = hidden.showing.empty() ? "No colour from inside shows"
             : hidden.showing.size() == 1
                 ? "A part shows through a gap in another colour"
                 : std::to_string(hidden.showing.size()) + " parts show through gaps in other colours";
    if (!hidden.showing.empty()) {
        const study::Showing& first = hidden.showing.front();
        v.detail = study::describePart(*facts.project, first.part) + " is " +
                   parts::getColourName(getPart(*facts.project, first.part).colour) + ", what is around it mostly " +
                   parts::getColourName(first.colour) + "; ";
    }
    v.detail += std::to_string(hidden.parts.size()) + " parts are never seen, " + formatNumber(hidden.massG, 0) +
                " g: any colour will do for them (" + std::to_string(hidden.rays) + " rays)";
}

void proposeHiddenMends(const Report& report, const Verdict& verdict, std::vector<Mend>& mends) {
    const model::Project& project = *report.project;
    if (verdict.check == "showing" && report.hidden && !report.hidden->showing.empty()) {
        std::map<int, std::vector<model::PartId>> byColour;
        for (const study::Showing& showing : report.hidden->showing)
            byColour[showing.colour].push_back(getPart(project, showing.part).id);
        mends.push_back(
            {report.hidden->showing.size() == 1 ? "paint it as what is around it" : "paint each as what is around it",
             [byColour](const model::Project& p) {
                 model::EditResult changed = p;
                 for (const auto& [colour, ids] : byColour)
                     if (changed) changed = model::recolourParts(*changed, ids, colour);
                 return changed;
             }});
    }
    if (verdict.check == "core") addCoreMends(report, verdict, mends);
    markTried(mends);
}

void addFewerColours(const Report& report, const Verdict& verdict, std::vector<Mend>& mends) {
    const model::Project& project = *report.project;
    const bool fewer = std::any_of(project.asks.begin(), project.asks.end(), [&](const model::Ask& ask) {
        return verdict.id == "ask/" + ask.id.text && ask.measure == "colours" &&
               ask.comparison == model::Comparison::AtMost && ask.section.empty();
    });
    if (!fewer) return;
    const auto hidden = study::getHidden(report);
    if (!hidden || hidden->parts.empty()) return;
    const std::set<model::PartSpot> unseen(hidden->parts.begin(), hidden->parts.end());
    std::map<int, std::size_t> seen; // how many that are seen have each colour
    for (std::size_t s = 0; s < project.sections.size(); ++s)
        for (std::size_t p = 0; p < project.sections[s]->parts.size(); ++p)
            if (const model::PartSpot spot{static_cast<int>(s), static_cast<int>(p)}; unseen.count(spot) == 0)
                ++seen[getPart(project, spot).colour];
    if (seen.empty()) return;
    const int common = std::max_element(seen.begin(), seen.end(), [](const auto& l, const auto& r) {
                           return l.second < r.second;
                       })->first;
    std::vector<model::PartId> ids;
    std::set<int> gone;
    for (const model::PartSpot spot : hidden->parts)
        if (const model::Part& part = getPart(project, spot); seen.count(part.colour) == 0) {
            ids.push_back(part.id);
            gone.insert(part.colour);
        }
    if (ids.empty()) return;
    mends.push_back({std::to_string(ids.size()) +
                         (ids.size() == 1 ? " part that nobody sees" : " parts that nobody sees") + " in " +
                         parts::getColourName(common) + ": " + std::to_string(gone.size()) +
                         (gone.size() == 1 ? " colour less" : " colours less"),
                     [ids, common](const model::Project& p) { return model::recolourParts(p, ids, common); }});
}

} // namespace ivrant::verdict
