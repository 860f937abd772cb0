// SPDX-License-Identifier: GPL-3.0-or-later
// At which scale is this model, and how long is everything else in studs and plates?
//
// From pairs of a real and a model length, the scale that fits all of them best: least squares of the logarithms, that
// is the geometric mean of the ratios, with the spread between pairs. Any unit for real lengths, as long as it is one;
// model lengths in mm.
#pragma once

#include <vector>

#include "core/base/result.h"

namespace ivrant::brief {

struct LengthPair {
    double real = 0;    ///< any unit, > 0
    double modelMm = 0; ///< > 0
};

struct Scale {
    double mmPerReal = 0;             ///< model mm for one real unit
    double spread = 0;                ///< largest ratio of a pair over the scale, or scale over pair, minus 1
    std::vector<double> pairErrorsMm; ///< model length − real length × scale, per pair
};

/// Error "scale.pairs" (none), "scale.length" (not above 0; place: its index).
base::Result<Scale> calcScale(const std::vector<LengthPair>& pairs);

struct ScaledLength {
    double mm = 0;
    double studs = 0;        ///< nearest half stud
    double studsErrorMm = 0; ///< that minus mm
    int plates = 0;          ///< nearest plate
    double platesErrorMm = 0;
};
/// Error "scale.length".
base::Result<ScaledLength> calcScaledLength(const Scale& scale, double real);

} // namespace ivrant::brief
