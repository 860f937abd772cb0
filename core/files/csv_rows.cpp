// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/files/csv_rows.h"

#include <algorithm>
#include <cctype>

namespace ivrant::files {
namespace {

bool isUtf8(std::string_view text) {
    for (std::size_t i = 0; i < text.size();) {
        const auto lead = static_cast<unsigned char>(text[i]);
        const std::size_t more = lead < 0x80 ? 0 : lead >= 0xC2 && lead < 0xE0 ? 1 : lead < 0xF0 ? 2 : 3;
        if ((lead >= 0x80 && lead < 0xC2) || lead > 0xF4 || i + more >= text.size() + (more == 0 ? 1 : 0)) return false;
        for (std::size_t k = 1; k <= more; ++k)
            if ((static_cast<unsigned char>(text[i + k]) & 0xC0) != 0x80) return false;
        i += more + 1;
    }
    return true;
}

std::string fromLatin1(std::string_view text) {
    std::string utf8;
    utf8.reserve(text.size() + text.size() / 8);
    for (const char c : text) {
        const auto byte = static_cast<unsigned char>(c);
        if (byte < 0x80) {
            utf8 += c;
        } else {
            utf8 += static_cast<char>(0xC0 | (byte >> 6));
            utf8 += static_cast<char>(0x80 | (byte & 0x3F));
        }
    }
    return utf8;
}

char findDivider(std::string_view text) {
    std::size_t semicolons = 0, tabs = 0;
    bool quoted = false;
    for (const char c : text) {
        if (c == '"') quoted = !quoted;
        if (quoted) continue;
        if (c == '\n') break;
        semicolons += c == ';' ? 1 : 0;
        tabs += c == '\t' ? 1 : 0;
    }
    if (tabs > 0 && tabs >= semicolons) return '\t';
    return semicolons > 0 ? ';' : ',';
}

void trim(std::string& cell) {
    while (!cell.empty() && (cell.back() == ' ' || cell.back() == '\r' || cell.back() == '\t')) cell.pop_back();
    cell.erase(0, std::min(cell.find_first_not_of(" \t"), cell.size()));
}

std::string foldHead(std::string_view head) {
    std::string folded;
    for (const char c : head)
        folded += c == '_' || c == '-' ? ' ' : static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
    trim(folded);
    return folded;
}

} // namespace

base::Status forEachRow(std::string_view text, const OnRow& onRow) {
    if (text.starts_with("\xEF\xBB\xBF")) text.remove_prefix(3);
    std::string converted;
    if (!isUtf8(text)) {
        converted = fromLatin1(text);
        text = converted;
    }
    const char divider = findDivider(text);
    std::vector<std::string> cells(1);
    std::size_t rows = 0;
    int line = 1, rowLine = 1;
    bool quoted = false, wasQuoted = false;
    const auto endCell = [&] {
        if (!wasQuoted) trim(cells.back());
        wasQuoted = false;
    };
    const auto endRow = [&]() -> bool {
        endCell();
        const bool any = std::any_of(cells.begin(), cells.end(), [](const std::string& cell) { return !cell.empty(); });
        const bool goOn = !any || onRow(cells, rowLine);
        if (any) ++rows;
        cells.assign(1, "");
        return goOn;
    };
    for (std::size_t i = 0; i < text.size(); ++i) {
        const char c = text[i];
        if (quoted) {
            if (c == '"' && i + 1 < text.size() && text[i + 1] == '"') {
                cells.back() += '"';
                ++i;
            } else if (c == '"') {
                quoted = false;
            } else {
                cells.back() += c;
                line += c == '\n' ? 1 : 0;
            }
        } else if (c == '"' && cells.back().find_first_not_of(" \t") == std::string::npos && !wasQuoted) {
            cells.back().clear();
            quoted = wasQuoted = true;
        } else if (c == divider) {
            endCell();
            cells.emplace_back();
        } else if (c == '\n') {
            if (rows > kMostTableRows)
                return base::Error{"csv.size", "more than " + std::to_string(kMostTableRows) + " rows", ""};
            if (!endRow()) return {};
            rowLine = ++line;
        } else if (!(wasQuoted && (c == ' ' || c == '\r' || c == '\t'))) {
            cells.back() += c;
        }
    }
    if (quoted)
        return base::Error{"csv.quote", "a quote that begins in line " + std::to_string(rowLine) + " never ends",
                           "line " + std::to_string(rowLine)};
    static_cast<void>(endRow());
    return {};
}

int findColumn(const std::vector<std::string>& heads, const std::vector<std::string>& names) {
    for (const std::string& name : names)
        for (std::size_t c = 0; c < heads.size(); ++c)
            if (foldHead(heads[c]) == foldHead(name)) return static_cast<int>(c);
    return -1;
}

} // namespace ivrant::files
