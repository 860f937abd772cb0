// SPDX-License-Identifier: GPL-3.0-or-later
// How do the studies of Pose and the comparison of variants look as JSON? Same conventions as results_json.h.
#pragma once

#include <nlohmann/json.hpp>

#include "core/pose/chain.h"
#include "core/pose/choose.h"
#include "core/pose/clearance.h"
#include "core/pose/covers.h"
#include "core/pose/gaps.h"
#include "core/pose/map.h"
#include "core/pose/path.h"
#include "core/pose/reach.h"
#include "core/verdict/compare.h"

namespace ivrant::files {

/// Rows of text, one letter a cell: '.' free, '#' blocked, '-' beyond own limits; the first joint grows downwards.
[[nodiscard]] model::Json makeMapJson(const model::Project& project, const pose::TwoJointMap& map);
[[nodiscard]] model::Json makeChainJson(const model::Project& project, const pose::ChainStudy& study,
                                        const pose::SagStudy& sag, const std::vector<pose::FirmAdvice>& firm);
[[nodiscard]] model::Json makeChoicesJson(const model::Joint& joint, const std::vector<pose::JointChoice>& choices);
[[nodiscard]] model::Json makeClearanceJson(const model::Project& project, const model::Joint& joint,
                                            const pose::TurnClearance& clearance, std::optional<double> offAxisMm);
[[nodiscard]] model::Json makeReachJson(const model::Project& project, int section, const pose::Reach& reach);
[[nodiscard]] model::Json makePathJson(const model::Project& project, const pose::PathCheck& check,
                                       const std::optional<pose::Detour>& detour);
[[nodiscard]] model::Json makeGapsJson(const model::Joint& joint, const std::vector<pose::GapOverRange>& gaps);
[[nodiscard]] model::Json makeCoversJson(const model::Project& project, const std::vector<pose::CoverCost>& costs);
/// What a shape came to, for a person or a program: mass, pieces, how closely they follow the mesh, ports.
[[nodiscard]] model::Json makeOwnShapeJson(const parts::Shape& shape);
[[nodiscard]] model::Json makeCompareJson(const verdict::Comparison& comparison);

} // namespace ivrant::files
