// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/files/place_json.h"

#include <cmath>

#include "core/files/json_reader.h"

namespace ivrant::files {
namespace {

using model::Json;

Eigen::Quaterniond readQuaternion(const Node& node) {
    const auto list = node.list(4, 4);
    const Eigen::Quaterniond q(list[0].number(), list[1].number(), list[2].number(), list[3].number());
    if (std::abs(q.norm() - 1) > 1e-3) fail("file.value", node.pointer(), "a unit quaternion [w, x, y, z] is expected");
    return std::abs(q.norm() - 1) < 1e-12 ? q : q.normalized();
}

} // namespace

std::array<std::int64_t, 3> readAt(const Node& node) {
    const auto list = node.list(3, 3);
    std::array<std::int64_t, 3> at{};
    for (std::size_t k = 0; k < 3; ++k) at[k] = list[k].integer(-kMostUm, kMostUm);
    return at;
}

model::Place readPlace(const Node& node) {
    model::Place place;
    place.atUm = readAt(node.at("at"));
    if (node.has("quat") && node.has("turn"))
        fail("file.value", node.pointer() + "/quat", "either turn or quat is expected, not both");
    if (node.has("quat"))
        place.attitude = readQuaternion(node.at("quat"));
    else if (node.has("turn"))
        place.attitude = static_cast<int>(node.at("turn").integer(0, 23));
    return place;
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

} // namespace ivrant::files
