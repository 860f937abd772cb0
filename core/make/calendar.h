// SPDX-License-Identifier: GPL-3.0-or-later
// How many hours does the building take, and does it get done by the day?
//
// Hours from what can be counted: parts, steps and joinings, by starting rates nobody measured, until sessions of
// building tell a rate of the builder's own (minutes a part, from those sessions; its spread from how much they
// differ). Backwards from the day it must stand there: travel, packing, days for trials, building in the free hours of
// the days before. Forwards from a day, with the hours that are left. Packing and building are never on the day of the
// show nor on the days of travel before it. Several builders share the hours evenly.
#pragma once

#include <optional>

#include "core/base/dates.h"
#include "core/base/result.h"
#include "core/make/steps.h"

namespace ivrant::make {

// Starting values: found, put on and pressed; leafed to and understood; held, lined up and tried.
inline constexpr double kStartMinutesAPart = 0.5, kStartMinutesAStep = 0.5, kStartMinutesAJoin = 3;

struct Work {
    int parts = 0, steps = 0, joins = 0;
    int partsDone = 0, stepsDone = 0, joinsDone = 0; ///< by the sessions that are written down
    [[nodiscard]] int partsLeft() const { return parts - partsDone; }
};
/// `steps`: make::listSteps.
[[nodiscard]] Work countWork(const model::Project& project, const std::vector<Step>& steps);

struct Rate {
    bool measured = false;
    int sessions = 0;        ///< that count: those with parts
    double minutesAPart = 0; ///< measured: all of building over all parts; else of the starting rates
    double spread = 0;       ///< relative standard error of that; 0: unknown
};
[[nodiscard]] Rate calcRate(const model::Making& making, const Work& work);

/// Of all that is still to do.
[[nodiscard]] double calcBuildHours(const Work& work, const Rate& rate);

enum class Phase { Build, Trials, Pack, Travel, Show };
[[nodiscard]] const char* getPhaseName(Phase phase); ///< "build", "trials", "pack", "travel", "show"

struct PhaseSpan {
    Phase phase = Phase::Build;
    base::Day from{}, to{}; ///< both included
    double hours = 0;       ///< of work; 0 where days count
};

struct Wait {
    std::string shape;
    int colour = 0, count = 0;
    int step = 0;                     ///< that waits for it
    base::Day neededBy{};             ///< the day before that step is built, on the latest plan
    std::optional<base::Day> due;     ///< when an order brings it; none: not ordered
    std::optional<base::Day> orderBy; ///< not ordered: for the quickest seller that has so many; none: no seller has
};

struct Plan {
    Work work;
    Rate rate;
    double buildHours = 0;                ///< of all builders together, still to do
    double freeHours = 0;                 ///< until building must end, from `today` on, all builders
    std::optional<base::Day> due;         ///< none: nothing is planned, and nothing below is told
    std::vector<PhaseSpan> latest;        ///< backwards, by day: as late as it can be
    std::optional<base::Day> latestStart; ///< of building; none: no free hours before the day are enough
    std::vector<PhaseSpan> forward;       ///< from today, as early as it can be
    std::optional<base::Day>
        ready; ///< day on which building, trials and packing are done; none: never within two years
    std::optional<base::Day> readyEarly, readyLate; ///< with the rate one spread better or worse
    int spareDays = 0;                              ///< from ready to the day it must leave; negative: too late
    double spareHours = 0;                          ///< free hours less those needed; negative: short
    std::optional<base::Day> decideBy; ///< what was asked for was not shown yet: before the building begins
    std::vector<Wait> waits;           ///< parts that are neither there nor arrived, by day
};

/// `today`: the first day on which anything can be done. Error "calendar.hours" when no day has free hours.
[[nodiscard]] base::Result<Plan> calcPlan(const model::Project& project, const model::SectionTree& tree,
                                          base::Day today);

/// As calendar entries (RFC 5545): one for each phase as late as it can be, and one for each part that must be there.
/// `stamp`: "20261201T120000Z", when it was made.
[[nodiscard]] std::string makeICalendar(const std::string& model, const Plan& plan, const std::string& stamp);

} // namespace ivrant::make
