// SPDX-License-Identifier: GPL-3.0-or-later
// How do the sheets look: a guide for building the model, as PDF or as one HTML file with its pictures inside?
//
// Needs Qt Gui only. Both work without a display (an offscreen application object is made when there is none). Long
// jobs report progress and can be stopped; then nothing is written.
#pragma once

#include <string>

#include "core/base/progress.h"
#include "core/base/result.h"
#include "core/base/units.h"
#include "core/verdict/report.h"

namespace ivrant::print {

struct PageFormat {
    bool letter = false; ///< else A4
    bool across = false; ///< with three steps beside each other instead of two
};
/// PDF. Errors "file.write", "render.context", "stopped".
[[nodiscard]] base::Status writeGuidePdf(const verdict::Report& report, const std::string& path,
                                         base::Progress* progress = nullptr, const PageFormat& format = {});
/// One self-contained HTML file. Same errors.
[[nodiscard]] base::Status writeGuideHtml(const verdict::Report& report, const std::string& path,
                                          base::Progress* progress = nullptr);

/// Every step as a PNG of its own (step-0001.png …), cover.png and steps.csv, in a folder that is made when it is not
/// there. Same errors; stopped: the pictures drawn by then are there.
[[nodiscard]] base::Status writeStepPictures(const verdict::Report& report, const std::string& folder,
                                             base::Progress* progress = nullptr);

} // namespace ivrant::print
