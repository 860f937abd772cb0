// SPDX-License-Identifier: GPL-3.0-or-later
// An element of a list by an index that is an int, as indices of joints, sections and parts are.
#pragma once

#include <cstddef>
#include <utility>

namespace ivrant {

/// As list[index]; the index must be within the list.
template <typename List, typename Index> [[nodiscard]] constexpr decltype(auto) at(List&& list, Index index) {
    return std::forward<List>(list)[static_cast<std::size_t>(index)];
}

} // namespace ivrant
