// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/make/calendar.h"

#include <algorithm>
#include <cmath>
#include <set>

#include "core/make/stock.h"

namespace ivrant::make {
namespace {

using base::Day;
using std::chrono::days;

constexpr int kMostDaysAhead = 731;
constexpr double kNoHours = 1e-9;

/// Hours of all builders on a day.
class Hours {
public:
    explicit Hours(const model::Schedule& schedule) : m_schedule(schedule) {
        for (const auto& other : schedule.others)
            if (const auto day = base::parseDay(other.day)) m_others[*day] = other.hours;
    }
    [[nodiscard]] double on(Day day) const {
        const auto other = m_others.find(day);
        const double hours =
            other != m_others.end() ? other->second : m_schedule.hours[static_cast<std::size_t>(base::getWeekday(day))];
        return hours * m_schedule.builders;
    }

private:
    const model::Schedule& m_schedule;
    std::map<Day, double> m_others;
};

/// Walks over the days, to or fro, and uses up their free hours.
class Walker {
public:
    Walker(const Hours& hours, Day start, int by) : m_hours(hours), m_day(start), m_by(by), m_left(hours.on(start)) {}

    /// Nothing when the hours are not there within two years.
    std::optional<PhaseSpan> useHours(Phase phase, double wanted) {
        PhaseSpan span{phase, m_day, m_day, wanted};
        bool begun = false;
        while (wanted > kNoHours) {
            if (m_left <= kNoHours && !goOn()) return {};
            const double used = std::min(wanted, m_left);
            if (used <= kNoHours) continue;
            widen(span, begun);
            wanted -= used;
            m_left -= used;
        }
        return span;
    }
    /// Whole days that have free hours; what is left of the present one is not one.
    std::optional<PhaseSpan> useDays(Phase phase, int count) {
        PhaseSpan span{phase, m_day, m_day, 0};
        bool begun = false;
        for (int i = 0; i < count; ++i) {
            if (m_left < m_hours.on(m_day) && !goOn()) return {};
            while (m_left <= kNoHours)
                if (!goOn()) return {};
            widen(span, begun);
            m_left = 0;
        }
        return span;
    }
    [[nodiscard]] Day day() const { return m_day; }

private:
    bool goOn() {
        if (++m_gone > kMostDaysAhead) return false;
        m_day += days(m_by);
        m_left = m_hours.on(m_day);
        return true;
    }
    void widen(PhaseSpan& span, bool& begun) const {
        if (!begun) span.from = span.to = m_day;
        begun = true;
        span.from = std::min(span.from, m_day);
        span.to = std::max(span.to, m_day);
    }

