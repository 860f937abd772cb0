// SPDX-License-Identifier: GPL-3.0-or-later
// What leaves the program: parts list, steps, sheets, pictures, other formats.
#include <CLI/CLI.hpp>
#include <iostream>

#include "cli/tables.h"
#include "cli/verbs.h"
#include "core/base/at.h"
#include "core/base/units.h"
#include "core/drive/board_convert.h"
#include "core/files/mesh_files.h"
#include "core/files/parts_csv.h"
#include "core/files/project_file.h"
#include "core/files/steps_csv.h"
#include "core/make/parts_list.h"
#include "core/model/board_parts.h"
#include "core/parts/palette.h"
#include "print/guide.h"
#include "print/lineup.h"
#include "render/picture.h"

namespace ivrant::cli {
namespace {

constexpr double kLeastPixels = 16, kMostPixels = 8192; ///< a side of a picture

class Parts : public ProjectVerb {
public:
    Parts() : ProjectVerb("parts", "parts list") {}
    void addOptions(CLI::App& sub) override {
        ProjectVerb::addOptions(sub);
        sub.add_flag("--csv", m_csv, "print CSV");
    }
    [[nodiscard]] int run() const override {
        const auto project = load();
        if (!project) return complain(project.error());
        if (asJson()) {
            print(files::makePartsJson(*project));
        } else if (m_csv) {
            std::cout << files::makePartsCsv(*project);
        } else {
            std::vector<std::vector<std::string>> rows{{"count", "shape", "colour", "each g"}};
            for (const auto& line : make::listParts(*project))
                rows.push_back({std::to_string(line.count), line.shape, parts::getColourName(line.colour),
                                base::formatNumber(line.eachG, 2)});
            std::cout << formatTable(rows) << project->partCount() + model::countBoardParts(*project) << " parts\n";
        }
        return 0;
    }

private:
    bool m_csv = false;
};

class Steps : public ProjectVerb {
public:
    Steps() : ProjectVerb("steps", "steps in order of building") {}
    void addOptions(CLI::App& sub) override {
        ProjectVerb::addOptions(sub);
        sub.add_flag("--csv", m_csv, "print CSV, as the sheets have them");
    }
    [[nodiscard]] int run() const override {
        if (m_csv) {
            study::Wanted wanted;
            wanted.facts = study::kRanges | study::kAssembly;
            return withReport(wanted, [](const verdict::Report& report) {
                std::cout << files::makeStepsCsv(files::makeSheetSteps(report));
                return 0;
            });
        }
        const auto project = load();
        if (!project) return complain(project.error());
        const auto tree = model::makeTree(*project).value();
        if (asJson()) {
            print(files::makeStepsJson(*project, tree));
            return 0;
        }
        std::vector<std::vector<std::string>> rows{{"step", "section", "new parts"}};
        for (const auto& step : make::listSteps(*project, tree)) {
            std::string tray;
            for (const auto& line : step.tray)
                tray += (tray.empty() ? "" : ", ") + std::to_string(line.count) + "× " + line.shape + " " +
                        parts::getColourName(line.colour);
            rows.push_back({std::to_string(step.number), at(project->sections, step.section)->name, tray});
        }
        std::cout << formatTable(rows);
        return 0;
    }

private:
    bool m_csv = false;
};

class Guide : public ProjectVerb {
public:
    Guide() : ProjectVerb("guide", "the printed sheets as .pdf or .html, or every step as a picture") {}
    void addOptions(CLI::App& sub) override {
        ProjectVerb::addOptions(sub);
        auto* sheets = sub.add_option("-o,--output", m_output, "OUT.pdf or OUT.html");
        sub.add_option("--pictures", m_pictures, "folder for a picture of each step (PNG) and their list (CSV)")
            ->excludes(sheets);
        sub.add_option("--paper", m_paper, "a4 or letter")->check(CLI::IsMember({"a4", "letter"}));
        sub.add_flag("--across", m_across, "the page lies across");
    }
    [[nodiscard]] int run() const override {
        if (m_output.empty() && m_pictures.empty())
            return complain({"output.kind", "say where to: -o OUT.pdf, or --pictures FOLDER", ""});
        return withReport({}, [&](const verdict::Report& report) {
            if (!m_pictures.empty()) {
                const auto done = print::writeStepPictures(report, m_pictures);
                return done ? 0 : complain(done.error());
            }
            const std::string kind = extensionOf(m_output);
            if (kind != "pdf" && kind != "html")
                return complain({"output.kind", "cannot write '." + kind + "'; expected .pdf or .html", ""});
            const auto done = kind == "pdf"
                                  ? print::writeGuidePdf(report, m_output, nullptr, {m_paper == "letter", m_across})
                                  : print::writeGuideHtml(report, m_output);
            return done ? 0 : complain(done.error());
        });
    }

private:
    std::string m_output, m_pictures, m_paper = "a4";
    bool m_across = false;
};

class Lineup : public ProjectVerb {
public:
    Lineup() : ProjectVerb("lineup", "several models beside each other, to one scale") {}
    void addOptions(CLI::App& sub) override {
        ProjectVerb::addOptions(sub);
        sub.add_option("-o,--output", m_output, "OUT.pdf or OUT.png")->required();
    }
    [[nodiscard]] int run() const override {
        std::vector<verdict::Report> reports;
        for (const std::string& file : m_files) {
            auto project = load(file);
            if (!project) return complain(project.error());
            study::Wanted places;
            places.facts = 0;
            reports.push_back(verdict::calcReport(std::make_shared<const model::Project>(std::move(project).value()),
                                                  nullptr, places));
        }
        const auto done = print::writeLineup(reports, m_output);
        return done ? 0 : complain(done.error());
    }

protected:
    void addFile(CLI::App& sub) override { sub.add_option("FILE", m_files, "project files (*.ivrant)")->required(); }

private:
    std::vector<std::string> m_files;
    std::string m_output;
};

class Render : public PoseVerb {
public:
    Render() : PoseVerb("render", "a picture as .png") {}
    void addOptions(CLI::App& sub) override {
        PoseVerb::addOptions(sub);
        sub.add_option("-o,--output", m_output, "OUT.png")->required();
        sub.add_option("--section", m_section, "id or name of the one section to draw");
        sub.add_option("--size", m_size, "WIDTHxHEIGHT in pixels");
        sub.add_option("--view", m_view, "corner, front, side, top or back");
    }
    [[nodiscard]] int run() const override {
        return withPose(inPose(0), [&](const verdict::Report& report, const study::PoseFacts& pose) {
            const auto picture = makePicture(report);
            if (!picture) return complain(picture.error());
            const auto image = render::renderPicture(pose.placed, report.bonds, *picture);
            return image ? save(m_output, render::encodePng(*image)) : complain(image.error());
        });
    }

private:
    [[nodiscard]] base::Result<render::PictureRequest> makePicture(const verdict::Report& report) const {
        render::PictureRequest picture;
        if (m_section) {
            const int section = findSection(*report.project, *m_section);
            if (section < 0) return unknown("section", *m_section);
            picture.onlySection = section;
        }
        const auto cross = m_size.find('x');
        const auto side = [](const std::string& text) {
            const auto pixels = base::parseNumber(text);
            return pixels && *pixels >= kLeastPixels && *pixels <= kMostPixels ? static_cast<int>(*pixels) : 0;
        };
        picture.width = side(m_size.substr(0, cross));
        picture.height = cross == std::string::npos ? 0 : side(m_size.substr(cross + 1));
        if (picture.width == 0 || picture.height == 0)
            return base::Error{"render.size", "--size needs WIDTHxHEIGHT, each 16 to 8192", ""};
        const auto view = render::findView(m_view);
        if (!view) return base::Error{"render.view", "--view is corner, front, side, top or back", ""};
        picture.view = *view;
        if (extensionOf(m_output) != "png") return base::Error{"output.kind", "a picture is written as .png", ""};
        return picture;
    }

