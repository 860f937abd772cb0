// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/files/boards_json.h"

#include <cmath>

#include "core/files/json_reader.h"
#include "core/files/notes_json.h"
#include "core/files/place_json.h"
#include "core/parts/palette.h"

namespace ivrant::files {
namespace {

using model::Json;
using Known = std::set<std::string, std::less<>>;

constexpr std::size_t kMostShort = 60; ///< bytes of an id or another short word
constexpr std::size_t kMostEntries = 20'000;
constexpr const char* kAxes[] = {"right", "up", "out"};

std::int64_t optionalUm(const Node& node, const char* key) {
    return node.has(key) ? node.at(key).integer(-kMostUm, kMostUm) : 0;
}
double optionalNumber(const Node& node, const char* key) { return node.has(key) ? node.at(key).number() : 0; }
bool optionalFlag(const Node& node, const char* key) {
    if (!node.has(key)) return false;
    if (!node.at(key).json().is_boolean()) node.at(key).wrong("true or false");
    return node.at(key).json().get<bool>();
}
std::vector<std::int64_t> readHeights(const Node& node, const char* key) {
    std::vector<std::int64_t> heights;
    if (node.has(key))
        for (const Node& entry : node.at(key).list(0, 1000)) heights.push_back(entry.integer(-kMostUm, kMostUm));
    return heights;
}
model::BoardAxis readAxis(const Node& node) {
    const std::string name = node.text(10);
    for (int k = 0; k < 3; ++k)
        if (name == kAxes[k]) return static_cast<model::BoardAxis>(k);
    fail("file.value", node.pointer(), "'right', 'up' or 'out' is expected");
}
std::vector<model::GearId> readGearIds(const Node& node) {
    std::vector<model::GearId> ids;
    for (const Node& entry : node.list(0, 1000)) ids.push_back({entry.text(60)});
    return ids;
}

model::Shaft readShaft(const Node& node) {
    static const Known kKnown{"id", "name", "at", "axis", "length", "bearings", "carrier", "held"};
    model::Shaft shaft;
    shaft.id.text = node.at("id").text(60);
    shaft.name = optionalText(node, "name", 200);
    shaft.atUm = readAt(node.at("at"));
    if (node.has("axis")) shaft.axis = readAxis(node.at("axis"));
    shaft.lengthUm = node.at("length").integer(1, kMostUm);
    shaft.bearingsUm = readHeights(node, "bearings");
    shaft.carrier.text = optionalText(node, "carrier", kMostShort);
    shaft.held = optionalFlag(node, "held");
    shaft.extra = node.extra(kKnown);
    return shaft;
}

model::Gear readGear(const Node& node) {
    static const Known kKnown{"id", "kind", "teeth", "shaft", "along", "loose", "left_hand", "other", "at", "axis"};
    model::Gear gear;
    gear.id.text = node.at("id").text(60);
    const Node kind = node.at("kind");
    const auto found = model::findGearKind(kind.text(60));
    if (!found) fail("file.value", kind.pointer(), "there is no wheel kind called '" + kind.text(60) + "'");
    gear.kind = *found;
    gear.teeth = static_cast<int>(
        node.at("teeth").integer(-1'000'000, 1'000'000)); // its range depends on the kind: model::validate
    if (gear.kind == model::GearKind::Rack) {
        gear.atUm = readAt(node.at("at"));
        if (node.has("axis")) gear.axis = readAxis(node.at("axis"));
    } else {
        gear.shaft.text = node.at("shaft").text(60);
        gear.alongUm = optionalUm(node, "along");
    }
    gear.loose = optionalFlag(node, "loose");
    gear.leftHand = optionalFlag(node, "left_hand");
    gear.other.text = optionalText(node, "other", kMostShort);
    gear.extra = node.extra(kKnown);
    return gear;
}

model::Loop readLoop(const Node& node) {
    static const Known kKnown{"id", "kind", "crossed", "gears", "links", "length_mm"};
    model::Loop loop;
    loop.id.text = node.at("id").text(60);
    const std::string kind = node.at("kind").text(20);
    if (kind != "chain" && kind != "belt")
        fail("file.value", node.at("kind").pointer(), "'chain' or 'belt' is expected");
    loop.belt = kind == "belt";
    loop.crossed = optionalFlag(node, "crossed");
    loop.gears = readGearIds(node.at("gears"));
    if (const char* key = loop.belt ? "length_mm" : "links"; node.has(key))
        loop.links = static_cast<int>(node.at(key).integer(0, 1'000'000));
    loop.extra = node.extra(kKnown);
    return loop;
}

model::Coupling readCoupling(const Node& node) {
    static const Known kKnown{"id", "a", "b", "universal"};
    model::Coupling coupling;
    coupling.id.text = node.at("id").text(60);
    coupling.a.text = node.at("a").text(60);
    coupling.b.text = node.at("b").text(60);
    coupling.universal = optionalFlag(node, "universal");
    coupling.extra = node.extra(kKnown);
    return coupling;
}

model::Strand readStrand(const Node& node) {
    static const Known kKnown{"id", "kind", "name", "over", "off", "gap", "slack"};
    model::Strand strand;
    strand.id.text = node.at("id").text(60);
    const std::string kind = node.at("kind").text(20);
    if (kind != "string" && kind != "wire")
        fail("file.value", node.at("kind").pointer(), "'string' or 'wire' is expected");
    strand.wire = kind == "wire";
    strand.name = optionalText(node, "name", 200);
    strand.over.text = node.at("over").text(60);
    strand.offUm = optionalUm(node, "off");
    strand.gapUm = optionalUm(node, "gap");
    strand.slackUm = optionalUm(node, "slack");
    strand.extra = node.extra(kKnown);
    return strand;
}

model::DriveMotor readMotor(const Node& node) {
    static const Known kKnown{"id", "name", "line", "shaft", "at_end"};
    model::DriveMotor motor;
    motor.id.text = node.at("id").text(60);
    motor.name = node.at("name").text(200);
    motor.line = node.at("line").text(200);
    motor.shaft.text = node.at("shaft").text(60);
    motor.atEnd = optionalFlag(node, "at_end");
    motor.extra = node.extra(kKnown);
    return motor;
}

model::Selector readSelector(const Node& node) {
    static const Known kKnown{"id", "name", "positions", "now"};
    model::Selector selector;
    selector.id.text = node.at("id").text(60);
    selector.name = node.at("name").text(200);
    for (const Node& entry : node.at("positions").list(1, 200))
        selector.positions.push_back({entry.at("name").text(200), readGearIds(entry.at("engaged"))});
    if (node.has("now")) selector.at = static_cast<int>(node.at("now").integer(-1, 1'000'000));
    selector.extra = node.extra(kKnown);
    return selector;
}

model::DriveFunction readFunction(const Node& node) {
    static const Known kKnown{"id",     "name",      "shaft",      "gear",      "load",
                              "amount", "radius_mm", "from_deg",   "rate_n_mm", "joint",
                              "travel", "within_s",  "wanted_rpm", "must_hold", "with_others"};
    model::DriveFunction function;
    function.id.text = node.at("id").text(60);
    function.name = node.at("name").text(200);
    function.shaft.text = optionalText(node, "shaft", kMostShort);
    function.gear.text = optionalText(node, "gear", kMostShort);
    if (node.has("load")) {
        const auto load = model::findLoadKind(node.at("load").text(60));
        if (!load)
            fail("file.value", node.at("load").pointer(),
                 "'none', 'friction', 'lift', 'arm', 'joint', 'slope' or 'band' is expected");
        function.load = *load;
    }
    function.amount = optionalNumber(node, "amount");
    function.radiusMm = optionalNumber(node, "radius_mm");
    function.fromDeg = optionalNumber(node, "from_deg");
    function.ratePerMm = optionalNumber(node, "rate_n_mm");
    function.joint.text = optionalText(node, "joint", kMostShort);
    function.travel = optionalNumber(node, "travel");
    if (node.has("within_s")) function.withinS = node.at("within_s").number();
    if (node.has("wanted_rpm")) function.wantedRpm = node.at("wanted_rpm").number();
    function.mustHold = optionalFlag(node, "must_hold");
    function.withOthers = optionalFlag(node, "with_others");
    function.extra = node.extra(kKnown);
    return function;
}

template <class Entry>
void readEntries(const Node& board, const char* key, std::vector<Entry>& list, Entry (*read)(const Node&)) {
    if (!board.has(key)) return;
    for (const Node& entry : board.at(key).list(0, kMostEntries)) {
        entry.requireObject();
        list.push_back(read(entry));
    }
}

// Writing

void addFlag(Json& json, const char* key, bool flag) {
    if (flag) json[key] = true;
}
Json idsJson(const std::vector<model::GearId>& ids) {
    Json list = Json::array();
    for (const auto& id : ids) list.push_back(id.text);
    return list;
}

Json entryJson(const model::Shaft& shaft) {
    Json json{{"id", shaft.id.text}};
    addText(json, "name", shaft.name);
    json["at"] = shaft.atUm;
    json["axis"] = kAxes[static_cast<int>(shaft.axis)];
    json["length"] = shaft.lengthUm;
    if (!shaft.bearingsUm.empty()) json["bearings"] = shaft.bearingsUm;
    addText(json, "carrier", shaft.carrier.text);
    addFlag(json, "held", shaft.held);
    addExtra(json, shaft.extra);
    return json;
}
Json entryJson(const model::Gear& gear) {
    Json json{{"id", gear.id.text}, {"kind", model::getGearKindName(gear.kind)}, {"teeth", gear.teeth}};
    if (gear.kind == model::GearKind::Rack) {
        json["at"] = gear.atUm;
        json["axis"] = kAxes[static_cast<int>(gear.axis)];
    } else {
        json["shaft"] = gear.shaft.text;
        json["along"] = gear.alongUm;
    }
    addFlag(json, "loose", gear.loose);
    addFlag(json, "left_hand", gear.leftHand);
    addText(json, "other", gear.other.text);
    addExtra(json, gear.extra);
    return json;
}
Json entryJson(const model::Loop& loop) {
    Json json{{"id", loop.id.text}, {"kind", loop.belt ? "belt" : "chain"}};
    addFlag(json, "crossed", loop.crossed);
    json["gears"] = idsJson(loop.gears);
    if (loop.links > 0) json[loop.belt ? "length_mm" : "links"] = loop.links;
    addExtra(json, loop.extra);
    return json;
}
Json entryJson(const model::Coupling& coupling) {
    Json json{{"id", coupling.id.text}, {"a", coupling.a.text}, {"b", coupling.b.text}};
    addFlag(json, "universal", coupling.universal);
    addExtra(json, coupling.extra);
    return json;
}
Json entryJson(const model::Strand& strand) {
    Json json{{"id", strand.id.text}, {"kind", strand.wire ? "wire" : "string"}};
    addText(json, "name", strand.name);
    json["over"] = strand.over.text;
    json["off"] = strand.offUm;
    json["gap"] = strand.gapUm;
    json["slack"] = strand.slackUm;
    addExtra(json, strand.extra);
    return json;
}
Json entryJson(const model::DriveMotor& motor) {
    Json json{{"id", motor.id.text}, {"name", motor.name}, {"line", motor.line}, {"shaft", motor.shaft.text}};
    addFlag(json, "at_end", motor.atEnd);
    addExtra(json, motor.extra);
    return json;
}
Json entryJson(const model::Selector& selector) {
    Json json{{"id", selector.id.text}, {"name", selector.name}, {"positions", Json::array()}, {"now", selector.at}};
    for (const auto& position : selector.positions)
        json["positions"].push_back({{"name", position.name}, {"engaged", idsJson(position.engaged)}});
    addExtra(json, selector.extra);
    return json;
}
Json entryJson(const model::DriveFunction& function) {
    Json json{{"id", function.id.text}, {"name", function.name}};
    addText(json, "shaft", function.shaft.text);
    addText(json, "gear", function.gear.text);
    json["load"] = model::getLoadKindName(function.load);
    const auto add = [&](const char* key, double value) {
        if (value != 0) json[key] = numberJson(value);
    };
    add("amount", function.amount);
    add("radius_mm", function.radiusMm);
    add("from_deg", function.fromDeg);
    add("rate_n_mm", function.ratePerMm);
    addText(json, "joint", function.joint.text);
    add("travel", function.travel);
    if (function.withinS) json["within_s"] = numberJson(*function.withinS);
    if (function.wantedRpm) json["wanted_rpm"] = numberJson(*function.wantedRpm);
    addFlag(json, "must_hold", function.mustHold);
    addFlag(json, "with_others", function.withOthers);
    addExtra(json, function.extra);
    return json;
}

template <class Entry> std::string entriesText(const char* key, const std::vector<Entry>& list) {
    if (list.empty()) return "";
    std::string text = std::string(",\n      \"") + key + "\": [";
    for (std::size_t i = 0; i < list.size(); ++i)
        text += (i ? ",\n        " : "\n        ") + jsonLine(entryJson(list[i]));
    return text + "]";
}

} // namespace

model::BoardPtr readBoard(const Node& node) {
    static const Known kKnown{"id",      "name",      "section", "at",     "turn",      "quat",
                              "carrier", "walls",     "step",    "colour", "shafts",    "gears",
                              "loops",   "couplings", "strands", "motors", "selectors", "functions"};
    node.requireObject();
    auto board = std::make_shared<model::Board>();
    board->id.text = node.at("id").text(60);
    board->name = node.at("name").text(200);
    board->section.text = optionalText(node, "section", kMostShort);
    if (node.has("at")) board->place = readPlace(node);
    board->carrier.text = optionalText(node, "carrier", kMostShort);
    if (node.has("step")) board->step = static_cast<int>(node.at("step").integer(0, 1'000'000));
    if (node.has("colour")) {
        board->colour = parts::findColour(node.at("colour").text(60));
        if (board->colour < 0)
            fail("file.value", node.at("colour").pointer(),
                 "there is no colour called '" + node.at("colour").text(60) + "'");
    }
    board->wallsUm = readHeights(node, "walls");
    readEntries(node, "shafts", board->shafts, readShaft);
    readEntries(node, "gears", board->gears, readGear);
    readEntries(node, "loops", board->loops, readLoop);
    readEntries(node, "couplings", board->couplings, readCoupling);
    readEntries(node, "strands", board->strands, readStrand);
    readEntries(node, "motors", board->motors, readMotor);
    readEntries(node, "selectors", board->selectors, readSelector);
    readEntries(node, "functions", board->functions, readFunction);
    board->extra = node.extra(kKnown);
    return board;
}

std::string boardText(const model::Board& board) {
    Json head{{"id", board.id.text}, {"name", board.name}};
    addText(head, "section", board.section.text);
    if (!(board.place == model::Place{})) addPlace(head, board.place);
    addText(head, "carrier", board.carrier.text);
    if (board.step > 0) head["step"] = board.step;
    if (board.colour > 0) head["colour"] = parts::getColourName(board.colour);
    if (!board.wallsUm.empty()) head["walls"] = board.wallsUm;
    addExtra(head, board.extra);
    std::string text = jsonLine(head);
    text.resize(text.size() - 2);
    return text + entriesText("shafts", board.shafts) + entriesText("gears", board.gears) +
           entriesText("loops", board.loops) + entriesText("couplings", board.couplings) +
           entriesText("strands", board.strands) + entriesText("motors", board.motors) +
           entriesText("selectors", board.selectors) + entriesText("functions", board.functions) + " }";
}

} // namespace ivrant::files
