// SPDX-License-Identifier: GPL-3.0-or-later
// Parts out of each other's way, usual sizes, loose parts taken away. Part of check_shape.h.
#include <array>
#include <map>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/parts/family.h"
#include "core/parts/usual_sizes.h"
#include "core/verdict/shape/check_shape.h"

namespace ivrant::verdict {

void addClearing(const Report& report, const Verdict& verdict, std::vector<Mend>& mends) {
    const model::PartIndex index(*report.project);
    struct Way {
        const char* text;
        geometry::Vec3 by;
    };
    const double half = base::kPitchMm / 2, plate = base::kPlateMm;
    const std::array<Way, 6> ways{{{" one plate up", {0, 0, plate}},
                                   {" one plate down", {0, 0, -plate}},
                                   {" half a stud to +x", {half, 0, 0}},
                                   {" half a stud to -x", {-half, 0, 0}},
                                   {" half a stud to +y", {0, half, 0}},
                                   {" half a stud to -y", {0, -half, 0}}}};
    for (auto id = verdict.place.parts.rbegin(); id != verdict.place.parts.rend(); ++id) {
        const model::PartSpot spot = index.find(*id);
        if (spot.section < 0) continue;
        const model::Part& part = getPart(*report.project, spot);
        const std::string& name = part.shape->name;
        if (part.shape->family == "plate" || part.shape->family == "round plate") {
            const std::string smooth =
                (part.shape->family == "plate" ? "tile" : "round tile") + name.substr(name.rfind(' '));
            if (const auto tile = parts::makeShape(smooth))
                mends.push_back({std::string("put a ").append(smooth).append(" there instead of the ").append(name),
                                 [ids = std::vector{*id}, shape = *tile](const model::Project& p) {
                                     return model::exchangeShape(p, ids, shape);
                                 }});
        }
        for (const Way& way : ways)
            mends.push_back(
                {"move the " + name + " of " + ivrant::at(report.project->sections, spot.section)->name + way.text,
                 [ids = std::vector{*id}, by = way.by](const model::Project& p) {
                     return model::moveParts(p, ids, geometry::makeFrame(geometry::Mat3::Identity(), by));
                 }});
    }
}

namespace {

/// An unusual size as two parts of usual ones, side by side.
void addUsualSizes(const Report& report, const Verdict& verdict, std::vector<Mend>& mends) {
    if (verdict.place.parts.size() != 1) return;
    const auto spot = model::PartIndex(*report.project).find(verdict.place.parts[0]);
    if (spot.section < 0) return;
    const model::Part& part = getPart(*report.project, spot);
    const auto pieces = parts::splitToUsual(*part.shape);
    if (pieces.empty()) return;
    std::map<std::string, int> counts;
    for (const auto& piece : pieces) ++counts[piece.shape->name];
    std::string text;
    for (const auto& [name, n] : counts) text += (text.empty() ? "" : ", ") + std::to_string(n) + " " + name;
    mends.push_back({"make it of " + text,
                     [id = part.id, section = ivrant::at(report.project->sections, spot.section)->id, pieces,
                      part](const model::Project& p) -> model::EditResult {
                         const std::vector ids{id};
                         auto without = model::removeParts(p, ids);
                         if (!without) return without;
                         std::vector<model::NewPart> added;
                         for (const auto& piece : pieces) {
                             model::NewPart one;
                             one.shape = piece.shape;
                             one.colour = part.colour;
                             one.step = part.step;
                             one.place = part.place;
                             const geometry::Vec3 at = part.place.frame() * piece.at;
                             for (int k = 0; k < 3; ++k) ivrant::at(one.place.atUm, k) = base::mmToUm(at[k]);
                             added.push_back(std::move(one));
                         }
                         return model::addParts(*without, section, added);
                     }});
}

void addRemoval(const Verdict& verdict, std::vector<Mend>& mends) {
    mends.push_back({verdict.place.parts.size() == 1 ? "take the loose part away" : "take the loose parts away",
                     [ids = verdict.place.parts](const model::Project& p) { return model::removeParts(p, ids); }});
}

} // namespace

void proposeShapeMends(const Report& report, const Verdict& verdict, std::vector<Mend>& mends) {
    if (verdict.check == "loose") addRemoval(verdict, mends);
    if (verdict.check == "overlap") addClearing(report, verdict, mends);
    if (verdict.check == "unusual") addUsualSizes(report, verdict, mends);
}

} // namespace ivrant::verdict
