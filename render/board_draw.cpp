#include "render/board_draw.h"

#include <map>
#include <mutex>

#include "core/model/board_parts.h"

namespace ivrant::render {
namespace {

struct Known {
    std::weak_ptr<const model::Board> board;
    model::SectionPtr section;
    bonds::SectionBondsPtr bonds;
};

Known makeKnown(const model::BoardPtr& board) {
    auto section = std::make_shared<model::Section>();
    for (const auto& part : model::listBoardParts(*board).parts) {
        section->parts.push_back({{part.id}, part.shape, board->colour, model::makePlace(part.X_BP), 1, {}, nullptr});
    }
    auto bonds = std::make_shared<bonds::SectionBonds>();
    bonds->coveredStuds.resize(section->parts.size());
    return {board, std::move(section), std::move(bonds)};
}

/// The same board gives the same section, so that its mesh is made once.
Known findKnown(const model::BoardPtr& board) {
    static std::mutex mutex;
    static std::map<const model::Board*, Known> known;
    const std::lock_guard lock(mutex);
    const auto found = known.find(board.get());
    if (found != known.end() && found->second.board.lock() == board) return found->second;
    std::erase_if(known, [](const auto& entry) { return entry.second.board.expired(); });
    return known[board.get()] = makeKnown(board);
}

} // namespace

std::vector<BoardDraw> makeBoardDraws(const model::Placed& placed) {
    std::vector<BoardDraw> draws;
    const auto poses = model::calcBoardPoses(placed);
    for (std::size_t b = 0; b < placed.project->boards.size(); ++b) {
        const Known known = findKnown(placed.project->boards[b]);
        if (known.section->parts.empty()) continue;
        BoardDraw drawn{static_cast<int>(b), {known.section, known.bonds, poses[b], {}}};
        drawn.draw.states.assign(known.section->parts.size(), makeState(placed.project->boards[b]->colour));
        draws.push_back(std::move(drawn));
    }
    return draws;
}

} // namespace ivrant::render
