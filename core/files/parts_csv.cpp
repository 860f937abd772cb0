// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/files/parts_csv.h"

#include <algorithm>

#include "core/base/units.h"
#include "core/make/parts_list.h"
#include "core/parts/palette.h"

namespace ivrant::files {

namespace {

/// A table program would run it: it begins as a formula does and is no number with or without a unit.
bool looksLikeFormula(const std::string& text) {
    if (text.empty()) return false;
    if (text[0] == '=' || text[0] == '@' || text[0] == '\t' || text[0] == '\r') return true;
    if (text[0] != '+' && text[0] != '-') return false;
    const auto digits = text.find_first_not_of("0123456789.", 1);
    if (digits == std::string::npos) return false; // "-", "-12.5"
    const std::string unit = text.substr(digits + (text[digits] == ' ' ? 1 : 0));
    return digits == 1 || std::any_of(unit.begin(), unit.end(), [](char c) {
               return std::string("=+*/()|!'\"@;:-").find(c) != std::string::npos;
           });
}

} // namespace

std::string csvField(const std::string& field) {
    const std::string text = looksLikeFormula(field) ? "'" + field : field;
    if (text.find_first_of(",\"\r\n") == std::string::npos) return text;
    std::string quoted = "\"";
    for (char c : text) quoted += c == '"' ? std::string("\"\"") : std::string(1, c);
    return quoted + "\"";
}

std::string makePartsCsv(const model::Project& project) {
    std::string csv = "shape,colour,count,each_g,basis\r\n";
    for (const auto& line : make::listParts(project))
        csv += csvField(line.shape) + "," + csvField(parts::getColourName(line.colour)) + "," +
               std::to_string(line.count) + "," + base::formatNumber(line.eachG, 3) + "," +
               (line.weighed ? "measured" : "starting") + "\r\n";
    for (const auto& line : make::listBallast(project))
        csv += "ballast," + csvField(line.section) + ",1," + base::formatNumber(line.massG, 3) + ",measured\r\n";
    return csv;
}

std::string csvRow(const std::vector<std::string>& cells) {
    std::string row;
    for (std::size_t i = 0; i < cells.size(); ++i) row += (i ? "," : "") + csvField(cells[i]);
    return row + "\r\n";
}

} // namespace ivrant::files
