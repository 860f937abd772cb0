// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/drive_inputs.h"

#include <algorithm>

#include "core/drive/board_reader.h"
#include "core/pose/joint_arm.h"
#include "core/pose/loop_loads.h"
#include "core/pose/stance.h"
#include "core/study/motion.h"
#include "core/study/strands.h"
#include "core/trials/motor_fit.h"
#include "core/trials/strengths.h"

namespace ivrant::study {
namespace {

using model::Quantity;

std::vector<model::MotorRun> collectRuns(const std::vector<model::Series>& list, const std::string& line) {
    std::vector<model::MotorRun> runs;
    for (const model::Series& series : list)
        if (series.quantity == Quantity::Motor && series.kind == line)
            runs.insert(runs.end(), series.runs.begin(), series.runs.end());
    return runs;
}

/// A line needs a fit: too few runs leave the starting value.
void addMeasured(const model::Project& project, const std::string& name, drive::DriveInputs& inputs) {
    const auto known = std::find_if(inputs.measured.begin(), inputs.measured.end(),
                                    [&](const drive::MotorLine& line) { return line.name == name; });
    if (known != inputs.measured.end()) return;
    auto runs = collectRuns(project.measured, name);
    if (runs.empty() && project.workshop) runs = collectRuns(*project.workshop, name);
    const drive::MotorLine* starting = drive::findStartingMotor(name);
    const auto fit = trials::fitMotor(runs, starting ? starting->ratedV : drive::getStartingBattery().voltage);
    if (!fit) return;
    inputs.measured.push_back(
        {name, fit->ratedV, fit->noLoadRpm, fit->stallNmm, fit->noLoadA, fit->stallA, false, true});
    if (fit->openV && !inputs.battery.measured) {
        inputs.battery.voltage = *fit->openV;
        inputs.battery.innerOhm = *fit->innerOhm;
        inputs.battery.measured = true;
    }
}

} // namespace

std::shared_ptr<const drive::LoadCurve> makeLoopLoad(const model::Placed& placed, const model::SectionTree& tree,
                                                     int joint) {
    const model::Project& project = *placed.project;
    if (joint < 0 || at(project.joints, joint).kind->tilts()) return nullptr;
    if (!tree.isInRing(joint) && !isPulledAcross(project, tree, joint)) return nullptr; // one cosine says it
    const auto strengths = trials::calcStrengths(project);
    MotionInputs inputs;
    inputs.project = &project;
    inputs.tree = &tree;
    inputs.placed = &placed;
    inputs.strengths = &strengths;
    inputs.ground = pose::findGround(project, tree, pose::getDefaultStance(project, tree), joint);
    model::Motion motion;
    motion.joint = at(project.joints, joint).id;
    const MotionStudy study = calcMotion(inputs, motion);
    if (study.places.size() < 2) return nullptr;
    auto curve = std::make_shared<drive::LoadCurve>();
    for (const MotionPlace& place : study.places) {
        if (!curve->at.empty() && place.at <= curve->at.back()) continue;
        const bool dead = (&place == &study.places.front() && study.low.by == pose::LoopEnd::Dead) ||
                          (&place == &study.places.back() && study.high.by == pose::LoopEnd::Dead);
        if (dead && study.places.size() > 3) continue; // any friction is too much there
        curve->at.push_back(place.at);
        curve->nmm.push_back(place.gravityNmm);
        curve->rubbing.push_back(place.frictionNmm);
    }
    curve->round = study.allRound;
    return curve->at.size() < 2 ? nullptr : curve;
}

drive::DriveInputs makeDriveInputs(const model::Placed& placed, const model::SectionTree& tree) {
    const model::Project& project = *placed.project;
    drive::DriveInputs inputs;
    for (const auto& section : project.sections)
        for (const model::Part& part : section->parts)
            if (drive::findStartingMotor(part.shape->name)) addMeasured(project, part.shape->name, inputs);
    for (const auto& board : project.boards) {
        for (const model::DriveMotor& motor : board->motors) addMeasured(project, motor.line, inputs);
        for (const model::DriveFunction& function : board->functions)
            if (function.load == model::LoadKind::Joint) {
                if (auto curve = makeLoopLoad(placed, tree, project.findJoint(function.joint)))
                    inputs.curves[function.id] = std::move(curve);
                else if (const auto arm = pose::calcGravityArm(placed, tree, project.findJoint(function.joint)))
                    inputs.armLoads[function.id] = {arm->nmm, arm->offsetDeg};
            }
    }
    return inputs;
}

drive::DriveReport calcDrive(const model::Placed& placed, const model::SectionTree& tree) {
    return drive::calcDriveReport(*placed.project, drive::readDrive(placed, tree, bonds::calcBonds(*placed.project)),
                                  makeDriveInputs(placed, tree));
}

} // namespace ivrant::study
