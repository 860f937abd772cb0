// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/files/sheet_drive.h"

#include <algorithm>
#include <map>
#include <set>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/drive/board_view.h"
#include "core/model/board_parts.h"
#include "core/parts/family.h"

namespace ivrant::files {
namespace {

using base::formatNumber;
using base::kPitchMm;
using base::umToMm;
using model::BoardAxis;
using model::GearKind;

constexpr double kWearingMargin = 2; ///< teeth and axles below it are worth a spare

std::string pitches(double mm) { return formatNumber(mm / kPitchMm, 2); }

class DriveSheet {
public:
    explicit DriveSheet(const verdict::Report& report)
        : m_report(report), m_project(*report.project), m_drive(*report.drive),
          m_boardFrames(model::calcBoardFrames(report.present.placed)) {}

    SheetDrive run() {
        for (std::size_t b = 0; b < m_project.boards.size(); ++b) addBoard(static_cast<int>(b));
        for (const auto& position : m_drive.positions) addFunctions(position);
        for (std::size_t m = 0; m < m_drive.motors.size(); ++m) addWire(m);
        addReach();
        addSpares();
        addCautions();
        return std::move(m_sheet);
    }

private:
    [[nodiscard]] std::string placeText(const model::Board& board) const {
        const int section = board.section.empty() ? -1 : m_project.findSection(board.section);
        std::string text = section < 0 ? "stands by itself" : "in " + ivrant::at(m_project.sections, section)->name;
        const geometry::Vec3 at = board.place.frame().translation();
        text += section < 0 ? ""
                            : ", its hole 0, 0 at " + pitches(at.x()) + ", " + pitches(at.y()) + ", " +
                                  pitches(at.z()) + " pitches of the section";
        if (!board.carrier.empty()) text += "; turns with " + board.carrier.text;
        return text;
    }
    void addBoard(int index) {
        const model::Board& own = *ivrant::at(m_project.boards, index);
        SheetBoard sheet{index, own.name, placeText(own), {}, {}};
        std::map<std::string, std::string> partOf;
        for (const auto& part : model::listBoardParts(own).parts)
            partOf.emplace(part.id, parts::getListName(*part.shape));
        // Shafts and wheels that are parts of its section are told as they are seen on it.
        const model::Board board =
            drive::makeSeenBoard(m_project, index, m_drive.net, ivrant::at(m_boardFrames, index));
        if (const int section = own.section.empty() ? -1 : m_project.findSection(own.section); section >= 0)
            for (const model::Part& part : ivrant::at(m_project.sections, section)->parts)
                if (!part.shape->rings.empty() || m_drive.net.findRotor(part.id.text) >= 0)
                    partOf.emplace(part.id.text, parts::getListName(*part.shape));
        for (const model::Shaft& shaft : board.shafts) {
            static constexpr const char* kWays[] = {"to the right", "upwards", "out"};
            std::string text = partOf.count(shaft.id.text)
                                   ? partOf[shaft.id.text]
                                   : "a shaft " + formatNumber(umToMm(shaft.lengthUm), 0) + " mm long";
            text += " from hole " + holeText(shaft, 0) + ", layer " + layerText(shaft, 0) + ", " +
                    kWays[static_cast<int>(shaft.axis)];
            if (shaft.held) text += "; fixed";
            sheet.shafts.emplace_back(nameOf(shaft), text);
        }
        for (const model::Gear& gear : board.gears) addWheel(board, gear, partOf, sheet);
        m_sheet.boards.push_back(std::move(sheet));
    }
    [[nodiscard]] static std::string nameOf(const model::Shaft& shaft) {
        return shaft.name.empty() ? shaft.id.text : shaft.name;
    }
    [[nodiscard]] static std::string holeText(const model::Shaft& shaft, std::int64_t alongUm) {
        std::array<std::int64_t, 3> at = shaft.atUm;
        ivrant::at(at, shaft.axis) += alongUm;
        return pitches(umToMm(at[0])) + ", " + pitches(umToMm(at[1]));
    }
    [[nodiscard]] static std::string layerText(const model::Shaft& shaft, std::int64_t alongUm) {
        return pitches(umToMm(shaft.atUm[2] + (shaft.axis == BoardAxis::Out ? alongUm : 0)));
    }
    void addWheel(const model::Board& board, const model::Gear& gear, std::map<std::string, std::string>& partOf,
                  SheetBoard& sheet) const {
        SheetWheel wheel;
        wheel.wheel = partOf.count(gear.id.text)
                          ? partOf[gear.id.text]
                          : std::string(model::getGearKindName(gear.kind)) + " " + std::to_string(gear.teeth);
        if (gear.loose) wheel.wheel += " (loose)";
        if (gear.kind == GearKind::Rack) {
            wheel.hole = pitches(umToMm(gear.atUm[0])) + ", " + pitches(umToMm(gear.atUm[1]));
            wheel.layer = pitches(umToMm(gear.atUm[2]));
        }
        for (const model::Shaft& shaft : board.shafts)
            if (shaft.id == gear.shaft) {
                wheel.shaft = nameOf(shaft);
                wheel.hole = holeText(shaft, gear.alongUm);
                wheel.layer = layerText(shaft, gear.alongUm);
            }
        for (const auto& relation : m_drive.net.relations) {
            const bool mesh = relation.kind == drive::RelationKind::Mesh ||
                              relation.kind == drive::RelationKind::Worm ||
                              relation.kind == drive::RelationKind::RackMesh;
            if (!mesh || std::find(relation.ids.begin(), relation.ids.end(), gear.id.text) == relation.ids.end())
                continue;
            for (const std::string& id : relation.ids)
                if (const int other = id == gear.id.text ? -1 : m_drive.net.findRing(id); other >= 0)
                    wheel.meshes += (wheel.meshes.empty() ? "" : "; ") + describe(other);
        }
        sheet.wheels.push_back(std::move(wheel));
    }
    [[nodiscard]] std::string describe(int gear) const {
        return m_drive.net.nameOf(ivrant::at(m_drive.net.rings, gear));
    }

