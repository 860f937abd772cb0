// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/units.h"

#include <charconv>
#include <cmath>
#include <cstdio>

namespace ivrant::base {
namespace {

std::string_view trim(std::string_view text) {
    while (!text.empty() && (text.front() == ' ' || text.front() == '\t')) text.remove_prefix(1);
    while (!text.empty() && (text.back() == ' ' || text.back() == '\t')) text.remove_suffix(1);
    return text;
}

/// "1,500" and "-12,000": three digits behind the comma and up to three others than 0 before it.
bool mayDivideThousands(std::string_view text) {
    if (!text.empty() && text.front() == '-') text.remove_prefix(1);
    const auto comma = text.find(',');
    const auto isDigits = [](std::string_view part) { return part.find_first_not_of("0123456789") == part.npos; };
    return text.size() - comma == 4 && comma >= 1 && comma <= 3 && text.front() != '0' &&
           isDigits(text.substr(0, comma)) && isDigits(text.substr(comma + 1));
}

} // namespace

std::int64_t mmToUm(double mm) {
    if (!(std::abs(mm) < 1e12)) throw std::logic_error("mmToUm: length out of range");
    return std::llround(mm * 1000.0);
}

double wrapDeg(double degrees) {
    const double wrapped = std::fmod(degrees, 360.0);
    return wrapped < 0 ? wrapped + 360 : wrapped;
}

Result<double> parseNumber(std::string_view text) {
    text = trim(text);
    if (text.size() > 1 && text.front() == '+' && text[1] != '-') text.remove_prefix(1);
    std::string plain(text);
    if (const auto comma = plain.find(','); comma != std::string::npos) {
        if (mayDivideThousands(text))
            return Error{"number.syntax", "'" + plain + "' may be a thousand or a fraction: write it with a point", ""};
        plain[comma] = '.'; // a second comma is no number
    }
    double value = 0;
    const auto [end, ec] = std::from_chars(plain.data(), plain.data() + plain.size(), value);
    if (plain.empty() || ec != std::errc() || end != plain.data() + plain.size() || !std::isfinite(value))
        return Error{"number.syntax", "'" + std::string(text) + "' is not a number", ""};
    return value;
}

Result<double> parseLengthMm(std::string_view text, double bareUnitMm) {
    text = trim(text);
    double unit = bareUnitMm;
    const auto strip = [&](std::string_view suffix, double mm) {
        if (!text.ends_with(suffix)) return false;
        text.remove_suffix(suffix.size());
        unit = mm;
        return true;
    };
    if (!strip("mm", 1.0) && !strip("studs", kPitchMm) && !strip("s", kPitchMm)) strip("p", kPlateMm);
    auto number = parseNumber(text);
    if (!number) return number.error();
    const double mm = *number * unit;
    if (std::abs(mm) > 10'000.0) return Error{"number.range", "'" + std::string(text) + "' is beyond 10 m", ""};
    return mm;
}

std::string printable(std::string_view text) {
    std::string shown(text);
    for (std::size_t i = 0; i < shown.size(); ++i) {
        const auto c = static_cast<unsigned char>(shown[i]);
        const bool c1 =
            c == 0xC2 && i + 1 < shown.size() && static_cast<unsigned char>(shown[i + 1]) < 0xA0; // U+0080 to U+009F
        if (c1) shown.erase(i, 1);
        if ((c < 0x20 && c != '\n' && c != '\t') || c == 0x7F || c1) shown[i] = '?';
    }
    return shown;
}

std::string formatNumber(double value, int decimals) {
    char buffer[400];
    std::snprintf(buffer, sizeof buffer, "%.*f", decimals, value);
    std::string text = buffer;
    if (text.find('.') != std::string::npos) {
        while (text.back() == '0') text.pop_back();
        if (text.back() == '.') text.pop_back();
    }
    return text == "-0" ? "0" : text;
}

std::string formatLength(double mm, LengthUnit unit) {
    if (unit == LengthUnit::Millimetres) return formatNumber(mm, 2) + " mm";
    return formatNumber(mm / kPitchMm, 2) + " studs";
}

std::string formatMargin(double margin) {
    if (margin > 99) return ">99";
    if (margin < -99) return "<-99";
    char buffer[32];
    std::snprintf(buffer, sizeof buffer, "%.*f", std::abs(margin) < 1.0 ? 2 : (std::abs(margin) < 9.95 ? 1 : 0),
                  margin);
    return buffer;
}

std::string formatAngle(double degrees) { return formatNumber(degrees, 1) + "°"; }

} // namespace ivrant::base
