// SPDX-License-Identifier: GPL-3.0-or-later
// How is a place written in a project file: at, turn or quat? Used by the file readers and writers only.
#pragma once

#include "core/files/json_reader.h"

namespace ivrant::files {

/// Three whole µm within 100 m. Throws ReadFailure.
[[nodiscard]] std::array<std::int64_t, 3> readAt(const Node& node);
/// `at` with `turn` or `quat` of an object. Throws ReadFailure.
[[nodiscard]] model::Place readPlace(const Node& node);
void addPlace(model::Json& json, const model::Place& place);

} // namespace ivrant::files
