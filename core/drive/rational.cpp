// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/drive/rational.h"

#include <array>
#include <cstdio>
#include <stdexcept>

namespace ivrant::drive {

Rational makeRational(long value, long over) {
    if (over == 0) throw std::invalid_argument("a fraction over zero");
    Rational made(value, over);
    made.canonicalize();
    return made;
}

std::string formatRatio(const Rational& outPerIn) {
    if (sgn(outPerIn) == 0) return "0";
    return outPerIn.get_num().get_str() + ":" + outPerIn.get_den().get_str();
}

std::string formatDecimal(const Rational& value) {
    std::array<char, 40> text{};
    std::snprintf(text.data(), text.size(), "%.4g", value.get_d());
    return text.data();
}

} // namespace ivrant::drive
