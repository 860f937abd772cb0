// SPDX-License-Identifier: GPL-3.0-or-later
// What are the words of a command? For use inside core/script.
#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.h"

namespace ivrant::script {

/// Splits at spaces; quoted words keep theirs; the rest after # is left out. Error "script.quote".
[[nodiscard]] base::Result<std::vector<std::string>> splitLine(std::string_view line);

/// A command's words, taken from the front.
class Words {
public:
    explicit Words(std::vector<std::string> words) : m_words(std::move(words)) {}

    [[nodiscard]] bool empty() const { return m_next >= m_words.size(); }
    [[nodiscard]] const std::string& peek() const { return m_words[m_next]; }
    std::string take() { return m_words[m_next++]; }
    /// Takes the word when it is that one.
    bool takeIf(std::string_view word);
    /// The words and the place of the next one, for a reader of its own.
    [[nodiscard]] const std::vector<std::string>& all() const { return m_words; }
    [[nodiscard]] std::size_t& next() { return m_next; }
    /// All words up to one of `ends` (not taken) or the end, joined by spaces.
    [[nodiscard]] std::string takeUntil(const std::vector<std::string_view>& ends);

private:
    std::vector<std::string> m_words;
    std::size_t m_next = 0;
};

/// "x=+z": which way of the section a part's own axis goes.
struct AxisTurn {
    int own = 0, to = 0, sign = 1;
};
[[nodiscard]] std::optional<AxisTurn> parseAxisTurn(std::string_view word);
/// Turn 0..23 for one or two of them; one alone keeps z up where it can. None: no such turn.
[[nodiscard]] std::optional<int> findNamedTurn(const std::vector<AxisTurn>& turns);

} // namespace ivrant::script
