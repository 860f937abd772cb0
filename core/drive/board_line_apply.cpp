// SPDX-License-Identifier: GPL-3.0-or-later
// A typed line, or a found train, put onto a board: shafts that are there are used, else made. Part of board_line.h.
#include <algorithm>
#include <cmath>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/bonds/fits.h"
#include "core/drive/board_line.h"
#include "core/model/board_parts.h"
#include "core/parts/family.h"

namespace ivrant::drive {
namespace {

using base::Error;
using model::BoardAxis;
using model::GearKind;
using What = BoardLine::What;

class LineRunner {
public:
    LineRunner(const model::Project& project, const BoardHand& hand) : m_project(project), m_hand(hand) {}

    base::Result<BoardLineResult> run(const BoardLine& line) {
        if (m_project.findBoard(m_hand.board) < 0)
            return Error{"edit.missing", "there is no board to put it on", m_hand.board.text};
        auto status = put(line);
        if (!status) return status.error();
        return BoardLineResult{m_project, m_added};
    }

    base::Status place(const FoundTrain& found) {
        std::vector<Stage> stages = found.stages;
        std::stable_partition(stages.begin(), stages.end(), [](const Stage& s) { return !s.worm; });
        std::array<std::int64_t, 2> at = m_hand.cursorUm;
        model::ShaftId on;
        if (const model::Shaft* shaft = chosenShaft(); shaft && shaft->axis == BoardAxis::Out) {
            on = shaft->id;
            at = {shaft->atUm[0], shaft->atUm[1]};
        }
        const std::int64_t low = m_hand.layerUm;
        if (on.empty() && !stages.front().worm) {
            if (auto st = addBetween(at, low, low, on); !st) return st;
        }
        for (std::size_t i = 0; i < stages.size(); ++i) {
            const std::int64_t layer = low + static_cast<std::int64_t>(i) * base::kPitchUm;
            const Stage& stage = stages[i];
            if (stage.worm) return placeWorm(stage, on, at, layer);
            if (auto st = addWheel(GearKind::Spur, stage.driver, on, layer); !st) return st;
            at = {at[0] + stage.offset.dxUm, at[1] + stage.offset.dyUm};
            const bool last = i + 1 == stages.size();
            if (auto st = addBetween(at, layer, last ? layer : layer + base::kPitchUm, on); !st) return st;
            if (auto st = addWheel(GearKind::Spur, stage.driven, on, layer); !st) return st;
            m_added = on.text;
        }
        return {};
    }
    [[nodiscard]] BoardLineResult result() const { return {m_project, m_added}; }

private:
    [[nodiscard]] const model::Board& board() const {
        return *ivrant::at(m_project.boards, m_project.findBoard(m_hand.board));
    }
    [[nodiscard]] const model::Shaft* findShaft(const std::string& id) const {
        for (const model::Shaft& shaft : board().shafts)
            if (shaft.id.text == id) return &shaft;
        return nullptr;
    }
    [[nodiscard]] const model::Shaft* chosenShaft() const {
        return m_hand.chosen.size() == 1 ? findShaft(m_hand.chosen[0]) : nullptr;
    }
    base::Status take(model::EditResult result) {
        if (!result) return result.error();
        m_project = std::move(result).value();
        return {};
    }

