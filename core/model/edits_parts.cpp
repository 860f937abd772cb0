// SPDX-License-Identifier: GPL-3.0-or-later
// Edits of parts and steps.
#include <algorithm>
#include <cmath>
#include <set>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/model/edits_common.h"
#include "core/parts/own_shape.h"
#include "core/parts/palette.h"

namespace ivrant::model {

using base::Error;
using detail::changeSection;
using detail::checked;
using detail::groupBySection;
using detail::noSuch;
using detail::takeId;
using geometry::Frame;

namespace {

constexpr int kUsualStepSize = 8;

int nextStep(const Section& section) {
    int last = 1, count = 0;
    for (const Part& part : section.parts) last = std::max(last, part.step);
    for (const Part& part : section.parts) count += part.step == last ? 1 : 0;
    return count >= kUsualStepSize ? last + 1 : last;
}

/// X of the mirror image of the shape in itself, when it is symmetrical left to right: x → 2c − x.
std::optional<double> findOwnMirror(const parts::Shape& shape) {
    const double c = shape.bounds.centre().x();
    for (const auto& port : shape.ports) {
        const geometry::Vec3 image(2 * c - port.origin.x(), port.origin.y(), port.origin.z());
        const bool twin = std::any_of(shape.ports.begin(), shape.ports.end(), [&](const parts::Port& other) {
            return other.kind == port.kind && (other.origin - image).norm() < 0.01;
        });
        if (!twin) return std::nullopt;
    }
    if (shape.own && !geometry::isMirrored(shape.own->mesh, c)) return std::nullopt; // families differ by their ports
    return c;
}

base::Result<Frame> mirrorPose(const Part& part, double planeX) {
    const auto own = findOwnMirror(*part.shape);
    if (!own) return Error{"part.mirror", "'" + part.shape->name + "' has no mirrored twin", part.id.text};
    const Frame x = part.place.frame();
    geometry::Mat3 flip = geometry::Mat3::Identity();
    flip(0, 0) = -1;
    Frame mirrored;
    mirrored.linear() = flip * x.linear() * flip;
    const geometry::Vec3 ownShift(2 * *own, 0, 0);
    mirrored.translation() = flip * (x.linear() * ownShift + x.translation()) + geometry::Vec3(2 * planeX, 0, 0);
    return mirrored;
}

template <class Change> EditResult changeParts(const Project& project, std::span<const PartId> ids, Change change) {
    auto groups = groupBySection(project, ids);
    if (!groups) return groups.error();
    Project next = project;
    for (const auto& [s, indices] : *groups)
        changeSection(next, s, [&, &spots = indices](Section& section) {
            for (int i : spots) change(at(section.parts, i));
        });
    return checked(std::move(next));
}

} // namespace

base::Result<std::map<int, std::vector<int>>> detail::groupBySection(const Project& project,
                                                                     std::span<const PartId> ids) {
    if (ids.empty()) return Error{"edit.nothing", "no part is selected", ""};
    const PartIndex index(project);
    std::map<int, std::vector<int>> groups;
    for (const PartId& id : ids) {
        const PartSpot spot = index.find(id);
        if (spot.section < 0) return noSuch("part", id.text);
        groups[spot.section].push_back(spot.part);
    }
    return groups;
}

EditResult addParts(const Project& project, const SectionId& id, std::span<const NewPart> added,
                    std::vector<PartId>* newIds) {
    const int s = project.findSection(id);
    if (s < 0) return noSuch("section", id.text);
    Project next = project;
    changeSection(next, s, [&](Section& section) {
        for (const NewPart& wanted : added) {
            Part part;
            part.id.text = takeId(next, "p");
            part.shape = wanted.shape;
            part.colour = wanted.colour;
            part.place = wanted.place;
            part.step = wanted.step.value_or(nextStep(section));
            if (newIds) newIds->push_back(part.id);
            section.parts.push_back(std::move(part));
        }
    });
    return checked(std::move(next));
}

EditResult removeParts(const Project& project, std::span<const PartId> ids) {
    auto groups = groupBySection(project, ids);
    if (!groups) return groups.error();
    const std::set<PartId> gone(ids.begin(), ids.end());
    for (const Joint& joint : project.joints)
        if (gone.count(joint.from.part) > 0 || gone.count(joint.to.part) > 0)
            return Error{"part.joint", "joint '" + joint.name + "' sits on this part; remove the joint first",
                         joint.id.text};
    Project next = project;
    for (const auto& entry : *groups)
        changeSection(next, entry.first, [&](Section& section) {
            std::erase_if(section.parts, [&](const Part& part) { return gone.count(part.id) > 0; });
        });
    if (!next.boards.empty()) {
        std::set<std::string> things;
        for (const PartId& id : ids) things.insert(id.text);
        detail::forgetThings(next, things);
    }
    return checked(std::move(next));
}

EditResult moveParts(const Project& project, std::span<const PartId> ids, const Frame& move) {
    return changeParts(project, ids, [&](Part& part) { part.place = makePlace(move * part.place.frame()); });
}

EditResult recolourParts(const Project& project, std::span<const PartId> ids, int colour) {
    if (colour < 0 || colour >= static_cast<int>(parts::getPalette().size()))
        return noSuch("colour", std::to_string(colour));
    return changeParts(project, ids, [&](Part& part) { part.colour = colour; });
}

EditResult exchangeShape(const Project& project, std::span<const PartId> ids, const parts::ShapePtr& shape) {
    for (const Joint& joint : project.joints)
        for (const PortRef* end : {&joint.from, &joint.to})
            if (std::find(ids.begin(), ids.end(), end->part) != ids.end() && shape->findPort(end->port) < 0)
                return Error{"joint.port",
                             "'" + joint.name + "' holds on to '" + end->port + "', which a " + shape->name +
                                 " has not",
                             end->part.text};
    return changeParts(project, ids, [&](Part& part) {
        part.shape = shape;
        part.weighedG.reset();
    });
}

EditResult weighParts(const Project& project, std::span<const PartId> ids, std::optional<double> massG) {
    if (massG && !(*massG > 0 && *massG < 1e6))
        return Error{"part.mass", "a weighed mass lies between 0 and 1000 kg", ""};
    return changeParts(project, ids, [&](Part& part) { part.weighedG = massG; });
}

EditResult namePart(const Project& project, const PartId& id, const std::string& name) {
    return changeParts(project, {&id, 1}, [&](Part& part) { part.name = name; });
}

EditResult movePartsToSection(const Project& project, std::span<const PartId> ids, const SectionId& target,
                              const std::function<Frame(int)>& X_TS) {
    const int t = project.findSection(target);
    if (t < 0) return noSuch("section", target.text);
    auto groups = groupBySection(project, ids);
    if (!groups) return groups.error();
    const std::set<PartId> moving(ids.begin(), ids.end());
    Project next = project;
    std::vector<Part> arrived;
    for (const auto& [s, indices] : *groups) {
        if (s == t) continue;
        const Frame X = X_TS(s);
        for (int i : indices) {
            Part part = at(at(project.sections, s)->parts, i);
            part.place = makePlace(X * part.place.frame());
            arrived.push_back(std::move(part));
        }
        changeSection(next, s, [&](Section& section) {
            std::erase_if(section.parts, [&](const Part& part) { return moving.count(part.id) > 0; });
        });
    }
    changeSection(next, t, [&](Section& section) {
        const int step = nextStep(section);
        for (Part& part : arrived) {
            part.step = step;
            section.parts.push_back(std::move(part));
        }
    });
    return checked(std::move(next));
}

EditResult duplicateParts(const Project& project, std::span<const PartId> ids, const Frame& move,
                          std::vector<PartId>* newIds) {
    auto groups = groupBySection(project, ids);
    if (!groups) return groups.error();
    Project next = project;
    for (const auto& [s, indices] : *groups)
        changeSection(next, s, [&, &spots = indices](Section& section) {
            for (int i : spots) {
                Part part = at(section.parts, i);
                part.id.text = takeId(next, "p");
                part.place = makePlace(move * part.place.frame());
                part.step = nextStep(section);
                if (newIds) newIds->push_back(part.id);
                section.parts.push_back(std::move(part));
            }
        });
    return checked(std::move(next));
}

EditResult mirrorParts(const Project& project, std::span<const PartId> ids, double planeXMm, bool copy,
                       std::vector<PartId>* newIds) {
    auto groups = groupBySection(project, ids);
    if (!groups) return groups.error();
    Project next = project;
    std::optional<Error> failed;
    for (const auto& [s, indices] : *groups)
        changeSection(next, s, [&, &spots = indices](Section& section) {
            for (int i : spots) {
                Part part = at(section.parts, i);
                const auto pose = mirrorPose(part, planeXMm);
                if (!pose) {
                    failed = pose.error();
                    return;
                }
                part.place = makePlace(*pose);
                if (!copy) {
                    at(section.parts, i) = std::move(part);
                    continue;
                }
                part.id.text = takeId(next, "p");
                part.step = nextStep(section);
                if (newIds) newIds->push_back(part.id);
                section.parts.push_back(std::move(part));
            }
        });
    if (failed) return *failed;
    return checked(std::move(next));
}

EditResult duplicateSection(const Project& project, const SectionId& id, bool mirrored, const Frame& X_WS) {
    const int s = project.findSection(id);
    if (s < 0) return noSuch("section", id.text);
    Project next = project;
    auto copy = std::make_shared<Section>(*at(project.sections, s));
    geometry::Bounds bounds;
    for (const Part& part : copy->parts)
        for (const auto& solid : part.shape->drawn) bounds.include(geometry::calcBounds(solid, part.place.frame()));
    const double width =
        bounds.empty() ? base::kPitchMm : std::ceil(bounds.size().x() / base::kPitchMm + 1) * base::kPitchMm;
    copy->id.text = takeId(next, "s");
    copy->name += mirrored ? " mirrored" : " copy";
    copy->place = makePlace(X_WS * geometry::makeFrame(geometry::Mat3::Identity(), {width, 0, 0}));
    for (Part& part : copy->parts) {
        part.id.text = takeId(next, "p");
        if (part.after == id) part.after = copy->id;
        if (!mirrored) continue;
        const auto pose = mirrorPose(part, bounds.centre().x());
        if (!pose) return pose.error();
        part.place = makePlace(*pose);
    }
    for (Ballast& b : copy->ballast)
        if (mirrored) b.atUm[0] = base::mmToUm(2 * bounds.centre().x()) - b.atUm[0];
    next.sections.push_back(std::move(copy));
    return checked(std::move(next));
}

EditResult setStep(const Project& project, std::span<const PartId> ids, int step) {
    return changeParts(project, ids, [&](Part& part) { part.step = step; });
}

EditResult setAfter(const Project& project, std::span<const PartId> ids, const SectionId& after) {
    if (!after.empty() && project.findSection(after) < 0) return noSuch("section", after.text);
    auto grouped = detail::groupBySection(project, ids);
    if (!grouped) return grouped.error();
    Project next = project;
    for (const auto& [s, parts] : *grouped) {
        const std::set<int> chosen(parts.begin(), parts.end());
        changeSection(next, s, [&chosen, &after](Section& section) {
            int last = 0;
            for (std::size_t p = 0; p < section.parts.size(); ++p)
                if (section.parts[p].after.empty() && chosen.count(static_cast<int>(p)) == 0)
                    last = std::max(last, section.parts[p].step);
            for (const int p : chosen) {
                Part& part = at(section.parts, p);
                part.after = after;
                part.step = after.empty() ? std::max(1, last) : std::max(part.step, last + 1);
            }
        });
    }
    return checked(std::move(next));
}

EditResult setSteps(const Project& project, const SectionId& id, std::span<const int> steps) {
    const int s = project.findSection(id);
    if (s < 0) return noSuch("section", id.text);
    if (at(project.sections, s)->parts.size() != steps.size())
        return Error{"step.count", "a step is needed for each part", id.text};
    Project next = project;
    changeSection(next, s, [&](Section& section) {
        for (std::size_t p = 0; p < steps.size(); ++p) section.parts[p].step = steps[p];
    });
    return checked(std::move(next));
}

EditResult splitStep(const Project& project, const SectionId& id, int step, std::span<const PartId> later) {
    const int s = project.findSection(id);
    if (s < 0) return noSuch("section", id.text);
    const std::set<PartId> moved(later.begin(), later.end());
    Project next = project;
    int stay = 0, go = 0;
    changeSection(next, s, [&](Section& section) {
        for (Part& part : section.parts) {
            if (part.step > step)
                ++part.step;
            else if (part.step == step && moved.count(part.id) > 0)
                ++go, ++part.step;
            else if (part.step == step)
                ++stay;
        }
    });
    if (stay == 0 || go == 0)
        return Error{"step.split", "splitting a step needs a part that stays and a part that goes", id.text};
    return checked(std::move(next));
}

EditResult joinStep(const Project& project, const SectionId& id, int step) {
    const int s = project.findSection(id);
    if (s < 0) return noSuch("section", id.text);
    Project next = project;
    bool any = false;
    changeSection(next, s, [&](Section& section) {
        for (Part& part : section.parts)
            if (part.step > step) {
                any = true;
                --part.step;
            }
    });
    if (!any) return Error{"step.join", "there is no later step to join", id.text};
    return checked(std::move(next));
}

EditResult moveStep(const Project& project, const SectionId& id, int step, int offset) {
    const int s = project.findSection(id);
    if (s < 0) return noSuch("section", id.text);
    std::set<int> steps;
    for (const Part& part : at(project.sections, s)->parts) steps.insert(part.step);
    const auto found = steps.find(step);
    if (found == steps.end() || (offset < 0 && found == steps.begin()) ||
        (offset > 0 && std::next(found) == steps.end()))
        return Error{"step.move", "the step cannot move further", id.text};
    const int other = offset < 0 ? *std::prev(found) : *std::next(found);
    Project next = project;
    changeSection(next, s, [&](Section& section) {
        for (Part& part : section.parts) {
            if (part.step == step)
                part.step = other;
            else if (part.step == other)
                part.step = step;
        }
    });
    return checked(std::move(next));
}

} // namespace ivrant::model
