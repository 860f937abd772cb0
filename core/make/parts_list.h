// SPDX-License-Identifier: GPL-3.0-or-later
// Which parts does the whole model need?
#pragma once

#include "core/make/steps.h"

namespace ivrant::make {

struct PartsLine {
    std::string shape;
    int colour = 0;
    int count = 0;
    double eachG = 0;
    bool weighed = false; ///< eachG is the mean of weighed parts
};

/// By shape, then colour; the shafts, wheels and motors of gear boards among them, in the first colour. Ballast is not
/// a part and is listed by listBallast.
[[nodiscard]] std::vector<PartsLine> listParts(const model::Project& project);

struct BallastLine {
    std::string section;
    double massG = 0;
};
[[nodiscard]] std::vector<BallastLine> listBallast(const model::Project& project);

} // namespace ivrant::make
