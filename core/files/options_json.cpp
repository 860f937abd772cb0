// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/files/options_json.h"

#include "core/files/notes_json.h"

namespace ivrant::files {
namespace {

using model::Json;

constexpr std::size_t kMostOptions = 100, kMostAlternatives = 200, kMostRules = 10'000;

std::shared_ptr<const model::WaitingBody> readWaiting(const Node& node, const BodyReaders& readers) {
    node.requireObject();
    model::WaitingBody body;
    if (node.has("parts"))
        for (const Node& entry : node.at("parts").list()) {
            model::WaitingParts waiting{{entry.at("section").text(60)}, {}};
            for (const Node& part : entry.at("parts").list()) waiting.parts.push_back(readers.part(part));
            body.parts.push_back(std::move(waiting));
        }
    if (node.has("sections"))
        for (const Node& section : node.at("sections").list()) body.sections.push_back(readers.section(section));
    if (node.has("joints"))
        for (const Node& joint : node.at("joints").list()) body.joints.push_back(readers.joint(joint));
    if (node.has("pose_values")) {
        const Node poses = node.at("pose_values");
        poses.requireObject();
        for (const auto& [pose, joints] : poses.json().items()) {
            const Node of(joints, poses.pointer() + "/" + pose);
            of.requireObject();
            for (const auto& [joint, values] : joints.items())
                for (const Node& value : Node(values, of.pointer() + "/" + joint).list(1, 3))
                    body.poseValues[{pose}][{joint}].push_back(value.number());
        }
    }
    return std::make_shared<const model::WaitingBody>(std::move(body));
}

model::Alternative readAlternative(const Node& node, const BodyReaders& readers) {
    node.requireObject();
    model::Alternative alternative;
    alternative.id.text = node.at("id").text(60);
    alternative.name = node.at("name").text(200);
    alternative.text = optionalText(node, "text", 10'000);
    if (node.has("price")) alternative.price = node.at("price").number();
    alternative.parts = readIds<model::PartId>(node, "parts");
    alternative.sections = readIds<model::SectionId>(node, "sections");
    if (node.has("waiting")) alternative.body = readWaiting(node.at("waiting"), readers);
    return alternative;
}

std::string waitingText(const model::WaitingBody& body, const BodyWriters& writers) {
    std::string text = "{ ";
    const auto add = [&](const char* key, const std::string& value) {
        text += (text.size() > 2 ? ",\n        " : "") + ("\"" + std::string(key) + "\": " + value);
    };
    const auto list = [](const auto& entries, auto write) {
        std::string all = "[";
        for (std::size_t i = 0; i < entries.size(); ++i)
            all += (i ? ",\n          " : "\n          ") + write(entries[i]);
        return all + "]";
    };
    if (!body.parts.empty())
        add("parts", list(body.parts, [&](const model::WaitingParts& waiting) {
                return "{ \"section\": " + Json(waiting.section.text).dump() + ", \"parts\": " +
                       list(waiting.parts, [&](const model::Part& part) { return writers.part(part); }) + " }";
            }));
    if (!body.sections.empty())
        add("sections",
            list(body.sections, [&](const model::SectionPtr& section) { return writers.section(*section); }));
    if (!body.joints.empty())
        add("joints", list(body.joints, [&](const model::Joint& joint) { return writers.joint(joint); }));
    if (!body.poseValues.empty()) {
        Json poses = Json::object();
        for (const auto& [pose, joints] : body.poseValues)
            for (const auto& [joint, values] : joints) poses[pose.text][joint.text] = valuesJson(values);
        add("pose_values", jsonLine(poses));
    }
    return text + " }";
}

std::string alternativeText(const model::Alternative& alternative, const BodyWriters& writers) {
    Json head{{"id", alternative.id.text}, {"name", alternative.name}};
    addText(head, "text", alternative.text);
    if (alternative.price != 0) head["price"] = numberJson(alternative.price);
    addIds(head, "parts", alternative.parts);
    addIds(head, "sections", alternative.sections);
    std::string text = jsonLine(head);
    if (!alternative.body) return text;
    text.resize(text.size() - 2);
    return text + ",\n      \"waiting\": " + waitingText(*alternative.body, writers) + " }";
}

} // namespace

model::Options readOptions(const Node& root, const BodyReaders& readers) {
    model::Options options;
    if (root.has("options"))
        for (const Node& node : root.at("options").list(0, kMostOptions)) {
            node.requireObject();
            model::Option option;
            option.id.text = node.at("id").text(60);
            option.name = node.at("name").text(200);
            for (const Node& alternative : node.at("alternatives").list(1, kMostAlternatives))
                option.alternatives.push_back(readAlternative(alternative, readers));
            const Node chosen = node.at("chosen");
            option.chosen = -1;
            for (std::size_t a = 0; a < option.alternatives.size(); ++a)
                if (option.alternatives[a].id.text == chosen.text(60)) option.chosen = static_cast<int>(a);
            if (option.chosen < 0)
                fail("file.value", chosen.pointer(), "the id of one of its alternatives is expected");
            options.list.push_back(std::move(option));
        }
    if (root.has("option_rules"))
        for (const Node& node : root.at("option_rules").list(0, kMostRules)) {
            node.requireObject();
            model::OptionRule rule;
            rule.first.text = node.at("of").text(60);
            rule.excludes = node.has("excludes");
            rule.second.text = node.at(rule.excludes ? "excludes" : "needs").text(60);
            options.rules.push_back(std::move(rule));
        }
    return options;
}

std::string optionsText(const model::Options& options, const BodyWriters& writers) {
    std::string text;
    if (!options.list.empty()) {
        text += ",\n  \"options\": [";
        for (std::size_t o = 0; o < options.list.size(); ++o) {
            const model::Option& option = options.list[o];
            text +=
                (o ? ",\n    " : "\n    ") + ("{ \"id\": " + Json(option.id.text).dump()) +
                ", \"name\": " + Json(option.name).dump(-1, ' ', false, Json::error_handler_t::replace) +
                ", \"chosen\": " + Json(option.alternatives[static_cast<std::size_t>(option.chosen)].id.text).dump() +
                ", \"alternatives\": [";
            for (std::size_t a = 0; a < option.alternatives.size(); ++a)
                text += (a ? ",\n      " : "\n      ") + alternativeText(option.alternatives[a], writers);
            text += "] }";
        }
        text += "]";
    }
    if (!options.rules.empty()) {
        Json rules = Json::array();
        for (const model::OptionRule& rule : options.rules)
            rules.push_back({{"of", rule.first.text}, {rule.excludes ? "excludes" : "needs", rule.second.text}});
        text += ",\n  \"option_rules\": " + jsonLine(rules);
    }
    return text;
}

} // namespace ivrant::files
