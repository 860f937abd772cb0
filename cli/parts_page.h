// SPDX-License-Identifier: GPL-3.0-or-later
// What does docs/parts.md say: every family with its ports, the joint kinds and the palette?
#pragma once

#include <string>

namespace ivrant::parts {
struct Family;
}

namespace ivrant::cli {

/// As markdown (docs/parts.md) or as plain tables.
[[nodiscard]] std::string formatPartsPage(bool markdown);
/// File name of a family's picture on that page.
[[nodiscard]] std::string pictureName(const parts::Family& family);

} // namespace ivrant::cli
