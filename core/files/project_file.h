// SPDX-License-Identifier: GPL-3.0-or-later
// How is a project read from and written to its file (*.ivrant)?
//
// Format: docs/file-format.md, docs/ivrant-project.schema.json. Reading checks every key and names the JSON pointer of
// what is wrong, what was expected and what was found. Unknown keys are kept and written again.
#pragma once

#include <string>
#include <string_view>

#include "core/base/result.h"
#include "core/model/project.h"

namespace ivrant::files {

inline constexpr int kProjectVersion = 2;
inline constexpr std::size_t kMaxFileBytes = 256u << 20;

/// Reads a whole project. Errors: "file.syntax" (with line and column in the message), "file.size", "file.depth",
/// "file.format", "file.version", "file.type", "file.missing", "file.value", and those of model::validate and
/// parts::parseShapeName. Memory stays below about 12 times the text.
base::Result<model::Project> parseProject(std::string_view text);

/// The file text: fixed key order, one part a line, ends with a newline.
[[nodiscard]] std::string writeProject(const model::Project& project);

/// Reads a file. Errors of parseProject, and "file.open", "file.size".
base::Result<model::Project> loadProject(const std::string& path);
/// Saves whole or not at all (core/files/atomic_file.h).
[[nodiscard]] base::Status saveProject(const model::Project& project, const std::string& path);

} // namespace ivrant::files