    /// A shaft out of the board: through all walls, or a pitch beyond the layers.
    base::Status addOut(const std::array<std::int64_t, 2>& at, std::int64_t lowUm, std::int64_t highUm,
                        model::ShaftId& id, std::optional<std::int64_t> length = {}) {
        constexpr std::int64_t kBeyond = base::kPitchUm / 2;
        std::int64_t from = lowUm - base::kPitchUm - kBeyond, to = highUm + base::kPitchUm + kBeyond;
        if (const auto& walls = board().wallsUm; walls.size() >= 2) {
            const auto [least, most] = std::minmax_element(walls.begin(), walls.end());
            from = std::min(lowUm - kBeyond, *least - kBeyond);
            to = std::max(highUm + kBeyond, *most + kBeyond);
        }
        model::Shaft shaft;
        shaft.atUm = {at[0], at[1], from};
        shaft.lengthUm = length.value_or(to - from);
        return take(model::putShaft(m_project, m_hand.board, std::move(shaft), &id));
    }
    /// A shaft that only holds wheels of these layers, carried at both ends: it is in nobody's way above and below.
    base::Status addBetween(const std::array<std::int64_t, 2>& at, std::int64_t lowUm, std::int64_t highUm,
                            model::ShaftId& id) {
        model::Shaft shaft;
        shaft.atUm = {at[0], at[1], lowUm - base::kPitchUm / 2};
        shaft.lengthUm = highUm - lowUm + base::kPitchUm;
        shaft.bearingsUm = {0, shaft.lengthUm};
        return take(model::putShaft(m_project, m_hand.board, std::move(shaft), &id));
    }
    /// A shaft in the plane, its middle at the place, carried at both ends.
    base::Status addAlong(BoardAxis axis, const std::array<std::int64_t, 2>& at, std::int64_t heightUm,
                          model::ShaftId& id, std::int64_t length = 4 * base::kPitchUm) {
        model::Shaft shaft;
        shaft.axis = axis;
        shaft.atUm = {at[0], at[1], heightUm};
        shaft.atUm[axis == BoardAxis::Right ? 0 : 1] -= length / 2;
        shaft.lengthUm = length;
        shaft.bearingsUm = {0, length};
        return take(model::putShaft(m_project, m_hand.board, std::move(shaft), &id));
    }
    base::Status addWheel(GearKind kind, int teeth, const model::ShaftId& on, std::int64_t heightUm, bool loose = false,
                          bool leftHand = false) {
        const model::Shaft* shaft = findShaft(on.text);
        model::Gear gear;
        gear.kind = kind;
        gear.teeth = teeth;
        gear.shaft = on;
        gear.loose = loose;
        gear.leftHand = leftHand;
        gear.alongUm = shaft->axis == BoardAxis::Out ? heightUm - shaft->atUm[2] : shaft->lengthUm / 2;
        if (kind == GearKind::Actuator) gear.alongUm = shaft->lengthUm - base::kPitchUm; // the shaft ends in its foot
        return take(model::putGear(m_project, m_hand.board, std::move(gear)));
    }

    base::Status placeWorm(const Stage& stage, model::ShaftId on, std::array<std::int64_t, 2> at, std::int64_t layer) {
        // The worm lies along x on the shaft so far only when that shaft lies along x; else it gets its own, turned by
        // a pair of bevels of 12.
        if (on.empty()) {
            if (auto st = addAlong(BoardAxis::Right, at, layer, on); !st) return st;
            if (auto st = addWheel(GearKind::Worm, stage.driver, on, 0); !st) return st;
        } else {
            constexpr std::int64_t kBevelUm = base::kPitchUm; // 12 and 12: 6 + 2 mm
            if (auto st = addWheel(GearKind::Bevel, 12, on, layer); !st) return st;
            model::ShaftId across;
            const std::int64_t height = layer + kBevelUm;
            if (auto st =
                    addAlong(BoardAxis::Right, {at[0] + 3 * base::kPitchUm, at[1]}, height, across, 5 * base::kPitchUm);
                !st)
                return st;
            model::Gear bevel;
            bevel.kind = GearKind::Bevel;
            bevel.teeth = 12;
            bevel.shaft = across;
            bevel.alongUm = base::kPitchUm / 2; // a pitch from where the axes meet
            if (auto st = take(model::putGear(m_project, m_hand.board, bevel)); !st) return st;
            model::Gear worm = bevel;
            worm.kind = GearKind::Worm;
            worm.teeth = stage.driver;
            worm.alongUm = 3 * base::kPitchUm + base::kPitchUm / 2;
            if (auto st = take(model::putGear(m_project, m_hand.board, worm)); !st) return st;
            at[0] += 4 * base::kPitchUm;
            layer = height;
        }
        model::ShaftId output;
        const auto apart = base::mmToUm((kWormDiameterMm + stage.driven) / 2);
        if (auto st = addBetween({at[0], at[1] - apart}, layer, layer, output); !st) return st;
        m_added = output.text;
        return addWheel(GearKind::Spur, stage.driven, output, layer);
    }

