// SPDX-License-Identifier: GPL-3.0-or-later
// How are a shared brief and the workshop's library of measured kinds read and written?
//
// Brief: { "format": "ivrant-brief", "version": 1, "name": …, "asks": [ … ] }, one for a family of models.
// Workshop: { "format": "ivrant-workshop", "version": 1, "measured": [ … ] }, one for a person. Shapes of asks and
// series as in docs/file-format.md. Errors as for project files, with JSON pointers.
#pragma once

#include "core/base/result.h"
#include "core/model/notes.h"

namespace ivrant::files {

struct Brief {
    std::string name;
    std::vector<model::Ask> asks;
};

base::Result<Brief> parseBrief(std::string_view text);
base::Result<Brief> loadBrief(const std::string& path);
[[nodiscard]] std::string writeBrief(const Brief& brief);

base::Result<std::vector<model::Series>> parseWorkshop(std::string_view text);
base::Result<std::vector<model::Series>> loadWorkshop(const std::string& path);
[[nodiscard]] std::string writeWorkshop(const std::vector<model::Series>& measured);

} // namespace ivrant::files
