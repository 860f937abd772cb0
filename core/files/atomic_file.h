// SPDX-License-Identifier: GPL-3.0-or-later
// How is a file written so that a crash at any instant leaves the old or the new one whole?
#pragma once

#include <string>
#include <string_view>

#include "core/base/result.h"

namespace ivrant::files {

/// Writes aside, syncs, renames, syncs the folder. Keeps the permissions and, where allowed, the owner of an existing
/// file; a new one gets what the umask leaves; follows a symbolic link to its target. Errors "file.write" with the
/// system's reason; the old file is then untouched and nothing is left aside.
[[nodiscard]] base::Status writeFileAtomically(const std::string& path, std::string_view content);

/// Reads a whole regular file of at most `mostBytes`; pipes, devices and folders are refused at once. Errors
/// "file.open", "file.size".
base::Result<std::string> readFile(const std::string& path, std::size_t mostBytes);

} // namespace ivrant::files
