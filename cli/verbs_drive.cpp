// Gear boards, trains for a ratio, what meshes where.
#include "cli/common.h"
#include "core/base/units.h"
#include "core/drive/ratio_text.h"
#include "core/files/atomic_file.h"
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

int drawBoard(const Request& request, const verdict::Report& report, int board) {
    if (!request.output.ends_with(".svg")) return complain({"output.ending", "the drawing is written as .svg", request.output});
    const print::GuiGuard gui;
    const auto svg = print::makeBoardSvg(*print::makeDriveState(report), board);
    const auto saved = files::writeFileAtomically(request.output, std::string_view(svg.constData(), static_cast<std::size_t>(svg.size())));
    return saved ? 0 : complain(saved.error());
}

} // namespace

int runDrive(const Request& request) {
    return withReport(request, inRequestedPose(request, study::kDrive), [&](const verdict::Report& report) {
        if (!report.drive) return complain({"drive.none", "this project has no gear board", ""});
        std::optional<model::BoardId> board;
        if (!request.board.empty()) {
            const int b = findBoard(*report.project, request.board);
            if (b < 0) return complain(unknown("board", request.board));
            board = report.project->boards[static_cast<std::size_t>(b)]->id;
        }
        if (!request.output.empty()) return drawBoard(request, report, board ? report.project->findBoard(*board) : 0);
        print(request, files::makeDriveJson(report, board));
        return 0;
    });
}

int runRatio(const Request& request) {
    drive::RatioWish wish;
    const auto ratio = drive::parseRatio(request.length);
    if (!ratio) return complain(ratio.error());
    wish.ratio = std::abs(*ratio);
    if (*ratio < 0) wish.reversed = true;
    wish.tolerance = request.tolerance / 100;
    wish.mostStages = request.stages;
    if (request.worm) wish.holds = true;
    if (request.noWorm) wish.holds = false;
    if (request.holesOnly) wish.coarsest = drive::GridStep::Holes;
    if (const auto st = drive::parseStock(request.stock, wish); !st) return complain(st.error());
    if (request.worm) wish.worms = std::max(wish.worms, 1);
    const auto found = drive::searchRatios(wish);
    if (!found) return complain(found.error());
    print(request, files::makeRatioJson(wish, *found));
    return found->groups.empty() ? 1 : 0;
}

int runMeshes(const Request& request) {
    std::vector<double> numbers;
    for (const std::string& text : request.pairs) {
        const auto value = request.atOffset ? base::parseLengthMm(text, 1) : base::parseNumber(text);
        if (!value) return complain(value.error());
        numbers.push_back(*value);
    }
    if (numbers.size() != 2) return complain({"meshes.what", "two tooth counts, or with --at two lengths, are expected", ""});
    if (request.atOffset) {
        const std::int64_t dx = base::mmToUm(numbers[0]), dy = base::mmToUm(numbers[1]);
        print(request, files::makePairsJson(dx, dy, drive::listPairs(dx, dy, drive::getSpurTeeth())));
        return 0;
    }
    for (double teeth : numbers)
        if (!(teeth >= 4 && teeth <= 200 && teeth == std::floor(teeth))) return complain({"gear.teeth", "whole tooth counts from 4 to 200 are expected", ""});
    const int a = static_cast<int>(numbers[0]), b = static_cast<int>(numbers[1]);
    print(request, files::makeFitsJson(a, b, drive::listFits(drive::calcOutsideMm(a, b))));
    return 0;
}

} // namespace ivrant::cli
