// The data files that are built into the program (data/*.json), as text.
#pragma once

#include <string_view>

namespace ivrant::parts {

extern const std::string_view kPaletteJson;
extern const std::string_view kJointsJson;

} // namespace ivrant::parts
