// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/files/modules_json.h"

#include <set>

#include "core/files/notes_json.h"

namespace ivrant::files {
namespace {

using model::Json;

constexpr std::size_t kMostModules = 200, kMostReaches = 200;

model::Module readModule(const Node& node) {
    static const std::set<std::string, std::less<>> kKnown{"id", "name", "parts", "sections", "option", "pose"};
    node.requireObject();
    model::Module one;
    one.id.text = node.at("id").text(60);
    one.name = node.at("name").text(200);
    one.parts = readIds<model::PartId>(node, "parts");
    one.sections = readIds<model::SectionId>(node, "sections");
    one.option.text = optionalText(node, "option", 60);
    one.pose.text = optionalText(node, "pose", 60);
    one.extra = node.extra(kKnown);
    return one;
}

model::Reach readReach(const Node& node) {
    static const std::set<std::string, std::less<>> kKnown{"id", "name", "part", "side", "with", "most_moves"};
    node.requireObject();
    model::Reach reach;
    reach.id.text = node.at("id").text(60);
    reach.name = node.at("name").text(200);
    reach.part.text = node.at("part").text(60);
    const auto side = model::findSide(node.at("side").text(20));
    if (!side)
        fail("file.value", node.at("side").pointer(),
             "'top', 'bottom', 'left', 'right', 'front' or 'back' is expected");
    reach.side = *side;
    if (node.has("with")) {
        const std::string with = node.at("with").text(20);
        if (with != "finger" && with != "plug")
            fail("file.value", node.at("with").pointer(), "'finger' or 'plug' is expected");
        reach.plug = with == "plug";
    }
    if (node.has("most_moves"))
        reach.mostMoves = static_cast<int>(node.at("most_moves").integer(0, model::kMostReachMoves));
    reach.extra = node.extra(kKnown);
    return reach;
}

Json moduleJson(const model::Module& one) {
    Json json{{"id", one.id.text}, {"name", one.name}};
    addIds(json, "parts", one.parts);
    addIds(json, "sections", one.sections);
    addText(json, "option", one.option.text);
    addText(json, "pose", one.pose.text);
    addExtra(json, one.extra);
    return json;
}

Json reachJson(const model::Reach& reach) {
    Json json{{"id", reach.id.text},
              {"name", reach.name},
              {"part", reach.part.text},
              {"side", model::getSideName(reach.side)},
              {"with", reach.plug ? "plug" : "finger"},
              {"most_moves", reach.mostMoves}};
    addExtra(json, reach.extra);
    return json;
}

} // namespace

model::Modules readModules(const Node& root) {
    model::Modules modules;
    if (root.has("modules"))
        for (const Node& node : root.at("modules").list(0, kMostModules)) modules.list.push_back(readModule(node));
    if (root.has("reaches"))
        for (const Node& node : root.at("reaches").list(0, kMostReaches)) modules.reaches.push_back(readReach(node));
    return modules;
}

std::string modulesText(const model::Modules& modules) {
    return linesText("modules", modules.list, moduleJson) + linesText("reaches", modules.reaches, reachJson);
}

} // namespace ivrant::files
