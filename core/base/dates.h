// SPDX-License-Identifier: GPL-3.0-or-later
// How are days of the calendar read, written and counted? Days without a time or zone, as they stand in files:
// "2026-11-25" (ISO 8601, Gregorian).
#pragma once

#include <chrono>
#include <optional>
#include <string>
#include <string_view>

namespace ivrant::base {

using Day = std::chrono::sys_days;

/// Nothing when the text is no day that exists ("2026-02-30"). Years 1970 to 9999.
[[nodiscard]] std::optional<Day> parseDay(std::string_view text);
[[nodiscard]] std::string formatDay(Day day); ///< "2026-11-25"
/// "Thu 3 Dec 2026": for people.
[[nodiscard]] std::string describeDay(Day day);
/// 0 Monday to 6 Sunday.
[[nodiscard]] int getWeekday(Day day);
[[nodiscard]] const char* getWeekdayName(int weekday); ///< "Mon" … "Sun"
/// From a to b; negative when b is earlier.
[[nodiscard]] int countDays(Day a, Day b);

} // namespace ivrant::base
