// SPDX-License-Identifier: GPL-3.0-or-later
// Ranges against closed forms. A fork's cells lie at y = 0 and 8, its axis at y = 16, 3.2 mm above the underside: its
// end face (half a pitch from the last cell's centre, less 0.1 mm inset) is 16 - (8 + 4 - 0.1) = 4.1 mm from the axis;
// the tongue's likewise on the other side.
#include "core/pose/range.h"

#include <cmath>

#include "core/base/units.h"
#include "tests/support/figures.h"
#include "tests/support/near.h"

using namespace ivrant;
using test::Figure;
using test::kRangeDeg;

namespace {

constexpr double kEnd = 4.1; ///< joint axis to the end face of either plate

double deg(double rad) { return base::radToDeg(rad); }

/// Fork in section 0, tongue in section 1, both at their origins.
struct Hinge : Figure {
    model::PartId fork, tongue;
    explicit Hinge(const std::string& size = "small") {
        fork = put(0, "stepped hinge " + size + " fork at 0 0 0");
        tongue = put(1, "stepped hinge " + size + " tongue at 0 0 0");
    }
};

} // namespace

TEST(Range, BareSmallHingeReachesItsOwnLimits) {
    Hinge h;
    h.join("stepped hinge small", h.fork, "finger", h.tongue, "finger");
    const auto r = h.range();
    EXPECT_DOUBLE_EQ(r.free.low, -90);
    EXPECT_DOUBLE_EQ(r.free.high, 90);
    EXPECT_EQ(r.high.by, pose::StopBy::Own);
}

TEST(Range, TwoBricksOnTheHalvesFoldUntilTheirCornersMeet) {
    // Bricks flush with both ends, their tops 9.6 + 1.7 (studs) above the axis; studs stand back from the edge. Both
    // upper edges lie at (±4.1, 9.6): by symmetry they meet when each has turned by atan(4.1 / 9.6) = 23.13°: 46.25°
    // together.
    Hinge h;
    h.put(0, "brick 1x2 at 0 0 1");
    h.put(1, "brick 1x2 at 0 0 1");
    h.join("stepped hinge small", h.fork, "finger", h.tongue, "finger");
    const auto r = h.range();
    EXPECT_NEAR(r.free.high, 2 * deg(std::atan2(kEnd, 9.6)), kRangeDeg);
    EXPECT_EQ(r.high.by, pose::StopBy::Contact);
    EXPECT_DOUBLE_EQ(r.free.low, -90);
}

TEST(Range, TwoTilesOnTheHalvesFold) {
    // Tiles 3.2 above the axis: 2·atan(4.1 / 3.2) = 104.1° is beyond the small hinge's own 90°, within the large one's.
    Hinge h("large");
    h.put(0, "tile 1x2 at 0 0 1");
    h.put(1, "tile 1x2 at 0 0 1");
    h.join("stepped hinge large", h.fork, "finger", h.tongue, "finger");
    EXPECT_NEAR(h.range().free.high, 2 * deg(std::atan2(kEnd, 3.2)), kRangeDeg);
}

TEST(Range, LargeHingeFoldsDownAsFarAsItPromises) {
    // Both undersides are 3.2 below the axis, with edges cut back so that they pass each other; whole edges would meet
    // at 104°.
    Hinge h("large");
    h.join("stepped hinge large", h.fork, "finger", h.tongue, "finger");
    const auto r = h.range();
    EXPECT_DOUBLE_EQ(r.free.low, -112.5);
    EXPECT_DOUBLE_EQ(r.free.high, 112.5);
}

