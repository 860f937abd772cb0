// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/model/board_parts.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <set>
#include <stdexcept>

#include "core/base/at.h"
#include "core/base/memo.h"
#include "core/base/units.h"
#include "core/model/wheel_size.h"
#include "core/parts/family.h"

namespace ivrant::model {
namespace {

using base::umToMm;
using geometry::Vec3;

constexpr int kLongestAxle = 16, kShortestAxle = 2;

/// Those that a driving ring takes along come in three sizes.
std::string getLooseName(int teeth) { return teeth == 16 || teeth == 20 || teeth == 24 ? "clutch gear" : "idler gear"; }

/// Frame with x along a direction of the board.
geometry::Frame alongAxis(BoardAxis axis, const Vec3& at) {
    geometry::Mat3 r = geometry::Mat3::Identity();
    if (axis == BoardAxis::Up) r = Eigen::AngleAxisd(base::kPi / 2, Vec3::UnitZ()).toRotationMatrix();
    if (axis == BoardAxis::Out) r = Eigen::AngleAxisd(-base::kPi / 2, Vec3::UnitY()).toRotationMatrix();
    return geometry::makeFrame(r, at);
}
Vec3 toMm(const std::array<std::int64_t, 3>& um) { return {umToMm(um[0]), umToMm(um[1]), umToMm(um[2])}; }

class Lister {
public:
    explicit Lister(const Board& board) : m_board(board) {}

    BoardParts run() {
        for (const Shaft& shaft : m_board.shafts) {
            const int pitches =
                std::max(kShortestAxle, static_cast<int>(std::ceil(umToMm(shaft.lengthUm) / base::kPitchMm - 1e-9)));
            add(pitches <= kLongestAxle ? "axle " + std::to_string(pitches) : "",
                alongAxis(shaft.axis, toMm(shaft.atUm)), shaft.id.text);
        }
        for (const Gear& gear : m_board.gears) {
            if (gear.kind == GearKind::Rack) {
                add(getWheelShape(gear), geometry::makeFrame(geometry::Mat3::Identity(), toMm(gear.atUm)),
                    gear.id.text);
            } else if (const Shaft* shaft = find(gear.shaft)) {
                Vec3 at = toMm(shaft->atUm);
                at[static_cast<int>(shaft->axis)] += umToMm(gear.alongUm);
                if (gear.kind == GearKind::Turntable)
                    addTurntable(gear, alongAxis(shaft->axis, at));
                else
                    add(getWheelShape(gear), alongAxis(shaft->axis, at), gear.id.text);
            }
        }
        for (const DriveMotor& motor : m_board.motors)
            if (const Shaft* shaft = find(motor.shaft)) addMotor(motor, *shaft);
        for (const Loop& loop : m_board.loops) addLoop(loop);
        for (const Coupling& coupling : m_board.couplings) addCoupling(coupling);
        addRings();
        return std::move(m_result);
    }

private:
    [[nodiscard]] std::optional<Vec3> findCentre(const GearId& id) const {
        for (const Gear& gear : m_board.gears)
            if (gear.id == id)
                if (const Shaft* shaft = find(gear.shaft)) {
                    Vec3 at = toMm(shaft->atUm);
                    at[static_cast<int>(shaft->axis)] += umToMm(gear.alongUm);
                    return at;
                }
        return std::nullopt;
    }
    void addExtra(const std::string& name, int count, const Vec3& at) {
        if (const auto shape = parts::makeShape(name); shape && count > 0)
            m_result.extras.push_back({*shape, count, at});
    }
    /// Round two sprockets; what does not close is a verdict of its own.
    void addLoop(const Loop& loop) {
        if (loop.belt) return addBelt(loop);
        if (loop.gears.size() != 2) return addExtra("chain link", loop.links, Vec3::Zero());
        const auto a = findCentre(loop.gears[0]), b = findCentre(loop.gears[1]);
        if (!a || !b) return; // one of them lies on another board
        const auto teeth = [&](const GearId& id) {
            return std::find_if(m_board.gears.begin(), m_board.gears.end(),
                                [&](const Gear& gear) { return gear.id == id; })
                ->teeth;
        };
        const auto fit = calcChain(teeth(loop.gears[0]), teeth(loop.gears[1]), (*a - *b).norm(), loop.links);
        if (fit) addExtra("chain link", fit->links, (*a + *b) / 2);
    }
    /// Round any number of pulleys as they follow each other; the length is that of the straight pieces and half a turn
    /// at each end.
    void addBelt(const Loop& loop) {
        if (loop.gears.size() != 2) return;
        const auto a = findCentre(loop.gears[0]), b = findCentre(loop.gears[1]);
        if (!a || !b) return; // one of them lies on another board
        const auto length =
            calcLoopLength(radiusOf(loop.gears[0]), radiusOf(loop.gears[1]), (*a - *b).norm(), loop.crossed);
        if (!length) return;
        const std::string name = "belt " + std::to_string(calcBelt(*length, loop.links).lengthMm);
        if (parts::makeShape(name).ok())
            addExtra(name, 1, (*a + *b) / 2);
        else
            m_result.missing.push_back(loop.id.text);
    }
    [[nodiscard]] double radiusOf(const GearId& id) const {
        const auto found =
            std::find_if(m_board.gears.begin(), m_board.gears.end(), [&](const Gear& gear) { return gear.id == id; });
        return calcWheelSize(found->kind, found->teeth).pitchRadiusMm;
    }
    /// Two forks and a cross, or a sleeve, at the end of the shaft that lies on this board.
    void addCoupling(const Coupling& coupling) {
        const Shaft* shaft = find(coupling.a) ? find(coupling.a) : find(coupling.b);
        const Vec3 at = shaft ? toMm(shaft->atUm) : Vec3(Vec3::Zero());
        if (coupling.universal) {
            addExtra("universal joint fork", 2, at);
            addExtra("universal joint cross", 1, at);
        } else {
            addExtra("straight connector", 1, at);
        }
    }
    void addRings() {
        std::set<std::string> shafts;
        for (const Selector& selector : m_board.selectors)
            for (const SelectorPosition& position : selector.positions)
                for (const GearId& id : position.engaged)
                    for (const Gear& gear : m_board.gears)
                        if (gear.id == id && shafts.insert(gear.shaft.text).second)
                            addExtra("driving ring", 1, findCentre(id).value_or(Vec3::Zero()));
    }

