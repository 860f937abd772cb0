// SPDX-License-Identifier: GPL-3.0-or-later
// What stands beside a model in its project: measured series, asks, diary entries, cases it is to survive.
//
// Plain data with the invariants of validate(). Units as the names say; dates as "2026-11-25" or empty.
#pragma once

#include <memory>
#include <nlohmann/json_fwd.hpp>
#include <optional>
#include <string>
#include <vector>

#include "core/base/ids.h"

namespace ivrant::model {

using base::AskId;
using base::CaseId;
using base::DiaryId;
using base::JointId;
using base::PartId;
using base::PoseId;
using base::SeriesId;
using Json = nlohmann::ordered_json;
using ExtraPtr = std::shared_ptr<const Json>; ///< keys this version does not know, kept for saving; may be null

/// What a series of readings is about.
enum class Quantity {
    Holding,   ///< torque at which a joint slips, N·mm
    PullOut,   ///< force at which a joint comes apart, N
    StudPull,  ///< force at which one stud lets go along its axis, N
    StudShear, ///< force at which one stud lets go across its axis, N
    Motor      ///< runs of a motor under load: `runs`, not `readings`
};
[[nodiscard]] const char*
getQuantityName(Quantity quantity); ///< "holding", "pull-out", "stud pull", "stud shear", "motor"
[[nodiscard]] const char* getQuantityUnit(Quantity quantity); ///< "N·mm" or "N"; of a motor "rpm"
[[nodiscard]] std::optional<Quantity> findQuantity(std::string_view name);

/// One run of a motor: a weight on a drum gives the torque; 0 rpm is a stalled run.
struct MotorRun {
    double torqueNmm = 0; ///< on its own shaft, against its motion
    double rpm = 0;
    double currentA = 0;
    double voltageV = 0; ///< at the motor, while it runs
    bool operator==(const MotorRun&) const = default;
};

/// Repeated readings of one quantity. Scope: one joint, or all joints of a kind in the project, or (in the workshop's
/// library) in every project. Studs need neither.
struct Series {
    SeriesId id;
    Quantity quantity = Quantity::Holding;
    std::optional<JointId> joint;
    std::string kind; ///< joint kind; empty for studs; of a motor: its line, "motor medium"
    std::vector<double> readings;
    std::vector<double> moves;  ///< wear test: moves made before each reading; else empty
    std::vector<MotorRun> runs; ///< motors only
    std::string date, note;
    ExtraPtr extra;
};

enum class Comparison { AtLeast, AtMost, Equal };
[[nodiscard]] const char* getComparisonName(Comparison comparison); ///< "at least" …
[[nodiscard]] std::optional<Comparison> findComparison(std::string_view name);

/// One thing that is asked of a model. Places are named by id, by name, or by a pattern with * that may match several.
struct Ask {
    AskId id;
    std::string measure; ///< key of brief::getMeasures()
    Comparison comparison = Comparison::AtLeast;
    double value = 0;
    std::string word; ///< for measures of words: a joint kind, a colour; value is not used then
    bool must = true; ///< else a wish
    std::string joint, other, section, pose, freedom, shape, function;
    ExtraPtr extra;
};

enum class DiaryKind { Decision, Failure, Trial };
[[nodiscard]] const char* getDiaryKindName(DiaryKind kind); ///< "decision", "failure", "trial"
[[nodiscard]] std::optional<DiaryKind> findDiaryKind(std::string_view name);

/// A decision with its reason, a failure that stays open until a change answers it, or a trial with its result.
struct DiaryEntry {
    DiaryId id;
    DiaryKind kind = DiaryKind::Decision;
    std::string date, text;
    std::string reason; ///< decision: why; trial: what came out
    std::optional<JointId> joint;
    std::string answer, answeredOn; ///< failure: the change that answers it; empty: open
    ExtraPtr extra;
};

/// A situation of the builder's own that the model is to survive. Standing on the ground, or strapped to it, or carried
/// by hands; on a slope or shaken; pushed at a part. Parts that are gone are no error of the project: the case says so.
struct OwnCase {
    CaseId id;
    std::string name;
    double slopeDeg = 0;       ///< 0 to 60, down towards `towardDeg`
    double towardDeg = 0;      ///< from +x towards +y
    double downG = 1;          ///< 0 to 20: weight of the model in its own weights
    double asideG = 0;         ///< 0 to 20, towards `towardDeg`
    bool strapped = false;     ///< what touches the ground is held fast
    std::vector<PartId> hands; ///< where it is taken hold of; empty: it stands on the ground
    double pushN = 0;          ///< 0 to 1000, across, towards `towardDeg`
    PartId pushed;             ///< where; empty: the highest part
    PoseId pose;               ///< in which; empty or gone: the first one
    ExtraPtr extra;
};

} // namespace ivrant::model
