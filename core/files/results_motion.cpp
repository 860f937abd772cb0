// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/files/results_motion.h"

#include <nlohmann/json.hpp>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/files/parts_csv.h"
#include "core/files/results_json.h"
#include "core/study/motion_words.h"

namespace ivrant::files {
namespace {

using model::Json;
using study::MotionPlace;
using study::MotionStudy;

const char* endName(pose::LoopEnd end) {
    switch (end) {
    case pose::LoopEnd::Reached: return "reached";
    case pose::LoopEnd::Dead: return "dead point";
    case pose::LoopEnd::Limit: return "limit";
    case pose::LoopEnd::Open: return "open";
    }
    return "";
}

Json motionEndJson(const model::Project& project, const study::MotionEnd& end) {
    Json json{{"by", endName(end.by)}, {"at", rounded(end.at)}};
    if (end.joint >= 0 && end.by == pose::LoopEnd::Limit) json["joint"] = at(project.joints, end.joint).id.text;
    return json;
}

Json hardestJson(const MotionStudy& study, int place, bool growing) {
    if (place < 0) return nullptr;
    const auto k = static_cast<std::size_t>(place);
    return {{"at", rounded(study.places[k].at)}, {"torque", rounded(study.torqueAt(k, growing))}};
}

Json freedomsJson(const model::Project& project, const std::vector<pose::FreedomRef>& list) {
    Json json = Json::array();
    for (const auto& f : list)
        json.push_back({{"joint", at(project.joints, f.joint).id.text},
                        {"freedom", at(project.joints, f.joint).kind->freedomName(f.freedom)}});
    return json;
}

Json placeJson(const model::Project& project, const MotionStudy& study, std::size_t k) {
    const MotionPlace& p = study.places[k];
    Json json{{"at", rounded(p.at)}, {"gravity", rounded(p.gravityNmm)}, {"friction", rounded(p.frictionNmm)}};
    json["transmission_deg"] = p.sineJoint < 0 ? Json(nullptr) : Json(rounded(study::getTransmissionDeg(p)));
    if (p.tipDeg) json["tip_deg"] = rounded(*p.tipDeg);
    for (const int j : study.plan.moved) {
        Json values = Json::array();
        for (const double v : at(p.values, j)) values.push_back(rounded(v));
        json["values"][at(project.joints, j).id.text] = std::move(values);
    }
    for (const auto& trace : study.traces) json["traced"].push_back(pointJson(trace.path[k]));
    return json;
}

Json studyJson(const model::Project& project, const model::SectionTree& tree, const MotionStudy& study, bool places) {
    const model::Motion& motion = at(project.motions, study.index);
    Json json{{"id", motion.id.text}, {"name", motion.name}, {"joint", motion.joint.text}};
    json["problem"] = study.problem.empty() ? Json(nullptr) : Json(study.problem);
    json["code"] = study.code.empty() ? Json(nullptr) : Json(study.code);
    if (study.plan.moved.empty()) return json;
    json["loops"] = study.loops;
    json["blocks"] = study.plan.blocks.size();
    json["gap_mm"] = rounded(study.gapMm);
    json["gap_deg"] = rounded(study.gapDeg);
    json["idle"] = freedomsJson(project, study.plan.idle);
    json["spins"] = freedomsJson(project, study.plan.spins);
    json["stiff"] = freedomsJson(project, study.plan.stiff);
    if (study.places.empty()) return json;
    json["unit"] = std::string(study::getDriverUnit(project, study)) == "°" ? "deg" : "mm";
    json["travel"] = study::describeTravel(project, study);
    json["all_round"] = study.allRound;
    json["returns"] = study.returns;
    json["from"] = rounded(study.places.front().at);
    json["to"] = rounded(study.places.back().at);
    json["low"] = motionEndJson(project, study.low);
    json["high"] = motionEndJson(project, study.high);
    json["change_points"] = Json::array();
    for (const double point : study.changePoints) json["change_points"].push_back(rounded(point));
    if (study.leastSine >= 0) {
        const MotionPlace& p = at(study.places, study.leastSine);
        json["transmission"] = {{"least_deg", rounded(study::getTransmissionDeg(p))},
                                {"at", rounded(p.at)},
                                {"joint", at(project.joints, p.sineJoint).id.text},
                                {"where", study::describeBetween(project, tree, p.sineJoint)},
                                {"is_angle", p.sineIsAngle}};
    } else {
        json["transmission"] = nullptr;
    }
    json["hardest_growing"] = hardestJson(study, study.hardestUp, true);
    json["hardest_falling"] = hardestJson(study, study.hardestDown, false);
    json["friction_measured"] = study.frictionMeasured;
    if (study.leastTip)
        json["least_tip"] = {{"at", rounded(at(study.places, *study.leastTip).at)},
                             {"deg", rounded(*at(study.places, *study.leastTip).tipDeg)}};
    json["joints"] = Json::array();
    for (const auto& one : study.joints)
        json["joints"].push_back({{"joint", at(project.joints, one.joint).id.text},
                                  {"name", at(project.joints, one.joint).name},
                                  {"low", rounded(one.low)},
                                  {"high", rounded(one.high)},
                                  {"round", one.round},
                                  {"most_ratio", rounded(one.mostRate)},
                                  {"time_ratio", rounded(one.timeRatio)}});
    json["traced"] = Json::array();
    for (const auto& trace : study.traces)
        json["traced"].push_back(
            {{"name", trace.name}, {"length_mm", rounded(trace.lengthMm)}, {"size_mm", pointJson(trace.size)}});
    json["meets"] = Json::array();
    for (const auto& one : study.meetings)
        json["meets"].push_back({{"a", model::getPart(project, one.a.spot).id.text},
                                 {"b", model::getPart(project, one.b.spot).id.text},
                                 {"parts", study::describeParts(project, one)},
                                 {"from", rounded(one.from)},
                                 {"to", rounded(one.to)},
                                 {"times", one.times},
                                 {"at_start", one.atStart}});
    if (!places) return json;
    json["places"] = Json::array();
    for (std::size_t k = 0; k < study.places.size(); ++k) json["places"].push_back(placeJson(project, study, k));
    return json;
}

} // namespace

Json makeMotionsJson(const model::Project& project, const model::SectionTree& tree,
                     const std::vector<std::shared_ptr<const MotionStudy>>& studies, bool places) {
    Json json = makeHead("motion");
    json["motions"] = Json::array();
    for (const auto& study : studies) json["motions"].push_back(studyJson(project, tree, *study, places));
    return json;
}

std::string makeMotionCsv(const model::Project& project, const MotionStudy& study) {
    if (study.plan.moved.empty()) return "";
    const bool slides = std::string(study::getDriverUnit(project, study)) == " mm";
    std::string text = slides ? "driver_mm,gravity_n,friction_n,transmission_deg,tip_deg"
                              : "driver_deg,gravity_nmm,friction_nmm,transmission_deg,tip_deg";
    for (const int j : study.plan.moved) {
        const auto& joint = at(project.joints, j);
        for (int f = 0; f < joint.kind->freedomCount(); ++f)
            text += "," + csvField(joint.name + " " + std::string(joint.kind->freedomName(f)) + " " +
                                   std::string(joint.kind->freedomUnit(f)));
    }
    for (const auto& trace : study.traces)
        for (const char* axis : {" x mm", " y mm", " z mm"}) text += "," + csvField(trace.name + axis);
    text += "\n";
    const auto number = [](double v) { return base::formatNumber(v, 3); };
    for (std::size_t k = 0; k < study.places.size(); ++k) {
        const MotionPlace& p = study.places[k];
        text += number(p.at) + "," + number(p.gravityNmm) + "," + number(p.frictionNmm) + "," +
                (p.sineJoint < 0 ? "" : number(study::getTransmissionDeg(p))) + "," +
                (p.tipDeg ? number(*p.tipDeg) : "");
        for (const int j : study.plan.moved)
            for (const double v : at(p.values, j)) text += "," + number(v);
        for (const auto& trace : study.traces)
            for (const double v : {trace.path[k].x(), trace.path[k].y(), trace.path[k].z()}) text += "," + number(v);
        text += "\n";
    }
    return text;
}

} // namespace ivrant::files
