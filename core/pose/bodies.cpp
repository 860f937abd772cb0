// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/pose/bodies.h"

#include <algorithm>

#include "core/base/at.h"
#include "core/bonds/board_overlaps.h"
#include "core/bonds/teeth.h"
#include "core/model/board_parts.h"
#include "core/pose/kinematics.h"
#include "core/pose/seats.h"

namespace ivrant::pose {
namespace {

using geometry::Frame;
using geometry::Vec3;

BodyPart makeBodyPart(const model::Part& of, int index, const std::vector<int>& covered) {
    const parts::Shape& shape = *of.shape;
    const Frame X = of.place.frame();
    BodyPart part;
    part.part = index;
    geometry::Bounds bounds;
    for (std::size_t k = 0; k < shape.solids.size(); ++k) {
        const auto& s = shape.solids[k];
        if (s.studPort >= 0 && std::find(covered.begin(), covered.end(), s.studPort) != covered.end()) continue;
        const Frame x = X * s.solid.X_PS;
        part.solids.push_back({{&s.solid, &s.eroded, x.linear(), x.translation()}, static_cast<int>(k)});
        bounds.include(geometry::calcBounds(s.solid, X));
    }
    part.centre = bounds.centre();
    for (const auto& s : part.solids)
        part.radius = std::max(part.radius, (s.inSection.centre - part.centre).norm() + s.inSection.solid->reach);
    part.radius = std::min(part.radius, 0.5 * bounds.size().norm());
    return part;
}

std::shared_ptr<const SectionBody> makeSectionBody(const model::Project& project, int index,
                                                   const bonds::SectionBonds& bonds) {
    static const std::vector<int> kNone;
    const model::Section& section = *at(project.sections, index);
    auto body = std::make_shared<SectionBody>();
    body->parts.reserve(section.parts.size());
    for (std::size_t p = 0; p < section.parts.size(); ++p)
        body->parts.push_back(makeBodyPart(section.parts[p], static_cast<int>(p), bonds.coveredStuds[p]));
    for (const auto& list : model::listSectionBoardParts(project, index))
        for (const model::Part& part : *list)
            body->parts.push_back(makeBodyPart(part, static_cast<int>(body->parts.size()), kNone));
    return body;
}

/// Every shaft or wheel of a board against the bricks of other sections near it, as the model stands.
void addShared(const model::Placed& placed, Bodies& bodies) {
    const model::Project& project = *placed.project;
    for (std::size_t s = 0; s < bodies.sections.size(); ++s)
        for (std::size_t p = static_cast<std::size_t>(bodies.ownParts[s]); p < bodies.sections[s]->parts.size(); ++p) {
            const model::PartSpot own{static_cast<int>(s), static_cast<int>(p)};
            const BodyPart& part = bodies.sections[s]->parts[p];
            const Vec3 centre = placed.X_WS[s] * part.centre;
            for (std::size_t o = 0; o < bodies.sections.size(); ++o)
                for (std::size_t q = 0; o != s && q < static_cast<std::size_t>(bodies.ownParts[o]); ++q) {
                    const BodyPart& brick = bodies.sections[o]->parts[q];
                    const Vec3 other = placed.X_WS[o] * brick.centre;
                    if ((centre - other).norm() > part.radius + brick.radius) continue;
                    const model::PartSpot spot{static_cast<int>(o), static_cast<int>(q)};
                    if (bonds::sharesLine(*model::getPart(project, own).shape, placed.X_WP(own),
                                          *model::getPart(project, spot).shape, placed.X_WP(spot)))
                        bodies.shared.insert(own < spot ? std::pair(own, spot) : std::pair(spot, own));
                }
        }
}

/// All ports on a joint's own line mate with it: turning moves none of them out of place.
void addBearings(const model::Placed& placed, const model::SectionTree& tree, Bodies& bodies) {
    const auto mates = bonds::findMatesAcross(placed);
    for (std::size_t j = 0; j < placed.project->joints.size(); ++j) {
        const auto bearings = listBearings(placed, tree, static_cast<int>(j), mates);
        for (const auto& mate : bearings) addPortSolids(*placed.project, mate, bodies.exempt);
        std::set<std::pair<model::PartSpot, model::PartSpot>> pairs; // a hole has a port at each end
        for (const auto& mate : bearings) pairs.insert({mate.a, mate.b});
        bodies.bearings.push_back(std::max(1, static_cast<int>(pairs.size())));
    }
}

/// Teeth of two sections that run together as the model stands.
void addTeeth(const model::Placed& placed, Bodies& bodies) {
    std::vector<model::PartSpot> toothed;
    for (std::size_t s = 0; s < placed.X_WS.size(); ++s)
        for (std::size_t p = 0; p < placed.project->sections[s]->parts.size(); ++p)
            if (!placed.project->sections[s]->parts[p].shape->rings.empty())
                toothed.push_back({static_cast<int>(s), static_cast<int>(p)});
    for (std::size_t i = 0; i < toothed.size(); ++i)
        for (std::size_t k = i + 1; k < toothed.size(); ++k) {
            if (toothed[i].section == toothed[k].section) continue;
            const auto bodyOf = [&](model::PartSpot spot) -> const BodyPart& {
                return at(at(bodies.sections, spot.section)->parts, spot.part);
            };
            const BodyPart &a = bodyOf(toothed[i]), &b = bodyOf(toothed[k]);
            const Vec3 between =
                at(placed.X_WS, toothed[i].section) * a.centre - at(placed.X_WS, toothed[k].section) * b.centre;
            if (between.norm() > a.radius + b.radius) continue;
            const auto &shapeA = *model::getPart(*placed.project, toothed[i]).shape,
                       &shapeB = *model::getPart(*placed.project, toothed[k]).shape;
            for (const BodySolid& m : a.solids)
                for (const BodySolid& n : b.solids)
                    if (bonds::calcTeethRoomMm(shapeA, placed.X_WP(toothed[i]), m.solid, shapeB,
                                               placed.X_WP(toothed[k]), n.solid) > 0)
                        bodies.exempt.insert({{toothed[i], m.solid}, {toothed[k], n.solid}});
        }
}

} // namespace

Bodies makeBodies(const model::Project& project, const model::SectionTree& tree,
                  const std::vector<bonds::SectionBondsPtr>& bonds) {
    Bodies bodies;
    for (std::size_t s = 0; s < project.sections.size(); ++s) {
        bodies.sections.push_back(makeSectionBody(project, static_cast<int>(s), *bonds[s]));
        bodies.ownParts.push_back(static_cast<int>(project.sections[s]->parts.size()));
    }
    const model::Placed placed = calcPlaced(project, tree, getValues(project, nullptr));
    addShared(placed, bodies);
    addTeeth(placed, bodies);
    addBearings(placed, tree, bodies);
    bodies.portBounds = bonds::boundPorts(project);
    for (std::size_t j = 0; j < project.joints.size(); ++j) {
        const auto portSolids = [&](model::PartSpot spot, const std::string& name) {
            const auto& shape = *model::getPart(project, spot).shape;
            return at(shape.ports, shape.findPort(name)).solids;
        };
        for (int a : portSolids(tree.from[j], project.joints[j].from.port))
            for (int b : portSolids(tree.to[j], project.joints[j].to.port)) {
                const SolidRef ra{tree.from[j], a}, rb{tree.to[j], b};
                bodies.exempt.insert(ra < rb ? std::pair(ra, rb) : std::pair(rb, ra));
            }
    }
    return bodies;
}

} // namespace ivrant::pose
