// SPDX-License-Identifier: GPL-3.0-or-later
// Days, hours and the plan back from the show, each by hand.
#include "core/make/calendar.h"

#include <gtest/gtest.h>

#include "core/base/units.h"
#include "core/model/edits.h"
#include "core/script/script.h"
#include "core/verdict/report.h"
#include "tests/support/figures.h"

using namespace ivrant;
using base::Day;

namespace {

Day day(const char* text) { return base::parseDay(text).value(); }
std::string text(const std::optional<Day>& d) { return d ? base::formatDay(*d) : "none"; }

/// So many plates, one a step.
model::Project plates(int count) {
    std::string script = "model Stack\nsection Stack\n";
    for (int i = 0; i < count; ++i)
        script += std::string(i > 0 ? "step\n" : "") + "part plate 2x4 slate at 0 0 " + std::to_string(i) + "\n";
    return test::must(script::runScript(script));
}

model::Project scheduled(int count, model::Schedule schedule) {
    return test::must(model::setSchedule(plates(count), std::move(schedule)));
}

make::Plan planOf(const model::Project& project, const char* today) {
    return test::must(make::calcPlan(project, model::makeTree(project).value(), day(today)));
}

std::string spans(const std::vector<make::PhaseSpan>& list) {
    std::string out;
    for (const auto& span : list)
        out += std::string(make::getPhaseName(span.phase)) + " " + base::formatDay(span.from).substr(5) + ".." +
               base::formatDay(span.to).substr(5) + "; ";
    return out;
}

} // namespace

TEST(Days, ExistOrDoNot) {
    EXPECT_FALSE(base::parseDay("2026-02-29"));
    EXPECT_TRUE(base::parseDay("2028-02-29"));
    for (const char* wrong :
         {"", "2026-13-01", "2026-00-10", "2026-1-01", "26-01-01", "2026-01-32", "2026/01/01", "1969-12-31"})
        EXPECT_FALSE(base::parseDay(wrong)) << wrong;
    EXPECT_EQ(base::formatDay(day("2026-02-28") + std::chrono::days(1)), "2026-03-01");
    EXPECT_EQ(base::describeDay(day("2026-12-19")), "Sat 19 Dec 2026"); // 1 Dec 2026 is a Tuesday
    EXPECT_EQ(base::getWeekday(day("2026-12-01")), 1);
    EXPECT_EQ(base::countDays(day("2026-12-31"), day("2027-01-02")), 2);
}

TEST(BuildRate, IsStartingUntilSessionsTellIt) {
    auto project = plates(4);
    const auto work = make::countWork(project, make::listSteps(project, model::makeTree(project).value()));
    EXPECT_EQ(work.parts, 4);
    EXPECT_EQ(work.steps, 4);
    const auto starting = make::calcRate(project.making, work);
    EXPECT_FALSE(starting.measured);
    EXPECT_DOUBLE_EQ(starting.minutesAPart, 1); // half a minute for the part, half for its step
    const auto session = [&](double minutes, int parts) {
        model::BuildSession build;
        build.date = "2026-12-01";
        build.minutes = minutes;
        build.parts = parts;
        project = test::must(model::putBuild(project, build));
    };
    session(30, 20);
    session(10, 10);
    const auto rate = make::calcRate(project.making, work);
    EXPECT_TRUE(rate.measured);
    EXPECT_NEAR(rate.minutesAPart, 40.0 / 30, 1e-12);
    // Deviations from 4/3 a part: 30 − 26.667 = 3.333 and 10 − 13.333; √(2·(11.11 + 11.11))/40.
    EXPECT_NEAR(rate.spread, std::sqrt(2 * 2 * (10.0 / 3) * (10.0 / 3)) / 40, 1e-9);
    EXPECT_EQ(make::countWork(project, make::listSteps(project, model::makeTree(project).value())).partsDone, 1)
        << "both sessions did step 1: it is done once";
}

