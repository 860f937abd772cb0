// SPDX-License-Identifier: GPL-3.0-or-later
// Where parts come from and by when it is built: stocks, pick lists, orders, the calendar.
#include <CLI/CLI.hpp>
#include <ctime>
#include <filesystem>
#include <iostream>

#include "cli/verbs.h"
#include "core/base/at.h"
#include "core/files/project_file.h"
#include "core/files/results_supply.h"
#include "core/files/supplies_csv.h"

namespace ivrant::cli {
namespace {

std::string getDayNow() {
    return base::formatDay(std::chrono::floor<std::chrono::days>(std::chrono::system_clock::now()));
}

/// A verb that reads stocks and price lists: those that the project names, or those named here.
class SupplyVerb : public ProjectVerb {
public:
    using ProjectVerb::ProjectVerb;
    void addOptions(CLI::App& sub) override {
        ProjectVerb::addOptions(sub);
        sub.add_option("--stock", m_stocks, "tables of what lies in the drawers (CSV), instead of the project's own");
        sub.add_option("--prices", m_prices, "price lists (CSV), instead of the project's own");
        sub.add_option("--column", m_columns, "NAME=HEADING: which heading stands for a column, such as count=stored");
    }

protected:
    [[nodiscard]] base::Result<model::Project> loadSupplied() const {
        auto project = load();
        if (!project) return project;
        if (m_stocks.empty() && m_prices.empty() && m_columns.empty()) return project;
        model::Making making = project->making;
        const auto absolute = [](const std::vector<std::string>& files) {
            std::vector<std::string> all;
            all.reserve(files.size());
            for (const auto& file : files) all.push_back(std::filesystem::absolute(file).string());
            return all;
        };
        if (!m_stocks.empty()) making.stockFiles = absolute(m_stocks);
        if (!m_prices.empty()) making.priceFiles = absolute(m_prices);
        for (const std::string& column : m_columns) {
            const auto equals = column.find('=');
            if (equals == std::string::npos)
                return base::Error{"column.form", "--column is NAME=HEADING, found '" + column + "'", ""};
            making.columns[column.substr(0, equals)] = column.substr(equals + 1);
        }
        project.value().supplies = files::loadSupplies(making, folder());
        for (const auto& stock : project->supplies->stocks)
            if (!stock->problems.empty() && stock->problems.front().row == 0)
                return base::Error{"stock.read", stock->problems.front().text, stock->file};
        for (const auto& prices : project->supplies->prices)
            if (!prices->problems.empty() && prices->problems.front().row == 0)
                return base::Error{"prices.read", prices->problems.front().text, prices->file};
        return project;
    }

private:
    std::vector<std::string> m_stocks, m_prices, m_columns;
};

class Stock : public SupplyVerb {
public:
    Stock()
        : SupplyVerb("stock", "what the drawers lack, at which step; pick lists; exit 1 when something is missing") {}
    void addOptions(CLI::App& sub) override {
        SupplyVerb::addOptions(sub);
        sub.add_flag("--stand-ins", m_standIns, "try what could stand in for what is missing");
        sub.add_option("--pick", m_pick, "pick list: 'steps' or 'drawers'")->check(CLI::IsMember({"steps", "drawers"}));
        sub.add_option("--tray", m_stepsATray, "steps that one tray is counted out for")->check(CLI::Range(1, 10000));
        sub.add_flag("--csv", m_csv, "print CSV");
        auto* keep = sub.add_flag("--keep", m_keep, "write into the stocks that these parts are kept for this model");
        sub.add_flag("--release", m_release, "write into the stocks that nothing is kept for it any more")
            ->excludes(keep);
    }
    [[nodiscard]] int run() const override {
        auto project = loadSupplied();
        if (!project) return complain(project.error());
        const auto tree = model::makeTree(*project).value();
        const make::Tide tide = make::calcTide(*project, tree);
        if (m_keep || m_release) return writeKept(*project, tide);
        if (!m_pick.empty()) {
            const auto trays = m_pick == "steps" ? make::pickBySteps(*project, tree, m_stepsATray)
                                                 : make::pickByDrawers(*project, tree);
            if (m_csv)
                std::cout << files::makePickCsv(trays);
            else
                print(files::makePickJson(trays));
            return 0;
        }
        if (m_csv)
            std::cout << files::makeTideCsv(tide);
        else
            print(files::makeStockJson(*project, tide, make::calcTides(*project), tryAll(*project, tide)));
        return std::any_of(tide.lines.begin(), tide.lines.end(), [](const auto& line) { return line.missing() > 0; });
    }

private:
    [[nodiscard]] std::vector<files::TriedLine> tryAll(const model::Project& project, const make::Tide& tide) const {
        std::vector<files::TriedLine> all;
        if (!m_standIns) return all;
        const auto report = verdict::calcReport(std::make_shared<const model::Project>(project));
        for (const make::TideLine& line : tide.lines)
            if (line.missing() > 0) all.push_back({line.shape, line.colour, verdict::tryStandIns(report, line)});
        return all;
    }
    [[nodiscard]] int writeKept(const model::Project& project, const make::Tide& tide) const {
        auto kept = m_keep ? make::keepForModel(project, tide)
                           : base::Result<std::shared_ptr<const model::Supplies>>(make::releaseModel(project));
        if (!kept) return complain(kept.error());
        if (!*kept) return complain({"stock.none", "no stock is named", ""});
        for (const auto& stock : (*kept)->stocks) {
            const auto text = files::writeStock(*stock);
            if (!text) return complain(text.error());
            if (const int failed = save(files::getSupplyPath(folder(), stock->file), *text); failed != 0) return failed;
            std::cout << stock->file << ": written\n";
        }
        return 0;
    }

