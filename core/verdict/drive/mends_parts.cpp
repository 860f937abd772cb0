// SPDX-License-Identifier: GPL-3.0-or-later
// What would mend a verdict on a drive of parts? Walls round its board, connectors between shafts that end at each
// other, bushes that keep a shaft in its holes. Each is tried on the whole model before it is offered.
#include <algorithm>
#include <cmath>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/drive/board_line.h"
#include "core/drive/board_walls.h"
#include "core/drive/plane_parts.h"
#include "core/parts/family.h"
#include "core/verdict/drive/check_drive.h"

namespace ivrant::verdict {
namespace {

/// Bricks round the board whose section the shaft or motor is a part of.
void addWallsRound(const Report& report, const Verdict& verdict, std::vector<Mend>& mends) {
    const model::PartSpot spot = model::PartIndex(*report.project).find({verdict.place.things[0]});
    if (spot.section < 0) return;
    for (const auto& board : report.project->boards) {
        if (board->section != at(report.project->sections, spot.section)->id) continue;
        drive::WallsWish wish;
        wish.heightsUm = drive::chooseWallHeights(*report.project, *board);
        wish.seats = true;
        const auto plan = drive::planWalls(*report.project, *board, wish);
        if (!plan || plan->parts.empty()) continue;
        mends.push_back({"build walls round " + board->name + ": " + std::to_string(plan->parts.size()) + " parts",
                         [id = board->id, wish](const model::Project& p) -> model::EditResult {
                             const int index = p.findBoard(id);
                             if (index < 0) return base::Error{"edit.missing", "the board is gone", id.text};
                             const auto now = drive::planWalls(p, *at(p.boards, index), wish);
                             if (!now) return now.error();
                             return drive::addWalls(p, *at(p.boards, index), *now);
                         }});
    }
}

/// Shafts in one line that end at each other and do not turn as one, joined.
void addConnectors(const Report& report, std::vector<Mend>& mends) {
    const auto line = drive::parseBoardLine("couple");
    for (const auto& board : report.project->boards) {
        const auto seen = drive::listPlaneParts(*report.project, *board);
        for (std::size_t a = 0; a < seen.shafts.size(); ++a)
            for (std::size_t b = 0; b < a; ++b) {
                const model::Shaft &first = seen.shafts[b], &second = seen.shafts[a];
                if (!drive::isEndToEnd(first, second)) continue;
                const int one = report.drive->net.findRotor(first.id.text);
                if (one >= 0 && one == report.drive->net.findRotor(second.id.text)) continue;
                drive::BoardHand hand;
                hand.board = board->id;
                hand.chosen = {first.id.text, second.id.text};
                if (!drive::applyBoardLine(*report.project, hand, *line)) continue;
                const auto name = [](const model::Shaft& shaft) {
                    return shaft.name.empty() ? shaft.id.text : shaft.name;
                };
                mends.push_back({"join " + name(first) + " and " + name(second) + " with a straight connector",
                                 [hand, line = *line](const model::Project& p) -> model::EditResult {
                                     auto joined = drive::applyBoardLine(p, hand, line);
                                     if (!joined) return joined.error();
                                     return joined->project;
                                 }});
            }
    }
}

/// A bush against a wall, and one against both of its sides.
void addBushes(const Report& report, const Verdict& verdict, std::vector<Mend>& mends) {
    const model::PartSpot spot = model::PartIndex(*report.project).find({verdict.place.things[0]});
    if (spot.section < 0) return;
    const model::Section& section = *at(report.project->sections, spot.section);
    const model::Part& axle = at(section.parts, spot.part);
    const double length = axle.shape->bounds.high.x();
    const auto taken = drive::listTaken(section, spot.part);
    struct Bush {
        parts::ShapePtr shape;
        double along;
    };
    const auto findBush = [&](double face, double way) -> std::optional<Bush> {
        for (const char* name : {"bush 10", "bush 5"}) {
            const auto shape = parts::makeShape(name);
            const double half = base::kPitchMm * (std::string(name) == "bush 10" ? 0.5 : 0.25);
            const double low = std::min(face, face + way * 2 * half), high = std::max(face, face + way * 2 * half);
            constexpr double kSlackMm = 0.2;
            if (low < -kSlackMm || high > length + kSlackMm) continue;
            if (std::none_of(taken.begin(), taken.end(), [&](const drive::Taken& t) {
                    return t.lowMm < high - kSlackMm && t.highMm > low + kSlackMm;
                }))
                return Bush{*shape, face + way * half};
        }
        return std::nullopt;
    };
    const auto offer = [&](const std::string& text, const std::vector<Bush>& bushes) {
        mends.push_back({text, [section = section.id, axle = axle.place.frame(), colour = axle.colour, step = axle.step,
                                bushes](const model::Project& p) {
                             std::vector<model::NewPart> added;
                             for (const Bush& bush : bushes) {
                                 model::NewPart part;
                                 part.shape = bush.shape;
                                 part.colour = colour;
                                 part.step = step;
                                 part.place = model::makePlace(
                                     axle * geometry::makeFrame(geometry::Mat3::Identity(), {bush.along, 0, 0}));
                                 added.push_back(std::move(part));
                             }
                             return model::addParts(p, section, added);
                         }});
    };
    for (const drive::Taken& wall : taken) {
        if (!wall.wall) continue;
        const auto before = findBush(wall.lowMm, -1), after = findBush(wall.highMm, 1);
        const std::string where = " against the wall " + base::formatNumber(wall.lowMm, 0) + " mm from its start";
        if (before && after) offer("put bushes" + where + ", one on each side", {*before, *after});
        if (before) offer("put a bush" + where, {*before});
        if (after) offer("put a bush" + where + ", behind it", {*after});
    }
}

} // namespace

void proposeDriveParts(const Report& report, const Verdict& verdict, std::vector<Mend>& mends) {
    if (verdict.check == "shaft-carried" || verdict.check == "motor-seat") addWallsRound(report, verdict, mends);
    if (verdict.check == "reached") addConnectors(report, mends);
    if (verdict.check == "shaft-slides") addBushes(report, verdict, mends);
}

} // namespace ivrant::verdict
