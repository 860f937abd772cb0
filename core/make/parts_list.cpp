// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/make/parts_list.h"

#include "core/model/board_parts.h"
#include "core/parts/family.h"

namespace ivrant::make {
std::vector<PartsLine> listParts(const model::Project& project) {
    struct Sum {
        int count = 0;
        double massG = 0;
        bool weighed = true;
    };
    std::map<const parts::Shape*, std::string> names;
    std::map<std::pair<std::string, int>, Sum> sums;
    for (const auto& board : project.boards)
        for (const auto& [shape, count] : model::countShapes(model::listBoardParts(*board))) {
            Sum& sum = sums[{shape, board->colour}];
            sum.count += count;
            sum.massG += count * parts::makeShape(shape).value()->massG;
            sum.weighed = false;
        }
    for (const auto& section : project.sections)
        for (const auto& part : section->parts) {
            auto& name = names[part.shape.get()];
            if (name.empty()) name = parts::getListName(*part.shape);
            Sum& sum = sums[{name, part.colour}];
            ++sum.count;
            sum.massG += part.massG();
            sum.weighed = sum.weighed && part.weighedG.has_value();
        }
    std::vector<PartsLine> lines;
    lines.reserve(sums.size());
    for (const auto& [key, sum] : sums)
        lines.push_back({key.first, key.second, sum.count, sum.massG / sum.count, sum.weighed});
    return lines;
}

std::vector<BallastLine> listBallast(const model::Project& project) {
    std::vector<BallastLine> lines;
    for (const auto& section : project.sections)
        for (const auto& ballast : section->ballast) lines.push_back({section->name, ballast.massG});
    return lines;
}

} // namespace ivrant::make
