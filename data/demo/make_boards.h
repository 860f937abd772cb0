// SPDX-License-Identifier: GPL-3.0-or-later
// The demo's gear boards: swing bridge and its span, shrimping cart, the heron's neck drive.
#pragma once

#include <filesystem>

namespace ivrant::demo {

/// Throws std::runtime_error.
void makeBridge(const std::filesystem::path& folder);
void makeSpan(const std::filesystem::path& folder);
void makeNeckDrive(const std::filesystem::path& folder);
void makeCart(const std::filesystem::path& folder);

} // namespace ivrant::demo
