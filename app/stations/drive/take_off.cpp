// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/drive/take_off.h"

#include <algorithm>
#include <set>

#include "core/drive/drive_net.h"

namespace ivrant::app {

std::vector<Removable> listRemovable(const model::Board& board, const std::vector<std::string>& chosen) {
    std::set<std::string> on(chosen.begin(), chosen.end()); // chosen shafts, then the wheels on them
    const bool all = on.empty();
    std::vector<Removable> list;
    const auto has = [&](const auto& id) { return all || on.count(id.text) > 0; };
    const auto add = [&](const std::string& id, const std::string& what, const std::string& name) {
        list.push_back({id, QString::fromStdString(what + (name.empty() ? "" : " " + name))});
    };
    for (const model::Gear& gear : board.gears)
        if (has(gear.shaft) || has(gear.other) || has(gear.id)) {
            on.insert(gear.id.text);
            add(gear.id.text, drive::describeWheel(gear.kind, gear.teeth, gear.loose), "");
        }
    for (const model::DriveMotor& motor : board.motors)
        if (has(motor.shaft)) add(motor.id.text, "motor", motor.name + " (" + motor.line + ")");
    for (const model::DriveFunction& function : board.functions)
        if (has(function.shaft) || has(function.gear)) add(function.id.text, "function", function.name);
    for (const model::Loop& loop : board.loops)
        if (all || std::any_of(loop.gears.begin(), loop.gears.end(), has))
            add(loop.id.text, loop.belt ? "belt" : "chain", "");
    for (const model::Coupling& coupling : board.couplings)
        if (has(coupling.a) || has(coupling.b))
            add(coupling.id.text, coupling.universal ? "universal joint" : "connector", "");
    for (const model::Strand& strand : board.strands)
        if (has(strand.over)) add(strand.id.text, "", strand.name);
    if (all)
        for (const model::Selector& selector : board.selectors) add(selector.id.text, "selector", selector.name);
    return list;
}

} // namespace ivrant::app
