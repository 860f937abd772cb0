// SPDX-License-Identifier: GPL-3.0-or-later
// Which of n things belong together? Disjoint sets that are joined and asked for.
//
// Union-find with path halving; find costs next to nothing. Source: Tarjan (1975).
#pragma once

#include <numeric>
#include <vector>

namespace ivrant::base {

class Groups {
public:
    explicit Groups(std::size_t count = 0) : m_root(count) { std::iota(m_root.begin(), m_root.end(), std::size_t{0}); }
    /// One more, by itself; its number.
    std::size_t add() {
        m_root.push_back(m_root.size());
        return m_root.back();
    }
    /// The thing that stands for the group of i; changes when groups are joined.
    [[nodiscard]] std::size_t find(std::size_t i) {
        while (m_root[i] != i) i = m_root[i] = m_root[m_root[i]];
        return i;
    }
    void join(std::size_t a, std::size_t b) { m_root[find(a)] = find(b); }

private:
    std::vector<std::size_t> m_root;
};

} // namespace ivrant::base
