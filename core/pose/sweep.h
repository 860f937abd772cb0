// SPDX-License-Identifier: GPL-3.0-or-later
// How far can one set of solids move along a one-parameter motion before it runs into another set?
//
// Best-first conservative advance: every pair of parts that could meet is kept in a queue by the angle (or slide) up to
// which it is known to be clear; the least clear pair is looked at next and moved on by the longest step that cannot
// miss a contact. With gap s along the separating direction n, approach speed v = max over the moving solid of
// (axis × p)·n and acceleration bound r·|n⟂|, the step is 2s / (v + √(v² + 2·r·|n⟂|·s)); derivation in
// docs/derivations/sweep.md. Contacts that never get deeper than geometry::kContactToleranceMm do not stop the motion;
// a contact that does stops it where it began: where the solids first touched on the way into it.
#pragma once

#include <optional>

#include "core/base/progress.h"
#include "core/pose/bodies.h"

namespace ivrant::pose {

enum class SweepKind {
    Turn,  ///< rotation about z of the joint frame, in rad
    Slide, ///< translation along z of the joint frame, in mm
    Ball   ///< one component of a ball's rotation vector, in rad
};

struct SweepMotion {
    SweepKind kind = SweepKind::Turn;
    geometry::Frame X_WJ = geometry::Frame::Identity(); ///< joint frame in the world: origin on the axis
    // Ball only: present rotation vector (s1, s2) in rad and which of the two moves.
    Eigen::Vector2d tilt = Eigen::Vector2d::Zero();
    int component = 0;

    /// Pose, in J, of what moves, relative to where it is at q = 0.
    [[nodiscard]] geometry::Frame at(double q) const;
};

struct SweepRequest {
    const model::Placed* placed = nullptr;
    const Bodies* bodies = nullptr;
    std::vector<int> moving; ///< sections that move
    std::vector<int> fixed;  ///< sections to look at among those that do not move; empty: all of them
    std::set<std::pair<SolidRef, SolidRef>>
        apart; ///< pairs that are not looked at, smaller first: what is seated, and leaves
    SweepMotion motion;
    double span = 0; ///< how far to look, signed: rad or mm
    /// By section and part: only pairs with one of these are looked at; null: all.
    const std::vector<std::vector<bool>>* only = nullptr;
};

struct SweepContact {
    double q = 0; ///< signed, where the two first touch
    SolidRef moving, fixed;
    bool atStart = false; ///< they overlap already at q = 0
    double found = 0;     ///< |q| at which the advance came upon it; of all pairs the one with the least counts, of
                          ///< several such the first by sections, parts and solids
};

/// First stop within the span, or none. 1,000 against 1,000 parts take a few milliseconds. Returns none early when
/// `progress` is stopped.
[[nodiscard]] std::optional<SweepContact> calcFirstContact(const SweepRequest& request,
                                                           const base::Progress* progress = nullptr);

/// Which of the values `at` (ascending from 0, rad or mm; the span is the last) are blocked: some pair is in each other
/// deeper than the tolerance there. Exact at the values, silent about what lies between. Marching is by the same safe
/// steps.
[[nodiscard]] std::vector<bool> calcBlocked(const SweepRequest& request, const std::vector<double>& at);

} // namespace ivrant::pose