    [[nodiscard]] static bool isAxle(const model::Part& part) {
        return std::any_of(part.shape->ports.begin(), part.shape->ports.end(),
                           [](const parts::Port& port) { return port.kind == parts::PortKind::Axle; });
    }
    /// Where the chosen axle is, when it is a part.
    [[nodiscard]] std::optional<model::PartSpot> findChosenAxle() const {
        if (m_hand.chosen.size() != 1) return std::nullopt;
        const model::PartSpot spot = model::PartIndex(m_project).find({m_hand.chosen[0]});
        if (spot.section < 0 || !isAxle(model::getPart(m_project, spot))) return std::nullopt;
        return spot;
    }
    base::Status putPart(const model::PartSpot& on, const std::string& shape, const geometry::Frame& X) {
        const auto made = parts::makeShape(shape);
        if (!made) return Error{"line.part", "there is no part like that", ""};
        model::NewPart part;
        part.shape = *made;
        part.colour = board().colour;
        part.place = model::makePlace(X);
        part.step = model::getPart(m_project, on).step;
        m_added = m_hand.chosen[0];
        return take(model::addParts(m_project, ivrant::at(m_project.sections, on.section)->id, {&part, 1}));
    }
    /// A wheel in the middle of the chosen axle, on half a pitch.
    base::Status putWheelPart(const model::PartSpot& on, const BoardLine& line) {
        model::Gear gear;
        gear.kind = line.kind;
        gear.teeth = line.teeth;
        gear.loose = line.loose;
        gear.leftHand = line.leftHand;
        const model::Part& axle = model::getPart(m_project, on);
        const double half = base::kPitchMm / 2;
        const double along = half * std::floor(axle.shape->bounds.high.x() / 2 / half);
        return putPart(on, model::getWheelShape(gear),
                       axle.place.frame() * geometry::makeFrame(geometry::Mat3::Identity(), {along, 0, 0}));
    }
    /// A motor before the start of the chosen axle, or beyond its end, as upright as it goes.
    base::Status putMotorPart(const model::PartSpot& on, const BoardLine& line) {
        const auto shape = parts::makeShape(line.name);
        const int drive = shape ? (*shape)->findPort("drive") : -1;
        if (drive < 0) return Error{"line.part", "there is no motor body called " + line.name, ""};
        const model::Part& axle = model::getPart(m_project, on);
        const auto& ports = axle.shape->ports; // each place along it opens both ways, in their order
        const parts::Port& end = line.atEnd ? ports[ports.size() - 2] : ports[1];
        geometry::Frame best;
        double most = -2;
        for (int quarters = 0; quarters < 4; ++quarters) {
            const geometry::Frame X =
                bonds::calcMatedFrame(axle.place.frame(), end, ivrant::at((*shape)->ports, drive), quarters);
            if (X.linear()(2, 2) <= most + 1e-9) continue;
            most = X.linear()(2, 2);
            best = X;
        }
        return putPart(on, line.name, best);
    }

