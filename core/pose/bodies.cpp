#include "core/pose/bodies.h"

#include <algorithm>

namespace ivrant::pose {
namespace {

using geometry::Pose;
using geometry::Vec3;

std::shared_ptr<const SectionBody> makeSectionBody(const model::Section& section, const bonds::SectionBonds& bonds) {
    auto body = std::make_shared<SectionBody>();
    body->parts.reserve(section.parts.size());
    for (std::size_t p = 0; p < section.parts.size(); ++p) {
        const parts::Shape& shape = *section.parts[p].shape;
        const Pose X = section.parts[p].place.pose();
        const auto& covered = bonds.coveredStuds[p];
        BodyPart part;
        part.part = static_cast<int>(p);
        geometry::Bounds bounds;
        for (std::size_t k = 0; k < shape.solids.size(); ++k) {
            const auto& s = shape.solids[k];
            if (s.studPort >= 0 && std::find(covered.begin(), covered.end(), s.studPort) != covered.end()) continue;
            const Pose x = X * s.solid.X_PS;
            part.solids.push_back({{&s.solid, &s.eroded, x.linear(), x.translation()}, static_cast<int>(k)});
            bounds.include(geometry::calcBounds(s.solid, X));
        }
        part.centre = bounds.centre();
        for (const auto& s : part.solids) part.radius = std::max(part.radius, (s.inSection.centre - part.centre).norm() + s.inSection.solid->reach);
        part.radius = std::min(part.radius, 0.5 * bounds.size().norm());
        body->parts.push_back(std::move(part));
    }
    return body;
}

} // namespace

Bodies makeBodies(const model::Project& project, const model::SectionTree& tree, const std::vector<bonds::SectionBondsPtr>& bonds) {
    Bodies bodies;
    for (std::size_t s = 0; s < project.sections.size(); ++s) bodies.sections.push_back(makeSectionBody(*project.sections[s], *bonds[s]));
    for (std::size_t j = 0; j < project.joints.size(); ++j) {
        const auto portSolids = [&](model::PartSpot spot, const std::string& name) {
            const auto& shape = *model::getPart(project, spot).shape;
            return shape.ports[static_cast<std::size_t>(shape.findPort(name))].solids;
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
