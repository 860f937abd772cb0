// SPDX-License-Identifier: GPL-3.0-or-later
// Machines of parts for the tests: walls with holes, shafts, wheels, a motor on its seat.
#pragma once

#include "core/drive/ratio_text.h"
#include "core/model/edits_boards.h"
#include "core/study/drive_inputs.h"
#include "tests/support/figures.h"

namespace ivrant::test {

struct Machine : Figure {
    model::BoardId board; ///< that has the functions

    Machine() { project = must(model::addBoard(project, "Gear room", project.sections.front()->id, {}, &board)); }

    model::PartId add(const std::string& typed) { return put(0, typed); }
    model::DriveFunction turn(const std::string& name, const model::PartId& axle, double nmm = 20) {
        model::DriveFunction function;
        function.name = name;
        function.shaft.text = axle.text;
        function.load = model::LoadKind::Friction;
        function.amount = nmm;
        return put(std::move(function));
    }
    model::DriveFunction put(model::DriveFunction function) {
        project = must(model::putFunction(project, board, std::move(function)));
        return project.boards.front()->functions.back();
    }
    using Figure::put;
    void name(const model::PartId& part, const std::string& text) {
        project = must(model::namePart(project, part, text));
    }
    void remove(const model::PartId& part) { project = must(model::removeParts(project, {&part, 1})); }
    void lift(const model::PartId& part, double mm) {
        project =
            must(model::moveParts(project, {&part, 1}, geometry::makeFrame(geometry::Mat3::Identity(), {0, 0, mm})));
    }
    [[nodiscard]] drive::DriveReport report() const { return study::calcDrive(placed(), tree()); }
    /// Turns of `to` for one of `from`, as text.
    [[nodiscard]] std::string ratio(const model::PartId& from, const model::PartId& to) const {
        const auto made = report();
        const int driver = made.net.findRotor(from.text), driven = made.net.findRotor(to.text);
        if (driver < 0 || driven < 0) return "nothing";
        return drive::formatRatio(drive::solveTrain(made.net.train, {driver}).ratio(driven, driver));
    }
};

/// A motor on its seat turns an 8 that drives a 24, between two walls of bricks: shafts along x, 28 mm up.
struct SeatedGearbox : Machine {
    model::PartId motor, input, output, small, large, seatA, seatB;

    SeatedGearbox() {
        add("plate 16x8 slate at 0 0 0");
        for (const char* part : {"brick 2x4 fog at 0 1 1", "brick 2x4 fog at 4 1 1"}) add(part);
        seatA = add("plate 2x4 fog at 0 1 4");
        seatB = add("plate 2x4 fog at 4 1 4");
        for (const char* x : {"7", "10"})
            for (const char* part : {"brick 1x4 fog at @ 1 1", "brick 1x4 fog at @ 1 4",
                                     "pin hole brick 1x1 fog at @ 2 7", "pin hole brick 1x1 fog at @ 4 7"}) {
                const std::string typed(part);
                const auto mark = typed.find('@');
                add(typed.substr(0, mark) + x + typed.substr(mark + 1));
            }
        motor = add("motor medium fog at 0 2 5");
        input = add("axle 6 soot at 36mm 16mm 28mm");
        output = add("axle 4 soot at 52mm 32mm 28mm");
        small = add("spur gear 8 gorse at 68mm 16mm 28mm");
        large = add("spur gear 24 gorse at 68mm 32mm 28mm");
    }
};

} // namespace ivrant::test
