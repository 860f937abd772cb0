// SPDX-License-Identifier: GPL-3.0-or-later
// A typed line, or a found train, put onto a board: shafts that are there are used, else made. Part of board_line.h.
#include <algorithm>
#include <cmath>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/drive/board_line.h"
#include "core/drive/board_walls.h"
#include "core/drive/function_words.h"
#include "core/drive/line_board.h"

namespace ivrant::drive {
namespace {

using base::Error;
using model::BoardAxis;
using model::GearKind;
using What = BoardLine::What;

class LineRunner {
public:
    LineRunner(LineBoard board, const BoardHand& hand) : m_board(std::move(board)), m_hand(hand) {}

    base::Status run(const BoardLine& line) { return put(line); }

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
        std::int64_t layer = low;
        planWheels(stages, at, low);
        if (on.empty() && !stages.front().worm) {
            if (auto st = addBetween(at, low, low, on); !st) return st;
        }
        for (std::size_t i = 0; i < stages.size(); ++i, layer += base::kPitchUm) {
            const Stage& stage = stages[i];
            if (stage.worm) { // the last ones
                if (auto st = placeWorm(stage, i + 1 < stages.size(), on, at, layer); !st) return st;
                continue;
            }
            if (auto st = addWheel(GearKind::Spur, stage.driver, on, layer); !st) return st;
            at = {at[0] + stage.offset.dxUm, at[1] + stage.offset.dyUm};
            const bool last = i + 1 == stages.size();
            if (auto st = addBetween(at, layer, last ? layer : layer + base::kPitchUm, on); !st) return st;
            if (auto st = addWheel(GearKind::Spur, stage.driven, on, layer); !st) return st;
            m_added = on.text;
        }
        return {};
    }
    [[nodiscard]] BoardLineResult result() const { return {m_board.project(), m_added, m_notes}; }

private:
    [[nodiscard]] const model::Board& board() const { return m_board.board(); }
    [[nodiscard]] const model::Shaft* findShaft(const std::string& id) const { return m_board.findShaft(id); }
    [[nodiscard]] const model::Shaft* chosenShaft() const {
        return m_hand.chosen.size() == 1 ? findShaft(m_hand.chosen[0]) : nullptr;
    }
    base::Status take(model::EditResult result) { return m_board.take(std::move(result)); }
    [[nodiscard]] const model::Project& project() const { return m_board.project(); }

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
        return m_board.putShaft(std::move(shaft), &id);
    }
    /// A shaft that only holds wheels of these layers, carried at both ends: it is in nobody's way above and below.
    base::Status addBetween(const std::array<std::int64_t, 2>& at, std::int64_t lowUm, std::int64_t highUm,
                            model::ShaftId& id) {
        model::Shaft shaft;
        const std::int64_t below = calcBeyond(at, lowUm - base::kPitchUm),
                           above = calcBeyond(at, highUm + base::kPitchUm);
        shaft.atUm = {at[0], at[1], lowUm - below};
        shaft.lengthUm = highUm - lowUm + below + above;
        shaft.bearingsUm = {0, shaft.lengthUm};
        return m_board.putShaft(std::move(shaft), &id);
    }
    /// Where the wheels of a train to be placed will be.
    void planWheels(const std::vector<Stage>& stages, std::array<std::int64_t, 2> at, std::int64_t layer) {
        m_planned.clear();
        for (const Stage& stage : stages) {
            if (stage.worm) return; // they come after all others
            m_planned.push_back({at, layer, stage.driver});
            at = {at[0] + stage.offset.dxUm, at[1] + stage.offset.dyUm};
            m_planned.push_back({at, layer, stage.driven});
            layer += base::kPitchUm;
        }
    }
    /// How far a shaft reaches beyond the middle of its last wheel: as a part a pitch more than the wheel, for there
    /// its wall will be, unless a wheel of another shaft is in the way in the layer beyond.
    [[nodiscard]] std::int64_t calcBeyond(const std::array<std::int64_t, 2>& at, std::int64_t layerBeyond) const {
        constexpr double kAxleMm = 2.7, kToothMm = 1; // room for an axle; over the pitch circle
        if (!m_board.ofParts()) return base::kPitchUm / 2;
        const bool free = std::none_of(m_planned.begin(), m_planned.end(), [&](const PlannedWheel& wheel) {
            const double apart = std::hypot(base::umToMm(wheel.atUm[0] - at[0]), base::umToMm(wheel.atUm[1] - at[1]));
            return wheel.layerUm == layerBeyond && apart > kAxleMm && apart < wheel.teeth / 2.0 + kToothMm + kAxleMm;
        });
        return free ? base::kPitchUm * 3 / 2 : base::kPitchUm / 2;
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
        return m_board.putShaft(std::move(shaft), &id);
    }
    base::Status addWheel(GearKind kind, int teeth, const model::ShaftId& on, std::int64_t heightUm, bool loose = false,
                          bool leftHand = false, bool anywhere = false) {
        const model::Shaft* shaft = findShaft(on.text);
        model::Gear gear;
        gear.kind = kind;
        gear.teeth = teeth;
        gear.shaft = on;
        gear.loose = loose;
        gear.leftHand = leftHand;
        gear.alongUm = shaft->axis == BoardAxis::Out ? heightUm - shaft->atUm[2] : shaft->lengthUm / 2;
        if (kind == GearKind::Actuator) gear.alongUm = shaft->lengthUm - base::kPitchUm; // the shaft ends in its foot
        return m_board.putGear(std::move(gear), anywhere);
    }

