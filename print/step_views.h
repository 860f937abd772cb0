// SPDX-License-Identifier: GPL-3.0-or-later
// From where is each step looked at, so that what is new is seen?
//
// Eight corner views, from above and from below. New parts are drawn in colours of their own in a small picture and
// counted; a view shows a part when at least kSeenShare of the pixels that it has alone are seen. A view is kept as
// long as it shows all that is new. What no view shows in its place is drawn away from it, out on its way, with an
// arrow.
#pragma once

#include "core/files/sheet_steps.h"
#include "render/picture.h"

namespace ivrant::print {

inline constexpr double kSeenShare = 0.12;
inline constexpr const char* kAwayNote = "Drawn away from its place: it goes in where the arrow ends.";

struct StepView {
    render::Turn turn;
    bool turned = false; ///< another view of the same section than in the step before
    int hidden = 0;      ///< new parts that no view shows
    /// New parts that no view showed in their place: drawn so far off on their way out, in the frame of the picture.
    std::map<model::PartSpot, geometry::Vec3> away;
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
