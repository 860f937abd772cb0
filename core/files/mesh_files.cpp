// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/files/mesh_files.h"

#include <cstring>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/geometry/mesh.h"
#include "core/model/board_parts.h"
#include "core/parts/own_shape.h"
#include "core/parts/palette.h"

namespace ivrant::files {
namespace {

constexpr int kSides = 24;

std::vector<std::array<geometry::Vec3, 3>> trianglesOf(const parts::Shape& shape) {
    auto faces = parts::listFaces(shape, kSides);
    for (const auto& solid : shape.solids)
        if (solid.studPort >= 0)
            for (auto& face : geometry::makeFaces(solid.solid, kSides)) faces.push_back(std::move(face));
    return geometry::makeTriangles(faces);
}

void put(std::string& out, const void* data, std::size_t size) { out.append(static_cast<const char*>(data), size); }

void putVector(std::string& out, const geometry::Vec3& v) {
    const Eigen::Vector3f f = v.cast<float>();
    put(out, f.data(), 3 * sizeof(float));
}

} // namespace

std::string makeStl(const model::Placed& placed) {
    std::string body;
    std::uint32_t count = 0;
    model::forPlacedShapes(placed, [&](const model::PlacedShape& part) {
        for (const auto& t : trianglesOf(part.shape)) {
            const geometry::Vec3 a = part.X_WP * t[0], b = part.X_WP * t[1], c = part.X_WP * t[2];
            putVector(body, (b - a).cross(c - a).normalized());
            for (const auto& p : {a, b, c}) putVector(body, p);
            const std::uint16_t attribute = 0;
            put(body, &attribute, 2);
            ++count;
        }
    });
    std::string stl(80, ' ');
    std::memcpy(stl.data(), "ivrant mesh, mm", 15);
    put(stl, &count, 4);
    return stl + body;
}

std::string makeObj(const model::Placed& placed) {
    std::string obj = "# mm, z up\n";
    std::size_t next = 1;
    model::forPlacedShapes(placed, [&](const model::PlacedShape& part) {
        const auto& rgb = at(parts::getPalette(), part.colour).rgb;
        std::string tint;
        for (auto channel : rgb) tint += " " + base::formatNumber(channel / 255.0, 3);
        obj += "o " + part.id + "\n";
        std::string faces;
        for (const auto& t : trianglesOf(part.shape)) {
            for (const auto& p : t) {
                const geometry::Vec3 w = part.X_WP * p;
                obj += "v " + base::formatNumber(w.x(), 4) + " " + base::formatNumber(w.y(), 4) + " " +
                       base::formatNumber(w.z(), 4) + tint + "\n";
            }
            faces +=
                "f " + std::to_string(next) + " " + std::to_string(next + 1) + " " + std::to_string(next + 2) + "\n";
            next += 3;
        }
        obj += faces;
    });
    return obj;
}

} // namespace ivrant::files