    /// Goes on from the shaft `on` at `at` and this layer; leaves them where the next stage goes on. `more`: there is
    /// one.
    base::Status placeWorm(const Stage& stage, bool more, model::ShaftId& on, std::array<std::int64_t, 2>& at,
                           std::int64_t& layer) {
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
            if (auto st = m_board.putGear(bevel); !st) return st;
            model::Gear worm = bevel;
            worm.kind = GearKind::Worm;
            worm.teeth = stage.driver;
            worm.alongUm = 3 * base::kPitchUm + base::kPitchUm / 2;
            if (auto st = m_board.putGear(worm); !st) return st;
            at[0] += 4 * base::kPitchUm;
            layer = height;
        }
        model::ShaftId output;
        const auto apart = base::mmToUm((kWormDiameterMm + stage.driven) / 2);
        at[1] -= apart;
        if (auto st = addBetween(at, layer, more ? layer + base::kPitchUm : layer, output); !st) return st;
        m_added = output.text;
        on = output;
        return addWheel(GearKind::Spur, stage.driven, output, layer);
    }

    base::Status put(const BoardLine& line) {
        const auto at = line.atUm.value_or(m_hand.cursorUm);
        const std::int64_t height = line.heightUm.value_or(m_hand.layerUm);
        switch (line.what) {
        case What::Wall: {
            auto walls = board().wallsUm;
            if (std::find(walls.begin(), walls.end(), *line.heightUm) == walls.end()) walls.push_back(*line.heightUm);
            if (auto st = take(model::setWalls(project(), m_hand.board, walls)); !st) return st;
            if (!m_board.ofParts() || board().section.empty()) return {};
            WallsWish wish;
            wish.heightsUm = {*line.heightUm};
            wish.reach = false; // for the shafts that go through it
            return build(wish, true);
        }
        case What::Walls: return buildFor(line);
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
            return onShaft(line, at, height,
                           [&](const model::ShaftId& shaft) { return m_board.putMotor(line.name, shaft, line.atEnd); });
        case What::Function: return putFunction(line);
        case What::Selector: return putSelector(line);
        case What::Chain:
        case What::Belt: return putLoop(line);
        case What::Strand: return putStrand(line);
        case What::Couple:
            if (m_hand.chosen.size() != 2) return Error{"line.choose", "choose the two shafts that are coupled", ""};
            return m_board.couple({m_hand.chosen[0]}, {m_hand.chosen[1]});
        case What::Asks: return changeFunction(line);
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
            auto st = m_board.putGear(std::move(rack), false, &id);
            m_added = id.text;
            return st;
        }
        if (line.kind == GearKind::Differential) return putDifferential(line, at, height);
        if (line.kind == GearKind::Turntable && m_board.ofParts()) {
            const model::Shaft* through = line.atUm ? nullptr : chosenShaft();
            const BoardAxis axis = through ? through->axis : line.axis.value_or(BoardAxis::Out);
            std::array<std::int64_t, 3> middle{at[0], at[1], height};
            if (through) {
                middle = through->atUm;
                ivrant::at(middle, axis) += through->lengthUm / 2;
            }
            return m_board.putTurntable(line.teeth, middle, axis, m_added);
        }
        return onShaft(line, at, height, [&](const model::ShaftId& on) {
            return addWheel(line.kind, line.teeth, on, height, line.loose, line.leftHand, !line.heightUm);
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
            const model::Shaft &a = *findShaft(m_hand.chosen[0]), &b = *findShaft(m_hand.chosen[1]);
            gear.alongUm = a.lengthUm;
            if (m_board.ofParts()) { // in the middle between their ends, from the one that comes first
                const int k = static_cast<int>(a.axis);
                const bool turned = ivrant::at(a.atUm, k) > ivrant::at(b.atUm, k);
                const model::Shaft &first = turned ? b : a, &second = turned ? a : b;
                const std::int64_t gap = ivrant::at(second.atUm, k) - ivrant::at(first.atUm, k) - first.lengthUm;
                if (a.axis != b.axis || gap < 0 || gap > 2 * base::kPitchUm)
                    return Error{"line.choose",
                                 "the side shafts of a differential lie in one line, their ends no more than two "
                                 "pitches apart",
                                 first.id.text};
                gear.shaft = first.id;
                gear.other = second.id;
                gear.alongUm = first.lengthUm + gap / 2;
            }
        } else if (m_hand.chosen.size() == 1 && !line.atUm) {
            return Error{"line.choose",
                         "choose both side shafts of the differential, or none: then it gets two of its own", ""};
        } else {
            constexpr std::int64_t kSide = 5 * base::kPitchUm;
            const std::int64_t apart = m_board.ofParts() ? base::kPitchUm / 2 : 0; // real axles end in the case
            const BoardAxis axis = line.axis.value_or(BoardAxis::Right);
            model::Shaft side;
            side.axis = axis;
            side.lengthUm = kSide;
            side.bearingsUm = {0, kSide - 2 * base::kPitchUm};
            side.atUm = {at[0], at[1], height};
            ivrant::at(side.atUm, axis) -= kSide + apart;
            side.name = "One side";
            if (auto st = m_board.putShaft(side, &gear.shaft); !st) return st;
            ivrant::at(side.atUm, axis) += kSide + 2 * apart;
            side.bearingsUm = {2 * base::kPitchUm, kSide};
            side.name = "Other side";
            if (auto st = m_board.putShaft(side, &gear.other); !st) return st;
            gear.alongUm = kSide + apart;
        }
        m_added = gear.shaft.text;
        return m_board.putGear(std::move(gear));
    }
    /// Over the turntable on the chosen shaft, else over another wheel there.
    base::Status putStrand(const BoardLine& line) {
        model::GearId over;
        bool table = false;
        for (const model::Gear& gear : m_board.gears())
            if (m_hand.chosen.size() == 1 && gear.shaft.text == m_hand.chosen[0] && !gear.isStraight() && !table) {
                over = gear.id;
                table = gear.kind == GearKind::Turntable;
            }
        if (m_hand.chosen.size() == 1 && isTurntable(m_hand.chosen[0])) over.text = m_hand.chosen[0];
        if (over.empty())
            return Error{"line.choose", "choose the shaft of the turntable that the string or wire crosses", ""};
        model::Strand strand;
        strand.wire = line.wire;
        strand.name = (line.wire ? "Wire " : "String ") + std::to_string(board().strands.size() + 1);
        strand.over = over;
        strand.offUm = line.offUm;
        strand.gapUm = line.gapUm;
        strand.slackUm = line.slackUm;
        return take(model::putStrand(project(), m_hand.board, std::move(strand)));
    }
    /// A part, in whatever section.
    [[nodiscard]] bool isTurntable(const std::string& id) const {
        const model::PartSpot spot = model::PartIndex(project()).find({id});
        if (spot.section < 0) return false;
        const auto& rings = model::getPart(project(), spot).shape->rings;
        return !rings.empty() && rings.front().kind == GearKind::Turntable;
    }
    base::Status putFunction(const BoardLine& line) {
        if (m_hand.chosen.size() != 1)
            return Error{"line.choose", "choose the shaft or rack that the function moves", ""};
        model::DriveFunction function;
        function.name = line.name.empty() ? "Function " + std::to_string(board().functions.size() + 1) : line.name;
        // What a turntable's post or a screw's shaft is there for is the turntable or the rod.
        for (const model::Gear& gear : m_board.gears())
            if (gear.shaft.text == m_hand.chosen[0] &&
                (gear.kind == GearKind::Turntable || gear.kind == GearKind::Actuator))
                function.gear = gear.id;
        if (function.gear.empty())
            (findShaft(m_hand.chosen[0]) ? function.shaft.text : function.gear.text) = m_hand.chosen[0];
        if (auto st = readAsks(line, function); !st) return st;
        return take(model::putFunction(project(), m_hand.board, function));
    }
    static base::Status readAsks(const BoardLine& line, model::DriveFunction& into) {
        for (std::size_t at = 0; at < line.asks.size();)
            if (const auto read = readFunctionWord(line.asks, at, into); !read) return read.error();
        return {};
    }
    /// Of the function that moves what is chosen, or of the only one there is.
    base::Status changeFunction(const BoardLine& line) {
        const auto& functions = board().functions;
        std::vector<const model::DriveFunction*> meant;
        for (const model::DriveFunction& function : functions)
            if (m_hand.chosen.size() == 1 ? isMovedBy(function, m_hand.chosen[0]) : functions.size() == 1)
                meant.push_back(&function);
        if (meant.size() != 1)
            return Error{"line.choose",
                         meant.empty() ? "choose the shaft of the function that this is asked of"
                                       : "several functions move that: open the one by a double click",
                         ""};
        model::DriveFunction changed = *meant.front();
        if (auto st = readAsks(line, changed); !st) return st;
        m_added = m_hand.chosen.empty() ? "" : m_hand.chosen[0];
        return take(model::putFunction(project(), m_hand.board, changed));
    }
    [[nodiscard]] bool isMovedBy(const model::DriveFunction& function, const std::string& chosen) const {
        if (function.moved() == chosen) return true;
        return std::any_of(m_board.gears().begin(), m_board.gears().end(), [&](const model::Gear& gear) {
            return gear.id.text == function.moved() && gear.shaft.text == chosen;
        });
    }

    base::Status buildFor(const BoardLine& line) {
        WallsWish wish;
        wish.walls = line.name == "walls";
        wish.lid = line.name == "lid";
        wish.seats = line.name != "lid";
        wish.floor = wish.walls;
        wish.heightsUm = chooseWallHeights(project(), board());
        return build(wish, false);
    }
    /// `quiet`: with nothing to carry yet it is no error.
    base::Status build(const WallsWish& wish, bool quiet) {
        if (!m_board.ofParts())
            return Error{"walls.section", "walls are built round boards whose shafts are parts", m_hand.board.text};
        const auto plan = planWalls(project(), board(), wish);
        if (!plan) {
            const std::string& code = plan.error().code;
            const bool nothing = code == "walls.shafts" || code == "walls.there" || code == "walls.flat";
            return quiet && nothing ? base::Status{} : plan.error();
        }
        auto built = addWalls(project(), board(), *plan);
        if (!built) return built.error();
        m_notes = plan->notes;
        m_added = m_hand.chosen.size() == 1 ? m_hand.chosen[0] : "";
        return take(std::move(built));
    }
    base::Status putSelector(const BoardLine& line) {
        model::Selector selector;
        selector.name = line.name.empty() ? "Selector" : line.name;
        for (const model::Gear& gear : m_board.gears())
            if (gear.loose)
                selector.positions.push_back(
                    {std::to_string(gear.teeth) + " on " + m_board.shaftName(gear.shaft), {gear.id}});
        if (selector.positions.empty())
            return Error{"line.choose", "there is no clutch wheel to engage: type clutch 24 on a chosen shaft first",
                         ""};
        std::vector<model::GearId> engaged;
        for (const auto& position : selector.positions) engaged.push_back(position.engaged.front());
        if (auto st = m_board.putDrivingRings(engaged); !st) return st;
        selector.positions.push_back({"Off", {}});
        return take(model::putSelector(project(), m_hand.board, selector));
    }
    base::Status putLoop(const BoardLine& line) {
        const GearKind kind = line.what == What::Belt ? GearKind::Pulley : GearKind::Sprocket;
        model::Loop loop;
        loop.belt = line.what == What::Belt;
        loop.crossed = line.crossed;
        loop.links = line.count;
        for (const std::string& id : m_hand.chosen)
            for (const model::Gear& gear : m_board.gears())
                if (gear.shaft.text == id && gear.kind == kind) {
                    loop.gears.push_back(gear.id);
                    break;
                }
        if (loop.gears.size() < 2)
            return Error{"line.choose",
                         loop.belt ? "choose two shafts with pulleys" : "choose two shafts with sprockets", ""};
        return take(model::putLoop(project(), m_hand.board, loop));
    }

    struct PlannedWheel {
        std::array<std::int64_t, 2> atUm;
        std::int64_t layerUm;
        int teeth;
    };

    LineBoard m_board;
    std::vector<PlannedWheel> m_planned;
    const BoardHand& m_hand;
    std::string m_added;
    std::vector<std::string> m_notes;
};

} // namespace

