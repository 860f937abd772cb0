// SPDX-License-Identifier: GPL-3.0-or-later
// What stands on the printed sheets, before anybody decides how it looks?
#pragma once

#include <string>
#include <vector>

#include "core/base/units.h"
#include "core/files/sheet_carry.h"
#include "core/files/sheet_lifts.h"
#include "core/files/sheet_lines.h"
#include "core/files/sheet_motions.h"
#include "core/files/sheet_steps.h"
#include "core/make/parts_list.h"
#include "core/verdict/report.h"

namespace ivrant::files {

struct SheetVerdict {
    verdict::State state;
    std::string margin, text, detail, basis;
};

struct SheetJoint {
    std::string name, kind, wanted, free, hold;
};

/// What may stand in the place of what the steps build.
struct SheetChoice {
    std::string option, alternative, parts, text;
    bool built = false; ///< the steps build this one
};

struct SheetContent {
    std::string title;
    std::vector<std::pair<std::string, std::string>> figures; ///< "Parts" → "128"
    std::vector<SheetVerdict> verdicts;                       ///< grouped, the worst first; what passes is left out
    std::string passing;                                      ///< how many others pass, in words; empty: none
    verdict::Summary summary;
    std::vector<std::string> cautions;
    CarryPlan carrying;
    std::vector<SheetJoint> joints;
    std::vector<make::PartsLine> parts;
    std::vector<make::BallastLine> ballast;
    std::vector<SheetChoice> choices;
    std::vector<SheetMotion> motions;
    std::vector<SheetLine> lines;
    std::vector<SheetLift> lifts;
    SheetPacking packing;
    std::vector<SheetStep> steps;
    std::string basisNote;
};

[[nodiscard]] SheetContent makeSheetContent(const verdict::Report& report,
                                            base::LengthUnit unit = base::LengthUnit::Millimetres);

/// "easy: 12 steps, each from above", "asks for care: …", "demanding: …", by what the steps count: parts to hold from
/// below, places without room for fingers, what is put together first or waits, joinings in a pose of their own.
[[nodiscard]] std::string describeDifficulty(const std::vector<SheetStep>& steps);

/// Cautions of domain where work can hurt: small parts, weight, falling, ballast.
[[nodiscard]] std::vector<std::string> listCautions(const verdict::Report& report);

} // namespace ivrant::files
