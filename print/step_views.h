// SPDX-License-Identifier: GPL-3.0-or-later
// From where is each step looked at, so that what is new is seen?
//
// Eight corner views, from above and from below. New parts are drawn in colours of their own in a small picture and
// counted; a view shows a part when at least kSeenShare of the pixels that it has alone are seen. A view is kept as
// long as it shows all that is new.
#pragma once

#include "core/files/sheet_steps.h"
#include "render/picture.h"

namespace ivrant::print {

inline constexpr double kSeenShare = 0.12;

struct StepView {
    render::Turn turn;
    bool turned = false; ///< another view of the same section than in the step before
    int hidden = 0;      ///< new parts that no view shows
};

[[nodiscard]] std::vector<StepView> chooseStepViews(render::Renderer& renderer, const verdict::Report& report,
                                                    const std::vector<files::SheetStep>& steps,
                                                    base::Progress* progress = nullptr);

/// What the picture of a step shows, without its size and view.
[[nodiscard]] render::PictureRequest makeStepRequest(const verdict::Report& report, const files::SheetStep& step);
/// How the model stands in it.
[[nodiscard]] const model::Placed& findStepPlaced(const verdict::Report& report, const files::SheetStep& step);
/// How far a section is away from its place in the picture of its joining.
[[nodiscard]] geometry::Vec3 calcJoinShift(const verdict::Report& report, const files::SheetStep& step);

} // namespace ivrant::print
