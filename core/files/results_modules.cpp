// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/files/results_modules.h"

#include <map>
#include <nlohmann/json.hpp>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/files/parts_csv.h"
#include "core/files/results_json.h"
#include "core/verdict/make/check_modules.h"

namespace ivrant::files {
namespace {

using model::Json;
using model::PartSpot;

Json idsOf(const model::Project& project, const std::vector<PartSpot>& spots) {
    Json json = Json::array();
    for (const PartSpot spot : spots) json.push_back(model::getPart(project, spot).id.text);
    return json;
}

Json namesOf(const model::Project& project, const std::vector<int>& modules) {
    Json json = Json::array();
    for (const int one : modules) json.push_back(at(project.modules.list, one).name);
    return json;
}

Json vectorJson(const geometry::Vec3& v) { return {rounded(v.x()), rounded(v.y()), rounded(v.z())}; }

Json pulledJson(const model::Project& project, const study::Pulled& side) {
    if (!side.bonds) return nullptr;
    return {{"margin", rounded(*side.bonds)},
            {"held_at", model::getPart(project, side.hold).id.text},
            {"must_be_held_there", side.holdThere},
            {"comes_along", idsOf(project, side.along)}};
}

Json liftJson(const verdict::Report& report, const study::LiftModule& one) {
    const model::Project& project = *report.project;
    const model::Module& declared = at(project.modules.list, one.index);
    Json json{{"id", declared.id.text},
              {"name", declared.name},
              {"parts", one.parts.size()},
              {"mass_g", rounded(one.massG)},
              {"lifts", one.lifts}};
    if (one.parts.empty()) return json;
    json["way"] = study::describeWayOut(one.way);
    json["pose"] = at(report.poses, one.pose).name;
    json["fold_first"] = one.mustFold;
    json["after"] = namesOf(project, one.after);
    json["carries"] = namesOf(project, one.carries);
    json["in_its_way"] = idsOf(project, one.blocked);
    json["held_by"] = verdict::describeLiftBonds(report, one);
    json["hold_n"] = rounded(one.holdN);
    json["weight_n"] = rounded(one.weightN);
    json["force_n"] = rounded(one.forceN());
    json["measured"] = one.measured;
    json["gaps"] = Json::array();
    for (const study::SideGap& side : one.sides)
        json["gaps"].push_back({{"towards", vectorJson(side.towards)}, {"mm", rounded(side.mm)}});
    json["led_mm"] = rounded(one.ledMm);
    json["also_goes_on"] = one.alsoGoes;
    json["tips_without_deg"] = one.without.tipDeg ? Json(rounded(*one.without.tipDeg)) : Json(nullptr);
    json["bonds_without"] = one.without.bonds ? Json(rounded(*one.without.bonds)) : Json(nullptr);
    json["rest"] = pulledJson(project, one.rest);
    json["itself"] = pulledJson(project, one.self);
    return json;
}

Json reachJson(const verdict::Report& report, const study::ReachWay& way) {
    const model::Reach& reach = at(report.project->modules.reaches, way.index);
    Json json{{"id", reach.id.text},
              {"name", reach.name},
              {"part", reach.part.text},
              {"side", model::getSideName(reach.side)},
              {"with", reach.plug ? "plug" : "finger"},
              {"found", way.found},
              {"most_moves", reach.mostMoves}};
    if (!way.found) {
        json["in_the_way"] = idsOf(*report.project, way.blocked);
        return json;
    }
    json["moves"] = way.moves;
    json["do"] = verdict::describeMoves(report, way);
    json["from"] = vectorJson(way.from);
    return json;
}

std::string sizeText(const geometry::Vec3& mm) {
    return base::formatNumber(mm.x(), 0) + " x " + base::formatNumber(mm.y(), 0) + " x " +
           base::formatNumber(mm.z(), 0);
}

} // namespace

Json makeModulesJson(const verdict::Report& report) {
    Json json = makeHead("modules");
    json["modules"] = Json::array();
    json["reaches"] = Json::array();
    json["lift_order"] = Json::array();
    if (!report.modules) return json;
    for (const study::LiftModule& one : report.modules->modules) json["modules"].push_back(liftJson(report, one));
    for (const study::ReachWay& way : report.modules->reaches) json["reaches"].push_back(reachJson(report, way));
    json["lift_order"] = namesOf(*report.project, study::listLiftOrder(*report.modules));
    return json;
}

Json makePackingJson(const study::Facts& facts, const study::PackPlan& plan) {
    Json json = makeHead("pack");
    json["fits"] = plan.fits();
    json["pose"] = at(facts.poses, plan.pose).name;
    json["take_off"] = namesOf(*facts.project, plan.taken);
    json["pieces"] = Json::array();
    for (const study::PackedPiece& piece : plan.pieces)
        json["pieces"].push_back({{"name", piece.name},
                                  {"parts", piece.parts.size()},
                                  {"size_mm", vectorJson(piece.size.mm)},
                                  {"mass_g", rounded(piece.massG)},
                                  {"fits", piece.fits}});
    json["boxes"] = Json::array();
    for (const study::PackedBox& box : plan.boxes) {
        Json pieces = Json::array();
        for (const int piece : box.pieces) pieces.push_back(at(plan.pieces, piece).name);
        json["boxes"].push_back({{"inside_mm", vectorJson(box.insideMm)},
                                 {"pieces", pieces},
                                 {"foam_l", rounded(box.foamL)},
                                 {"mass_g", rounded(box.massG)}});
    }
    json["put_up"] = Json::array();
    for (const study::PutUpStep& step : plan.putUp)
        json["put_up"].push_back({{"do", step.text}, {"minutes", rounded(step.minutes)}});
    json["put_up_min"] = rounded(plan.putUpMinutes());
    json["bring"] = Json::array();
    for (const study::BringLine& line : plan.bring)
        json["bring"].push_back({{"count", line.count}, {"what", line.what}, {"why", line.why}});
    json["basis"] = "starting values: weight of foam and card, minutes, spares";
    return json;
}

std::string makePackingCsv(const study::Facts& facts, const study::PackPlan& plan) {
    std::string csv = "what,count,size_mm,mass_g,note\r\n";
    for (std::size_t b = 0; b < plan.boxes.size(); ++b) {
        const study::PackedBox& box = plan.boxes[b];
        csv += csvRow({"box " + std::to_string(b + 1), "1", sizeText(box.insideMm), base::formatNumber(box.massG, 0),
                       base::formatNumber(box.foamL, 1) + " l of foam"});
        for (const int k : box.pieces) {
            const study::PackedPiece& piece = at(plan.pieces, k);
            csv += csvRow({piece.name, "1", sizeText(piece.size.mm), base::formatNumber(piece.massG, 0),
                           piece.fits ? "as " + at(facts.poses, plan.pose).name : "too large for the box"});
        }
    }
    for (const study::BringLine& line : plan.bring)
        csv += csvRow({line.what, std::to_string(line.count), "", "", line.why});
    return csv;
}

} // namespace ivrant::files
