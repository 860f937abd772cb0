// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/files/results_stand.h"

#include <algorithm>
#include <cmath>
#include <map>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/files/results_json.h"
#include "core/parts/palette.h"
#include "core/study/case_words.h"
#include "core/study/post_check.h"
#include "core/verdict/stand/size_desk.h"

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
    const auto& force = ivrant::at(result.equilibrium.forces, contact);
    return {{"bond", study::describeContact(*report.project, result, contact)},
            {"parts", partIds(study::listParts(*report.project, result, contact))},
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
    json["name"] = solved.result.name.empty() ? solved.of.name : solved.result.name;
    json["toward_deg"] = optionalJson(solved.result.towardDeg);
    json["ways_tried"] = solved.result.tried;
    json["holds"] = e.stands;
    json["gives_way"] = e.stands ? Json()
                                 : Json(e.givesWay == stand::GivesWay::Slides ? "slides"
                                        : e.givesWay == stand::GivesWay::Tips ? "tips"
                                                                              : "parts");
    json["settled"] = e.certain;
    if (e.lambda) {
        json["lambda"] = std::isinf(*e.lambda) ? Json() : Json(rounded(*e.lambda)); // null: no strength helps
        json["lambda_at_most"] = e.lambdaAtMost;
    }
    json["falling"] = Json::array();
    for (const int body : e.falling)
        json["falling"].push_back(getPart(*report.project, ivrant::at(solved.result.net.bodies, body).spot).id.text);
    json["undecided"] = Json::array();
    for (const int body : e.undecided)
        json["undecided"].push_back(getPart(*report.project, ivrant::at(solved.result.net.bodies, body).spot).id.text);
    json["first_to_go"] = e.firstToGo ? contactJson(report, solved.result, *e.firstToGo) : Json();
    json["weakest"] = Json::array();
    for (const int contact : study::listWeakest(solved.result, most))
        json["weakest"].push_back(contactJson(report, solved.result, contact));
    json["load_path"] = Json::array(); // of what the weakest bond carries, down to the ground
    if (const auto weakest = study::listWeakest(solved.result, 1); !weakest.empty()) {
        const stand::BondNet& net = solved.result.net;
        const auto add = [&](int body) {
            json["load_path"].push_back(getPart(*report.project, ivrant::at(net.bodies, body).spot).id.text);
        };
        int at = ivrant::at(net.contacts, weakest[0]).b;
        add(at);
        for (const int k : stand::findLoadPath(net, e, at)) {
            const stand::Contact& step = ivrant::at(net.contacts, k);
            if (step.a < 0) break; // the ground, or a hand
            at = step.a == at ? step.b : step.a;
            add(at);
        }
    }
    json["left_over_n"] = e.residualN;
    return json;
}

Json moveJson(const study::MoveTip& move) {
    Json json{{"move", move.key},
              {"name", move.name},
              {"tips_deg", rounded(move.leastDeg)},
              {"toward_deg", rounded(move.towardDeg)},
              {"at", rounded(move.atShare)}};
    for (const double angle : move.anglesDeg) json["angles_deg"].push_back(rounded(angle));
    return json;
}

Json postJson(const verdict::Report& report, std::size_t index, const study::KeptPost& kept) {
    const model::Post& support = report.project->posts[index];
    const bool touches = kept.pose && kept.post.state == stand::PostState::Touches,
               blocked = kept.pose && kept.post.state == stand::PostState::Blocked;
    Json json{{"id", support.id.text},
              {"at_mm", {base::umToMm(support.atUm[0]), base::umToMm(support.atUm[1]), base::umToMm(support.atUm[2])}},
              {"state", touches   ? "touches"
                        : blocked ? "blocked"
                                  : "free"},
              {"pose", kept.pose ? Json(kept.pose->name) : Json()}};
    if (touches || blocked) json["part"] = getPart(*report.project, kept.post.part).id.text;
    if (!touches) return json;
    json["tips_deg"] = rounded(kept.tipDeg);
    json["without_deg"] = rounded(kept.withoutDeg);
    json["level_n"] = rounded(kept.restN);
    json["tilted_n"] = rounded(kept.tiltN);
    json["needed"] = kept.needed;
    return json;
}

