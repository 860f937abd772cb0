// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/files/results_drive.h"

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/drive/strand_turn.h"
#include "core/files/results_json.h"

namespace ivrant::files {
namespace {

using model::Json;

Json ratioJson(const drive::Rational& ratio) {
    return {{"fraction", drive::formatRatio(ratio)}, {"decimal", ratio.get_d()}};
}

Json pointJson(const drive::MotorShare& share, const drive::DriveReport& drive) {
    Json json;
    json["motor"] = at(drive.motors, share.motor).motor.name;
    if (share.helps) json["helps"] = at(drive.motors, share.leader).motor.name;
    json["ratio"] = ratioJson(share.ratio);
    if (!share.known) return json;
    json["rpm"] = rounded(share.point.rpm);
    json["torque_nmm"] = rounded(share.point.torqueNmm);
    json["stall_nmm"] = rounded(share.point.stallNmm);
    json["current_a"] = rounded(share.point.currentA);
    json["voltage_v"] = rounded(share.point.voltageV);
    json["run_min"] = rounded(share.point.runMinutes);
    json["stalls"] = share.point.stalls;
    json["hot"] = share.point.hot;
    return json;
}

Json functionJson(const drive::FunctionState& state, const drive::DriveReport& drive) {
    Json json;
    json["id"] = state.function->id.text;
    json["name"] = state.function->name;
    json["locked"] = state.locked;
    json["loose"] = state.loose;
    json["stuck"] = state.stuck;
    json["together"] = state.together;
    json["motors"] = Json::array();
    for (const auto& share : state.motors) json["motors"].push_back(pointJson(share, drive));
    json["creep"] = Json::array();
    for (const auto& share : state.creep) json["creep"].push_back(pointJson(share, drive));
    json["hardest"] = {{"torque_nmm", rounded(state.hardest.nmm)},
                       {state.straight ? "at_mm" : "at_deg", rounded(state.hardest.at)}};
    json[state.straight ? "speed_mm_s" : "speed_rpm"] = rounded(state.speed);
    json["margin"] = state.margin ? Json(rounded(*state.margin)) : Json(nullptr);
    json["travel_s"] = state.travelS ? Json(rounded(*state.travelS)) : Json(nullptr);
    json[state.straight ? "play_mm" : "play_deg"] = rounded(state.playDeg);
    json["holds"] = state.holds;
    json["without_power"] = drive::getRestName(state);
    json["in_w"] = state.inW;
    json["out_w"] = state.outW;
    json["lost_w"] = state.lostW;
    return json;
}

Json thingJson(const drive::DriveReport& drive, std::size_t t) {
    const auto& thing = drive.net.rotors[t];
    Json json;
    json["id"] = thing.id;
    json["name"] = thing.name;
    json["kind"] = thing.kind == drive::Rotor::Kind::Shaft   ? "shaft"
                   : thing.kind == drive::Rotor::Kind::Wheel ? "wheel"
                   : thing.kind == drive::Rotor::Kind::Rack  ? "rack"
                                                             : "rod";
    if (thing.carrier >= 0) json["relative_to"] = at(drive.net.rotors, thing.carrier).id;
    json["locked"] = drive.motion.isLocked(static_cast<int>(t));
    json["turns"] = Json::array();
    for (const auto& [independent, factor] : drive.motion.motions[t]) {
        Json entry = ratioJson(factor);
        entry["of"] = at(drive.net.rotors, independent).id;
        json["turns"].push_back(std::move(entry));
    }
    return json;
}

} // namespace

Json makeDriveJson(const verdict::Report& report, const std::optional<model::BoardId>& board) {
    const drive::DriveReport& drive = *report.drive;
    const auto isShown = [&](int index) { return !board || at(report.project->boards, index)->id == *board; };
    Json json = makeHead("drive");
    json["freedom"] = drive.motion.freedom();
    json["things"] = Json::array();
    for (std::size_t t = 0; t < drive.net.rotors.size(); ++t)
        if (isShown(drive.net.rotors[t].board)) json["things"].push_back(thingJson(drive, t));
    json["loose"] = Json::array();
    for (int t : drive.motion.listLoose(drive.drivers)) json["loose"].push_back(at(drive.net.rotors, t).id);
    json["meshes"] = Json::array();
    for (std::size_t r = 0; r < drive.net.relations.size(); ++r) {
        const auto& relation = drive.net.relations[r];
        json["meshes"].push_back(
            {{"text", relation.text}, {"ids", relation.ids}, {"error_mm", rounded(relation.errorMm)}});
    }
    json["faults"] = Json::array();
    for (const auto& fault : drive.net.faults) {
        const auto &a = at(drive.net.rings, fault.gearA), &b = at(drive.net.rings, fault.gearB);
        json["faults"].push_back(
            {{"ids", {a.id, b.id}}, {"fit", drive::getFitName(fault.fit)}, {"error_mm", rounded(fault.errorMm)}});
    }
    json["clashes"] = Json::array();
    for (const auto& clash : drive.net.clashes)
        json["clashes"].push_back(
            {{"ids", {clash.idA, clash.idB}}, {"text", clash.text}, {"depth_mm", rounded(clash.depthMm)}});
    json["strands"] = Json::array();
    for (std::size_t b = 0; b < report.project->boards.size(); ++b)
        for (const model::Strand& strand : report.project->boards[b]->strands)
            if (isShown(static_cast<int>(b)))
                json["strands"].push_back({{"id", strand.id.text},
                                           {"over", strand.over.text},
                                           {"turns_deg", rounded(drive::calcStrandTurnDeg(strand))}});
    json["carried"] = Json::array();
    for (const auto& support : drive.net.supports)
        if (isShown(at(drive.net.rotors, drive.net.findRotor(support.shaft)).board))
            json["carried"].push_back(
                {{"shaft", support.shaft}, {"at_mm", support.holesMm}, {"by_bricks", support.bricks}});
    const auto positionJson = [&](const drive::PositionState& position) {
        Json entry;
        entry["selector"] = position.selector;
        entry["position"] = position.name;
        entry["now"] = position.present;
        entry["freedom"] = position.freedom;
        entry["lock"] = position.lock;
        entry["stuck"] = position.stuck;
        entry["fighting"] = Json::array();
        for (int m : position.fighting) entry["fighting"].push_back(at(drive.motors, m).motor.name);
        entry["dragged"] = Json::array();
        for (int m : position.dragged) entry["dragged"].push_back(at(drive.motors, m).motor.name);
        entry["alike"] = Json::array();
        for (int t : position.alike) entry["alike"].push_back(at(drive.net.rotors, t).name);
        entry["functions"] = Json::array();
        for (const auto& function : position.functions)
            if (isShown(function.board)) entry["functions"].push_back(functionJson(function, drive));
        return entry;
    };
    json["positions"] = Json::array();
    for (const auto& position : drive.positions) json["positions"].push_back(positionJson(position));
    json["combinations"] = Json::array();
    for (const auto& position : drive.combinations) json["combinations"].push_back(positionJson(position));
    json["combinations_left_out"] = drive.leftOut;
    json["notes"] = drive.net.notes;
    json["basis"] = "starting";
    return json;
}

namespace {

Json offsetJson(const drive::FitOffset& fit) {
    return {{"dx_mm", rounded(base::umToMm(fit.dxUm))},
            {"dy_mm", rounded(base::umToMm(fit.dyUm))},
            {"error_mm", rounded(fit.errorMm)},
            {"in", drive::getGridStepName(fit.step)}};
}

Json groupJson(const drive::RatioGroup& group) {
    Json json = ratioJson(group.ratio);
    json["error"] = group.error;
    json["ways"] = group.count;
    json["trains"] = Json::array();
    for (const auto& train : group.trains) {
        Json entry;
        entry["length_mm"] = rounded(train.lengthMm);
        entry["stages"] = Json::array();
        for (const auto& stage : train.stages) {
            Json one = offsetJson(stage.offset);
            one["driver"] = stage.worm ? Json("worm") : Json(stage.driver);
            one["driven"] = stage.driven;
            entry["stages"].push_back(std::move(one));
        }
        json["trains"].push_back(std::move(entry));
    }
    return json;
}

} // namespace

Json makeRatioJson(const drive::RatioWish& wish, const drive::RatioResult& result) {
    Json json = makeHead("ratio");
    json["wanted"] = wish.ratio;
    json["tolerance"] = wish.tolerance;
    json["groups"] = Json::array();
    for (const auto& group : result.groups) json["groups"].push_back(groupJson(group));
    json["nearest"] = result.nearest.trains.empty() ? Json(nullptr) : groupJson(result.nearest);
    return json;
}

Json makeFitsJson(int teethA, int teethB, const std::vector<drive::FitOffset>& fits) {
    Json json = makeHead("meshes");
    json["teeth"] = {teethA, teethB};
    json["distance_mm"] = drive::calcOutsideMm(teethA, teethB);
    json["offsets"] = Json::array();
    for (const auto& fit : fits) json["offsets"].push_back(offsetJson(fit));
    return json;
}

Json makePairsJson(std::int64_t dxUm, std::int64_t dyUm, const std::vector<drive::ToothPair>& pairs) {
    Json json = makeHead("meshes");
    json["offset_mm"] = {rounded(base::umToMm(dxUm)), rounded(base::umToMm(dyUm))};
    json["pairs"] = Json::array();
    for (const auto& pair : pairs)
        json["pairs"].push_back({{"teeth", {pair.a, pair.b}}, {"error_mm", rounded(pair.errorMm)}});
    return json;
}

} // namespace ivrant::files
