// SPDX-License-Identifier: GPL-3.0-or-later
// Modules and reaches as they stand in a project file; the format is in docs/file-format.md.
#pragma once

#include <string>

#include "core/files/json_reader.h"
#include "core/model/module.h"

namespace ivrant::files {

/// From "modules" and "reaches" of a project or variant; throws ReadFailure.
[[nodiscard]] model::Modules readModules(const Node& root);
/// Both lists with a comma before each; empty without any.
[[nodiscard]] std::string modulesText(const model::Modules& modules);

} // namespace ivrant::files
