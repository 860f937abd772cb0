// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/make/stock.h"

#include <algorithm>

#include "core/base/at.h"
#include "core/model/variants.h"

namespace ivrant::make {
namespace {

using StockKey = std::pair<std::string, int>; ///< shape, colour

bool isFree(const model::StockLine& line, const std::string& model) {
    return line.keptFor.empty() || line.keptFor == model;
}

/// The first step after whose parts less than nothing is left; 0: none.
int findRunOut(const TideLine& line, int pieces) {
    for (const TideUse& use : line.uses) {
        pieces -= use.count;
        if (pieces < 0) return use.step;
    }
    return 0;
}

/// Lines that say the same become one; those that hold nothing go.
void mergeLines(std::vector<model::StockLine>& lines) {
    std::vector<model::StockLine> merged;
    for (model::StockLine& line : lines) {
        const auto same = std::find_if(merged.begin(), merged.end(), [&](const model::StockLine& other) {
            return other.isKnown && line.isKnown && other.shape == line.shape && other.colour == line.colour &&
                   other.drawer == line.drawer && other.keptFor == line.keptFor && other.more == line.more;
        });
        if (same == merged.end())
            merged.push_back(std::move(line));
        else
            same->count += line.count;
    }
    lines = std::move(merged);
}

} // namespace

int TideLine::leftAfter(int step) const {
    int left = there();
    for (const TideUse& use : uses)
        if (use.step <= step) left -= use.count;
    return left;
}

Tide calcTide(const model::Project& project, const model::SectionTree& tree) {
    Tide tide;
    std::map<StockKey, TideLine> lines;
    for (const Step& step : listSteps(project, tree)) {
        tide.steps = std::max(tide.steps, step.number);
        for (const TrayLine& tray : step.tray) {
            TideLine& line = lines[{tray.shape, tray.colour}];
            line.need += tray.count;
            line.uses.push_back({step.number, tray.count});
        }
    }
    if (project.supplies) {
        for (const model::StockPtr& stock : project.supplies->stocks)
            for (const model::StockLine& held : stock->lines) {
                if (!held.isKnown) continue;
                const auto found = lines.find({held.shape, held.colour});
                if (found == lines.end()) continue;
                TideLine& line = found->second;
                if (!isFree(held, project.name)) {
                    line.keptForOthers += held.count;
                    continue;
                }
                line.have += held.count;
                if (held.count > 0 && !held.drawer.empty() &&
                    std::find(line.drawers.begin(), line.drawers.end(), held.drawer) == line.drawers.end())
                    line.drawers.push_back(held.drawer);
            }
        tide.isStocked = !project.supplies->stocks.empty();
    }
    for (const model::Order& order : project.making.orders)
        for (const model::OrderLine& ordered : order.lines)
            if (const auto found = lines.find({ordered.shape, ordered.colour}); found != lines.end()) {
                found->second.arrived += ordered.arrived - ordered.stored; // the others are in the drawers's count
                found->second.onTheWay += ordered.count - ordered.arrived;
            }
    for (auto& [key, line] : lines) {
        line.shape = key.first;
        line.colour = key.second;
        std::sort(line.uses.begin(), line.uses.end(),
                  [](const TideUse& l, const TideUse& r) { return l.step < r.step; });
        line.runsOutAt = findRunOut(line, line.there());
        line.lacksAt = findRunOut(line, line.there() + line.onTheWay);
        tide.lines.push_back(std::move(line));
    }
    const auto rank = [&](const TideLine& line) { return line.runsOutAt > 0 ? line.runsOutAt : tide.steps + 1; };
    std::stable_sort(tide.lines.begin(), tide.lines.end(),
                     [&](const TideLine& l, const TideLine& r) { return rank(l) < rank(r); });
    return tide;
}

std::vector<VariantTide> calcTides(const model::Project& project) {
    std::vector<VariantTide> tides;
    if (project.variants.empty()) return {{project.name, calcTide(project, model::makeTree(project).value())}};
    for (std::size_t v = 0; v < project.variants.size(); ++v) {
        const model::Project shown = model::takeVariant(project, static_cast<int>(v));
        tides.push_back({project.variants[v].name, calcTide(shown, model::makeTree(shown).value())});
    }
    return tides;
}

model::EditResult putAway(const model::Project& project, std::span<const OrderedLine> lines) {
    if (!project.supplies || project.supplies->stocks.empty())
        return base::Error{"stock.none", "no stock is named: add the table of what lies in the drawers first", ""};
    auto supplies = std::make_shared<model::Supplies>(*project.supplies);
    auto stock = std::make_shared<model::Stock>(*supplies->stocks.front());
    model::Project next = project;
    int moved = 0;
    for (model::Order& order : next.making.orders)
        for (std::size_t i = 0; i < order.lines.size(); ++i) {
            const OrderedLine which{order.id, static_cast<int>(i)};
            if (std::find(lines.begin(), lines.end(), which) == lines.end()) continue;
            model::OrderLine& line = order.lines[i];
            const int pieces = line.arrived - line.stored;
            if (pieces == 0) continue;
            line.stored = line.arrived;
            moved += pieces;
            // They were bought for this model; where more of the kind lie is the drawer that they go into.
            std::string drawer;
            model::StockLine* own = nullptr;
            for (model::StockLine& held : stock->lines) {
                if (!held.isKnown || held.shape != line.shape || held.colour != line.colour) continue;
                if (drawer.empty()) drawer = held.drawer;
                if (held.keptFor == project.name) own = &held;
            }
            if (own)
                own->count += pieces;
            else
                stock->lines.push_back({line.shape, line.colour, pieces, drawer, project.name});
        }
    if (moved == 0) return base::Error{"order.arrived", "none of these lines has arrived and is not yet put away", ""};
    supplies->stocks.front() = std::move(stock);
    next.supplies = std::move(supplies);
    if (auto st = model::checkMaking(next.making); !st) return st.error();
    return next;
}

base::Result<std::shared_ptr<const model::Supplies>> keepForModel(const model::Project& project, const Tide& tide) {
    if (!project.supplies || project.supplies->stocks.empty())
        return base::Error{"stock.none", "no stock is named: add the table of what lies in the drawers first", ""};
    std::map<StockKey, int> open;
    for (const TideLine& line : tide.lines) open[{line.shape, line.colour}] = line.need - line.arrived;
    auto next = std::make_shared<model::Supplies>(*project.supplies);
    for (model::StockPtr& stock : next->stocks) {
        auto copy = std::make_shared<model::Stock>(*stock);
        std::vector<model::StockLine> lines;
        for (model::StockLine line : stock->lines) {
            const auto found = open.find({line.shape, line.colour});
            if (!line.isKnown || found == open.end() || !isFree(line, project.name)) {
                lines.push_back(std::move(line));
                continue;
            }
            const int kept = std::clamp(found->second, 0, line.count);
            found->second -= kept;
            model::StockLine free = line;
            line.count = kept;
            line.keptFor = project.name;
            free.count -= kept;
            free.keptFor.clear();
            if (kept > 0) lines.push_back(std::move(line));
            if (free.count > 0 || kept == 0) lines.push_back(std::move(free));
        }
        mergeLines(lines);
        copy->lines = std::move(lines);
        stock = std::move(copy);
    }
    return std::shared_ptr<const model::Supplies>(std::move(next));
}

std::shared_ptr<const model::Supplies> releaseModel(const model::Project& project) {
    if (!project.supplies) return nullptr;
    auto next = std::make_shared<model::Supplies>(*project.supplies);
    for (model::StockPtr& stock : next->stocks) {
        auto copy = std::make_shared<model::Stock>(*stock);
        for (model::StockLine& line : copy->lines)
            if (line.keptFor == project.name) line.keptFor.clear();
        mergeLines(copy->lines);
        stock = std::move(copy);
    }
    return next;
}

} // namespace ivrant::make
