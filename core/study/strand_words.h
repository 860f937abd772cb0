// SPDX-License-Identifier: GPL-3.0-or-later
// How is a line told: the same on the command line, in the window, in verdicts and on the sheets?
#pragma once

#include "core/study/strands.h"

namespace ivrant::study {

/// "plate 1x2 of Jaw, stud 0,1"; what is gone by its id.
[[nodiscard]] std::string describeGuide(const model::Project& project, const model::Guide& guide);
/// "tied to plate 1x2 of Jaw, stud 0,1", "through …", "round … on its left", "out by hand through …", "on drum …".
[[nodiscard]] std::string describeStation(const model::Project& project, const model::Line& line, std::size_t guide);
/// "3 bands", "string", "spring".
[[nodiscard]] std::string describeLineKind(const model::Line& line);
/// "°" or " mm" of the joint that it works.
[[nodiscard]] const char* getWorkedUnit(const model::Project& project, const StrandStudy& study);
/// "opens Jaw from 0° to 35°"; empty when it works nothing.
[[nodiscard]] std::string describeWork(const model::Project& project, const StrandStudy& study);
/// "20° in Reach".
[[nodiscard]] std::string describePlace(const Facts& facts, const StrandStudy& study, const StrandPlace& place);
/// How it pulls: "starting law: 1 N at twice its length", "by 4 points, up to 3.2 N".
[[nodiscard]] std::string describeLaw(const model::Line& line);
/// The one thing to know first: "12 mm of pull, at most 3.4 N", "brings Jaw back, 1.8 times what it needs".
[[nodiscard]] std::string describeResult(const Facts& facts, const StrandStudy& study);

} // namespace ivrant::study
