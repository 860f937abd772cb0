// SPDX-License-Identifier: GPL-3.0-or-later
#include <cmath>
#include <nlohmann/json.hpp>

#include "core/files/boards_json.h"
#include "core/files/lines_json.h"
#include "core/files/making_json.h"
#include "core/files/modules_json.h"
#include "core/files/motions_json.h"
#include "core/files/notes_json.h"
#include "core/files/options_json.h"
#include "core/files/own_json.h"
#include "core/files/place_json.h"
#include "core/files/project_file.h"
#include "core/parts/palette.h"

namespace ivrant::files {
namespace {

using model::Json;

Json partJson(const model::Part& part) {
    Json json;
    json["id"] = part.id.text;
    json["shape"] = part.shape->name;
    json["colour"] = parts::getColourName(part.colour);
    addPlace(json, part.place);
    json["step"] = part.step;
    if (part.weighedG) json["weighed_g"] = numberJson(*part.weighedG);
    if (!part.name.empty()) json["name"] = part.name;
    if (!part.after.empty()) json["after"] = part.after.text;
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
        for (const auto& b : section.ballast)
            head["ballast"].push_back({{"mass_g", numberJson(b.massG)}, {"at", b.atUm}});
    }
    addExtra(head, section.extra);
    std::string text = jsonLine(head);
    text.resize(text.size() - 2);
    text += ", \"parts\": [";
    for (std::size_t p = 0; p < section.parts.size(); ++p)
        text += (p ? ",\n      " : "\n      ") + jsonLine(partJson(section.parts[p]));
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
        for (const auto& range : joint.wanted)
            json["wanted"].push_back({numberJson(range.low), numberJson(range.high)});
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
        json["stands"] = {
            {"settle", {numberJson(pose.stands.up[0]), numberJson(pose.stands.up[1]), numberJson(pose.stands.up[2])}}};
        break;
    case model::Stance::Kind::Held:
        json["stands"] = {{"held", pose.stands.section.empty() ? Json(true) : Json(pose.stands.section.text)}};
        break;
    }
    addExtra(json, pose.extra);
    return json;
}

Json postJson(const model::Post& support) {
    Json json;
    json["id"] = support.id.text;
    json["at"] = support.atUm;
    addExtra(json, support.extra);
    return json;
}

template <class List, class ToText> std::string listText(const List& list, ToText toText) {
    std::string text = "[";
    for (std::size_t i = 0; i < list.size(); ++i) text += (i ? ",\n    " : "\n    ") + toText(list[i]);
    return text + "]";
}

/// Sections, joints, poses, gear boards and supports: of the project, or of a variant that waits.
template <class Body> std::string bodyText(const Body& body) {
    return "  \"sections\": " + listText(body.sections, [](const model::SectionPtr& s) { return sectionText(*s); }) +
           ",\n" +
           "  \"joints\": " + listText(body.joints, [](const model::Joint& j) { return jsonLine(jointJson(j)); }) +
           ",\n" +
           "  \"poses\": " + listText(body.poses, [](const model::NamedPose& p) { return jsonLine(poseJson(p)); }) +
           (body.boards.empty()
                ? ""
                : ",\n  \"boards\": " + listText(body.boards, [](const model::BoardPtr& b) { return boardText(*b); })) +
           (body.posts.empty() ? ""
                               : ",\n  \"supports\": " +
                                     listText(body.posts, [](const model::Post& s) { return jsonLine(postJson(s)); })) +
           optionsText(body.options, {[](const model::Part& part) { return jsonLine(partJson(part)); }, sectionText,
                                      [](const model::Joint& joint) { return jsonLine(jointJson(joint)); }}) +
           modulesText(body.modules) + motionsText(body.motions) + linesText(body.lines);
}

std::string variantText(const model::Variant& variant) {
    Json head;
    head["id"] = variant.id.text;
    head["name"] = variant.name;
    std::string text = jsonLine(head);
    if (!variant.body) return text;
    text.resize(text.size() - 2);
    return text + ",\n" + bodyText(*variant.body) + " }";
}

std::string headText(const model::Project& project) {
    Json head;
    head["format"] = "ivrant-project";
    head["version"] = kProjectVersion;
    head["name"] = project.name;
    head["rules"] = project.rules == model::BuildRules::Strict ? "strict" : "display";
    if (project.tiltDeg != 0) head["tilt_deg"] = numberJson(project.tiltDeg);
    if (!project.shownOn.empty()) head["shown_on"] = project.shownOn;
    head["next_id"] = project.nextId;
    std::string text = jsonLine(head);
    text.resize(text.size() - 2);
    return text + ",\n";
}

} // namespace

std::string writeProject(const model::Project& project) {
    std::string text = headText(project);
    if (!project.ownShapes.empty())
        text += "  \"own_shapes\": " +
                listText(project.ownShapes, [](const parts::ShapePtr& s) { return ownShapeText(*s); }) + ",\n";
    text += bodyText(project) + ",\n";
    if (!project.variants.empty()) text += "  \"variants\": " + listText(project.variants, variantText) + ",\n";
    text += "  \"asks\": " + listText(project.asks, [](const model::Ask& a) { return jsonLine(askJson(a)); }) + ",\n";
    text += "  \"measured\": " +
            listText(project.measured, [](const model::Series& m) { return jsonLine(seriesJson(m)); }) + ",\n";
    text +=
        "  \"diary\": " + listText(project.diary, [](const model::DiaryEntry& d) { return jsonLine(diaryJson(d)); });
    if (!project.cases.empty())
        text +=
            ",\n  \"cases\": " + listText(project.cases, [](const model::OwnCase& c) { return jsonLine(caseJson(c)); });
    if (const std::string making = makingText(project.making); !making.empty()) text += ",\n  \"making\": " + making;
    if (project.extra)
        for (const auto& [key, value] : project.extra->items())
            text += ",\n  " + Json(key).dump() + ": " + jsonLine(value);
    return text + " }\n";
}

} // namespace ivrant::files
