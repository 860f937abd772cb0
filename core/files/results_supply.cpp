// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/files/results_supply.h"

#include <cmath>
#include <nlohmann/json.hpp>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/files/parts_csv.h"
#include "core/files/results_json.h"
#include "core/parts/palette.h"

namespace ivrant::files {
namespace {

using model::Json;

double money(double value) { return std::round(value * 100) / 100; }
Json dayJson(const std::optional<base::Day>& day) { return day ? Json(base::formatDay(*day)) : Json(); }
Json marginJson(const std::optional<double>& margin) { return margin ? Json(rounded(*margin)) : Json(); }

Json lineJson(const make::TideLine& line) {
    Json json{{"shape", line.shape},
              {"colour", parts::getColourName(line.colour)},
              {"need", line.need},
              {"have", line.have},
              {"arrived", line.arrived},
              {"on_the_way", line.onTheWay},
              {"kept_for_others", line.keptForOthers},
              {"missing", line.missing()},
              {"runs_out_at", line.runsOutAt > 0 ? Json(line.runsOutAt) : Json()},
              {"drawers", line.drawers}};
    return json;
}

Json problemsJson(const model::Project& project) {
    Json list = Json::array();
    const auto add = [&](const std::string& file, const std::vector<model::TableProblem>& problems) {
        for (const auto& problem : problems)
            list.push_back({{"file", file}, {"row", problem.row}, {"column", problem.column}, {"what", problem.text}});
    };
    if (!project.supplies) return list;
    for (const auto& stock : project.supplies->stocks) add(stock->file, stock->problems);
    for (const auto& prices : project.supplies->prices) add(prices->file, prices->problems);
    return list;
}

Json spansJson(const std::vector<make::PhaseSpan>& spans) {
    Json list = Json::array();
    for (const make::PhaseSpan& span : spans)
        list.push_back({{"phase", make::getPhaseName(span.phase)},
                        {"from", base::formatDay(span.from)},
                        {"to", base::formatDay(span.to)},
                        {"hours", rounded(span.hours)}});
    return list;
}

} // namespace

Json makeStockJson(const model::Project& project, const make::Tide& tide,
                   const std::vector<make::VariantTide>& variants, const std::vector<TriedLine>& standIns) {
    Json json = makeHead("stock");
    json["steps"] = tide.steps;
    int missing = 0, first = 0;
    for (const make::TideLine& line : tide.lines) {
        missing += line.missing();
        if (line.lacksAt > 0 && (first == 0 || line.lacksAt < first)) first = line.lacksAt;
    }
    json["missing"] = missing;
    json["first_step_short"] = first > 0 ? Json(first) : Json();
    json["lines"] = Json::array();
    for (const make::TideLine& line : tide.lines) json["lines"].push_back(lineJson(line));
    json["problems"] = problemsJson(project);
    if (variants.size() > 1) {
        json["variants"] = Json::array();
        for (const make::VariantTide& variant : variants)
            for (const make::TideLine& line : variant.tide.lines)
                if (line.missing() > 0)
                    json["variants"].push_back({{"variant", variant.variant},
                                                {"shape", line.shape},
                                                {"colour", parts::getColourName(line.colour)},
                                                {"missing", line.missing()},
                                                {"runs_out_at", line.lacksAt}});
    }
    if (!standIns.empty()) json["stand_ins"] = Json::array();
    for (const TriedLine& line : standIns)
        for (const auto& tried : line.tried) {
            Json entry{{"shape", line.shape},
                       {"colour", parts::getColourName(line.colour)},
                       {"by", tried.candidate.text},
                       {"works", tried.works},
                       {"bonds_before", marginJson(tried.bondsBefore)},
                       {"bonds_after", marginJson(tried.bondsAfter)}};
            entry["fails"] = tried.fails;
            json["stand_ins"].push_back(std::move(entry));
        }
    return json;
}

Json makeBasketJson(const make::BasketRequest& request, const make::Basket& basket) {
    Json json = makeHead("order");
    json["cost"] = money(basket.cost);
    json["bound"] = money(basket.bound);
    json["proven"] = basket.proven;
    json["days"] = basket.days;
    json["sellers"] = Json::array();
    json["lines"] = Json::array();
    for (const make::BasketSeller& from : basket.sellers) {
        const model::Seller& seller = at(request.sellers, from.seller);
        json["sellers"].push_back({{"seller", seller.name},
                                   {"goods", money(from.goods)},
                                   {"fill_up", money(from.fill)},
                                   {"shipping", money(from.shipping)},
                                   {"days", seller.days}});
        for (const make::BasketLine& line : from.lines) {
            const model::Offer& offer = at(request.offers, line.offer);
            json["lines"].push_back({{"seller", seller.name},
                                     {"shape", offer.shape},
                                     {"colour", parts::getColourName(offer.colour)},
                                     {"pieces", line.pieces},
                                     {"each", rounded(offer.price)},
                                     {"cost", money(offer.price * line.pieces)}});
        }
    }
    json["replaced"] = Json::array();
    for (const make::Replaced& replaced : basket.replaced) {
        const make::Wish& wish = at(request.wishes, replaced.wish);
        const make::StandIn& other = at(wish.standIns, replaced.standIn);
        json["replaced"].push_back({{"shape", wish.shape},
                                    {"colour", parts::getColourName(wish.colour)},
                                    {"pieces", replaced.times * other.of},
                                    {"by", std::to_string(replaced.times * other.count) + " " + other.shape + " " +
                                               parts::getColourName(other.colour)}});
    }
    json["unmet"] = Json::array();
    for (const make::Unmet& unmet : basket.unmet) {
        const make::Wish& wish = at(request.wishes, unmet.wish);
        json["unmet"].push_back(
            {{"shape", wish.shape}, {"colour", parts::getColourName(wish.colour)}, {"missing", unmet.missing}});
    }
    return json;
}

std::string getTrayName(const make::PickTray& tray) {
    if (tray.firstStep == 0) return tray.drawer.empty() ? "In no drawer" : "Drawer " + tray.drawer;
    if (tray.firstStep == tray.lastStep) return "Step " + std::to_string(tray.firstStep);
    return "Steps " + std::to_string(tray.firstStep) + " to " + std::to_string(tray.lastStep);
}

Json makePickJson(const std::vector<make::PickTray>& trays) {
    Json json = makeHead("stock");
    json["picks"] = Json::array();
    for (const make::PickTray& tray : trays)
        for (const make::PickLine& line : tray.lines)
            json["picks"].push_back({{"tray", getTrayName(tray)},
                                     {"drawer", line.drawer},
                                     {"shape", line.shape},
                                     {"colour", parts::getColourName(line.colour)},
                                     {"count", line.count}});
    return json;
}

Json makePlanJson(const make::Plan& plan) {
    Json json = makeHead("plan");
    json["parts"] = plan.work.parts;
    json["parts_left"] = plan.work.partsLeft();
    json["minutes_a_part"] = rounded(plan.rate.minutesAPart);
    json["basis"] = plan.rate.measured ? "measured" : "starting";
    json["sessions"] = plan.rate.sessions;
    json["spread"] = rounded(plan.rate.spread);
    json["build_hours"] = rounded(plan.buildHours);
    json["due_on"] = dayJson(plan.due);
    if (!plan.due) return json;
    json["free_hours"] = rounded(plan.freeHours);
    json["spare_hours"] = rounded(plan.spareHours);
    json["latest_start"] = dayJson(plan.latestStart);
    json["ready_on"] = dayJson(plan.ready);
    json["ready_early"] = dayJson(plan.readyEarly);
    json["ready_late"] = dayJson(plan.readyLate);
    json["spare_days"] = plan.ready ? Json(plan.spareDays) : Json();
    json["decide_by"] = dayJson(plan.decideBy);
    json["latest"] = spansJson(plan.latest);
    json["forward"] = spansJson(plan.forward);
    json["waits"] = Json::array();
    for (const make::Wait& wait : plan.waits)
        json["waits"].push_back({{"shape", wait.shape},
                                 {"colour", parts::getColourName(wait.colour)},
                                 {"count", wait.count},
                                 {"step", wait.step},
                                 {"needed_by", base::formatDay(wait.neededBy)},
                                 {"due_on", dayJson(wait.due)},
                                 {"order_by", dayJson(wait.orderBy)}});
    return json;
}

std::string makeTideCsv(const make::Tide& tide) {
    std::string csv = "shape,colour,need,have,arrived,on_the_way,missing,runs_out_at,drawers\r\n";
    for (const make::TideLine& line : tide.lines) {
        std::string drawers;
        for (const std::string& drawer : line.drawers) drawers += (drawers.empty() ? "" : "; ") + drawer;
        csv +=
            csvRow({line.shape, parts::getColourName(line.colour), std::to_string(line.need), std::to_string(line.have),
                    std::to_string(line.arrived), std::to_string(line.onTheWay), std::to_string(line.missing()),
                    line.runsOutAt > 0 ? std::to_string(line.runsOutAt) : "", drawers});
    }
    return csv;
}

std::string makePickCsv(const std::vector<make::PickTray>& trays) {
    std::string csv = "tray,drawer,shape,colour,count\r\n";
    for (const make::PickTray& tray : trays)
        for (const make::PickLine& line : tray.lines)
            csv += csvRow({getTrayName(tray), line.drawer, line.shape, parts::getColourName(line.colour),
                           std::to_string(line.count)});
    return csv;
}

std::string makeOrderCsv(const model::Order& order) {
    std::string csv = "seller,shape,colour,count,price\r\n";
    for (const model::OrderLine& line : order.lines)
        csv += csvRow({order.seller, line.shape, parts::getColourName(line.colour), std::to_string(line.count),
                       base::formatNumber(line.price, 4)});
    return csv;
}

std::string makePlanCsv(const make::Plan& plan) {
    std::string csv = "what,from,to,hours\r\n";
    for (const make::PhaseSpan& span : plan.latest)
        csv += csvRow({make::getPhaseName(span.phase), base::formatDay(span.from), base::formatDay(span.to),
                       base::formatNumber(span.hours, 2)});
    for (const make::Wait& wait : plan.waits)
        csv += csvRow({std::to_string(wait.count) + " " + wait.shape + " " + parts::getColourName(wait.colour) +
                           " there for step " + std::to_string(wait.step),
                       wait.orderBy ? base::formatDay(*wait.orderBy) : "", base::formatDay(wait.neededBy), ""});
    return csv;
}

} // namespace ivrant::files
