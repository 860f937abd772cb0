// SPDX-License-Identifier: GPL-3.0-or-later
// How do the choices of a model ("options", "option_rules") look in the project file? Parts, sections and joints that
// wait look like all others; who reads and writes those is told.
#pragma once

#include "core/files/json_reader.h"

namespace ivrant::files {

struct BodyReaders {
    std::function<model::Part(const Node&)> part;
    std::function<model::SectionPtr(const Node&)> section;
    std::function<model::Joint(const Node&)> joint;
};
/// From the keys "options" and "option_rules" of a project or variant; throws ReadFailure.
[[nodiscard]] model::Options readOptions(const Node& root, const BodyReaders& readers);

struct BodyWriters {
    std::function<std::string(const model::Part&)> part;
    std::function<std::string(const model::Section&)> section;
    std::function<std::string(const model::Joint&)> joint;
};
/// Both keys with what follows them, each beginning with ",\n"; empty when there is nothing.
[[nodiscard]] std::string optionsText(const model::Options& options, const BodyWriters& writers);

} // namespace ivrant::files
