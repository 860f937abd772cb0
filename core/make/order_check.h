// SPDX-License-Identifier: GPL-3.0-or-later
// Can a section be built in the order that its steps say, and which parts would have to move so that it can?
//
// From the last step back every part must find a way out past what is there then; parts of one step may go in in any
// order, or joined to each other first. From the first step on everything must hang on what stands on the table (or on
// what was there first). What cannot is told and taken out by force with what goes in with it, so that one mistake is
// told once.
#pragma once

#include "core/make/assembly_plan.h"

namespace ivrant::make {

struct OrderFault {
    enum class Kind { InTheWay, NothingToHold } kind = Kind::InTheWay;
    int body = 0;
    std::vector<int> others; ///< in the way on its best way; or what it would hold to, and comes later
    std::vector<int> with;   ///< InTheWay: it goes in together with these
    Way way;                 ///< InTheWay: out
};

/// Bodies of one step that only go in together.
struct OrderGroup {
    std::vector<int> bodies;
    Way way; ///< out
};

struct OrderCheck {
    std::vector<OrderFault> faults; ///< by step, then body
    std::vector<OrderGroup> groups; ///< last step first
    std::vector<Way> ways;          ///< by body: its way out at its step
    bool complete = true;
};

/// `steps`: by body, any numbers. The scene must be whole, and is again. About as long as a plan.
[[nodiscard]] OrderCheck checkOrder(Scene& scene, const std::vector<int>& steps, base::Progress* progress = nullptr);

/// "a before b" holds in the plan because a would be in the way, or b has nothing else to hold to.
struct MustPrecede {
    int first = 0, then = 0;
};
/// As far as the order given does not matter: what blocks the way that the plan takes; of what a body can hold to the
/// one that comes first in `steps`. They never contradict each other.
[[nodiscard]] std::vector<MustPrecede> listMustPrecede(const Scene& scene, const AssemblyPlan& plan,
                                                       const std::vector<int>& steps);

struct OrderMend {
    std::vector<std::pair<int, int>> moves; ///< body and its new step; empty: nothing helps, or nothing is wrong
    std::vector<int> steps;                 ///< all of them after the moves
};
/// The fewest bodies that must move so that no pair of the plan is broken, moved as little as possible; checked: what
/// it gives has no fault that the plan does not have. A least cover of the broken pairs is as large as a largest
/// matching (König 1931).
[[nodiscard]] OrderMend mendOrder(Scene& scene, const AssemblyPlan& plan, const std::vector<int>& steps);

inline constexpr int kUsualPartsAStep = 8;
/// Steps from 1 that follow the plan: a new one at `most` bodies and at a new layer (once there are three). What goes
/// in together is in one step, however much it is. What is stuck is in step 1.
[[nodiscard]] std::vector<int> makeSteps(const AssemblyPlan& plan, const std::vector<BuildKey>& keys,
                                         int most = kUsualPartsAStep);

} // namespace ivrant::make