    std::string m_output, m_size = "1280x800", m_view = "corner";
    std::optional<std::string> m_section;
};

class Convert : public PoseVerb {
public:
    Convert() : PoseVerb("convert", "to .ivrant (tidied), .stl, .obj, or .csv (parts list)") {}
    void addOptions(CLI::App& sub) override {
        PoseVerb::addOptions(sub);
        sub.add_option("-o,--output", m_output, "OUT.ivrant, OUT.stl, OUT.obj or OUT.csv")->required();
        sub.add_flag("--parts", m_parts, "what lies on gear boards as parts of sections; to .ivrant");
    }
    [[nodiscard]] int run() const override {
        if (m_parts) return convertBoards();
        return withPose(inPose(0), [&](const verdict::Report& report, const study::PoseFacts& pose) {
            const std::string kind = extensionOf(m_output);
            if (kind == "ivrant" || kind == "json") return save(m_output, *report.project);
            if (kind == "stl") return save(m_output, files::makeStl(pose.placed));
            if (kind == "obj") return save(m_output, files::makeObj(pose.placed));
            if (kind == "csv") return save(m_output, files::makePartsCsv(*report.project));
            return complain({"output.kind", "cannot write '." + kind + "'; expected .ivrant, .stl, .obj or .csv", ""});
        });
    }

private:
    [[nodiscard]] int convertBoards() const {
        if (const std::string kind = extensionOf(m_output); kind != "ivrant" && kind != "json")
            return complain({"output.kind", "--parts writes a model: expected .ivrant", ""});
        const auto project = load();
        if (!project) return complain(project.error());
        const auto made = drive::convertBoards(*project);
        if (!made) return complain(made.error());
        if (const int failed = save(m_output, made->project); failed != 0) return failed;
        std::cout << m_output << ": " << made->parts << " parts where boards had things of their own\n";
        for (const std::string& note : made->notes) std::cout << "  " << note << "\n";
        return 0;
    }

    std::string m_output;
    bool m_parts = false;
};

} // namespace

void addMakeVerbs(Verbs& verbs) {
    verbs.push_back(std::make_unique<Parts>());
    verbs.push_back(std::make_unique<Steps>());
    verbs.push_back(std::make_unique<Guide>());
    verbs.push_back(std::make_unique<Lineup>());
    verbs.push_back(std::make_unique<Render>());
    verbs.push_back(std::make_unique<Convert>());
}

} // namespace ivrant::cli
