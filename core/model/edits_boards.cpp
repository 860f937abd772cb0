// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/model/edits_boards.h"

#include <algorithm>
#include <set>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/model/edits_common.h"
#include "core/model/validate_boards.h"

namespace ivrant::model {

using detail::checked;
using detail::noSuch;
using detail::takeId;

namespace {

/// Replaces a board by a changed copy.
template <class Change> EditResult changeBoard(const Project& project, const BoardId& id, Change change) {
    const int b = project.findBoard(id);
    if (b < 0) return noSuch("board", id.text);
    Project next = project;
    auto copy = std::make_shared<Board>(*at(project.boards, b));
    if (base::Status st = change(next, *copy); !st) return st.error();
    at(next.boards, b) = std::move(copy);
    return checked(std::move(next));
}

template <class Entry, class Id>
EditResult putItem(const Project& project, const BoardId& board, std::vector<Entry> Board::*list, const char* prefix,
                   Entry entry, Id* newId) {
    return changeBoard(project, board, [&](Project& next, Board& copy) -> base::Status {
        auto& entries = copy.*list;
        if (entry.id.empty()) {
            entry.id.text = takeId(next, prefix);
            if (newId) *newId = entry.id;
            entries.push_back(std::move(entry));
            return {};
        }
        const auto found =
            std::find_if(entries.begin(), entries.end(), [&](const Entry& e) { return e.id == entry.id; });
        if (found == entries.end()) return noSuch("thing on the board", entry.id.text);
        if (newId) *newId = entry.id;
        *found = std::move(entry);
        return {};
    });
}

/// What must go when `gone` goes: repeated until nothing more hangs on it.
std::set<std::string> spreadRemoval(const Project& project, std::set<std::string> gone) {
    for (std::size_t before = 0; before != gone.size();) {
        before = gone.size();
        const auto has = [&](const auto& id) { return gone.count(id.text) > 0; };
        for (const BoardPtr& board : project.boards) {
            for (const Gear& gear : board->gears)
                if (has(gear.shaft) || has(gear.other)) gone.insert(gear.id.text);
            for (const Coupling& coupling : board->couplings)
                if (has(coupling.a) || has(coupling.b)) gone.insert(coupling.id.text);
            for (const Strand& strand : board->strands)
                if (has(strand.over)) gone.insert(strand.id.text);
            for (const DriveMotor& motor : board->motors)
                if (has(motor.shaft)) gone.insert(motor.id.text);
            for (const DriveFunction& function : board->functions)
                if (has(function.shaft) || has(function.gear)) gone.insert(function.id.text);
            for (const Loop& loop : board->loops)
                if (std::any_of(loop.gears.begin(), loop.gears.end(), has)) gone.insert(loop.id.text);
        }
    }
    return gone;
}

void dropFrom(Board& board, const std::set<std::string>& gone) {
    const auto drop = [&](auto& list) {
        std::erase_if(list, [&](const auto& entry) { return gone.count(entry.id.text) > 0; });
    };
    drop(board.shafts);
    drop(board.gears);
    drop(board.loops);
    drop(board.couplings);
    drop(board.strands);
    drop(board.motors);
    drop(board.selectors);
    drop(board.functions);
    const auto has = [&](const GearId& id) { return gone.count(id.text) > 0; };
    for (Selector& selector : board.selectors)
        for (SelectorPosition& position : selector.positions) std::erase_if(position.engaged, has);
    if (has(board.carrier)) board.carrier = {};
    for (Shaft& shaft : board.shafts)
        if (has(shaft.carrier)) shaft.carrier = {};
}

/// Parts of sections, and what lies on boards.
std::pair<std::vector<PartId>, std::vector<std::string>> sortOut(const Project& project,
                                                                 const std::vector<std::string>& ids) {
    const PartIndex index(project);
    std::vector<PartId> parts;
    std::vector<std::string> things;
    for (const std::string& id : ids)
        if (index.find({id}).section >= 0)
            parts.push_back({id});
        else
            things.push_back(id);
    return {std::move(parts), std::move(things)};
}

} // namespace

void detail::forgetMissingJoints(Project& next) {
    std::erase_if(next.motions, [&](const Motion& motion) { return next.findJoint(motion.joint) < 0; });
    for (Line& line : next.lines)
        if (line.works && next.findJoint(line.works->joint) < 0) line.works.reset();
    for (BoardPtr& board : next.boards) {
        const auto isMissing = [&](const DriveFunction& function) {
            return !function.joint.empty() && next.findJoint(function.joint) < 0;
        };
        if (std::none_of(board->functions.begin(), board->functions.end(), isMissing)) continue;
        auto copy = std::make_shared<Board>(*board);
        for (DriveFunction& function : copy->functions) {
            if (!isMissing(function)) continue;
            function.joint = {};
            if (function.load == LoadKind::Joint) function.load = LoadKind::None;
        }
        board = std::move(copy);
    }
}

void detail::forgetThings(Project& next, const std::set<std::string>& ids) {
    const auto gone = spreadRemoval(next, ids);
    for (BoardPtr& board : next.boards) {
        auto copy = std::make_shared<Board>(*board);
        dropFrom(*copy, gone);
        board = std::move(copy);
    }
}

EditResult addBoard(const Project& project, const std::string& name, const SectionId& section, const Place& place,
                    BoardId* newId) {
    Project next = project;
    auto board = std::make_shared<Board>();
    board->id.text = takeId(next, "b");
    board->name = name.empty() ? "Board " + std::to_string(project.boards.size() + 1) : name;
    board->section = section;
    board->place = place;
    if (newId) *newId = board->id;
    next.boards.push_back(std::move(board));
    return checked(std::move(next));
}

EditResult removeBoard(const Project& project, const BoardId& id) {
    const int b = project.findBoard(id);
    if (b < 0) return noSuch("board", id.text);
    std::vector<std::string> all;
    for (const Shaft& shaft : at(project.boards, b)->shafts) all.push_back(shaft.id.text);
    for (const Gear& gear : at(project.boards, b)->gears) all.push_back(gear.id.text);
    EditResult emptied = all.empty() ? EditResult(project) : removeFromBoard(project, all);
    if (!emptied) return emptied;
    Project next = *emptied;
    next.boards.erase(next.boards.begin() + b);
    return checked(std::move(next));
}

EditResult renameBoard(const Project& project, const BoardId& id, const std::string& name) {
    if (name.empty()) return base::Error{"edit.name", "a board needs a name", id.text};
    return changeBoard(project, id, [&](Project&, Board& board) {
        board.name = name;
        return base::Status{};
    });
}

EditResult placeBoard(const Project& project, const BoardId& id, const SectionId& section, const Place& place) {
    return changeBoard(project, id, [&](Project&, Board& board) {
        board.section = section;
        board.place = place;
        return base::Status{};
    });
}

EditResult carryBoard(const Project& project, const BoardId& id, const GearId& carrier) {
    return changeBoard(project, id, [&](Project&, Board& board) {
        board.carrier = carrier;
        return base::Status{};
    });
}

EditResult changeBoardHead(const Project& project, const Board& changed) {
    return changeBoard(project, changed.id, [&](Project&, Board& board) {
        board.name = changed.name;
        board.section = changed.section;
        board.place = changed.place;
        board.carrier = changed.carrier;
        board.wallsUm = changed.wallsUm;
        board.step = changed.step;
        board.colour = changed.colour;
        return base::Status{};
    });
}

EditResult setWalls(const Project& project, const BoardId& id, const std::vector<std::int64_t>& wallsUm) {
    return changeBoard(project, id, [&](Project&, Board& board) {
        board.wallsUm = wallsUm;
        return base::Status{};
    });
}

EditResult putShaft(const Project& project, const BoardId& board, Shaft shaft, ShaftId* newId) {
    return putItem(project, board, &Board::shafts, "h", std::move(shaft), newId);
}
EditResult putGear(const Project& project, const BoardId& board, Gear gear, GearId* newId) {
    return putItem(project, board, &Board::gears, "g", std::move(gear), newId);
}
EditResult putLoop(const Project& project, const BoardId& board, Loop loop) {
    return putItem<Loop, LoopId>(project, board, &Board::loops, "l", std::move(loop), nullptr);
}
EditResult putCoupling(const Project& project, const BoardId& board, Coupling coupling) {
    return putItem<Coupling, CouplingId>(project, board, &Board::couplings, "u", std::move(coupling), nullptr);
}
EditResult putStrand(const Project& project, const BoardId& board, Strand strand) {
    return putItem<Strand, StrandId>(project, board, &Board::strands, "y", std::move(strand), nullptr);
}
EditResult putMotor(const Project& project, const BoardId& board, DriveMotor motor) {
    return putItem<DriveMotor, MotorId>(project, board, &Board::motors, "m", std::move(motor), nullptr);
}
EditResult putSelector(const Project& project, const BoardId& board, Selector selector) {
    return putItem<Selector, SelectorId>(project, board, &Board::selectors, "e", std::move(selector), nullptr);
}
EditResult putFunction(const Project& project, const BoardId& board, DriveFunction function) {
    return putItem<DriveFunction, FunctionId>(project, board, &Board::functions, "f", std::move(function), nullptr);
}

EditResult moveOnBoard(const Project& project, const BoardId& id, const std::vector<std::string>& ids,
                       const std::array<std::int64_t, 3>& byUm) {
    return changeBoard(project, id, [&](Project&, Board& board) -> base::Status {
        std::set<std::string> open(ids.begin(), ids.end());
        const auto shift = [&](auto& entry) {
            if (open.erase(entry.id.text) == 0) return;
            for (std::size_t k = 0; k < 3; ++k) entry.atUm[k] += byUm[k];
        };
        for (Shaft& shaft : board.shafts) shift(shaft);
        for (Gear& gear : board.gears)
            if (gear.kind == GearKind::Rack) shift(gear);
        if (!open.empty()) return noSuch("shaft or rack", *open.begin());
        return {};
    });
}

EditResult moveSeen(const Project& project, const BoardId& id, const std::vector<std::string>& ids,
                    const std::array<std::int64_t, 3>& byUm) {
    const int b = project.findBoard(id);
    if (b < 0) return noSuch("board", id.text);
    const auto [parts, things] = sortOut(project, ids);
    EditResult moved = things.empty() ? EditResult(project) : moveOnBoard(project, id, things, byUm);
    if (!moved || parts.empty()) return moved;
    const geometry::Vec3 by = at(project.boards, b)->place.frame().linear() *
                              geometry::Vec3(base::umToMm(byUm[0]), base::umToMm(byUm[1]), base::umToMm(byUm[2]));
    return moveParts(*moved, parts, geometry::makeFrame(geometry::Mat3::Identity(), by));
}

EditResult removeSeen(const Project& project, const std::vector<std::string>& ids) {
    const auto [parts, things] = sortOut(project, ids);
    EditResult removed = things.empty() ? EditResult(project) : removeFromBoard(project, things);
    return !removed || parts.empty() ? removed : removeParts(*removed, parts);
}

EditResult removeFromBoard(const Project& project, const std::vector<std::string>& ids) {
    std::set<std::string> known;
    for (const BoardPtr& board : project.boards)
        forEachItem(*board, [&](const char*, std::size_t, const std::string& item) { known.insert(item); });
    for (const std::string& id : ids)
        if (known.count(id) == 0) return noSuch("thing on a board", id);
    Project next = project;
    detail::forgetThings(next, {ids.begin(), ids.end()});
    return checked(std::move(next));
}

EditResult setSelectorPosition(const Project& project, const SelectorId& id, int position) {
    for (const BoardPtr& board : project.boards)
        for (const Selector& selector : board->selectors)
            if (selector.id == id) {
                Selector moved = selector;
                moved.at = position;
                return putSelector(project, board->id, std::move(moved));
            }
    return noSuch("selector", id.text);
}

} // namespace ivrant::model
