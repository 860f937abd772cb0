// Verdict on colours from inside that show, and how the core's colours may change. Part of check_stand.h.
#include <algorithm>
#include <map>
#include <set>

#include "core/base/units.h"
#include "core/parts/palette.h"
#include "core/verdict/check_stand.h"
#include "core/verdict/collect.h"

namespace ivrant::verdict {
namespace {

using base::formatNumber;

const std::string& nameColour(int colour) { return parts::getPalette()[static_cast<std::size_t>(colour)].name; }

/// How much of a larger model nobody sees: worth a look at what of it carries nothing either.
void addCoreVerdict(const Report& report, std::vector<Verdict>& verdicts) {
    const std::size_t parts = report.project->partCount();
    if (parts < kWorthHollowing || report.hidden->parts.empty()) return;
    const double share = static_cast<double>(report.hidden->parts.size()) / static_cast<double>(parts);
    Verdict v;
    v.check = "core";
    v.id = "core";
    v.station = Station::Stand;
    v.value = 100 * share;
    v.limit = 100 * kUsualUnseenShare;
    v.unit = "%";
    v.state = share > kUsualUnseenShare ? State::Thin : State::Good;
    v.basis = Basis::Starting;
    v.text = share > kUsualUnseenShare ? "Much of the model is never seen" : "Little of the model is never seen";
    v.detail = formatNumber(v.value, 0) + " % of its parts, " + formatNumber(report.hidden->massG, 0) + " g; above " + formatNumber(v.limit, 0) +
               " % (a usual value) it is worth looking for what carries nothing and can be left out";
    verdicts.push_back(std::move(v));
}

} // namespace

void addHiddenVerdict(const Report& report, std::vector<Verdict>& verdicts) {
    if (!report.hidden || (report.hidden->parts.empty() && report.hidden->showing.empty())) return;
    addCoreVerdict(report, verdicts);
    const Hidden& hidden = *report.hidden;
    Verdict v;
    v.check = "showing";
    v.id = "showing";
    v.station = Station::Stand;
    v.value = static_cast<double>(hidden.showing.size());
    v.unit = "parts";
    v.state = hidden.showing.empty() ? State::Good : State::Thin;
    for (const Showing& showing : hidden.showing) v.place.parts.push_back(getPart(*report.project, showing.part).id);
    v.text = hidden.showing.empty()       ? "No colour from inside shows"
             : hidden.showing.size() == 1 ? "A part shows through a gap in another colour"
                                          : std::to_string(hidden.showing.size()) + " parts show through gaps in other colours";
    if (!hidden.showing.empty()) {
        const Showing& first = hidden.showing.front();
        v.detail = describePart(*report.project, first.part) + " is " + nameColour(getPart(*report.project, first.part).colour) +
                   ", what is around it mostly " + nameColour(first.colour) + "; ";
    }
    v.detail += std::to_string(hidden.parts.size()) + " parts are never seen, " + formatNumber(hidden.massG, 0) + " g: any colour will do for them (" +
                std::to_string(hidden.rays) + " rays)";
    verdicts.push_back(std::move(v));
}

void addHiddenMends(const Report& report, const Verdict& verdict, std::vector<Mend>& mends) {
    const model::Project& project = *report.project;
    if (verdict.check == "showing" && report.hidden && !report.hidden->showing.empty()) {
        std::map<int, std::vector<model::PartId>> byColour;
        for (const Showing& showing : report.hidden->showing) byColour[showing.colour].push_back(getPart(project, showing.part).id);
        mends.push_back(
            {report.hidden->showing.size() == 1 ? "paint it as what is around it" : "paint each as what is around it", [byColour](const model::Project& p) {
                 model::EditResult changed = p;
                 for (const auto& [colour, ids] : byColour)
                     if (changed) changed = model::recolourParts(*changed, ids, colour);
                 return changed;
             }});
    }
    const bool fewer = std::any_of(project.asks.begin(), project.asks.end(), [&](const model::Ask& ask) {
        return verdict.id == "ask/" + ask.id.text && ask.measure == "colours" && ask.comparison == model::Comparison::AtMost && ask.section.empty();
    });
    if (!fewer) return;
    const auto hidden = getHidden(report);
    if (!hidden || hidden->parts.empty()) return;
    const std::set<model::PartSpot> unseen(hidden->parts.begin(), hidden->parts.end());
    std::map<int, std::size_t> seen; // how many that are seen have each colour
    for (std::size_t s = 0; s < project.sections.size(); ++s)
        for (std::size_t p = 0; p < project.sections[s]->parts.size(); ++p)
            if (const model::PartSpot spot{static_cast<int>(s), static_cast<int>(p)}; unseen.count(spot) == 0) ++seen[getPart(project, spot).colour];
    if (seen.empty()) return;
    const int common = std::max_element(seen.begin(), seen.end(), [](const auto& l, const auto& r) { return l.second < r.second; })->first;
    std::vector<model::PartId> ids;
    std::set<int> gone;
    for (const model::PartSpot spot : hidden->parts)
        if (const model::Part& part = getPart(project, spot); seen.count(part.colour) == 0) {
            ids.push_back(part.id);
            gone.insert(part.colour);
        }
    if (ids.empty()) return;
    mends.push_back({std::to_string(ids.size()) + (ids.size() == 1 ? " part that nobody sees" : " parts that nobody sees") + " in " + nameColour(common) +
                         ": " + std::to_string(gone.size()) + (gone.size() == 1 ? " colour less" : " colours less"),
                     [ids, common](const model::Project& p) { return model::recolourParts(p, ids, common); }});
}

} // namespace ivrant::verdict
