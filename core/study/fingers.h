// SPDX-License-Identifier: GPL-3.0-or-later
// Do fingers get a part to its place, past what is there before its step?
//
// Pinched: a pad on each of two opposite sides of the part, from 4 mm below where the hand comes from to 12 mm beyond;
// by a finger tip: one such pad on it. Pads are 8 mm thick and 10 mm wide. A hint: fingers differ, and tilt. Way out
// and pads along the axes of the section; parts that go in aslant are taken as held. Section frame, mm.
#pragma once

#include "core/study/assembly.h"

namespace ivrant::study {

// Starting values, not measured.
inline constexpr double kPadThickMm = 8, kPadWideMm = 10, kPadBelowMm = 4, kPadBeyondMm = 12;

enum class Grip { Pinch, FingerTip, None };
/// By part of the section, as its steps and its order's ways out stand; parts put together first, and those of one
/// step, are not in each other's way. O(parts²) on boxes.
[[nodiscard]] std::vector<Grip> calcGrips(const Facts& facts, int section);

} // namespace ivrant::study
