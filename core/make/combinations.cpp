// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/make/combinations.h"

#include <algorithm>
#include <array>
#include <functional>
#include <set>

#include "core/base/at.h"
#include "core/model/validate.h"
#include "core/parts/family.h"

namespace ivrant::make {
namespace {

using model::AlternativeSpot;

constexpr int kOpen = -1; ///< not chosen yet
constexpr std::size_t kMostSeeds = 32;

/// The rules by where their alternatives are.
struct SpotRule {
    AlternativeSpot first, second;
    bool excludes;
};
std::vector<SpotRule> listRules(const model::Options& options) {
    std::vector<SpotRule> rules;
    for (const model::OptionRule& rule : options.rules)
        rules.push_back(
            {model::findAlternative(options, rule.first), model::findAlternative(options, rule.second), rule.excludes});
    return rules;
}

/// Whether what is chosen so far breaks a rule; what is open can still go either way.
bool breaks(const std::vector<SpotRule>& rules, const Combination& combination) {
    return std::any_of(rules.begin(), rules.end(), [&](const SpotRule& rule) {
        if (at(combination, rule.first.option) != rule.first.alternative) return false;
        const int other = at(combination, rule.second.option);
        if (rule.excludes) return other == rule.second.alternative;
        return other != kOpen && other != rule.second.alternative;
    });
}

/// Fills what is open so that no rule is broken, trying the alternatives in the order that `rank` gives; false: it
/// cannot be.
bool complete(const model::Options& options, const std::vector<SpotRule>& rules, Combination& combination,
              const std::function<std::vector<int>(int option)>& rank) {
    if (breaks(rules, combination)) return false;
    const auto open = std::find(combination.begin(), combination.end(), kOpen);
    if (open == combination.end()) return true;
    const int option = static_cast<int>(open - combination.begin());
    for (const int a : rank(option)) {
        at(combination, option) = a;
        if (complete(options, rules, combination, rank)) return true;
    }
    at(combination, option) = kOpen;
    return false;
}

std::vector<int> allOf(const model::Options& options, int option) {
    std::vector<int> list(at(options.list, option).alternatives.size());
    for (std::size_t a = 0; a < list.size(); ++a) list[a] = static_cast<int>(a);
    return list;
}

using Pair = std::pair<AlternativeSpot, AlternativeSpot>;

void takeOff(std::set<Pair>& open, const Combination& combination) {
    for (std::size_t i = 0; i < combination.size(); ++i)
        for (std::size_t j = i + 1; j < combination.size(); ++j)
            open.erase({{static_cast<int>(i), combination[i]}, {static_cast<int>(j), combination[j]}});
}

std::size_t countClosed(const std::set<Pair>& open, const Combination& combination) {
    std::size_t closed = 0;
    for (std::size_t i = 0; i < combination.size(); ++i)
        for (std::size_t j = i + 1; j < combination.size(); ++j)
            closed += open.count({{static_cast<int>(i), combination[i]}, {static_cast<int>(j), combination[j]}});
    return closed;
}

/// A whole combination with that pair in it; of each further option the alternative first that closes most open pairs
/// with what stands already.
Combination growFrom(const Pair& seed, const model::Options& options, const std::vector<SpotRule>& rules,
                     const std::set<Pair>& open) {
    const int count = static_cast<int>(options.list.size());
    Combination combination(static_cast<std::size_t>(count), kOpen);
    at(combination, seed.first.option) = seed.first.alternative;
    at(combination, seed.second.option) = seed.second.alternative;
    const auto rank = [&](int option) {
        // Closed now first; then what still has most open pairs; then the number.
        std::vector<std::array<int, 3>> scored;
        for (const int a : allOf(options, option)) {
            int closes = 0;
            for (int other = 0; other < count; ++other) {
                if (other == option || at(combination, other) == kOpen) continue;
                const AlternativeSpot x{option, a}, y{other, at(combination, other)};
                closes += open.count(option < other ? Pair{x, y} : Pair{y, x}) > 0 ? 1 : 0;
            }
            const auto still = std::count_if(open.begin(), open.end(), [&](const Pair& pair) {
                const AlternativeSpot own{option, a};
                return pair.first == own || pair.second == own;
            });
            scored.push_back({-closes, -static_cast<int>(still), a});
        }
        std::sort(scored.begin(), scored.end());
        std::vector<int> order;
        order.reserve(scored.size());
        for (const auto& each : scored) order.push_back(each[2]);
        return order;
    };
    static_cast<void>(complete(options, rules, combination, rank)); // every open pair was found to be possible
    return combination;
}

std::vector<Combination> coverPairs(const model::Options& options, const std::vector<SpotRule>& rules) {
    const int count = static_cast<int>(options.list.size());
    const auto inOrder = [&](int option) { return allOf(options, option); };
    std::set<Pair> open;
    for (int i = 0; i < count; ++i)
        for (int j = i + 1; j < count; ++j)
            for (const int a : allOf(options, i))
                for (const int b : allOf(options, j)) {
                    Combination combination(static_cast<std::size_t>(count), kOpen);
                    at(combination, i) = a;
                    at(combination, j) = b;
                    if (complete(options, rules, combination, inOrder)) open.insert({{i, a}, {j, b}});
                }
    std::vector<Combination> list;
    if (const Combination now = getChosen(options); isAllowed(options, now)) {
        list.push_back(now);
        takeOff(open, now);
    }
    while (!open.empty()) {
        // Of several beginnings the one that closes most.
        Combination best;
        std::size_t most = 0;
        std::size_t tried = 0;
        for (auto seed = open.begin(); seed != open.end() && tried < kMostSeeds; ++tried) {
            Combination combination = growFrom(*seed, options, rules, open);
            std::advance(seed, std::min<std::size_t>(1 + open.size() / kMostSeeds,
                                                     static_cast<std::size_t>(std::distance(seed, open.end()))));
            const std::size_t closed = countClosed(open, combination);
            if (closed > most) {
                most = closed;
                best = std::move(combination);
            }
        }
        takeOff(open, best);
        list.push_back(std::move(best));
    }
    if (count == 1)
        for (const int a : allOf(options, 0))
            if (Combination one{a}; std::find(list.begin(), list.end(), one) == list.end() && isAllowed(options, one))
                list.push_back(one);
    return list;
}

} // namespace

bool isAllowed(const model::Options& options, const Combination& combination) {
    return !breaks(listRules(options), combination);
}

Combination getChosen(const model::Options& options) {
    Combination chosen;
    for (const model::Option& option : options.list) chosen.push_back(option.chosen);
    return chosen;
}

Combinations listCombinations(const model::Options& options, std::size_t most) {
    Combinations found;
    found.count = 1;
    for (const model::Option& option : options.list) found.count *= static_cast<double>(option.alternatives.size());
    const auto rules = listRules(options);
    if (found.count > static_cast<double>(most)) {
        found.all = false;
        found.list = coverPairs(options, rules);
        return found;
    }
    const Combination now = getChosen(options);
    if (isAllowed(options, now)) found.list.push_back(now);
    Combination combination(options.list.size(), 0);
    while (!options.list.empty()) {
        if (combination != now && !breaks(rules, combination)) found.list.push_back(combination);
        std::size_t o = options.list.size();
        while (o > 0 && ++combination[o - 1] == static_cast<int>(options.list[o - 1].alternatives.size()))
            combination[--o] = 0;
        if (o == 0) break;
    }
    return found;
}

model::EditResult takeCombination(const model::Project& project, const Combination& combination) {
    model::EditResult next = project;
    for (std::size_t o = 0; o < combination.size(); ++o) {
        const auto& alternatives = next->options.list.at(o).alternatives;
        next = model::chooseAlternative(*next, at(alternatives, combination[o]).id);
        if (!next) return next;
    }
    return next;
}

std::string describeCombination(const model::Options& options, const Combination& combination) {
    std::string text;
    for (std::size_t o = 0; o < combination.size(); ++o)
        text +=
            (o > 0 ? ", " : "") + options.list[o].name + ": " + at(options.list[o].alternatives, combination[o]).name;
    return text;
}

std::vector<TrayLine> listAlternativeParts(const model::Project& project, model::AlternativeSpot spot) {
    const model::Option& option = at(project.options.list, spot.option);
    const model::Alternative& alternative = at(option.alternatives, spot.alternative);
    std::vector<const model::Part*> parts;
    const auto addSection = [&](const model::Section& section) {
        for (const model::Part& part : section.parts) parts.push_back(&part);
    };
    if (alternative.body) {
        for (const model::WaitingParts& waiting : alternative.body->parts)
            for (const model::Part& part : waiting.parts) parts.push_back(&part);
        for (const auto& section : alternative.body->sections) addSection(*section);
    }
    const std::set<model::PartId> ids(alternative.parts.begin(), alternative.parts.end());
    for (const auto& section : project.sections) {
        const bool whole = std::find(alternative.sections.begin(), alternative.sections.end(), section->id) !=
                           alternative.sections.end();
        if (whole) addSection(*section);
        for (const model::Part& part : section->parts)
            if (!whole && ids.count(part.id) > 0) parts.push_back(&part);
    }
    return countParts(parts);
}

std::vector<TideLine> calcAllAtOnce(const model::Project& project) {
    Tide tide = calcTide(project, model::makeTree(project).value());
    std::map<std::pair<std::string, int>, int> more;
    for (std::size_t o = 0; o < project.options.list.size(); ++o)
        for (std::size_t a = 0; a < project.options.list[o].alternatives.size(); ++a)
            if (static_cast<int>(a) != project.options.list[o].chosen)
                for (const TrayLine& line : listAlternativeParts(project, {static_cast<int>(o), static_cast<int>(a)}))
                    more[{line.shape, line.colour}] += line.count;
    for (TideLine& line : tide.lines)
        if (const auto found = more.find({line.shape, line.colour}); found != more.end()) {
            line.need += found->second;
            more.erase(found);
        }
    for (const auto& [key, count] : more) {
        TideLine line;
        line.shape = key.first;
        line.colour = key.second;
        line.need = count;
        if (project.supplies)
            for (const auto& stock : project.supplies->stocks)
                for (const model::StockLine& held : stock->lines)
                    if (held.isKnown && held.shape == line.shape && held.colour == line.colour &&
                        (held.keptFor.empty() || held.keptFor == project.name))
                        line.have += held.count;
        tide.lines.push_back(std::move(line));
    }
    std::erase_if(tide.lines, [](const TideLine& line) { return line.missing() == 0; });
    return tide.lines;
}

} // namespace ivrant::make
