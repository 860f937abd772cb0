// SPDX-License-Identifier: GPL-3.0-or-later
// What the verdicts on gear boards have in common: how one is added, and the names of what it is about. For use inside
// core/verdict.
#pragma once

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
    [[nodiscard]] std::optional<model::BoardId> findBoardOf(const std::string& id) const {
        const int thing = m_net.findRotor(id);
        if (thing < 0) return std::nullopt;
        return boardOf(at(m_net.rotors, thing).board).id;
    }

    const study::Facts& m_facts;
    const drive::DriveReport& m_drive;
    const drive::DriveNet& m_net;
    VerdictList& m_list;
};

} // namespace ivrant::verdict
