// SPDX-License-Identifier: GPL-3.0-or-later
// In which order is the model built?
//
// Sections in the order of the joint tree, within each the parts by their step number; a gear board is a step of its
// own after the step that it names, boards that live alone come first: gearing is often built before anything else.
// Steps are numbered through.
#pragma once

#include <map>

#include "core/model/validate.h"

namespace ivrant::make {

struct TrayLine {
    std::string shape; ///< list name (parts::getListName)
    int colour = 0;
    int count = 0;
};

struct Step {
    int number = 0;         ///< from 1, through the whole model
    int section = 0;        ///< index; −1: a board that belongs to none
    int stepInSection = 0;  ///< the number stored in the parts
    std::vector<int> added; ///< indices of the section's parts that are new
    std::vector<TrayLine> tray;
    int board = -1;          ///< index of the gear board built here; −1: the parts `added`
    std::vector<int> boards; ///< of the same section, that are there already
    int after = -1;          ///< parts that are put on once this other section is on; else −1
    int joint = -1; ///< joint that hangs the finished section on the model, in the section's last step; else −1
};

/// By section: its place in the order of building.
[[nodiscard]] std::vector<int> rankSections(const model::SectionTree& tree);
/// Section index that the part waits for, its own or a later one in the order; −1: it is put on as its own is built.
[[nodiscard]] int findAfter(const model::Project& project, const std::vector<int>& rank, int section,
                            const model::Part& part);

/// What the step is about: its section's or its board's name; "Pier, once Slewing is on", "Slewing, in its place".
[[nodiscard]] std::string getStepName(const model::Project& project, const Step& step);
[[nodiscard]] std::vector<Step> listSteps(const model::Project& project, const model::SectionTree& tree);

/// What the listed parts need from the drawers: by shape, then colour.
[[nodiscard]] std::vector<TrayLine> countParts(const std::vector<const model::Part*>& parts);

} // namespace ivrant::make
