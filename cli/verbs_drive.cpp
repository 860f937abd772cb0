// SPDX-License-Identifier: GPL-3.0-or-later
// Gear boards, trains for a ratio, what meshes where.
#include <CLI/CLI.hpp>
#include <iostream>

#include "cli/drive_text.h"
#include "cli/verbs.h"
#include "core/base/at.h"
#include "core/base/units.h"
#include "core/drive/ratio_text.h"
#include "core/files/results_drive.h"
#include "print/board_sheet.h"
#include "print/pictures.h"

namespace ivrant::cli {
namespace {

int findBoard(const model::Project& project, const std::string& name) {
    for (std::size_t b = 0; b < project.boards.size(); ++b)
        if (project.boards[b]->id.text == name || project.boards[b]->name == name) return static_cast<int>(b);
    return -1;
}

class Drive : public ProjectVerb {
public:
    Drive() : ProjectVerb("drive", "gear boards: freedom, ratios, senses, working points, selector table") {}
    void addOptions(CLI::App& sub) override {
        ProjectVerb::addOptions(sub);
        sub.add_option("--board", m_board, "id or name of the one board to tell of");
        sub.add_option("-o,--output", m_output, "write a drawing of the board in true size here: OUT.svg");
    }
    [[nodiscard]] int run() const override {
        return withReport(onlyDrive(), [&](const verdict::Report& report) {
            if (!report.drive) return complain({"drive.none", "this project has no gear board", ""});
            std::optional<model::BoardId> board;
            if (!m_board.empty()) {
                const int b = findBoard(*report.project, m_board);
                if (b < 0) return complain(unknown("board", m_board));
                board = at(report.project->boards, b)->id;
            }
            if (!m_output.empty()) return draw(report, board ? report.project->findBoard(*board) : 0);
            if (asJson())
                print(files::makeDriveJson(report, board));
            else
                std::cout << formatDrive(report, board);
            return 0;
        });
    }

private:
    /// As it stands, in no named pose.
    static study::Wanted onlyDrive() {
        study::Wanted wanted;
        wanted.facts = study::kDrive;
        wanted.inPose = [](const model::NamedPose* named) { return !named; };
        return wanted;
    }
    [[nodiscard]] int draw(const verdict::Report& report, int board) const {
        if (!m_output.ends_with(".svg")) return complain({"output.ending", "the drawing is written as .svg", m_output});
        const print::GuiGuard gui;
        const auto svg = print::makeBoardSvg(*print::makeDriveState(report), board);
        return save(m_output, std::string_view(svg.constData(), static_cast<std::size_t>(svg.size())));
    }

    std::string m_board, m_output;
};

class Ratio : public Verb {
public:
    Ratio() : Verb("ratio", "trains for a wanted ratio; exit 1 when none comes near enough") {}
    void addOptions(CLI::App& sub) override {
        Verb::addOptions(sub);
        sub.add_option("RATIO", m_ratio, "turns out for turns in, such as 1:105 or 0.2; with a minus: reversed")
            ->required();
        sub.add_option("--tolerance", m_tolerance, "percent off, 2 when not given")->check(CLI::Range(0.0, 100.0));
        sub.add_option("--stages", m_stages, "at most so many, 1 to 4");
        sub.add_flag("--worm", m_worm, "must hold without power");
        sub.add_flag("--no-worm", m_noWorm, "without a worm");
        sub.add_flag("--holes", m_holesOnly, "whole holes only, no half pitches or plates");
        sub.add_option("--stock", m_stock, "wheels at hand, such as 8:4,24:2,worm:1");
    }
    [[nodiscard]] int run() const override {
        drive::RatioWish wish;
        const auto ratio = drive::parseRatio(m_ratio);
        if (!ratio) return complain(ratio.error());
        wish.ratio = std::abs(*ratio);
        if (*ratio < 0) wish.reversed = true;
        wish.tolerance = m_tolerance / 100;
        wish.mostStages = m_stages;
        if (m_worm) wish.holds = true;
        if (m_noWorm) wish.holds = false;
        if (m_holesOnly) wish.coarsest = drive::GridStep::Holes;
        if (const auto st = drive::parseStock(m_stock, wish); !st) return complain(st.error());
        if (m_worm) wish.worms = std::max(wish.worms, 1);
        const auto found = drive::searchRatios(wish);
        if (!found) return complain(found.error());
        if (asJson())
            print(files::makeRatioJson(wish, *found));
        else
            std::cout << formatRatios(wish, *found);
        return found->groups.empty() ? 1 : 0;
    }

private:
    std::string m_ratio, m_stock;
    double m_tolerance = 2; ///< percent
    int m_stages = 4;
    bool m_worm = false, m_noWorm = false, m_holesOnly = false;
};

class Meshes : public Verb {
public:
    Meshes() : Verb("meshes", "where two wheels mesh; with --at, which wheels mesh at an offset") {}
    void addOptions(CLI::App& sub) override {
        Verb::addOptions(sub);
        sub.add_option("TWO", m_two, "two tooth counts, or two lengths such as 3s 1p")->required();
        sub.add_flag("--at", m_atOffset, "the two are an offset");
    }
    [[nodiscard]] int run() const override {
        std::vector<double> numbers;
        for (const std::string& text : m_two) {
            const auto value = m_atOffset ? base::parseLengthMm(text, 1) : base::parseNumber(text);
            if (!value) return complain(value.error());
            numbers.push_back(*value);
        }
        if (numbers.size() != 2)
            return complain({"meshes.what", "two tooth counts, or with --at two lengths, are expected", ""});
        if (m_atOffset) {
            const std::int64_t dx = base::mmToUm(numbers[0]), dy = base::mmToUm(numbers[1]);
            print(files::makePairsJson(dx, dy, drive::listPairs(dx, dy, drive::getSpurTeeth())));
            return 0;
        }
        for (double teeth : numbers)
            if (!(teeth >= 4 && teeth <= 200 && teeth == std::floor(teeth)))
                return complain({"gear.teeth", "whole tooth counts from 4 to 200 are expected", ""});
        const int a = static_cast<int>(numbers[0]), b = static_cast<int>(numbers[1]);
        print(files::makeFitsJson(a, b, drive::listFits(drive::calcOutsideMm(a, b))));
        return 0;
    }

private:
    std::vector<std::string> m_two;
    bool m_atOffset = false;
};

} // namespace

void addDriveVerbs(Verbs& verbs) {
    verbs.push_back(std::make_unique<Drive>());
    verbs.push_back(std::make_unique<Ratio>());
    verbs.push_back(std::make_unique<Meshes>());
}

} // namespace ivrant::cli
