// SPDX-License-Identifier: GPL-3.0-or-later
// Reads the demo's parts and lays out its gear boards, in pitches, with the edits that the program offers. Throws
// std::runtime_error.
#pragma once

#include <cmath>
#include <filesystem>
#include <stdexcept>

#include "core/files/project_file.h"
#include "core/model/edits_boards.h"
#include "core/model/variants.h"
#include "core/parts/family.h"
#include "core/parts/palette.h"
#include "core/parts/part_line.h"

namespace ivrant::demo {

/// One part, as typed: "plate 4x10 slate at 0 0 0 turn 1".
inline model::NewPart readPart(const std::string& typed) {
    const auto line = parts::parsePartLine(typed);
    if (!line) throw std::runtime_error(typed + ": " + line.error().message);
    model::NewPart part;
    part.shape = parts::makeShape(line->shape).value();
    part.colour = line->colour ? parts::findColour(*line->colour) : 0;
    if (line->atUm) part.place.atUm = *line->atUm;
    part.place.attitude = line->turn.value_or(0);
    return part;
}
inline model::VariantId findVariant(const model::Project& project, const std::string& name) {
    for (const auto& v : project.variants)
        if (v.name == name) return v.id;
    throw std::runtime_error("no variant " + name);
}

class BoardBuilder {
public:
    explicit BoardBuilder(const std::string& name, const std::string& section)
        : m_project(model::makeEmptyProject(name)) {
        take(model::renameSection(m_project, m_project.sections.front()->id, section));
    }

    /// The model so far becomes one variant; a copy under another name is shown from now on.
    void variant(const std::string& soFar, const std::string& name) { take(model::addVariant(m_project, name, soFar)); }
    void showVariant(const std::string& name) { take(model::showVariant(m_project, findVariant(m_project, name))); }
    void tilt(double degrees) { take(model::setTilt(m_project, degrees)); }
    void section(const std::string& name) { take(model::addSection(m_project, name)); }
    /// A weight at a place of the newest section.
    void ballast(double gram, double x, double y, double z) {
        take(model::addBallast(m_project, m_project.sections.back()->id, {gram, {um(x), um(y), um(z)}}));
    }
    model::JointId join(const std::string& name, const std::string& kind, const model::PortRef& from,
                        const model::PortRef& to, double value, const model::Range& wanted) {
        model::Joint joint;
        joint.name = name;
        joint.kind = parts::findJointKind(kind);
        joint.from = from;
        joint.to = to;
        joint.value = {value};
        joint.wanted = {wanted};
        take(model::addJoint(m_project, joint));
        return m_project.joints.back().id;
    }
    /// Standing flat on the first section.
    void pose(const std::string& name, const model::JointId& joint, double value) {
        model::Stance stance;
        stance.kind = model::Stance::Kind::Flat;
        stance.section = m_project.sections.front()->id;
        take(model::addPose(m_project, name, {{joint, {value}}}, stance));
    }
    model::PartId put(const std::string& typed) {
        const model::NewPart part = readPart(typed);
        std::vector<model::PartId> ids;
        take(model::addParts(m_project, m_project.sections.back()->id, {&part, 1}, &ids));
        return ids.front();
    }
    void board(const std::string& name, const std::vector<double>& walls, const model::Place& place = {},
               const model::GearId& carrier = {}) {
        take(model::addBoard(m_project, name, m_project.sections.front()->id, place, &m_board));
        model::Board head = *m_project.boards.back();
        head.colour = parts::findColour("gorse");
        take(model::changeBoardHead(m_project, head));
        std::vector<std::int64_t> heights;
        for (double wall : walls) heights.push_back(um(wall));
        take(model::setWalls(m_project, m_board, heights));
        if (!carrier.empty()) take(model::carryBoard(m_project, m_board, carrier));
    }
    model::ShaftId shaft(const std::string& name, double x, double y, double z, double length,
                         model::BoardAxis axis = model::BoardAxis::Out, const std::vector<double>& bearings = {}) {
        model::Shaft added;
        added.name = name;
        added.atUm = {um(x), um(y), um(z)};
        added.axis = axis;
        added.lengthUm = um(length);
        for (double bearing : bearings) added.bearingsUm.push_back(um(bearing));
        model::ShaftId id;
        take(model::putShaft(m_project, m_board, added, &id));
        return id;
    }
    /// `at`: from the shaft's start.
    model::GearId gear(model::GearKind kind, int teeth, const model::ShaftId& on, double at, bool loose = false) {
        model::Gear added;
        added.kind = kind;
        added.teeth = teeth;
        added.shaft = on;
        added.alongUm = um(at);
        added.loose = loose;
        model::GearId id;
        take(model::putGear(m_project, m_board, added, &id));
        return id;
    }
    model::GearId differential(int teeth, const model::ShaftId& left, const model::ShaftId& right, double at) {
        model::Gear added;
        added.kind = model::GearKind::Differential;
        added.teeth = teeth;
        added.shaft = left;
        added.other = right;
        added.alongUm = um(at);
        model::GearId id;
        take(model::putGear(m_project, m_board, added, &id));
        return id;
    }
    void chain(const model::GearId& a, const model::GearId& b) {
        take(model::putLoop(m_project, m_board, {{}, false, false, {a, b}, 0, {}}));
    }
    void motor(const std::string& name, const std::string& line, const model::ShaftId& on, bool atEnd = false) {
        take(model::putMotor(m_project, m_board, {{}, name, line, on, atEnd, {}}));
    }
    void selector(const std::string& name, const std::vector<model::SelectorPosition>& positions) {
        take(model::putSelector(m_project, m_board, {{}, name, positions, 0, {}}));
    }
    void function(const model::DriveFunction& function) { take(model::putFunction(m_project, m_board, function)); }
    void save(const std::filesystem::path& path) const {
        if (auto saved = files::saveProject(m_project, path.string()); !saved)
            throw std::runtime_error(saved.error().message);
    }

private:
    static std::int64_t um(double pitches) { return std::llround(pitches * 8000); }
    void take(model::EditResult result) {
        if (!result) throw std::runtime_error(result.error().message + " " + result.error().place);
        m_project = std::move(result).value();
    }
    model::Project m_project;
    model::BoardId m_board;
};

} // namespace ivrant::demo
