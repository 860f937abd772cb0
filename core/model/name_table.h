// SPDX-License-Identifier: GPL-3.0-or-later
// Names of the values of an enumeration, both ways; not for use outside core/model.
#pragma once

#include <array>
#include <optional>
#include <string_view>
#include <utility>

namespace ivrant::model::detail {

template <class Value, std::size_t N>
std::optional<Value> findNamed(const std::array<std::pair<Value, const char*>, N>& table, std::string_view name) {
    for (const auto& [value, text] : table)
        if (name == text) return value;
    return std::nullopt;
}

template <class Value, std::size_t N>
const char* nameOf(const std::array<std::pair<Value, const char*>, N>& table, Value value) {
    for (const auto& [known, text] : table)
        if (known == value) return text;
    return "";
}

} // namespace ivrant::model::detail
