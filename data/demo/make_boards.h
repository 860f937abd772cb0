// SPDX-License-Identifier: GPL-3.0-or-later
// The demo's gear board: a study of the swing bridge's span.
#pragma once

#include <filesystem>

namespace ivrant::demo {

/// Throws std::runtime_error.
void makeSpan(const std::filesystem::path& folder);

} // namespace ivrant::demo
