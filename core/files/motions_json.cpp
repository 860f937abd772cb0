// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/files/motions_json.h"

#include <set>

#include "core/files/notes_json.h"

namespace ivrant::files {
namespace {

using model::Json;

constexpr std::size_t kMostMotions = 100, kMostTraced = 100;

model::Traced readTraced(const Node& node) {
    node.requireObject();
    model::Traced traced;
    traced.part.text = node.at("part").text(60);
    traced.port = optionalText(node, "port", 60);
    return traced;
}

model::Motion readMotion(const Node& node) {
    static const std::set<std::string, std::less<>> kKnown{"id", "name", "joint", "over", "places", "traced", "feet"};
    node.requireObject();
    model::Motion motion;
    motion.id.text = node.at("id").text(60);
    motion.name = node.at("name").text(200);
    motion.joint.text = node.at("joint").text(60);
    if (node.has("over")) {
        const auto ends = node.at("over").list(2, 2);
        motion.over = model::Travel{ends[0].number(), ends[1].number()};
    }
    if (node.has("places"))
        motion.places = static_cast<int>(node.at("places").integer(model::kLeastPlaces, model::kMostPlaces));
    if (node.has("traced"))
        for (const Node& one : node.at("traced").list(0, kMostTraced)) motion.traced.push_back(readTraced(one));
    if (node.has("feet"))
        for (const Node& one : node.at("feet").list(0, model::kMostFeet)) motion.feet.push_back({one.text(60)});
    motion.extra = node.extra(kKnown);
    return motion;
}

Json motionJson(const model::Motion& motion) {
    Json json{{"id", motion.id.text}, {"name", motion.name}, {"joint", motion.joint.text}};
    if (motion.over) json["over"] = valuesJson({motion.over->from, motion.over->to});
    if (motion.places != model::Motion().places) json["places"] = motion.places;
    for (const model::Traced& traced : motion.traced) {
        Json one{{"part", traced.part.text}};
        addText(one, "port", traced.port);
        json["traced"].push_back(std::move(one));
    }
    for (const auto& foot : motion.feet) json["feet"].push_back(foot.text);
    addExtra(json, motion.extra);
    return json;
}

} // namespace

std::vector<model::Motion> readMotions(const Node& root) {
    std::vector<model::Motion> motions;
    if (root.has("motions"))
        for (const Node& node : root.at("motions").list(0, kMostMotions)) motions.push_back(readMotion(node));
    return motions;
}

std::string motionsText(const std::vector<model::Motion>& motions) { return linesText("motions", motions, motionJson); }

} // namespace ivrant::files
