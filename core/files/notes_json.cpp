// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/files/notes_json.h"

#include <cmath>

#include "core/files/json_reader.h"

namespace ivrant::files {
namespace {

using model::Json;

std::vector<double> readNumbers(const Node& node) {
    std::vector<double> values;
    for (const Node& entry : node.list(0, 100'000)) values.push_back(entry.number());
    return values;
}

template <class Value, class Find> Value readName(const Node& node, Find find, const std::string& expected) {
    const auto value = find(node.text());
    if (!value) fail("file.value", node.pointer(), expected + " is expected");
    return *value;
}

/// Reads a list; entries of version 1 without the key that tells their kind are kept as they are.
template <class Entry, class Read>
void readList(const Node& root, const char* key, std::int64_t version, const char* telling, std::vector<Entry>& target,
              Json& kept, Read read) {
    if (!root.has(key)) return;
    for (const Node& node : root.at(key).list()) {
        if (version == 1 && !node.has(telling))
            kept[std::string("kept_") + key].push_back(node.json());
        else
            target.push_back(read(node));
    }
}

} // namespace

model::Ask readAsk(const Node& node) {
    static const std::set<std::string, std::less<>> kKnown{"id",      "measure", "is",      "value",   "word",
                                                           "must",    "joint",   "other",   "section", "pose",
                                                           "freedom", "shape",   "function"};
    node.requireObject();
    model::Ask ask;
    ask.id.text = optionalText(node, "id", 60);
    ask.measure = node.at("measure").text(100);
    if (node.has("is"))
        ask.comparison =
            readName<model::Comparison>(node.at("is"), model::findComparison, "'at least', 'at most' or 'equal to'");
    if (node.has("value")) ask.value = node.at("value").number();
    ask.word = optionalText(node, "word", 200);
    if (node.has("must")) {
        if (!node.at("must").json().is_boolean()) node.at("must").wrong("true or false");
        ask.must = node.at("must").json().get<bool>();
    }
    ask.joint = optionalText(node, "joint", 200);
    ask.other = optionalText(node, "other", 200);
    ask.section = optionalText(node, "section", 200);
    ask.pose = optionalText(node, "pose", 200);
    ask.freedom = optionalText(node, "freedom", 20);
    ask.shape = optionalText(node, "shape", 200);
    ask.function = optionalText(node, "function", 200);
    ask.extra = node.extra(kKnown);
    return ask;
}

model::Series readSeries(const Node& node) {
    static const std::set<std::string, std::less<>> kKnown{"id",    "quantity", "joint", "kind", "readings",
                                                           "moves", "runs",     "date",  "note"};
    node.requireObject();
    model::Series series;
    series.id.text = optionalText(node, "id", 60);
    series.quantity = readName<model::Quantity>(node.at("quantity"), model::findQuantity,
                                                "'holding', 'pull-out', 'stud pull', 'stud shear' or 'motor'");
    if (node.has("joint")) series.joint = model::JointId{node.at("joint").text(60)};
    series.kind = optionalText(node, "kind", 200);
    if (series.quantity != model::Quantity::Motor || node.has("readings"))
        series.readings = readNumbers(node.at("readings"));
    if (node.has("runs"))
        for (const Node& entry : node.at("runs").list(0, 10'000)) {
            entry.requireObject();
            series.runs.push_back({entry.at("torque_nmm").number(), entry.at("rpm").number(),
                                   entry.at("current_a").number(), entry.at("voltage_v").number()});
        }
    if (node.has("moves")) series.moves = readNumbers(node.at("moves"));
    series.date = optionalText(node, "date", 20);
    series.note = optionalText(node, "note");
    series.extra = node.extra(kKnown);
    return series;
}

model::DiaryEntry readDiaryEntry(const Node& node) {
    static const std::set<std::string, std::less<>> kKnown{"id",     "entry", "date",   "text",
                                                           "reason", "joint", "answer", "answered_on"};
    node.requireObject();
    model::DiaryEntry entry;
    entry.id.text = optionalText(node, "id", 60);
    entry.kind = readName<model::DiaryKind>(node.at("entry"), model::findDiaryKind, "'decision', 'failure' or 'trial'");
    entry.date = optionalText(node, "date", 20);
    entry.text = node.at("text").text(10'000);
    entry.reason = optionalText(node, "reason", 10'000);
    if (node.has("joint")) entry.joint = model::JointId{node.at("joint").text(60)};
    entry.answer = optionalText(node, "answer", 10'000);
    entry.answeredOn = optionalText(node, "answered_on", 20);
    entry.extra = node.extra(kKnown);
    return entry;
}

model::OwnCase readCase(const Node& node) {
    static const std::set<std::string, std::less<>> kKnown{
        "id", "name", "slope_deg", "toward_deg", "down_g", "aside_g", "strapped", "hands", "push_n", "pushed", "pose"};
    node.requireObject();
    model::OwnCase own;
    own.id.text = optionalText(node, "id", 60);
    own.name = node.at("name").text(200);
    const auto number = [&](const char* key, double& value) {
        if (node.has(key)) value = node.at(key).number();
    };
    number("slope_deg", own.slopeDeg);
    number("toward_deg", own.towardDeg);
    number("down_g", own.downG);
    number("aside_g", own.asideG);
    number("push_n", own.pushN);
    if (node.has("strapped")) {
        if (!node.at("strapped").json().is_boolean()) node.at("strapped").wrong("true or false");
        own.strapped = node.at("strapped").json().get<bool>();
    }
    if (node.has("hands"))
        for (const Node& hand : node.at("hands").list(0, 100)) own.hands.push_back({hand.text(60)});
    own.pushed.text = optionalText(node, "pushed", 60);
    own.pose.text = optionalText(node, "pose", 60);
    own.extra = node.extra(kKnown);
    return own;
}

void readNotes(const Node& root, std::int64_t version, model::Project& project) {
    Json kept = Json::object();
    readList(root, "asks", version, "measure", project.asks, kept, readAsk);
    readList(root, "measured", version, "quantity", project.measured, kept, readSeries);
    readList(root, "diary", version, "entry", project.diary, kept, readDiaryEntry);
    if (root.has("cases"))
        for (const Node& node : root.at("cases").list(0, 1000)) project.cases.push_back(readCase(node));
    if (!kept.empty()) project.extra = std::make_shared<const Json>(std::move(kept));
}

Json askJson(const model::Ask& ask) {
    Json json;
    addText(json, "id", ask.id.text);
    json["measure"] = ask.measure;
    json["is"] = model::getComparisonName(ask.comparison);
    if (ask.word.empty())
        json["value"] = numberJson(ask.value);
    else
        json["word"] = ask.word;
    json["must"] = ask.must;
    addText(json, "joint", ask.joint);
    addText(json, "other", ask.other);
    addText(json, "section", ask.section);
    addText(json, "pose", ask.pose);
    addText(json, "freedom", ask.freedom);
    addText(json, "shape", ask.shape);
    addText(json, "function", ask.function);
    addExtra(json, ask.extra);
    return json;
}

Json seriesJson(const model::Series& series) {
    Json json;
    addText(json, "id", series.id.text);
    json["quantity"] = model::getQuantityName(series.quantity);
    if (series.joint) json["joint"] = series.joint->text;
    addText(json, "kind", series.kind);
    if (series.quantity != model::Quantity::Motor) json["readings"] = valuesJson(series.readings);
    if (!series.moves.empty()) json["moves"] = valuesJson(series.moves);
    if (!series.runs.empty()) json["runs"] = Json::array();
    for (const model::MotorRun& run : series.runs)
        json["runs"].push_back({{"torque_nmm", numberJson(run.torqueNmm)},
                                {"rpm", numberJson(run.rpm)},
                                {"current_a", numberJson(run.currentA)},
                                {"voltage_v", numberJson(run.voltageV)}});
    addText(json, "date", series.date);
    addText(json, "note", series.note);
    addExtra(json, series.extra);
    return json;
}

Json diaryJson(const model::DiaryEntry& entry) {
    Json json;
    addText(json, "id", entry.id.text);
    json["entry"] = model::getDiaryKindName(entry.kind);
    addText(json, "date", entry.date);
    json["text"] = entry.text;
    addText(json, "reason", entry.reason);
    if (entry.joint) json["joint"] = entry.joint->text;
    addText(json, "answer", entry.answer);
    addText(json, "answered_on", entry.answeredOn);
    addExtra(json, entry.extra);
    return json;
}

Json caseJson(const model::OwnCase& own) {
    Json json;
    addText(json, "id", own.id.text);
    json["name"] = own.name;
    const auto put = [&](const char* key, double value, double usual) {
        if (value != usual) json[key] = numberJson(value);
    };
    put("slope_deg", own.slopeDeg, 0);
    put("toward_deg", own.towardDeg, 0);
    put("down_g", own.downG, 1);
    put("aside_g", own.asideG, 0);
    if (own.strapped) json["strapped"] = true;
    if (!own.hands.empty()) json["hands"] = Json::array();
    for (const auto& hand : own.hands) json["hands"].push_back(hand.text);
    put("push_n", own.pushN, 0);
    addText(json, "pushed", own.pushed.text);
    addText(json, "pose", own.pose.text);
    addExtra(json, own.extra);
    return json;
}

Json numberJson(double value) {
    if (value == std::floor(value) && std::abs(value) < 1e15) return static_cast<std::int64_t>(value);
    return value;
}

Json valuesJson(const std::vector<double>& values) {
    Json list = Json::array();
    for (double v : values) list.push_back(numberJson(v));
    return list;
}

void addExtra(Json& json, const model::ExtraPtr& extra) {
    if (!extra) return;
    for (const auto& [key, value] : extra->items()) json[key] = value;
}

std::string jsonLine(const Json& json) {
    if (json.is_array()) {
        std::string text = "[";
        for (std::size_t i = 0; i < json.size(); ++i) text += (i ? ", " : "") + jsonLine(json[i]);
        return text + "]";
    }
    if (!json.is_object()) return json.dump(-1, ' ', false, Json::error_handler_t::replace);
    if (json.empty()) return "{}";
    std::string text = "{ ";
    bool first = true;
    for (const auto& [key, value] : json.items()) {
        text += (first ? "" : ", ") + Json(key).dump() + ": " + jsonLine(value);
        first = false;
    }
    return text + " }";
}

} // namespace ivrant::files
