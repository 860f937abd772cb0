// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/model/edits.h"

#include "core/base/at.h"
#include "core/model/history.h"
#include "core/model/mass.h"
#include "core/model/validate.h"
#include "tests/support/figures.h"
#include "tests/support/near.h"

using namespace ivrant;
using test::Figure;
using test::must;

namespace {
Figure joined() {
    Figure f;
    const auto fork = f.put(0, "stepped hinge small fork at 0 0 0");
    const auto tongue = f.put(1, "stepped hinge small tongue at 0 0 0");
    f.join("stepped hinge small", fork, "finger", tongue, "finger", {45}, {{-45, 67.5}});
    return f;
}
} // namespace

TEST(Edits, NeverTouchTheProjectTheyAreGiven) {
    const Figure f = joined();
    const auto before = f.project.sections[0];
    const auto ids = std::vector<model::PartId>{before->parts[0].id};
    const auto moved =
        must(model::moveParts(f.project, ids, geometry::makeFrame(geometry::Mat3::Identity(), {8, 0, 0})));
    EXPECT_EQ(f.project.sections[0], before);
    EXPECT_EQ(before->parts[0].place.atUm[0], 0);
    EXPECT_EQ(moved.sections[0]->parts[0].place.atUm[0], 8000);
    EXPECT_EQ(moved.sections[1], f.project.sections[1]) << "untouched sections are shared";
}

TEST(Edits, IdsAreNeverUsedAgain) {
    Figure f;
    const auto first = f.put(0, "brick 1x1 at 0 0 0");
    f.project = must(model::removeParts(f.project, std::vector<model::PartId>{first}));
    EXPECT_NE(f.put(0, "brick 1x1 at 0 0 0"), first);
}

TEST(Edits, APartWithAJointIsNotRemovedSilently) {
    const Figure f = joined();
    const auto result = model::removeParts(f.project, std::vector<model::PartId>{f.project.joints[0].from.part});
    ASSERT_FALSE(result);
    EXPECT_EQ(result.error().code, "part.joint");
}

TEST(Edits, ASectionCannotCarryItselfNorTwoPortsBeJoinedTwice) {
    Figure f = joined();
    model::Joint back = f.project.joints[0];
    std::swap(back.from, back.to);
    EXPECT_EQ(model::addJoint(f.project, back).error().code, "joint.twice");
    const auto again = f.put(0, "stepped hinge small tongue at 5 0 0");
    model::Joint self = f.project.joints[0];
    self.to.part = again;
    EXPECT_EQ(model::addJoint(f.project, self).error().code, "joint.self");
}

TEST(Edits, WrongPortsAreNamed) {
    Figure f;
    const auto a = f.put(0, "plate 2x2 at 0 0 0"), b = f.put(1, "plate 2x2 at 0 0 0");
    model::Joint joint;
    joint.kind = parts::findJointKind("stepped hinge small");
    joint.from = {a, "finger"};
    joint.to = {b, "cell 0,0"};
    joint.value = {0};
    EXPECT_EQ(model::addJoint(f.project, joint).error().code, "joint.port");
    joint.from.port = "stud 0,0";
    EXPECT_EQ(model::addJoint(f.project, joint).error().code, "joint.kind");
}

TEST(Edits, ExchangeKeepsTheBendAndUndoIsASnapshot) {
    Figure f = joined();
    const auto id = f.project.joints[0].id;
    const auto kinds = model::listExchanges(f.project, id);
    EXPECT_NE(std::find(kinds.begin(), kinds.end(), "small ball and cup"), kinds.end());
    EXPECT_NE(std::find(kinds.begin(), kinds.end(), "stepped hinge large"), kinds.end());
    const auto ball = must(model::exchangeJointKind(f.project, id, "small ball and cup"));
    EXPECT_EQ(ball.joints[0].value, (std::vector<double>{0, 45, 0}));
    EXPECT_EQ(ball.joints[0].wanted[1], (model::Range{-45, 67.5}));
    EXPECT_EQ(ball.sections[0]->parts[0].shape->name, "ball plate small 1x2");
    // The carried section has not moved.
    Figure g;
    g.project = ball;
    EXPECT_TRUE(g.placed().X_WS[1].isApprox(f.placed().X_WS[1], 1e-9));
    EXPECT_FALSE(model::exchangeJointKind(f.project, id, "small turntable"));
}

