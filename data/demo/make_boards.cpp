// SPDX-License-Identifier: GPL-3.0-or-later
#include "data/demo/make_boards.h"

#include "data/demo/board_builder.h"

namespace ivrant::demo {
namespace {

using model::BoardAxis;
using model::GearKind;

/// Turn of a board seen from the right of its section: right on it is away, up is up.
const int kSeenFromRight = geometry::findTurn((geometry::Mat3() << 0, 0, 1, 1, 0, 0, 0, 1, 0).finished()).value();

} // namespace

/// Slewing span on a turntable. The gearbox lies flat in the pier, a shaft on the axis lifts the span, one beside the
/// axis turns the lamp mast (which is what limits the turn); one selector gives two motors four functions.
void makeBridge(const std::filesystem::path& folder) {
    BoardBuilder b("Swing bridge", "Pier");
    for (const char* part :
         {"plate 8x8 slate at -4 -4 -20", "plate 8x8 slate at 4 -4 -20", "plate 8x8 slate at -12 -4 -20",
          "plate 4x8 driftwood at -6 -4 -19", "plate 4x8 driftwood at 2 -4 -19"})
        b.put(part);
    b.board("Gearbox", {-4, -1.5, 2.5});
    // M1 over 12:36 to an 8 between two clutch wheels: slewing and the gate.
    const auto m1 = b.shaft("M1", 6, 3, -4.5, 3.2), between = b.shaft("Layshaft 1", 6, 0, -4.5, 3.2),
               slew = b.shaft("Slewing pinion", 4, 0, -2.5, 6.5), gate1 = b.shaft("Gate clutch", 8, 0, -2.5, 5.2),
               gate = b.shaft("Gate", 10, 0, -2.5, 5.2);
    b.gear(GearKind::Spur, 12, m1, 1.5);
    b.gear(GearKind::Spur, 36, between, 1.5);
    b.gear(GearKind::Spur, 8, between, 2.5);
    const auto toSlew = b.gear(GearKind::Spur, 24, slew, 0.5, true),
               toGate = b.gear(GearKind::Spur, 24, gate1, 0.5, true);
    b.gear(GearKind::Spur, 8, gate1, 1.5);
    b.gear(GearKind::Spur, 24, gate, 1.5);
    b.gear(GearKind::Spur, 8, slew, 6);
    // M2 over 20:28 to a 12 between two clutch wheels: the span's lift and the lamp mast.
    const auto m2 = b.shaft("M2", -6, 3, -4.5, 3.2), between2 = b.shaft("Layshaft 2", -6, 0, -4.5, 3.2),
               lift = b.shaft("Lift clutch", -4, 0, -2.5, 5.2), lamp = b.shaft("Lamp clutch", -6, -2, -2.5, 5.2),
               centre = b.shaft("Centre shaft", 0, 0, -2, 9.5, BoardAxis::Out, {7}),
               lamp2 = b.shaft("Lamp layshaft", -1, -2, -0.5, 3.2, BoardAxis::Out, {0}),
               aside = b.shaft("Lamp shaft", -1, 0, 0.55, 5.95, BoardAxis::Out, {4.4});
    b.gear(GearKind::Spur, 20, m2, 1.5);
    b.gear(GearKind::Spur, 28, between2, 1.5);
    b.gear(GearKind::Spur, 12, between2, 2.5);
    const auto toLift = b.gear(GearKind::Spur, 20, lift, 0.5, true),
               toLamp = b.gear(GearKind::Spur, 20, lamp, 0.5, true);
    b.gear(GearKind::Spur, 24, lift, 1.5);
    b.gear(GearKind::Spur, 40, centre, 1);
    const auto sprocketA = b.gear(GearKind::Sprocket, 10, lamp, 2.5),
               sprocketB = b.gear(GearKind::Sprocket, 10, lamp2, 0.5);
    b.chain(sprocketA, sprocketB);
    b.gear(GearKind::Spur, 24, lamp2, 1.5);
    b.gear(GearKind::Spur, 8, aside, 0.45);
    b.gear(GearKind::Spur, 8, aside, 5.45);
    const auto table = b.gear(GearKind::Turntable, 56, centre, 6);
    b.gear(GearKind::Bevel, 12, centre, 9);
    b.motor("M1", "motor medium", m1, true);
    b.motor("M2", "motor small", m2, true);
    b.selector("Selector", {{"Turn and lift", {toSlew, toLift}}, {"Signals", {toGate, toLamp}}, {"Off", {}}});
    model::DriveFunction slewing;
    slewing.name = "Slew";
    slewing.gear = table;
    slewing.load = model::LoadKind::Friction;
    slewing.amount = 60;
    slewing.travel = 90;
    slewing.withinS = 6;
    b.function(slewing);
    model::DriveFunction gates;
    gates.name = "Gate";
    gates.shaft = gate;
    gates.load = model::LoadKind::Arm;
    gates.amount = 40;
    gates.radiusMm = 60;
    gates.travel = 85;
    gates.withinS = 2;
    b.function(gates);

    model::Place upright; // x stays, the board's up is the world's z
    upright.attitude = 20;
    b.board("Span side", {-1, 1}, upright, table);
    const auto cross = b.shaft("Span worm shaft", 0.5, 8, 0, 5, BoardAxis::Right, {1.5, 4.5}),
               hinge = b.shaft("Span hinge", 4, 6, -2, 4);
    b.gear(GearKind::Bevel, 12, cross, 0.5);
    b.gear(GearKind::Worm, 1, cross, 3.5);
    b.gear(GearKind::Spur, 24, hinge, 2);
    const auto mast = b.shaft("Mast", -3, 5.25, 0, 4, BoardAxis::Up, {0.1, 2});
    b.gear(GearKind::Spur, 24, mast, 0.75);
    model::DriveFunction lifting;
    lifting.name = "Span lift";
    lifting.shaft = hinge;
    lifting.load = model::LoadKind::Arm;
    lifting.amount = 150;
    lifting.radiusMm = 120;
    lifting.travel = 70;
    lifting.withinS = 5;
    lifting.mustHold = true;
    b.function(lifting);
    model::DriveFunction lampMast;
    lampMast.name = "Lamp mast";
    lampMast.shaft = mast;
    lampMast.load = model::LoadKind::Friction;
    lampMast.amount = 8;
    lampMast.wantedRpm = 10;
    b.function(lampMast);
    b.save(folder / "bridge.ivrant");
}

/// Rear axle with a differential under the frame, and an auxiliary drive of 1:15 on top that tips the basket.
void makeCart(const std::filesystem::path& folder) {
    BoardBuilder b("Shrimping cart", "Frame");
    for (const char* part :
         {"plate 4x10 harbour at 0 0 0", "plate 4x10 harbour at 4 0 0", "plate 4x10 harbour at 8 0 0",
          "plate 12x4 driftwood at 0 0 1", "plate 12x4 driftwood at 0 6 1", "plate 12x2 driftwood at 0 4 1"})
        b.put(part);
    // Its wheels come later: it stands on four blocks for now, 35.2 mm high.
    for (const char* corner : {"0 0", "10 0", "0 8", "10 8"}) {
        for (const char* course :
             {"brick 2x2 harbour at @ -3", "brick 2x2 harbour at @ -6", "brick 2x2 harbour at @ -9",
              "plate 2x2 harbour at @ -10", "plate 2x2 harbour at @ -11"})
            b.put(std::string(course).replace(std::string(course).find('@'), 1, corner));
    }
    model::Place axle; // seen from the right: its x runs back, its y up, its shafts across the cart
    axle.atUm = {-4000, 24'000, -19'200};
    axle.attitude = kSeenFromRight;
    b.board("Rear axle", {0.5, 4.5, 7.75, 11.5}, axle);
    const auto left = b.shaft("Left wheel", 0, 0, -1, 7), right = b.shaft("Right wheel", 0, 0, 6, 7),
               motor = b.shaft("Drive", 2.5, 0, 3.5, 4, BoardAxis::Out, {1.1, 3.7});
    const auto housing = b.differential(28, left, right, 7);
    b.gear(GearKind::Spur, 12, motor, 2.5);
    b.motor("Drive motor", "motor medium", motor);
    model::DriveFunction drive;
    drive.name = "Both wheels";
    drive.gear = housing; // its turns are the mean of both wheels'
    drive.load = model::LoadKind::Slope;
    drive.amount = 350;
    drive.radiusMm = 28;
    drive.fromDeg = 25;
    drive.wantedRpm = 60;
    b.function(drive);
    model::Place top;
    top.atUm = {8000, 20'000, 38'400};
    top.attitude = kSeenFromRight;
    b.board("Basket", {-0.5, 3.5}, top);
    const auto input = b.shaft("Basket motor", 0, 0, -1, 5), middle = b.shaft("Basket layshaft", 2, 0, -1, 5),
               output = b.shaft("Basket crank", 5, 0, -1, 5);
    b.gear(GearKind::Spur, 8, input, 1.5);
    b.gear(GearKind::Spur, 24, middle, 1.5);
    b.gear(GearKind::Spur, 8, middle, 2.5);
    b.gear(GearKind::Spur, 40, output, 2.5);
    b.motor("Basket motor", "motor medium", input, true);
    model::DriveFunction tip;
    tip.name = "Tip the basket";
    tip.shaft = output;
    tip.load = model::LoadKind::Arm;
    tip.amount = 250;
    tip.radiusMm = 90;
    tip.fromDeg = -10;
    tip.travel = 70;
    tip.withinS = 2;
    tip.mustHold = true;
    b.function(tip);
    b.save(folder / "cart.ivrant");
}

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
