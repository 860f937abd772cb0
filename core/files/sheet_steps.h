// SPDX-License-Identifier: GPL-3.0-or-later
// The steps as they stand on the sheets: what is built, how often, which way it goes in, and how finished sections are
// joined?
#pragma once

#include "core/make/order_check.h"
#include "core/make/steps.h"
#include "core/verdict/report.h"

namespace ivrant::files {

/// Parts of one step that are put together first and go in as one.
struct SheetGroup {
    std::vector<int> parts; ///< indices in the section
    make::Way way;          ///< out
};

/// A part that there are several lengths of in the model.
struct TrueSize {
    std::string shape;
    double mm = 0;
};

struct SheetStep {
    make::Step step;    ///< numbered through the sheets; what joins a section adds no parts
    std::string title;  ///< "Neck 1", "Neck 1 onto Body"
    int copies = 1;     ///< so many of it are needed
    bool joins = false; ///< hangs a finished section on what is there: step.section by step.joint
    make::Way way;      ///< of joining: out, in the world
    std::string pose;   ///< of joining: in which it goes; empty: as the joints stand
    /// Of joining, and of parts that waited for a section: sections that are there.
    std::vector<int> before;
    std::vector<make::Way> ways;    ///< by part of step.added: out, in the section, of those that waited in the world
    std::vector<SheetGroup> groups; ///< of step.added
    std::vector<TrueSize> lengths;  ///< of its long parts, to be shown in true size
    int holds = 0, tight = 0;       ///< parts that want a hand below; that fingers hardly get to
    std::vector<std::string> notes; ///< what to mind, in order; the builder's own first
    std::optional<std::array<double, 2>> viewDeg; ///< from where the builder has it looked at (model::StepNote)
};

/// Sections that are the same are built once, "6 of these"; every joining is a step of its own.
[[nodiscard]] std::vector<SheetStep> makeSheetSteps(const verdict::Report& report);

} // namespace ivrant::files
