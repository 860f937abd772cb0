// SPDX-License-Identifier: GPL-3.0-or-later
// How are asks, measured series, diary entries and own cases written as JSON? Used by the project file, brief files and
// the workshop's library.
#pragma once

#include "core/files/json_reader.h"

namespace ivrant::files {

// All readers throw ReadFailure.
[[nodiscard]] model::Ask readAsk(const Node& node);
[[nodiscard]] model::Series readSeries(const Node& node);
[[nodiscard]] model::DiaryEntry readDiaryEntry(const Node& node);
[[nodiscard]] model::OwnCase readCase(const Node& node);
/// The project's lists. Version 1 kept whatever stood in them: entries of no known shape go to the keys kept_asks …
void readNotes(const Node& root, std::int64_t version, model::Project& project);

[[nodiscard]] model::Json askJson(const model::Ask& ask);
[[nodiscard]] model::Json seriesJson(const model::Series& series);
[[nodiscard]] model::Json diaryJson(const model::DiaryEntry& entry);
[[nodiscard]] model::Json caseJson(const model::OwnCase& own);

/// Whole numbers without a fraction, as people write them.
[[nodiscard]] model::Json numberJson(double value);
[[nodiscard]] model::Json valuesJson(const std::vector<double>& values);
void addExtra(model::Json& json, const model::ExtraPtr& extra);
/// One line, with a blank after the brackets' inner sides and separators: { "id": "p1", … }.
[[nodiscard]] std::string jsonLine(const model::Json& json);
/// A further key of an object with one line for each entry; empty without any.
template <class Entry>
[[nodiscard]] std::string linesText(const char* key, const std::vector<Entry>& list,
                                    model::Json (*toJson)(const Entry&)) {
    if (list.empty()) return "";
    std::string text = ",\n  \"" + std::string(key) + "\": [";
    for (std::size_t i = 0; i < list.size(); ++i) text += (i ? ",\n    " : "\n    ") + jsonLine(toJson(list[i]));
    return text + "]";
}

} // namespace ivrant::files