    void addFunctions(const drive::PositionState& position) {
        for (const drive::FunctionState& state : position.functions) {
            if (state.motors.empty() || state.loose) continue;
            const auto& share = state.motors.front();
            SheetFunction row;
            row.function = state.function->name;
            row.position = countSelectors() > 1 ? position.selector + ": " + position.name : position.name;
            for (const auto& each : state.motors)
                row.motor += (row.motor.empty() ? "" : " and ") + ivrant::at(m_drive.motors, each.motor).motor.name;
            row.ratio = drive::formatRatio(share.ratio);
            const std::string unit = state.straight ? " mm" : "°";
            if (share.known) row.speed = formatNumber(state.speed, 1) + (state.straight ? " mm/s" : " rpm");
            if (state.function->travel != 0) row.travel = formatNumber(state.function->travel, 0) + unit;
            if (state.travelS) row.travel += " in " + formatNumber(*state.travelS, 1) + " s";
            if (state.hardest.nmm > 0)
                row.asks = formatNumber(state.hardest.nmm, 0) + (state.straight ? " N" : " N·mm") + " at " +
                           formatNumber(state.hardest.at, 0) + unit;
            if (state.margin) row.margin = base::formatMargin(*state.margin);
            row.holds = state.holds ? "stays without power" : "runs back without power";
            m_sheet.functions.push_back(std::move(row));
        }
    }

    [[nodiscard]] std::size_t countSelectors() const {
        std::size_t count = 0;
        for (const auto& board : m_project.boards) count += board->selectors.size();
        return count;
    }
    /// Ports of the battery box are lettered in the order of the motors.
    [[nodiscard]] std::string sectionOf(const std::string& part) const {
        for (const auto& section : m_project.sections)
            for (const model::Part& candidate : section->parts)
                if (candidate.id.text == part) return section->name;
        return "";
    }
    void addWire(std::size_t m) {
        const auto& motor = m_drive.motors[m];
        SheetWire wire{motor.motor.name, motor.motor.line, "", "", ""};
        wire.port = motor.line && motor.line->byHand
                        ? "by hand"
                        : std::string(1, static_cast<char>('A' + static_cast<int>(m % 26)));
        const int board = ivrant::at(m_drive.net.rotors, motor.rotor).board;
        wire.board = board < 0 ? sectionOf(motor.motor.id.text) : ivrant::at(m_project.boards, board)->name;
        for (const auto& position : m_drive.positions)
            for (const auto& state : position.functions)
                for (const auto& share : state.motors)
                    if (share.motor == static_cast<int>(m) && !state.loose)
                        wire.moves += (wire.moves.empty() ? "" : "; ") + state.function->name +
                                      (position.name.empty() ? "" : " (" + position.name + ")");
        if (wire.moves.empty()) wire.moves = "nothing yet";
        m_sheet.wires.push_back(std::move(wire));
    }

    [[nodiscard]] bool hasPower() const {
        return std::any_of(m_drive.motors.begin(), m_drive.motors.end(),
                           [](const auto& motor) { return !motor.line || !motor.line->byHand; });
    }

