// SPDX-License-Identifier: GPL-3.0-or-later
// How does a model travel: into which pieces is it parted, in which boxes do they lie, how is it put up again, and what
// must come along?
//
// Only modules that lift off are parted, as few as let every piece into a box; poses are tried for the least boxes.
// mm, g, minutes. Weights of foam and card, times, and what is taken as spare are starting values.
#pragma once

#include "core/study/modules.h"
#include "core/study/packed_size.h"

namespace ivrant::study {

// Starting values, not measured.
inline constexpr double kFoamGPerCm3 = 0.025, kCardGPerM2 = 600;
inline constexpr double kUnpackMin = 4, kSetUpMin = 2, kPutOnMin = 1, kFoldMin = 0.5, kTryMin = 5;
inline constexpr double kLeverN = 15; ///< from here on fingers want a lever

struct PackedPiece {
    int module = -1; ///< index in the project; −1: the rest
    std::string name;
    std::vector<model::PartSpot> parts;
    double massG = 0;
    UprightSize size;  ///< of the piece itself
    bool fits = false; ///< in the largest box, with foam
};
struct PackedBox {
    std::vector<int> pieces;
    std::vector<BoxPlace> places; ///< of those
    geometry::Vec3 insideMm = geometry::Vec3::Zero();
    double foamL = 0, massG = 0; ///< litres; with foam and card
};
struct PutUpStep {
    std::string text;
    double minutes = 0;
};
struct BringLine {
    int count = 1;
    std::string what, why;
};

struct PackPlan {
    int pose = 0;                    ///< index of Facts::poses that it is folded to
    std::vector<int> taken;          ///< modules, in the order that they are taken off
    std::vector<PackedPiece> pieces; ///< the rest first
    std::vector<PackedBox> boxes;
    std::vector<PutUpStep> putUp;
    std::vector<BringLine> bring;
    [[nodiscard]] bool fits() const;
    [[nodiscard]] double putUpMinutes() const;
};

/// `facts` with kModules known. O(poses × modules² × parts).
[[nodiscard]] PackPlan planPacking(const Facts& facts);

} // namespace ivrant::study