    const Hours& m_hours;
    Day m_day;
    int m_by, m_gone = 0;
    double m_left;
};

struct Backward {
    std::vector<PhaseSpan> spans; ///< by day
    std::optional<Day> start;     ///< of building
    Day buildEnd{};               ///< last day of building
};

Backward planBackward(const model::Schedule& schedule, const Hours& hours, Day due, double buildHours) {
    Backward plan;
    plan.spans.push_back({Phase::Show, due, due, 0});
    const Day leave = due - days(schedule.travelDays);
    if (schedule.travelDays > 0) plan.spans.push_back({Phase::Travel, leave, due - days(1), 0});
    Walker walker(hours, leave - days(1), -1);
    const auto keep = [&](const std::optional<PhaseSpan>& span, bool any) {
        if (span && any) plan.spans.push_back(*span);
        return span.has_value();
    };
    bool fits = keep(walker.useHours(Phase::Pack, schedule.packHours), schedule.packHours > 0);
    fits = fits && keep(walker.useDays(Phase::Trials, schedule.testDays), schedule.testDays > 0);
    const auto build = fits ? walker.useHours(Phase::Build, buildHours) : std::nullopt;
    if (build) {
        if (buildHours > 0) plan.spans.push_back(*build);
        plan.start = build->from;
        plan.buildEnd = build->to;
    }
    std::reverse(plan.spans.begin(), plan.spans.end());
    return plan;
}

/// Building, trials and packing from a day on; nothing when there are too few hours within two years.
std::optional<std::vector<PhaseSpan>> planForward(const model::Schedule& schedule, const Hours& hours, Day today,
                                                  double buildHours) {
    std::vector<PhaseSpan> spans;
    Walker walker(hours, today, 1);
    const auto build = walker.useHours(Phase::Build, buildHours);
    const auto trials = build ? walker.useDays(Phase::Trials, schedule.testDays) : std::nullopt;
    const auto pack = trials ? walker.useHours(Phase::Pack, schedule.packHours) : std::nullopt;
    if (!pack) return {};
    if (buildHours > 0) spans.push_back(*build);
    if (schedule.testDays > 0) spans.push_back(*trials);
    if (schedule.packHours > 0) spans.push_back(*pack);
    return spans;
}

std::optional<Day> findReady(const model::Schedule& schedule, const Hours& hours, Day today, double buildHours) {
    const auto spans = planForward(schedule, hours, today, buildHours);
    if (!spans) return {};
    return spans->empty() ? today : spans->back().to;
}

/// On which day of the latest plan each step begins, by number.
std::map<int, Day> dateSteps(const std::vector<Step>& steps, const std::set<int>& done, const Hours& hours,
                             const Backward& latest, double minutesAPart, const Rate& rate) {
    std::map<int, Day> dates;
    if (!latest.start) return dates;
    Walker walker(hours, *latest.start, 1);
    // From the first hour of the first day on: the day before a step is then never too late.
    Day day = *latest.start;
    for (const Step& step : steps) {
        if (done.count(step.number) > 0) continue;
        int parts = 0;
        for (const TrayLine& line : step.tray) parts += line.count;
        dates[step.number] = day;
        const double minutes = rate.measured ? parts * minutesAPart
                                             : parts * kStartMinutesAPart + kStartMinutesAStep +
                                                   (step.joint >= 0 ? kStartMinutesAJoin : 0);
        if (!walker.useHours(Phase::Build, minutes / 60)) break;
        day = std::min(walker.day(), latest.buildEnd);
    }
    return dates;
}

std::set<int> listDone(const model::Making& making) {
    std::set<int> done;
    for (const model::BuildSession& build : making.builds)
        for (int step = build.firstStep; step <= build.lastStep; ++step) done.insert(step);
    return done;
}

std::vector<Wait> listWaits(const model::Project& project, const model::SectionTree& tree,
                            const std::map<int, Day>& dates, const std::set<int>& done) {
    std::vector<Wait> waits;
    const Tide tide = calcTide(project, tree);
    if (!tide.isStocked && project.making.orders.empty()) return waits; // nobody said what there is
    for (const TideLine& line : tide.lines) {
        if (line.runsOutAt == 0 || done.count(line.runsOutAt) > 0) continue;
        const auto date = dates.find(line.runsOutAt);
        if (date == dates.end()) continue;
        Wait wait{line.shape, line.colour, line.need - line.there(), line.runsOutAt, date->second - days(1), {}, {}};
        for (const model::Order& order : project.making.orders)
            for (const model::OrderLine& ordered : order.lines)
                if (ordered.shape == line.shape && ordered.colour == line.colour && ordered.arrived < ordered.count)
                    if (const auto due = base::parseDay(order.dueOn); due && (!wait.due || *due < *wait.due))
                        wait.due = due;
        if (line.missing() > 0 && project.supplies)
            for (const auto& list : project.supplies->prices)
                for (const model::Offer& offer : list->offers)
                    if (offer.shape == line.shape && offer.colour == line.colour && offer.count >= line.missing()) {
                        const Day by = wait.neededBy - days(list->sellers[static_cast<std::size_t>(offer.seller)].days);
                        if (!wait.orderBy || by > *wait.orderBy) wait.orderBy = by;
                    }
        waits.push_back(std::move(wait));
    }
    std::stable_sort(waits.begin(), waits.end(), [](const Wait& l, const Wait& r) { return l.neededBy < r.neededBy; });
    return waits;
}

} // namespace

const char* getPhaseName(Phase phase) {
    switch (phase) {
    case Phase::Build: return "build";
    case Phase::Trials: return "trials";
    case Phase::Pack: return "pack";
    case Phase::Travel: return "travel";
    case Phase::Show: return "show";
    }
    return "";
}

Work countWork(const model::Project& project, const std::vector<Step>& steps) {
    Work work;
    const std::set<int> done = listDone(project.making);
    for (const Step& step : steps) {
        int parts = 0;
        for (const TrayLine& line : step.tray) parts += line.count;
        const int joins = step.joint >= 0 ? 1 : 0;
        work.parts += parts;
        work.joins += joins;
        ++work.steps;
        if (done.count(step.number) == 0) continue;
        work.partsDone += parts;
        work.joinsDone += joins;
        ++work.stepsDone;
    }
    return work;
}

Rate calcRate(const model::Making& making, const Work& work) {
    Rate rate;
    double minutes = 0, parts = 0;
    for (const model::BuildSession& build : making.builds) {
        if (build.parts == 0) continue;
        ++rate.sessions;
        minutes += build.minutes;
        parts += build.parts;
    }
    if (rate.sessions == 0) {
        if (work.parts > 0)
            rate.minutesAPart =
                (work.parts * kStartMinutesAPart + work.steps * kStartMinutesAStep + work.joins * kStartMinutesAJoin) /
                work.parts;
        return rate;
    }
    rate.measured = true;
    rate.minutesAPart = minutes / parts;
    if (rate.sessions < 2) return rate;
    // Standard error of a ratio of sums (Cochran, Sampling Techniques, 6.3).
    double squares = 0;
    for (const model::BuildSession& build : making.builds)
        if (build.parts > 0) squares += std::pow(build.minutes - rate.minutesAPart * build.parts, 2);
    const double n = rate.sessions;
    rate.spread = std::sqrt(squares * n / (n - 1)) / minutes;
    return rate;
}

double calcBuildHours(const Work& work, const Rate& rate) {
    const double minutes = rate.measured ? work.partsLeft() * rate.minutesAPart
                                         : work.partsLeft() * kStartMinutesAPart +
                                               (work.steps - work.stepsDone) * kStartMinutesAStep +
                                               (work.joins - work.joinsDone) * kStartMinutesAJoin;
    return minutes / 60;
}

base::Result<Plan> calcPlan(const model::Project& project, const model::SectionTree& tree, base::Day today) {
    const model::Schedule& schedule = project.making.schedule;
    const auto steps = listSteps(project, tree);
    Plan plan;
    plan.work = countWork(project, steps);
    plan.rate = calcRate(project.making, plan.work);
    plan.buildHours = calcBuildHours(plan.work, plan.rate);
    plan.due = base::parseDay(schedule.dueOn);
    if (!plan.due) return plan;
    const Hours hours(schedule);
    const bool any =
        std::any_of(schedule.hours.begin(), schedule.hours.end(), [](double h) { return h > 0; }) ||
        std::any_of(schedule.others.begin(), schedule.others.end(), [](const auto& other) { return other.hours > 0; });
    if (!any)
        return base::Error{"calendar.hours", "no day has free hours: say on which weekdays you build, and how long",
                           "/making/schedule/hours"};
    const Backward latest = planBackward(schedule, hours, *plan.due, plan.buildHours);
    plan.latest = latest.spans;
    plan.latestStart = latest.start;
    if (latest.start)
        for (Day day = today; day <= latest.buildEnd; day += days(1)) plan.freeHours += hours.on(day);
    plan.spareHours = plan.freeHours - plan.buildHours;
    if (const auto forward = planForward(schedule, hours, today, plan.buildHours)) plan.forward = *forward;
    plan.ready = findReady(schedule, hours, today, plan.buildHours);
    if (plan.rate.spread > 0) {
        plan.readyEarly = findReady(schedule, hours, today, plan.buildHours * std::max(0.0, 1 - plan.rate.spread));
        plan.readyLate = findReady(schedule, hours, today, plan.buildHours * (1 + plan.rate.spread));
    }
    const Day leave = *plan.due - days(schedule.travelDays) - days(1);
    if (plan.ready) plan.spareDays = base::countDays(*plan.ready, leave);
    if (project.shownOn.empty() && !project.asks.empty()) plan.decideBy = plan.latestStart;
    const std::set<int> done = listDone(project.making);
    plan.waits =
        listWaits(project, tree, dateSteps(steps, done, hours, latest, plan.rate.minutesAPart, plan.rate), done);
    return plan;
}

} // namespace ivrant::make
