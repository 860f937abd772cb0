// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/model/mass.h"

#include "core/base/units.h"
#include "core/model/board_parts.h"
#include "core/model/section_body.h"

namespace ivrant::model {

MassPoint calcMass(const Placed& placed, const std::vector<int>& sections) {
    MassPoint sum;
    const auto add = [&](double gram, const geometry::Vec3& at) {
        sum.massG += gram;
        sum.centre += gram * at;
    };
    const auto boardFrames = placed.project->boards.empty() ? std::vector<geometry::Frame>{} : calcBoardFrames(placed);
    const auto addSection = [&](std::size_t s) {
        const auto body = getSectionBody(placed.project->sections[s]);
        add(body->massG, placed.X_WS[s] * body->centre);
        for (std::size_t b = 0; b < boardFrames.size(); ++b) {
            const BoardPtr& board = placed.project->boards[b];
            if (board->section != placed.project->sections[s]->id) continue;
            const geometry::Frame& X_WB = boardFrames[b];
            const auto listed = getBoardParts(board);
            for (const BoardPart& part : listed->parts) add(part.shape->massG, X_WB * (part.X_BP * part.shape->centre));
            for (const BoardExtra& extra : listed->extras) add(extra.shape->massG * extra.count, X_WB * extra.at);
        }
    };
    if (sections.empty())
        for (std::size_t s = 0; s < placed.project->sections.size(); ++s) addSection(s);
    else
        for (int s : sections) addSection(static_cast<std::size_t>(s));
    if (sum.massG > 0) sum.centre /= sum.massG;
    return sum;
}

} // namespace ivrant::model
