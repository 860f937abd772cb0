// SPDX-License-Identifier: GPL-3.0-or-later
// Small figures for tests, from the pier show: a gate arm, a folding sign, a pointing hand. Built with the program's
// edits.
#pragma once

#include <stdexcept>

#include "core/base/at.h"
#include "core/bonds/section_bonds.h"
#include "core/model/edits.h"
#include "core/parts/family.h"
#include "core/parts/palette.h"
#include "core/parts/part_line.h"
#include "core/pose/hold.h"
#include "core/pose/range.h"
#include "core/trials/strengths.h"

namespace ivrant::test {

/// Value of a Result in a test; throws with the message otherwise.
template <class T> T must(base::Result<T> result) {
    if (!result) throw std::runtime_error(result.error().message + " at " + result.error().place);
    return std::move(result).value();
}

class Figure {
public:
    Figure() : project(model::makeEmptyProject("Figure")) {}

    model::Project project;

    /// A part line in a section (by index; made when missing). Returns the part's id.
    model::PartId put(std::size_t section, const std::string& typed) {
        while (project.sections.size() <= section)
            project = must(model::addSection(project, "Section " + std::to_string(project.sections.size() + 1)));
        const auto line = must(parts::parsePartLine(typed));
        model::NewPart part;
        part.shape = must(parts::makeShape(line.shape));
        if (line.colour) part.colour = parts::findColour(*line.colour);
        if (line.atUm) part.place.atUm = *line.atUm;
        part.place.attitude = line.turn.value_or(0);
        std::vector<model::PartId> ids;
        project = must(model::addParts(project, project.sections[section]->id, {&part, 1}, &ids));
        return ids.front();
    }
    model::JointId join(const std::string& kind, const model::PartId& from, const std::string& fromPort,
                        const model::PartId& to, const std::string& toPort, std::vector<double> value = {},
                        std::vector<model::Range> wanted = {}) {
        model::Joint joint;
        joint.kind = parts::findJointKind(kind);
        if (!joint.kind) throw std::runtime_error("no kind " + kind);
        joint.from = {from, fromPort};
        joint.to = {to, toPort};
        joint.value =
            value.empty() ? std::vector<double>(static_cast<std::size_t>(joint.kind->freedomCount()), 0.0) : value;
        joint.wanted = std::move(wanted);
        project = must(model::addJoint(project, joint));
        return project.joints.back().id;
    }
    [[nodiscard]] model::SectionTree tree() const { return must(model::makeTree(project)); }
    [[nodiscard]] pose::FreedomRange range(int joint = 0, int freedom = 0) const {
        return pose::calcRange(context(), values(), joint, freedom);
    }
    /// Context for sweeps; the figure must outlive it.
    [[nodiscard]] pose::RangeContext context() const {
        return pose::makeRangeContext(project, tree(), bonds::calcBonds(project));
    }
    [[nodiscard]] pose::JointValues values() const { return pose::getValues(project, nullptr); }
    [[nodiscard]] pose::JointLoad load(int joint = 0) const {
        return pose::calcJointLoad(placed(), tree(), joint, at(trials::calcStrengths(project), joint));
    }
    [[nodiscard]] model::Placed placed() const {
        return pose::calcPlaced(project, tree(), pose::getValues(project, nullptr));
    }
};

/// A base with a run of small stepped hinges, 24 mm and 3.2 mm apart, like the heron's neck; the last piece carries a
/// block.
struct HingeRun : Figure {
    std::vector<model::JointId> joints;
    explicit HingeRun(int count, const std::string& block = "plate 1x2 at 0 0 2",
                      const std::vector<model::Range>& wanted = {}) {
        model::PartId carrier = put(0, "stepped hinge small fork at 0 0 0");
        for (int i = 1; i <= count; ++i) {
            const auto section = static_cast<std::size_t>(i);
            const auto lower = put(section, "stepped hinge small tongue at 0 0 0");
            const auto upper = put(section, "stepped hinge small fork at 0 0 1");
            joints.push_back(join("stepped hinge small", carrier, "finger", lower, "finger", {0}, wanted));
            carrier = upper;
        }
        put(static_cast<std::size_t>(count), block);
    }
};

} // namespace ivrant::test
