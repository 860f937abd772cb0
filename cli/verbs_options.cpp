// SPDX-License-Identifier: GPL-3.0-or-later
// Choices: which combinations pass, and a model with other ones taken.
#include <CLI/CLI.hpp>
#include <filesystem>
#include <iostream>

#include "cli/verbs.h"
#include "core/base/at.h"
#include "core/files/project_file.h"
#include "core/files/results_options.h"
#include "core/model/edits_options.h"
#include "render/picture.h"

namespace ivrant::cli {
namespace {

class Options : public ProjectVerb {
public:
    Options() : ProjectVerb("options", "which combinations of options pass; exit 1 when one fails") {}
    void addOptions(CLI::App& sub) override {
        ProjectVerb::addOptions(sub);
        sub.add_option("--most", m_most, "combinations looked at all; of more every pair once")
            ->check(CLI::Range(1, 100'000));
        sub.add_flag("--list", m_list, "what there is to choose, without looking at combinations");
        sub.add_option("--choose", m_choose, "OPTION=ALTERNATIVE, by name or id; several");
        sub.add_option("-o,--output", m_output, "OUT.ivrant with what --choose says");
        sub.add_option("--pictures", m_pictures, "folder for a picture of each combination, with a list (CSV)");
    }
    [[nodiscard]] int run() const override {
        auto project = load();
        if (!project) return complain(project.error());
        for (const std::string& text : m_choose) {
            auto chosen = choose(*project, text);
            if (!chosen) return complain(chosen.error());
            project.value() = std::move(chosen).value();
        }
        if (!m_output.empty()) return save(m_output, *project);
        if (m_list) {
            print(files::makeOptionsJson(*project));
            return 0;
        }
        if (project->options.list.empty()) return complain({"options.none", "the model has no options", ""});
        const auto report = verdict::calcReport(std::make_shared<const model::Project>(*project));
        const auto matrix = verdict::calcOptionMatrix(report, static_cast<std::size_t>(m_most));
        if (!m_pictures.empty())
            if (const int failed = writePictures(*project, matrix); failed != 0) return failed;
        print(files::makeMatrixJson(*project, matrix));
        return std::all_of(matrix.rows.begin(), matrix.rows.end(), [](const auto& row) { return row.passes(); }) ? 0
                                                                                                                 : 1;
    }

private:
    [[nodiscard]] static model::EditResult choose(const model::Project& project, const std::string& text) {
        const auto equals = text.find('=');
        const std::string option = text.substr(0, equals),
                          wanted = equals == std::string::npos ? "" : text.substr(equals + 1);
        for (const model::Option& each : project.options.list) {
            if (each.name != option && each.id.text != option) continue;
            for (const model::Alternative& alternative : each.alternatives)
                if (alternative.name == wanted || alternative.id.text == wanted)
                    return model::chooseAlternative(project, alternative.id);
            return unknown("alternative", wanted);
        }
        return unknown("option", option);
    }
    [[nodiscard]] int writePictures(const model::Project& project, const verdict::OptionMatrix& matrix) const {
        std::error_code ignored;
        std::filesystem::create_directories(m_pictures, ignored);
        int number = 0;
        for (const verdict::CombinationRow& row : matrix.rows) {
            ++number;
            const auto taken = make::takeCombination(project, row.combination);
            if (!taken) continue;
            study::Wanted nothing;
            nothing.facts = 0;
            const auto report = verdict::calcReport(std::make_shared<const model::Project>(*taken), nullptr, nothing);
            const auto& pose = report.poses.empty() ? report.present : report.poses.front();
            const auto image = render::renderPicture(pose.placed, report.bonds, render::PictureRequest{});
            if (!image) return complain(image.error());
            const auto path = std::filesystem::path(m_pictures) / ("combination-" + std::to_string(number) + ".png");
            if (const int failed = save(path.string(), render::encodePng(*image)); failed != 0) return failed;
        }
        return save((std::filesystem::path(m_pictures) / "combinations.csv").string(),
                    files::makeMatrixCsv(project, matrix));
    }

    int m_most = 200;
    bool m_list = false;
    std::vector<std::string> m_choose;
    std::string m_output, m_pictures;
};

} // namespace

void addOptionsVerb(Verbs& verbs) { verbs.push_back(std::make_unique<Options>()); }

} // namespace ivrant::cli