TEST(Plan, BackFromTheShowByHand) {
    // 240 plates in 240 steps: 240 minutes, 4 h. Two hours on Tuesdays and Thursdays, three on Saturdays.
    model::Schedule schedule;
    schedule.dueOn = "2026-12-19"; // a Saturday
    schedule.hours = {0, 2, 0, 2, 0, 3, 0};
    schedule.travelDays = 1; // the 18th
    schedule.packHours = 2;  // Thursday the 17th
    schedule.testDays = 1;   // Tuesday the 15th
    const auto plan = planOf(scheduled(240, schedule), "2026-12-01");
    EXPECT_DOUBLE_EQ(plan.buildHours, 4);
    // Backwards: Saturday the 12th 3 h, Thursday the 10th the last one.
    EXPECT_EQ(spans(plan.latest), "build 12-10..12-12; trials 12-15..12-15; pack 12-17..12-17; travel 12-18..12-18; "
                                  "show 12-19..12-19; ");
    EXPECT_EQ(text(plan.latestStart), "2026-12-10");
    // Free until the 12th: Tue 1, Thu 3, Sat 5, Tue 8, Thu 10, Sat 12: 2+2+3+2+2+3.
    EXPECT_DOUBLE_EQ(plan.freeHours, 14);
    EXPECT_DOUBLE_EQ(plan.spareHours, 10);
    // Forwards: Tue 1 and Thu 3 build, Sat 5 trials, Tue 8 packing.
    EXPECT_EQ(spans(plan.forward), "build 12-01..12-03; trials 12-05..12-05; pack 12-08..12-08; ");
    EXPECT_EQ(text(plan.ready), "2026-12-08");
    EXPECT_EQ(plan.spareDays, 9) << "to the 17th, the day before it leaves";
}

TEST(Plan, DaysOffAndMoreBuildersCount) {
    model::Schedule schedule;
    schedule.dueOn = "2026-12-19";
    schedule.hours = {0, 2, 0, 2, 0, 3, 0};
    schedule.others = {{"2026-12-12", 0}, {"2026-12-18", 1}};
    const auto one = planOf(scheduled(240, schedule), "2026-12-01");
    // Fri 18: 1, Thu 17: 2, then Tue 15: one of its two.
    EXPECT_EQ(text(one.latestStart), "2026-12-15");
    schedule.builders = 2;
    EXPECT_EQ(text(planOf(scheduled(240, schedule), "2026-12-01").latestStart), "2026-12-17") << "2 and 4 hours";
}

TEST(Plan, TooLateIsToldByHowMuch) {
    model::Schedule schedule;
    schedule.dueOn = "2026-12-05";
    schedule.hours = {0, 2, 0, 2, 0, 3, 0};
    const auto late = planOf(scheduled(300, schedule), "2026-12-01"); // 5 h; Tue 2, Thu 2 before Saturday
    EXPECT_DOUBLE_EQ(late.freeHours, 4);
    EXPECT_DOUBLE_EQ(late.spareHours, -1);
    EXPECT_EQ(text(late.ready), "2026-12-05");
    EXPECT_EQ(late.spareDays, -1);
    const auto past = planOf(scheduled(300, schedule), "2026-12-20");
    EXPECT_LT(past.spareDays, 0);
    EXPECT_DOUBLE_EQ(past.freeHours, 0);
    const auto never = make::calcPlan(scheduled(3, {"2026-12-05", {}, {}, 0, 0, 0, 1}),
                                      model::makeTree(plates(3)).value(), day("2026-12-01"));
    ASSERT_FALSE(never);
    EXPECT_EQ(never.error().code, "calendar.hours");
    EXPECT_FALSE(planOf(plates(3), "2026-12-01").due) << "no day: hours only";
}

