// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/files/results_lines.h"

#include <nlohmann/json.hpp>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/files/parts_csv.h"
#include "core/files/results_json.h"
#include "core/study/strand_words.h"

namespace ivrant::files {
namespace {

using model::Json;
using study::StrandPlace;
using study::StrandStudy;

Json optionalJson(const std::optional<double>& value) { return value ? Json(rounded(*value)) : Json(nullptr); }

Json posesJson(const study::Facts& facts, const StrandStudy& study) {
    Json json = Json::array();
    for (const auto& one : study.poses)
        json.push_back({{"pose", at(facts.poses, one.pose).name},
                        {"way_mm", rounded(one.state.path.lengthMm)},
                        {"longer_mm", rounded(one.longerMm)},
                        {"stretch_mm", rounded(one.state.stretchMm)},
                        {"pull_n", rounded(one.state.pullN)},
                        {"free_guides", one.state.path.free},
                        {"short_by_mm", rounded(one.lackMm)},
                        {"slack_mm", rounded(std::max(one.slackMm, one.slackThereMm))},
                        {"travel_mm", optionalJson(one.travelMm)},
                        {"pulled_along", optionalJson(one.pulledDeg)}});
    return json;
}

Json strandPlaceJson(const study::Facts& facts, const StrandPlace& place) {
    return {{"pose", at(facts.poses, place.pose).name},
            {"at", rounded(place.at)},
            {"need_nmm", rounded(place.needNmm)},
            {"lever_mm", rounded(place.leverMm)},
            {"help_nmm", rounded(place.helpNmm)},
            {"knot_n", rounded(place.knotN)},
            {"pull_n", rounded(place.pullN)}};
}

Json strandJson(const study::Facts& facts, const StrandStudy& study, bool places) {
    const model::Project& project = *facts.project;
    const model::Line& line = at(project.lines, study.index);
    Json json{{"id", line.id.text},
              {"name", line.name},
              {"kind", model::getLineKindName(line.kind)},
              {"end", model::getLineEndName(line.end)},
              {"count", line.count}};
    json["way"] = Json::array();
    for (std::size_t g = 0; g < line.guides.size(); ++g)
        json["way"].push_back(study::describeStation(project, line, g));
    json["problem"] = study.problem.empty() ? Json(nullptr) : Json(study.problem);
    json["code"] = study.code.empty() ? Json(nullptr) : Json(study.code);
    json["rest_mm"] = rounded(study.restMm);
    json["law"] = study::describeLaw(line);
    json["result"] = study::describeResult(facts, study);
    json["poses"] = posesJson(facts, study);
    if (!study.problem.empty()) return json;
    json["wanted_ranges"] = {{"shortest_mm", rounded(study.span.leastMm)},
                             {"longest_mm", rounded(study.span.mostMm)},
                             {"short_by_mm", rounded(study.spanLackMm)},
                             {"slack_mm", rounded(study.spanSlackMm)},
                             {"pulled_along", optionalJson(study.spanPulledDeg)}};
    json["most_stretch_mm"] = rounded(study.mostStretchMm);
    json["beyond_law"] = study.beyondLaw;
    if (line.kind == model::LineKind::String) json["cut_mm"] = rounded(study.cutMm);
    if (study.joint < 0) return json;
    json["works"] = {{"joint", line.works->joint.text}, {"from", line.works->from}, {"to", line.works->to}};
    json["missed"] = Json::array();
    for (const int pose : study.missed) json["missed"].push_back(at(facts.poses, pose).name);
    json["hardest"] = study.hardest < 0 ? Json(nullptr) : strandPlaceJson(facts, at(study.places, study.hardest));
    json["wrong_way"] = study.wrongWay < 0 ? Json(nullptr) : strandPlaceJson(facts, at(study.places, study.wrongWay));
    json["friction_measured"] = study.frictionMeasured;
    if (line.kind == model::LineKind::String) {
        json["travel_mm"] = {rounded(study.leastTravelMm), rounded(study.mostTravelMm)};
        json["joints"] = Json::array();
        for (const auto& one : study.joints)
            json["joints"].push_back({{"joint", at(project.joints, one.joint).id.text},
                                      {"name", at(project.joints, one.joint).name},
                                      {"pose", at(facts.poses, one.pose).name},
                                      {"need_nmm", rounded(one.needNmm)},
                                      {"at_rest_nmm", rounded(one.withoutNmm)},
                                      {"have_nmm", rounded(one.have.value)}});
        json["bonds"] = nullptr;
        if (study.pulled) {
            const auto& e = study.pulled->equilibrium;
            json["bonds"] = {{"stands", e.stands}, {"lambda", optionalJson(e.lambda)}};
        }
    }
    if (line.kind == model::LineKind::Band) json["enough"] = study.needCount;
    if (line.kind == model::LineKind::Spring) {
        json["sags_to"] = optionalJson(study.sagAt);
        json["travel_left_mm"] = rounded(study.sagLeftMm);
        json["flat"] = study.flat;
    }
    if (!places) return json;
    json["places"] = Json::array();
    for (const StrandPlace& place : study.places) json["places"].push_back(strandPlaceJson(facts, place));
    return json;
}

} // namespace

Json makeLinesJson(const study::Facts& facts, bool places) {
    Json json = makeHead("strands");
    json["lines"] = Json::array();
    for (const auto& study : facts.lines) json["lines"].push_back(strandJson(facts, *study, places));
    return json;
}

std::string makeLineCsv(const study::Facts& facts, const StrandStudy& study) {
    std::string text = "pose,joint_at,need_nmm,lever_mm,help_nmm,knot_n,pull_n\n";
    const auto number = [](double v) { return base::formatNumber(v, 3); };
    for (const StrandPlace& p : study.places)
        text += csvField(at(facts.poses, p.pose).name) + "," + number(p.at) + "," + number(p.needNmm) + "," +
                number(p.leverMm) + "," + number(p.helpNmm) + "," + number(p.knotN) + "," + number(p.pullN) + "\n";
    return text;
}

} // namespace ivrant::files
