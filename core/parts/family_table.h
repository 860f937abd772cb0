// SPDX-License-Identifier: GPL-3.0-or-later
// Lines of the tables of families: one size, sizes by one number, sizes by two. For the families_*.cpp only.
#pragma once

#include "core/base/units.h"
#include "core/parts/family.h"

namespace ivrant::parts::detail {

inline constexpr double kHalf = 0.5 * base::kPitchMm;
inline constexpr double kBeamHalfMm = 3.7; ///< of a beam's height

using Maker = Shape (*)(const Family&, Size);
using Allows = bool (*)(Size);

[[nodiscard]] inline Family single(std::string name, std::string otherNames, double fillFactor, Maker make,
                                   std::string about) {
    return {
        std::move(name), std::move(otherNames), SizeForm::None, {}, {}, {}, fillFactor, make, std::move(about), nullptr,
        "one size"};
}
[[nodiscard]] inline Family counted(std::string name, std::string otherNames, int low, int high, int usual,
                                    double fillFactor, Maker make, std::string about, std::string sizesText,
                                    Allows allows = nullptr) {
    return {std::move(name),     std::move(otherNames),
            SizeForm::Count,     {low, 0},
            {high, 0},           {usual, 0},
            fillFactor,          make,
            std::move(about),    allows,
            std::move(sizesText)};
}
[[nodiscard]] inline Family paired(std::string name, std::string otherNames, Size low, Size high, Size usual,
                                   double fillFactor, Maker make, std::string about, std::string sizesText,
                                   Allows allows = nullptr) {
    return {
        std::move(name), std::move(otherNames), SizeForm::Pair, low, high, usual, fillFactor, make, std::move(about),
        allows,          std::move(sizesText)};
}

} // namespace ivrant::parts::detail
