// SPDX-License-Identifier: GPL-3.0-or-later
// How does a driven motion look on paper: eight places side by side, with the paths of what is followed?
#pragma once

#include <QImage>

#include "core/study/motion.h"
#include "core/verdict/report.h"
#include "render/picture.h"

namespace ivrant::print {

inline constexpr int kStripPlaces = 8;

/// Seen along the axis of the driven joint from the side where what moves is, all to one scale, each with its value of
/// the driver. Null when the motion has no places.
[[nodiscard]] QImage drawMotionStrip(render::Renderer& renderer, const verdict::Report& report,
                                     const study::MotionStudy& study, int width);
/// The same as .png. Errors "output.kind", "motion.none", "render.context", "file.write".
[[nodiscard]] base::Status writeMotionStrip(const verdict::Report& report, const study::MotionStudy& study,
                                            const std::string& path);

} // namespace ivrant::print
