// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/files/sheet_trials.h"

#include <algorithm>
#include <cmath>
#include <deque>
#include <map>
#include <set>

#include "core/base/at.h"
#include "core/base/units.h"

namespace ivrant::files {
namespace {

class Trials {
public:
    Trials(const verdict::Report& report, std::vector<SheetStep>& steps)
        : m_project(*report.project), m_drive(*report.drive), m_steps(steps) {
        for (std::size_t i = 0; i < steps.size(); ++i) {
            const make::Step& step = steps[i].step;
            if (steps[i].joins)
                m_joinedAt[at(m_project.joints, step.joint).id.text] = i;
            else if (step.section >= 0)
                for (const int p : step.added)
                    m_addedAt[at(at(m_project.sections, step.section)->parts, p).id.text] = i;
        }
        m_relationsOf.resize(m_drive.net.rotors.size());
        for (std::size_t r = 0; r < m_drive.net.train.relations.size(); ++r)
            for (const drive::Term& term : m_drive.net.train.relations[r].terms)
                if (term.thing >= 0 && static_cast<std::size_t>(term.thing) < m_relationsOf.size())
                    at(m_relationsOf, term.thing).push_back(r);
    }

    void run() {
        std::set<std::string> told;
        for (const auto& position : m_drive.positions)
            for (const drive::FunctionState& state : position.functions) {
                if (state.motors.empty() || state.locked || state.stuck || told.count(state.function->id.text) > 0)
                    continue;
                if (addOne(state, position)) told.insert(state.function->id.text);
            }
    }

private:
    bool addOne(const drive::FunctionState& state, const drive::PositionState& position) {
        const drive::MotorShare& share = state.motors.front();
        const drive::MotorState& motor = at(m_drive.motors, share.motor);
        const double turns = share.ratio.get_d();
        if (turns == 0) return false;
        std::optional<std::size_t> last;
        const auto look = [&](const std::map<std::string, std::size_t>& steps, const std::string& id) {
            if (const auto found = steps.find(id); found != steps.end())
                last = std::max(last.value_or(found->second), found->second);
        };
        for (const int rotor : findWay(motor.rotor, state.rotor))
            for (const std::string& part : at(m_drive.net.rotors, rotor).parts) look(m_addedAt, part);
        look(m_joinedAt, state.joint.text);
        if (!last) return false; // all of it on a board of older files
        // Every motor shaft turns by hand as far as it takes to see something.
        const double seen =
            state.straight ? std::abs(turns * state.mmPerUnit) / kSeenMm : std::abs(turns) * 360 / kSeenDeg;
        const double by = seen >= 1 ? 1 : std::ceil(1 / seen);
        const double moved = std::abs(turns) * by * (state.straight ? state.mmPerUnit : 360);
        std::string note = "Trial: turn the shaft of " + motor.motor.name +
                           (by > 1 ? " " + base::formatNumber(by, 0) + " times" : " once");
        if (!position.selector.empty()) note += " with " + position.selector + " at " + position.name;
        note += ": " + state.function->name + " moves by " + base::formatNumber(moved, moved < 10 ? 1 : 0) +
                (state.straight ? " mm." : "°.");
        at(m_steps, *last).notes.push_back(std::move(note));
        return true;
    }

    /// Rotors between the two, both among them, over the fewest meshes; both alone when the train does not say how.
    [[nodiscard]] std::vector<int> findWay(int from, int to) const {
        std::map<int, int> cameFrom{{from, -1}};
        std::deque<int> open{from};
        while (!open.empty() && cameFrom.count(to) == 0) {
            const int rotor = open.front();
            open.pop_front();
            for (const std::size_t r : at(m_relationsOf, rotor))
                for (const drive::Term& term : m_drive.net.train.relations[r].terms)
                    if (term.thing >= 0 && static_cast<std::size_t>(term.thing) < m_relationsOf.size() &&
                        cameFrom.try_emplace(term.thing, rotor).second)
                        open.push_back(term.thing);
        }
        if (cameFrom.count(to) == 0) return {from, to};
        std::vector<int> way;
        for (int rotor = to; rotor >= 0; rotor = cameFrom.at(rotor)) way.push_back(rotor);
        return way;
    }

    static constexpr double kSeenDeg = 20, kSeenMm = 4; ///< less is hardly seen

    const model::Project& m_project;
    const drive::DriveReport& m_drive;
    std::vector<SheetStep>& m_steps;
    std::map<std::string, std::size_t> m_addedAt, m_joinedAt; ///< by part, by joint: index of the step
    std::vector<std::vector<std::size_t>> m_relationsOf;      ///< by rotor
};

} // namespace

void addTrials(const verdict::Report& report, std::vector<SheetStep>& steps) {
    if (report.drive && !report.drive->positions.empty()) Trials(report, steps).run();
}

} // namespace ivrant::files
