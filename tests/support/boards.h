// SPDX-License-Identifier: GPL-3.0-or-later
// A gear board for the tests, laid out in pitches.
#pragma once

#include "core/drive/board_reader.h"
#include "core/drive/drive_report.h"
#include "core/model/board_parts.h"
#include "core/model/edits_boards.h"
#include "tests/support/figures.h"

namespace ivrant::test {

struct BoardFigure {
    model::Project project = model::makeEmptyProject("Trial board");
    model::BoardId board;

    BoardFigure() { addBoard({}, {}); }

    void addBoard(const model::SectionId& section, const model::Place& place) {
        project = must(model::addBoard(project, "", section, place, &board));
    }

    static std::int64_t um(double pitches) { return static_cast<std::int64_t>(std::llround(pitches * 8000)); }

    /// At x, y, z pitches, `length` pitches long.
    model::ShaftId shaft(double x, double y, double length = 4, double z = 0,
                         model::BoardAxis axis = model::BoardAxis::Out, const std::string& name = "") {
        model::Shaft added;
        added.name = name;
        added.atUm = {um(x), um(y), um(z)};
        added.axis = axis;
        added.lengthUm = um(length);
        model::ShaftId id;
        project = must(model::putShaft(project, board, std::move(added), &id));
        return id;
    }
    model::GearId gear(const model::ShaftId& on, model::GearKind kind, int teeth, double along, bool loose = false) {
        model::Gear added;
        added.kind = kind;
        added.teeth = teeth;
        added.shaft = on;
        added.alongUm = um(along);
        added.loose = loose;
        return put(std::move(added));
    }
    model::GearId spur(const model::ShaftId& on, int teeth, double along = 1) {
        return gear(on, model::GearKind::Spur, teeth, along);
    }
    model::GearId put(model::Gear added) {
        model::GearId id;
        project = must(model::putGear(project, board, std::move(added), &id));
        return id;
    }
    model::GearId rack(double x, double y, double z, int teeth, model::BoardAxis axis = model::BoardAxis::Right) {
        model::Gear added;
        added.kind = model::GearKind::Rack;
        added.teeth = teeth;
        added.atUm = {um(x), um(y), um(z)};
        added.axis = axis;
        return put(std::move(added));
    }
    void motor(const model::ShaftId& on, const std::string& line = "motor medium") {
        project = must(model::putMotor(project, board, {{}, "M", line, on, false, {}}));
    }
    void function(model::DriveFunction added) { project = must(model::putFunction(project, board, std::move(added))); }

    [[nodiscard]] std::vector<geometry::Frame> poses() const {
        return model::calcBoardFrames(
            {&project, std::vector<geometry::Frame>(project.sections.size(), geometry::Frame::Identity()), {}});
    }
    [[nodiscard]] drive::DriveNet net() const {
        return drive::makeDriveNet(drive::readBoards(project, poses()), drive::listEngaged(project));
    }
    [[nodiscard]] drive::DriveReport report() const {
        return drive::calcDriveReport(project, drive::readBoards(project, poses()));
    }
    /// Turns of `to` for one of `from`, as text.
    template <class From, class To> [[nodiscard]] std::string ratio(const From& from, const To& to) const {
        const auto made = net();
        const int driver = made.findRotor(from.text);
        return drive::formatRatio(drive::solveTrain(made.train, {driver}).ratio(made.findRotor(to.text), driver));
    }
};

} // namespace ivrant::test
