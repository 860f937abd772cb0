// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/drive_text.h"

#include <algorithm>

#include "cli/tables.h"
#include "core/base/at.h"
#include "core/base/units.h"
#include "core/drive/strand_turn.h"

namespace ivrant::cli {
namespace {

using base::formatNumber;
using Rows = std::vector<std::vector<std::string>>;

std::string join(const std::vector<std::string>& list, const std::string& between = ", ") {
    std::string text;
    for (const std::string& one : list) text += (text.empty() ? "" : between) + one;
    return text.empty() ? "-" : text;
}

class DriveText {
public:
    DriveText(const verdict::Report& report, const std::optional<model::BoardId>& board)
        : m_report(report), m_drive(*report.drive), m_board(board) {}

    std::string run() {
        addTurning();
        addTouching();
        addCarried();
        addMotors();
        for (const drive::PositionState* position : m_drive.listStates()) addPosition(*position);
        if (m_drive.leftOut > 0)
            m_text += "\n" + std::to_string(m_drive.leftOut) + " more combinations of the selectors are not shown\n";
        for (const std::string& note : m_drive.net.notes) m_text += "\nNot counted: " + note + "\n";
        m_text += "\nEfficiencies, motors and battery: starting values unless measured\n";
        return std::move(m_text);
    }

private:
    [[nodiscard]] bool isShown(int board) const {
        return !m_board || (board >= 0 && at(m_report.project->boards, board)->id == *m_board);
    }
    [[nodiscard]] const std::string& nameOf(int rotor) const { return at(m_drive.net.rotors, rotor).name; }
    void table(const std::string& title, const Rows& rows) {
        if (rows.size() < 2) return; // the head alone
        m_text += "\n" + title + "\n" + formatTable(rows);
    }

    void addTurning() {
        const int freedom = m_drive.motion.freedom();
        m_text += "Freedom " + std::to_string(freedom);
        std::vector<std::string> loose;
        for (int t : m_drive.motion.listLoose(m_drive.drivers)) loose.push_back(nameOf(t));
        m_text += loose.empty() ? "\n" : "; loose: " + join(loose) + "\n";
        Rows rows{{"What turns", "Kind", "How"}};
        for (std::size_t t = 0; t < m_drive.net.rotors.size(); ++t) {
            const drive::Rotor& rotor = m_drive.net.rotors[t];
            if (!isShown(rotor.board)) continue;
            std::vector<std::string> how;
            for (const auto& [independent, factor] : m_drive.motion.motions[t])
                how.push_back(independent == static_cast<int>(t)
                                  ? "by itself"
                                  : drive::formatRatio(factor) + " of " + nameOf(independent));
            static constexpr const char* kKinds[] = {"shaft", "wheel", "rack", "rod"};
            rows.push_back({rotor.name, kKinds[static_cast<int>(rotor.kind)],
                            (how.empty() ? "stands" : join(how, " and ")) +
                                (rotor.carrier >= 0 ? ", told on " + nameOf(rotor.carrier) : "")});
        }
        table("Speeds", rows);
    }
    void addTouching() {
        Rows meshes{{"What joins", "Off, mm"}};
        for (const auto& relation : m_drive.net.relations)
            meshes.push_back({relation.text, relation.errorMm == 0 ? "0" : formatNumber(relation.errorMm, 2)});
        table("Meshes and links", meshes);
        Rows faults{{"What does not mesh as it should", "How", "Off, mm"}};
        for (const auto& fault : m_drive.net.faults)
            faults.push_back({m_drive.net.nameOf(at(m_drive.net.rings, fault.gearA)) + " and " +
                                  m_drive.net.nameOf(at(m_drive.net.rings, fault.gearB)),
                              drive::getFitName(fault.fit), formatNumber(fault.errorMm, 2)});
        for (const auto& clash : m_drive.net.clashes)
            faults.push_back({clash.text, "in the way", formatNumber(clash.depthMm, 2)});
        table("Faults", faults);
    }
    void addCarried() {
        Rows rows{{"Shaft", "Carried at, mm from its start", "By parts"}};
        for (const auto& support : m_drive.net.supports) {
            const int rotor = m_drive.net.findRotor(support.shaft);
            if (!isShown(at(m_drive.net.rotors, rotor).board)) continue;
            std::vector<std::string> holes;
            for (const double hole : support.holesMm) holes.push_back(formatNumber(hole, 1));
            rows.push_back({nameOf(rotor), join(holes), std::to_string(support.bricks)});
        }
        table("Bearings", rows);
        Rows strands{{"String or wire", "Turns, °"}};
        for (const auto& board : m_report.project->boards)
            for (const model::Strand& strand : board->strands)
                strands.push_back({strand.name.empty() ? strand.id.text : strand.name,
                                   formatNumber(drive::calcStrandTurnDeg(strand), 0)});
        table("Strings and wires over what turns", strands);
    }
    void addMotors() {
        Rows rows{{"Motor", "Kind", "Turns", "Values"}};
        for (const auto& motor : m_drive.motors)
            rows.push_back({motor.motor.name, motor.motor.line, nameOf(motor.rotor),
                            !motor.line            ? "not known"
                            : motor.line->measured ? "measured"
                                                   : "starting values"});
        table("Motors, on " + formatNumber(m_drive.battery.voltage, 1) + " V and " +
                  formatNumber(m_drive.battery.innerOhm, 1) + " Ω" +
                  (m_drive.battery.measured ? "" : " (starting values)"),
              rows);
    }