TEST(Range, ArmComesDownOnATable) {
    // The tongue's underside is 3.2 below the axis from 4.1 to 19.9 (two cells); a plate 1x8 lies on it, its underside
    // level with the axis, up to 67.9. The table (a tile 1x3, cells at y = 32 to 48) has its top 6.4 below the axis,
    // from 28 + 0.1 - 16 = 12.1 to 52 - 0.1 - 16 = 35.9 mm out. Two things may touch first: the tongue's far lower
    // corner, on the radius |(19.9, 3.2)|, coming down to the table's top, or the long plate's underside, a line
    // through the axis, at the table's far upper edge (35.9, 6.4).
    Hinge h;
    h.put(0, "tile 1x3 at 0 4 -1");
    h.put(1, "plate 1x8 at 0 0 1");
    h.join("stepped hinge small", h.fork, "finger", h.tongue, "finger");
    const double below = 3.2; // the tile's top is at z = 0, the axis at 3.2
    const double corner = deg(std::asin(below / std::hypot(19.9, 3.2))) - deg(std::atan2(3.2, 19.9));
    const double edge = deg(std::atan2(below, 35.9));
    // At 3.2 below, the tongue's underside lies on the table from the start: nothing is left downwards.
    EXPECT_NEAR(corner, 0, 1e-9);
    EXPECT_NEAR(h.range().free.low, -std::min(corner, edge), kRangeDeg);
    // One plate lower there is room: 6.4 below.
    h.project =
        test::must(model::moveParts(h.project, std::vector<model::PartId>{h.project.sections[0]->parts.back().id},
                                    geometry::makeFrame(geometry::Mat3::Identity(), {0, 0, -3.2})));
    const double corner2 = deg(std::asin(6.4 / std::hypot(19.9, 3.2))) - deg(std::atan2(3.2, 19.9));
    const double edge2 = deg(std::atan2(6.4, 35.9));
    EXPECT_NEAR(h.range().free.low, -std::min(corner2, edge2), kRangeDeg);
}

TEST(Range, SmoothPinBeamsTurnAllRound) {
    Figure f;
    const auto pin = f.put(0, "pin smooth at 0 0 0 turn 1"); // turn 1: the pin lies along y
    f.put(0, "beam 3 at 0 -0.5s 0");
    const auto beam = f.put(1, "beam 5 at 0 0 0");
    f.join("smooth pin", pin, "end+", beam, "hole 2 back");
    const auto r = f.range();
    EXPECT_TRUE(r.endless);
    EXPECT_EQ(r.high.by, pose::StopBy::Nothing);
}

TEST(Range, BeamOnAPinStopsAtAPeg) {
    // Beam 2 on an axle, and a second axle parallel to it 16 mm away carried by a beam below. The swinging beam is 3.7
    // mm half wide with round end R = 3.7 about its hole 8 mm out; the peg has r = 2.35. Centres at contact are 3.7
    // + 2.35 = 6.05 apart where the round end is 8 and the peg 11.3137 mm from the axis: law of cosines.
    Figure f;
    const auto pin = f.put(0, "pin smooth at 0 0 0 turn 1");
    f.put(0, "beam 3 at 0 -0.5s 0");
    f.put(0, "axle 4 at 1 -1 1s turn 1"); // along y through (8, ·, 8)
    const auto beam = f.put(1, "beam 2 at 0 0 0");
    f.join("smooth pin", pin, "end+", beam, "hole 0 back");
    const auto r = f.range();
    const double peg = std::hypot(8.0, 8.0);
    const double between = deg(std::acos((64 + peg * peg - 6.05 * 6.05) / (2 * 8 * peg)));
    // The beam starts along its own x; the peg lies 45° from +x towards +z on one side.
    const double towards = r.free.high < 180 - 1e-9 && r.high.by == pose::StopBy::Contact
                               ? std::min(std::abs(r.free.high), std::abs(r.free.low))
                               : 0;
    EXPECT_NEAR(towards, 45 - between, kRangeDeg);
}

