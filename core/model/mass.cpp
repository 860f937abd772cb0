#include "core/model/mass.h"

#include "core/base/units.h"
#include "core/model/board_parts.h"

namespace ivrant::model {

MassPoint calcMass(const Placed& placed, const std::vector<int>& sections) {
    MassPoint sum;
    const auto add = [&](double gram, const geometry::Vec3& at) {
        sum.massG += gram;
        sum.centre += gram * at;
    };
    const auto boardPoses = placed.project->boards.empty() ? std::vector<geometry::Pose>{} : calcBoardPoses(placed);
    const auto addSection = [&](std::size_t s) {
        const Section& section = *placed.project->sections[s];
        for (const Part& part : section.parts) add(part.massG(), placed.X_WS[s] * (part.place.pose() * part.shape->centre));
        for (const Ballast& b : section.ballast)
            add(b.massG, placed.X_WS[s] * geometry::Vec3(base::umToMm(b.atUm[0]), base::umToMm(b.atUm[1]), base::umToMm(b.atUm[2])));
        for (std::size_t b = 0; b < boardPoses.size(); ++b) {
            const Board& board = *placed.project->boards[b];
            if (board.section != section.id) continue;
            const geometry::Pose& X_WB = boardPoses[b];
            const BoardParts listed = listBoardParts(board);
            for (const BoardPart& part : listed.parts) add(part.shape->massG, X_WB * (part.X_BP * part.shape->centre));
            for (const BoardExtra& extra : listed.extras) add(extra.shape->massG * extra.count, X_WB * extra.at);
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
