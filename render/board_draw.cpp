// SPDX-License-Identifier: GPL-3.0-or-later
#include "render/board_draw.h"

#include "core/base/memo.h"
#include "core/model/board_parts.h"

namespace ivrant::render {
namespace {

struct Drawn {
    model::SectionPtr section;
    bonds::SectionBondsPtr bonds;
};

/// The same board gives the same section, so that its mesh is made once.
std::shared_ptr<const Drawn> getDrawn(const model::BoardPtr& board) {
    static base::Memo<model::Board, Drawn> memo;
    return memo.get(board, [](const model::Board& of) {
        auto section = std::make_shared<model::Section>();
        for (const auto& part : model::listBoardParts(of).parts)
            section->parts.push_back({{part.id}, part.shape, of.colour, model::makePlace(part.X_BP), 1, {}, nullptr});
        auto bonds = std::make_shared<bonds::SectionBonds>();
        bonds->coveredStuds.resize(section->parts.size());
        return Drawn{std::move(section), std::move(bonds)};
    });
}

} // namespace

std::vector<BoardDraw> makeBoardDraws(const model::Placed& placed) {
    std::vector<BoardDraw> draws;
    const auto poses = model::calcBoardFrames(placed);
    for (std::size_t b = 0; b < placed.project->boards.size(); ++b) {
        const auto drawnOf = getDrawn(placed.project->boards[b]);
        if (drawnOf->section->parts.empty()) continue;
        BoardDraw drawn{static_cast<int>(b), {drawnOf->section, drawnOf->bonds, poses[b], {}}};
        drawn.draw.states.assign(drawnOf->section->parts.size(), makeState(placed.project->boards[b]->colour));
        draws.push_back(std::move(drawn));
    }
    return draws;
}

} // namespace ivrant::render