TEST(Range, ClipOnBarFoldsUntilThePlatesMeet) {
    // Both undersides 3.2 below the axis, tops level with it but for studs. Downwards the lower corners meet at
    // 2·atan(4.1 / 3.2) from the outside: 180° − … by symmetry each half turns by 90° − atan(3.2/4.1) … =
    // atan(4.1/3.2).
    Figure f;
    const auto bar = f.put(0, "bar plate 1x2 at 0 0 0");
    const auto clip = f.put(1, "clip plate 1x2 at 0 0 0");
    f.join("clip on bar", bar, "bar", clip, "clip");
    const auto r = f.range();
    const double fold = 2 * deg(std::atan2(kEnd, 3.2));
    // The bar's axis is −x: positive angles turn the clip downwards on its side; one of both ends is this fold.
    EXPECT_NEAR(std::min(std::abs(r.free.low), std::abs(r.free.high)), fold, kRangeDeg);
    EXPECT_FALSE(r.own.has_value());
}

TEST(Range, ClipSlidesBetweenThePosts) {
    // Clip half width 1.5, posts' inner faces at ±3.1: ±1.6 either way, which is also the own limit.
    Figure f;
    const auto bar = f.put(0, "bar plate 1x2 at 0 0 0");
    const auto clip = f.put(1, "clip plate 1x2 at 0 0 0");
    f.join("clip on bar", bar, "bar", clip, "clip");
    const auto r = f.range(0, 1);
    EXPECT_NEAR(r.free.low, -1.6, 0.001);
    EXPECT_NEAR(r.free.high, 1.6, 0.001);
}

TEST(Range, TurntablePlateStopsAtAPost) {
    // Upper plate 2x2 about its middle; a plate 1x6 on top along +x sweeps a circle; a brick post beside it.
    // The plate's end beyond the axis: half width 3.9 (one cell), it starts in the middle row: cells y = 0 of the upper
    // half, i.e. its centre line is 4 mm beside the axis. The post's near corner is hit by the plate's long side: side
    // line at distance d = 4 + 3.9 = 7.9 from the axis on one side and 0.1 on the other (3.9 − 4 → −0.1).
    Figure f;
    const auto lower = f.put(0, "small turntable lower at 0 0 0");
    f.put(0, "plate 1x6 at 0 2 -1"); // foot along +y from cell row 2; holds the post
    f.put(0, "plate 2x2 at 0 1 -2");
    f.put(0, "brick 1x1 at 0 6 0");
    f.put(0, "brick 1x1 at 0 6 3");
    const auto upper = f.put(1, "small turntable upper at 0 0 0");
    f.put(1, "plate 8x1 at 0 0 1");
    f.join("small turntable", lower, "lower", upper, "upper");
    const auto r = f.range();
    // Axis (4, 4). Plate 8x1: cells x 0…56 at y = 0: from −4 − … relative: x −7.9 … 55.9, y −7.9 … −0.1. Post: x −7.9 …
    // −0.1, y 40.1 … 47.9 (relative). Turning left (positive), the plate's long side y = −0.1 leads; the post's corner
    // on the side it arrives from is (−0.1, 40.1): the line at distance −0.1 from the axis meets it at 90° + asin
    // terms: a point at polar angle φ, radius ρ is on the line when sin(φ − θ)·ρ = −0.1.
    const double rho = std::hypot(0.1, 40.1), phi = deg(std::atan2(40.1, -0.1));
    const double corner = phi + deg(std::asin(0.1 / rho));
    // … unless the nearer side (x = −0.1, from below) is hit first by the same line at the corner (−0.1, 40.1) or
    // (−0.1, 47.9).
    const double rho2 = std::hypot(0.1, 47.9), phi2 = deg(std::atan2(47.9, -0.1));
    const double corner2 = phi2 + deg(std::asin(0.1 / rho2));
    EXPECT_NEAR(r.free.high, std::min(corner, corner2), kRangeDeg);
    EXPECT_EQ(r.high.by, pose::StopBy::Contact);
}

