// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/dates.h"

#include <cstdio>

namespace ivrant::base {
namespace {
constexpr const char* kWeekdays[]{"Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun"};
constexpr const char* kMonths[]{"Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"};
constexpr int kFirstYear = 1970;
} // namespace

std::optional<Day> parseDay(std::string_view text) {
    if (text.size() != 10 || text[4] != '-' || text[7] != '-') return {};
    const auto number = [&](std::size_t from, std::size_t count) {
        int value = 0;
        for (const char c : text.substr(from, count)) {
            if (c < '0' || c > '9') return -1;
            value = value * 10 + (c - '0');
        }
        return value;
    };
    const int year = number(0, 4), month = number(5, 2), day = number(8, 2);
    if (year < kFirstYear || month < 1 || day < 1) return {};
    const std::chrono::year_month_day date{std::chrono::year{year}, std::chrono::month{static_cast<unsigned>(month)},
                                           std::chrono::day{static_cast<unsigned>(day)}};
    if (!date.ok()) return {};
    return Day{date};
}

std::string formatDay(Day day) {
    const std::chrono::year_month_day date{day};
    char text[32];
    std::snprintf(text, sizeof text, "%04d-%02u-%02u", static_cast<int>(date.year()),
                  static_cast<unsigned>(date.month()), static_cast<unsigned>(date.day()));
    return text;
}

std::string describeDay(Day day) {
    const std::chrono::year_month_day date{day};
    return std::string(getWeekdayName(getWeekday(day))) + " " + std::to_string(static_cast<unsigned>(date.day())) +
           " " + kMonths[static_cast<unsigned>(date.month()) - 1] + " " + std::to_string(static_cast<int>(date.year()));
}

int getWeekday(Day day) { return static_cast<int>(std::chrono::weekday{day}.iso_encoding()) - 1; }
const char* getWeekdayName(int weekday) { return kWeekdays[weekday]; }
int countDays(Day a, Day b) { return static_cast<int>((b - a).count()); }

} // namespace ivrant::base
