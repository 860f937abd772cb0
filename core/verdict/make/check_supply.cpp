// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/verdict/make/check_supply.h"

#include <algorithm>
#include <set>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/make/calendar.h"
#include "core/parts/palette.h"
#include "core/study/hidden.h"

namespace ivrant::verdict {
namespace {

std::string nameOf(const make::TideLine& line) { return line.shape + " " + parts::getColourName(line.colour); }

std::string listDrawers(const make::TideLine& line) {
    std::string text;
    for (const std::string& drawer : line.drawers) text += (text.empty() ? "" : ", ") + drawer;
    return text.empty() ? "" : " (" + text + ")";
}

void judgeTable(const std::string& file, const std::vector<model::TableProblem>& problems, VerdictList& list) {
    if (problems.empty()) return;
    const model::TableProblem& first = problems.front();
    Verdict& v = list.add("table", file, Station::Make);
    if (first.row == 0) {
        v.state = State::Fail;
        v.text = file + " cannot be read";
        v.detail = first.text;
        return;
    }
    v.state = State::Thin;
    std::set<int> rows;
    for (const auto& problem : problems) rows.insert(problem.row);
    v.text = std::to_string(rows.size()) + (rows.size() == 1 ? " row of " : " rows of ") + file + " cannot be read";
    v.detail = "row " + std::to_string(first.row) + (first.column.empty() ? "" : ", column '" + first.column + "'") +
               ": " + first.text;
}

/// "4 in the drawers (B2), 2 arrived, 3 kept for other models".
std::string describeHave(const make::TideLine& line) {
    std::string text = std::to_string(line.have) + " in the drawers" + listDrawers(line);
    if (line.arrived > 0) text += ", " + std::to_string(line.arrived) + " arrived";
    if (line.onTheWay > 0) text += ", " + std::to_string(line.onTheWay) + " on the way";
    if (line.keptForOthers > 0) text += ", " + std::to_string(line.keptForOthers) + " kept for other models";
    return text;
}

void judgeLine(const study::Facts& facts, const make::TideLine& line, VerdictList& list) {
    Verdict& v = list.add("stock", line.shape + "/" + parts::getColourName(line.colour), Station::Make);
    for (const model::PartSpot spot : make::listLacking(*facts.project, facts.tree, line))
        v.place.parts.push_back(model::getPart(*facts.project, spot).id);
    v.limit = line.need;
    v.unit = "pieces";
    const std::string needed = std::to_string(line.need) + " needed, ";
    if (line.lacksAt > 0) {
        v.value = line.there() + line.onTheWay;
        v.margin = v.value / v.limit;
        v.state = State::Fail;
        v.text = nameOf(line) + " runs out at step " + std::to_string(line.lacksAt);
        v.detail = std::to_string(line.missing()) + " short: " + needed + describeHave(line);
        return;
    }
    v.value = line.there();
    v.state = State::Thin;
    v.text = nameOf(line) + " is still on the way";
    v.detail = "step " + std::to_string(line.runsOutAt) + " waits for it: " + needed + describeHave(line);
}

void judgeTide(const study::Facts& facts, VerdictList& list) {
    const make::Tide tide = make::calcTide(*facts.project, facts.tree);
    if (!tide.isStocked && facts.project->making.orders.empty()) return; // nobody said what there is
    bool short_ = false;
    for (const make::TideLine& line : tide.lines)
        if (line.runsOutAt > 0) {
            judgeLine(facts, line, list);
            short_ = true;
        }
    if (short_ || tide.lines.empty()) return;
    Verdict& v = list.add("stock", "all", Station::Make);
    v.text = "All parts are there";
    v.detail = std::to_string(tide.lines.size()) + " kinds, in the drawers or arrived";
}

void judgeWait(const make::Plan& plan, const make::Wait& wait, base::Day today, VerdictList& list) {
    const bool late = wait.due && *wait.due > wait.neededBy;
    const bool tooLateToOrder = !wait.due && wait.orderBy && *wait.orderBy < today;
    if (!late && !tooLateToOrder) return;
    const std::string what = wait.shape + " " + parts::getColourName(wait.colour);
    Verdict& v = list.add("arrival", wait.shape + "/" + parts::getColourName(wait.colour), Station::Make);
    v.state = State::Fail;
    v.text = late ? what + " comes too late" : what + " can no longer come in time";
    v.detail = "step " + std::to_string(wait.step) + " needs " + std::to_string(wait.count) + " by " +
               base::describeDay(wait.neededBy) + ", to be done by " + base::describeDay(*plan.due) + "; ";
    v.detail += late ? "ordered for " + base::describeDay(*wait.due)
                     : "the quickest seller would have had to get the order by " + base::describeDay(*wait.orderBy);
}

std::string hoursText(double hours) { return base::formatNumber(hours, hours < 10 ? 1 : 0) + " h"; }

void judgePlan(const study::Facts& facts, VerdictList& list) {
    const auto today = base::parseDay(facts.project->today);
    if (!today || facts.project->making.schedule.dueOn.empty() || facts.project->partCount() == 0) return;
    const auto plan = make::calcPlan(*facts.project, facts.tree, *today);
    if (!plan) {
        Verdict& v = list.add("by-the-day", "", Station::Make);
        v.state = State::Thin;
        v.text = "Nothing says when there is time to build";
        v.detail = plan.error().message;
        return;
    }
    for (const make::Wait& wait : plan->waits) judgeWait(*plan, wait, *today, list);
    Verdict& day = list.add("by-the-day", "", Station::Make);
    day.unit = "h";
    day.value = plan->freeHours;
    day.limit = plan->buildHours;
    day.basis = plan->rate.measured ? Basis::Measured : Basis::Starting;
    const std::string due = base::describeDay(*plan->due);
    const std::string need =
        hoursText(plan->buildHours) + " of building are left" + (plan->rate.measured ? "" : " (starting values)");
    if (*plan->due < *today) {
        day.state = State::Fail;
        day.text = "The day it was for has passed";
        day.detail = due + "; " + need;
        return;
    }
    if (plan->buildHours <= 0) {
        day.text = "It is built, " + due + " can come";
        day.detail = "every step is written down as done";
        return;
    }
    day.margin = plan->freeHours / plan->buildHours;
    day.state = getStateOfMargin(day.margin);
    if (plan->spareDays < 0 || !plan->ready) { // trials and packing find no days either
        day.state = State::Fail;
        day.margin = std::min(*day.margin, 0.99);
    }
    day.text = day.state == State::Fail ? "It is not built by " + due : "It can be built by " + due;
    day.detail = need + ", " + hoursText(plan->freeHours) + " free before trials and packing";
    if (plan->latestStart && day.state != State::Fail)
        day.detail += "; begin by " + base::describeDay(*plan->latestStart);
    if (plan->ready) day.detail += "; ready on " + base::describeDay(*plan->ready);
}

std::optional<double> leastBonds(const Report& report) {
    std::optional<double> least;
    for (const study::PoseFacts& pose : report.poses)
        if (pose.standing && pose.standing->equilibrium.lambda) {
            const double margin = 1 / *pose.standing->equilibrium.lambda;
            least = least ? std::min(*least, margin) : margin;
        }
    return least;
}

std::vector<model::PartSpot> listUnseen(const Report& report) {
    if (report.hidden) return report.hidden->parts;
    return {}; // of large models it comes late
}

} // namespace

void judgeSupplies(const study::Facts& facts, VerdictList& list) {
    const model::Project& project = *facts.project;
    if (project.supplies) {
        for (const auto& stock : project.supplies->stocks) judgeTable(stock->file, stock->problems, list);
        for (const auto& prices : project.supplies->prices) judgeTable(prices->file, prices->problems, list);
    }
    judgeTide(facts, list);
    judgePlan(facts, list);
}

namespace {

constexpr int kMostTried = 12; ///< parts that one recipe is tried on alone

/// Bonds, collisions, order and all else of the model with a candidate, whatever the drawers hold.
std::optional<TriedStandIn> tryOne(const Report& report, make::StandInCandidate candidate, base::Progress* progress) {
    TriedStandIn one{std::move(candidate), false, {}, leastBonds(report), {}};
    auto changed = make::replaceParts(*report.project, one.candidate.replacements);
    if (!changed) return {};
    const Report after =
        calcReport(std::make_shared<const model::Project>(std::move(changed).value()), progress, {}, {}, &report);
    if (!after.complete) return {};
    std::set<std::string> failing;
    for (const Verdict& v : report.verdicts)
        if (v.state == State::Fail) failing.insert(v.id);
    one.bondsAfter = leastBonds(after);
    for (const Verdict& v : after.verdicts)
        if (v.state == State::Fail && v.group != "supplies" && failing.count(v.id) == 0) one.fails.push_back(v.text);
    one.works = one.fails.empty();
    return one;
}

} // namespace

void proposeSupplyMends(const Report& report, const Verdict& verdict, std::vector<Mend>& mends) {
    if (verdict.check != "stock" || verdict.state != State::Fail) return;
    const make::Tide tide = make::calcTide(*report.project, report.tree);
    for (const make::TideLine& line : tide.lines) {
        if (verdict.id != "stock/" + line.shape + "/" + parts::getColourName(line.colour)) continue;
        for (auto& tried : tryStandIns(report, line)) // those that work are tried as mends once more, drawers and all
            if (tried.works)
                mends.push_back(
                    {tried.candidate.text, [replacements = tried.candidate.replacements](const model::Project& p) {
                         return make::replaceParts(p, replacements);
                     }});
    }
}

std::vector<TriedStandIn> tryStandIns(const Report& report, const make::TideLine& line, base::Progress* progress) {
    std::vector<TriedStandIn> all;
    const model::Project& project = *report.project;
    const auto missing = static_cast<std::size_t>(line.missing());
    if (const auto other = make::findOtherColour(project, line, listUnseen(report)))
        if (auto tried = tryOne(report, *other, progress)) all.push_back(std::move(*tried));
    const auto free = make::listFree(project, report.tree, line);
    if (missing == 0 || free.size() < missing) return all;
    const std::vector<model::PartSpot> last(free.end() - static_cast<std::ptrdiff_t>(missing), free.end());
    const auto candidates = make::listStandIns(project, line, last);
    for (std::size_t k = 0; k < candidates.size(); ++k) {
        if (progress && progress->stopped()) break;
        if (progress) progress->report(static_cast<double>(k) / static_cast<double>(candidates.size()));
        auto tried = tryOne(report, candidates[k], progress);
        if (!tried) continue;
        if (!tried->works && free.size() > missing && static_cast<int>(free.size()) <= kMostTried) {
            // Not for the last ones: for which others, each alone?
            std::vector<model::PartSpot> works;
            for (const model::PartSpot spot : free) {
                const auto single = make::listStandIns(project, line, {spot});
                if (k >= single.size() || works.size() == missing) break;
                if (const auto one = tryOne(report, single[k], progress); one && one->works) works.push_back(spot);
            }
            if (works.size() == missing)
                if (auto others = tryOne(report, make::listStandIns(project, line, works).at(k), progress);
                    others && others->works)
                    tried = std::move(others);
        }
        all.push_back(std::move(*tried));
    }
    return all;
}

make::BasketRequest makeBasketRequest(const model::Project& project, const Report* report, base::Progress* progress) {
    make::BasketRequest request;
    for (const make::TideLine& line : make::calcTide(project, model::makeTree(project).value()).lines) {
        if (line.missing() == 0 || (progress && progress->stopped())) continue;
        make::Wish wish{line.shape, line.colour, line.missing(), {}};
        if (report)
            for (const TriedStandIn& tried : tryStandIns(*report, line, progress))
                if (tried.works) wish.standIns.push_back(tried.candidate.standIn);
        request.wishes.push_back(std::move(wish));
    }
    if (!project.supplies) return request;
    auto market = make::joinPriceLists(project.supplies->prices);
    request.sellers = std::move(market.sellers);
    request.offers = std::move(market.offers);
    return request;
}

} // namespace ivrant::verdict