TEST(Range, SwivelHeadStopsAtAWall) {
    // Brick 2x2 on one stud by its cell (0,0): its far corner is at (12 − 0.1, 12 − 0.1) from the axis… the side faces
    // at 11.9 and −3.9. A wall face stands at x = 16 − 3.9 = 12.1 from the axis on the right. The corner (11.9, 11.9)
    // on radius 16.829 at 45° reaches x = 12.1 when cos φ = 12.1 / 16.829: φ = 44.03°, i.e. after turning back by
    // 0.97°.
    Figure f;
    f.put(0, "plate 4x4 at 0 0 0");
    const auto base = f.put(0, "round plate 1x1 at 0 0 1"); // lifts the head clear of the other studs
    f.put(0, "brick 1x4 at 2 0 1"); // x from 16 − 3.9 = 12.1, up to 12.8; the head's underside is at 6.4
    const auto head = f.put(1, "brick 2x2 at 0 0 0");
    f.join("one-stud swivel", base, "stud 0,0", head, "cell 0,0");
    const auto r = f.range();
    const double radius = std::hypot(11.9, 11.9);
    EXPECT_NEAR(r.free.low, -(45 - deg(std::acos(12.1 / radius))), kRangeDeg);
    EXPECT_EQ(r.low.by, pose::StopBy::Contact);
}

TEST(Range, BallKeepsToItsCone) {
    Figure f;
    const auto ball = f.put(0, "ball plate small 1x2 at 0 0 0");
    const auto cup = f.put(1, "cup plate small 1x2 at 0 0 0");
    f.join("small ball and cup", ball, "ball", cup, "cup", {0, 0, 0});
    EXPECT_DOUBLE_EQ(f.range(0, 0).free.high, 45);
    EXPECT_TRUE(f.range(0, 2).own == std::nullopt);
    // With 27° of one tilt, the other has √(45² − 27²) = 36° left.
    f.project = test::must(model::setJointValue(f.project, f.project.joints[0].id, {27, 0, 0}));
    EXPECT_NEAR(f.range(0, 1).own->high, 36, 1e-9);
}

TEST(Range, EveryBareJointReachesWhatItsKindPromises) {
    // The two halves alone, nothing on them: own limits for hinges, balls and clips' slides; all round for the rest,
    // but for the clip, which promises nothing: its plates meet when folded down by 2·atan(4.1 / 3.2).
    struct Pair {
        const char *kind, *carrying, *fromPort, *carried, *toPort;
    };
    const double fold = 2 * deg(std::atan2(kEnd, 3.2));
    for (const Pair& p :
         {Pair{"stepped hinge small", "stepped hinge small fork", "finger", "stepped hinge small tongue", "finger"},
          Pair{"stepped hinge large", "stepped hinge large fork", "finger", "stepped hinge large tongue", "finger"},
          Pair{"small ball and cup", "ball plate small 1x2", "ball", "cup plate small 1x2", "cup"},
          Pair{"small ball and cup", "ball plate small 1x1", "ball", "cup plate small 1x1", "cup"},
          Pair{"large ball and cup", "ball plate large 1x2", "ball", "cup plate large 1x2", "cup"},
          Pair{"large ball and cup", "ball plate large 1x1", "ball", "cup plate large 1x1", "cup"},
          Pair{"clip on bar", "clip plate 1x2", "clip", "bar plate 1x2", "bar"},
          Pair{"clip on bar", "bar plate 1x1", "bar", "clip plate 1x1", "clip"},
          Pair{"small turntable", "small turntable lower", "lower", "small turntable upper", "upper"},
          Pair{"large geared turntable", "large geared turntable lower", "lower", "large geared turntable upper",
               "upper"},
          Pair{"free hinge plate pair", "hinge plate lower", "hinge", "hinge plate upper", "hinge"},
          Pair{"large ball and cup", "limb bone 5", "ball", "limb bone 5", "cup"},
          Pair{"smooth pin", "pin smooth", "end+", "beam 5", "hole 2"},
          Pair{"ribbed pin", "pin ribbed", "end-", "pin hole brick 1x4", "hole 1"},
          Pair{"axle in round hole", "axle 4", "at 1", "beam 3", "hole 0"},
          Pair{"universal joint", "universal joint fork", "fork", "universal joint cross", "fork"},
          Pair{"one-stud swivel", "jumper 1x2", "stud 0,0", "brick 1x1", "cell 0,0"}}) {
        Figure f;
        const auto from = f.put(0, p.carrying), to = f.put(1, p.carried);
        f.join(p.kind, from, p.fromPort, to, p.toPort);
        const auto& kind = *f.project.joints[0].kind;
        for (int k = 0; k < kind.freedomCount(); ++k) {
            const auto r = f.range(0, k);
            EXPECT_FALSE(r.collides) << p.kind << " " << p.carrying;
            if (kind.tilts() && k < 2) {
                EXPECT_DOUBLE_EQ(r.free.high, kind.coneDeg) << p.carrying << " " << k;
                EXPECT_DOUBLE_EQ(r.free.low, -kind.coneDeg) << p.carrying << " " << k;
            } else if (std::string(p.kind) == "free hinge plate pair") {
                EXPECT_NEAR(r.free.low, 0, kRangeDeg); // undersides on each other
                EXPECT_NEAR(r.free.high, 180, kRangeDeg);
            } else if (std::string(p.kind) == "stepped hinge small") {
                EXPECT_DOUBLE_EQ(r.free.low, -90);
                EXPECT_DOUBLE_EQ(r.free.high, 90);
            } else if (std::string(p.kind) == "stepped hinge large") {
                EXPECT_DOUBLE_EQ(r.free.low, -112.5);
                EXPECT_DOUBLE_EQ(r.free.high, 112.5);
            } else if (std::string(p.kind) == "clip on bar" && k == 0) {
                EXPECT_NEAR(std::min(-r.free.low, r.free.high), fold, kRangeDeg) << p.carrying;
            } else if (std::string(p.kind) == "clip on bar") {
                EXPECT_NEAR(r.free.high, 1.6, 0.001);
            } else {
                EXPECT_TRUE(r.endless) << p.kind;
            }
        }
    }
}

