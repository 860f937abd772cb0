// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/brief/scale.h"

#include <algorithm>
#include <cmath>
#include <string>

#include "core/base/units.h"

namespace ivrant::brief {

base::Result<Scale> calcScale(const std::vector<LengthPair>& pairs) {
    if (pairs.empty())
        return base::Error{"scale.pairs", "a scale needs at least one pair of a real and a model length", ""};
    double sum = 0;
    for (std::size_t i = 0; i < pairs.size(); ++i) {
        const auto& p = pairs[i];
        if (!(p.real > 0 && p.modelMm > 0 && std::isfinite(p.real) && std::isfinite(p.modelMm)))
            return base::Error{"scale.length", "pair " + std::to_string(i + 1) + ": both lengths must be above 0",
                               std::to_string(i)};
        sum += std::log(p.modelMm / p.real);
    }
    Scale scale;
    scale.mmPerReal = std::exp(sum / static_cast<double>(pairs.size()));
    for (const auto& p : pairs) {
        const double ratio = p.modelMm / (p.real * scale.mmPerReal);
        scale.spread = std::max(scale.spread, std::max(ratio, 1 / ratio) - 1);
        scale.pairErrorsMm.push_back(p.modelMm - p.real * scale.mmPerReal);
    }
    return scale;
}

base::Result<ScaledLength> calcScaledLength(const Scale& scale, double real) {
    if (!(real > 0 && std::isfinite(real))) return base::Error{"scale.length", "a length above 0 is expected", ""};
    ScaledLength length;
    length.mm = real * scale.mmPerReal;
    length.studs = std::round(length.mm / base::kPitchMm * 2) / 2;
    length.studsErrorMm = length.studs * base::kPitchMm - length.mm;
    length.plates = static_cast<int>(std::lround(length.mm / base::kPlateMm));
    length.platesErrorMm = length.plates * base::kPlateMm - length.mm;
    return length;
}

} // namespace ivrant::brief
