// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/drive/selector_compare.h"

#include <algorithm>
#include <set>

#include "core/base/at.h"
#include "core/model/board_parts.h"
#include "core/parts/family.h"

namespace ivrant::drive {
namespace {

double massOf(const std::string& shape) {
    const auto made = parts::makeShape(shape);
    return made ? (*made)->massG : 0;
}

} // namespace

std::optional<SelectorComparison> compareSelector(const model::Project& project, const DriveReport& report) {
    SelectorComparison both;
    DriveCount& built = both.asBuilt;
    built.motors = static_cast<int>(report.motors.size());
    int rings = 0; // nothing is left to take along
    for (const auto& board : project.boards)
        for (const auto& [shape, count] : model::countShapes(model::listBoardParts(*board))) {
            built.parts += count;
            built.massG += count * massOf(shape);
            rings += shape == "driving ring" ? count : 0;
        }
    built.positions = static_cast<int>(report.positions.size());
    std::vector<int> motorOf(report.positions.front().functions.size(), -1); // the first that drives it anywhere
    for (const PositionState& position : report.positions) {
        std::set<int> busy;
        for (std::size_t f = 0; f < position.functions.size(); ++f) {
            const FunctionState& state = position.functions[f];
            if (state.motors.empty() || state.loose || state.locked) continue;
            if (motorOf[f] < 0) motorOf[f] = state.motors.front().motor;
            busy.insert(state.motors.front().motor);
        }
        built.together = std::max(built.together, static_cast<int>(busy.size()));
    }
    built.functions =
        static_cast<int>(std::count_if(motorOf.begin(), motorOf.end(), [](int motor) { return motor >= 0; }));
    if (built.functions == 0 || built.functions <= built.motors) return std::nullopt;

    DriveCount& each = both.oneEach;
    each = built;
    each.counted = true;
    each.motors = each.together = built.functions;
    each.positions = 1;
    std::vector<bool> taken(report.motors.size(), false);
    for (const int motor : motorOf) {
        if (motor < 0) continue;
        if (!at(taken, motor)) {
            at(taken, motor) = true;
            continue;
        }
        ++each.parts;
        each.massG += massOf(at(report.motors, motor).motor.line);
    }
    each.parts -= rings;
    each.massG -= rings * massOf("driving ring");
    // Wheels that a selector engages become fixed ones of the same count.
    std::set<std::string> engaged;
    for (const auto& board : project.boards)
        for (const auto& selector : board->selectors)
            for (const auto& position : selector.positions)
                for (const auto& id : position.engaged) engaged.insert(id.text);
    for (const std::string& id : engaged)
        if (const int g = report.net.findRing(id); g >= 0) {
            const std::string teeth = std::to_string(at(report.net.rings, g).teeth);
            each.massG += massOf("spur gear " + teeth) - massOf("clutch gear " + teeth);
        }
    return both;
}

} // namespace ivrant::drive
