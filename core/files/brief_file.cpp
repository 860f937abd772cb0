// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/files/brief_file.h"

#include <cmath>

#include "core/brief/measures.h"
#include "core/files/atomic_file.h"
#include "core/files/json_guard.h"
#include "core/files/notes_json.h"

namespace ivrant::files {
namespace {

using model::Json;

constexpr std::size_t kMostBytes = 16U << 20U;
constexpr std::size_t kMostEntries = 10'000;

void checkHead(const Node& root, const std::string& format) {
    root.requireObject();
    if (root.at("format").text() != format) fail("file.format", "/format", "'" + format + "' is expected");
    if (root.at("version").integer(1, 1'000'000) > 1)
        fail("file.version", "/version", "this file was written by a newer Ivrant");
}

/// Reads JSON and hands its root to `read`; every failure becomes an Error.
template <class Value, class Read> base::Result<Value> parseWith(std::string_view text, Read read) {
    if (text.size() > kMostBytes) return base::Error{"file.size", "larger than 16 MB", ""};
    if (auto fit = guardJson(text); !fit) return fit.error();
    try {
        const Json json = Json::parse(text);
        return read(Node(json, ""));
    } catch (const ReadFailure& failure) {
        return failure.error;
    } catch (const Json::exception& e) {
        return base::Error{"file.syntax", std::string("not valid JSON: ") + e.what(), ""};
    }
}

template <class List, class ToJson> std::string lines(const List& list, ToJson toJson) {
    std::string text = "[";
    for (std::size_t i = 0; i < list.size(); ++i) text += (i ? ",\n    " : "\n    ") + jsonLine(toJson(list[i]));
    return text + "]";
}

} // namespace

base::Result<Brief> parseBrief(std::string_view text) {
    return parseWith<Brief>(text, [](const Node& root) {
        checkHead(root, "ivrant-brief");
        Brief brief;
        brief.name = root.at("name").text();
        for (const Node& node : root.at("asks").list(0, kMostEntries)) {
            brief.asks.push_back(readAsk(node));
            if (auto st = brief::checkAsk(brief.asks.back()); !st)
                fail(st.error().code, node.pointer(), st.error().message);
        }
        return brief;
    });
}

base::Result<Brief> loadBrief(const std::string& path) {
    auto text = readFile(path, kMostBytes);
    if (!text) return text.error();
    return parseBrief(*text);
}

std::string writeBrief(const Brief& brief) {
    return "{ \"format\": \"ivrant-brief\", \"version\": 1, \"name\": " +
           Json(brief.name).dump(-1, ' ', false, Json::error_handler_t::replace) +
           ",\n  \"asks\": " + lines(brief.asks, askJson) + " }\n";
}

base::Result<std::vector<model::Series>> parseWorkshop(std::string_view text) {
    return parseWith<std::vector<model::Series>>(text, [](const Node& root) {
        checkHead(root, "ivrant-workshop");
        std::vector<model::Series> measured;
        for (const Node& node : root.at("measured").list(0, kMostEntries)) {
            measured.push_back(readSeries(node));
            const auto& series = measured.back();
            if (series.quantity == model::Quantity::Motor) {
                if (series.runs.empty())
                    fail("series.empty", node.pointer() + "/runs", "a motor is measured by runs, at least one");
                continue;
            }
            const Node readings = node.at("readings");
            if (series.readings.empty())
                fail("series.empty", readings.pointer(), "a series needs at least one reading");
            for (std::size_t i = 0; i < series.readings.size(); ++i)
                if (!(series.readings[i] > 0 && series.readings[i] <= 1e6))
                    fail("series.reading", readings.pointer() + "/" + std::to_string(i),
                         "a reading must be above 0 and at most 1000000");
            if (!series.moves.empty() && series.moves.size() != series.readings.size())
                fail("series.moves", node.pointer() + "/moves", "moves has one number for each reading");
        }
        return measured;
    });
}

base::Result<std::vector<model::Series>> loadWorkshop(const std::string& path) {
    auto text = readFile(path, kMostBytes);
    if (!text) return text.error();
    return parseWorkshop(*text);
}

std::string writeWorkshop(const std::vector<model::Series>& measured) {
    return "{ \"format\": \"ivrant-workshop\", \"version\": 1,\n  \"measured\": " + lines(measured, seriesJson) +
           " }\n";
}

} // namespace ivrant::files