    bool m_standIns = false, m_csv = false, m_keep = false, m_release = false;
    int m_stepsATray = 1;
    std::string m_pick;
};

class OrderParts : public SupplyVerb {
public:
    OrderParts() : SupplyVerb("order", "the cheapest way to buy what is missing; exit 1 when nobody has all of it") {}
    void addOptions(CLI::App& sub) override {
        SupplyVerb::addOptions(sub);
        sub.add_option("--goal", m_goal, "'money', 'sellers' (fewest) or 'soonest'")
            ->check(CLI::IsMember({"money", "sellers", "soonest"}));
        sub.add_option("--days", m_days, "only what arrives within so many days")->check(CLI::Range(0, 3650));
        sub.add_option("--seconds", m_seconds, "longest time to look for it")->check(CLI::Range(0.1, 3600.0));
        sub.add_flag("--stand-ins", m_standIns, "with what may stand in, tried on the model");
        sub.add_option("--today", m_today, "day on which it is ordered, such as 2026-12-01; else today");
        sub.add_option("-o,--output", m_output, "OUT.ivrant with the orders written down");
        sub.add_flag("--csv", m_csv, "print the orders as CSV");
    }
    [[nodiscard]] int run() const override {
        auto project = loadSupplied();
        if (!project) return complain(project.error());
        const std::string today = m_today.empty() ? getDayNow() : m_today;
        if (!base::parseDay(today)) return complain({"date", "'" + today + "' is no day: expected 2026-12-01", ""});
        if (!project->supplies || project->supplies->prices.empty())
            return complain({"prices.none", "no price list is named: --prices LIST.csv", ""});
        const auto request = makeRequest(*project);
        const auto basket = make::findBasket(request);
        if (!basket) return complain(basket.error());
        const auto orders = make::makeOrders(request, *basket, today);
        if (!m_output.empty()) {
            model::EditResult next = *project;
            for (const model::Order& order : orders) {
                next = model::putOrder(*next, order);
                if (!next) return complain(next.error());
            }
            if (const int failed = save(m_output, *next); failed != 0) return failed;
        }
        if (m_csv)
            for (const model::Order& order : orders) std::cout << files::makeOrderCsv(order);
        else
            print(files::makeBasketJson(request, *basket));
        return basket->unmet.empty() ? 0 : 1;
    }

private:
    [[nodiscard]] make::BasketRequest makeRequest(const model::Project& project) const {
        std::optional<verdict::Report> report;
        if (m_standIns) report = verdict::calcReport(std::make_shared<const model::Project>(project));
        auto request = verdict::makeBasketRequest(project, report ? &*report : nullptr);
        request.goal = m_goal == "sellers"   ? make::BasketGoal::Sellers
                       : m_goal == "soonest" ? make::BasketGoal::Soonest
                                             : make::BasketGoal::Money;
        request.mostDays = m_days;
        request.mostSeconds = m_seconds;
        return request;
    }

    std::string m_goal = "money", m_today, m_output;
    std::optional<int> m_days;
    double m_seconds = 10;
    bool m_standIns = false, m_csv = false;
};

class PlanDays : public SupplyVerb {
public:
    PlanDays() : SupplyVerb("plan", "the calendar back from the day it must stand there; exit 1 when it is late") {}
    void addOptions(CLI::App& sub) override {
        SupplyVerb::addOptions(sub);
        sub.add_option("--today", m_today, "first day on which anything can be done; else today");
        sub.add_option("--due", m_due, "another day than the project's");
        sub.add_option("-o,--output", m_output, "OUT.ics or OUT.csv");
    }
    [[nodiscard]] int run() const override {
        auto project = loadSupplied();
        if (!project) return complain(project.error());
        if (!m_due.empty()) project.value().making.schedule.dueOn = m_due;
        const std::string text = m_today.empty() ? getDayNow() : m_today;
        const auto today = base::parseDay(text);
        for (const std::string& day : {text, project->making.schedule.dueOn})
            if (!day.empty() && !base::parseDay(day))
                return complain({"date", "'" + day + "' is no day: expected such as 2026-12-01", ""});
        const auto plan = make::calcPlan(*project, model::makeTree(*project).value(), *today);
        if (!plan) return complain(plan.error());
        if (!m_output.empty()) return write(*project, *plan);
        print(files::makePlanJson(*plan));
        return plan->due && (!plan->ready || plan->spareDays < 0) ? 1 : 0;
    }

private:
    [[nodiscard]] int write(const model::Project& project, const make::Plan& plan) const {
        const std::string kind = extensionOf(m_output);
        if (kind == "csv") return save(m_output, files::makePlanCsv(plan));
        if (kind != "ics") return complain({"output.kind", "cannot write '." + kind + "'; expected .ics or .csv", ""});
        if (!plan.due) return complain({"calendar.due", "no day is named: --due 2026-12-19", ""});
        std::string stamp = m_today.empty() ? getDayNow() : m_today;
        std::erase(stamp, '-');
        return save(m_output, make::makeICalendar(project.name, plan, stamp + "T000000Z"));
    }

    std::string m_today, m_due, m_output;
};

} // namespace

void addSupplyVerbs(Verbs& verbs) {
    verbs.push_back(std::make_unique<Stock>());
    verbs.push_back(std::make_unique<OrderParts>());
    verbs.push_back(std::make_unique<PlanDays>());
}

} // namespace ivrant::cli
