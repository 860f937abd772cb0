// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/pose/kept_ranges.h"

#include <algorithm>
#include <map>
#include <tuple>

#include "core/base/at.h"

namespace ivrant::pose {
namespace {

constexpr std::size_t kLeastShareKept = 4; ///< at most one part in so many is new

/// Which solids of each part count; empty for parts without any.
std::vector<std::vector<int>> listSolids(const SectionBody& body, std::size_t parts) {
    std::vector<std::vector<int>> solids(parts);
    for (const BodyPart& part : body.parts)
        for (const BodySolid& solid : part.solids) at(solids, part.part).push_back(solid.solid);
    return solids;
}

bool haveSameFrames(const model::Project& l, const model::Project& r) {
    return std::equal(l.sections.begin(), l.sections.end(), r.sections.begin(), r.sections.end(),
                      [](const auto& a, const auto& b) { return a->id == b->id && a->place == b->place; }) &&
           std::equal(l.joints.begin(), l.joints.end(), r.joints.begin(), r.joints.end(),
                      [](const model::Joint& a, const model::Joint& b) {
                          return a.id == b.id && a.kind == b.kind && a.from == b.from && a.to == b.to;
                      });
}

/// False when the parts that stay are in another order.
bool compareSection(const model::Section& before, const SectionBody& bodyBefore, const model::Section& now,
                    const SectionBody& body, std::vector<int>& follow, std::vector<bool>& isNew) {
    follow.assign(before.parts.size(), -1);
    isNew.assign(now.parts.size(), true);
    if (&before == &now && &bodyBefore == &body) {
        for (std::size_t p = 0; p < follow.size(); ++p) follow[p] = static_cast<int>(p);
        isNew.assign(now.parts.size(), false);
        return true;
    }
    const auto solidsBefore = listSolids(bodyBefore, before.parts.size()), solids = listSolids(body, now.parts.size());
    std::map<model::PartId, std::size_t> places;
    for (std::size_t p = 0; p < before.parts.size(); ++p) places[before.parts[p].id] = p;
    std::size_t next = 0;
    for (std::size_t p = 0; p < now.parts.size(); ++p) {
        const auto found = places.find(now.parts[p].id);
        if (found == places.end()) continue;
        const std::size_t b = found->second;
        const model::Part &l = before.parts[b], &r = now.parts[p];
        if (l.shape != r.shape || !(l.place == r.place) || solidsBefore[b] != solids[p]) continue;
        if (b < next) return false;
        next = b + 1;
        follow[b] = static_cast<int>(p);
        isNew[p] = false;
    }
    return true;
}

} // namespace

std::optional<SweepContact> BodyChange::follow(const SweepContact& before) const {
    SweepContact contact = before;
    for (SolidRef* ref : {&contact.moving, &contact.fixed}) {
        ref->spot.part = at(at(now, ref->spot.section), ref->spot.part);
        if (ref->spot.part < 0) return std::nullopt;
    }
    return contact;
}

std::optional<BodyChange> findBodyChange(const model::Project& projectBefore, const Bodies& before,
                                         const model::Project& projectNow, const Bodies& now) {
    if (!projectBefore.boards.empty() || !projectNow.boards.empty()) return std::nullopt;
    if (!haveSameFrames(projectBefore, projectNow)) return std::nullopt;
    BodyChange change;
    const std::size_t sections = projectNow.sections.size();
    change.isNew.resize(sections);
    change.now.resize(sections);
    std::size_t fresh = 0;
    for (std::size_t s = 0; s < sections; ++s) {
        if (!compareSection(*projectBefore.sections[s], *before.sections[s], *projectNow.sections[s], *now.sections[s],
                            change.now[s], change.isNew[s]))
            return std::nullopt;
        fresh += static_cast<std::size_t>(std::count(change.isNew[s].begin(), change.isNew[s].end(), true));
    }
    if (kLeastShareKept * fresh > projectNow.partCount()) return std::nullopt;
    const model::PartIndex index(projectNow);
    for (const model::Joint& joint : projectNow.joints)
        for (const model::PartId& id : {joint.from.part, joint.to.part}) {
            const model::PartSpot spot = index.find(id);
            if (at(at(change.isNew, spot.section), spot.part)) return std::nullopt;
        }
    // What bears on a joint's line may be in each other: the same of all parts that stay.
    std::set<std::pair<SolidRef, SolidRef>> stays;
    for (const auto& [a, b] : before.exempt) {
        SweepContact pair;
        pair.moving = a;
        pair.fixed = b;
        if (const auto followed = change.follow(pair)) stays.emplace(followed->moving, followed->fixed);
    }
    std::size_t old = 0;
    for (const auto& pair : now.exempt) {
        const auto isNewPart = [&](const SolidRef& ref) {
            return at(at(change.isNew, ref.spot.section), ref.spot.part);
        };
        if (isNewPart(pair.first) || isNewPart(pair.second)) continue;
        if (stays.count(pair) == 0) return std::nullopt;
        ++old;
    }
    return old == stays.size() ? std::optional(std::move(change)) : std::nullopt;
}

bool isEarlier(const SweepContact& l, const SweepContact& r) {
    const auto order = [](const SweepContact& c) {
        return std::tuple(c.found, c.moving.spot, c.fixed.spot, c.moving.solid, c.fixed.solid);
    };
    return order(l) < order(r);
}

} // namespace ivrant::pose
