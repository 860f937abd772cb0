// SPDX-License-Identifier: GPL-3.0-or-later
// The data files that are built into the program (data/*.json), as text.
#pragma once

#include <string_view>

namespace ivrant::parts {

extern const std::string_view kPaletteJson;
extern const std::string_view kJointsJson;
extern const std::string_view kUsualSizesJson;

} // namespace ivrant::parts
