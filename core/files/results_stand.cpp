#include "core/files/results_stand.h"

#include <algorithm>
#include <cmath>
#include <map>

#include "core/files/results_json.h"

namespace ivrant::files {
namespace {

using model::Json;

constexpr int kRoseSteps = 24;

Json partIds(const std::vector<model::PartId>& parts) {
    Json list = Json::array();
    for (const auto& id : parts) list.push_back(id.text);
    return list;
}

Json contactJson(const verdict::Report& report, const stand::CaseResult& result, int contact) {
    const auto& force = result.equilibrium.forces[static_cast<std::size_t>(contact)];
    return {{"bond", verdict::describeContact(*report.project, result, contact)},
            {"parts", partIds(verdict::listParts(*report.project, result, contact))},
            {"use", rounded(force.use)},
            {"by", force.mode},
            {"press_n", rounded(force.pressN)},
            {"pull_n", rounded(force.pullN)},
            {"shear_n", rounded(force.shearN)},
            {"moment_nmm", rounded(force.momentNmm)}};
}

Json caseJson(const verdict::Report& report, const SolvedCase& solved, std::size_t most) {
    const stand::Equilibrium& e = solved.result.equilibrium;
    Json json;
    json["case"] = solved.of.key;
    json["name"] = solved.of.name;
    json["holds"] = e.stands;
    json["settled"] = e.certain;
    if (e.lambda) {
        json["lambda"] = std::isinf(*e.lambda) ? Json() : Json(rounded(*e.lambda)); // null: no strength helps
        json["lambda_at_most"] = e.lambdaAtMost;
    }
    json["falling"] = Json::array();
    for (const int body : e.falling) json["falling"].push_back(getPart(*report.project, solved.result.net.bodies[static_cast<std::size_t>(body)].spot).id.text);
    json["first_to_go"] = e.firstToGo ? contactJson(report, solved.result, *e.firstToGo) : Json();
    json["weakest"] = Json::array();
    for (const int contact : verdict::listWeakest(solved.result, most)) json["weakest"].push_back(contactJson(report, solved.result, contact));
    json["left_over_n"] = e.residualN;
    return json;
}

} // namespace

Json makeStandJson(const verdict::Report& report, const verdict::PoseReport& pose, const std::vector<SolvedCase>& cases, std::size_t most) {
    Json json = makeHead("stand");
    json["pose"] = pose.name;
    if (pose.tipping) {
        const stand::Tipping& tip = *pose.tipping;
        json["mass_g"] = rounded(tip.massG);
        json["centre_mm"] = pointJson(tip.centre);
        json["support_mm"] = Json::array();
        for (const auto& corner : tip.support) json["support_mm"].push_back({rounded(corner.x()), rounded(corner.y())});
        json["tip"] = {{"angle_deg", rounded(tip.angleDeg)}, {"toward_deg", rounded(tip.towardDeg)}};
        const double top = std::max(1.0, stand::calcTopMm(pose.placed));
        json["top_mm"] = rounded(top);
        json["rose"] = Json::array();
        for (int k = 0; k < kRoseSteps; ++k) {
            const double toward = 360.0 * k / kRoseSteps, angle = stand::calcTipAngleToward(tip, toward);
            json["rose"].push_back({{"toward_deg", toward}, {"tips_deg", rounded(angle)}, {"push_n", rounded(stand::calcTipPushN(tip, toward, top))}});
        }
    } else {
        json["mass_g"] = 0;
        json["tip"] = nullptr;
    }
    json["cases"] = Json::array();
    for (const SolvedCase& solved : cases) json["cases"].push_back(caseJson(report, solved, most));
    json["basis"] = verdict::calcBondLimits(*report.project).studPull.measured ? "measured" : "starting";
    return json;
}

Json makeSizesJson(const std::vector<stand::SizeRow>& rows) {
    Json json = makeHead("layers");
    json["sizes"] = Json::array();
    for (const stand::SizeRow& row : rows)
        json["sizes"].push_back({{"height_mm", rounded(row.heightMm)},
                                 {"parts", row.parts},
                                 {"mass_g", rounded(row.massG)},
                                 {"smallest_share", rounded(row.smallestShare)},
                                 {"overhang_mm", rounded(row.overhangMm)},
                                 {"open_seams", row.openSeams},
                                 {"left_out_hanging", row.hanging}});
    return json;
}

Json makeCoreJson(const verdict::Report& report, const stand::CoreProposal& core) {
    Json json = makeHead("hollow");
    json["parts"] = core.leaveOut.size();
    json["mass_g"] = rounded(core.massG);
    json["shell_parts"] = core.shell;
    json["tried"] = core.triedShells;
    json["why"] = core.why;
    json["leave_out"] = Json::array();
    for (const model::PartSpot spot : core.leaveOut) json["leave_out"].push_back(getPart(*report.project, spot).id.text);
    return json;
}

Json makeHiddenJson(const verdict::Report& report, const verdict::Hidden& hidden) {
    Json json = makeHead("hidden");
    json["count"] = hidden.parts.size();
    json["mass_g"] = rounded(hidden.massG);
    std::map<std::string, int> shapes;
    json["parts"] = Json::array();
    for (const model::PartSpot spot : hidden.parts) {
        const model::Part& part = getPart(*report.project, spot);
        ++shapes[part.shape->name];
        json["parts"].push_back(part.id.text);
    }
    json["shapes"] = Json::array();
    for (const auto& [shape, count] : shapes) json["shapes"].push_back({{"shape", shape}, {"count", count}});
    return json;
}

} // namespace ivrant::files
