// SPDX-License-Identifier: GPL-3.0-or-later
// How do the key "making" of the project file and its lists look?
#pragma once

#include "core/files/json_reader.h"
#include "core/model/making.h"

namespace ivrant::files {

[[nodiscard]] model::Making readMaking(const Node& node); ///< throws ReadFailure
/// As a line or lines of the file; empty when there is nothing to say.
[[nodiscard]] std::string makingText(const model::Making& making);

} // namespace ivrant::files
