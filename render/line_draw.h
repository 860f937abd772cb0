// SPDX-License-Identifier: GPL-3.0-or-later
// How do strings, bands and springs get into a picture? Each is drawn like one more section of thin rods.
#pragma once

#include "core/model/placed.h"
#include "render/renderer.h"

namespace ivrant::render {

/// All lines of the project where they run. The same way gives the same section, so that its mesh is made once; the
/// last few hundred are kept. Any thread.
[[nodiscard]] std::vector<SectionDraw> makeLineDraws(const model::Placed& placed);

} // namespace ivrant::render
