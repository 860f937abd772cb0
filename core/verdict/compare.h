// SPDX-License-Identifier: GPL-3.0-or-later
// What differs between two variants of a model?
//
// Joints are matched by id, else by name; parts by shape and colour. Ranges and holding are the worst over the poses of
// each.
#pragma once

#include "core/verdict/report.h"

namespace ivrant::verdict {

struct JointSide {
    std::string kind;
    std::optional<model::Range> free; ///< of the bend, the least over the poses; none: endless
    double needNmm = 0, haveNmm = 0;  ///< at its worst
    std::optional<double> margin;
    double stepDeg = 0;
};

struct JointComparison {
    std::string name;
    std::optional<JointSide> a, b; ///< none: this variant has no such joint
    [[nodiscard]] bool differs() const;
};

struct LengthComparison {
    std::string from, to; ///< names of joints next to each other
    double aMm = 0, bMm = 0;
};

struct FigureComparison {
    std::string what, unit;
    double a = 0, b = 0;
};

struct PartChange {
    std::string shape, colour;
    int countA = 0, countB = 0;
};

struct Comparison {
    std::string nameA, nameB;
    std::vector<JointComparison> joints;   ///< those that differ first
    std::vector<LengthComparison> lengths; ///< between joints that both have
    std::vector<FigureComparison>
        figures;                   ///< mass, height, parts, freedoms, failing verdicts, tip angle, price classes
    std::vector<PartChange> parts; ///< only those whose count differs
};

[[nodiscard]] Comparison compareReports(const Report& a, const Report& b, const std::string& nameA,
                                        const std::string& nameB);

} // namespace ivrant::verdict
