// SPDX-License-Identifier: GPL-3.0-or-later
// Where is something in the frame that holds it?
#pragma once

#include <array>
#include <cstdint>
#include <variant>

#include "core/geometry/frames.h"

namespace ivrant::model {

/// Where something is in its parent frame: µm, and one of 24 turns or a unit quaternion.
struct Place {
    std::array<std::int64_t, 3> atUm{0, 0, 0};
    std::variant<int, Eigen::Quaterniond> attitude = 0;

    [[nodiscard]] geometry::Frame frame() const;
    [[nodiscard]] bool isTurn() const { return std::holds_alternative<int>(attitude); }
    bool operator==(const Place& other) const;
};

/// Nearest place in whole micrometres; a turn where the rotation is one (within 1e-6).
[[nodiscard]] Place makePlace(const geometry::Frame& pose);

} // namespace ivrant::model
