// SPDX-License-Identifier: GPL-3.0-or-later
// Edits of the choices that a model offers (options.h).
#pragma once

#include "core/model/edits.h"

namespace ivrant::model {

/// An option whose first alternative is what is named, chosen, and whose second is nothing. `parts` may be empty. Error
/// "option.taken" for parts of another option, "option.joint" for parts that a joint holds on to.
EditResult addOption(const Project& project, const std::string& name, const std::string& alternative,
                     std::span<const PartId> parts, std::span<const SectionId> sections = {});
/// The option goes; what is chosen stays in the model as a part of it like all others, the rest is lost.
EditResult removeOption(const Project& project, const OptionId& id);
/// A further alternative, with nothing in it yet; it is chosen.
EditResult addAlternative(const Project& project, const OptionId& id, const std::string& name);
/// Error "option.last" for the only one, "option.chosen" for the one that stands in the model.
EditResult removeAlternative(const Project& project, const AlternativeId& id);
EditResult renameOption(const Project& project, const OptionId& id, const std::string& name);
/// Name, text and price.
EditResult describeAlternative(const Project& project, const AlternativeId& id, const std::string& name,
                               const std::string& text, double price);
/// These parts, and sections, of the model belong to the alternative that is chosen.
EditResult assignToChosen(const Project& project, const OptionId& id, std::span<const PartId> parts,
                          std::span<const SectionId> sections = {});
/// What is chosen now waits, and the other stands in the model. Rules are not asked. Errors "option.board" when a board
/// belongs to a section that would leave, "edit.missing" when a section is gone that its parts went into.
EditResult chooseAlternative(const Project& project, const AlternativeId& id);
EditResult putRule(const Project& project, const OptionRule& rule);
EditResult removeRule(const Project& project, const OptionRule& rule);

/// Whether every alternative can be chosen; names and prices; ids of what waits. Place: "/options/…".
[[nodiscard]] base::Status checkOptions(const Project& project);

} // namespace ivrant::model
