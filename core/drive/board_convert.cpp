// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/drive/board_convert.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/drive/drive_model.h"
#include "core/drive/line_board.h"
#include "core/model/board_parts.h"
#include "core/model/edits_boards.h"
#include "core/model/edits_common.h"
#include "core/model/validate.h"
#include "core/parts/family.h"

namespace ivrant::drive {
namespace {

using base::Error;
using geometry::Frame;
using geometry::Vec3;
using model::GearKind;

bool hasThings(const model::Board& board) {
    return !board.shafts.empty() || !board.gears.empty() || !board.couplings.empty();
}
std::string listNames(const std::vector<std::string>& names) {
    constexpr std::size_t kMost = 4;
    std::string text;
    for (std::size_t i = 0; i < names.size() && i < kMost; ++i) text += (i == 0 ? "" : ", ") + names[i];
    if (names.size() > kMost) text += " and " + std::to_string(names.size() - kMost) + " more";
    return text;
}

class Converter {
public:
    explicit Converter(const model::Project& project) : m_next(project) {}

    base::Result<Converted> run() {
        if (auto st = leaveOutMissing(); !st) return st.error();
        // What stands still first: what goes round stands on its turntables.
        std::vector<model::BoardPtr> boards = m_next.boards;
        std::stable_partition(boards.begin(), boards.end(), [](const auto& board) { return board->carrier.empty(); });
        std::vector<const model::Board*> waiting;
        for (const auto& board : boards)
            if (hasThings(*board)) waiting.push_back(board.get());
        if (waiting.empty()) return Error{"convert.none", "no board has shafts or wheels of its own", ""};
        while (!waiting.empty()) { // turntables on turntables
            std::vector<const model::Board*> later;
            for (const model::Board* board : waiting)
                if (!isReady(*board))
                    later.push_back(board);
                else
                    convert(*board);
            if (later.size() == waiting.size()) { // it goes round with a wheel, or with itself
                for (const model::Board* board : later) convert(*board);
                break;
            }
            waiting = std::move(later);
        }
        for (const auto& board : boards) addCouplings(*board, boards);
        addDrivingRings();
        tell(m_said, " of a board carried without holes: type walls, or build their bearings");
        tell(m_held, " said to be held, and turning now: fix them with a cross hole");
        tell(m_carried, " said to go round with a wheel: put them into holes of what carries them");
        if (auto st = model::validate(m_next); !st) return st.error();
        return Converted{std::move(m_next), m_count, std::move(m_notes)};
    }

private:
    void tell(const std::vector<std::string>& names, const std::string& what) {
        if (!names.empty()) m_notes.push_back(listNames(names) + (names.size() == 1 ? " is" : " are") + what);
    }
    [[nodiscard]] static std::string nameOf(const model::Shaft& shaft) {
        return shaft.name.empty() ? "shaft " + shaft.id.text : shaft.name;
    }

    /// Wheels and shafts that no part is like go, with what hangs on them.
    base::Status leaveOutMissing() {
        std::vector<std::string> gone, told;
        for (const auto& board : m_next.boards)
            for (const std::string& id : model::getBoardParts(board)->missing) {
                for (const model::Gear& gear : board->gears)
                    if (gear.id.text == id) told.push_back(describeWheel(gear.kind, gear.teeth, gear.loose));
                for (const model::Shaft& shaft : board->shafts)
                    if (shaft.id.text == id) told.push_back(nameOf(shaft));
                gone.push_back(id);
            }
        if (gone.empty()) return {};
        auto removed = model::removeFromBoard(m_next, gone);
        if (!removed) return removed.error();
        m_next = std::move(removed).value();
        m_notes.push_back("no part is like " + listNames(told) + ": left out, with what hangs on it");
        return {};
    }

    [[nodiscard]] bool isReady(const model::Board& board) const {
        return board.carrier.empty() || model::PartIndex(m_next).find({board.carrier.text}).section >= 0;
    }

