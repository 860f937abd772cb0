// SPDX-License-Identifier: GPL-3.0-or-later
// How does a project change? Each edit is a pure function from one project to the next.
//
// An edit either returns a whole, valid project or an Error whose message is for the person; the given project is never
// touched. Lengths in mm unless the name says µm. Costs: O(parts of the sections touched) plus O(all parts) for
// checking.
#pragma once

#include <functional>
#include <span>

#include "core/base/result.h"
#include "core/model/project.h"

namespace ivrant::model {

using EditResult = base::Result<Project>;

struct NewPart {
    parts::ShapePtr shape;
    int colour = 0;
    Place place;
    std::optional<int> step; ///< none: the section's last step (1 in an empty one)
};

[[nodiscard]] Project makeEmptyProject(const std::string& name);

// Sections
EditResult addSection(const Project& project, const std::string& name, const Place& place = {});
EditResult renameSection(const Project& project, const SectionId& section, const std::string& name);
/// Removes the section, its parts and boards and every joint and pose value that hangs on them. What it carried becomes
/// a root section at its own stored place.
EditResult removeSection(const Project& project, const SectionId& section);
/// A copy of all parts and ballast as a new root section, shifted by its own width along x from where `X_WS` is;
/// mirrored at its own middle plane x when wished. Error "part.mirror" when a part has no mirrored twin.
EditResult duplicateSection(const Project& project, const SectionId& section, bool mirrored,
                            const geometry::Frame& X_WS);
EditResult placeSection(const Project& project, const SectionId& section, const Place& place);

// Parts
EditResult addParts(const Project& project, const SectionId& section, std::span<const NewPart> added,
                    std::vector<PartId>* newIds = nullptr);
EditResult removeParts(const Project& project, std::span<const PartId> ids);
/// Applies `move` (in the section's frame) to the places of the parts.
EditResult moveParts(const Project& project, std::span<const PartId> ids, const geometry::Frame& move);
EditResult recolourParts(const Project& project, std::span<const PartId> ids, int colour);
/// Moves parts to another section, keeping where they are in the world: X_TS is the old section's pose in the new one.
EditResult movePartsToSection(const Project& project, std::span<const PartId> ids, const SectionId& target,
                              const std::function<geometry::Frame(int fromSection)>& X_TS);
/// Copies, shifted by `move` in the section's frame.
EditResult duplicateParts(const Project& project, std::span<const PartId> ids, const geometry::Frame& move,
                          std::vector<PartId>* newIds = nullptr);
/// Mirrors the parts at the plane x = `planeXMm` of their section (copies when `copy`). A part without a mirrored twin
/// (one that is not symmetrical left to right) gives the error "part.mirror".
EditResult mirrorParts(const Project& project, std::span<const PartId> ids, double planeXMm, bool copy,
                       std::vector<PartId>* newIds = nullptr);
/// Gives each of the parts another shape in its place. Error "joint.port" when a joint holds on to a port that the new
/// one has not.
EditResult exchangeShape(const Project& project, std::span<const PartId> ids, const parts::ShapePtr& shape);
/// Notes a weighed mass for each of the parts; none: back to the computed one. Error "part.mass".
EditResult weighParts(const Project& project, std::span<const PartId> ids, std::optional<double> massG);
/// A name of its own, by which a shaft or motor is told; empty: by its shape.
EditResult namePart(const Project& project, const PartId& id, const std::string& name);

// Steps
EditResult setStep(const Project& project, std::span<const PartId> ids, int step);
/// These parts are put on once that section is on, after all others of their own; an empty id: with their own section
/// again.
EditResult setAfter(const Project& project, std::span<const PartId> ids, const SectionId& after);
/// The parts of a section get these steps, in the order of its parts. Error: another number of steps than parts.
EditResult setSteps(const Project& project, const SectionId& section, std::span<const int> steps);
/// Moves the given parts of one step into a new step right after it.
EditResult splitStep(const Project& project, const SectionId& section, int step, std::span<const PartId> later);
/// Joins step `step + 1` of the section into `step`.
EditResult joinStep(const Project& project, const SectionId& section, int step);
/// Swaps a step with its neighbour (`offset` −1 or +1).
EditResult moveStep(const Project& project, const SectionId& section, int step, int offset);

// Joints
EditResult addJoint(const Project& project, Joint joint);
EditResult removeJoint(const Project& project, const JointId& id, const Place& carriedPlace);
EditResult renameJoint(const Project& project, const JointId& id, const std::string& name);
EditResult setJointValue(const Project& project, const JointId& id, const std::vector<double>& value);
/// Several joints at once; joints not named keep their value.
EditResult setJointValues(const Project& project, const std::map<JointId, std::vector<double>>& values);
EditResult setWanted(const Project& project, const JointId& id, const std::vector<Range>& wanted);
/// Exchanges both end shapes for those of another kind with the same frames (see listExchanges).
EditResult exchangeJointKind(const Project& project, const JointId& id, const std::string& kindName);
/// Kinds that exchangeJointKind accepts for this joint, without its own.
[[nodiscard]] std::vector<std::string> listExchanges(const Project& project, const JointId& id);

// Poses
EditResult addPose(const Project& project, const std::string& name,
                   const std::map<JointId, std::vector<double>>& values, const Stance& stands);
EditResult renamePose(const Project& project, const PoseId& id, const std::string& name);
EditResult removePose(const Project& project, const PoseId& id);
EditResult setPose(const Project& project, const PoseId& id, const std::map<JointId, std::vector<double>>& values,
                   const Stance& stands);
/// Makes the pose's values the present values of the joints.
EditResult takePose(const Project& project, const PoseId& id);

// What lifts off and what is within reach; `put…` as below. Errors "edit.name", "module.empty", "module.moves".
EditResult putModule(const Project& project, Module one);
EditResult removeModule(const Project& project, const ModuleId& id);
EditResult putReach(const Project& project, Reach reach);
EditResult removeReach(const Project& project, const ReachId& id);

// A joint between other ports of the model, its value as it is. Errors of validate().
EditResult moveJoint(const Project& project, const JointId& id, const PortRef& from, const PortRef& to);

// Driven joints; `put…` as below. Errors those of checkMotions. Without its joint a motion is gone too.
EditResult putMotion(const Project& project, Motion motion);
EditResult removeMotion(const Project& project, const MotionId& id);

// Strings, bands, springs; `put…` as below. Errors those of checkLines. What a line works is forgotten with its joint.
EditResult putLine(const Project& project, Line line);
EditResult removeLine(const Project& project, const LineId& id);

// Beside the model. `put…` adds an entry when its id is empty, else replaces the one with that id.
EditResult putAsk(const Project& project, Ask ask);
EditResult removeAsk(const Project& project, const AskId& id);
EditResult putSeries(const Project& project, Series series);
EditResult removeSeries(const Project& project, const SeriesId& id);
EditResult putDiaryEntry(const Project& project, DiaryEntry entry);
EditResult removeDiaryEntry(const Project& project, const DiaryId& id);
EditResult putCase(const Project& project, OwnCase ownCase);
EditResult removeCase(const Project& project, const CaseId& id);
/// Error "support.height".
EditResult putPost(const Project& project, Post post);
EditResult removePost(const Project& project, const PostId& id);
/// Wanted tilt of the base, 0 to 45°. Error "project.tilt".
EditResult setTilt(const Project& project, double tiltDeg);
/// When the person who asked saw the model; empty: not yet. Error "project.date".
EditResult setShownOn(const Project& project, const std::string& date);

// How it is made
/// Files as the project names them; what they hold (Project::supplies) is read again by the caller. Error
/// "making.value" for names that are empty or named twice.
EditResult setSupplyFiles(const Project& project, std::vector<std::string> stocks, std::vector<std::string> prices,
                          std::map<std::string, std::string> columns = {});
/// What the files hold now.
EditResult setSupplies(const Project& project, std::shared_ptr<const Supplies> supplies);
EditResult putOrder(const Project& project, Order order);
EditResult removeOrder(const Project& project, const OrderId& id);
EditResult setSchedule(const Project& project, Schedule schedule);
/// Takes the place of the note on that part; without text and view it goes.
EditResult setStepNote(const Project& project, StepNote note);
/// Error "making.value".
EditResult setPacking(const Project& project, const Packing& packing);
EditResult putBuild(const Project& project, BuildSession build);
EditResult removeBuild(const Project& project, const BuildId& id);

// Shapes of the builder's own (core/parts/own_shape.h)
/// Adds the shape, or puts it in the place of the one with its name: parts in all variants change with it. Error
/// "joint.port" when a joint holds on to a port that is gone.
EditResult putOwnShape(const Project& project, const parts::ShapePtr& shape);
/// Error "own.used" when a part of any variant has this shape.
EditResult removeOwnShape(const Project& project, const std::string& name);

// Whole
EditResult renameProject(const Project& project, const std::string& name);
EditResult setRules(const Project& project, BuildRules rules);
EditResult addBallast(const Project& project, const SectionId& section, const Ballast& ballast);
EditResult clearBallast(const Project& project, const SectionId& section);

} // namespace ivrant::model
