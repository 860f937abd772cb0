// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/kept_facts.h"

#include <algorithm>
#include <tuple>

#include "core/base/at.h"
#include "core/pose/stance.h"

namespace ivrant::study {
namespace {

template <class List, class Same> bool areSame(const List& l, const List& r, const Same& same) {
    return std::equal(l.begin(), l.end(), r.begin(), r.end(), same);
}

bool isSamePart(const model::Part& l, const model::Part& r) {
    return l.id == r.id && l.shape == r.shape && l.place == r.place && l.weighedG == r.weighedG && l.name == r.name;
}
bool isSameSection(const model::SectionPtr& l, const model::SectionPtr& r) {
    if (l == r) return true;
    return l->id == r->id && l->place == r->place && areSame(l->parts, r->parts, isSamePart) &&
           areSame(l->ballast, r->ballast,
                   [](const auto& a, const auto& b) { return a.massG == b.massG && a.atUm == b.atUm; });
}
bool isSameColour(const model::SectionPtr& l, const model::SectionPtr& r) {
    return l == r || areSame(l->parts, r->parts, [](const auto& a, const auto& b) { return a.colour == b.colour; });
}
bool isSameJoint(const model::Joint& l, const model::Joint& r) {
    return l.id == r.id && l.kind == r.kind && l.from == r.from && l.to == r.to;
}
bool isSameSeries(const model::Series& l, const model::Series& r) {
    const auto of = [](const model::Series& s) {
        return std::tie(s.id, s.quantity, s.joint, s.kind, s.readings, s.moves, s.runs);
    };
    return of(l) == of(r);
}
bool isSameCase(const model::OwnCase& l, const model::OwnCase& r) {
    const auto of = [](const model::OwnCase& c) {
        return std::tie(c.id, c.name, c.slopeDeg, c.towardDeg, c.downG, c.asideG, c.strapped, c.hands, c.pushN,
                        c.pushed, c.pose);
    };
    return of(l) == of(r);
}

bool isSameModule(const model::Module& l, const model::Module& r) {
    const auto of = [](const model::Module& m) { return std::tie(m.id, m.parts, m.sections, m.option, m.pose); };
    return of(l) == of(r);
}
bool isSameReach(const model::Reach& l, const model::Reach& r) {
    const auto of = [](const model::Reach& e) { return std::tie(e.id, e.part, e.side, e.plug); };
    return of(l) == of(r);
}
bool isSameMotion(const model::Motion& l, const model::Motion& r) {
    const auto of = [](const model::Motion& m) { return std::tie(m.id, m.joint, m.over, m.places, m.traced, m.feet); };
    return of(l) == of(r);
}
bool isSameLine(const model::Line& l, const model::Line& r) {
    const auto of = [](const model::Line& line) {
        return std::tie(line.id, line.kind, line.guides, line.end, line.closed, line.lengthMm, line.count, line.law,
                        line.travelMm, line.works);
    };
    return of(l) == of(r);
}
/// Lines whose length is that of the model as it stands change with its present pose.
bool haveSameLines(const model::Project& l, const model::Project& r) {
    if (!areSame(l.lines, r.lines, isSameLine)) return false;
    const auto hasLength = [](const model::Line& line) { return line.lengthMm.has_value(); };
    return std::all_of(l.lines.begin(), l.lines.end(), hasLength) ||
           areSame(l.joints, r.joints, [](const auto& a, const auto& b) { return a.value == b.value; });
}
bool isSameOption(const model::Option& l, const model::Option& r) {
    const auto chosen = [](const model::Option& o) -> const model::Alternative& {
        return at(o.alternatives, o.chosen);
    };
    const auto of = [&](const model::Option& o) {
        return std::tie(o.id, chosen(o).id, chosen(o).parts, chosen(o).sections);
    };
    return of(l) == of(r);
}

bool isSameStrength(const model::JointStrength& l, const model::JointStrength& r) {
    return l.holding.value == r.holding.value && l.holding.measured == r.holding.measured &&
           l.holding.basis == r.holding.basis;
}

bool haveSameParts(const model::Project& l, const model::Project& r) {
    return areSame(l.sections, r.sections, isSameSection) && areSame(l.joints, r.joints, isSameJoint) &&
           l.boards == r.boards &&
           areSame(l.posts, r.posts, [](const auto& a, const auto& b) { return a.id == b.id && a.atUm == b.atUm; }) &&
           areSame(l.measured, r.measured, isSameSeries) && l.workshop == r.workshop && haveSameLines(l, r);
}

bool isSamePose(const PoseFacts& l, const PoseFacts& r) {
    return l.id == r.id && l.name == r.name && l.stance == r.stance && l.values == r.values;
}

} // namespace

KeptFacts::KeptFacts(const Facts& before, const Facts& now) {
    if (!before.complete || before.failed != 0) return;
    m_before = &before;
    const model::Project &l = *before.project, &r = *now.project;
    m_sameParts = haveSameParts(l, r);
    m_sameWanted =
        m_sameParts && areSame(l.joints, r.joints, [](const auto& a, const auto& b) { return a.wanted == b.wanted; });
    m_sameColours = m_sameParts && areSame(l.sections, r.sections, isSameColour);
    if (!before.bodies || m_sameWanted) return;
    m_change = pose::findBodyChange(l, *before.bodies, r, *now.bodies);
    if (!m_change) return;
    m_worstAlike = haveSameLines(l, r) && l.tiltDeg == r.tiltDeg && now.tree.closing.empty() &&
                   (before.known & kWorst) != 0 &&
                   areSame(l.joints, r.joints, [](const auto& a, const auto& b) { return a.wanted == b.wanted; }) &&
                   areSame(before.strengths, now.strengths, isSameStrength);
    for (std::size_t s = 0; s < r.sections.size(); ++s)
        m_otherWeight.push_back(!isSameSection(l.sections[s], r.sections[s]));
}

const PoseFacts* KeptFacts::findPose(const model::Project& now, const model::NamedPose* named) const {
    constexpr unsigned kOfPose = kRanges | kLoads | kCollisions;
    if (!m_sameWanted || (m_before->known & kOfPose) != kOfPose) return nullptr;
    PoseFacts wanted;
    if (named) wanted.id = named->id;
    wanted.name = named ? named->name : "Present";
    wanted.stance = named ? named->stands : pose::getDefaultStance(now, m_before->tree);
    wanted.values = pose::getValues(now, named);
    if (!named) return isSamePose(m_before->present, wanted) ? &m_before->present : nullptr;
    const auto found = std::find_if(m_before->poses.begin(), m_before->poses.end(),
                                    [&](const PoseFacts& pose) { return isSamePose(pose, wanted); });
    return found == m_before->poses.end() ? nullptr : &*found;
}

PoseBefore KeptFacts::findRanges(const model::Project& now, const model::NamedPose* named) const {
    if (!m_change || (m_before->known & kRanges) == 0) return {};
    const auto values = pose::getValues(now, named);
    std::size_t freedoms = 0;
    for (const model::Joint& joint : now.joints) freedoms += static_cast<std::size_t>(joint.kind->freedomCount());
    const auto serves = [&](const PoseFacts& pose) { return pose.values == values && pose.ranges.size() == freedoms; };
    if (!named) return serves(m_before->present) ? PoseBefore{&m_before->present, &*m_change} : PoseBefore{};
    const auto found = std::find_if(m_before->poses.begin(), m_before->poses.end(), [&](const PoseFacts& pose) {
        return pose.id && *pose.id == named->id && serves(pose);
    });
    return found == m_before->poses.end() ? PoseBefore{} : PoseBefore{&*found, &*m_change};
}

const pose::WorstLoad* KeptFacts::findWorst(const Facts& now, std::size_t joint) const {
    if (!m_worstAlike || !areSame(m_before->poses, now.poses, isSamePose)) return nullptr;
    const pose::WorstLoad& worst = m_before->worst[joint];
    // Of what might fall over first, everything matters.
    if (worst.amongStanding || (worst.margin && *worst.margin < 1)) return nullptr;
    const auto inner = now.tree.carriedBy(static_cast<int>(joint));
    const auto isInner = [&](int section) { return std::find(inner.begin(), inner.end(), section) != inner.end(); };
    for (const PoseFacts& pose : now.poses) {
        if (pose.stance.kind == model::Stance::Kind::Settle) return nullptr;
        const bool standsInside = isInner(now.project->findSection(pose.stance.section));
        for (std::size_t s = 0; s < m_otherWeight.size(); ++s)
            if (m_otherWeight[s] && isInner(static_cast<int>(s)) != standsInside) return nullptr;
    }
    return &worst;
}

unsigned KeptFacts::findUnchanged(const Facts& now) const {
    if (!m_sameParts) return 0;
    const Facts& before = *m_before;
    // What a drive holds follows from how its joints are loaded as they are now.
    if (!now.project->boards.empty() && !isSamePose(before.present, now.present)) return 0;
    unsigned same = kAtRest;
    if (isSamePose(before.poses.front(), now.poses.front())) same |= kStructure;
    if (areSame(before.poses, now.poses, isSamePose)) {
        if (m_sameWanted && before.project->tiltDeg == now.project->tiltDeg) same |= kWorst;
        if (isSamePose(before.present, now.present)) same |= kMoves;
        if (areSame(before.project->cases, now.project->cases, isSameCase)) same |= kOwnCases;
        if (m_sameColours) same |= kHidden;
        const model::Project &l = *before.project, &r = *now.project;
        if (m_sameColours && areSame(l.modules.list, r.modules.list, isSameModule) &&
            areSame(l.modules.reaches, r.modules.reaches, isSameReach) &&
            areSame(l.options.list, r.options.list, isSameOption))
            same |= kModules;
        // What is followed is told by its section's name.
        const bool sameNames =
            areSame(l.sections, r.sections, [](const auto& a, const auto& b) { return a->name == b->name; });
        if (sameNames && areSame(l.motions, r.motions, isSameMotion)) same |= kMotions;
        if (sameNames && m_sameWanted && isSamePose(before.present, now.present) &&
            areSame(l.lines, r.lines, [](const auto& a, const auto& b) { return a.name == b.name; }))
            same |= kLines;
    }
    return same & before.known;
}

} // namespace ivrant::study
