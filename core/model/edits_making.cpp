// SPDX-License-Identifier: GPL-3.0-or-later
// Edits of how a model is made: where its parts come from, orders, calendar, sessions of building.
#include "core/model/edits_common.h"

namespace ivrant::model {

using detail::checked;
using detail::noSuch;
using detail::takeId;

namespace {

template <class Entry>
EditResult putOne(const Project& project, std::vector<Entry> Making::*list, const char* prefix, Entry entry) {
    Project next = project;
    auto& entries = next.making.*list;
    if (entry.id.empty()) {
        entry.id.text = takeId(next, prefix);
        entries.push_back(std::move(entry));
        return checked(std::move(next));
    }
    const auto found =
        std::find_if(entries.begin(), entries.end(), [&](const Entry& other) { return other.id == entry.id; });
    if (found == entries.end()) return noSuch("entry", entry.id.text);
    *found = std::move(entry);
    return checked(std::move(next));
}

template <class Entry, class Id>
EditResult dropOne(const Project& project, std::vector<Entry> Making::*list, const Id& id) {
    Project next = project;
    if (std::erase_if(next.making.*list, [&](const Entry& entry) { return entry.id == id; }) == 0)
        return noSuch("entry", id.text);
    return next;
}

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
    return putOne(project, &Making::orders, "o", std::move(order));
}
EditResult removeOrder(const Project& project, const OrderId& id) { return dropOne(project, &Making::orders, id); }

EditResult setSchedule(const Project& project, Schedule schedule) {
    Project next = project;
    next.making.schedule = std::move(schedule);
    return checked(std::move(next));
}

EditResult putBuild(const Project& project, BuildSession build) {
    return putOne(project, &Making::builds, "w", std::move(build));
}
EditResult removeBuild(const Project& project, const BuildId& id) { return dropOne(project, &Making::builds, id); }

} // namespace ivrant::model
