// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/files/results_json.h"

#include <cmath>
#include <map>

#include "core/base/at.h"
#include "core/make/parts_list.h"
#include "core/model/board_parts.h"
#include "core/parts/palette.h"
#include "core/study/worst_load.h"
#include "core/verdict/groups.h"
#include "core/verdict/mends.h"

namespace ivrant::files {

using model::Json;

double rounded(double value) {
    const double r = std::round(value * 1e4) / 1e4;
    return r == 0 ? 0 : r;
}
Json optionalJson(const std::optional<double>& value) { return value ? Json(rounded(*value)) : Json(nullptr); }
Json rangeJson(const model::Range& r) { return {rounded(r.low), rounded(r.high)}; }
Json pointJson(const geometry::Vec3& p) { return {rounded(p.x()), rounded(p.y()), rounded(p.z())}; }

Json makeHead(const char* verb) {
    Json json;
    json["ivrant"] = verb;
    json["version"] = 1;
    return json;
}

namespace {

Json stopJson(const model::Project& project, const pose::RangeStop& stop) {
    Json json;
    json["by"] = stop.by == pose::StopBy::Own       ? "own"
                 : stop.by == pose::StopBy::Contact ? "contact"
                 : stop.by == pose::StopBy::Seat    ? "seat"
                 : stop.by == pose::StopBy::Ring    ? "ring"
                                                    : "none";
    if (stop.by != pose::StopBy::Contact && stop.by != pose::StopBy::Seat) return json;
    json["parts"] = {model::getPart(project, stop.moving.spot).id.text,
                     model::getPart(project, stop.fixed.spot).id.text};
    json["clearance_mm"] = optionalJson(stop.clearanceMm);
    if (stop.by == pose::StopBy::Seat) {
        json["seats"] = stop.seats;
        json["open_nmm"] = rounded(stop.openNmm);
    }
    return json;
}

Json jointHead(const model::Joint& joint) {
    Json json;
    json["id"] = joint.id.text;
    json["name"] = joint.name;
    json["kind"] = joint.kind->name;
    return json;
}

Json loadJson(const model::Project& project, const pose::JointLoad& load) {
    Json json = jointHead(at(project.joints, load.joint));
    json["need_nmm"] = rounded(load.needNmm);
    json["have_nmm"] = rounded(load.have.value);
    json["margin"] = optionalJson(load.margin);
    json["pull_n"] = rounded(load.pullN);
    json["pull_limit_n"] = optionalJson(load.pullLimit ? std::optional(load.pullLimit->value) : std::nullopt);
    json["carried_g"] = rounded(load.carriedG);
    if (load.restsOn)
        json["rests"] = {model::getPart(project, load.restsOn->first).id.text,
                         model::getPart(project, load.restsOn->second).id.text};
    json["basis"] = load.have.measured ? "measured" : "starting";
    json["basis_text"] = load.have.basis;
    return json;
}

} // namespace

Json makeRangeJson(const verdict::Report& report, const study::PoseFacts& pose,
                   const std::optional<model::JointId>& only) {
    Json json = makeHead("range");
    json["pose"] = pose.name;
    json["joints"] = Json::array();
    const model::Project& project = *report.project;
    for (const auto& range : pose.ranges) {
        const model::Joint& joint = at(project.joints, range.joint);
        if (only && joint.id != *only) continue;
        if (range.freedom == 0) {
            json["joints"].push_back(jointHead(joint));
            json["joints"].back()["freedoms"] = Json::array();
        }
        Json freedom;
        freedom["name"] = joint.kind->freedomName(range.freedom);
        freedom["unit"] = joint.kind->freedomUnit(range.freedom);
        freedom["value"] = rounded(range.value);
        freedom["own"] = range.own ? rangeJson(*range.own) : Json(nullptr);
        freedom["free"] = rangeJson(range.free);
        if (range.endless) freedom["endless"] = true;
        if (range.collides) freedom["collides"] = true;
        freedom["stops"] = {{"low", stopJson(project, range.low)}, {"high", stopJson(project, range.high)}};
        freedom["wanted"] = range.wanted ? rangeJson(*range.wanted) : Json(nullptr);
        freedom["margin"] = optionalJson(range.margin);
        json["joints"].back()["freedoms"].push_back(std::move(freedom));
    }
    return json;
}

Json makeHoldJson(const verdict::Report& report, const study::PoseFacts& pose) {
    Json json = makeHead("hold");
    json["pose"] = pose.name;
    const model::MassPoint mass = model::calcMass(pose.placed);
    json["mass_g"] = rounded(mass.massG);
    json["centre_mm"] = pointJson(mass.centre);
    if (pose.tipping && pose.stance.kind != model::Stance::Kind::Held) {
        json["tip"] = {{"angle_deg", rounded(pose.tipping->angleDeg)},
                       {"toward_deg", rounded(pose.tipping->towardDeg)}};
        json["support_mm"] = Json::array();
        for (const auto& p : pose.tipping->support) json["support_mm"].push_back({rounded(p.x()), rounded(p.y())});
    } else {
        json["tip"] = nullptr;
    }
    json["joints"] = Json::array();
    for (const auto& load : pose.loads) json["joints"].push_back(loadJson(*report.project, load));
    return json;
}

Json makeWorstHoldJson(const verdict::Report& report) {
    Json json = makeHead("hold");
    json["pose"] = "worst";
    json["tilt_deg"] = rounded(report.project->tiltDeg);
    json["joints"] = Json::array();
    for (std::size_t j = 0; j < report.project->joints.size(); ++j) {
        const auto& pose = study::findWorstPose(report, j);
        const auto& load = pose.loads[j];
        const auto& worst = report.worst[j];
        Json entry = loadJson(*report.project, load);
        entry["pose"] = pose.name;
        if (worst.needNmm > load.needNmm * (1 + 1e-6)) { // the wanted ranges hold a worse one than the named poses
            entry["need_nmm"] = rounded(worst.needNmm);
            entry["margin"] = optionalJson(worst.margin);
            entry["pose"] = nullptr;
        }
        entry["values"] = Json::object();
        const auto& values = worst.needNmm > load.needNmm * (1 + 1e-6) ? worst.values : pose.values;
        for (std::size_t k = 0; k < values.size(); ++k) {
            entry["values"][report.project->joints[k].id.text] = Json::array();
            for (double v : values[k]) entry["values"][report.project->joints[k].id.text].push_back(rounded(v));
        }
        entry["base_tilt_deg"] = rounded(worst.tiltDeg);
        json["joints"].push_back(std::move(entry));
    }
    return json;
}

Json makeCheckJson(const verdict::Report& report) {
    Json json = makeHead("check");
    const auto sum = verdict::countStates(report.verdicts);
    json["summary"] = {{"fail", sum.fail}, {"thin", sum.thin}, {"good", sum.good}, {"note", sum.note}};
    json["verdicts"] = Json::array();
    // Mends are tried for the worst of each group; they are the mends of all of it that are about the same joint.
    const auto groups = verdict::groupVerdicts(report.verdicts, *report.project);
    const auto trials = verdict::makeMendTrials();
    std::map<std::string, std::vector<std::string>> mends;
    for (const auto& group : groups) {
        if (group.state == verdict::State::Good || group.state == verdict::State::Note) continue;
        std::vector<std::string> texts;
        for (const auto& mend : verdict::listMends(report, group.members.front(), nullptr, trials.get()))
            texts.push_back(mend.text);
        for (const auto& v : group.members)
            if (v.place.joint == group.members.front().place.joint && v.check == group.members.front().check)
                mends[v.id] = texts;
    }
    for (const auto& v : report.verdicts) {
        Json entry;
        entry["id"] = v.id;
        entry["check"] = v.check;
        Json place = Json::object();
        if (v.place.section) place["section"] = v.place.section->text;
        if (v.place.joint) place["joint"] = v.place.joint->text;
        if (v.place.pose) place["pose"] = v.place.pose->text;
        if (!v.place.freedom.empty()) place["freedom"] = v.place.freedom;
        if (v.place.board) place["board"] = v.place.board->text;
        if (!v.place.things.empty()) place["things"] = v.place.things;
        if (!v.place.parts.empty()) {
            place["parts"] = Json::array();
            for (const auto& part : v.place.parts) place["parts"].push_back(part.text);
        }
        entry["place"] = std::move(place);
        entry["value"] = rounded(v.value);
        entry["limit"] = rounded(v.limit);
        entry["unit"] = v.unit;
        entry["margin"] = optionalJson(v.margin);
        entry["state"] = verdict::getStateName(v.state);
        entry["basis"] = verdict::getBasisName(v.basis);
        entry["text"] = v.text;
        entry["detail"] = v.detail;
        entry["mends"] = Json::array();
        if (const auto known = mends.find(v.id); known != mends.end()) entry["mends"] = known->second;
        json["verdicts"].push_back(std::move(entry));
    }
    json["groups"] = Json::array();
    for (const auto& group : groups) {
        Json entry{{"state", verdict::getStateName(group.state)},
                   {"margin", optionalJson(group.margin)},
                   {"text", group.text},
                   {"detail", group.detail}};
        entry["verdicts"] = Json::array();
        for (const auto& v : group.members) entry["verdicts"].push_back(v.id);
        json["groups"].push_back(std::move(entry));
    }
    return json;
}

Json makePartsJson(const model::Project& project) {
    Json json = makeHead("parts");
    json["count"] = project.partCount() + model::countBoardParts(project);
    json["parts"] = Json::array();
    double mass = 0;
    for (const auto& line : make::listParts(project)) {
        mass += line.eachG * line.count;
        json["parts"].push_back({{"shape", line.shape},
                                 {"colour", parts::getColourName(line.colour)},
                                 {"count", line.count},
                                 {"each_g", rounded(line.eachG)},
                                 {"basis", line.weighed ? "measured" : "starting"}});
    }
    json["ballast"] = Json::array();
    for (const auto& line : make::listBallast(project)) {
        mass += line.massG;
        json["ballast"].push_back({{"section", line.section}, {"mass_g", rounded(line.massG)}});
    }
    json["mass_g"] = rounded(mass);
    return json;
}

Json makeStepsJson(const model::Project& project, const model::SectionTree& tree) {
    Json json = makeHead("steps");
    json["steps"] = Json::array();
    for (const auto& step : make::listSteps(project, tree)) {
        Json entry{{"number", step.number}};
        entry["section"] = step.section >= 0 ? Json(at(project.sections, step.section)->id.text) : Json(nullptr);
        entry["step"] = step.stepInSection;
        entry["added"] = Json::array();
        for (int p : step.added) entry["added"].push_back(at(at(project.sections, step.section)->parts, p).id.text);
        entry["board"] = step.board >= 0 ? Json(at(project.boards, step.board)->id.text) : Json(nullptr);
        entry["tray"] = Json::array();
        for (const auto& line : step.tray)
            entry["tray"].push_back(
                {{"shape", line.shape}, {"colour", parts::getColourName(line.colour)}, {"count", line.count}});
        if (step.after >= 0) entry["after"] = at(project.sections, step.after)->id.text;
        entry["joint"] = step.joint >= 0 ? Json(at(project.joints, step.joint).id.text) : Json(nullptr);
        json["steps"].push_back(std::move(entry));
    }
    return json;
}

Json makeErrorJson(const base::Error& error) {
    Json json;
    json["ivrant"] = "error";
    json["code"] = error.code;
    json["pointer"] = error.place;
    json["message"] = error.message;
    return json;
}

} // namespace ivrant::files
