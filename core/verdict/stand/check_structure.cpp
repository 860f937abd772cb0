// SPDX-License-Identifier: GPL-3.0-or-later
// Verdicts on what is weak by its pattern, and on moves. Part of check_stand.h.
#include <algorithm>
#include <cmath>
#include <map>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/stand/cases.h"
#include "core/study/asked_tip.h"
#include "core/study/case_words.h"
#include "core/study/stand_cases.h"
#include "core/verdict/stand/check_stand.h"

namespace ivrant::verdict {
namespace {

using base::formatNumber;

constexpr std::size_t kMostPlaces = 200;

class StructureCheck {
public:
    StructureCheck(const study::Facts& facts, VerdictList& list)
        : m_facts(facts), m_project(*facts.project), m_structure(*facts.structure), m_list(list) {}

    void run() {
        addSeams();
        addNeck();
        addPiece();
        addFriction();
        addBases();
    }

private:
    Verdict& add(const std::string& check, const std::string& rest) { return m_list.add(check, rest, Station::Stand); }
    [[nodiscard]] const model::Part& partOf(int body) const {
        return getPart(m_project, ivrant::at(m_structure.net.bodies, body).spot);
    }
    [[nodiscard]] std::string nameOf(int body) const {
        return study::describePart(m_project, ivrant::at(m_structure.net.bodies, body).spot);
    }
    void placeBodies(Verdict& v, const std::vector<int>& bodies) const {
        for (std::size_t i = 0; i < bodies.size() && i < kMostPlaces; ++i)
            v.place.parts.push_back(partOf(bodies[i]).id);
    }
    /// "1 plate", "30 plates": of the whole height, or of the first of a range.
    [[nodiscard]] static std::string inPlates(double mm) {
        const std::string plates = formatNumber(mm / base::kPlateMm, 0);
        return plates + (plates == "1" ? " plate" : " plates");
    }