    base::Status put(const BoardLine& line) {
        const auto axle = findChosenAxle();
        if (axle && !line.atUm && line.what == What::Motor) return putMotorPart(*axle, line);
        if (axle && !line.atUm && line.what == What::Gear && line.kind != GearKind::Rack &&
            line.kind != GearKind::Differential && line.kind != GearKind::Turntable)
            return putWheelPart(*axle, line);
        const auto at = line.atUm.value_or(m_hand.cursorUm);
        const std::int64_t height = line.heightUm.value_or(m_hand.layerUm);
        switch (line.what) {
        case What::Wall: {
            auto walls = board().wallsUm;
            walls.push_back(*line.heightUm);
            return take(model::setWalls(m_project, m_hand.board, walls));
        }
        case What::Shaft: {
            model::ShaftId id;
            const BoardAxis axis = line.axis.value_or(BoardAxis::Out);
            auto st = axis == BoardAxis::Out
                          ? addOut(at, height, height, id, line.lengthUm)
                          : addAlong(axis, at, height, id, line.lengthUm.value_or(4 * base::kPitchUm));
            m_added = id.text;
            return st;
        }
        case What::Gear: return putGear(line, at, height);
        case What::Motor:
            return onShaft(line, at, height, [&](const model::ShaftId& shaft) {
                const std::string name = "M" + std::to_string(board().motors.size() + 1);
                return take(model::putMotor(m_project, m_hand.board, {{}, name, line.name, shaft, line.atEnd, {}}));
            });
        case What::Function: return putFunction(line);
        case What::Selector: return putSelector(line);
        case What::Chain:
        case What::Belt: return putLoop(line);
        case What::Strand: return putStrand(line);
        case What::Couple:
            if (m_hand.chosen.size() != 2) return Error{"line.choose", "choose the two shafts that are coupled", ""};
            return take(
                model::putCoupling(m_project, m_hand.board, {{}, {m_hand.chosen[0]}, {m_hand.chosen[1]}, true, {}}));
        }
        return {};
    }
    /// On the chosen shaft, or a new one.
    template <class Use>
    base::Status onShaft(const BoardLine& line, const std::array<std::int64_t, 2>& at, std::int64_t height, Use use) {
        model::ShaftId id;
        const model::Shaft* chosen = chosenShaft();
        if (chosen && !line.atUm && (!line.axis || *line.axis == chosen->axis)) {
            id = chosen->id;
        } else {
            const BoardAxis axis = line.axis.value_or(line.kind == GearKind::Worm ? BoardAxis::Right : BoardAxis::Out);
            if (auto st = axis == BoardAxis::Out ? addOut(at, height, height, id) : addAlong(axis, at, height, id); !st)
                return st;
        }
        m_added = id.text;
        return use(id);
    }
    base::Status putGear(const BoardLine& line, const std::array<std::int64_t, 2>& at, std::int64_t height) {
        if (line.kind == GearKind::Rack) {
            model::Gear rack;
            rack.kind = line.kind;
            rack.teeth = line.teeth;
            rack.axis = line.axis.value_or(BoardAxis::Right);
            rack.atUm = {at[0], at[1], height};
            model::GearId id;
            auto st = take(model::putGear(m_project, m_hand.board, std::move(rack), &id));
            m_added = id.text;
            return st;
        }
        if (line.kind == GearKind::Differential) return putDifferential(line, at, height);
        return onShaft(line, at, height, [&](const model::ShaftId& on) {
            return addWheel(line.kind, line.teeth, on, height, line.loose, line.leftHand);
        });
    }
    /// Between the two chosen shafts, or with two new ones that meet at the place.
    base::Status putDifferential(const BoardLine& line, const std::array<std::int64_t, 2>& at, std::int64_t height) {
        model::Gear gear;
        gear.kind = GearKind::Differential;
        gear.teeth = line.teeth;
        if (m_hand.chosen.size() == 2 && findShaft(m_hand.chosen[0]) && findShaft(m_hand.chosen[1])) {
            gear.shaft = {m_hand.chosen[0]};
            gear.other = {m_hand.chosen[1]};
            gear.alongUm = findShaft(m_hand.chosen[0])->lengthUm;
        } else if (m_hand.chosen.size() == 1 && !line.atUm) {
            return Error{"line.choose",
                         "choose both side shafts of the differential, or none: then it gets two of its own", ""};
        } else {
            constexpr std::int64_t kSide = 5 * base::kPitchUm;
            const BoardAxis axis = line.axis.value_or(BoardAxis::Right);
            model::Shaft side;
            side.axis = axis;
            side.lengthUm = kSide;
            side.bearingsUm = {0, kSide - 2 * base::kPitchUm};
            side.atUm = {at[0], at[1], height};
            ivrant::at(side.atUm, axis) -= kSide;
            side.name = "One side";
            if (auto st = take(model::putShaft(m_project, m_hand.board, side, &gear.shaft)); !st) return st;
            ivrant::at(side.atUm, axis) += kSide;
            side.bearingsUm = {2 * base::kPitchUm, kSide};
            side.name = "Other side";
            if (auto st = take(model::putShaft(m_project, m_hand.board, side, &gear.other)); !st) return st;
            gear.alongUm = kSide;
        }
        m_added = gear.shaft.text;
        return take(model::putGear(m_project, m_hand.board, std::move(gear)));
    }
    /// Over the turntable on the chosen shaft, else over another wheel there.
    base::Status putStrand(const BoardLine& line) {
        const model::Gear* over = nullptr;
        if (const model::Shaft* shaft = chosenShaft())
            for (const model::Gear& gear : board().gears)
                if (gear.shaft == shaft->id && !gear.isStraight() && (!over || gear.kind == GearKind::Turntable))
                    over = &gear;
        if (!over) return Error{"line.choose", "choose the shaft of the turntable that the string or wire crosses", ""};
        model::Strand strand;
        strand.wire = line.wire;
        strand.name = (line.wire ? "Wire " : "String ") + std::to_string(board().strands.size() + 1);
        strand.over = over->id;
        strand.offUm = line.offUm;
        strand.gapUm = line.gapUm;
        strand.slackUm = line.slackUm;
        return take(model::putStrand(m_project, m_hand.board, std::move(strand)));
    }
    base::Status putFunction(const BoardLine& line) {
        if (m_hand.chosen.size() != 1)
            return Error{"line.choose", "choose the shaft or rack that the function moves", ""};
        model::DriveFunction function;
        function.name = line.name.empty() ? "Function " + std::to_string(board().functions.size() + 1) : line.name;
        // What a turntable's post or a screw's shaft is there for is the turntable or the rod.
        for (const model::Gear& gear : board().gears)
            if (gear.shaft.text == m_hand.chosen[0] &&
                (gear.kind == GearKind::Turntable || gear.kind == GearKind::Actuator))
                function.gear = gear.id;
        if (function.gear.empty())
            (findShaft(m_hand.chosen[0]) || findChosenAxle() ? function.shaft.text : function.gear.text) =
                m_hand.chosen[0];
        return take(model::putFunction(m_project, m_hand.board, function));
    }
    base::Status putSelector(const BoardLine& line) {
        model::Selector selector;
        selector.name = line.name.empty() ? "Selector" : line.name;
        for (const model::Gear& gear : board().gears)
            if (gear.loose)
                selector.positions.push_back({std::to_string(gear.teeth) + " on " + shaftName(gear.shaft), {gear.id}});
        if (selector.positions.empty())
            return Error{"line.choose", "there is no clutch wheel to engage: type clutch 24 on a chosen shaft first",
                         ""};
        selector.positions.push_back({"Off", {}});
        return take(model::putSelector(m_project, m_hand.board, selector));
    }
    [[nodiscard]] std::string shaftName(const model::ShaftId& id) const {
        const model::Shaft* shaft = findShaft(id.text);
        return shaft && !shaft->name.empty() ? shaft->name : id.text;
    }
    base::Status putLoop(const BoardLine& line) {
        const GearKind kind = line.what == What::Belt ? GearKind::Pulley : GearKind::Sprocket;
        model::Loop loop;
        loop.belt = line.what == What::Belt;
        loop.crossed = line.crossed;
        loop.links = line.count;
        for (const std::string& id : m_hand.chosen)
            for (const model::Gear& gear : board().gears)
                if (gear.shaft.text == id && gear.kind == kind) {
                    loop.gears.push_back(gear.id);
                    break;
                }
        if (loop.gears.size() < 2)
            return Error{"line.choose",
                         loop.belt ? "choose two shafts with pulleys" : "choose two shafts with sprockets", ""};
        return take(model::putLoop(m_project, m_hand.board, loop));
    }

    model::Project m_project;
    const BoardHand& m_hand;
    std::string m_added;
};

} // namespace

base::Result<BoardLineResult> applyBoardLine(const model::Project& project, const BoardHand& hand,
                                             const BoardLine& line) {
    return LineRunner(project, hand).run(line);
}

base::Result<BoardLineResult> placeTrain(const model::Project& project, const BoardHand& hand,
                                         const FoundTrain& found) {
    if (found.stages.empty()) return Error{"ratio.wish", "there is no train to place", ""};
    if (project.findBoard(hand.board) < 0)
        return Error{"edit.missing", "there is no board to put it on", hand.board.text};
    LineRunner runner(project, hand);
    if (auto st = runner.place(found); !st) return st.error();
    return runner.result();
}

} // namespace ivrant::drive