Json structureJson(const verdict::Report& report, std::size_t most) {
    const study::Structure& structure = *report.structure;
    const auto idOf = [&](model::PartSpot spot) { return getPart(*report.project, spot).id.text; };
    const auto ids = [&](const std::vector<int>& bodies) {
        Json list = Json::array();
        for (const int body : bodies) list.push_back(idOf(ivrant::at(structure.net.bodies, body).spot));
        return list;
    };
    Json json{{"seams", Json::array()},
              {"necks", Json::array()},
              {"pieces", Json::array()},
              {"friction", Json::array()},
              {"bases", Json::array()}};
    for (const stand::Seam& seam : structure.seams) {
        Json parts = Json::array();
        for (const auto spot : seam.parts) parts.push_back(idOf(spot));
        json["seams"].push_back({{"section", ivrant::at(report.project->sections, seam.section)->id.text},
                                 {"across", seam.axis == 0 ? "x" : "y"},
                                 {"at_mm", rounded(seam.atMm)},
                                 {"from_mm", rounded(seam.lowMm)},
                                 {"to_mm", rounded(seam.highMm)},
                                 {"bottom_mm", rounded(seam.bottomMm)},
                                 {"top_mm", rounded(seam.topMm)},
                                 {"courses", seam.courses},
                                 {"parts", std::move(parts)}});
    }
    for (std::size_t i = 0; i < structure.necks.size() && i < most; ++i) { // the weakest
        const stand::Neck& neck = structure.necks[i];
        json["necks"].push_back({{"height_mm", rounded(neck.atZ)},
                                 {"parts_above", neck.above.size()},
                                 {"mass_g", rounded(neck.massG)},
                                 {"push_at_mm", rounded(neck.atZ + neck.topMm)},
                                 {"push_n", rounded(neck.pushN)},
                                 {"shake_g", std::isinf(neck.shakeG) ? Json() : Json(rounded(neck.shakeG))},
                                 {"toward_deg", rounded(neck.towardDeg)}});
    }
    for (const stand::Piece& piece : structure.pieces)
        json["pieces"].push_back({{"pulled", ids({piece.pulled}).front()},
                                  {"force_n", rounded(piece.forceN)},
                                  {"mass_g", rounded(piece.massG)},
                                  {"parts", ids(piece.bodies)}});
    for (const stand::FrictionHeld& held : structure.friction)
        json["friction"].push_back(
            {{"parts", ids(held.bodies)}, {"mass_g", rounded(held.massG)}, {"holds_n", rounded(held.holdsN)}});
    for (const stand::FlexibleBase& flexible : structure.bases)
        json["bases"].push_back({{"part", ids({flexible.body}).front()},
                                 {"sag_mm", rounded(flexible.sagMm)},
                                 {"bare_mm", rounded(flexible.bareMm)},
                                 {"along", flexible.axis == 0 ? "x" : "y"},
                                 {"worst_mm", rounded(flexible.worstMm)}});
    return json;
}

} // namespace

Json makeStandJson(const verdict::Report& report, const study::PoseFacts& pose, const std::vector<SolvedCase>& cases,
                   std::size_t most) {
    Json json = makeHead("stand");
    json["pose"] = pose.name;
    if (pose.tipping) {
        const stand::Tipping& tip = *pose.tipping;
        json["mass_g"] = rounded(tip.massG);
        json["centre_mm"] = pointJson(tip.centre);
        json["support_mm"] = Json::array();
        for (const auto& corner : tip.support) json["support_mm"].push_back({rounded(corner.x()), rounded(corner.y())});
        json["tip"] = {{"angle_deg", rounded(tip.angleDeg)}, {"toward_deg", rounded(tip.towardDeg)}};
        json["sections"] = Json::array();
        for (const stand::SectionWeight& weight : stand::listSectionWeights(pose.placed, tip)) {
            const auto& section = *ivrant::at(report.project->sections, weight.section);
            json["sections"].push_back({{"section", section.id.text},
                                        {"name", section.name},
                                        {"mass_g", rounded(weight.massG)},
                                        {"centre_mm", pointJson(weight.centre)},
                                        {"holds_nmm", rounded(weight.holdsNmm)}});
        }
        const double top = std::max(1.0, stand::calcTopMm(pose.placed));
        json["top_mm"] = rounded(top);
        json["rose"] = Json::array();
        for (int k = 0; k < kRoseSteps; ++k) {
            const double toward = 360.0 * k / kRoseSteps, angle = stand::calcTipAngleToward(tip, toward);
            json["rose"].push_back({{"toward_deg", toward},
                                    {"tips_deg", rounded(angle)},
                                    {"push_n", rounded(stand::calcTipPushN(tip, toward, top))}});
        }
    } else {
        json["mass_g"] = 0;
        json["tip"] = nullptr;
    }
    json["cases"] = Json::array();
    for (const SolvedCase& solved : cases) json["cases"].push_back(caseJson(report, solved, most));
    json["posts"] = Json::array();
    const auto posts = study::checkPosts(report);
    for (std::size_t i = 0; i < posts.size(); ++i) json["posts"].push_back(postJson(report, i, posts[i]));
    json["moves"] = Json::array();
    for (const study::MoveTip& move : report.moves) json["moves"].push_back(moveJson(move));
    if (report.structure) json.update(structureJson(report, most)); // keys of its own: seams, necks …
    json["basis"] = study::calcBondLimits(*report.project).studPull.measured ? "measured" : "starting";
    return json;
}

Json makeCoreJson(const verdict::Report& report, const stand::CoreProposal& core) {
    Json json = makeHead("hollow");
    json["parts"] = core.leaveOut.size();
    json["mass_g"] = rounded(core.massG);
    json["cost"] = rounded(verdict::kUsualPrice * static_cast<double>(core.leaveOut.size())); // starting values
    json["hours"] = rounded(static_cast<double>(core.leaveOut.size()) / verdict::kUsualPartsPerHour);
    json["shell_parts"] = core.shell;
    json["tried"] = core.triedShells;
    json["why"] = core.why;
    json["leave_out"] = Json::array();
    for (const model::PartSpot spot : core.leaveOut)
        json["leave_out"].push_back(getPart(*report.project, spot).id.text);
    return json;
}

Json makeHiddenJson(const verdict::Report& report, const study::Hidden& hidden) {
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
    json["showing_through"] = Json::array();
    const auto nameOf = [](int colour) { return parts::getColourName(colour); };
    for (const study::Showing& showing : hidden.showing) {
        const model::Part& part = getPart(*report.project, showing.part);
        json["showing_through"].push_back({{"part", part.id.text},
                                           {"shape", part.shape->name},
                                           {"colour", nameOf(part.colour)},
                                           {"around", nameOf(showing.colour)}});
    }
    json["rays"] = hidden.rays;
    return json;
}

} // namespace ivrant::files