TEST(Plan, StepsWaitForPartsUntilTheDayBefore) {
    model::Schedule schedule;
    schedule.dueOn = "2026-12-19";
    schedule.hours = {1, 1, 1, 1, 1, 1, 1};
    auto project = scheduled(120, schedule); // 2 h: the 17th and 18th, 60 steps each
    auto supplies = std::make_shared<model::Supplies>();
    auto stock = std::make_shared<model::Stock>();
    const int colour = project.sections[0]->parts[0].colour;
    stock->lines.push_back({"plate 2x4", colour, 80, "", ""});
    supplies->stocks.push_back(stock);
    auto prices = std::make_shared<model::PriceList>();
    prices->sellers = {{"Slow", 9, 0, {}}, {"Quick", 4, 0, {}}, {"Quickest", 1, 0, {}}};
    prices->offers = {{0, "plate 2x4", colour, 0.1, 100, 1},
                      {1, "plate 2x4", colour, 0.2, 40, 1},
                      {2, "plate 2x4", colour, 0.2, 39, 1}};
    supplies->prices.push_back(prices);
    project.supplies = supplies;
    const auto plan = planOf(project, "2026-12-01");
    ASSERT_EQ(plan.waits.size(), 1U);
    EXPECT_EQ(plan.waits[0].step, 81);
    EXPECT_EQ(plan.waits[0].count, 40);
    EXPECT_EQ(base::formatDay(plan.waits[0].neededBy), "2026-12-17") << "step 81 is built on the 18th";
    EXPECT_EQ(text(plan.waits[0].orderBy), "2026-12-13") << "the quickest has too few";
    EXPECT_FALSE(plan.waits[0].due);
    model::Order order;
    order.seller = "Slow";
    order.dueOn = "2026-12-18";
    order.lines = {{"plate 2x4", colour, 40, 0, 0.1}};
    project = test::must(model::putOrder(project, order));
    project.today = "2026-12-01";
    const auto report = verdict::calcReport(std::make_shared<const model::Project>(project));
    const auto late = std::find_if(report.verdicts.begin(), report.verdicts.end(),
                                   [](const auto& v) { return v.check == "arrival"; });
    ASSERT_NE(late, report.verdicts.end());
    EXPECT_EQ(late->state, verdict::State::Fail) << "a day too late";
}

TEST(Plan, TheVerdictFollowsTheHours) {
    model::Schedule schedule;
    schedule.dueOn = "2026-12-19";
    schedule.hours = {1, 1, 1, 1, 1, 1, 1};
    auto project = scheduled(120, schedule);
    const auto stateOn = [&](const char* today) {
        project.today = today;
        const auto report = verdict::calcReport(std::make_shared<const model::Project>(project));
        for (const auto& v : report.verdicts)
            if (v.check == "by-the-day")
                return std::string(verdict::getStateName(v.state)) + " " + base::formatNumber(v.margin.value_or(-1), 2);
        return std::string("none");
    };
    EXPECT_EQ(stateOn("2026-12-01"), "good 9"); // 18 evenings for 2 h
    EXPECT_EQ(stateOn("2026-12-17"), "thin 1");
    EXPECT_EQ(stateOn("2026-12-18"), "fail 0.5");
    EXPECT_EQ(stateOn("2026-12-20"), "fail -1") << "the day has passed";
    EXPECT_EQ(stateOn(""), "none") << "nobody knows what day it is";
}

TEST(ICalendar, IsFoldedEscapedAndWhole) {
    model::Schedule schedule;
    schedule.dueOn = "2026-12-19";
    schedule.hours = {1, 1, 1, 1, 1, 1, 1};
    const auto plan = planOf(scheduled(30, schedule), "2026-12-01");
    const std::string name =
        "Gr\xC3\xA4ser, Schilf; und ein sehr langer Name f\xC3\xBCr einen Reiher am Pier von Fernby";
    const std::string ics = make::makeICalendar(name, plan, "20261201T000000Z");
    std::string unfolded;
    for (std::size_t i = 0; i < ics.size();) {
        const auto end = ics.find("\r\n", i);
        ASSERT_NE(end, std::string::npos) << "every line ends as it should";
        const std::string line = ics.substr(i, end - i);
        EXPECT_LE(line.size(), 75U) << line;
        EXPECT_EQ(line.find('\n'), std::string::npos);
        if (line.starts_with(" "))
            unfolded += line.substr(1);
        else
            unfolded += "\n" + line;
        EXPECT_FALSE(!line.empty() && (static_cast<unsigned char>(line.front()) & 0xC0) == 0x80)
            << "no letter is cut in two";
        i = end + 2;
    }
    EXPECT_NE(
        unfolded.find("\nDTSTART;VALUE=DATE:20261218\nDTEND;VALUE=DATE:20261219\nSUMMARY:Gr\xC3\xA4ser\\, Schilf\\;"),
        std::string::npos);
    EXPECT_NE(unfolded.find("\nDTSTART;VALUE=DATE:20261219\nDTEND;VALUE=DATE:20261220"), std::string::npos);
    EXPECT_TRUE(unfolded.starts_with("\nBEGIN:VCALENDAR\nVERSION:2.0\nPRODID:"));
    EXPECT_TRUE(unfolded.ends_with("\nEND:VCALENDAR"));
}