TEST(Range, MarginFollowsTheFormula) {
    using pose::calcRangeMargin;
    // v = 0, free −12…60, wanted −10…90: min(60/90, 12/10) = 0.667.
    EXPECT_NEAR(*calcRangeMargin(0, {-12, 60}, {-10, 90}), 60.0 / 90, 1e-12);
    EXPECT_NEAR(*calcRangeMargin(0, {0, 90}, {0, 90}), 1.0, 1e-12); // the end at v is free and does not count
    EXPECT_FALSE(calcRangeMargin(5, {0, 90}, {5, 5}));
    EXPECT_EQ(*calcRangeMargin(100, {0, 90}, {0, 100}), 0); // v itself is not free
}

TEST(Range, SameWhereverTheFigureStands) {
    Hinge h;
    h.put(0, "brick 1x2 at 0 0 1");
    h.put(1, "brick 1x2 at 0 0 1");
    h.join("stepped hinge small", h.fork, "finger", h.tongue, "finger");
    const auto before = h.range();
    model::Place place;
    place.atUm = {123456, -98765, 4321};
    place.attitude = Eigen::Quaterniond(Eigen::AngleAxisd(0.7, geometry::Vec3(1, 2, 3).normalized()));
    h.project = test::must(model::placeSection(h.project, h.project.sections[0]->id, place));
    EXPECT_NEAR(h.range().free.high, before.free.high, 0.001);
}

TEST(Range, SlidingContactDoesNotStop) {
    // The turntable's halves lie on each other all the way round: gap zero, never deeper.
    Figure f;
    const auto lower = f.put(0, "small turntable lower at 0 0 0");
    f.put(0, "plate 4x4 at -1 -1 -1"); // wider than the upper half, its studs are covered or outside
    f.project =
        test::must(model::removeParts(f.project, std::vector<model::PartId>{f.project.sections[0]->parts.back().id}));
    const auto upper = f.put(1, "small turntable upper at 0 0 0");
    f.join("small turntable", lower, "lower", upper, "upper");
    EXPECT_TRUE(f.range().endless);
}
