// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/files/project_file.h"

#include <cmath>

#include "core/files/atomic_file.h"
#include "core/files/boards_json.h"
#include "core/files/json_guard.h"
#include "core/files/json_reader.h"
#include "core/files/lines_json.h"
#include "core/files/making_json.h"
#include "core/files/modules_json.h"
#include "core/files/motions_json.h"
#include "core/files/notes_json.h"
#include "core/files/options_json.h"
#include "core/files/own_json.h"
#include "core/files/place_json.h"
#include "core/model/edits_options.h"
#include "core/model/texts.h"
#include "core/model/validate.h"
#include "core/model/validate_boards.h"
#include "core/model/variants.h"
#include "core/parts/family.h"
#include "core/parts/palette.h"

namespace ivrant::files {
namespace {

using model::Json;

model::Part readPart(const Node& node, const std::vector<parts::ShapePtr>& own) {
    static const std::set<std::string, std::less<>> kKnown{"id",   "shape", "colour",    "at",   "turn",
                                                           "quat", "step",  "weighed_g", "name", "after"};
    model::Part part;
    node.requireObject();
    part.id.text = node.at("id").text(60);
    const Node shapeNode = node.at("shape");
    const std::string name = shapeNode.text();
    for (const auto& candidate : own)
        if (candidate->name == name) part.shape = candidate;
    if (!part.shape) {
        if (parts::isOwnName(name))
            fail("shape.unknown", shapeNode.pointer(), "'" + name + "' is not among the own_shapes of this file");
        auto shape = parts::makeShape(name);
        if (!shape) fail(shape.error().code, shapeNode.pointer(), shape.error().message);
        part.shape = *shape;
    }
    const Node colourNode = node.at("colour");
    part.colour = parts::findColour(colourNode.text());
    if (part.colour < 0)
        fail("colour.unknown", colourNode.pointer(), "there is no colour called '" + colourNode.text() + "'");
    part.place = readPlace(node);
    part.step = node.has("step") ? static_cast<int>(node.at("step").integer(1, 1'000'000)) : 1;
    if (node.has("weighed_g")) {
        const double mass = node.at("weighed_g").number();
        if (!(mass > 0 && mass < 1e6))
            fail("file.value", node.pointer() + "/weighed_g", "a mass above 0 g and below 1000 kg is expected");
        part.weighedG = mass;
    }
    if (node.has("name")) part.name = node.at("name").text(model::kMostShortName);
    if (node.has("after")) part.after.text = node.at("after").text(60);
    part.extra = node.extra(kKnown);
    return part;
}

model::SectionPtr readSection(const Node& node, const std::vector<parts::ShapePtr>& own) {
    static const std::set<std::string, std::less<>> kKnown{"id", "name", "at", "turn", "quat", "ballast", "parts"};
    auto section = std::make_shared<model::Section>();
    section->id.text = node.at("id").text(60);
    section->name = node.at("name").text();
    if (node.has("at")) section->place = readPlace(node);
    const auto list = node.at("parts").list();
    section->parts.reserve(list.size());
    for (const Node& part : list) section->parts.push_back(readPart(part, own));
    if (node.has("ballast"))
        for (const Node& entry : node.at("ballast").list()) {
            const double mass = entry.at("mass_g").number();
            if (!(mass > 0 && mass < 1e6))
                fail("file.value", entry.pointer() + "/mass_g", "a mass above 0 g and below 1000 kg is expected");
            section->ballast.push_back({mass, readAt(entry.at("at"))});
        }
    section->extra = node.extra(kKnown);
    return section;
}

std::vector<double> readValues(const Node& node) {
    std::vector<double> values;
    for (const Node& entry : node.list(1, 3)) values.push_back(entry.number());
    return values;
}

model::PortRef readPort(const Node& node) { return {{node.at("part").text(60)}, node.at("port").text(60)}; }

model::Joint readJoint(const Node& node) {
    static const std::set<std::string, std::less<>> kKnown{"id", "name", "kind", "from", "to", "value", "wanted"};
    model::Joint joint;
    joint.id.text = node.at("id").text(60);
    joint.name = node.at("name").text();
    const Node kind = node.at("kind");
    joint.kind = parts::findJointKind(kind.text());
    if (!joint.kind) fail("joint.kind", kind.pointer(), "there is no joint kind called '" + kind.text() + "'");
    joint.from = readPort(node.at("from"));
    joint.to = readPort(node.at("to"));
    joint.value = node.has("value") ? readValues(node.at("value"))
                                    : std::vector<double>(static_cast<std::size_t>(joint.kind->freedomCount()), 0.0);
    if (node.has("wanted"))
        for (const Node& range : node.at("wanted").list(0, 3)) {
            const auto ends = range.list(2, 2);
            joint.wanted.push_back({ends[0].number(), ends[1].number()});
        }
    joint.extra = node.extra(kKnown);
    return joint;
}

model::Stance readStance(const Node& node) {
    model::Stance stance;
    node.requireObject();
    if (node.json().size() != 1) fail("file.value", node.pointer(), "one of flat, settle or held is expected");
    if (node.has("flat")) {
        stance.kind = model::Stance::Kind::Flat;
        stance.section.text = node.at("flat").text(60);
    } else if (node.has("settle")) {
        stance.kind = model::Stance::Kind::Settle;
        const auto up = node.at("settle").list(3, 3);
        for (std::size_t k = 0; k < 3; ++k) stance.up[k] = up[k].number();
    } else if (node.has("held")) {
        stance.kind = model::Stance::Kind::Held;
        if (node.at("held").json().is_string())
            stance.section.text = node.at("held").text(60);
        else if (!node.at("held").json().is_boolean())
            node.at("held").wrong("a section id or true");
    } else {
        fail("file.value", node.pointer(), "one of flat, settle or held is expected");
    }
    return stance;
}

model::NamedPose readPose(const Node& node) {
    static const std::set<std::string, std::less<>> kKnown{"id", "name", "values", "stands"};
    model::NamedPose pose;
    pose.id.text = node.at("id").text(60);
    pose.name = node.at("name").text();
    if (node.has("values")) {
        const Node values = node.at("values");
        values.requireObject();
        for (const auto& [key, value] : values.json().items())
            pose.values[{key}] = readValues(Node(value, values.pointer() + "/" + key));
    }
    if (node.has("stands")) pose.stands = readStance(node.at("stands"));
    pose.extra = node.extra(kKnown);
    return pose;
}

/// One more than the largest number at the end of any id, so that no id is ever used again.
std::int64_t findNextId(const model::Project& project) {
    std::int64_t next = 1;
    const auto look = [&](const std::string& id) {
        const auto digits = id.find_first_of("0123456789");
        if (digits == std::string::npos || id.size() - digits > 15 ||
            id.find_first_not_of("0123456789", digits) != std::string::npos)
            return;
        next = std::max<std::int64_t>(next, std::stoll(id.substr(digits)) + 1);
    };
    const auto lookAll = [&](const auto& list) {
        for (const auto& entry : list) look(entry.id.text);
    };
    const auto lookBody = [&](const auto& body) {
        for (const auto& section : body.sections) {
            look(section->id.text);
            lookAll(section->parts);
        }
        lookAll(body.joints);
        lookAll(body.poses);
        lookAll(body.posts);
        lookAll(body.modules.list);
        lookAll(body.modules.reaches);
        lookAll(body.motions);
        lookAll(body.lines);
        for (const model::Option& option : body.options.list) {
            look(option.id.text);
            for (const model::Alternative& alternative : option.alternatives) {
                look(alternative.id.text);
                if (!alternative.body) continue;
                for (const model::WaitingParts& waiting : alternative.body->parts) lookAll(waiting.parts);
                for (const auto& section : alternative.body->sections) {
                    look(section->id.text);
                    lookAll(section->parts);
                }
                lookAll(alternative.body->joints);
            }
        }
        for (const auto& board : body.boards) {
            look(board->id.text);
            model::forEachItem(*board, [&](const char*, std::size_t, const std::string& id) { look(id); });
        }
    };
    lookBody(project);
    for (const auto& variant : project.variants)
        if (variant.body) lookBody(*variant.body);
    lookAll(project.variants);
    lookAll(project.asks);
    lookAll(project.measured);
    lookAll(project.diary);
    lookAll(project.cases);
    lookAll(project.making.orders);
    lookAll(project.making.builds);
    return next;
}

model::Post readPost(const Node& node) {
    static const std::set<std::string, std::less<>> kKnown{"id", "at"};
    node.requireObject();
    model::Post support;
    support.id.text = node.at("id").text(60);
    support.atUm = readAt(node.at("at"));
    support.extra = node.extra(kKnown);
    return support;
}

/// Sections, joints, poses, gear boards and supports of the project or of a variant that waits.
template <class Body> void readBody(const Node& root, const std::vector<parts::ShapePtr>& own, Body& body) {
    for (const Node& section : root.at("sections").list()) body.sections.push_back(readSection(section, own));
    if (body.sections.empty()) fail("file.value", root.pointer() + "/sections", "at least one section is expected");
    if (root.has("joints"))
        for (const Node& joint : root.at("joints").list()) body.joints.push_back(readJoint(joint));
    if (root.has("boards"))
        for (const Node& board : root.at("boards").list(0, 500)) body.boards.push_back(readBoard(board));
    if (root.has("supports"))
        for (const Node& support : root.at("supports").list(0, 100)) body.posts.push_back(readPost(support));
    body.options = readOptions(root, {[&](const Node& node) { return readPart(node, own); },
                                      [&](const Node& node) { return readSection(node, own); }, readJoint});
    body.modules = readModules(root);
    body.motions = readMotions(root);
    body.lines = readLines(root);
    if (!root.has("poses")) return;
    for (const Node& pose : root.at("poses").list()) {
        body.poses.push_back(readPose(pose));
        if (pose.has("stands")) continue; // else the first root section flat on the ground
        body.poses.back().stands.kind = model::Stance::Kind::Flat;
        body.poses.back().stands.section = body.sections.front()->id;
    }
}

void readVariants(const Node& root, model::Project& project) {
    if (!root.has("variants")) return;
    const Node list = root.at("variants");
    int shown = 0;
    for (const Node& node : list.list(0, 50)) {
        model::Variant variant{{node.at("id").text(60)}, node.at("name").text(200), nullptr};
        if (node.has("sections")) {
            model::VariantBody body;
            readBody(node, project.ownShapes, body);
            variant.body = std::make_shared<const model::VariantBody>(std::move(body));
        } else {
            ++shown;
        }
        project.variants.push_back(std::move(variant));
    }
    if (!project.variants.empty() && shown != 1)
        fail("file.value", list.pointer(),
             "exactly one variant without sections of its own is expected: the one shown");
}

model::Project readProject(const Json& json) {
    static const std::set<std::string, std::less<>> kKnown{
        "format", "version",  "name",         "rules",    "tilt_deg", "shown_on",   "next_id", "sections", "joints",
        "poses",  "variants", "asks",         "measured", "diary",    "own_shapes", "boards",  "cases",    "supports",
        "making", "options",  "option_rules", "modules",  "reaches",  "motions",    "lines"};
    const Node root(json, "");
    root.requireObject();
    if (root.at("format").text() != "ivrant-project") fail("file.format", "/format", "'ivrant-project' is expected");
    const auto version = root.at("version").integer(1, 1'000'000);
    if (version > kProjectVersion)
        fail("file.version", "/version",
             "this file was written by a newer Ivrant (version " + std::to_string(version) + ", this one reads up to " +
                 std::to_string(kProjectVersion) + ")");
    model::Project project;
    project.name = root.at("name").text();
    if (root.has("rules")) {
        const auto rules = root.at("rules").text();
        if (rules != "strict" && rules != "display") fail("file.value", "/rules", "'strict' or 'display' is expected");
        project.rules = rules == "strict" ? model::BuildRules::Strict : model::BuildRules::Display;
    }
    if (root.has("tilt_deg")) project.tiltDeg = root.at("tilt_deg").number();
    if (root.has("shown_on")) project.shownOn = root.at("shown_on").text(20);
    if (root.has("own_shapes"))
        for (const Node& shape : root.at("own_shapes").list(0, 200)) project.ownShapes.push_back(readOwnShape(shape));
    readBody(root, project.ownShapes, project);
    readVariants(root, project);
    readNotes(root, version, project);
    if (root.has("making")) project.making = readMaking(root.at("making"));
    project.nextId = findNextId(project);
    if (root.has("next_id"))
        project.nextId = std::max(project.nextId, root.at("next_id").integer(1, 1'000'000'000'000'000));
    if (const auto extra = root.extra(kKnown)) { // kept lists of version 1 may be there already
        model::Json all = project.extra ? *project.extra : model::Json::object();
        all.update(*extra);
        project.extra = std::make_shared<const Json>(std::move(all));
    }
    return project;
}

/// Every alternative that waits can be chosen.
base::Status validateOptions(const model::Project& project) {
    for (std::size_t o = 0; o < project.options.list.size(); ++o)
        for (std::size_t a = 0; a < project.options.list[o].alternatives.size(); ++a) {
            const model::Alternative& alternative = project.options.list[o].alternatives[a];
            if (!alternative.body) continue;
            if (auto chosen = model::chooseAlternative(project, alternative.id); !chosen) {
                base::Error error = chosen.error();
                error.place =
                    "/options/" + std::to_string(o) + "/alternatives/" + std::to_string(a) + ": " + error.place;
                return error;
            }
        }
    return {};
}

/// Variants that wait are held to the same rules as the one shown.
base::Status validateAll(const model::Project& project) {
    if (auto whole = model::validate(project); !whole) return whole;
    if (auto whole = validateOptions(project); !whole) return whole;
    for (std::size_t v = 0; v < project.variants.size(); ++v) {
        if (!project.variants[v].body) continue;
        const model::Project shown = model::takeVariant(project, static_cast<int>(v));
        auto whole = model::validate(shown);
        if (whole) whole = validateOptions(shown);
        if (!whole) {
            base::Error error = whole.error();
            error.place = "/variants/" + std::to_string(v) + error.place;
            return error;
        }
    }
    return {};
}

} // namespace

base::Result<model::Project> parseProject(std::string_view text) {
    if (text.size() > kMaxFileBytes) return base::Error{"file.size", "larger than 256 MB", ""};
    if (auto fit = guardJson(text); !fit) return fit.error();
    try {
        const Json json = Json::parse(text);
        model::Project project = readProject(json);
        if (auto whole = validateAll(project); !whole) return whole.error();
        return project;
    } catch (const ReadFailure& failure) {
        return failure.error;
    } catch (const Json::exception& e) {
        std::string what = e.what(); // "[json.exception.parse_error.101] parse error at line 3, column 2: …"
        if (const auto bracket = what.find("] "); bracket != std::string::npos) what = what.substr(bracket + 2);
        return base::Error{"file.syntax", "not valid JSON: " + what.substr(0, 300), ""};
    }
}

base::Result<model::Project> loadProject(const std::string& path) {
    auto text = readFile(path, kMaxFileBytes);
    if (!text) return text.error();
    return parseProject(*text);
}

base::Status saveProject(const model::Project& project, const std::string& path) {
    if (auto st = model::checkTexts(project); !st) return st;
    return writeFileAtomically(path, writeProject(project));
}

} // namespace ivrant::files
