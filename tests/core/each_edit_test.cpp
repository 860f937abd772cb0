// SPDX-License-Identifier: GPL-3.0-or-later
// Every edit: what it changes, that the project it began from stays as it was, that the result is whole, and that what
// is not there is named.
#include <functional>
#include <gtest/gtest.h>

#include "core/files/project_file.h"
#include "core/model/edits_boards.h"
#include "core/model/validate.h"
#include "core/model/variants.h"
#include "tests/support/repo.h"
#include "tests/support/stacks.h"

using namespace ivrant;
using model::EditResult;
using model::Project;
using test::must;

namespace {

/// A gate arm on a hinge, with a pose, an ask, a diary entry, a series, a case, a post, ballast and a gear board.
struct Gate : test::Figure {
    model::PartId post, fork, tongue, arm;
    model::JointId hinge;
    Gate() {
        post = put(0, "brick 2x2 slate at 0 0 0");
        fork = put(0, "stepped hinge small fork at 0 0 3");
        tongue = put(1, "stepped hinge small tongue at 0 0 0");
        arm = put(1, "plate 1x4 gorse at 0 0 1");
        hinge = join("stepped hinge small", fork, "finger", tongue, "finger", {22.5});
        model::Stance stance;
        stance.kind = model::Stance::Kind::Flat;
        stance.section = project.sections[0]->id;
        project = must(model::addPose(project, "Raised", {{hinge, {45}}}, stance));
        model::Ask ask;
        ask.measure = "mass";
        ask.comparison = model::Comparison::AtMost;
        ask.value = 100;
        project = must(model::putAsk(project, ask));
        model::DiaryEntry entry;
        entry.text = "The arm is too long";
        project = must(model::putDiaryEntry(project, entry));
        model::Series series;
        series.quantity = model::Quantity::Holding;
        series.kind = "stepped hinge small";
        series.readings = {28, 31};
        project = must(model::putSeries(project, series));
        model::OwnCase leaning;
        leaning.name = "A leaning pier";
        leaning.slopeDeg = 3;
        project = must(model::putCase(project, leaning));
        project = must(model::putPost(project, {{}, {0, 40'000, 9600}, nullptr}));
        project = must(model::addBallast(project, project.sections[0]->id, {5, {0, 0, 1000}}));
        project = must(model::addBoard(project, "Drive", project.sections[0]->id));
    }
    [[nodiscard]] const model::SectionId& base() const { return project.sections[0]->id; }
    [[nodiscard]] const model::PoseId& raised() const { return project.poses[0].id; }
};

const model::Part& partOf(const Project& project, const model::PartId& id) {
    return model::getPart(project, model::PartIndex(project).find(id));
}

/// The edit succeeds, leaves the project as it was, and gives a whole one that says something else.
Project changed(const Project& before, const std::function<EditResult(const Project&)>& edit) {
    const std::string was = files::writeProject(before);
    const Project after = must(edit(before));
    EXPECT_EQ(files::writeProject(before), was) << "the project it began from is never touched";
    EXPECT_TRUE(model::validate(after).ok());
    EXPECT_NE(files::writeProject(after), was);
    EXPECT_EQ(files::writeProject(must(files::parseProject(files::writeProject(after)))), files::writeProject(after))
        << "it is kept whole in a file";
    return after;
}

} // namespace

TEST(EachEdit, SectionsAreNamedPlacedCopiedAndRemoved) {
    const Gate f;
    EXPECT_EQ(changed(f.project, [&](const Project& p) { return model::renameSection(p, f.base(), "Pillar"); })
                  .sections[0]
                  ->name,
              "Pillar");
    model::Place aside;
    aside.atUm = {80'000, 0, 0};
    const auto moved = changed(f.project, [&](const Project& p) { return model::placeSection(p, f.base(), aside); });
    EXPECT_EQ(moved.sections[0]->place.atUm[0], 80'000);
    const auto twin = changed(f.project, [&](const Project& p) {
        return model::duplicateSection(p, f.project.sections[0]->id, false, geometry::Frame::Identity());
    });
    ASSERT_EQ(twin.sections.size(), 3U);
    EXPECT_EQ(twin.sections[2]->parts.size(), 2U);
    EXPECT_NE(twin.sections[2]->parts[0].id, f.post);
    const auto gone = changed(f.project, [&](const Project& p) { return model::removeSection(p, f.base()); });
    EXPECT_EQ(gone.sections.size(), 1U);
    EXPECT_TRUE(gone.joints.empty()) << "the joint hung on it";
    EXPECT_TRUE(gone.boards.empty());
    EXPECT_TRUE(gone.poses[0].values.empty());
}

TEST(EachEdit, PartsAreColouredCopiedMirroredWeighedAndMoved) {
    const Gate f;
    const int rust = parts::findColour("rust");
    const auto painted = changed(f.project, [&](const Project& p) {
        return model::recolourParts(p, std::array{f.post, f.arm}, rust);
    });
    EXPECT_EQ(partOf(painted, f.post).colour, rust);
    EXPECT_EQ(partOf(painted, f.arm).colour, rust);
    EXPECT_EQ(partOf(painted, f.fork).colour, partOf(f.project, f.fork).colour);
    std::vector<model::PartId> copies;
    const auto twice = changed(f.project, [&](const Project& p) {
        copies.clear();
        return model::duplicateParts(p, std::array{f.arm}, geometry::makeFrame(geometry::Mat3::Identity(), {0, 0, 3.2}),
                                     &copies);
    });
    ASSERT_EQ(copies.size(), 1U);
    EXPECT_EQ(partOf(twice, copies[0]).place.atUm[2], partOf(twice, f.arm).place.atUm[2] + 3200);
    EXPECT_EQ(twice.partCount(), f.project.partCount() + 1);
    const auto mirrored = changed(
        f.project, [&](const Project& p) { return model::mirrorParts(p, std::array{f.post}, 20, false, nullptr); });
    EXPECT_NEAR(static_cast<double>(partOf(mirrored, f.post).place.atUm[0]), 40'000, 8000.5)
        << "on the other side of x = 20 mm";
    const auto weighed =
        changed(f.project, [&](const Project& p) { return model::weighParts(p, std::array{f.post}, 1.3); });
    EXPECT_EQ(partOf(weighed, f.post).massG(), 1.3);
    EXPECT_EQ(model::weighParts(f.project, std::array{f.post}, -1).error().code, "part.mass");
    EXPECT_FALSE(
        partOf(must(model::weighParts(weighed, std::array{f.post}, std::nullopt)), f.post).weighedG.has_value());
    const auto fewer = changed(f.project, [&](const Project& p) { return model::removeParts(p, std::array{f.arm}); });
    EXPECT_EQ(fewer.partCount(), f.project.partCount() - 1);
    const auto held = model::removeParts(f.project, std::array{f.fork});
    ASSERT_FALSE(held.ok()) << "a joint sits on it";
    EXPECT_EQ(held.error().place, f.hinge.text);
}

TEST(EachEdit, StepsAreSetSplitJoinedAndSwapped) {
    const Gate f;
    const auto second = changed(f.project, [&](const Project& p) { return model::setStep(p, std::array{f.fork}, 2); });
    EXPECT_EQ(partOf(second, f.fork).step, 2);
    const auto joined = changed(second, [&](const Project& p) { return model::joinStep(p, f.base(), 1); });
    EXPECT_EQ(partOf(joined, f.fork).step, 1);
    const auto split =
        changed(f.project, [&](const Project& p) { return model::splitStep(p, f.base(), 1, std::array{f.fork}); });
    EXPECT_EQ(partOf(split, f.fork).step, 2);
    EXPECT_EQ(partOf(split, f.post).step, 1);
    const auto swapped = changed(split, [&](const Project& p) { return model::moveStep(p, f.base(), 1, 1); });
    EXPECT_EQ(partOf(swapped, f.fork).step, 1);
    EXPECT_EQ(partOf(swapped, f.post).step, 2);
}

TEST(EachEdit, JointsAndPosesAreNamedSetTakenAndRemoved) {
    const Gate f;
    EXPECT_EQ(changed(f.project, [&](const Project& p) { return model::renameJoint(p, f.hinge, "Gate hinge"); })
                  .joints[0]
                  .name,
              "Gate hinge");
    EXPECT_EQ(changed(f.project, [&](const Project& p) { return model::setJointValue(p, f.hinge, {67.5}); })
                  .joints[0]
                  .value[0],
              67.5);
    EXPECT_EQ(changed(f.project,
                      [&](const Project& p) {
                          return model::setWanted(p, f.hinge, {{-10, 50}});
                      })
                  .joints[0]
                  .wanted[0]
                  .high,
              50);
    const auto taken = changed(f.project, [&](const Project& p) { return model::takePose(p, f.raised()); });
    EXPECT_EQ(taken.joints[0].value[0], 45);
    EXPECT_EQ(
        changed(f.project, [&](const Project& p) { return model::renamePose(p, f.raised(), "Open"); }).poses[0].name,
        "Open");
    EXPECT_TRUE(changed(f.project, [&](const Project& p) { return model::removePose(p, f.raised()); }).poses.empty());
    const auto held = changed(f.project, [&](const Project& p) {
        return model::setPose(p, f.raised(), {{f.hinge, {0}}}, {});
    });
    EXPECT_EQ(held.poses[0].values.at(f.hinge)[0], 0);
    EXPECT_EQ(held.poses[0].stands.kind, model::Stance::Kind::Held);
    const auto apart = changed(f.project, [&](const Project& p) { return model::removeJoint(p, f.hinge, {}); });
    EXPECT_TRUE(apart.joints.empty());
    EXPECT_TRUE(apart.poses[0].values.empty());
}

TEST(EachEdit, WhatStandsBesideTheModelComesAndGoes) {
    const Gate f;
    const auto& p0 = f.project;
    EXPECT_TRUE(changed(p0, [&](const Project& p) { return model::removeAsk(p, p0.asks[0].id); }).asks.empty());
    EXPECT_TRUE(
        changed(p0, [&](const Project& p) { return model::removeDiaryEntry(p, p0.diary[0].id); }).diary.empty());
    EXPECT_TRUE(
        changed(p0, [&](const Project& p) { return model::removeSeries(p, p0.measured[0].id); }).measured.empty());
    EXPECT_TRUE(changed(p0, [&](const Project& p) { return model::removeCase(p, p0.cases[0].id); }).cases.empty());
    EXPECT_TRUE(changed(p0, [&](const Project& p) { return model::removePost(p, p0.posts[0].id); }).posts.empty());
    EXPECT_TRUE(
        changed(p0, [&](const Project& p) { return model::clearBallast(p, f.base()); }).sections[0]->ballast.empty());
    EXPECT_EQ(changed(p0, [&](const Project& p) { return model::setTilt(p, 12); }).tiltDeg, 12);
    EXPECT_EQ(changed(p0, [&](const Project& p) { return model::setShownOn(p, "2026-11-20"); }).shownOn, "2026-11-20");
    EXPECT_EQ(changed(p0, [&](const Project& p) { return model::renameProject(p, "Toll gate"); }).name, "Toll gate");
    EXPECT_EQ(changed(p0, [&](const Project& p) { return model::setRules(p, model::BuildRules::Display); }).rules,
              model::BuildRules::Display);
    EXPECT_EQ(changed(p0, [&](const Project& p) { return model::renameBoard(p, p0.boards[0]->id, "Gear box"); })
                  .boards[0]
                  ->name,
              "Gear box");
    EXPECT_TRUE(changed(p0, [&](const Project& p) { return model::removeBoard(p, p0.boards[0]->id); }).boards.empty());
    // An entry that is put again under its id is replaced in its place.
    auto entry = p0.diary[0];
    entry.answer = "shortened by a stud";
    const auto answered = changed(p0, [&](const Project& p) { return model::putDiaryEntry(p, entry); });
    ASSERT_EQ(answered.diary.size(), 1U);
    EXPECT_EQ(answered.diary[0].answer, "shortened by a stud");
    auto support = p0.posts[0];
    support.atUm[2] = 12'800;
    EXPECT_EQ(changed(p0, [&](const Project& p) { return model::putPost(p, support); }).posts[0].atUm[2], 12'800);
}

TEST(EachEdit, WhatIsNotThereIsNamed) {
    const Gate f;
    const Project& p = f.project;
    const model::PartId part{"p999"};
    const model::SectionId section{"s999"};
    const model::JointId joint{"j999"};
    const model::PoseId pose{"q999"};
    const std::vector<std::pair<const char*, EditResult>> results{
        {"renameSection", model::renameSection(p, section, "x")},
        {"removeSection", model::removeSection(p, section)},
        {"placeSection", model::placeSection(p, section, {})},
        {"duplicateSection", model::duplicateSection(p, section, false, geometry::Frame::Identity())},
        {"addParts", model::addParts(p, section, {})},
        {"removeParts", model::removeParts(p, std::array{part})},
        {"moveParts", model::moveParts(p, std::array{part}, geometry::Frame::Identity())},
        {"recolourParts", model::recolourParts(p, std::array{part}, 0)},
        {"duplicateParts", model::duplicateParts(p, std::array{part}, geometry::Frame::Identity())},
        {"mirrorParts", model::mirrorParts(p, std::array{part}, 0, false)},
        {"weighParts", model::weighParts(p, std::array{part}, 1)},
        {"setStep", model::setStep(p, std::array{part}, 2)},
        {"renameJoint", model::renameJoint(p, joint, "x")},
        {"setJointValue", model::setJointValue(p, joint, {0})},
        {"setWanted", model::setWanted(p, joint, {})},
        {"removeJoint", model::removeJoint(p, joint, {})},
        {"exchangeJointKind", model::exchangeJointKind(p, joint, "ribbed pin")},
        {"renamePose", model::renamePose(p, pose, "x")},
        {"removePose", model::removePose(p, pose)},
        {"setPose", model::setPose(p, pose, {}, {})},
        {"takePose", model::takePose(p, pose)},
        {"removeAsk", model::removeAsk(p, {"a999"})},
        {"removeSeries", model::removeSeries(p, {"m999"})},
        {"removeDiaryEntry", model::removeDiaryEntry(p, {"d999"})},
        {"removeCase", model::removeCase(p, {"c999"})},
        {"removeSupport", model::removePost(p, {"u999"})},
        {"addBallast", model::addBallast(p, section, {1, {}})},
        {"clearBallast", model::clearBallast(p, section)},
        {"renameBoard", model::renameBoard(p, {"b999"}, "x")},
        {"removeBoard", model::removeBoard(p, {"b999"})},
        {"showVariant", model::showVariant(p, {"v999"})},
        {"renameVariant", model::renameVariant(p, {"v999"}, "x")},
        {"removeVariant", model::removeVariant(p, {"v999"})},
    };
    for (const auto& [name, result] : results) {
        ASSERT_FALSE(result.ok()) << name;
        EXPECT_FALSE(result.error().message.empty()) << name;
        EXPECT_NE((result.error().message + result.error().place).find("999"), std::string::npos)
            << name << ": " << result.error().message;
    }
}

TEST(Names, OfAllEnumerationsAreReadAsTheyAreWritten) {
    const auto round = [](auto first, int count, auto name, auto find) {
        using Value = decltype(first);
        std::set<std::string> names;
        for (int k = 0; k < count; ++k) {
            const auto value = static_cast<Value>(k);
            EXPECT_EQ(find(name(value)), std::optional(value)) << name(value);
            names.insert(name(value));
        }
        EXPECT_EQ(names.size(), static_cast<std::size_t>(count)) << "no two are called alike";
        EXPECT_FALSE(find("nonsense").has_value());
    };
    round(model::GearKind::Spur, 11, model::getGearKindName, model::findGearKind);
    round(model::LoadKind::None, 7, model::getLoadKindName, model::findLoadKind);
    round(model::Comparison::AtLeast, 3, model::getComparisonName, model::findComparison);
    round(model::DiaryKind::Decision, 3, model::getDiaryKindName, model::findDiaryKind);
    round(model::Quantity::Holding, 5, model::getQuantityName, model::findQuantity);
}
