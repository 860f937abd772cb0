// SPDX-License-Identifier: GPL-3.0-or-later
// How do several models look beside each other, all to one scale?
#pragma once

#include <string>
#include <vector>

#include "core/base/result.h"
#include "core/verdict/report.h"

namespace ivrant::print {

/// One page across, or one picture, by the ending (.pdf, .png): each model in its first pose, seen from the front on
/// one ground, with its name, height, parts and weight, and a scale bar. Facts of the reports beyond places are not
/// needed. Errors "output.kind", "lineup.none" without models, "file.write", "render.context".
[[nodiscard]] base::Status writeLineup(const std::vector<verdict::Report>& reports, const std::string& path);

} // namespace ivrant::print
