// SPDX-License-Identifier: GPL-3.0-or-later
// How is a motion told: the same on the command line, in the window, in verdicts?
#pragma once

#include "core/study/motion.h"

namespace ivrant::study {

/// "°" or " mm".
[[nodiscard]] const char* getDriverUnit(const model::Project& project, const MotionStudy& study);
/// "goes all round", "goes from -40° to 75°: dead points at both ends".
[[nodiscard]] std::string describeTravel(const model::Project& project, const MotionStudy& study);
/// Degrees of the transmission angle; larger loops: what it would be, by how far they are from their best place.
[[nodiscard]] double getTransmissionDeg(const MotionPlace& place);
/// "between Link and Rocker".
[[nodiscard]] std::string describeBetween(const model::Project& project, const model::SectionTree& tree, int joint);
/// "beam 7 of Link and plate 2x4 of Frame".
[[nodiscard]] std::string describeParts(const model::Project& project, const MotionMeeting& meeting);
/// A driver value as people turn it: 0° to 360° of a whole turn, else as it is.
[[nodiscard]] double getShownAt(const MotionStudy& study, double at);
/// What a stretch of the driver is free of meetings around its present value; none: it is not free now, or all is.
[[nodiscard]] std::optional<model::Travel> findFreeStretch(const model::Project& project, const MotionStudy& study);

} // namespace ivrant::study
