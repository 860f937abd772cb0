// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/files/results_pose.h"
#include "core/parts/own_shape.h"

#include "core/base/at.h"
#include "core/files/results_json.h"

namespace ivrant::files {
namespace {

using model::Json;

const model::Joint& jointAt(const model::Project& project, int joint) { return at(project.joints, joint); }

Json valuesJson(const model::Project& project, const pose::JointValues& values) {
    Json json = Json::object();
    for (std::size_t j = 0; j < values.size(); ++j) {
        Json list = Json::array();
        for (double v : values[j]) list.push_back(rounded(v));
        json[project.joints[j].id.text] = std::move(list);
    }
    return json;
}

Json pairJson(const model::Project& project, const pose::SolidRef& a, const pose::SolidRef& b) {
    return {model::getPart(project, a.spot).id.text, model::getPart(project, b.spot).id.text};
}

Json bendJson(const model::Project& project, const pose::BendLimit& limit) {
    Json json;
    json["total_deg"] = rounded(limit.totalDeg);
    json["single_sum_deg"] = rounded(limit.singleSumDeg);
    json["radius_mm"] = rounded(limit.radiusMm);
    json["meets"] = limit.moving ? pairJson(project, *limit.moving, *limit.fixed) : Json(nullptr);
    return json;
}

Json sideJson(const std::optional<verdict::JointSide>& side) {
    if (!side) return nullptr;
    Json json;
    json["kind"] = side->kind;
    json["free"] = side->free ? rangeJson(*side->free) : Json(nullptr);
    json["need_nmm"] = rounded(side->needNmm);
    json["have_nmm"] = rounded(side->haveNmm);
    json["margin"] = optionalJson(side->margin);
    return json;
}

} // namespace

Json makeMapJson(const model::Project& project, const pose::TwoJointMap& map) {
    Json json = makeHead("map");
    for (const auto& [key, freedom, range] : {std::tuple("first", map.request.first, map.request.firstRange),
                                              std::tuple("second", map.request.second, map.request.secondRange)}) {
        const auto& joint = jointAt(project, freedom.joint);
        json[key] = {{"id", joint.id.text},
                     {"name", joint.name},
                     {"freedom", joint.kind->freedomName(freedom.freedom)},
                     {"range", rangeJson(range)}};
    }
    json["steps"] = map.request.steps;
    json["free_share"] = rounded(map.freeShare);
    json["cells"] = Json::array();
    for (int i = 0; i < map.request.steps; ++i) {
        std::string row;
        for (int k = 0; k < map.request.steps; ++k)
            row += map.at(i, k) == pose::Cell::Free ? '.' : map.at(i, k) == pose::Cell::Blocked ? '#' : '-';
        json["cells"].push_back(std::move(row));
    }
    return json;
}

Json makeChainJson(const model::Project& project, const pose::ChainStudy& study, const pose::SagStudy& sag,
                   const std::vector<pose::FirmAdvice>& firm) {
    Json json = makeHead("chain");
    json["length_mm"] = rounded(study.lengthMm);
    json["tip_play_mm"] = rounded(study.tipPlayMm);
    json["low"] = bendJson(project, study.low);
    json["high"] = bendJson(project, study.high);
    json["play"] = Json::array();
    for (const auto& play : study.play)
        json["play"].push_back({{"joint", jointAt(project, play.joint).name},
                                {"lever_mm", rounded(play.leverMm)},
                                {"play_mm", rounded(play.playMm)}});
    json["sag_mm"] = rounded(sag.tipDropMm);
    json["settled"] = sag.settled;
    json["sag"] = Json::array();
    for (const auto& step : sag.steps)
        json["sag"].push_back({{"joint", jointAt(project, step.joint).name},
                               {"margin", rounded(step.margin)},
                               {"from_deg", rounded(step.fromDeg)},
                               {"to_deg", rounded(step.toDeg)},
                               {"stopped", step.stopped},
                               {"drop_mm", rounded(step.tipDropMm)}});
    json["firm_first"] = Json::array();
    for (const auto& f : firm)
        json["firm_first"].push_back(
            {{"joint", jointAt(project, f.joint).name}, {"drop_left_mm", rounded(f.dropWithoutMm)}});
    return json;
}

Json makeChoicesJson(const model::Joint& joint, const std::vector<pose::JointChoice>& choices) {
    Json json = makeHead("choose");
    json["joint"] = joint.name;
    json["choices"] = Json::array();
    for (const auto& c : choices) {
        Json entry;
        entry["kind"] = c.kind->name;
        entry["present"] = c.present;
        entry["in_place"] = c.inPlace;
        entry["score"] = rounded(c.score);
        entry["free"] = c.free ? rangeJson(*c.free) : Json(nullptr);
        entry["covers"] = c.covers;
        entry["need_nmm"] = rounded(c.needNmm);
        entry["have_nmm"] = rounded(c.strength.holding.value);
        entry["margin"] = optionalJson(c.margin);
        entry["basis"] = c.strength.holding.measured ? "measured" : "starting";
        entry["step_deg"] = rounded(c.kind->stepDeg);
        entry["length_change_mm"] = rounded(c.lengthChangeMm);
        entry["gap_mm2"] = rounded(c.gapMm2);
        entry["price_class"] = c.kind->priceClass;
        entry["loss_per_100"] = optionalJson(c.strength.lossPer100);
        entry["collisions"] = c.newCollisions;
        entry["says"] = c.says;
        entry["ruled_out"] = c.ruledOut;
        entry["remove"] = c.remove;
        entry["add"] = c.add;
        entry["nearest"] = Json::array();
        for (const auto& n : c.nearest)
            entry["nearest"].push_back(
                {{"pose", n.pose}, {"wanted", rounded(n.wanted)}, {"nearest", rounded(n.nearest)}});
        json["choices"].push_back(std::move(entry));
    }
    return json;
}

Json makeClearanceJson(const model::Project& project, const model::Joint& joint, const pose::TurnClearance& clearance,
                       std::optional<double> offAxisMm) {
    Json json = makeHead("clearance");
    json["joint"] = joint.name;
    json["passes"] = clearance.passes;
    json["gap_mm"] = rounded(clearance.gapMm);
    json["at_deg"] = rounded(clearance.atDeg);
    json["parts"] = pairJson(project, clearance.moving, clearance.fixed);
    json["off_axis_mm"] = optionalJson(offAxisMm);
    return json;
}

Json makeReachJson(const model::Project& project, int section, const pose::Reach& reach) {
    Json json = makeHead("reach");
    json["section"] = at(project.sections, section)->name;
    json["tried"] = reach.tried;
    json["free"] = reach.points.size();
    json["under_ground"] = reach.underGround;
    if (!reach.bounds.empty()) {
        json["low_mm"] = pointJson(reach.bounds.low);
        json["high_mm"] = pointJson(reach.bounds.high);
    }
    for (const auto& [key, index] : {std::pair("lowest", reach.lowest), std::pair("highest", reach.highest),
                                     std::pair("farthest", reach.farthest)})
        if (index >= 0)
            json[key] = {{"at_mm", pointJson(at(reach.points, index))},
                         {"values", valuesJson(project, at(reach.poses, index))}};
    return json;
}

Json makePathJson(const model::Project& project, const pose::PathCheck& check,
                  const std::optional<pose::Detour>& detour) {
    Json json = makeHead("path");
    json["free"] = check.free;
    json["free_share"] = rounded(check.freeShare);
    json["meets"] =
        check.blockedBy ? pairJson(project, check.blockedBy->first, check.blockedBy->second) : Json(nullptr);
    json["limit_of"] = check.limitOf ? Json(jointAt(project, *check.limitOf).name) : Json(nullptr);
    json["other_way"] = Json::array();
    for (const int j : check.otherWay) json["other_way"].push_back(jointAt(project, j).name);
    if (!check.otherWay.empty()) json["values"] = valuesJson(project, check.to);
    json["detour"] = nullptr;
    if (!detour) return json;
    json["detour"] = Json::array();
    for (const auto& values : detour->through) json["detour"].push_back(valuesJson(project, values));
    return json;
}

Json makeGapsJson(const model::Joint& joint, const std::vector<pose::GapOverRange>& gaps) {
    Json json = makeHead("gaps");
    json["joint"] = joint.name;
    json["views"] = Json::array();
    for (const auto& g : gaps)
        json["views"].push_back({{"view", at(pose::getGapViews(), g.view).name},
                                 {"now_mm2", rounded(g.nowMm2)},
                                 {"least_mm2", rounded(g.leastMm2)},
                                 {"most_mm2", rounded(g.mostMm2)},
                                 {"most_at", rounded(g.mostAt)}});
    return json;
}

Json makeCoversJson(const model::Project& project, const std::vector<pose::CoverCost>& costs) {
    const auto range = [](const pose::FreedomRange& r) {
        return r.endless ? Json("all round") : Json{rounded(r.free.low), rounded(r.free.high)};
    };
    Json json = makeHead("covers");
    json["costs"] = Json::array();
    for (const auto& c : costs) {
        const auto& joint = jointAt(project, c.freedom.joint);
        json["costs"].push_back({{"joint", joint.name},
                                 {"freedom", std::string(joint.kind->freedomName(c.freedom.freedom))},
                                 {"with", range(c.with)},
                                 {"without", range(c.without)},
                                 {"cost", rounded(c.costDeg)}});
    }
    return json;
}

Json makeOwnShapeJson(const parts::Shape& shape) {
    const auto size = shape.bounds.size();
    Json json = makeHead("own");
    json["name"] = shape.name;
    json["mass_g"] = rounded(shape.massG);
    json["size_mm"] = {rounded(size.x()), rounded(size.y()), rounded(size.z())};
    json["centre_mm"] = {rounded(shape.centre.x()), rounded(shape.centre.y()), rounded(shape.centre.z())};
    json["triangles"] = shape.own->mesh.triangles.size();
    json["pieces"] = shape.own->pieces.size();
    json["excess_share"] = rounded(shape.own->excessShare);
    json["outside_mm"] = rounded(shape.own->outsideMm);
    json["ports"] = shape.own->ports.size();
    return json;
}

Json makeCompareJson(const verdict::Comparison& comparison) {
    Json json = makeHead("compare");
    json["a"] = comparison.nameA;
    json["b"] = comparison.nameB;
    json["figures"] = Json::array();
    for (const auto& f : comparison.figures)
        json["figures"].push_back({{"what", f.what}, {"unit", f.unit}, {"a", rounded(f.a)}, {"b", rounded(f.b)}});
    json["joints"] = Json::array();
    for (const auto& j : comparison.joints)
        json["joints"].push_back(
            {{"name", j.name}, {"differs", j.differs()}, {"a", sideJson(j.a)}, {"b", sideJson(j.b)}});
    json["lengths"] = Json::array();
    for (const auto& l : comparison.lengths)
        json["lengths"].push_back({{"from", l.from}, {"to", l.to}, {"a_mm", rounded(l.aMm)}, {"b_mm", rounded(l.bMm)}});
    json["parts"] = Json::array();
    for (const auto& p : comparison.parts)
        json["parts"].push_back({{"shape", p.shape}, {"colour", p.colour}, {"a", p.countA}, {"b", p.countB}});
    return json;
}

} // namespace ivrant::files
