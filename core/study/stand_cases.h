// SPDX-License-Identifier: GPL-3.0-or-later
// How do the bonds of a project carry it in each case, told in its own parts?
//
// Takes what was measured on studs and joints from the diary, the cases of core/stand and the steps, and puts them
// together.
#pragma once

#include <set>

#include "core/stand/ballast.h"
#include "core/stand/core_removal.h"
#include "core/study/facts.h"

namespace ivrant::study {

/// Limits of studs and joints: measured where there are tests, else starting values.
[[nodiscard]] stand::BondLimits calcBondLimits(const model::Project& project);
/// The same with joints that a drive holds: a worm that cannot be driven from behind carries what their own friction
/// would not.
[[nodiscard]] stand::BondLimits calcBondLimits(const Facts& facts);
/// No selector position lets a joint go that a function turns and holds.
[[nodiscard]] bool isHeldByDrive(const Facts& facts, const model::JointId& joint);

/// The pose at rest: on its ground, or as it is held.
[[nodiscard]] stand::StandCase makeAtRest(const Facts& facts, const PoseFacts& pose);
/// Usual cases of a pose, the slope being what the project asks of its base, at least the usual one; without a place to
/// stand only carrying.
[[nodiscard]] std::vector<stand::StandCase> listStandCases(const Facts& facts, const PoseFacts& pose);
/// A case of the builder's own. Errors "case.part" (a part it names is not in the model), "case.ground" (it stands on
/// nothing).
base::Result<stand::StandCase> makeOwnCase(const Facts& facts, const PoseFacts& pose, const model::OwnCase& own);
/// The pose that an own case is looked at in: the one it names, else the first.
[[nodiscard]] const PoseFacts& findPoseOf(const Facts& facts, const model::OwnCase& own);
/// Half-built: with everything up to a step there (counted over the whole model, as core/make lists them, from 1).
[[nodiscard]] stand::StandCase makeHalfBuilt(const Facts& facts, int step);

base::Result<stand::CaseResult> calcStandCase(const Facts& facts, const PoseFacts& pose,
                                              const stand::StandCase& standCase,
                                              const stand::EquilibriumRequest& request = {});

/// Each case as calcStandCase, several at once, at most kMostCasesAtOnce so that memory stays bounded. `known` is told
/// of each, by its place in `cases`, as soon as it is solved and by one thread at a time; by its answer false no
/// further case is begun. In the order of the cases, none for those not begun.
[[nodiscard]] std::vector<std::optional<base::Result<stand::CaseResult>>>
calcStandCases(const Facts& facts, const PoseFacts& pose, std::span<const stand::StandCase> cases,
               const stand::EquilibriumRequest& request,
               const std::function<bool(std::size_t, const base::Result<stand::CaseResult>&)>& known);
inline constexpr int kMostCasesAtOnce = 4;

/// Every own case, in the pose it names.
[[nodiscard]] std::vector<OwnCaseFacts> calcOwnCases(const Facts& facts, const base::Progress* progress);

/// Weaknesses by pattern of the first pose, whether the facts has them already or not. O(levels × bonds).
[[nodiscard]] std::shared_ptr<const Structure> calcStructure(const Facts& facts);
/// The weakest section that carries a good share of the model; null: there is none.
[[nodiscard]] const stand::Neck* findNeck(const Structure& structure, const PoseFacts& pose);

inline constexpr double kMostBallastG = 2000; ///< more is no ballast for a figure
/// Least weight in each section, where one is enough, with which the tip angle is `wishDeg` in all standings of the
/// project; in the order of the sections.
[[nodiscard]] std::vector<stand::BallastProposal>
listBallast(const Facts& facts, std::span<const stand::Standing> standings, double wishDeg);

/// How the pose tips without these parts, in the same places; none when nothing with weight is left. O(parts).
[[nodiscard]] std::optional<stand::Tipping> calcTippingWithout(const PoseFacts& pose,
                                                               const std::set<model::PartSpot>& out);
/// What can be left out of the core of a pose: with a margin of 1.5 in the bonds and the usual tip angle.
base::Result<stand::CoreProposal> calcCore(const Facts& facts, const PoseFacts& pose,
                                           base::Progress* progress = nullptr);
/// The model with those parts left out as a new variant "hollow", the one before kept beside it.
model::EditResult leaveOutCore(const model::Project& project, const std::vector<model::PartSpot>& parts);

/// Contacts between parts, the most used first, at most `most`; those used less than `least` are left out.
[[nodiscard]] std::vector<int> listWeakest(const stand::CaseResult& result, std::size_t most, double least = 0.01);
/// Parts of a contact: one for ground and hand.
[[nodiscard]] std::vector<model::PartId> listParts(const model::Project& project, const stand::CaseResult& result,
                                                   int contact);
/// The section that a held pose is held by; none for poses that stand.
[[nodiscard]] std::optional<int> findHeldSection(const Facts& facts, const PoseFacts& pose);
/// Ways across the sections that a push bends most, degrees from +x.
[[nodiscard]] std::vector<double> listSlenderWays(const Facts& facts, const PoseFacts& pose);

} // namespace ivrant::study
