// SPDX-License-Identifier: GPL-3.0-or-later
// Do the modules of a model lift off by hand, with which force and which way, and what happens to the rest?
//
// A module is pulled straight along its way out. Every bond between it and the rest then pulls with its limit, on the
// rest and back on the module: what those forces tear off comes along (module_pull.h). Rocking it off needs less than
// the force told here, never more. What must be off before it is off in all that is told of it. World frame, mm, g, N.
#pragma once

#include "core/study/facts.h"
#include "core/study/group_scene.h"

namespace ivrant::study {

// Usual values of ours, not measured.
inline constexpr double kStayOnN = 2, kComeOffN = 25;
inline constexpr double kLeastGapMm = 0.1, kMostGapMm = 0.5; ///< of a snug module, on every side that has a wall
inline constexpr double kFingerMm = 14, kPlugMm = 10;        ///< widths
inline constexpr double kWallMm = 4;                         ///< farther away nothing is a wall of it

/// What holds a module, by kind.
struct LiftBond {
    bool isStuds = false;
    int joint = -1; ///< index in the project; −1: none
    int count = 0;
    double pullN = 0; ///< of all of them
};
/// Room between a module and what stands beside it.
struct SideGap {
    geometry::Vec3 towards = geometry::Vec3::UnitX(); ///< unit, across its way
    double mm = 0;
    model::PartSpot wall;
};
/// The rest without it, in the pose that is worst.
struct WithoutIt {
    std::optional<double> tipDeg; ///< none: it is held in every pose, or nothing is left
    std::string tipPose;
    std::optional<double> bonds; ///< how much stronger they are than asked; 0: something falls; none: not looked at
    std::string bondsPose;
};
/// What one side of the parting does while the other is pulled off it.
struct Pulled {
    std::optional<double> bonds; ///< how much stronger they are than asked; 0: whatever their strength it comes along
    model::PartSpot hold;        ///< where it is held
    bool holdThere = false;      ///< it must be held there, nearest to the parting
    std::vector<model::PartSpot> along; ///< what comes off with it
};

struct LiftModule {
    int index = 0; ///< in the project's modules
    std::vector<model::PartSpot> parts;
    std::vector<int> carries, after; ///< modules that come with it; that must be off before it
    int pose = 0;                    ///< index of Facts::poses that it was looked at in
    bool mustFold = false;           ///< that is not the first one: folded before
    bool lifts = false;
    make::Way way;                        ///< out
    std::vector<model::PartSpot> blocked; ///< what is in its way, other modules aside
    double massG = 0;
    double holdN = 0;   ///< of all its bonds, along its way
    double weightN = 0; ///< against its way; below 0: its weight helps
    bool measured = false;
    std::vector<LiftBond> bonds;
    std::vector<SideGap> sides;
    double ledMm = 0;                  ///< so far walls lead it both ways before its bonds take hold
    std::vector<std::string> alsoGoes; ///< other ways in which it could be put on: "turned by 180°"
    WithoutIt without;
    Pulled rest, self;
    [[nodiscard]] double forceN() const { return std::max(0.0, holdN + weightN); }
};

/// How a finger or plug gets to a place.
struct ReachWay {
    int index = 0;                    ///< in the project's reaches
    bool found = false, gone = false; ///< gone: its part is not in the model
    int moves = 0;
    std::optional<int> pose; ///< folded so first: index of Facts::poses
    bool turnedOver = false;
    std::vector<int> lifted;                       ///< modules, in order
    geometry::Vec3 from = geometry::Vec3::UnitZ(); ///< unit, from the place to where the finger comes from
    geometry::Vec3 at = geometry::Vec3::Zero();    ///< the place, world, in that pose
    std::vector<model::PartSpot> blocked;          ///< when not found: what is in the best way
};

struct ModuleFacts {
    std::vector<LiftModule> modules; ///< in the project's order
    std::vector<ReachWay> reaches;
};

/// Bonds of the rest are looked at up to kMostPartsLive parts. Some ms a module for 150 parts; null when stopped.
[[nodiscard]] std::shared_ptr<const ModuleFacts> calcModules(const Facts& facts, base::Progress* progress = nullptr);
/// Order in which all that lift can be taken off, by index of the project's modules.
[[nodiscard]] std::vector<int> listLiftOrder(const ModuleFacts& found);
/// "upward", "to the left, then upward" …
[[nodiscard]] std::string describeWayOut(const make::Way& way);

} // namespace ivrant::study
