// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/files/results_desk.h"

#include <cmath>
#include <map>

#include "core/files/results_json.h"

namespace ivrant::files {
namespace {

using model::Json;

/// null: no strength helps, or not known.
Json lambdaJson(const std::optional<double>& lambda) {
    return lambda && !std::isinf(*lambda) ? Json(rounded(*lambda)) : Json();
}

} // namespace

Json makeDeskJson(const std::vector<verdict::DeskRow>& rows, const verdict::DeskWish& wish) {
    Json json = makeHead("layers");
    json["price_per_part"] = rounded(wish.pricePerPart);
    json["parts_per_hour"] = rounded(wish.partsPerHour);
    json["sizes"] = Json::array();
    for (const verdict::DeskRow& row : rows) {
        Json dropped = Json::array();
        for (const auto& brick : row.size.layers.dropped)
            dropped.push_back(stand::nameOf(brick) + " at cell " + std::to_string(brick.x) + ", " +
                              std::to_string(brick.y) + ", " + std::to_string(brick.z) + " plates up");
        json["sizes"].push_back({{"height_mm", rounded(row.size.heightMm)},
                                 {"parts", row.size.parts},
                                 {"mass_g", rounded(row.size.massG)},
                                 {"cost", rounded(row.cost)},
                                 {"hours", rounded(row.hours)},
                                 {"smallest_share", rounded(row.size.smallestShare)},
                                 {"overhang_mm", rounded(row.size.overhangMm)},
                                 {"open_seams", row.size.openSeams},
                                 {"left_out_hanging", row.size.hanging},
                                 {"left_out", dropped},
                                 {"cells_rescued", row.size.layers.rescued},
                                 {"tips_deg", row.tipDeg ? Json(rounded(*row.tipDeg)) : Json()},
                                 {"holds", row.holds},
                                 {"lambda", lambdaJson(row.lambda)},
                                 {"lambda_at_most", row.proven},
                                 {"state", verdict::getStateName(row.state)},
                                 {"outcome", row.outcome}});
    }
    return json;
}

Json makePostJson(const verdict::Report& report, const study::PoseFacts& pose, const study::PostDesign& design) {
    Json json = makeHead("support");
    json["pose"] = pose.name;
    json["needed"] = design.needed;
    json["wish_deg"] = rounded(design.wishDeg);
    json["why"] = design.why;
    json["supports"] = Json::array();
    for (const auto& support : design.spots) {
        const auto& at = support.spot.at;
        json["supports"].push_back({{"part", getPart(*report.project, support.spot.part).id.text},
                                    {"at_mm", {rounded(at.x()), rounded(at.y()), rounded(at.z())}},
                                    {"tips_deg", rounded(support.spot.tipDeg)},
                                    {"level_n", rounded(support.spot.restN)},
                                    {"tilted_n", rounded(support.spot.tiltN)},
                                    {"holds", support.holds},
                                    {"lambda", lambdaJson(support.lambda)}});
    }
    json["basis"] = "starting";
    return json;
}

Json makeFirmJson(const stand::FirmProposal& firm) {
    Json json = makeHead("firm");
    json["parts"] = firm.parts.size();
    json["mass_g"] = rounded(firm.massG);
    json["room_for"] = firm.room;
    json["lambda_before"] = lambdaJson(firm.before);
    json["lambda_after"] = lambdaJson(firm.after);
    json["as_wished"] = firm.holds;
    json["why"] = firm.why;
    std::map<std::string, int> shapes;
    for (const auto& part : firm.parts) ++shapes[part.shape->name];
    json["shapes"] = Json::array();
    for (const auto& [shape, count] : shapes) json["shapes"].push_back({{"shape", shape}, {"count", count}});
    return json;
}

} // namespace ivrant::files
