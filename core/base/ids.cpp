// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/ids.h"

#include <algorithm>

namespace ivrant::base {

bool isLegalId(std::string_view text) {
    if (text.empty() || text.size() > 40 || text[0] < 'a' || text[0] > 'z') return false;
    return std::all_of(text.begin(), text.end(),
                       [](char c) { return (c >= 'a' && c <= 'z') || (c >= '0' && c <= '9'); });
}

} // namespace ivrant::base
