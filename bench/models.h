// SPDX-License-Identifier: GPL-3.0-or-later
// Models of a wished size for the measurements: pier walls in running bond, and two loaded arms on one hinge.
#pragma once

#include <memory>
#include <stdexcept>

#include "core/base/units.h"
#include "core/model/edits.h"
#include "core/parts/family.h"
#include "core/parts/palette.h"

namespace ivrant::bench {

template <class T> T must(base::Result<T> result) {
    if (!result) throw std::runtime_error(result.error().message);
    return std::move(result).value();
}

inline model::NewPart makePart(const char* shape, int colour, long xStuds, long yStuds, long zPlates, int step) {
    model::NewPart part;
    part.shape = must(parts::makeShape(shape));
    part.colour = colour;
    part.place.atUm = {xStuds * base::kPitchUm, yStuds * base::kPitchUm, zPlates * base::kPlateUm};
    part.step = step;
    return part;
}

/// `count` parts in sections of at most 1,000: solid blocks, 20 bricks 2x4 a course, the courses
/// crossing and set off by two studs, so that all of it holds together.
inline model::Project makeWall(std::size_t count) {
    constexpr std::size_t kPerSection = 1000, kPerCourse = 20;
    model::Project project = model::makeEmptyProject("Pier wall");
    const auto colours = static_cast<int>(parts::getPalette().size());
    for (std::size_t s = 0; s * kPerSection < count; ++s) {
        if (s > 0) {
            model::Place place;
            place.atUm = {static_cast<std::int64_t>(s % 5) * 30 * base::kPitchUm,
                          static_cast<std::int64_t>(s / 5) * 30 * base::kPitchUm, 0};
            project = must(model::addSection(project, "Wall " + std::to_string(s + 1), place));
        }
        std::vector<model::NewPart> parts;
        for (std::size_t i = 0; i < std::min(kPerSection, count - s * kPerSection); ++i) {
            const long course = static_cast<long>(i / kPerCourse), k = static_cast<long>(i % kPerCourse);
            const int colour = static_cast<int>((course * 7 + k * 3 + static_cast<long>(s)) % colours),
                      step = static_cast<int>(i / 10) + 1;
            const long shift = course % 4 < 2 ? 0 : 2;
            if (course % 2 == 0)
                parts.push_back(makePart("brick 2x4", colour, (k % 10) * 2, (k / 10) * 4 + shift, course * 3, step));
            else
                parts.push_back(makePart("brick 4x2", colour, (k % 5) * 4 + shift, (k / 5) * 2, course * 3, step));
        }
        project = must(model::addParts(project, project.sections.back()->id, parts));
    }
    return project;
}

/// Blocks of `perSide` bricks 2x2 with gaps at both ends of a run of `hinges` large stepped hinges, so that sweeps have
/// much to miss.
inline model::Project makeArms(std::size_t perSide, std::size_t hinges = 1) {
    model::Project project = model::makeEmptyProject("Loaded arms");
    const auto add = [&](const model::SectionId& section, const std::vector<model::NewPart>& parts) {
        std::vector<model::PartId> ids;
        project = must(model::addParts(project, section, parts, &ids));
        return ids;
    };
    model::PartId carrier;
    for (std::size_t s = 0; s <= hinges; ++s) {
        if (s > 0) project = must(model::addSection(project, "Arm " + std::to_string(s)));
        const bool first = s == 0, last = s == hinges;
        std::vector<model::NewPart> parts;
        if (!first) parts.push_back(makePart("stepped hinge large tongue", 0, 0, 0, 0, 1));
        if (!last) parts.push_back(makePart("stepped hinge large fork", 0, 0, 0, first ? 0 : 1, 1));
        for (std::size_t i = 0; (first || last) && i < perSide; ++i) {
            const long column = static_cast<long>(i % 4), level = static_cast<long>(i / 4 % 5),
                       row = static_cast<long>(i / 20);
            const long y = (3 + 3 * row) * (first ? -1 : 1);
            parts.push_back(makePart("brick 2x2", static_cast<int>(i % 7), column * 3 - 6, y, level * 4 - 8,
                                     static_cast<int>(i / 8) + 2));
        }
        const auto ids = add(project.sections.back()->id, parts);
        if (!first) {
            model::Joint joint;
            joint.name = "Hinge " + std::to_string(s);
            joint.kind = parts::findJointKind("stepped hinge large");
            joint.from = {carrier, "finger"};
            joint.to = {ids[0], "finger"};
            joint.value = {0};
            project = must(model::addJoint(project, joint));
        }
        carrier = first ? ids[0] : ids[std::min<std::size_t>(1, ids.size() - 1)];
    }
    return project;
}

/// One crank that turns `loops` rockers of 40 mm by couplers of 48, beside each other along y: 2 · loops + 2 sections,
/// 3 · loops + 1 joints, closed.
inline model::Project makeRockers(int loops) {
    model::Project project = model::makeEmptyProject("Rockers");
    const auto put = [&](int section, const std::string& shape, long xMm, long yMm, int turn) {
        while (static_cast<int>(project.sections.size()) <= section)
            project = must(model::addSection(project, "Section " + std::to_string(project.sections.size())));
        model::NewPart part = makePart(shape.c_str(), 0, 0, 0, 0, 1);
        part.place.atUm = {xMm * 1000, yMm * 1000, 0};
        part.place.attitude = turn;
        std::vector<model::PartId> ids;
        project =
            must(model::addParts(project, project.sections[static_cast<std::size_t>(section)]->id, {&part, 1}, &ids));
        return ids.front();
    };
    const auto tie = [&](int section, long xMm, long yMm, const model::PartId& to, const std::string& port,
                         double value) {
        model::Joint joint;
        joint.kind = parts::findJointKind("smooth pin");
        joint.from = {put(section, "pin smooth", xMm, yMm, 1), "end+"};
        joint.to = {to, port};
        joint.value = {value};
        project = must(model::addJoint(project, joint));
    };
    constexpr double kRockerDeg = -38.89,
                     kCouplerDeg = 84.05; // near to closed; the loops are closed exactly by a study
    for (int k = 0; k < loops; ++k) {
        const long y = 40L * k;
        put(0, "beam 8", 0, y, 0);
        const auto crank = put(1, "beam 3", 0, y, 0);
        const auto coupler = put(2 + 2 * k, "beam 7", 0, 0, 0), rocker = put(3 + 2 * k, "beam 6", 0, 0, 0);
        if (k == 0) tie(0, 0, 4, crank, "hole 0 back", 0);
        tie(1, 16, y + 4, coupler, "hole 0 back", kCouplerDeg);
        tie(0, 56, y + 4, rocker, "hole 0 back", kRockerDeg);
        tie(3 + 2 * k, 40, 4, coupler, "hole 6 back", 0);
    }
    return project;
}

} // namespace ivrant::bench
