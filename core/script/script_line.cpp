// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/script/script_line.h"

#include <algorithm>

#include "core/geometry/frames.h"

namespace ivrant::script {

base::Result<std::vector<std::string>> splitLine(std::string_view line) {
    std::vector<std::string> words;
    std::string word;
    bool quoted = false, begun = false;
    for (const char c : line) {
        if (c == '"') {
            quoted = !quoted;
            begun = true;
        } else if (!quoted && c == '#') {
            break;
        } else if (!quoted && (c == ' ' || c == '\t' || c == '\r')) {
            if (begun) words.push_back(std::exchange(word, {}));
            begun = false;
        } else {
            word += c;
            begun = true;
        }
    }
    if (quoted) return base::Error{"script.quote", "a quotation mark is open at the end of the line", ""};
    if (begun) words.push_back(std::move(word));
    return words;
}

bool Words::takeIf(std::string_view word) {
    if (empty() || peek() != word) return false;
    ++m_next;
    return true;
}

std::string Words::takeUntil(const std::vector<std::string_view>& ends) {
    std::string text;
    while (!empty() && std::find(ends.begin(), ends.end(), peek()) == ends.end())
        text += (text.empty() ? "" : " ") + take();
    return text;
}

std::optional<AxisTurn> parseAxisTurn(std::string_view word) {
    const auto axisOf = [](char c) { return c == 'x' ? 0 : c == 'y' ? 1 : c == 'z' ? 2 : -1; };
    if (word.size() != 4 || word[1] != '=' || (word[2] != '+' && word[2] != '-')) return std::nullopt;
    AxisTurn turn{axisOf(word[0]), axisOf(word[3]), word[2] == '-' ? -1 : 1};
    if (turn.own < 0 || turn.to < 0) return std::nullopt;
    return turn;
}

std::optional<int> findNamedTurn(const std::vector<AxisTurn>& turns) {
    if (turns.empty() || turns.size() > 2) return std::nullopt;
    std::optional<int> best;
    double most = -10;
    for (int turn = 0; turn < 24; ++turn) {
        const geometry::Mat3& r = geometry::getTurn(turn);
        const bool fits = std::all_of(turns.begin(), turns.end(),
                                      [&](const AxisTurn& t) { return r(t.to, t.own) == static_cast<double>(t.sign); });
        const double upright = r(2, 2) + 0.1 * r(0, 0); // of those that fit
        if (!fits || upright <= most) continue;
        most = upright;
        best = turn;
    }
    return best;
}

} // namespace ivrant::script
