// SPDX-License-Identifier: GPL-3.0-or-later
// What the verdicts on gear boards have in common: how one is added, and the names of what it is about. For use inside
// core/verdict.
#pragma once

#include <optional>

#include "core/base/at.h"
#include "core/verdict/drive/check_drive.h"

namespace ivrant::verdict {

class DriveVerdicts {
protected:
    DriveVerdicts(const study::Facts& facts, VerdictList& list)
        : m_facts(facts), m_drive(*facts.drive), m_net(m_drive.net), m_list(list) {}

    Verdict& add(const std::string& check, const std::string& idRest, State state, const std::string& text) {
        Verdict& v = m_list.add(check, idRest, Station::Drive);
        v.state = state;
        v.text = text;
        return v;
    }
    [[nodiscard]] const model::Board& boardOf(int board) const { return *at(m_facts.project->boards, board); }
    [[nodiscard]] const drive::Ring& gear(int index) const { return at(m_net.rings, index); }
    [[nodiscard]] std::string nameOf(const drive::Ring& ring) const { return m_net.nameOf(ring); }
    static void compare(Verdict& v, double value, double limit, const std::string& unit, double margin, Basis basis) {
        v.value = value;
        v.limit = limit;
        v.unit = unit;
        v.margin = margin;
        v.state = getStateOfMargin(margin);
        v.basis = basis;
    }
    /// Where a shaft or wheel is: on its board, or the part that it is. What is neither has no place.
    void locate(Verdict& v, const std::string& id) {
        const int ring = m_net.findRing(id), rotor = m_net.findRotor(id);
        if (ring < 0 && rotor < 0) return;
        const int board = ring >= 0 ? gear(ring).board : at(m_net.rotors, rotor).board;
        if (board >= 0) {
            if (!v.place.board) v.place.board = boardOf(board).id;
            return;
        }
        locatePart(v, id);
    }
    void locatePart(Verdict& v, const std::string& id) {
        if (!m_index) m_index.emplace(*m_facts.project);
        const model::PartSpot spot = m_index->find({id});
        if (spot.section < 0) return;
        v.place.section = at(m_facts.project->sections, spot.section)->id;
        v.place.parts.push_back({id});
    }

    const study::Facts& m_facts;
    const drive::DriveReport& m_drive;
    const drive::DriveNet& m_net;
    VerdictList& m_list;

private:
    std::optional<model::PartIndex> m_index; ///< when first needed
};

} // namespace ivrant::verdict
