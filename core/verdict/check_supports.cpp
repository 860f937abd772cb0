// Verdicts on the posts of the base and on colours that show, and what would mend them. Part of check_stand.h.
#include <algorithm>
#include <cmath>
#include <limits>
#include <map>
#include <set>

#include "core/base/units.h"
#include "core/parts/palette.h"
#include "core/pose/stance.h"
#include "core/verdict/check_stand.h"
#include "core/verdict/collect.h"
#include "core/verdict/support_check.h"

namespace ivrant::verdict {
namespace {

using base::formatNumber;
using stand::PostState;

constexpr std::size_t kMostSpots = 2;

std::string namePart(const model::Project& project, model::PartSpot spot) {
    const model::Part& part = getPart(project, spot);
    return part.shape->name + " (" + part.id.text + ")";
}

/// What keeps the post from carrying; empty: a part lies on it.
void tellTrouble(Verdict& v, const model::Project& project, const KeptSupport& kept, const std::string& name) {
    v.state = State::Fail;
    v.basis = Basis::Geometry;
    if (!kept.pose) {
        v.text = name + " carries nothing";
        v.detail = "no pose stands on the ground";
    } else if (kept.post.state == PostState::Blocked) {
        v.text = name + " is in the way in " + kept.pose->name;
        v.detail = namePart(project, kept.post.part) + " is where it stands, " + formatNumber(kept.post.top.z(), 1) + " mm high";
    } else {
        v.text = name + " carries nothing";
        v.detail = kept.post.gapMm > 0 ? "the lowest part above it lies " + formatNumber(kept.post.gapMm, 1) + " mm higher" : "no part is above it";
        v.value = kept.post.gapMm;
        v.limit = stand::kPostTouchMm;
        v.unit = "mm";
    }
}

/// Places for a post in a pose, whose bonds hold with it where that does not take long to know.
std::vector<stand::SupportSpot> listSpots(const Report& report, const PoseReport& pose, double wish, double mostN = std::numeric_limits<double>::infinity()) {
    std::vector<stand::SupportSpot> spots;
    if (report.project->partCount() > kMostPartsLive) return stand::listSupports(pose.placed, *pose.tipping, wish, kMostSpots);
    const auto design = calcSupports(report, pose, wish);
    if (!design) return spots;
    for (const CheckedSupport& checked : design->spots)
        if (checked.holds && checked.spot.tiltN <= mostN && spots.size() < kMostSpots) spots.push_back(checked.spot);
    return spots;
}

std::string describeSpot(const model::Project& project, const stand::SupportSpot& spot) {
    return namePart(project, spot.part) + ", " + formatNumber(spot.at.z(), 1) + " mm high: tips at " + formatNumber(spot.tipDeg, 0) + "°, it carries up to " +
           formatNumber(spot.tiltN, 2) + " N";
}

void addPosts(const Report& report, const Verdict& verdict, std::vector<Mend>& mends) {
    const auto pose = std::find_if(report.poses.begin(), report.poses.end(), [&](const PoseReport& p) { return p.id == verdict.place.pose && p.tipping; });
    if (pose == report.poses.end() || pose->stance.kind == model::Stance::Kind::Held) return;
    const double share = verdict.state == State::Fail ? 1 : kGoodMargin; // what is thin passes already: there the post is to make it good
    for (const auto& spot : listSpots(report, *pose, std::max(share * getWishDeg(*report.project), share * verdict.limit)))
        mends.push_back({"a post under " + describeSpot(*report.project, spot),
                         [support = makeSupport(spot.at)](const model::Project& p) { return model::putSupport(p, support); }});
}

/// The post at another height: as high as what is straight above it.
void addHeight(const KeptSupport& kept, const model::Support& support, std::vector<Mend>& mends) {
    double height = kept.post.top.z() + kept.post.gapMm;
    if (kept.post.state == PostState::Blocked) {
        height = 1e30;
        for (const auto& [spot, box] : stand::listPartBoxes(kept.pose->placed)) {
            const double half = stand::kPostMm / 2 - geometry::kContactToleranceMm;
            if (box.low.x() < kept.post.top.x() + half && box.high.x() > kept.post.top.x() - half && box.low.y() < kept.post.top.y() + half &&
                box.high.y() > kept.post.top.y() - half)
                height = std::min(height, box.low.z());
        }
    } else if (!(kept.post.gapMm > 0)) {
        return;
    }
    if (height < stand::kLowestPostMm || height > 1e29) return;
    model::Support changed = support;
    changed.atUm[2] = base::mmToUm(height);
    mends.push_back({"make it " + formatNumber(height, 1) + " mm high", [changed](const model::Project& p) { return model::putSupport(p, changed); }});
}

} // namespace

void addSupportVerdicts(const Report& report, std::vector<Verdict>& verdicts) {
    const auto supports = checkSupports(report);
    const double wish = getWishDeg(*report.project);
    for (std::size_t i = 0; i < supports.size(); ++i) {
        const KeptSupport& kept = supports[i];
        const std::string name = nameSupport(i);
        Verdict v;
        v.check = "support";
        v.id = "support/" + report.project->supports[i].id.text;
        v.station = Station::Stand;
        v.place.things = {report.project->supports[i].id.text};
        if (kept.pose) v.place.pose = kept.pose->id;
        if (kept.pose && kept.post.state != PostState::Free) v.place.parts = {getPart(*report.project, kept.post.part).id};
        if (!kept.pose || kept.post.state != PostState::Touches) {
            tellTrouble(v, *report.project, kept, name);
            verdicts.push_back(std::move(v));
            continue;
        }
        v.value = kept.tipDeg;
        v.limit = wish;
        v.unit = "deg";
        v.margin = kept.tipDeg / wish;
        v.basis = isWeighed(*report.project) ? Basis::Measured : Basis::Starting;
        v.state = getStateOfMargin(v.margin);
        const std::string where = " under " + namePart(*report.project, kept.post.part);
        v.text = name + (v.state == State::Fail ? " is not enough in " : " holds it up in ") + kept.pose->name;
        v.detail = formatNumber(kept.post.top.z(), 1) + " mm high" + where + ", carries " + formatNumber(kept.restN, 2) + " N level and up to " +
                   formatNumber(kept.tiltN, 2) + " N with the base tilted by " + formatNumber(wish, 0) + "°; tips at " + formatNumber(kept.tipDeg, 1) +
                   "°, without it at " + formatNumber(kept.withoutDeg, 1) + "°" + (v.basis == Basis::Measured ? "" : " (masses not weighed)");
        if (!kept.needed) {
            v.state = State::Thin;
            v.text = name + " is not needed: it stands without";
        } else if (!kept.helps) {
            v.state = State::Fail;
            v.text = name + " does not help in " + kept.pose->name;
        }
        verdicts.push_back(std::move(v));
    }
}

void addSupportMends(const Report& report, const Verdict& verdict, std::vector<Mend>& mends) {
    if (verdict.check == "tip") return addPosts(report, verdict, mends);
    if (verdict.check != "support" || verdict.state == State::Good) return;
    const auto& supports = report.project->supports;
    const auto found = std::find_if(supports.begin(), supports.end(), [&](const model::Support& s) { return verdict.place.things.front() == s.id.text; });
    if (found == supports.end()) return;
    const auto index = static_cast<std::size_t>(found - supports.begin());
    const KeptSupport kept = checkSupports(report)[index];
    if (kept.pose && kept.post.state != PostState::Touches) addHeight(kept, *found, mends);
    if (kept.pose && verdict.state == State::Fail) { // where would it do, if it were not there?
        const auto bare = model::removeSupport(*report.project, found->id);
        PoseReport pose = *kept.pose;
        pose.placed.project = &*bare;
        pose.tipping = stand::calcTippingWithout(kept.pose->placed, pose::listGroundCorners(kept.pose->placed, kGroundMm), index);
        const double mostN = verdict.unit == "N" ? verdict.limit : std::numeric_limits<double>::infinity(); // an ask of its force
        for (const auto& spot : listSpots(report, pose, getWishDeg(*report.project), mostN)) {
            model::Support moved = makeSupport(spot.at);
            moved.id = found->id;
            mends.push_back({"put it under " + describeSpot(*report.project, spot), [moved](const model::Project& p) { return model::putSupport(p, moved); }});
        }
    }
    mends.push_back({"take it away", [id = found->id](const model::Project& p) { return model::removeSupport(p, id); }});
}

void addHiddenVerdict(const Report& report, std::vector<Verdict>& verdicts) {
    if (!report.hidden || (report.hidden->parts.empty() && report.hidden->showing.empty())) return;
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
        v.detail = namePart(*report.project, first.part) + " is " +
                   parts::getPalette()[static_cast<std::size_t>(getPart(*report.project, first.part).colour)].name + ", what is around it mostly " +
                   parts::getPalette()[static_cast<std::size_t>(first.colour)].name + "; ";
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
    mends.push_back({std::to_string(ids.size()) + (ids.size() == 1 ? " part that nobody sees" : " parts that nobody sees") + " in " +
                         parts::getPalette()[static_cast<std::size_t>(common)].name + ": " + std::to_string(gone.size()) +
                         (gone.size() == 1 ? " colour less" : " colours less"),
                     [ids, common](const model::Project& p) { return model::recolourParts(p, ids, common); }});
}

} // namespace ivrant::verdict
