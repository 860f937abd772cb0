// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/files/results_walk.h"

#include <nlohmann/json.hpp>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/files/parts_csv.h"
#include "core/files/results_json.h"
#include "core/study/walk_words.h"

namespace ivrant::files {
namespace {

using model::Json;
using study::WalkPlace;
using study::WalkStudy;

Json walkPlaceJson(const WalkPlace& place) {
    Json stands = Json::array();
    for (std::size_t f = 0; f < place.stands.size(); ++f)
        if (place.stands[f]) stands.push_back(f);
    return {{"at", rounded(place.at)},
            {"way_mm", {rounded(place.way.x()), rounded(place.way.y())}},
            {"heading_deg", rounded(place.headingDeg)},
            {"height_mm", rounded(place.heightMm)},
            {"tilt_deg", rounded(place.tiltDeg)},
            {"tip_deg", rounded(place.support.tipDeg)},
            {"points", place.support.contacts.size()},
            {"stands", std::move(stands)},
            {"weight_nmm", rounded(place.weightNmm)},
            {"slip_nmm", rounded(place.slipNmm)},
            {"friction_nmm", rounded(place.frictionNmm)}};
}

Json walkJson(const model::Project& project, const model::Motion& motion, const WalkStudy& walk, bool places) {
    Json json{{"id", motion.id.text}, {"name", motion.name}};
    json["problem"] = walk.problem.empty() ? Json(nullptr) : Json(walk.problem);
    json["code"] = walk.code.empty() ? Json(nullptr) : Json(walk.code);
    json["feet"] = Json::array();
    for (const auto& foot : walk.feet)
        json["feet"].push_back({{"section", at(project.sections, foot.section)->id.text},
                                {"name", at(project.sections, foot.section)->name},
                                {"share", rounded(foot.share)},
                                {"lift_mm", rounded(foot.liftMm)}});
    if (walk.places.size() < 2) return json;
    json["course"] = study::describeCourse(walk);
    json["stride_mm"] = rounded(walk.strideMm);
    json["turn_deg"] = rounded(walk.turnDeg);
    json["radius_mm"] = walk.radiusMm ? Json(rounded(*walk.radiusMm)) : Json(nullptr);
    json["rise_mm"] = rounded(walk.riseMm);
    json["tilt_deg"] = rounded(walk.mostTiltDeg);
    json["slip_mm"] = rounded(walk.slipMm);
    json["least_tip"] = {{"deg", rounded(walk.leastTipDeg)}, {"at", rounded(walk.leastTipAt)}};
    json["rock"] = {{"deg", rounded(walk.rockDeg)}, {"at", rounded(walk.rockAt)}};
    json["few_points"] = walk.fewPoints;
    if (walk.clearSection >= 0)
        json["clearance"] = {{"mm", rounded(walk.clearMm)},
                             {"at", rounded(walk.clearAt)},
                             {"section", at(project.sections, walk.clearSection)->name}};
    json["most_torque"] = {{"nmm", rounded(walk.mostTorqueNmm)}, {"at", rounded(walk.mostTorqueAt)}};
    json["work_nmm"] = {{"joints", rounded(walk.jointWorkNmm)}, {"slip", rounded(walk.slipWorkNmm)}};
    json["friction_measured"] = walk.frictionMeasured;
    if (!places) return json;
    json["places"] = Json::array();
    for (const WalkPlace& place : walk.places) json["places"].push_back(walkPlaceJson(place));
    return json;
}

} // namespace

Json makeWalksJson(const study::Facts& facts, bool places) {
    Json json = makeHead("walk");
    json["walks"] = Json::array();
    for (const auto& study : facts.motions)
        if (study->walk)
            json["walks"].push_back(
                walkJson(*facts.project, at(facts.project->motions, study->index), *study->walk, places));
    return json;
}

std::string makeWalkCsv(const model::Project& project, const WalkStudy& walk) {
    std::string text = "driver_deg,x_mm,y_mm,heading_deg,height_mm,tilt_deg,tip_deg,weight_nmm,slip_nmm,friction_nmm";
    for (const auto& foot : walk.feet) text += "," + csvField(at(project.sections, foot.section)->name);
    text += "\n";
    const auto number = [](double v) { return base::formatNumber(v, 3); };
    for (const WalkPlace& p : walk.places) {
        text += number(p.at) + "," + number(p.way.x()) + "," + number(p.way.y()) + "," + number(p.headingDeg) + "," +
                number(p.heightMm) + "," + number(p.tiltDeg) + "," + number(p.support.tipDeg) + "," +
                number(p.weightNmm) + "," + number(p.slipNmm) + "," + number(p.frictionNmm);
        for (const char stands : p.stands) text += stands ? ",1" : ",0";
        text += "\n";
    }
    return text;
}

} // namespace ivrant::files