    void addPosition(const drive::PositionState& position) {
        std::string title = "Functions";
        for (const auto& [selector, name] : position.setting)
            title.append(title.size() > 9 ? ", " : " with ").append(selector).append(" at ").append(name);
        if (position.present && !position.setting.empty()) title += " (now)";
        Rows rows{{"Function", "Moved by", "Ratio", "Speed", "Asks, N·mm", "Of stall", "Margin", "Travel, s", "Play",
                   "Without power"}};
        for (const auto& function : position.functions)
            if (isShown(function.board)) rows.push_back(functionRow(function));
        table(title, rows);
        for (const std::string& sentence : position.lock) m_text += "  locked: " + sentence + "\n";
        for (const std::string& sentence : position.stuck) m_text += "  stuck: " + sentence + "\n";
        const auto motors = [&](const std::vector<int>& list, const std::string& what) {
            for (const int m : list) m_text += "  " + at(m_drive.motors, m).motor.name + what + "\n";
        };
        motors(position.fighting, " works against other motors");
        motors(position.dragged, " is dragged along by another motor");
        for (const int rotor : position.alike) m_text += "  " + nameOf(rotor) + " shares evenly: it asks as much\n";
        for (const auto& function : position.functions)
            for (const auto& share : function.creep)
                m_text += "  " + function.function->name + " creeps " + drive::formatRatio(share.ratio) + " of " +
                          at(m_drive.motors, share.motor).motor.name + ", which turns what it stands on\n";
    }
    [[nodiscard]] std::vector<std::string> functionRow(const drive::FunctionState& function) const {
        std::vector<std::string> motors, asks, stalls;
        for (const auto& share : function.motors) {
            motors.push_back(at(m_drive.motors, share.motor).motor.name);
            asks.push_back(share.known ? formatNumber(share.point.torqueNmm, 1) : "?");
            stalls.push_back(share.known ? formatNumber(share.point.stallNmm, 1) : "?");
        }
        const bool moved = !motors.empty();
        const std::string still = function.locked  ? "locked"
                                  : function.stuck ? "held by a thread"
                                  : function.loose ? "loose"
                                                   : "nothing";
        return {function.function->name,
                moved ? join(motors, " + ") : still,
                moved ? drive::formatRatio(function.motors.front().ratio) : "-",
                moved ? formatNumber(function.speed, 1) + (function.straight ? " mm/s" : " rpm") : "-",
                join(asks, " + "),
                join(stalls, " + "),
                function.margin ? base::formatMargin(*function.margin) : "-",
                function.travelS ? formatNumber(*function.travelS, 1) : "-",
                formatNumber(function.playDeg, 1) + (function.straight ? " mm" : "°"),
                drive::getRestName(function)};
    }

    const verdict::Report& m_report;
    const drive::DriveReport& m_drive;
    const std::optional<model::BoardId>& m_board;
    std::string m_text;
};

std::string describe(const drive::Stage& stage) {
    return (stage.worm ? "worm" : std::to_string(stage.driver)) + " on " + std::to_string(stage.driven);
}
std::string describePlace(const drive::Stage& stage) {
    const double x = base::umToMm(stage.offset.dxUm), y = base::umToMm(stage.offset.dyUm);
    return formatNumber(x, 1) + ", " + formatNumber(y, 1) + " mm" +
           (stage.offset.errorMm == 0 ? "" : " (off by " + formatNumber(stage.offset.errorMm, 2) + ")");
}

} // namespace

std::string formatDrive(const verdict::Report& report, const std::optional<model::BoardId>& board) {
    return DriveText(report, board).run();
}

std::string formatRatios(const drive::RatioWish& wish, const drive::RatioResult& result) {
    const bool found = !result.groups.empty();
    std::string text;
    if (!found)
        text = result.nearest.trains.empty()
                   ? "Nothing can be built of these wheels\n"
                   : "Nothing within " + formatNumber(wish.tolerance * 100, 1) + " %; the nearest there is:\n";
    Rows rows{{"Ratio", "Off, %", "Ways", "Long, mm", "Train, first stage first", "From shaft to shaft"}};
    const auto add = [&](const drive::RatioGroup& group) {
        bool first = true;
        for (const auto& train : group.trains) {
            std::vector<std::string> stages, places;
            for (const auto& stage : train.stages) {
                stages.push_back(describe(stage));
                places.push_back(describePlace(stage));
            }
            rows.push_back({first ? drive::formatRatio(group.ratio) : "",
                            first ? formatNumber(group.error * 100, 2) : "", first ? std::to_string(group.count) : "",
                            formatNumber(train.lengthMm, 1), join(stages), join(places, "; ")});
            first = false;
        }
    };
    for (const auto& group : result.groups) add(group);
    if (!found && !result.nearest.trains.empty()) add(result.nearest);
    return text + (rows.size() > 1 ? formatTable(rows) : "");
}

} // namespace ivrant::cli
