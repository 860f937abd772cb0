// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/drive/board_walls.h"

#include <algorithm>
#include <cmath>
#include <set>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/bonds/section_bonds.h"
#include "core/drive/plane_parts.h"
#include "core/drive/wall_plan.h"
#include "core/model/wheel_size.h"

namespace ivrant::drive {

using base::Error;
using base::kPitchMm;

int orderDrive(const model::Section& section, const std::set<std::string>& shafts, int step, WallsPlan& plan) {
    std::set<int> drive;
    for (std::size_t p = 0; p < section.parts.size(); ++p) {
        if (shafts.count(section.parts[p].id.text) == 0) continue;
        drive.insert(static_cast<int>(p));
        for (const Taken& taken : listTaken(section, static_cast<int>(p)))
            if (!taken.wall) drive.insert(taken.part);
    }
    std::vector<int> order(drive.begin(), drive.end());
    std::stable_sort(order.begin(), order.end(),
                     [&](int a, int b) { return at(section.parts, a).step < at(section.parts, b).step; });
    std::set<int> steps;
    for (const int part : order) {
        plan.drive.push_back(at(section.parts, part).id);
        steps.insert(at(section.parts, part).step);
    }
    plan.driveStep = step;
    int last = 0; // of anything that is there
    for (const model::Part& part : section.parts) last = std::max(last, part.step);
    return std::max(step + static_cast<int>(steps.size()), last + 1);
}

double calcOffGrid(double x, double origin, double step) {
    const double off = std::fmod(std::fmod(x - origin, step) + step, step);
    return off > step - kFitMm ? off - step : off;
}

void leaveOutWhatIsInTheWay(const model::Section& section, WallsPlan& plan) {
    model::Section trial = section;
    for (const LongerAxle& axle : plan.longer)
        for (model::Part& part : trial.parts) {
            if (part.id != axle.id) continue;
            part.shape = axle.shape;
            part.place = model::makePlace(Eigen::Translation3d(axle.by) * part.place.frame());
        }
    const int own = static_cast<int>(trial.parts.size());
    for (std::size_t p = 0; p < plan.parts.size(); ++p) {
        model::Part part;
        part.id.text = "new " + std::to_string(p);
        part.shape = plan.parts[p].shape;
        part.place = plan.parts[p].place;
        trial.parts.push_back(std::move(part));
    }
    std::set<int> out;
    std::set<std::string> inWay;
    for (const bonds::Overlap& overlap : bonds::calcSectionBonds(trial, {}).overlaps) {
        const int newer = std::max(overlap.partA, overlap.partB), older = std::min(overlap.partA, overlap.partB);
        if (newer < own) continue;
        out.insert(newer - own);
        if (older < own) inWay.insert(at(trial.parts, older).shape->name);
    }
    if (out.empty()) return;
    std::string names;
    for (const std::string& name : inWay) names += (names.empty() ? "" : ", ") + name;
    plan.notes.push_back(std::to_string(out.size()) + (out.size() == 1 ? " brick" : " bricks") +
                         " left out where something is in the way" + (names.empty() ? "" : ": " + names));
    std::vector<model::NewPart> kept;
    for (std::size_t p = 0; p < plan.parts.size(); ++p)
        if (out.count(static_cast<int>(p)) == 0) kept.push_back(std::move(plan.parts[p]));
    plan.parts = std::move(kept);
}

std::vector<std::int64_t> chooseWallHeights(const model::Project& project, const model::Board& board) {
    if (!board.wallsUm.empty()) return board.wallsUm;
    const PlaneParts seen = listPlaneParts(project, board);
    std::int64_t low = 0, high = 0;
    bool any = false;
    for (const model::Gear& gear : seen.gears) {
        const model::Shaft* shaft = seen.findShaft(gear.shaft.text);
        if (!shaft || shaft->axis != model::BoardAxis::Out) continue;
        const std::int64_t middle = shaft->atUm[2] + gear.alongUm;
        const std::int64_t half = base::mmToUm(std::max(
            kPitchMm / 2, std::ceil(model::calcWheelSize(gear.kind, gear.teeth).halfWidthMm / kPitchMm * 2) * 4));
        low = any ? std::min(low, middle - half) : middle - half;
        high = any ? std::max(high, middle + half) : middle + half;
        any = true;
    }
    if (!any) return {-base::kPitchUm, base::kPitchUm};
    return {low - base::kPitchUm / 2, high + base::kPitchUm / 2};
}

model::EditResult addWalls(const model::Project& project, const model::Board& board, const WallsPlan& plan) {
    auto built = model::addParts(project, board.section, plan.parts);
    for (const LongerAxle& axle : plan.longer) {
        if (!built) return built;
        built = model::exchangeShape(*built, {&axle.id, 1}, axle.shape);
        if (!built) return built;
        built = model::moveParts(*built, {&axle.id, 1}, geometry::makeFrame(geometry::Mat3::Identity(), axle.by));
    }
    if (!built) return built;
    const model::PartIndex index(*built);
    int step = plan.driveStep, before = 0;
    for (std::size_t d = 0; d < plan.drive.size(); ++d) {
        const int now = model::getPart(*built, index.find(plan.drive[d])).step;
        if (d > 0 && now > before) ++step;
        before = now;
        if (now >= plan.driveStep && now >= step) {
            step = now;
            continue;
        }
        built = model::setStep(*built, {&plan.drive[d], 1}, step);
        if (!built) return built;
    }
    return built;
}

base::Result<WallsPlan> planWalls(const model::Project& project, const model::Board& board, const WallsWish& wish) {
    if (board.section.empty() || project.findSection(board.section) < 0)
        return Error{"walls.section", "this board belongs to no section yet: type a shaft or a wheel first",
                     board.id.text};
    const double up = board.place.frame().linear()(2, 2); // of its way out
    if (std::abs(up) > 1 - kFitMm) return planFlatWalls(project, board, wish);
    if (std::abs(up) > kFitMm)
        return Error{"walls.flat", "walls are built round boards that stand upright or lie flat in their section",
                     board.id.text};
    return planUprightWalls(project, board, wish);
}

} // namespace ivrant::drive
