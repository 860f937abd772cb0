// In which order is the model built?
//
// Sections in the order of the joint tree, within each the parts by their step number; steps are numbered through.
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
    int section = 0;        ///< index
    int stepInSection = 0;  ///< the number stored in the parts
    std::vector<int> added; ///< indices of the section's parts that are new
    std::vector<TrayLine> tray;
    int joint = -1; ///< joint that hangs the finished section on the model, in the section's last step; else −1
};

[[nodiscard]] std::vector<Step> listSteps(const model::Project& project, const model::SectionTree& tree);

/// What the listed parts need from the drawers: by shape, then colour.
[[nodiscard]] std::vector<TrayLine> countParts(const std::vector<const model::Part*>& parts);

} // namespace ivrant::make