    [[nodiscard]] const Shaft* find(const ShaftId& id) const {
        for (const Shaft& shaft : m_board.shafts)
            if (shaft.id == id) return &shaft;
        return nullptr;
    }
    /// Its halves lie with their axis along z, the upper one's middle in the plane of the teeth.
    void addTurntable(const Gear& gear, const geometry::Frame& X_BG) {
        const geometry::Frame upright =
            X_BG *
            geometry::makeFrame(Eigen::AngleAxisd(base::kPi / 2, Vec3::UnitY()).toRotationMatrix(), Vec3::Zero());
        const auto lowered = [&](double mm) {
            return upright * geometry::makeFrame(geometry::Mat3::Identity(), {0, 0, -mm});
        };
        add(getWheelShape(gear), lowered(base::kPitchMm / 2), gear.id.text);
        add("large geared turntable lower", lowered(base::kPitchMm * 3 / 2), gear.id.text);
    }
    /// The shaft ends a pitch deep in the hole of its face.
    void addMotor(const DriveMotor& motor, const Shaft& shaft) {
        if (motor.line == "hand crank") return; // whatever is at hand
        Vec3 at = toMm(shaft.atUm);
        geometry::Frame X_BM = alongAxis(shaft.axis, at);
        if (motor.atEnd) {
            at[static_cast<int>(shaft.axis)] += umToMm(shaft.lengthUm);
            X_BM = alongAxis(shaft.axis, at) *
                   geometry::makeFrame(Eigen::AngleAxisd(base::kPi, Vec3::UnitZ()).toRotationMatrix(), Vec3::Zero());
        }
        if (const auto shape = parts::makeShape(motor.line)) {
            const int port = (*shape)->findPort("drive");
            if (port >= 0)
                X_BM = X_BM *
                       geometry::makeFrame(geometry::Mat3::Identity(),
                                           Vec3(base::kPitchMm / 2, 0, 0) - ivrant::at((*shape)->ports, port).origin);
        }
        add(motor.line, X_BM, motor.id.text);
    }
    void add(const std::string& name, const geometry::Frame& X_BP, const std::string& id) {
        if (const auto shape = name.empty() ? base::Result<parts::ShapePtr>(base::Error{}) : parts::makeShape(name);
            shape.ok())
            m_result.parts.push_back({*shape, X_BP, id});
        else
            m_result.missing.push_back(id);
    }
    const Board& m_board;
    BoardParts m_result;
};

} // namespace

std::string getWheelShape(const Gear& gear) {
    const std::string teeth = " " + std::to_string(gear.teeth);
    switch (gear.kind) {
    case GearKind::Spur: return (gear.loose ? getLooseName(gear.teeth) : "spur gear") + teeth;
    case GearKind::Bevel: return (gear.loose ? "double bevel idler" : "double bevel gear") + teeth;
    case GearKind::Crown: return "crown gear" + teeth;
    case GearKind::Worm: return gear.teeth == 1 && !gear.leftHand ? "worm gear" : "";
    case GearKind::Ring: return "ring gear" + teeth;
    case GearKind::Rack:
        return "rack " + std::to_string(static_cast<int>(std::ceil(gear.teeth * base::kPi / base::kPitchMm - 1e-9)));
    case GearKind::Sprocket: return "sprocket" + teeth;
    case GearKind::Pulley: return "pulley" + teeth;
    case GearKind::Differential: return gear.teeth == 28 ? "differential" : "";
    case GearKind::Actuator: return "linear actuator" + teeth;
    case GearKind::Turntable: return gear.teeth == 56 ? "large geared turntable upper" : "";
    }
    return "";
}

std::vector<geometry::Frame> calcBoardFrames(const Placed& placed) {
    const Project& project = *placed.project;
    std::vector<geometry::Frame> poses;
    poses.reserve(project.boards.size());
    for (std::size_t b = 0; b < project.boards.size(); ++b) {
        const Board& board = *project.boards[b];
        const int section = board.section.empty() ? -1 : project.findSection(board.section);
        geometry::Frame X = board.place.frame();
        if (!placed.boardTurns.empty()) X = placed.boardTurns[b] * X;
        poses.push_back(section < 0 ? X : ivrant::at(placed.X_WS, section) * X);
    }
    return poses;
}

std::shared_ptr<const BoardParts> getBoardParts(const BoardPtr& board) {
    static base::Memo<Board, BoardParts> memo;
    return memo.get(board, listBoardParts);
}

void forPlacedShapes(const Placed& placed, const std::function<void(const PlacedShape&)>& visit,
                     std::optional<int> only, const std::function<bool(std::size_t)>& leaveOut) {
    const Project& project = *placed.project;
    for (std::size_t s = 0; s < placed.X_WS.size(); ++s) {
        if ((only && *only != static_cast<int>(s)) || (leaveOut && leaveOut(s))) continue;
        for (const Part& part : project.sections[s]->parts)
            visit({*part.shape, part.id.text, part.colour, placed.X_WS[s] * part.place.frame(), static_cast<int>(s)});
    }
    if (project.boards.empty()) return;
    const auto poses = calcBoardFrames(placed);
    for (std::size_t b = 0; b < poses.size(); ++b) {
        const Board& board = *project.boards[b];
        const int section = board.section.empty() ? -1 : project.findSection(board.section);
        if (only && *only != section) continue;
        const auto listed = getBoardParts(project.boards[b]);
        for (const BoardPart& part : listed->parts)
            visit({*part.shape, part.id, board.colour, poses[b] * part.X_BP, section});
    }
}

namespace {

/// The same board gives the same list, so that its parts can be referred to while the project lives.
std::shared_ptr<const std::vector<Part>> getPartsOf(const BoardPtr& board) {
    static base::Memo<Board, std::vector<Part>> memo;
    return memo.get(board, [](const Board& of) {
        std::vector<Part> parts;
        for (const BoardPart& part : listBoardParts(of).parts)
            parts.push_back({{part.id},
                             part.shape,
                             of.colour,
                             makePlace(of.place.frame() * part.X_BP),
                             std::max(1, of.step),
                             {},
                             nullptr});
        return parts;
    });
}

} // namespace

std::vector<std::shared_ptr<const std::vector<Part>>> listSectionBoardParts(const Project& project, int section) {
    std::vector<std::shared_ptr<const std::vector<Part>>> lists;
    for (const BoardPtr& board : project.boards)
        if (!board->section.empty() && project.findSection(board->section) == section)
            lists.push_back(getPartsOf(board));
    return lists;
}

const Part& getBoardPart(const Project& project, PartSpot spot) {
    auto index =
        static_cast<std::size_t>(spot.part) - project.sections.at(static_cast<std::size_t>(spot.section))->parts.size();
    for (const auto& list : listSectionBoardParts(project, spot.section)) {
        if (index < list->size()) return (*list)[index];
        index -= list->size();
    }
    throw std::out_of_range("no such part");
}

std::size_t countBoardParts(const Project& project) {
    std::size_t count = 0;
    for (const auto& board : project.boards)
        for (const auto& [shape, number] : countShapes(listBoardParts(*board)))
            count += static_cast<std::size_t>(number);
    return count;
}

std::map<std::string, int> countShapes(const BoardParts& parts) {
    std::map<std::string, int> counts;
    for (const BoardPart& part : parts.parts) ++counts[parts::getListName(*part.shape)];
    for (const BoardExtra& extra : parts.extras) counts[parts::getListName(*extra.shape)] += extra.count;
    return counts;
}

BoardParts listBoardParts(const Board& board) { return Lister(board).run(); }

} // namespace ivrant::model
