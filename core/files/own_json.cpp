// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/files/own_json.h"

#include <cmath>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/files/json_guard.h"
#include "core/files/notes_json.h"

namespace ivrant::files {
namespace {

using geometry::Vec3;
using model::Json;

constexpr std::int64_t kMostOwnUm = 10'000'000;

/// Many thousands of corners: read without a pointer for each.
Vec3 readUm(const Json& json, const std::string& pointer) {
    if (!json.is_array() || json.size() != 3) fail("file.type", pointer, "corners are lists of three whole µm");
    Vec3 p;
    for (int k = 0; k < 3; ++k) {
        if (!at(json, k).is_number_integer()) fail("file.type", pointer, "corners are lists of three whole µm");
        const auto um = at(json, k).get<std::int64_t>();
        if (std::abs(um) > kMostOwnUm) fail("file.value", pointer, "a corner lies further than 10 m from the origin");
        p[k] = base::umToMm(um);
    }
    return p;
}

std::vector<Vec3> readCorners(const Node& node, std::size_t most) {
    if (!node.json().is_array()) node.wrong("a list");
    if (node.json().size() > most)
        fail("file.value", node.pointer(), "at most " + std::to_string(most) + " corners are expected");
    std::vector<Vec3> corners;
    for (std::size_t i = 0; i < node.json().size(); ++i)
        corners.push_back(readUm(node.json()[i], node.pointer() + "/" + std::to_string(i)));
    return corners;
}

Vec3 readVector(const Node& node) {
    const auto list = node.list(3, 3);
    return {list[0].number(), list[1].number(), list[2].number()};
}

parts::OwnPort readPort(const Node& node) {
    parts::OwnPort port;
    const Node kind = node.at("kind");
    const auto found = parts::findPortKind(kind.text());
    if (!found) fail("own.port", kind.pointer(), "there is no port kind called '" + kind.text() + "'");
    port.kind = *found;
    port.name = node.at("name").text(60);
    port.at = readUm(node.at("at").json(), node.at("at").pointer());
    port.axis = readVector(node.at("axis"));
    port.reference = readVector(node.at("reference"));
    return port;
}

Json umJson(const Vec3& mm) { return {base::mmToUm(mm.x()), base::mmToUm(mm.y()), base::mmToUm(mm.z())}; }
Json vectorJson(const Vec3& v) { return {numberJson(v.x()), numberJson(v.y()), numberJson(v.z())}; }

Json cornersJson(const std::vector<Vec3>& corners) {
    Json json = Json::array();
    for (const Vec3& p : corners) json.push_back(umJson(p));
    return json;
}

} // namespace

parts::ShapePtr readOwnShape(const Node& node) {
    node.requireObject();
    parts::OwnSource source;
    source.mesh.points = readCorners(node.at("points"), 3 * geometry::kMostTriangles);
    const Node triangles = node.at("triangles");
    if (!triangles.json().is_array()) triangles.wrong("a list");
    for (std::size_t i = 0; i < triangles.json().size(); ++i) {
        const Json& entry = triangles.json()[i];
        std::array<int, 3> t{};
        for (std::size_t k = 0; k < 3; ++k) {
            if (!entry.is_array() || entry.size() != 3 || !entry[k].is_number_unsigned() ||
                entry[k].get<std::uint64_t>() >= source.mesh.points.size())
                fail("file.value", triangles.pointer() + "/" + std::to_string(i),
                     "three indices of points are expected");
            t[k] = entry[k].get<int>();
        }
        source.mesh.triangles.push_back(t);
    }
    for (const Node& piece : node.at("pieces").list(1, parts::kMostOwnPieces))
        source.pieces.push_back(readCorners(piece, 1000));
    if (node.has("excess_share")) source.excessShare = node.at("excess_share").number();
    if (node.has("outside_mm")) source.outsideMm = node.at("outside_mm").number();
    if (node.has("ports"))
        for (const Node& port : node.at("ports").list(0, parts::kMostOwnPorts)) source.ports.push_back(readPort(port));
    auto shape = parts::makeOwnShape(node.at("name").text(60), node.at("mass_g").number(), std::move(source));
    if (!shape) fail(shape.error().code, node.pointer(), shape.error().message);
    return *shape;
}

base::Result<std::vector<parts::OwnPort>> parseOwnPorts(std::string_view text) {
    if (auto fit = guardJson(text); !fit) return fit.error();
    try {
        const Json json = Json::parse(text);
        std::vector<parts::OwnPort> ports;
        for (const Node& port : Node(json, "").list(0, parts::kMostOwnPorts)) ports.push_back(readPort(port));
        return ports;
    } catch (const ReadFailure& failure) {
        return failure.error;
    } catch (const Json::exception& e) {
        return base::Error{"file.syntax", std::string("not valid JSON: ") + e.what(), ""};
    }
}

std::string ownShapeText(const parts::Shape& shape) {
    const parts::OwnSource& own = *shape.own;
    Json json;
    json["name"] = shape.name;
    json["mass_g"] = numberJson(shape.massG);
    json["ports"] = Json::array();
    for (const auto& port : own.ports)
        json["ports"].push_back({{"name", port.name},
                                 {"kind", std::string(parts::getPortKindName(port.kind))},
                                 {"at", umJson(port.at)},
                                 {"axis", vectorJson(port.axis)},
                                 {"reference", vectorJson(port.reference)}});
    json["excess_share"] = numberJson(own.excessShare);
    json["outside_mm"] = numberJson(own.outsideMm);
    json["pieces"] = Json::array();
    for (const auto& piece : own.pieces) json["pieces"].push_back(cornersJson(piece));
    json["points"] = cornersJson(own.mesh.points);
    json["triangles"] = own.mesh.triangles;
    return jsonLine(json);
}

} // namespace ivrant::files