TEST(Edits, MirroredTwiceIsTheSame) {
    Figure f;
    f.put(0, "slope 2x2 at 3 1 2 turn 1");
    f.put(0, "bracket up 2x2 at -2 4 0");
    std::vector<model::PartId> ids;
    for (const auto& p : f.project.sections[0]->parts) ids.push_back(p.id);
    const auto once = must(model::mirrorParts(f.project, ids, 20, false)),
               twice = must(model::mirrorParts(once, ids, 20, false));
    for (std::size_t i = 0; i < ids.size(); ++i) {
        const auto& a = f.project.sections[0]->parts[i];
        // As a body: the same corners, whatever the turn is called.
        EXPECT_TRUE((a.place.frame() * a.shape->centre)
                        .isApprox(twice.sections[0]->parts[i].place.frame() * a.shape->centre, 1e-6));
        const geometry::Vec3 centre = a.place.frame() * a.shape->centre,
                             image = once.sections[0]->parts[i].place.frame() * a.shape->centre;
        EXPECT_NEAR(image.x(), 40 - centre.x(), test::kMicrometre);
        EXPECT_NEAR(image.y(), centre.y(), test::kMicrometre);
    }
}

TEST(Edits, MovingPartsToAnotherSectionKeepsThemWhereTheyAre) {
    Figure f = joined();
    const auto extra = f.put(1, "brick 2x2 at 0 2 0");
    const auto placed = f.placed();
    const auto world =
        placed.X_WS[1] * model::getPart(f.project, model::PartIndex(f.project).find(extra)).place.frame();
    const auto moved = must(
        model::movePartsToSection(f.project, std::vector<model::PartId>{extra}, f.project.sections[0]->id, [&](int s) {
            return geometry::Frame(placed.X_WS[0].inverse() * at(placed.X_WS, s));
        }));
    const auto spot = model::PartIndex(moved).find(extra);
    EXPECT_EQ(spot.section, 0);
    EXPECT_TRUE(
        (placed.X_WS[0] * model::getPart(moved, spot).place.frame()).isApprox(world, 1e-4)); // whole micrometres
}

TEST(Edits, StepsSplitJoinAndMove) {
    Figure f;
    const auto a = f.put(0, "plate 2x2 at 0 0 0"), b = f.put(0, "plate 2x2 at 0 0 1"),
               c = f.put(0, "plate 2x2 at 0 0 2");
    const auto section = f.project.sections[0]->id;
    const auto steps = [](const model::Project& p) {
        std::vector<int> list;
        for (const auto& part : p.sections[0]->parts) list.push_back(part.step);
        return list;
    };
    const auto split = must(model::splitStep(f.project, section, 1, std::vector<model::PartId>{b, c}));
    EXPECT_EQ(steps(split), (std::vector<int>{1, 2, 2}));
    EXPECT_EQ(steps(must(model::moveStep(split, section, 2, -1))), (std::vector<int>{2, 1, 1}));
    EXPECT_EQ(steps(must(model::joinStep(split, section, 1))), (std::vector<int>{1, 1, 1}));
    EXPECT_FALSE(model::splitStep(f.project, section, 1, std::vector<model::PartId>{a, b, c}));
    EXPECT_FALSE(model::joinStep(f.project, section, 1));
    EXPECT_FALSE(model::moveStep(split, section, 1, -1));
}

TEST(Edits, InsideOutWantedRangesAreRefused) {
    const Figure f = joined();
    EXPECT_EQ(model::setWanted(f.project, f.project.joints[0].id, {{90, -90}}).error().code, "joint.value");
    EXPECT_EQ(model::setJointValue(f.project, f.project.joints[0].id, {1, 2}).error().code, "joint.value");
    EXPECT_EQ(model::setJointValue(f.project, f.project.joints[0].id, {std::numeric_limits<double>::quiet_NaN()})
                  .error()
                  .code,
              "joint.value");
}

