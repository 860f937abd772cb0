// SPDX-License-Identifier: GPL-3.0-or-later
// What of each section holds together, and what does not? Part of check_shape.h.
#include "core/verdict/shape/check_shape.h"

#include <algorithm>
#include <cmath>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/geometry/corners.h"
#include "core/geometry/gap.h"
#include "core/parts/placed_solid.h"
#include "core/parts/usual_sizes.h"
#include "core/trials/strengths.h"

namespace ivrant::verdict {
namespace {

using base::formatNumber;
using model::Part;

/// Within a section that is named anyway.
std::string describeIn(const model::Section& section, int index) {
    return ivrant::at(section.parts, index).shape->name;
}

constexpr double kIdleShare = 0.02; ///< of what a stud holds: less hanging on it is no load
constexpr double kNoLeverMm =
    8.1; ///< held parts that reach no further from their stud give a hand nothing to turn them by
constexpr double kUprightCos = 0.5,
                 kSlipMm = 1; ///< steeper than 60° to the plumb line it stays; how far it is let slip in thought
constexpr double kUnusualWeight = 0.2; ///< among thin findings without a margin
constexpr double kOneBondWeight = 0.1; ///< among thin findings without a margin

class ShapeCheck {
public:
    ShapeCheck(const study::Facts& facts, VerdictList& list)
        : m_facts(facts), m_project(*facts.project), m_list(list) {}

    void run() {
        for (std::size_t s = 0; s < m_project.sections.size(); ++s) addSection(s);
        addUnjoined();
    }

private:
    void addSection(std::size_t s) {
        const model::Section& section = *m_project.sections[s];
        const bonds::SectionBonds& bonds = *m_facts.bonds[s];
        for (const auto& overlap : bonds.overlaps) {
            const Part &a = ivrant::at(section.parts, overlap.partA), &b = ivrant::at(section.parts, overlap.partB);
            Verdict& v = m_list.add("overlap", a.id.text + "/" + b.id.text, Station::Shape);
            v.place.section = section.id;
            v.place.parts = {a.id, b.id};
            v.value = overlap.depthMm;
            v.limit = geometry::kContactToleranceMm;
            v.unit = "mm";
            v.state = State::Fail;
            v.text = overlap.studInBody ? "Stud has no cell above it in " + section.name
                                        : "Two parts overlap in " + section.name;
            v.detail = describeIn(section, overlap.partA) + " and " + describeIn(section, overlap.partB) + ", " +
                       formatNumber(overlap.depthMm, 2) + " mm deep";
        }
        if (!bonds.loose.empty()) {
            Verdict& v = m_list.add("loose", section.id.text, Station::Shape);
            v.place.section = section.id;
            for (int p : bonds.loose) v.place.parts.push_back(ivrant::at(section.parts, p).id);
            v.value = static_cast<double>(bonds.loose.size());
            v.unit = "parts";
            v.state = State::Fail;
            v.text = bonds.loose.size() == 1 ? "A part is loose in " + section.name
                                             : formatNumber(v.value, 0) + " parts are loose in " + section.name;
            v.detail = describeIn(section, bonds.loose.front()) + (bonds.loose.size() > 1 ? " and others" : "") +
                       ": held by nothing";
        } else if (section.parts.size() > 1) {
            Verdict& v = m_list.add("loose", section.id.text, Station::Shape);
            v.place.section = section.id;
            v.unit = "parts";
            v.text = "All parts of " + section.name + " are held";
            v.detail = formatNumber(static_cast<double>(section.parts.size()), 0) + " parts, none loose";
        }
        for (const auto& single : bonds.singles) addSingle(section, bonds, single);
        for (const Part& part : section.parts) addUnusual(section, part);
        for (std::size_t p = 0; p < section.parts.size(); ++p)
            if (section.parts[p].shape->family == "axle") addLooseAxle(s, static_cast<int>(p));
    }

    /// Round holes let an axle slide: one that stands upright in them alone falls out, unless something is under its
    /// end.
    void addLooseAxle(std::size_t s, int index) {
        const model::Section& section = *m_project.sections[s];
        const Part& axle = ivrant::at(section.parts, index);
        bool runs = false;
        for (const auto& mate : m_facts.bonds[s]->mates) {
            if (mate.partA != index && mate.partB != index) continue;
            if (mate.kind != parts::BondKind::Pin) return; // a cross hole holds it
            runs = true;
        }
        for (const model::Joint& joint : m_project.joints)
            if (joint.from.part == axle.id || joint.to.part == axle.id) return; // the joint says how it is held
        if (!runs) return;                                                      // loose anyway
        const model::PartSpot spot{static_cast<int>(s), index};
        const geometry::Frame X = m_facts.present.placed.X_WP(spot);
        const geometry::Vec3 along = X.linear().col(0);
        if (std::abs(along.z()) < kUprightCos) return; // it lies
        geometry::Frame lower = X;
        lower.translation().z() -= kSlipMm;
        const auto bottom = geometry::calcBounds(axle.shape->solids.front().solid, lower).low.z();
        if (bottom < 0) return; // stands on the ground
        for (std::size_t o = 0; o < section.parts.size(); ++o) {
            if (static_cast<int>(o) == index) continue;
            const bool mated = std::any_of(
                m_facts.bonds[s]->mates.begin(), m_facts.bonds[s]->mates.end(), [&](const bonds::Mate& mate) {
                    return std::minmax(mate.partA, mate.partB) == std::minmax(index, static_cast<int>(o));
                });
            if (mated) continue;
            const geometry::Frame at = m_facts.present.placed.X_WP({static_cast<int>(s), static_cast<int>(o)});
            for (const auto& solid : section.parts[o].shape->solids)
                if (geometry::calcToleratedGap(parts::placeSolid(axle.shape->solids.front(), lower),
                                               parts::placeSolid(solid, at))
                        .distance <= 0)
                    return; // it stands on that
        }
        Verdict& v = m_list.add("slides-out", axle.id.text, Station::Shape);
        v.place.section = section.id;
        v.place.parts = {axle.id};
        v.state = State::Fail;
        v.text = "An upright " + axle.shape->name + " of " + section.name + " slides out";
        v.detail =
            "it runs in round holes alone and nothing is under its end: a bush, a wheel or a part below holds it";
    }

