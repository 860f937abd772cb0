// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/trials/readings_csv.h"

#include <algorithm>
#include <string>

#include "core/base/at.h"
#include "core/base/units.h"

namespace ivrant::trials {
namespace {

constexpr std::size_t kMostLines = 100'000;

std::vector<std::string> splitCells(std::string_view line) {
    const char divider = line.find('\t') != line.npos ? '\t' : line.find(';') != line.npos ? ';' : ',';
    std::vector<std::string> cells;
    for (std::size_t start = 0; start <= line.size();) {
        const auto end = std::min(line.find(divider, start), line.size());
        std::string cell(line.substr(start, end - start));
        while (!cell.empty() && (cell.back() == ' ' || cell.back() == '\r' || cell.back() == '"')) cell.pop_back();
        cell.erase(0, std::min(cell.find_first_not_of(" \""), cell.size()));
        cells.push_back(std::move(cell));
        start = end + 1;
    }
    return cells;
}

int findColumn(const std::vector<std::string>& heads, std::string_view name) {
    for (std::size_t c = 0; c < heads.size(); ++c) {
        std::string head = heads[c];
        std::transform(head.begin(), head.end(), head.begin(),
                       [](unsigned char ch) { return static_cast<char>(std::tolower(ch)); });
        if (head.starts_with(name)) return static_cast<int>(c);
    }
    return -1;
}

/// "12,5" without a head line: a decimal comma or two numbers?
bool isAmbiguous(const std::vector<std::string>& cells, std::string_view line) {
    const auto isWhole = [](const std::string& cell) {
        return !cell.empty() && cell.find_first_not_of("0123456789") == std::string::npos;
    };
    return cells.size() == 2 && line.find(',') != line.npos && line.find(';') == line.npos &&
           line.find('\t') == line.npos && isWhole(cells[0]) && isWhole(cells[1]);
}

} // namespace

base::Result<Readings> parseReadings(std::string_view text) {
    Readings readings;
    int valueColumn = 0, movesColumn = 1;
    bool first = true, headed = false;
    std::size_t number = 0;
    for (std::size_t start = 0; start <= text.size();) {
        const auto end = std::min(text.find('\n', start), text.size());
        const std::string_view line = text.substr(start, end - start);
        start = end + 1;
        if (++number > kMostLines) return base::Error{"csv.size", "more than 100000 lines of readings", ""};
        if (line.find_first_not_of(" \r\t") == line.npos || line.front() == '#') continue;
        const auto cells = splitCells(line);
        if (!headed && isAmbiguous(cells, line))
            return base::Error{"csv.number",
                               "'" + std::string(cells[0]) + "," + cells[1] +
                                   "' may be one number or a reading and its moves: write a head line "
                                   "(reading,moves), a semicolon between them, or a point in the number",
                               "line " + std::to_string(number)};
        if (first) {
            first = false;
            if (!base::parseNumber(cells.front())) { // a head line
                headed = true;
                valueColumn = findColumn(cells, "reading");
                movesColumn = findColumn(cells, "moves");
                if (valueColumn < 0)
                    return base::Error{"csv.number", "no column called 'reading', and the first line is no number",
                                       "line " + std::to_string(number)};
                continue;
            }
        }
        const auto take = [&](int column) -> base::Result<double> {
            if (column >= static_cast<int>(cells.size()))
                return base::Error{"csv.number", "a number is missing", "line " + std::to_string(number)};
            const auto value = base::parseNumber(at(cells, column));
            if (!value)
                return base::Error{"csv.number", "'" + at(cells, column) + "' is no number",
                                   "line " + std::to_string(number)};
            return *value;
        };
        const auto value = take(valueColumn);
        if (!value) return value.error();
        const bool hasMoves = movesColumn >= 0 && movesColumn < static_cast<int>(cells.size());
        if (hasMoves != !readings.moves.empty() && !readings.values.empty())
            return base::Error{"csv.number", "some lines have moves and some have none",
                               "line " + std::to_string(number)};
        if (hasMoves) {
            const auto moves = take(movesColumn);
            if (!moves) return moves.error();
            readings.moves.push_back(*moves);
        }
        readings.values.push_back(*value);
    }
    if (readings.values.empty()) return base::Error{"csv.empty", "there is no reading in it", ""};
    return readings;
}

} // namespace ivrant::trials