TEST(History, UndoAndRedoReachEverySnapshot) {
    model::History history(model::makeEmptyProject("A"));
    for (const char* name : {"B", "C"}) history.push(name, must(model::renameProject(history.current(), name)));
    history.undo();
    EXPECT_EQ(history.current().name, "B");
    EXPECT_EQ(history.redoName(), "C");
    history.undo();
    history.undo();
    EXPECT_EQ(history.current().name, "A");
    EXPECT_FALSE(history.canUndo());
    history.redo();
    history.push("D", must(model::renameProject(history.current(), "D")));
    EXPECT_FALSE(history.canRedo());
    history.undo();
    EXPECT_EQ(history.current().name, "B");
}

TEST(History, ADragIsOneEntry) {
    model::History history(model::makeEmptyProject("A"));
    for (int i = 0; i < 50; ++i)
        history.pushOrReplace("drag", must(model::renameProject(history.current(), "at " + std::to_string(i))));
    EXPECT_EQ(history.current().name, "at 49");
    history.undo();
    EXPECT_EQ(history.current().name, "A");
}

TEST(Mass, BallastAndWeighedPartsCount) {
    Figure f;
    const auto part = f.put(0, "brick 2x2 at 0 0 0");
    f.project = must(model::weighParts(f.project, std::array{part}, 5));
    f.project = must(model::addBallast(f.project, f.project.sections[0]->id, {15, {4000, 4000, 20000}}));
    const auto mass = model::calcMass(f.placed());
    EXPECT_NEAR(mass.massG, 20, test::kRounding);
    const double own = test::must(parts::makeShape("brick 2x2"))->centre.z();
    EXPECT_NEAR(mass.centre.z(), (5 * own + 15 * 20) / 20, test::kRounding);
}

TEST(Edits, ASectionIsCopiedAsAMirrorImage) {
    Figure f;
    f.put(0, "plate 2x4 at 0 0 0");
    f.put(0, "brick 1x2 at 1 0 1");
    f.put(0, "slope 1x2 at 0 2 1 turn 1"); // reaches 12 mm to the left, the plate 12 mm to the right: the middle plane
                                           // is x = 0
    model::Ballast ballast;
    ballast.massG = 5;
    ballast.atUm = {1000, 2000, 3000};
    f.project = must(model::addBallast(f.project, f.project.sections[0]->id, ballast));
    const auto copied =
        must(model::duplicateSection(f.project, f.project.sections[0]->id, true, geometry::Frame::Identity()));
    ASSERT_EQ(copied.sections.size(), 2U);
    const auto& original = *copied.sections[0];
    const auto& image = *copied.sections[1];
    ASSERT_EQ(image.parts.size(), 3U);
    EXPECT_EQ(image.ballast[0].atUm, (std::array<std::int64_t, 3>{-1000, 2000, 3000}));
    for (std::size_t p = 0; p < 3; ++p) {
        EXPECT_NE(image.parts[p].id, original.parts[p].id);
        const geometry::Vec3 was = original.parts[p].place.frame() * original.parts[p].shape->centre,
                             is = image.parts[p].place.frame() * image.parts[p].shape->centre;
        EXPECT_NEAR(is.x(), -was.x(), test::kMicrometre) << p;
        EXPECT_NEAR(is.y(), was.y(), test::kMicrometre);
        EXPECT_NEAR(is.z(), was.z(), test::kMicrometre);
    }
    EXPECT_GE(image.place.atUm[0], 16000) << "it stands beside the original, which is 16 mm wide";
    const auto again = must(model::duplicateSection(copied, image.id, true, geometry::Frame::Identity()));
    for (std::size_t p = 0; p < 3; ++p)
        EXPECT_LT((again.sections[2]->parts[p].place.frame() * original.parts[p].shape->centre -
                   original.parts[p].place.frame() * original.parts[p].shape->centre)
                      .norm(),
                  test::kMicrometre)
            << "mirrored twice it is as before";
}
