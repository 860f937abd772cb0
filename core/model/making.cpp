// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/model/making.h"

#include <algorithm>
#include <cmath>
#include <set>

#include "core/base/dates.h"

namespace ivrant::model {
namespace {

using base::Error;
using base::Status;

constexpr double kMostMoney = 1e7, kMostMinutes = 24 * 60;
constexpr int kMostDays = 365, kMostBuilders = 100, kMostSteps = 1'000'000;

Status wrong(const std::string& place, const std::string& what) {
    return Error{"making.value", what, "/making" + place};
}

Status checkDay(const std::string& day, bool mayBeEmpty, const std::string& place) {
    if ((day.empty() && mayBeEmpty) || base::parseDay(day)) return {};
    return Error{"project.date", "'" + day + "' is no day: expected year-month-day, such as 2026-11-25",
                 "/making" + place};
}

bool isMoney(double value) { return value >= 0 && value <= kMostMoney; }

Status checkOrder(const Order& order, const std::string& place) {
    if (order.seller.empty()) return wrong(place + "/seller", "an order names its seller");
    if (auto st = checkDay(order.placedOn, true, place + "/placed_on"); !st) return st;
    if (auto st = checkDay(order.dueOn, true, place + "/due_on"); !st) return st;
    if (!isMoney(order.shipping)) return wrong(place + "/shipping", "shipping costs 0 to 10000000");
    for (std::size_t i = 0; i < order.lines.size(); ++i) {
        const OrderLine& line = order.lines[i];
        const std::string at = place + "/lines/" + std::to_string(i);
        if (line.count < 1 || line.count > kMostPieces)
            return wrong(at + "/count", "a line orders 1 to 1000000 pieces");
        if (line.arrived < 0 || line.arrived > line.count)
            return wrong(at + "/arrived", "of " + std::to_string(line.count) + " pieces 0 to as many have arrived");
        if (line.stored < 0 || line.stored > line.arrived)
            return wrong(at + "/stored", "of what has arrived, 0 to as many lie in the drawers");
        if (!isMoney(line.price)) return wrong(at + "/price", "a piece costs 0 to 10000000");
    }
    return {};
}

Status checkPacking(const Packing& packing) {
    const std::string place = "/making/packing";
    const auto within = [](double value, double low, double high) { return value >= low && value <= high; };
    if (!std::all_of(packing.boxMm.begin(), packing.boxMm.end(), [&](double mm) { return within(mm, 50, 3000); }))
        return Error{"making.value", "a box is 50 to 3000 mm along, across and high", place + "/box_mm"};
    if (!within(packing.mostKg, 0.1, 100))
        return Error{"making.value", "a box weighs at most 0.1 to 100 kg", place + "/most_kg"};
    if (!within(packing.foamMm, 0, 100))
        return Error{"making.value", "there are 0 to 100 mm of foam", place + "/foam_mm"};
    if (!within(packing.showHours, 0, 24))
        return Error{"making.value", "a day at the show has 0 to 24 hours", place + "/show_hours"};
    if (!within(packing.running, 0, 1))
        return Error{"making.value", "motors run for a share of 0 to 1 of the time", place + "/running"};
    return {};
}

Status checkSchedule(const Schedule& schedule) {
    const auto isHours = [](double hours) { return hours >= 0 && hours <= 24; };
    if (auto st = checkDay(schedule.dueOn, true, "/schedule/due_on"); !st) return st;
    for (std::size_t d = 0; d < schedule.hours.size(); ++d)
        if (!isHours(schedule.hours[d]))
            return wrong("/schedule/hours/" + std::to_string(d), "a day has 0 to 24 free hours");
    std::set<std::string> days;
    for (std::size_t i = 0; i < schedule.others.size(); ++i) {
        const std::string place = "/schedule/other_days/" + std::to_string(i);
        if (auto st = checkDay(schedule.others[i].day, false, place + "/day"); !st) return st;
        if (!isHours(schedule.others[i].hours)) return wrong(place + "/hours", "a day has 0 to 24 free hours");
        if (!days.insert(schedule.others[i].day).second)
            return wrong(place + "/day", "the day " + schedule.others[i].day + " is named twice");
    }
    if (schedule.travelDays < 0 || schedule.travelDays > kMostDays)
        return wrong("/schedule/travel_days", "0 to 365 days are expected");
    if (schedule.testDays < 0 || schedule.testDays > kMostDays)
        return wrong("/schedule/test_days", "0 to 365 days are expected");
    if (!(schedule.packHours >= 0 && schedule.packHours <= 1000))
        return wrong("/schedule/pack_hours", "0 to 1000 hours are expected");
    if (schedule.builders < 1 || schedule.builders > kMostBuilders)
        return wrong("/schedule/builders", "1 to 100 builders are expected");
    return {};
}

Status checkBuild(const BuildSession& build, const std::string& place) {
    if (auto st = checkDay(build.date, false, place + "/date"); !st) return st;
    if (!(build.minutes > 0 && build.minutes <= kMostMinutes))
        return wrong(place + "/minutes", "a session takes above 0 and up to 1440 minutes");
    if (build.firstStep < 1 || build.lastStep < build.firstStep || build.lastStep > kMostSteps)
        return wrong(place + "/last_step", "a session does steps from a first to a last one that is not before it");
    if (build.parts < 0 || build.parts > kMostPieces) return wrong(place + "/parts", "0 to 1000000 parts are expected");
    return {};
}

Status checkFiles(const std::vector<std::string>& names, const std::string& place) {
    std::set<std::string> seen;
    for (std::size_t i = 0; i < names.size(); ++i) {
        if (names[i].empty()) return wrong(place + "/" + std::to_string(i), "the name of a file is expected");
        if (!seen.insert(names[i]).second)
            return wrong(place + "/" + std::to_string(i), "'" + names[i] + "' is named twice");
    }
    return {};
}

} // namespace

double calcCost(const Order& order) {
    double cost = order.shipping;
    for (const OrderLine& line : order.lines) cost += line.price * line.count;
    return cost;
}

Status checkMaking(const Making& making) {
    if (auto st = checkFiles(making.stockFiles, "/stocks"); !st) return st;
    if (auto st = checkFiles(making.priceFiles, "/prices"); !st) return st;
    for (std::size_t i = 0; i < making.orders.size(); ++i)
        if (auto st = checkOrder(making.orders[i], "/orders/" + std::to_string(i)); !st) return st;
    if (auto st = checkSchedule(making.schedule); !st) return st;
    if (auto st = checkPacking(making.packing); !st) return st;
    std::set<PartId> noted;
    for (std::size_t i = 0; i < making.notes.size(); ++i) {
        const std::string place = "/making/notes/" + std::to_string(i);
        if (making.notes[i].part.empty() || !noted.insert(making.notes[i].part).second)
            return Error{"making.value", "a note is on a part, one on each", place + "/part"};
        if (const auto& view = making.notes[i].viewDeg)
            for (const double deg : *view)
                if (!(deg >= -360 && deg <= 360))
                    return Error{"making.value", "a view is two angles from -360 to 360", place + "/view"};
    }
    for (std::size_t i = 0; i < making.builds.size(); ++i)
        if (auto st = checkBuild(making.builds[i], "/builds/" + std::to_string(i)); !st) return st;
    return {};
}

} // namespace ivrant::model
