// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/files/sheet_lifts.h"

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/study/packing.h"
#include "core/verdict/make/check_modules.h"

namespace ivrant::files {
namespace {

using base::formatNumber;

std::string sizeOf(const geometry::Vec3& mm) {
    return formatNumber(mm.x(), 0) + " x " + formatNumber(mm.y(), 0) + " x " + formatNumber(mm.z(), 0) + " mm";
}

std::string partName(const model::Project& project, model::PartSpot spot) {
    return model::getPart(project, spot).shape->name + " of " + at(project.sections, spot.section)->name;
}

/// Where to hold, what may come along, how else it could be put on.
std::string listMinds(const model::Project& project, const study::LiftModule& one) {
    std::string text;
    const auto add = [&](const std::string& what) { text += (text.empty() ? "" : "; ") + what; };
    if (one.rest.bonds && *one.rest.bonds < 1)
        add("hold the rest together, parts may come along");
    else if (one.rest.holdThere)
        add("hold the " + partName(project, one.rest.hold));
    if (one.self.bonds && *one.self.bonds < 1) add("grip all of it, parts may stay behind");
    if (!one.alsoGoes.empty() && one.alsoGoes.front().starts_with("turned"))
        add("it also goes on " + one.alsoGoes.front() + ": mind which way round");
    return text;
}

} // namespace

std::vector<SheetLift> listSheetLifts(const verdict::Report& report) {
    std::vector<SheetLift> lifts;
    if (!report.modules) return lifts;
    const model::Project& project = *report.project;
    const auto nameOf = [&](int one) { return at(project.modules.list, one).name; };
    for (const study::LiftModule& one : report.modules->modules) {
        if (!one.lifts) continue;
        SheetLift row{nameOf(one.index), study::describeWayOut(one.way),
                      formatNumber(one.forceN(), 1) + " N" + (one.measured ? "" : " (starting value)"), "",
                      listMinds(project, one)};
        if (one.mustFold) row.first = "fold to " + at(report.poses, one.pose).name;
        for (const int before : one.after) row.first += (row.first.empty() ? "" : ", ") + nameOf(before);
        lifts.push_back(std::move(row));
    }
    for (const study::ReachWay& way : report.modules->reaches) {
        if (!way.found) continue;
        const model::Reach& reach = at(project.modules.reaches, way.index);
        lifts.push_back({reach.name, reach.plug ? "plug it in" : "reach it", "",
                         way.moves == 0 ? "nothing" : verdict::describeMoves(report, way), ""});
    }
    return lifts;
}

SheetPacking makeSheetPacking(const verdict::Report& report) {
    SheetPacking sheet;
    const model::Project& project = *report.project;
    if (project.partCount() == 0) return sheet;
    const study::PackPlan plan = study::planPacking(report);
    const std::size_t count = plan.boxes.size();
    sheet.about = (count == 1 ? "One box" : std::to_string(count) + " boxes") + ", folded to " +
                  at(report.poses, plan.pose).name + ", " + formatNumber(project.making.packing.foamMm, 0) +
                  " mm of foam round each piece. Weights of foam and card, minutes and spares are starting values.";
    for (std::size_t b = 0; b < count; ++b) {
        const study::PackedBox& box = plan.boxes[b];
        std::string pieces;
        for (const int k : box.pieces) {
            const study::PackedPiece& piece = at(plan.pieces, k);
            pieces += (pieces.empty() ? "" : "; ") + piece.name + " (" + sizeOf(piece.size.mm) + ", " +
                      formatNumber(piece.massG, 0) + " g" + (piece.fits ? "" : ", too large for the largest box") + ")";
        }
        sheet.boxes.emplace_back("Box " + std::to_string(b + 1) + ", inside " + sizeOf(box.insideMm) + ", " +
                                     formatNumber(box.massG / 1000, 2) + " kg",
                                 pieces);
    }
    for (const study::PutUpStep& step : plan.putUp)
        sheet.putUp.emplace_back(step.text, formatNumber(step.minutes, 1) + " min");
    for (const study::BringLine& line : plan.bring)
        sheet.bring.emplace_back(std::to_string(line.count) + " " + line.what, line.why);
    return sheet;
}

} // namespace ivrant::files
