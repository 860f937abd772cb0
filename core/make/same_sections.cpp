// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/make/same_sections.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <set>
#include <string>
#include <tuple>

#include "core/base/at.h"
#include "core/parts/body_box.h"
#include "core/parts/family.h"

namespace ivrant::make {
namespace {

using geometry::Vec3;

/// In hundredths of a millimetre, from the section's least corner.
using Numbers = std::array<long, 9>;
using Item = std::tuple<std::string, int, int, Numbers>; // shape, colour, rank of its step, where
using Signature = std::vector<Item>;

struct Placed {
    std::string shape;
    int colour = 0, step = 0;
    geometry::Bounds box;
    Vec3 centre;
};

std::vector<Placed> listPlaced(const model::Section& section) {
    std::map<int, int> ranks;
    for (const model::Part& part : section.parts) ranks.emplace(part.step, 0);
    int rank = 0;
    for (auto& [step, number] : ranks) number = rank++;
    std::vector<Placed> list;
    for (const model::Part& part : section.parts) {
        const geometry::Frame X = part.place.frame();
        list.push_back({parts::getListName(*part.shape), part.colour, ranks[part.step],
                        parts::calcBodyBox(*part.shape, X), X * part.shape->centre});
    }
    return list;
}

Signature sign(const std::vector<Placed>& parts, const geometry::Mat3& R, bool steps) {
    std::vector<std::pair<geometry::Bounds, Vec3>> turned;
    geometry::Bounds all;
    for (const Placed& part : parts) {
        geometry::Bounds box;
        box.include(R * part.box.low);
        box.include(R * part.box.high);
        all.include(box);
        turned.emplace_back(box, R * part.centre);
    }
    Signature signature;
    for (std::size_t p = 0; p < parts.size(); ++p) {
        Numbers numbers{};
        for (int k = 0; k < 3; ++k) {
            const auto i = static_cast<std::size_t>(k);
            numbers[i] = std::lround(100 * (turned[p].first.low[k] - all.low[k]));
            numbers[i + 3] = std::lround(100 * (turned[p].first.high[k] - all.low[k]));
            numbers[i + 6] = std::lround(100 * (turned[p].second[k] - all.low[k]));
        }
        signature.emplace_back(parts[p].shape, parts[p].colour, steps ? parts[p].step : 0, numbers);
    }
    std::sort(signature.begin(), signature.end());
    return signature;
}

/// The least over all turns; of the mirror image with `mirrored`.
Signature signLeast(const std::vector<Placed>& parts, bool mirrored, bool steps) {
    geometry::Mat3 flip = geometry::Mat3::Identity();
    if (mirrored) flip(0, 0) = -1;
    Signature least;
    for (int turn = 0; turn < 24; ++turn) {
        Signature signature = sign(parts, geometry::getTurn(turn) * flip, steps);
        if (turn == 0 || signature < least) least = std::move(signature);
    }
    return least;
}

} // namespace

LikeSections findLikeSections(const model::Project& project) {
    LikeSections like;
    std::set<std::string> withBoards;
    for (const auto& board : project.boards)
        if (!board->shafts.empty() || !board->gears.empty()) withBoards.insert(board->section.text);
    std::map<Signature, int> known, shapes; // with steps; without
    for (std::size_t s = 0; s < project.sections.size(); ++s) {
        const int own = static_cast<int>(s);
        like.same.push_back(own);
        like.mirror.push_back(-1);
        const model::Section& section = *project.sections[s];
        const bool waits = std::any_of(section.parts.begin(), section.parts.end(),
                                       [](const model::Part& part) { return !part.after.empty(); });
        if (section.parts.empty() || waits || !section.ballast.empty() || withBoards.count(section.id.text) > 0)
            continue;
        const auto parts = listPlaced(section);
        if (const auto [first, fresh] = known.try_emplace(signLeast(parts, false, true), own); !fresh) {
            like.same.back() = first->second;
            continue;
        }
        const Signature plain = signLeast(parts, false, false), mirrored = signLeast(parts, true, false);
        if (const auto found = shapes.find(mirrored); found != shapes.end() && plain != mirrored)
            like.mirror.back() = found->second;
        shapes.emplace(plain, own);
    }
    return like;
}

} // namespace ivrant::make
