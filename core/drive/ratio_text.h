// SPDX-License-Identifier: GPL-3.0-or-later
// What do the words for a wish to the ratio finder mean: a ratio, the wheels at hand?
#pragma once

#include <string>

#include "core/drive/ratio_search.h"

namespace ivrant::drive {

/// "1:105", "3:5", "0.2": turns out for turns in; the sign is the sense. Errors "ratio.wish" and those of numbers.
base::Result<double> parseRatio(const std::string& text);

/// "8:4 24:2 40 worm:1", apart by blanks or commas: teeth and how many (1 when not told), into `stock` and `worms` of
/// the wish. No worm named: there is none. Nothing: any number of each, the wish stays. Error "ratio.wish" with the
/// entry that is not understood.
base::Status parseStock(const std::string& text, RatioWish& wish);

} // namespace ivrant::drive
