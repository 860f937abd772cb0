// SPDX-License-Identifier: GPL-3.0-or-later
// Which strings, bands and springs run through a model, past which guides, and what are they for?
//
// A line belongs to a variant. It runs from its first guide to its last, in order. A guide is a port of a part: with a
// radius it is round (a pin, a pulley, a drum) and the line lies against it on a given side of the port's axis; without
// one it is an eye, and the line goes through that point. Parts that are gone are no error of the project: what is
// known of the line tells it. mm, N; side: +1 when the line turns left, counter-clockwise, about the port's axis.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/base/result.h"
#include "core/model/notes.h"

namespace ivrant::model {

using base::LineId;

struct Project;

enum class LineKind {
    String, ///< pulls, does not stretch
    Band,   ///< pulls by how far it is stretched
    Spring  ///< a strut between two guides, pushes by how far it is pressed together
};
/// What is at the last guide. Bands and springs are always tied.
enum class LineEnd {
    Tied, ///< as at the first one
    Hand, ///< it leaves through an eye and is pulled by hand
    Drum  ///< it is wound up on the last guide, which is round and turns
};

struct Guide {
    PartId part;
    std::string port;
    double radiusMm = 0;  ///< 0: an eye
    int side = 0;         ///< ±1 of round ones, 0 of eyes
    bool captive = false; ///< the line cannot leave it
    auto operator<=>(const Guide&) const = default;
};

/// Measured, or typed: with so much stretch (a spring: pressed together) it pulls so much, for one of `count`.
struct LawPoint {
    double mm = 0, newton = 0;
    bool operator==(const LawPoint&) const = default;
};

/// What it is for: a string pulls that joint from one value to another, a band brings it from one back to the other, a
/// spring carries it at the first.
struct Works {
    JointId joint; ///< its first freedom
    double from = 0, to = 0;
    bool operator==(const Works&) const = default;
};

struct Line {
    LineId id;
    std::string name;
    LineKind kind = LineKind::String;
    std::vector<Guide> guides;
    LineEnd end = LineEnd::Tied;
    bool closed = false;            ///< a band that goes round all its guides
    std::optional<double> lengthMm; ///< when nothing pulls; none: a string that is taut as the model stands, a band or
                                    ///< spring at its way there
    int count = 1;                  ///< bands side by side
    std::vector<LawPoint> law;      ///< ascending; empty: a starting line that nobody measured
    double travelMm = 0;            ///< of a spring, until it is pressed flat; 0: half its length
    std::optional<Works> works;
    ExtraPtr extra;
};
inline constexpr std::size_t kMostGuides = 60, kMostLawPoints = 60;
inline constexpr int kMostLinesAbreast = 50;
inline constexpr double kMostRadiusMm = 200, kMostLengthMm = 100'000, kMostPullN = 10'000;

[[nodiscard]] const char* getLineKindName(LineKind kind); ///< "string", "band", "spring": also in files
[[nodiscard]] const char* getLineEndName(LineEnd end);    ///< "tied", "hand", "drum"

/// Whether they are whole. `place`: "/lines/0/name" … Codes "edit.name", "line.guides", "line.guide", "line.radius",
/// "line.side", "line.length", "line.count", "line.law", "line.travel", "line.end", "line.works".
[[nodiscard]] base::Status checkLines(const Project& project);

} // namespace ivrant::model
