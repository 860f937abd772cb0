// SPDX-License-Identifier: GPL-3.0-or-later
// What typed lines and found trains lay on a board, laid as parts of its section; on a board of an older file, which
// has a list of things of its own, as things of that list. For use inside core/drive.
#pragma once

#include "core/drive/plane_parts.h"
#include "core/model/edits_boards.h"

namespace ivrant::drive {

class LineBoard {
public:
    /// Error "edit.missing". A board that lives alone and is empty begins a section of its own with the first part.
    [[nodiscard]] static base::Result<LineBoard> make(const model::Project& project, const model::BoardId& board,
                                                      bool ownThings);

    [[nodiscard]] bool ofParts() const { return m_parts; }
    [[nodiscard]] const model::Project& project() const { return m_project; }
    [[nodiscard]] const model::Board& board() const;
    /// Valid until the next change.
    [[nodiscard]] const std::vector<model::Shaft>& shafts() const;
    [[nodiscard]] const std::vector<model::Gear>& gears() const;
    [[nodiscard]] const model::Shaft* findShaft(const std::string& id) const;
    [[nodiscard]] std::string shaftName(const model::ShaftId& id) const;

    base::Status take(model::EditResult result);
    base::Status putShaft(model::Shaft shaft, model::ShaftId* newId);
    /// As parts: with `anywhere` on the nearest free half pitch of its shaft, else just there. Error "line.room".
    base::Status putGear(model::Gear gear, bool anywhere = false, model::GearId* newId = nullptr);
    /// Before the start of the shaft, or beyond its end; an axle without room there for a wall is exchanged for a
    /// longer one.
    base::Status putMotor(const std::string& line, const model::ShaftId& shaft, bool atEnd);
    base::Status couple(const model::ShaftId& a, const model::ShaftId& b);
    /// Parts: both halves on the line at a place, the upper one in a section of its own; the wheel's id.
    base::Status putTurntable(int teeth, const std::array<std::int64_t, 3>& atUm, model::BoardAxis axis,
                              std::string& wheel);
    /// One beside each of these clutch wheels whose shaft has none in reach.
    base::Status putDrivingRings(const std::vector<model::GearId>& wheels);
    base::Status addParts(const std::vector<model::NewPart>& parts, std::vector<model::PartId>* newIds = nullptr);

private:
    LineBoard(model::Project project, model::BoardId board, bool parts);
    base::Status needSection();
    [[nodiscard]] const model::Section& section() const;
    [[nodiscard]] int findPart(const std::string& id) const; ///< in the section; −1: none
    base::Status putPart(const base::Result<model::NewPart>& part, std::string* newId);
    /// Nearest place to `alongUm` on half pitches with `halfMm` free to both sides.
    [[nodiscard]] base::Result<std::int64_t> findRoom(const model::Shaft& shaft, std::int64_t alongUm,
                                                      double halfMm) const;
    base::Status lengthen(const model::ShaftId& shaft, int pitches, bool atEnd);
    void look();

    model::Project m_project;
    model::BoardId m_board;
    bool m_parts = false;
    PlaneParts m_seen;
};

} // namespace ivrant::drive
