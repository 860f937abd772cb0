// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/model/project.h"

#include "core/base/units.h"
#include "core/model/board_parts.h"

namespace ivrant::model {
namespace {

template <class List, class Id, class GetId> int findById(const List& list, const Id& id, GetId getId) {
    for (std::size_t i = 0; i < list.size(); ++i)
        if (getId(list[i]) == id) return static_cast<int>(i);
    return -1;
}

} // namespace

geometry::Frame Place::frame() const {
    const geometry::Vec3 at(base::umToMm(atUm[0]), base::umToMm(atUm[1]), base::umToMm(atUm[2]));
    if (const int* turn = std::get_if<int>(&attitude)) return geometry::makeFrame(geometry::getTurn(*turn), at);
    return geometry::makeFrame(std::get<Eigen::Quaterniond>(attitude).toRotationMatrix(), at);
}

bool Place::operator==(const Place& other) const {
    if (atUm != other.atUm || isTurn() != other.isTurn()) return false;
    if (isTurn()) return std::get<int>(attitude) == std::get<int>(other.attitude);
    return std::get<Eigen::Quaterniond>(attitude).coeffs() == std::get<Eigen::Quaterniond>(other.attitude).coeffs();
}

Place makePlace(const geometry::Frame& pose) {
    Place place;
    for (std::size_t k = 0; k < 3; ++k) place.atUm[k] = base::mmToUm(pose.translation()[static_cast<int>(k)]);
    if (const auto turn = geometry::findTurn(pose.linear()))
        place.attitude = *turn;
    else
        place.attitude = Eigen::Quaterniond(pose.linear()).normalized();
    return place;
}

std::size_t Project::partCount() const {
    std::size_t count = 0;
    for (const auto& section : sections) count += section->parts.size();
    return count;
}

int Project::findSection(const SectionId& id) const {
    return findById(sections, id, [](const SectionPtr& s) -> const SectionId& { return s->id; });
}
int Project::findJoint(const JointId& id) const {
    return findById(joints, id, [](const Joint& j) -> const JointId& { return j.id; });
}
int Project::findPose(const PoseId& id) const {
    return findById(poses, id, [](const NamedPose& p) -> const PoseId& { return p.id; });
}
int Project::findBoard(const BoardId& id) const {
    return findById(boards, id, [](const BoardPtr& b) -> const BoardId& { return b->id; });
}

PartIndex::PartIndex(const Project& project) {
    m_spots.reserve(project.partCount());
    for (std::size_t s = 0; s < project.sections.size(); ++s)
        for (std::size_t p = 0; p < project.sections[s]->parts.size(); ++p)
            m_spots.emplace(project.sections[s]->parts[p].id, PartSpot{static_cast<int>(s), static_cast<int>(p)});
}

PartSpot PartIndex::find(const PartId& id) const {
    const auto found = m_spots.find(id);
    return found == m_spots.end() ? PartSpot{} : found->second;
}

parts::ShapePtr Project::findOwnShape(std::string_view wanted) const {
    for (const auto& shape : ownShapes)
        if (shape->name == wanted) return shape;
    return nullptr;
}

const Part& getPart(const Project& project, PartSpot spot) {
    const auto& parts = project.sections.at(static_cast<std::size_t>(spot.section))->parts;
    if (spot.part >= static_cast<int>(parts.size())) return getBoardPart(project, spot);
    return parts.at(static_cast<std::size_t>(spot.part));
}

} // namespace ivrant::model
