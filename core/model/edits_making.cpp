// SPDX-License-Identifier: GPL-3.0-or-later
// Edits of how a model is made: where its parts come from, orders, calendar, sessions of building.
#include "core/model/edits_common.h"

namespace ivrant::model {

using detail::checked;

namespace {

constexpr auto listOrders = [](Project & project) -> auto& { return project.making.orders; };
constexpr auto listBuilds = [](Project & project) -> auto& { return project.making.builds; };

} // namespace

EditResult setSupplyFiles(const Project& project, std::vector<std::string> stocks, std::vector<std::string> prices,
                          std::map<std::string, std::string> columns) {
    Project next = project;
    next.making.stockFiles = std::move(stocks);
    next.making.priceFiles = std::move(prices);
    next.making.columns = std::move(columns);
    return checked(std::move(next));
}

EditResult setSupplies(const Project& project, std::shared_ptr<const Supplies> supplies) {
    Project next = project;
    next.supplies = std::move(supplies);
    return next;
}

EditResult putOrder(const Project& project, Order order) {
    return detail::putEntry(project, listOrders, "o", std::move(order));
}
EditResult removeOrder(const Project& project, const OrderId& id) { return detail::dropEntry(project, listOrders, id); }

EditResult setSchedule(const Project& project, Schedule schedule) {
    Project next = project;
    next.making.schedule = std::move(schedule);
    return checked(std::move(next));
}

EditResult setStepNote(const Project& project, StepNote note) {
    Project next = project;
    std::erase_if(next.making.notes, [&](const StepNote& each) { return each.part == note.part; });
    if (!note.text.empty() || note.viewDeg) next.making.notes.push_back(std::move(note));
    return checked(std::move(next));
}

EditResult setPacking(const Project& project, const Packing& packing) {
    Project next = project;
    next.making.packing = packing;
    return checked(std::move(next));
}

EditResult putBuild(const Project& project, BuildSession build) {
    return detail::putEntry(project, listBuilds, "w", std::move(build));
}
EditResult removeBuild(const Project& project, const BuildId& id) { return detail::dropEntry(project, listBuilds, id); }

} // namespace ivrant::model
