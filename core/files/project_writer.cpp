#include <cmath>
#include <nlohmann/json.hpp>

#include "core/files/project_file.h"
#include "core/parts/palette.h"

namespace ivrant::files {
namespace {

using model::Json;

/// Whole numbers without a fraction, as people write them.
Json numberJson(double value) {
    if (value == std::floor(value) && std::abs(value) < 1e15) return static_cast<std::int64_t>(value);
    return value;
}

void addPlace(Json& json, const model::Place& place) {
    json["at"] = place.atUm;
    if (const int* turn = std::get_if<int>(&place.attitude)) {
        json["turn"] = *turn;
    } else {
        const auto& q = std::get<Eigen::Quaterniond>(place.attitude);
        json["quat"] = {q.w(), q.x(), q.y(), q.z()};
    }
}

void addExtra(Json& json, const model::ExtraPtr& extra) {
    if (!extra) return;
    for (const auto& [key, value] : extra->items()) json[key] = value;
}

/// One line, with a blank after the brackets' inner sides and separators: { "id": "p1", … }.
std::string line(const Json& json) {
    if (json.is_array()) {
        std::string text = "[";
        for (std::size_t i = 0; i < json.size(); ++i) text += (i ? ", " : "") + line(json[i]);
        return text + "]";
    }
    if (!json.is_object()) return json.dump(-1, ' ', false, Json::error_handler_t::replace);
    if (json.empty()) return "{}";
    std::string text = "{ ";
    bool first = true;
    for (const auto& [key, value] : json.items()) {
        text += (first ? "" : ", ") + Json(key).dump() + ": " + line(value);
        first = false;
    }
    return text + " }";
}

Json valuesJson(const std::vector<double>& values) {
    Json list = Json::array();
    for (double v : values) list.push_back(numberJson(v));
    return list;
}

Json partJson(const model::Part& part) {
    Json json;
    json["id"] = part.id.text;
    json["shape"] = part.shape->name;
    json["colour"] = parts::getPalette()[static_cast<std::size_t>(part.colour)].name;
    addPlace(json, part.place);
    json["step"] = part.step;
    if (part.weighedG) json["weighed_g"] = numberJson(*part.weighedG);
    addExtra(json, part.extra);
    return json;
}

std::string sectionText(const model::Section& section) {
    Json head;
    head["id"] = section.id.text;
    head["name"] = section.name;
    if (!(section.place == model::Place{})) addPlace(head, section.place);
    if (!section.ballast.empty()) {
        head["ballast"] = Json::array();
        for (const auto& b : section.ballast) head["ballast"].push_back({{"mass_g", numberJson(b.massG)}, {"at", b.atUm}});
    }
    addExtra(head, section.extra);
    std::string text = line(head);
    text.resize(text.size() - 2);
    text += ", \"parts\": [";
    for (std::size_t p = 0; p < section.parts.size(); ++p) text += (p ? ",\n      " : "\n      ") + line(partJson(section.parts[p]));
    return text + "] }";
}

Json jointJson(const model::Joint& joint) {
    Json json;
    json["id"] = joint.id.text;
    json["name"] = joint.name;
    json["kind"] = joint.kind->name;
    json["from"] = {{"part", joint.from.part.text}, {"port", joint.from.port}};
    json["to"] = {{"part", joint.to.part.text}, {"port", joint.to.port}};
    json["value"] = valuesJson(joint.value);
    if (!joint.wanted.empty()) {
        json["wanted"] = Json::array();
        for (const auto& range : joint.wanted) json["wanted"].push_back({numberJson(range.low), numberJson(range.high)});
    }
    addExtra(json, joint.extra);
    return json;
}

Json poseJson(const model::NamedPose& pose) {
    Json json;
    json["id"] = pose.id.text;
    json["name"] = pose.name;
    json["values"] = Json::object();
    for (const auto& [joint, values] : pose.values) json["values"][joint.text] = valuesJson(values);
    switch (pose.stands.kind) {
    case model::Stance::Kind::Flat: json["stands"] = {{"flat", pose.stands.section.text}}; break;
    case model::Stance::Kind::Settle:
        json["stands"] = {{"settle", {numberJson(pose.stands.up[0]), numberJson(pose.stands.up[1]), numberJson(pose.stands.up[2])}}};
        break;
    case model::Stance::Kind::Held: json["stands"] = {{"held", pose.stands.section.empty() ? Json(true) : Json(pose.stands.section.text)}}; break;
    }
    addExtra(json, pose.extra);
    return json;
}

template <class List, class ToText> std::string listText(const List& list, ToText toText) {
    std::string text = "[";
    for (std::size_t i = 0; i < list.size(); ++i) text += (i ? ",\n    " : "\n    ") + toText(list[i]);
    return text + "]";
}

} // namespace

std::string writeProject(const model::Project& project) {
    std::string text = "{ \"format\": \"ivrant-project\", \"version\": " + std::to_string(kProjectVersion) +
                       ", \"name\": " + Json(project.name).dump(-1, ' ', false, Json::error_handler_t::replace) + ", \"rules\": \"" +
                       (project.rules == model::BuildRules::Strict ? "strict" : "display") + "\", \"next_id\": " + std::to_string(project.nextId) + ",\n";
    const auto keptList = [](const model::ExtraPtr& list) { return listText(list ? *list : Json::array(), [](const Json& json) { return line(json); }); };
    text += "  \"sections\": " + listText(project.sections, [](const model::SectionPtr& s) { return sectionText(*s); }) + ",\n";
    text += "  \"joints\": " + listText(project.joints, [](const model::Joint& j) { return line(jointJson(j)); }) + ",\n";
    text += "  \"poses\": " + listText(project.poses, [](const model::NamedPose& p) { return line(poseJson(p)); }) + ",\n";
    text += "  \"asks\": " + keptList(project.asks) + ",\n";
    text += "  \"measured\": " + keptList(project.measured) + ",\n";
    text += "  \"diary\": " + keptList(project.diary);
    if (project.extra)
        for (const auto& [key, value] : project.extra->items()) text += ",\n  " + Json(key).dump() + ": " + line(value);
    return text + " }\n";
}

} // namespace ivrant::files