    /// The section that its parts go into, and the board in it.
    int findSection(const model::Board& board) {
        const bool turns = !board.carrier.empty();
        if (turns) {
            const model::PartSpot upper = model::PartIndex(m_next).find({board.carrier.text});
            const bool table = upper.section >= 0 && !model::getPart(m_next, upper).shape->rings.empty() &&
                               model::getPart(m_next, upper).shape->rings.front().kind == GearKind::Turntable;
            if (table) return upper.section;
            m_notes.push_back(board.name + " goes round with a wheel: what lies on it stands still now");
        }
        if (const int own = board.section.empty() ? -1 : m_next.findSection(board.section); own >= 0) return own;
        if (m_next.sections.size() == 1 && m_next.sections.front()->parts.empty() &&
            m_next.sections.front()->place == model::Place{})
            return 0;
        auto fresh = std::make_shared<model::Section>();
        fresh->id.text = model::detail::takeId(m_next, "s");
        fresh->name = board.name;
        m_next.sections.push_back(std::move(fresh));
        return static_cast<int>(m_next.sections.size()) - 1;
    }
    void put(int section, model::Part part) {
        model::detail::changeSection(m_next, section,
                                     [&](model::Section& changed) { changed.parts.push_back(std::move(part)); });
        ++m_count;
    }

    void convert(const model::Board& board) {
        const int section = findSection(board);
        int step = std::max(1, board.step);
        if (board.step == 0)
            for (const model::Part& part : at(m_next.sections, section)->parts) step = std::max(step, part.step);
        const auto list = model::getBoardParts(*std::find_if(m_next.boards.begin(), m_next.boards.end(),
                                                             [&](const auto& each) { return each->id == board.id; }));
        std::map<std::string, model::Place> tables; // upper halves, by wheel
        std::map<std::string, model::PartId> below; // what they stand on
        for (const model::BoardPart& from : list->parts) {
            model::Part part;
            part.id.text = from.id;
            part.shape = from.shape;
            part.colour = board.colour;
            part.place = model::makePlace(board.place.frame() * from.X_BP);
            part.step = step;
            if (from.shape->family == "large geared turntable upper") {
                tables[from.id] = part.place;
                continue;
            }
            if (from.shape->family == "large geared turntable lower") {
                part.id.text = model::detail::takeId(m_next, "p");
                below[from.id] = part.id;
            }
            for (const model::Shaft& shaft : board.shafts)
                if (shaft.id.text == from.id) part.name = shaft.name;
            for (const model::DriveMotor& motor : board.motors)
                if (motor.id.text == from.id) part.name = motor.name;
            if (const Vec3 by = calcSideShift(board, from.id); by != Vec3::Zero())
                part.place =
                    model::makePlace(Eigen::Translation3d(board.place.frame().linear() * by) * part.place.frame());
            put(section, std::move(part));
        }
        for (const auto& [wheel, place] : tables) addTable(section, wheel, place, below[wheel], board, step);
        note(board);
        changeBoard(board, section);
    }

    /// The sides of a differential end in its middle on a board; real ones end half a pitch before it.
    [[nodiscard]] static Vec3 calcSideShift(const model::Board& board, const std::string& id) {
        for (const model::Gear& gear : board.gears) {
            if (gear.kind != GearKind::Differential || (gear.shaft.text != id && gear.other.text != id)) continue;
            const auto find = [&](const model::ShaftId& wanted) -> const model::Shaft* {
                for (const model::Shaft& shaft : board.shafts)
                    if (shaft.id == wanted) return &shaft;
                return nullptr;
            };
            const model::Shaft *first = find(gear.shaft), *own = find({id});
            if (!first || !own) continue;
            const int k = static_cast<int>(own->axis);
            const std::int64_t middle = at(first->atUm, k) + gear.alongUm;
            const std::int64_t low = at(own->atUm, k), high = low + own->lengthUm;
            const bool after = low + high > 2 * middle;
            const std::int64_t over = after ? middle + base::kPitchUm / 2 - low : high - (middle - base::kPitchUm / 2);
            if (over > 0) return (after ? 1 : -1) * base::umToMm(over) * Vec3::Unit(k);
        }
        return Vec3::Zero();
    }

