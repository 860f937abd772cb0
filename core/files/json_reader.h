// SPDX-License-Identifier: GPL-3.0-or-later
// How are typed values taken out of JSON with an error that names the place? Used by the file readers only.
#pragma once

#include <functional>
#include <nlohmann/json.hpp>
#include <set>

#include "core/base/result.h"
#include "core/model/project.h"

namespace ivrant::files {

/// Thrown inside the readers, caught at parseProject: reading goes many levels down, and every level would only pass it
/// on.
struct ReadFailure {
    base::Error error;
};

[[noreturn]] inline void fail(const std::string& code, const std::string& pointer, const std::string& message) {
    throw ReadFailure{{code, message, pointer}};
}

/// One JSON value with its pointer.
class Node {
public:
    Node(const model::Json& json, std::string pointer) : m_json(json), m_pointer(std::move(pointer)) {}

    [[nodiscard]] const model::Json& json() const { return m_json; }
    [[nodiscard]] const std::string& pointer() const { return m_pointer; }
    [[nodiscard]] bool has(const char* key) const { return m_json.is_object() && m_json.contains(key); }

    [[nodiscard]] Node at(const char* key) const {
        requireObject();
        const auto found = m_json.find(key);
        if (found == m_json.end()) fail("file.missing", m_pointer, std::string("the key '") + key + "' is missing");
        return {*found, m_pointer + "/" + key};
    }
    [[nodiscard]] std::string text(std::size_t most = 1000) const {
        if (!m_json.is_string()) wrong("a text");
        auto value = m_json.get<std::string>();
        if (value.size() > most)
            fail("file.value", m_pointer, "a text of at most " + std::to_string(most) + " bytes is expected");
        return value;
    }
    [[nodiscard]] std::int64_t integer(std::int64_t low, std::int64_t high) const {
        if (!m_json.is_number_integer()) wrong("a whole number");
        if (m_json.is_number_unsigned() && m_json.get<std::uint64_t>() > static_cast<std::uint64_t>(high))
            range(low, high);
        const auto value = m_json.get<std::int64_t>();
        if (value < low || value > high) range(low, high);
        return value;
    }
    [[nodiscard]] double number() const {
        if (!m_json.is_number()) wrong("a number");
        const double value = m_json.get<double>();
        if (!(std::abs(value) < 1e15)) fail("file.value", m_pointer, "the number is far out of range");
        return value;
    }
    [[nodiscard]] std::vector<Node> list(std::size_t low = 0, std::size_t high = SIZE_MAX) const {
        if (!m_json.is_array()) wrong("a list");
        if (m_json.size() < low || m_json.size() > high)
            fail("file.value", m_pointer,
                 "a list of " + std::to_string(low) + (low == high ? "" : " or more") + " entries is expected, found " +
                     std::to_string(m_json.size()));
        std::vector<Node> nodes;
        nodes.reserve(m_json.size());
        for (std::size_t i = 0; i < m_json.size(); ++i)
            nodes.emplace_back(m_json[i], m_pointer + "/" + std::to_string(i));
        return nodes;
    }
    void requireObject() const {
        if (!m_json.is_object()) wrong("an object");
    }
    /// Members whose keys are not in `known`, or null when there are none.
    [[nodiscard]] model::ExtraPtr extra(const std::set<std::string, std::less<>>& known) const {
        requireObject();
        model::Json rest = model::Json::object();
        for (const auto& [key, value] : m_json.items())
            if (known.count(key) == 0) rest[key] = value;
        return rest.empty() ? nullptr : std::make_shared<const model::Json>(std::move(rest));
    }
    [[noreturn]] void wrong(const std::string& expected) const {
        fail("file.type", m_pointer, expected + " is expected, found " + describe());
    }

private:
    [[noreturn]] void range(std::int64_t low, std::int64_t high) const {
        fail("file.value", m_pointer,
             "a whole number from " + std::to_string(low) + " to " + std::to_string(high) + " is expected");
    }
    [[nodiscard]] std::string describe() const {
        std::string dump = m_json.is_structured() ? std::string(m_json.type_name())
                                                  : m_json.dump(-1, ' ', false, model::Json::error_handler_t::replace);
        if (dump.size() > 60) dump = dump.substr(0, 57) + "...";
        return dump;
    }
    const model::Json& m_json;
    std::string m_pointer;
};

inline constexpr std::int64_t kMostUm = 100'000'000; ///< 100 m: nothing of a model lies further out

/// Empty when the key is not there.
[[nodiscard]] inline std::string optionalText(const Node& node, const char* key, std::size_t most = 1000) {
    return node.has(key) ? node.at(key).text(most) : std::string();
}
/// Written only when there is something to say.
inline void addText(model::Json& json, const char* key, const std::string& text) {
    if (!text.empty()) json[key] = text;
}

/// A list of ids; without the key an empty one.
template <class Id> [[nodiscard]] std::vector<Id> readIds(const Node& node, const char* key) {
    std::vector<Id> ids;
    if (node.has(key))
        for (const Node& entry : node.at(key).list()) ids.push_back({entry.text(60)});
    return ids;
}
/// Nothing when there are none.
template <class Id> void addIds(model::Json& json, const char* key, const std::vector<Id>& ids) {
    if (ids.empty()) return;
    json[key] = model::Json::array();
    for (const Id& id : ids) json[key].push_back(id.text);
}

} // namespace ivrant::files