    void addReach() {
        if (hasPower()) {
            bool found = false;
            for (std::size_t s = 0; s < m_project.sections.size(); ++s)
                for (const model::Part& part : m_project.sections[s]->parts) {
                    if (part.shape->name.rfind("battery box", 0) != 0) continue;
                    found = true;
                    m_sheet.reach.push_back("Battery box and switch: in " + m_project.sections[s]->name + ", " +
                                            sideText(part) + ". Leave room to open it and to press the switch.");
                }
            if (!found)
                m_sheet.reach.push_back(
                    "No battery box has been placed yet: it belongs where it can be opened and switched off at once.");
        }
        for (const auto& board : m_project.boards)
            for (const model::Selector& selector : board->selectors) {
                std::string positions;
                for (const auto& position : selector.positions)
                    positions += (positions.empty() ? "" : ", ") + position.name;
                m_sheet.reach.push_back(selector.name + " (" + positions + "): at " + board->name +
                                        ". Fingers must get at it while the gears stand still.");
            }
    }
    /// The side of the model that a part is nearest to, and how far in, as the figure stands.
    [[nodiscard]] std::string sideText(const model::Part& part) const {
        const auto& placed = m_report.present.placed;
        geometry::Bounds all, own;
        model::forPlacedShapes(placed, [&](const model::PlacedShape& each) {
            for (const auto& solid : each.shape.solids) {
                const auto box = geometry::calcBounds(solid.solid, each.X_WP);
                all.include(box);
                if (each.id == part.id.text) own.include(box);
            }
        });
        const std::pair<const char*, double> sides[] = {
            {"left", own.low.x() - all.low.x()},  {"right", all.high.x() - own.high.x()},
            {"front", own.low.y() - all.low.y()}, {"back", all.high.y() - own.high.y()},
            {"top", all.high.z() - own.high.z()}, {"underside", own.low.z() - all.low.z()}};
        const auto* nearest = std::min_element(std::begin(sides), std::end(sides),
                                               [](const auto& a, const auto& b) { return a.second < b.second; });
        return formatNumber(nearest->second, 0) + " mm in from the " + nearest->first;
    }

    void addSpares() {
        std::map<std::string, std::string> why; // part → reason, the first counts
        for (const auto& board : m_project.boards) {
            for (const model::Gear& gear : board->gears) {
                if (gear.kind == GearKind::Worm) why.emplace("worm gear", "rubs all the time it turns");
                if (gear.loose)
                    why.emplace("clutch gear " + std::to_string(gear.teeth),
                                "its clutch teeth round off with every change of the selector");
            }
            for (const model::Loop& loop : board->loops)
                why.emplace(loop.belt ? "belt" : "chain link",
                            loop.belt ? "belts stretch and age" : "a link opens under a jerk");
        }
        for (const auto& position : m_drive.positions)
            for (const auto& state : position.functions) {
                if (state.mostToothN * kWearingMargin > drive::kToothForceN)
                    why.emplace("the wheels of " + state.function->name,
                                "teeth under " + formatNumber(state.mostToothN, 1) + " N: " + state.mostToothAt);
                if (state.mostTwistNmm * kWearingMargin > drive::kAxleTwistNmm)
                    why.emplace("the axle " + state.mostTwistAt,
                                "carries " + formatNumber(state.mostTwistNmm, 0) + " N·mm in " + state.function->name);
            }
        m_sheet.spares.assign(why.begin(), why.end());
    }

    void addCautions() {
        if (hasPower())
            m_sheet.cautions.emplace_back("Cells: only the right charger, never a damaged or swollen pack, never "
                                          "charging unattended; take them out when the model is "
                                          "packed. Mains chargers: local rules and a qualified person decide.");
        m_sheet.cautions.emplace_back("Driven gears and chains pinch: keep fingers, hair and cords away while they can "
                                      "turn, and switch off before reaching in.");
        for (const auto& motor : m_drive.motors)
            for (const auto& position : m_drive.positions)
                for (const auto& state : position.functions)
                    for (const auto& share : state.motors)
                        if (share.motor == static_cast<int>(&motor - m_drive.motors.data()) && share.known &&
                            share.point.hot && m_hot.insert(share.motor).second)
                            m_sheet.cautions.push_back(motor.motor.name + " works above half of its stall torque in " +
                                                       state.function->name +
                                                       ": it gets hot, let it rest between runs.");
    }

    const verdict::Report& m_report;
    const model::Project& m_project;
    const drive::DriveReport& m_drive;
    std::vector<geometry::Frame> m_boardFrames;
    SheetDrive m_sheet;
    std::set<int> m_hot;
};

} // namespace

SheetDrive makeSheetDrive(const verdict::Report& report) {
    if (!report.drive) return {};
    return DriveSheet(report).run();
}

} // namespace ivrant::files