    /// The upper half in a section of its own, on the lower one.
    void addTable(int section, const std::string& wheel, const model::Place& place, const model::PartId& lower,
                  const model::Board& board, int step) {
        // By hand: until all of it is there the project is not whole.
        auto fresh = std::make_shared<model::Section>();
        fresh->id.text = model::detail::takeId(m_next, "s");
        fresh->name = "On the turntable of " + board.name;
        fresh->place = at(m_next.sections, section)->place;
        m_next.sections.push_back(std::move(fresh));
        const int carried = static_cast<int>(m_next.sections.size()) - 1;
        model::Part upper;
        upper.id.text = wheel;
        upper.shape = *parts::makeShape("large geared turntable upper");
        upper.colour = board.colour;
        upper.place = place;
        upper.step = step;
        put(carried, upper);
        const auto portOf = [&](const model::PartId& id, parts::PortKind kind) {
            const auto& shape = *model::getPart(m_next, model::PartIndex(m_next).find(id)).shape;
            for (const parts::Port& port : shape.ports)
                if (port.kind == kind) return port.name;
            return std::string();
        };
        model::Joint joint;
        joint.name = "Turntable of " + board.name;
        joint.kind = parts::findJointKind("large geared turntable");
        joint.from = {lower, portOf(lower, parts::PortKind::GearedLower)};
        joint.to = {upper.id, portOf(upper.id, parts::PortKind::GearedUpper)};
        joint.value = {0};
        joint.id.text = model::detail::takeId(m_next, "j");
        m_next.joints.push_back(std::move(joint));
    }

    void note(const model::Board& board) {
        for (const model::Shaft& shaft : board.shafts) {
            if (!shaft.bearingsUm.empty() || !board.wallsUm.empty()) m_said.push_back(nameOf(shaft));
            if (shaft.held) m_held.push_back(nameOf(shaft));
            if (!shaft.carrier.empty()) m_carried.push_back(nameOf(shaft));
        }
    }
    void changeBoard(const model::Board& board, int section) {
        for (model::BoardPtr& each : m_next.boards) {
            if (each->id != board.id) continue;
            auto changed = std::make_shared<model::Board>(*each);
            changed->section = at(m_next.sections, section)->id;
            changed->carrier = {};
            changed->shafts.clear();
            changed->gears.clear();
            changed->couplings.clear();
            std::erase_if(changed->motors, [](const model::DriveMotor& motor) { return motor.line != "hand crank"; });
            each = std::move(changed);
        }
    }

    /// Straight ones become connectors; what is bent stays to be built.
    void addCouplings(const model::Board& board, const std::vector<model::BoardPtr>& all) {
        const auto boardOf = [&](const model::ShaftId& id) -> const model::Board* {
            for (const auto& each : all)
                for (const model::Shaft& shaft : each->shafts)
                    if (shaft.id == id) return each.get();
            return nullptr;
        };
        for (const model::Coupling& coupling : board.couplings) {
            const model::Board *a = boardOf(coupling.a), *b = boardOf(coupling.b);
            if (a && b && a == b)
                if (auto made = LineBoard::make(m_next, a->id, false)) {
                    LineBoard line = std::move(made).value();
                    if (line.couple(coupling.a, coupling.b)) {
                        m_next = line.project();
                        ++m_count;
                        continue;
                    }
                }
            m_notes.push_back("the coupling of " + coupling.a.text + " and " + coupling.b.text +
                              " is not straight or goes from board to board: build its universal joint");
        }
    }
    void addDrivingRings() {
        const auto boards = m_next.boards;
        for (const auto& board : boards) {
            std::vector<model::GearId> wheels;
            for (const model::Selector& selector : board->selectors)
                for (const auto& position : selector.positions)
                    wheels.insert(wheels.end(), position.engaged.begin(), position.engaged.end());
            if (wheels.empty() || board->section.empty()) continue;
            auto made = LineBoard::make(m_next, board->id, false);
            if (!made) continue;
            LineBoard line = std::move(made).value();
            if (const auto st = line.putDrivingRings(wheels); !st) m_notes.push_back(st.error().message);
            const auto before = m_next.partCount();
            m_next = line.project(); // as far as it came
            m_count += static_cast<int>(m_next.partCount() - before);
        }
    }

    model::Project m_next;
    int m_count = 0;
    std::vector<std::string> m_notes, m_said, m_held, m_carried;
};

} // namespace

base::Result<Converted> convertBoards(const model::Project& project) { return Converter(project).run(); }

} // namespace ivrant::drive