model::EditResult beginBoard(const model::Project& project, model::BoardId& newId) {
    geometry::Mat3 r; // right, up, out of the sheet
    r << geometry::Vec3::UnitX(), geometry::Vec3::UnitZ(), -geometry::Vec3::UnitY();
    // Holes of bricks lie between two studs, 5.6 mm above the underside.
    return model::addBoard(project, "", {}, model::makePlace(geometry::makeFrame(r, {base::kPitchMm / 2, 0, 5.6})),
                           &newId);
}

base::Result<BoardLineResult> applyBoardLine(const model::Project& project, const BoardHand& hand,
                                             const BoardLine& line) {
    auto board = LineBoard::make(project, hand.board, hand.ownThings);
    if (!board) return board.error();
    LineRunner runner(*board, hand);
    if (auto st = runner.run(line); !st) return st.error();
    return runner.result();
}

base::Result<BoardLineResult> placeTrain(const model::Project& project, const BoardHand& hand,
                                         const FoundTrain& found) {
    if (found.stages.empty()) return Error{"ratio.wish", "there is no train to place", ""};
    auto board = LineBoard::make(project, hand.board, hand.ownThings);
    if (!board) return board.error();
    LineRunner runner(*board, hand);
    if (auto st = runner.place(found); !st) return st.error();
    return runner.result();
}

} // namespace ivrant::drive