    /// A size that is hard to come by.
    void addUnusual(const model::Section& section, const Part& part) {
        if (parts::isUsualSize(*part.shape)) return;
        Verdict& v = m_list.add("unusual", part.id.text, Station::Shape);
        v.place.section = section.id;
        v.place.parts = {part.id};
        v.state = State::Thin;
        v.basis = Basis::Starting;
        v.weight = kUnusualWeight;
        v.text = part.shape->name + " of " + section.name + " is no usual size";
        v.detail = "not in the list of usual sizes (a starting list, yours to edit)";
    }

    void addSingle(const model::Section& section, const bonds::SectionBonds& bonds, const bonds::SingleBond& single) {
        const auto& mate = ivrant::at(bonds.mates, single.mate);
        const Part &a = ivrant::at(section.parts, mate.partA), &b = ivrant::at(section.parts, mate.partB);
        const bool stud = mate.kind == parts::BondKind::Stud;
        Verdict& v = m_list.add("one-bond", a.id.text + "/" + b.id.text, Station::Shape);
        v.place.section = section.id;
        for (int p : single.held) v.place.parts.push_back(ivrant::at(section.parts, p).id);
        v.value = base::weightN(single.heldG);
        v.unit = "N";
        v.basis = Basis::Starting;
        const std::string what = single.held.size() == 1
                                     ? ivrant::at(section.parts, single.held[0]).shape->name
                                     : formatNumber(static_cast<double>(single.held.size()), 0) + " parts";
        const bool friction = mate.kind == parts::BondKind::Friction;
        v.text = section.name + ": " + what +
                 (stud       ? " held by one stud"
                  : friction ? " held by friction only"
                             : " held by one bond");
        if (stud) {
            const model::Capacity studPull = trials::calcStudPull(m_project);
            v.limit = studPull.value;
            if (studPull.measured) v.basis = Basis::Measured;
            // One stud is the finding; how much it could carry is a margin only where it comes near.
            if (v.value > 1e-9 && v.limit / v.value < 1.5) v.margin = v.limit / v.value;
            v.detail = "hangs " + (v.value < 0.005 ? std::string("next to nothing") : formatNumber(v.value, 2) + " N") +
                       " on a stud good for " + formatNumber(v.limit, 1) + " N (" + shortBasis(studPull) +
                       "); it can turn";
        } else {
            v.detail =
                describeIn(section, mate.partA) + " on " + describeIn(section, mate.partB) + ": it can turn or slide";
        }
        // A single bond is never good, unless the part is so small that it cannot have two.
        const auto& first = *ivrant::at(section.parts, single.held[0]).shape;
        const auto cells = std::count_if(first.ports.begin(), first.ports.end(),
                                         [](const parts::Port& p) { return p.kind == parts::PortKind::Cell; });
        const bool byNature = single.held.size() == 1 && cells <= 1;
        const bool clean = friction ? m_project.rules == model::BuildRules::Display : byNature;
        // Without load and lever it has no consequence; nor where parts so small are meant to sit on one stud.
        const bool idle =
            stud && v.value <= kIdleShare * v.limit && calcReach(section, mate, single.held) <= kNoLeverMm;
        v.state = v.margin            ? getStateOfMargin(v.margin)
                  : friction && clean ? State::Good
                  : clean || idle     ? State::Note
                                      : State::Thin;
        v.weight = kOneBondWeight;
    }

    /// How far, across the bond's axis, the held parts reach from it: what a hand could turn them by.
    static double calcReach(const model::Section& section, const bonds::Mate& mate, const std::vector<int>& held) {
        const Part& part = ivrant::at(section.parts, mate.partA);
        const auto& port = ivrant::at(part.shape->ports, mate.portA);
        const geometry::Frame X = part.place.frame();
        const geometry::Vec3 at = X * port.origin, axis = X.linear() * port.axis;
        double reach = 0;
        for (const int p : held) {
            const Part& other = ivrant::at(section.parts, p);
            std::vector<geometry::Vec3> corners;
            for (const auto& solid : other.shape->solids)
                geometry::appendCorners(corners, solid.solid, other.place.frame());
            for (const auto& c : corners) reach = std::max(reach, ((c - at) - axis * axis.dot(c - at)).norm());
        }
        return reach;
    }

    /// Sections that no joint ties to the first one: they would fall off the table's model.
    void addUnjoined() {
        int first = -1;
        for (int s : m_facts.tree.order) {
            const model::Section& section = *ivrant::at(m_project.sections, s);
            if (section.parts.empty() || ivrant::at(m_facts.tree.carrier, s) >= 0) continue;
            if (first < 0) {
                first = s;
                continue;
            }
            Verdict& v = m_list.add("unjoined", section.id.text, Station::Shape);
            v.place.section = section.id;
            v.state = State::Thin;
            v.weight = 0.9;
            v.text = section.name + " is joined to nothing";
            v.detail = "bring two movable ports together and join them, or move its parts to another section";
        }
    }

    const study::Facts& m_facts;
    const model::Project& m_project;
    VerdictList& m_list;
};

} // namespace

void judgeShape(const study::Facts& facts, VerdictList& list) { ShapeCheck(facts, list).run(); }

} // namespace ivrant::verdict
