// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/files/lines_json.h"

#include <array>
#include <set>

#include "core/files/notes_json.h"

namespace ivrant::files {
namespace {

using model::Guide;
using model::Json;
using model::Line;
using model::LineEnd;
using model::LineKind;

constexpr std::size_t kMostStrands = 100;

template <class Value, std::size_t N>
Value readWord(const Node& node, const std::array<Value, N>& values, const char* (*nameOf)(Value)) {
    const std::string word = node.text(20);
    std::string all;
    for (const Value value : values) {
        if (word == nameOf(value)) return value;
        all += (all.empty() ? "" : ", ") + std::string(nameOf(value));
    }
    fail("file.value", node.pointer(), "one of " + all + " is expected, found '" + word + "'");
}

bool readFlag(const Node& node, const char* key) {
    if (!node.has(key)) return false;
    const Node flag = node.at(key);
    if (!flag.json().is_boolean()) flag.wrong("true or false");
    return flag.json().get<bool>();
}

Guide readGuide(const Node& node) {
    node.requireObject();
    Guide guide;
    guide.part.text = node.at("part").text(60);
    guide.port = node.at("port").text(60);
    if (node.has("radius")) guide.radiusMm = node.at("radius").number();
    if (node.has("side")) guide.side = static_cast<int>(node.at("side").integer(-1, 1));
    guide.captive = readFlag(node, "captive");
    return guide;
}

Line readLine(const Node& node) {
    static const std::set<std::string, std::less<>> kKnown{"id",        "name",  "kind", "guides",    "end",  "closed",
                                                           "length_mm", "count", "law",  "travel_mm", "works"};
    node.requireObject();
    Line line;
    line.id.text = node.at("id").text(60);
    line.name = node.at("name").text(200);
    line.kind = readWord(node.at("kind"), std::array{LineKind::String, LineKind::Band, LineKind::Spring},
                         model::getLineKindName);
    for (const Node& one : node.at("guides").list(2, model::kMostGuides)) line.guides.push_back(readGuide(one));
    if (node.has("end"))
        line.end =
            readWord(node.at("end"), std::array{LineEnd::Tied, LineEnd::Hand, LineEnd::Drum}, model::getLineEndName);
    line.closed = readFlag(node, "closed");
    if (node.has("length_mm")) line.lengthMm = node.at("length_mm").number();
    if (node.has("count")) line.count = static_cast<int>(node.at("count").integer(1, model::kMostLinesAbreast));
    if (node.has("law"))
        for (const Node& one : node.at("law").list(0, model::kMostLawPoints)) {
            const auto pair = one.list(2, 2);
            line.law.push_back({pair[0].number(), pair[1].number()});
        }
    if (node.has("travel_mm")) line.travelMm = node.at("travel_mm").number();
    if (node.has("works")) {
        const Node works = node.at("works");
        works.requireObject();
        line.works = model::Works{{works.at("joint").text(60)}, works.at("from").number(), works.at("to").number()};
    }
    line.extra = node.extra(kKnown);
    return line;
}

Json guideJson(const Guide& guide) {
    Json json{{"part", guide.part.text}, {"port", guide.port}};
    if (guide.radiusMm > 0) {
        json["radius"] = numberJson(guide.radiusMm);
        json["side"] = guide.side;
    }
    if (guide.captive) json["captive"] = true;
    return json;
}

Json lineJson(const Line& line) {
    Json json{{"id", line.id.text}, {"name", line.name}, {"kind", model::getLineKindName(line.kind)}};
    for (const Guide& guide : line.guides) json["guides"].push_back(guideJson(guide));
    if (line.end != LineEnd::Tied) json["end"] = model::getLineEndName(line.end);
    if (line.closed) json["closed"] = true;
    if (line.lengthMm) json["length_mm"] = numberJson(*line.lengthMm);
    if (line.count != 1) json["count"] = line.count;
    for (const model::LawPoint& point : line.law) json["law"].push_back(valuesJson({point.mm, point.newton}));
    if (line.travelMm > 0) json["travel_mm"] = numberJson(line.travelMm);
    if (line.works)
        json["works"] = {{"joint", line.works->joint.text},
                         {"from", numberJson(line.works->from)},
                         {"to", numberJson(line.works->to)}};
    addExtra(json, line.extra);
    return json;
}

} // namespace

std::vector<Line> readLines(const Node& root) {
    std::vector<Line> lines;
    if (root.has("lines"))
        for (const Node& node : root.at("lines").list(0, kMostStrands)) lines.push_back(readLine(node));
    return lines;
}

std::string linesText(const std::vector<Line>& lines) { return linesText("lines", lines, lineJson); }

} // namespace ivrant::files
