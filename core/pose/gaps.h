// SPDX-License-Identifier: GPL-3.0-or-later
// How much of a joint's mechanism shows that should not?
//
// Parallel rays from a view direction over the joint, one a pixel; a pixel counts when what it meets first is a solid
// of the joint's two ports (fingers, ball, cup, clip, bar), not a plate or tile over it. Area = pixels × pixel². The
// two plates that carry the ports are bodies, not mechanism. mm², world frame.
#pragma once

#include "core/pose/range.h"

namespace ivrant::pose {

struct GapView {
    const char* name;
    geometry::Vec3 towards; ///< unit, from the eye into the picture
};
/// Front, back, left, right, top of the standing figure.
[[nodiscard]] const std::vector<GapView>& getGapViews();

/// Visible mechanism of a joint in a placed figure from one direction. `pixelMm` 0.05 to 2. Error of about perimeter ×
/// pixel / 2. O(pixels × parts near the joint).
[[nodiscard]] double calcGapArea(const model::Placed& placed, const RangeContext& context, int joint,
                                 const geometry::Vec3& towards, double pixelMm = 0.25);

struct GapOverRange {
    int view = 0;      ///< index into getGapViews()
    double nowMm2 = 0; ///< in the values given
    double leastMm2 = 0, mostMm2 = 0;
    double mostAt = 0; ///< value of the freedom where most shows
};
/// Over the wanted range of the joint's bending freedom (the free range when nothing is wanted), `samples` values,
/// standing as `stance` says.
[[nodiscard]] std::vector<GapOverRange> calcGapsOverRange(const RangeContext& context, const JointValues& values,
                                                          const model::Stance& stance, int joint, int samples = 9);

} // namespace ivrant::pose
