// SPDX-License-Identifier: GPL-3.0-or-later
#include "data/demo/make_boards.h"

#include "data/demo/board_builder.h"

namespace ivrant::demo {
namespace {

using model::BoardAxis;
using model::GearKind;

} // namespace

/// Study of the swing bridge's span on its pier: bare it tips when it has slewed across, with a weight in its tail it
/// does not. A worm turns a crank beside the pier; a rod of the crank's length keeps the span parallel to it.
void makeSpan(const std::filesystem::path& folder) {
    BoardBuilder b("Swing bridge's span", "Pier");
    for (const char* part :
         {"plate 6x16 slate at 0 0 0", "brick 2x2 fog at 2 7 1", "brick 2x2 fog at 2 7 4", "brick 2x2 fog at 2 7 7"})
        b.put(part);
    const auto lower = b.put("small turntable lower fog at 2 7 10");
    b.section("Span");
    const auto upper = b.put("small turntable upper fog at 0 0 0");
    for (const char* part :
         {"plate 2x12 driftwood at 0 -2 1", "plate 2x12 driftwood at 0 10 1", "plate 2x8 driftwood at 0 6 2",
          "plate 2x8 driftwood at 0 -2 2", "brick 1x8 harbour at 0 14 2", "brick 1x8 harbour at 1 14 2",
          "brick 1x8 harbour at 0 14 5", "brick 1x8 harbour at 1 14 5", "brick 2x4 gorse at 0 18 8"})
        b.put(part);
    const auto joint = b.join("Turntable", "small turntable", {lower, "lower"}, {upper, "upper"}, 0, {0, 90});
    b.board("Slewing drive", {});
    const auto crank = b.shaft("Slewing crank", 5, 11, 0.7, 3, BoardAxis::Out, {0.3, 2.7}),
               across = b.shaft("Worm shaft", 2.5, 13, 2.2, 4, BoardAxis::Right, {1.3, 3.7});
    b.gear(GearKind::Spur, 24, crank, 1.5);
    b.gear(GearKind::Worm, 1, across, 2.5);
    b.motor("Motor", "motor small", across);
    model::DriveFunction slewing;
    slewing.name = "Slew";
    slewing.shaft = crank;
    slewing.load = model::LoadKind::Friction;
    slewing.amount = 25;
    slewing.joint = joint;
    slewing.travel = 90;
    slewing.withinS = 8;
    slewing.mustHold = true;
    b.function(slewing);
    b.pose("Along the pier", joint, 0);
    b.pose("Slewed across", joint, 90);
    b.tilt(12); // it stands on a jetty of planks
    b.variant("A bare tail", "B weighted tail");
    b.ballast(120, 1, -1.5, 1);
    b.showVariant("A bare tail");
    b.save(folder / "bridge-span.ivrant");
}

} // namespace ivrant::demo
