#include "core/study/kept_facts.h"

#include <algorithm>
#include <tuple>

#include "core/pose/stance.h"

namespace ivrant::study {
namespace {

template <class List, class Same> bool areSame(const List& l, const List& r, const Same& same) {
    return std::equal(l.begin(), l.end(), r.begin(), r.end(), same);
}

bool isSamePart(const model::Part& l, const model::Part& r) { return l.id == r.id && l.shape == r.shape && l.place == r.place && l.weighedG == r.weighedG; }
bool isSameSection(const model::SectionPtr& l, const model::SectionPtr& r) {
    if (l == r) return true;
    return l->id == r->id && l->place == r->place && areSame(l->parts, r->parts, isSamePart) &&
           areSame(l->ballast, r->ballast, [](const auto& a, const auto& b) { return a.massG == b.massG && a.atUm == b.atUm; });
}
bool isSameColour(const model::SectionPtr& l, const model::SectionPtr& r) {
    return l == r || areSame(l->parts, r->parts, [](const auto& a, const auto& b) { return a.colour == b.colour; });
}
bool isSameJoint(const model::Joint& l, const model::Joint& r) { return l.id == r.id && l.kind == r.kind && l.from == r.from && l.to == r.to; }
bool isSameSeries(const model::Series& l, const model::Series& r) {
    const auto of = [](const model::Series& s) { return std::tie(s.id, s.quantity, s.joint, s.kind, s.readings, s.moves, s.runs); };
    return of(l) == of(r);
}
bool isSameCase(const model::OwnCase& l, const model::OwnCase& r) {
    const auto of = [](const model::OwnCase& c) {
        return std::tie(c.id, c.name, c.slopeDeg, c.towardDeg, c.downG, c.asideG, c.strapped, c.hands, c.pushN, c.pushed, c.pose);
    };
    return of(l) == of(r);
}

bool haveSameParts(const model::Project& l, const model::Project& r) {
    return areSame(l.sections, r.sections, isSameSection) && areSame(l.joints, r.joints, isSameJoint) && l.boards == r.boards &&
           areSame(l.supports, r.supports, [](const auto& a, const auto& b) { return a.id == b.id && a.atUm == b.atUm; }) &&
           areSame(l.measured, r.measured, isSameSeries) && l.workshop == r.workshop;
}

bool isSamePose(const PoseFacts& l, const PoseFacts& r) { return l.id == r.id && l.name == r.name && l.stance == r.stance && l.values == r.values; }

} // namespace

KeptFacts::KeptFacts(const Facts& before, const Facts& now) {
    if (!before.complete || before.failed != 0) return;
    m_before = &before;
    const model::Project &l = *before.project, &r = *now.project;
    m_sameParts = haveSameParts(l, r);
    m_sameWanted = m_sameParts && areSame(l.joints, r.joints, [](const auto& a, const auto& b) { return a.wanted == b.wanted; });
    m_sameColours = m_sameParts && areSame(l.sections, r.sections, isSameColour);
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
    const auto found = std::find_if(m_before->poses.begin(), m_before->poses.end(), [&](const PoseFacts& pose) { return isSamePose(pose, wanted); });
    return found == m_before->poses.end() ? nullptr : &*found;
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
    }
    return same & before.known;
}

} // namespace ivrant::study
