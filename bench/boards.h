// SPDX-License-Identifier: GPL-3.0-or-later
// A large gear board for measuring.
#pragma once

#include "core/drive/board_line.h"
#include "core/model/edits_boards.h"

namespace ivrant::bench {

/// A board of wheels in rows of meshing 16s, each row with a motor at its left and a function at its right.
inline model::Project makeBoard(int wheels, model::BoardId& board) {
    auto project = model::addBoard(model::makeEmptyProject("Bench"), "", {}, {}, &board).value();
    model::ShaftId shaft;
    for (int i = 0; i < wheels; ++i) {
        const int x = i % 10, y = i / 10;
        model::Shaft added;
        added.atUm = {x * 16'000, y * 40'000, 0};
        added.lengthUm = 24'000;
        project = model::putShaft(project, board, added, &shaft).value();
        model::Gear gear;
        gear.teeth = 16;
        gear.shaft = shaft;
        gear.alongUm = 8'000;
        project = model::putGear(project, board, gear).value();
        if (x == 0) project = model::putMotor(project, board, {{}, "M", "motor medium", shaft, false, {}}).value();
        if (x == 9) {
            model::DriveFunction function;
            function.name = "F";
            function.shaft = shaft;
            function.load = model::LoadKind::Lift;
            function.amount = 100;
            function.radiusMm = 10;
            function.travel = 360;
            project = model::putFunction(project, board, function).value();
        }
    }
    return project;
}

/// The same typed, as parts: rows of ten wheels, each row with its motor and a function.
inline model::Project makePartBoard(int wheels, model::BoardId& board) {
    auto project = drive::beginBoard(model::makeEmptyProject("Bench"), board).value();
    const auto put = [&](const std::string& text, const std::string& chosen) {
        drive::BoardHand hand;
        hand.board = board;
        if (!chosen.empty()) hand.chosen = {chosen};
        auto result = drive::applyBoardLine(project, hand, drive::parseBoardLine(text).value()).value();
        project = std::move(result.project);
        return result.added;
    };
    for (int i = 0; i < wheels; ++i) {
        const int x = i % 10, y = i / 10;
        const std::string shaft = put("16 at " + std::to_string(2 * x) + " " + std::to_string(5 * y), "");
        if (x == 0) put("motor medium", shaft);
        if (x == 9) put("function F load lift 100 g radius 10 mm travel 360", shaft);
    }
    return project;
}

} // namespace ivrant::bench