    static std::string countParts(std::size_t count) {
        return std::to_string(count) + (count == 1 ? " part" : " parts");
    }
    /// Between two columns of cells, whose middles are whole pitches, or through the middle of one.
    static std::string describePlane(const stand::Seam& seam) {
        const double at = seam.atMm / base::kPitchMm;
        const std::string axis = seam.axis == 0 ? "x" : "y";
        if (std::abs(at - std::round(at)) < 0.1) return "at " + axis + " " + formatNumber(at, 0);
        return "between " + axis + " " + formatNumber(at - 0.5, 0) + " and " + formatNumber(at + 0.5, 0);
    }
    void addSeams() {
        std::map<int, std::vector<const stand::Seam*>> bySection;
        for (const stand::Seam& seam : m_structure.seams) bySection[seam.section].push_back(&seam);
        for (const auto& [section, seams] : bySection) {
            const stand::Seam& worst = *seams.front();
            Verdict& v = add("seam", ivrant::at(m_project.sections, section)->id.text);
            v.place.section = ivrant::at(m_project.sections, section)->id;
            for (std::size_t i = 0; i < worst.parts.size() && i < kMostPlaces; ++i)
                v.place.parts.push_back(getPart(m_project, worst.parts[i]).id);
            v.value = worst.courses;
            v.limit = stand::kSeamCourses - 1;
            v.unit = "courses";
            v.state = State::Thin;
            v.weight = 0.8;
            v.text = "Straight seam through " + std::to_string(worst.courses) + " courses in " +
                     ivrant::at(m_project.sections, section)->name;
            v.detail = describePlane(worst) + ", " + formatNumber(worst.bottomMm / base::kPlateMm, 0) + " to " +
                       inPlates(worst.topMm) + " up: no part reaches across";
            if (seams.size() > 1) v.detail += "; " + std::to_string(seams.size() - 1) + " more";
        }
    }
    void addNeck() {
        const study::PoseFacts& pose = m_facts.poses.front();
        if (m_structure.necks.empty() || !pose.tipping || pose.stance.kind == model::Stance::Kind::Held ||
            pose.tipping->angleDeg < 0)
            return;
        const stand::Neck* found = study::findNeck(m_structure, pose);
        if (!found) return;
        const stand::Neck& neck = *found;
        Verdict& v = add("neck", pose.id ? pose.id->text : "present");
        v.place.pose = pose.id;
        for (const int k : neck.contacts) {
            const stand::Contact& contact = ivrant::at(m_structure.net.contacts, k);
            placeBodies(v, {contact.a, contact.b});
        }
        v.value = neck.shakeG;
        const double tiltDeg = study::getAskedTipDeg(m_project);
        v.limit = std::tan(base::degToRad(tiltDeg));
        v.unit = "g";
        v.margin = neck.shakeG / v.limit;
        v.basis = Basis::Starting;
        v.state = getStateOfMargin(v.margin);
        std::size_t studs = 0;
        for (const int k : neck.contacts) studs += ivrant::at(m_structure.net.contacts, k).studs.size();
        v.detail = countParts(neck.above.size()) + ", " + formatNumber(neck.massG, 0) + " g, stand" +
                   (neck.above.size() == 1 ? "s on " : " on ") + std::to_string(studs) +
                   (studs == 1 ? " stud " : " studs ") + inPlates(neck.atZ) + " up: shaken sideways with " +
                   formatNumber(neck.shakeG, 2) + " g, or pushed with " + formatNumber(neck.pushN, 2) + " N at " +
                   formatNumber(neck.atZ + neck.topMm, 0) + " mm, they open there; asked " + formatNumber(v.limit, 2) +
                   " g, as on a tilt of " + formatNumber(tiltDeg, 0) + "° (starting values)";
        v.text = (v.state == State::Fail   ? "Section too slender in "
                  : v.state == State::Thin ? "Slender section in "
                                           : "Sections are stout in ") +
                 pose.name;
    }
    void addPiece() {
        if (m_structure.pieces.empty()) return;
        const stand::Piece& piece = m_structure.pieces.front();
        Verdict& v = add("tug", "model");
        placeBodies(v, piece.bodies);
        v.value = piece.forceN;
        v.limit = stand::kTugN;
        v.unit = "N";
        v.basis = Basis::Starting;
        v.state = State::Thin;
        v.weight = 0.4;
        v.text = std::to_string(piece.bodies.size()) + " parts come off when one is pulled";
        v.detail = formatNumber(piece.forceN, 1) + " N at " + nameOf(piece.pulled) + " take " +
                   formatNumber(piece.massG, 0) + " g along; hands tug with about " + formatNumber(stand::kTugN, 0) +
                   " N (starting values)";
        if (m_structure.pieces.size() > 1)
            v.detail += "; " + std::to_string(m_structure.pieces.size() - 1) + " more such pieces";
    }
    void addFriction() {
        for (const stand::FrictionHeld& held : m_structure.friction) {
            Verdict& v = add("friction", partOf(held.bodies.front()).id.text);
            placeBodies(v, held.bodies);
            v.value = base::weightN(held.massG) * stand::kBumpDownG;
            v.limit = held.holdsN;
            v.unit = "N";
            v.margin = v.value > 0 ? std::optional(held.holdsN / v.value) : std::nullopt;
            v.basis = Basis::Starting;
            const bool strict = m_project.rules == model::BuildRules::Strict;
            v.state = getStateOfMargin(v.margin) == State::Fail ? State::Fail : strict ? State::Thin : State::Good;
            v.text = (held.bodies.size() == 1 ? nameOf(held.bodies.front()) + " is"
                                              : std::to_string(held.bodies.size()) + " parts are") +
                     " held by friction only";
            v.detail = formatNumber(held.holdsN, 1) + " N hold " + formatNumber(held.massG, 1) + " g" +
                       (strict ? "; the build rules ask for clean connections" : "; the build rules allow it") +
                       " (starting values)";
        }
    }
    void addBases() {
        for (const stand::FlexibleBase& flexible : m_structure.bases) {
            Verdict& v = add("base-flex", partOf(flexible.body).id.text);
            placeBodies(v, {flexible.body});
            v.value = flexible.sagMm;
            v.limit = stand::kSagMm;
            v.unit = "mm";
            v.margin = stand::kSagMm / flexible.sagMm;
            v.basis = Basis::Starting;
            v.state = getStateOfMargin(v.margin);
            v.text = v.state == State::Good ? "The base is stiff enough to lift" : "The base bends when it is lifted";
            v.detail = nameOf(flexible.body) + ", lifted at two ends, sags " + formatNumber(flexible.sagMm, 1) +
                       " mm under " + formatNumber(flexible.loadG, 0) + " g; nothing spans " +
                       formatNumber(flexible.bareMm, 0) + " mm of it (stiffness is a starting value)";
            if (v.state != State::Good)
                v.detail += ". A second layer of plates across the joints of the first stiffens it, or a tray under it";
        }
    }

    const study::Facts& m_facts;
    const model::Project& m_project;
    const study::Structure& m_structure;
    VerdictList& m_list;
};

} // namespace

void judgeStructure(const study::Facts& facts, VerdictList& list) {
    if (facts.structure) StructureCheck(facts, list).run();
}

void judgeMoves(const study::Facts& facts, VerdictList& list) {
    for (const study::MoveTip& move : facts.moves) {
        if (move.leastDeg >= move.endsDeg - 0.05 && move.from) continue; // both ends have verdicts of their own
        Verdict& v = list.add("tip-move", move.key, Station::Stand);
        v.place.joint = move.joint;
        v.place.pose = move.from;
        v.place.things = {move.key};
        v.value = move.leastDeg;
        v.limit = study::getAskedTipDeg(*facts.project);
        v.unit = "deg";
        v.margin = move.leastDeg / study::getAskedTipDeg(*facts.project);
        v.basis = Basis::Starting;
        v.state = getStateOfMargin(v.margin);
        v.text = move.name + (move.leastDeg < 0        ? ": falls over on the way"
                              : v.state == State::Fail ? ": nearly tips on the way"
                                                       : ": stands on the way");
        v.detail = "tips at " + formatNumber(move.leastDeg, 1) + "° towards " + formatNumber(move.towardDeg, 0) +
                   "°, " + formatNumber(100 * move.atShare, 0) + " % of the way; asked " +
                   formatNumber(study::getAskedTipDeg(*facts.project), 0) + "° (" +
                   study::describeAskedTip(*facts.project) + "); " + std::to_string(study::kMoveSteps + 1) +
                   " places looked at, masses as in the poses";
    }
}

} // namespace ivrant::verdict
