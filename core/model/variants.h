// SPDX-License-Identifier: GPL-3.0-or-later
// Which ways of building the model are there, and which one is shown?
//
// A project shows one variant; the bodies of the others wait in Project::variants. What is not in a body (name, rules,
// asks, measurements, diary) belongs to all of them. Ids that two variants share mean the same thing in both.
#pragma once

#include "core/model/edits.h"

namespace ivrant::model {

/// Makes a copy of the shown variant under a new name and shows it. The first time, the one copied is called
/// `firstName`.
EditResult addVariant(const Project& project, const std::string& name, const std::string& firstName = "A");
/// Shows another variant. Error "edit.missing".
EditResult showVariant(const Project& project, const VariantId& id);
EditResult renameVariant(const Project& project, const VariantId& id, const std::string& name);
/// Removes a variant that is not shown; when one is left, the project has no variants any more. Error "variant.shown".
EditResult removeVariant(const Project& project, const VariantId& id);

/// Index of the shown variant, −1 when there are none.
[[nodiscard]] int findShownVariant(const Project& project);
[[nodiscard]] int findVariant(const Project& project, const VariantId& id);
/// The project as it is when that variant (by index) is shown.
[[nodiscard]] Project takeVariant(const Project& project, int index);

} // namespace ivrant::model
