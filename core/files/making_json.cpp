// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/files/making_json.h"

#include "core/files/notes_json.h"
#include "core/parts/palette.h"

namespace ivrant::files {
namespace {

using model::Json;

constexpr std::size_t kMostFiles = 50, kMostLines = 100'000, kMostEntries = 10'000;

std::vector<std::string> readTexts(const Node& node) {
    std::vector<std::string> texts;
    for (const Node& entry : node.list(0, kMostFiles)) texts.push_back(entry.text());
    return texts;
}

int readCount(const Node& node, const char* key, int low, int usual) {
    return node.has(key) ? static_cast<int>(node.at(key).integer(low, model::kMostPieces)) : usual;
}

double readNumber(const Node& node, const char* key) { return node.has(key) ? node.at(key).number() : 0; }

model::OrderLine readOrderLine(const Node& node) {
    node.requireObject();
    model::OrderLine line;
    line.shape = node.at("shape").text(200);
    const Node colour = node.at("colour");
    line.colour = parts::findColour(colour.text());
    if (line.colour < 0) fail("colour.unknown", colour.pointer(), "there is no colour called '" + colour.text() + "'");
    line.count = readCount(node, "count", 1, 1);
    line.arrived = readCount(node, "arrived", 0, 0);
    line.stored = readCount(node, "stored", 0, 0);
    line.price = readNumber(node, "price");
    return line;
}

model::Order readOrder(const Node& node) {
    static const std::set<std::string, std::less<>> kKnown{"id", "seller", "placed_on", "due_on", "shipping", "lines"};
    node.requireObject();
    model::Order order;
    order.id.text = node.at("id").text(60);
    order.seller = node.at("seller").text(200);
    order.placedOn = optionalText(node, "placed_on", 20);
    order.dueOn = optionalText(node, "due_on", 20);
    order.shipping = readNumber(node, "shipping");
    if (node.has("lines"))
        for (const Node& line : node.at("lines").list(0, kMostLines)) order.lines.push_back(readOrderLine(line));
    order.extra = node.extra(kKnown);
    return order;
}

model::Schedule readSchedule(const Node& node) {
    node.requireObject();
    model::Schedule schedule;
    schedule.dueOn = optionalText(node, "due_on", 20);
    if (node.has("hours")) {
        const auto hours = node.at("hours").list(7, 7);
        for (std::size_t d = 0; d < hours.size(); ++d) schedule.hours[d] = hours[d].number();
    }
    if (node.has("other_days"))
        for (const Node& entry : node.at("other_days").list(0, kMostEntries))
            schedule.others.push_back({entry.at("day").text(20), entry.at("hours").number()});
    schedule.travelDays = readCount(node, "travel_days", 0, 0);
    schedule.testDays = readCount(node, "test_days", 0, 0);
    schedule.packHours = readNumber(node, "pack_hours");
    schedule.builders = readCount(node, "builders", 1, 1);
    return schedule;
}

model::Packing readPacking(const Node& node) {
    node.requireObject();
    model::Packing packing;
    if (node.has("box_mm")) {
        const auto sizes = node.at("box_mm").list(3, 3);
        for (std::size_t k = 0; k < sizes.size(); ++k) packing.boxMm[k] = sizes[k].number();
    }
    const auto read = [&](const char* key, double& value) {
        if (node.has(key)) value = node.at(key).number();
    };
    read("most_kg", packing.mostKg);
    read("foam_mm", packing.foamMm);
    read("show_hours", packing.showHours);
    read("running", packing.running);
    return packing;
}

model::StepNote readStepNote(const Node& node) {
    node.requireObject();
    model::StepNote note;
    note.part.text = node.at("part").text(60);
    note.text = optionalText(node, "text");
    if (node.has("view")) {
        const auto angles = node.at("view").list(2, 2);
        note.viewDeg = {angles[0].number(), angles[1].number()};
    }
    return note;
}

Json stepNoteJson(const model::StepNote& note) {
    Json json{{"part", note.part.text}};
    addText(json, "text", note.text);
    if (note.viewDeg) json["view"] = {numberJson((*note.viewDeg)[0]), numberJson((*note.viewDeg)[1])};
    return json;
}

Json packingJson(const model::Packing& packing) {
    Json json{{"box_mm", Json::array()}};
    for (const double size : packing.boxMm) json["box_mm"].push_back(numberJson(size));
    json["most_kg"] = numberJson(packing.mostKg);
    json["foam_mm"] = numberJson(packing.foamMm);
    json["show_hours"] = numberJson(packing.showHours);
    json["running"] = numberJson(packing.running);
    return json;
}

model::BuildSession readBuild(const Node& node) {
    static const std::set<std::string, std::less<>> kKnown{"id",        "date",  "minutes", "first_step",
                                                           "last_step", "parts", "who",     "note"};
    node.requireObject();
    model::BuildSession build;
    build.id.text = node.at("id").text(60);
    build.date = node.at("date").text(20);
    build.minutes = node.at("minutes").number();
    build.firstStep = readCount(node, "first_step", 1, 1);
    build.lastStep = readCount(node, "last_step", 1, build.firstStep);
    build.parts = readCount(node, "parts", 0, 0);
    build.who = optionalText(node, "who", 200);
    build.note = optionalText(node, "note");
    build.extra = node.extra(kKnown);
    return build;
}

Json orderJson(const model::Order& order) {
    Json json{{"id", order.id.text}, {"seller", order.seller}};
    addText(json, "placed_on", order.placedOn);
    addText(json, "due_on", order.dueOn);
    if (order.shipping != 0) json["shipping"] = numberJson(order.shipping);
    json["lines"] = Json::array();
    for (const model::OrderLine& line : order.lines) {
        Json entry{{"shape", line.shape}, {"colour", parts::getColourName(line.colour)}, {"count", line.count}};
        if (line.arrived != 0) entry["arrived"] = line.arrived;
        if (line.stored != 0) entry["stored"] = line.stored;
        if (line.price != 0) entry["price"] = numberJson(line.price);
        json["lines"].push_back(std::move(entry));
    }
    addExtra(json, order.extra);
    return json;
}

Json scheduleJson(const model::Schedule& schedule) {
    Json json = Json::object();
    addText(json, "due_on", schedule.dueOn);
    json["hours"] = Json::array();
    for (const double hours : schedule.hours) json["hours"].push_back(numberJson(hours));
    if (!schedule.others.empty()) json["other_days"] = Json::array();
    for (const auto& other : schedule.others)
        json["other_days"].push_back({{"day", other.day}, {"hours", numberJson(other.hours)}});
    if (schedule.travelDays != 0) json["travel_days"] = schedule.travelDays;
    if (schedule.testDays != 0) json["test_days"] = schedule.testDays;
    if (schedule.packHours != 0) json["pack_hours"] = numberJson(schedule.packHours);
    if (schedule.builders != 1) json["builders"] = schedule.builders;
    return json;
}

Json buildJson(const model::BuildSession& build) {
    Json json{{"id", build.id.text},
              {"date", build.date},
              {"minutes", numberJson(build.minutes)},
              {"first_step", build.firstStep},
              {"last_step", build.lastStep}};
    if (build.parts != 0) json["parts"] = build.parts;
    addText(json, "who", build.who);
    addText(json, "note", build.note);
    addExtra(json, build.extra);
    return json;
}

} // namespace

model::Making readMaking(const Node& node) {
    node.requireObject();
    model::Making making;
    if (node.has("stocks")) making.stockFiles = readTexts(node.at("stocks"));
    if (node.has("prices")) making.priceFiles = readTexts(node.at("prices"));
    if (node.has("columns")) {
        const Node columns = node.at("columns");
        columns.requireObject();
        for (const auto& [key, value] : columns.json().items())
            making.columns[key] = Node(value, columns.pointer() + "/" + key).text(200);
    }
    if (node.has("orders"))
        for (const Node& order : node.at("orders").list(0, kMostEntries)) making.orders.push_back(readOrder(order));
    if (node.has("schedule")) making.schedule = readSchedule(node.at("schedule"));
    if (node.has("notes"))
        for (const Node& note : node.at("notes").list(0, kMostEntries)) making.notes.push_back(readStepNote(note));
    if (node.has("packing")) making.packing = readPacking(node.at("packing"));
    if (node.has("builds"))
        for (const Node& build : node.at("builds").list(0, kMostEntries)) making.builds.push_back(readBuild(build));
    making.extra = node.extra({"stocks", "prices", "columns", "orders", "schedule", "packing", "notes", "builds"});
    return making;
}

std::string makingText(const model::Making& making) {
    std::vector<std::string> lines;
    const auto add = [&](const char* key, const std::string& value) {
        lines.push_back("    \"" + std::string(key) + "\": " + value);
    };
    const auto list = [](const auto& entries, auto toJson) {
        std::string text = "[";
        for (std::size_t i = 0; i < entries.size(); ++i)
            text += (i ? ",\n      " : "\n      ") + jsonLine(toJson(entries[i]));
        return text + "]";
    };
    if (!making.stockFiles.empty()) add("stocks", jsonLine(Json(making.stockFiles)));
    if (!making.priceFiles.empty()) add("prices", jsonLine(Json(making.priceFiles)));
    if (!making.columns.empty()) add("columns", jsonLine(Json(making.columns)));
    if (!making.orders.empty()) add("orders", list(making.orders, orderJson));
    if (!making.schedule.isEmpty()) add("schedule", jsonLine(scheduleJson(making.schedule)));
    if (making.packing != model::Packing{}) add("packing", jsonLine(packingJson(making.packing)));
    if (!making.notes.empty()) add("notes", list(making.notes, stepNoteJson));
    if (!making.builds.empty()) add("builds", list(making.builds, buildJson));
    if (making.extra)
        for (const auto& [key, value] : making.extra->items())
            lines.push_back("    " + Json(key).dump() + ": " + jsonLine(value));
    if (lines.empty()) return "";
    std::string text = "{\n";
    for (std::size_t i = 0; i < lines.size(); ++i) text += (i ? ",\n" : "") + lines[i];
    return text + " }";
}

} // namespace ivrant::files
