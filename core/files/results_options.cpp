// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/files/results_options.h"

#include <cmath>
#include <nlohmann/json.hpp>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/files/parts_csv.h"
#include "core/files/results_json.h"
#include "core/parts/palette.h"

namespace ivrant::files {
namespace {

using model::Json;

std::string nameOf(const model::Options& options, const model::AlternativeId& id) {
    const auto spot = model::findAlternative(options, id);
    if (spot.option < 0) return id.text;
    const model::Option& option = at(options.list, spot.option);
    return option.name + ": " + at(option.alternatives, spot.alternative).name;
}

std::string listTexts(const std::vector<verdict::Verdict>& verdicts) {
    std::string text;
    for (const auto& v : verdict::collapsePoses(verdicts)) text += (text.empty() ? "" : "; ") + v.text;
    return text;
}

} // namespace

Json makeOptionsJson(const model::Project& project) {
    Json json = makeHead("options");
    json["alternatives"] = Json::array();
    for (std::size_t o = 0; o < project.options.list.size(); ++o) {
        const model::Option& option = project.options.list[o];
        for (std::size_t a = 0; a < option.alternatives.size(); ++a) {
            const model::Alternative& alternative = option.alternatives[a];
            std::string parts;
            for (const make::TrayLine& line :
                 make::listAlternativeParts(project, {static_cast<int>(o), static_cast<int>(a)}))
                parts += (parts.empty() ? "" : ", ") + std::to_string(line.count) + " " + line.shape + " " +
                         parts::getColourName(line.colour);
            json["alternatives"].push_back({{"option", option.name},
                                            {"alternative", alternative.name},
                                            {"id", alternative.id.text},
                                            {"chosen", static_cast<int>(a) == option.chosen},
                                            {"price", rounded(alternative.price)},
                                            {"parts", parts}});
        }
    }
    json["rules"] = Json::array();
    for (const model::OptionRule& rule : project.options.rules)
        json["rules"].push_back(nameOf(project.options, rule.first) + (rule.excludes ? " excludes " : " needs ") +
                                nameOf(project.options, rule.second));
    json["missing_for_all_at_once"] = Json::array();
    if (project.supplies && !project.supplies->stocks.empty())
        for (const make::TideLine& line : make::calcAllAtOnce(project))
            json["missing_for_all_at_once"].push_back({{"shape", line.shape},
                                                       {"colour", parts::getColourName(line.colour)},
                                                       {"need", line.need},
                                                       {"missing", line.missing()}});
    return json;
}

Json makeMatrixJson(const model::Project& project, const verdict::OptionMatrix& matrix) {
    Json json = makeHead("options");
    json["possible"] = matrix.combinations.count;
    json["looked_at"] = matrix.rows.size();
    json["all"] = matrix.combinations.all;
    json["combinations"] = Json::array();
    for (const verdict::CombinationRow& row : matrix.rows) {
        Json entry;
        for (std::size_t o = 0; o < row.combination.size(); ++o)
            entry[project.options.list[o].name] = at(project.options.list[o].alternatives, row.combination[o]).name;
        entry["parts"] = row.parts;
        entry["mass_g"] = rounded(row.massG);
        entry["price"] = rounded(row.price);
        entry["missing"] = row.missing;
        entry["tip_deg"] = row.tipDeg ? Json(rounded(*row.tipDeg)) : Json();
        entry["bonds"] = row.bonds ? Json(rounded(*row.bonds)) : Json();
        entry["passes"] = row.passes();
        entry["fails"] = row.problem.empty() ? listTexts(row.fails) : row.problem;
        json["combinations"].push_back(std::move(entry));
    }
    json["always"] = Json::array();
    for (const auto& v : verdict::collapsePoses(matrix.always)) json["always"].push_back(v.text);
    return json;
}

std::string makeMatrixCsv(const model::Project& project, const verdict::OptionMatrix& matrix) {
    std::string csv = "number";
    for (const model::Option& option : project.options.list) csv += "," + csvField(option.name);
    csv += ",parts,mass_g,price,missing,passes,fails\r\n";
    int number = 0;
    for (const verdict::CombinationRow& row : matrix.rows) {
        csv += std::to_string(++number);
        for (std::size_t o = 0; o < row.combination.size(); ++o)
            csv += "," + csvField(at(project.options.list[o].alternatives, row.combination[o]).name);
        csv += "," + std::to_string(row.parts) + "," + base::formatNumber(row.massG, 1) + "," +
               base::formatNumber(row.price, 2) + "," + std::to_string(row.missing) + "," +
               (row.passes() ? "yes" : "no") + "," +
               csvField(row.problem.empty() ? listTexts(row.fails) : row.problem) + "\r\n";
    }
    return csv;
}

} // namespace ivrant::files
