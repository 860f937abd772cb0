// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/drive/strand_turn.h"

#include <cmath>

#include "core/base/units.h"

namespace ivrant::drive {

double calcStrandTurnDeg(const model::Strand& strand) {
    const double off = base::umToMm(strand.offUm), gap = base::umToMm(strand.gapUm),
                 slack = base::umToMm(strand.slackUm);
    if (off <= 0) return kMostTwistDeg;
    const double chord = std::sqrt((gap + slack) * (gap + slack) - gap * gap);
    if (chord >= 2 * off) return 180;
    return base::radToDeg(2 * std::asin(chord / (2 * off)));
}

} // namespace ivrant::drive
