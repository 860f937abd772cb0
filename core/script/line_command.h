// SPDX-License-Identifier: GPL-3.0-or-later
// Which string, band or spring is meant by a typed line?
//
//   string NAME from PART PORT {through PART PORT | round PART PORT [left|right] [radius MM] [captive]} END
//          END: to PART PORT | by hand through PART PORT | onto PART PORT [radius MM] [left|right]
//   band NAME from … to PART PORT, or round PART PORT … alone: a loop
//   spring NAME from PART PORT to PART PORT
// then [length MM] [count N] [law MM N MM N …] [travel MM] [works JOINT FROM TO]. A round that says no side gets the
// one that bends the line; a radius that is not said is that of the bar, axle, pin or stud; a band or spring
// without a length gets that of its way as the model stands. Errors "script.word",
// "script.label", "line.…".
#pragma once

#include <functional>

#include "core/model/project.h"
#include "core/script/script_line.h"

namespace ivrant::script {

/// Id of the part or joint that a word stands for.
using FindThing = std::function<base::Result<std::string>(const std::string&)>;

/// The words after `string`, `band` or `spring`.
base::Result<model::Line> readLineCommand(model::LineKind kind, Words& words, const model::Project& project,
                                          const FindThing& findPart, const FindThing& findJoint);
/// A whole typed line; parts and joints by id or by their own name.
base::Result<model::Line> parseLine(const model::Project& project, const std::string& text);
/// The same as such a text, for one line; parts and joints by id.
[[nodiscard]] std::string writeLine(const model::Project& project, const model::Line& line);
/// Sides of round guides that have none: the way that bends the line as the model stands.
void chooseSides(const model::Project& project, model::Line& line);

} // namespace ivrant::script
