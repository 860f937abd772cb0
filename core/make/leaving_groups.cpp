// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/make/leaving_groups.h"

#include <algorithm>
#include <map>
#include <set>

#include "core/base/at.h"

namespace ivrant::make {
namespace {

/// Strong components from which no edge leads to another (Tarjan 1972, without recursion).
std::vector<std::vector<int>> listSinks(const std::vector<std::vector<int>>& next) {
    const std::size_t n = next.size();
    std::vector<int> number(n, -1), low(n, 0), component(n, -1), stack;
    std::vector<std::vector<int>> components;
    struct Visit {
        int node;
        std::size_t child;
    };
    int counter = 0;
    for (std::size_t root = 0; root < n; ++root) {
        if (number[root] >= 0) continue;
        std::vector<Visit> visits{{static_cast<int>(root), 0}};
        number[root] = low[root] = counter++;
        stack.push_back(static_cast<int>(root));
        while (!visits.empty()) {
            const int v = visits.back().node;
            const auto& out = at(next, v);
            if (visits.back().child < out.size()) {
                const int to = out[visits.back().child++];
                if (at(number, to) < 0) {
                    at(number, to) = at(low, to) = counter++;
                    stack.push_back(to);
                    visits.push_back({to, 0});
                } else if (at(component, to) < 0) {
                    at(low, v) = std::min(at(low, v), at(number, to));
                }
                continue;
            }
            visits.pop_back();
            if (!visits.empty()) {
                int& up = at(low, visits.back().node);
                up = std::min(up, at(low, v));
            }
            if (at(low, v) != at(number, v)) continue;
            components.emplace_back();
            while (true) {
                const int member = stack.back();
                stack.pop_back();
                at(component, member) = static_cast<int>(components.size()) - 1;
                components.back().push_back(member);
                if (member == v) break;
            }
        }
    }
    std::vector<std::vector<int>> sinks;
    for (std::size_t c = 0; c < components.size(); ++c) {
        const bool leads = std::any_of(components[c].begin(), components[c].end(), [&](int v) {
            return std::any_of(at(next, v).begin(), at(next, v).end(),
                               [&](int to) { return at(component, to) != static_cast<int>(c); });
        });
        if (!leads) sinks.push_back(std::move(components[c]));
    }
    return sinks;
}

} // namespace

std::vector<LeavingGroup> listLeavingGroups(const Scene& scene, const std::vector<int>& of) {
    std::map<int, int> number;
    for (std::size_t i = 0; i < of.size(); ++i) number[of[i]] = static_cast<int>(i);
    std::vector<LeavingGroup> groups;
    for (const int k : {2, 0, 1})
        for (const int sign : {1, -1}) {
            const Way way{sign * Vec3::Unit(k), Vec3::Zero()};
            std::vector<std::vector<int>> blockers(of.size());
            std::vector<std::vector<int>> others(of.size());
            for (std::size_t i = 0; i < of.size(); ++i)
                for (const int q : scene.listBlockers(of[i], way)) {
                    const auto found = number.find(q);
                    if (found == number.end())
                        others[i].push_back(q);
                    else
                        blockers[i].push_back(found->second);
                }
            for (const auto& sink : listSinks(blockers)) {
                LeavingGroup group;
                group.way = way;
                std::set<int> outside;
                for (const int i : sink) {
                    group.bodies.push_back(at(of, i));
                    if (!at(others, i).empty()) group.blocked.push_back(at(of, i));
                    outside.insert(at(others, i).begin(), at(others, i).end());
                }
                std::sort(group.bodies.begin(), group.bodies.end());
                std::sort(group.blocked.begin(), group.blocked.end());
                group.blockers.assign(outside.begin(), outside.end());
                groups.push_back(std::move(group));
            }
        }
    return groups;
}

} // namespace ivrant::make
