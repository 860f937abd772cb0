// SPDX-License-Identifier: GPL-3.0-or-later
// The demo's gear boards: swing bridge and its span, shrimping cart.
#pragma once

#include <filesystem>

namespace ivrant::demo {

/// Throws std::runtime_error.
void makeBridge(const std::filesystem::path& folder);
void makeSpan(const std::filesystem::path& folder);
void makeCart(const std::filesystem::path& folder);

} // namespace ivrant::demo
