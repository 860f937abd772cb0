// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/make/stand_ins.h"

#include <algorithm>
#include <charconv>
#include <set>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/parts/family.h"
#include "core/parts/palette.h"

namespace ivrant::make {
namespace {

constexpr int kPlatesABrick = 3;

/// "plate 2x4" → {"plate", 2, 4}; nothing for names without a size of that form.
struct Named {
    std::string family;
    int a = 0, b = 0;
};
std::optional<Named> readName(const parts::Shape& shape) {
    Named named{shape.family, 0, 0};
    if (!shape.name.starts_with(shape.family + " ")) return {};
    const std::string size = shape.name.substr(shape.family.size() + 1);
    const char *from = size.data(), *end = size.data() + size.size();
    const auto first = std::from_chars(from, end, named.a);
    if (first.ec != std::errc() || first.ptr == end || *first.ptr != 'x') return {};
    const auto second = std::from_chars(first.ptr + 1, end, named.b);
    if (second.ec != std::errc() || second.ptr != end) return {};
    return named;
}

std::string makeName(const std::string& family, int a, int b) {
    return family + " " + std::to_string(a) + "x" + std::to_string(b);
}

/// A piece with where it lies in the frame of the part it stands in for.
struct Piece {
    parts::ShapePtr shape;
    geometry::Vec3 at = geometry::Vec3::Zero();
};
struct Recipe {
    std::vector<Piece> pieces; ///< all of one shape
    std::string how;           ///< "stacked", "in line"
};

void addRecipe(std::vector<Recipe>& recipes, const std::string& name, const std::vector<geometry::Vec3>& places,
               const char* how) {
    const auto shape = parts::makeShape(name);
    if (!shape) return;
    Recipe recipe{{}, how};
    for (const geometry::Vec3& place : places) recipe.pieces.push_back({*shape, place});
    recipes.push_back(std::move(recipe));
}

std::vector<Recipe> listRecipes(const parts::Shape& shape) {
    std::vector<Recipe> recipes;
    const auto named = readName(shape);
    if (!named) return recipes;
    const auto& [family, a, b] = *named;
    // So many of one shape, each a step further.
    const auto add = [&](const std::string& name, int count, const geometry::Vec3& step, const char* how) {
        std::vector<geometry::Vec3> places(static_cast<std::size_t>(count));
        for (int k = 0; k < count; ++k) at(places, k) = k * step;
        addRecipe(recipes, name, places, how);
    };
    if (family == "brick") add(makeName("plate", a, b), kPlatesABrick, {0, 0, base::kPlateMm}, "stacked");
    if (family != "brick" && family != "plate" && family != "tile") return recipes;
    for (int pieces = 2; pieces <= 3; ++pieces) {
        const int alongA = a / pieces, alongB = b / pieces;
        if (b >= a && alongB * pieces == b)
            add(makeName(family, a, alongB), pieces, {0, alongB * base::kPitchMm, 0}, "in line");
        if (a > b && alongA * pieces == a)
            add(makeName(family, alongA, b), pieces, {alongA * base::kPitchMm, 0, 0}, "in line");
    }
    return recipes;
}

std::set<model::PartId> listJointed(const model::Project& project) {
    std::set<model::PartId> ids;
    for (const model::Joint& joint : project.joints) ids.insert({joint.from.part, joint.to.part});
    return ids;
}

} // namespace

namespace {
std::vector<model::PartSpot> listAlike(const model::Project& project, const model::SectionTree& tree,
                                       const TideLine& line, bool jointedToo) {
    const auto jointed = listJointed(project);
    std::vector<model::PartSpot> free, held;
    for (const Step& step : listSteps(project, tree)) {
        if (step.section < 0) continue;
        for (const int p : step.added) {
            const model::Part& part = at(at(project.sections, step.section)->parts, p);
            if (part.colour != line.colour || parts::getListName(*part.shape) != line.shape) continue;
            (jointed.count(part.id) > 0 || !part.name.empty() ? held : free).push_back({step.section, p});
        }
    }
    if (!jointedToo) return free;
    held.insert(held.end(), free.begin(), free.end());
    return held;
}
} // namespace

std::vector<model::PartSpot> listLacking(const model::Project& project, const model::SectionTree& tree,
                                         const TideLine& line) {
    const auto all = listAlike(project, tree, line, true);
    const auto count = std::min(all.size(), static_cast<std::size_t>(line.missing()));
    return {all.end() - static_cast<std::ptrdiff_t>(count), all.end()};
}

std::vector<model::PartSpot> listFree(const model::Project& project, const model::SectionTree& tree,
                                      const TideLine& line) {
    return listAlike(project, tree, line, false);
}

std::vector<StandInCandidate> listStandIns(const model::Project& project, const TideLine& line,
                                           const std::vector<model::PartSpot>& spots) {
    std::vector<StandInCandidate> candidates;
    if (spots.empty()) return candidates;
    // One recipe for each way the shape is turned in the name: "plate 2x4" and "plate 4x2" are told apart by the part.
    std::map<std::string, std::vector<Recipe>> recipes;
    for (const model::PartSpot spot : spots) {
        const parts::Shape& shape = *model::getPart(project, spot).shape;
        if (recipes.count(shape.name) == 0) recipes[shape.name] = listRecipes(shape);
    }
    const std::size_t kinds = recipes.begin()->second.size();
    for (std::size_t k = 0; k < kinds; ++k) {
        StandInCandidate candidate;
        bool all = true;
        for (const model::PartSpot spot : spots) {
            const model::Section& section = *at(project.sections, spot.section);
            const model::Part& part = at(section.parts, spot.part);
            const auto& own = recipes[part.shape->name];
            if (k >= own.size()) {
                all = false;
                break;
            }
            Replacement replacement{section.id, part.id, {}};
            for (const Piece& piece : own[k].pieces) {
                geometry::Frame X = part.place.frame();
                X.translate(piece.at);
                replacement.parts.push_back({piece.shape, part.colour, model::makePlace(X), part.step});
            }
            candidate.standIn = {parts::getListName(*own[k].pieces.front().shape), part.colour,
                                 static_cast<int>(own[k].pieces.size()), 1};
            candidate.text = std::to_string(own[k].pieces.size()) + " " + candidate.standIn.shape + " " + own[k].how +
                             " for " + (line.missing() == 1 ? "the" : "each") + " " + line.shape;
            candidate.replacements.push_back(std::move(replacement));
        }
        if (all) candidates.push_back(std::move(candidate));
    }
    return candidates;
}

std::optional<StandInCandidate> findOtherColour(const model::Project& project, const TideLine& line,
                                                const std::vector<model::PartSpot>& unseen) {
    std::vector<model::PartSpot> spots;
    for (const model::PartSpot spot : unseen) {
        const model::Part& part = model::getPart(project, spot);
        if (part.colour == line.colour && parts::getListName(*part.shape) == line.shape) spots.push_back(spot);
    }
    if (static_cast<int>(spots.size()) < line.missing() || !project.supplies) return {};
    spots.resize(static_cast<std::size_t>(line.missing()));
    std::map<int, int> left; ///< by colour
    for (const auto& stock : project.supplies->stocks)
        for (const model::StockLine& held : stock->lines)
            if (held.isKnown && held.shape == line.shape && held.colour != line.colour &&
                (held.keptFor.empty() || held.keptFor == project.name))
                left[held.colour] += held.count;
    for (const auto& section : project.sections)
        for (const model::Part& part : section->parts)
            if (left.count(part.colour) > 0 && parts::getListName(*part.shape) == line.shape) --left[part.colour];
    const auto most =
        std::max_element(left.begin(), left.end(), [](const auto& l, const auto& r) { return l.second < r.second; });
    if (most == left.end() || most->second < line.missing()) return {};
    StandInCandidate candidate;
    candidate.standIn = {line.shape, most->first, 1, 1};
    candidate.text = line.shape + " in " + parts::getColourName(most->first) + " where nobody sees " +
                     (line.missing() == 1 ? "it" : "them");
    for (const model::PartSpot spot : spots) {
        const model::Section& section = *at(project.sections, spot.section);
        const model::Part& part = at(section.parts, spot.part);
        candidate.replacements.push_back({section.id, part.id, {{part.shape, most->first, part.place, part.step}}});
    }
    return candidate;
}

model::EditResult replaceParts(const model::Project& project, const std::vector<Replacement>& replacements) {
    std::map<model::SectionId, std::vector<model::NewPart>> added;
    std::vector<model::PartId> gone;
    model::Project next = project;
    std::map<int, std::vector<model::PartId>> recoloured;
    for (const Replacement& replacement : replacements) {
        const auto spot = model::PartIndex(next).find(replacement.part);
        if (spot.section < 0)
            return base::Error{"edit.missing", "a part to be replaced is gone", replacement.part.text};
        // The same shape in the same place stays the same part.
        if (replacement.parts.size() == 1 && replacement.parts[0].shape == model::getPart(next, spot).shape) {
            recoloured[replacement.parts[0].colour].push_back(replacement.part);
            continue;
        }
        gone.push_back(replacement.part);
        auto& list = added[replacement.section];
        list.insert(list.end(), replacement.parts.begin(), replacement.parts.end());
    }
    for (const auto& [colour, ids] : recoloured) {
        auto changed = model::recolourParts(next, ids, colour);
        if (!changed) return changed;
        next = std::move(changed).value();
    }
    for (const auto& [section, list] : added) {
        auto changed = model::addParts(next, section, list);
        if (!changed) return changed;
        next = std::move(changed).value();
    }
    return gone.empty() ? model::EditResult(next) : model::removeParts(next, gone);
}

} // namespace ivrant::make
