// SPDX-License-Identifier: GPL-3.0-or-later
// Models built from a text of commands.
#include <gtest/gtest.h>

#include "core/files/project_file.h"
#include "core/model/validate.h"
#include "core/script/script.h"
#include "core/script/script_export.h"
#include "tests/support/machines.h"
#include "tests/support/repo.h"

namespace ivrant {
namespace {

using geometry::Vec3;
using test::must;

std::string errorOf(const std::string& text) {
    const auto project = script::runScript(text);
    return project ? "none" : project.error().code + " at " + project.error().place;
}

TEST(Script, PutsPartsIntoSectionsAndSteps) {
    const auto project = must(script::runScript("model \"Pier gate\"\n"
                                                "section Post   # the fixed side\n"
                                                "part foot = plate 4x4 slate at 0 0 0\n"
                                                "step\n"
                                                "part brick 2x2 at 1 1 1\n"
                                                "section Arm at 0 0 20\n"
                                                "part beam 5 fog at 0 12mm 0 turn x=+z\n"));
    EXPECT_EQ(project.name, "Pier gate");
    ASSERT_EQ(project.sections.size(), 2u);
    const auto& post = *project.sections[0];
    ASSERT_EQ(post.parts.size(), 2u);
    EXPECT_EQ(post.parts[1].step, 2);
    EXPECT_EQ(post.parts[1].colour, post.parts[0].colour); // as the part before
    EXPECT_EQ(post.parts[1].place.atUm, (std::array<std::int64_t, 3>{8000, 8000, 3200}));
    const auto& beam = project.sections[1]->parts.front();
    EXPECT_EQ(beam.place.atUm[1], 12'000);
    EXPECT_LT((beam.place.frame().linear().col(0) - Vec3::UnitZ()).norm(), 1e-12);
}

TEST(Script, PortsMeetWhereAPartIsPutByThem) {
    const auto project = must(script::runScript("section Base\n"
                                                "part shaft = axle 4 soot at 3 2 5 turn x=+z\n"
                                                "part spur gear 24 gorse by cross+ on shaft at 2 back\n"
                                                "part plate 2x4 fog at 0 0 0\n"));
    const auto& parts = project.sections.front()->parts;
    // The wheel's middle is where the axle's third pitch has its middle, its axis along the axle.
    const auto axle = parts[0].place.frame(), wheel = parts[1].place.frame();
    EXPECT_LT((wheel.translation() - axle * Vec3(20, 0, 0)).norm(), 1e-9);
    EXPECT_NEAR(std::abs(wheel.linear().col(0).dot(axle.linear().col(0))), 1, 1e-9);
}

TEST(Script, TellsTheLineOfWhatItDoesNotUnderstand) {
    EXPECT_EQ(errorOf("section Base\n\npart plate 2x4 slate at 0 0 0\nwobble 3\n"), "script.word at line 4");
    EXPECT_EQ(errorOf("part plate 2x4 mauve at 0 0 0\n"), "shape.unknown at line 1");
    EXPECT_EQ(errorOf("part a = plate 2x4\npart a = plate 2x2 at 0 0 9\nstep\n"), "script.label at line 2");
    EXPECT_EQ(errorOf("part a = plate 2x4\npart plate 2x2 by cell 0,0 on b stud 0,0\n"), "script.label at line 2");
    EXPECT_EQ(errorOf("part a = plate 2x4\npart plate 2x2 by cell 9,9 on a stud 0,0\n"), "script.port at line 2");
    EXPECT_EQ(errorOf("model \"open\nstep\n"), "script.quote at line 1");
    EXPECT_EQ(errorOf("part axle 4 turn x=+z y=+z\n"), "line.turn at line 1");
    EXPECT_EQ(errorOf("part a = axle 4\nfunction Lamp turns a load wind 3\n"), "function.word at line 2");
    EXPECT_EQ(errorOf("part a = plate 2x4\nfunction Lamp turns a load friction 3\n"), "function.target at line 2");
    EXPECT_NE(errorOf("weight -3 g at 0 0 0\n"), "none"); // what no file may hold
}

TEST(Script, NamedTurnsAreTheWaysTheySay) {
    // All 24: two of a part's axes say it.
    int told = 0;
    const std::string axes = "xyz", signs = "-+";
    for (int turn = 0; turn < 24; ++turn) {
        const geometry::Mat3& r = geometry::getTurn(turn);
        std::string text = "part plate 2x4 slate at 0 0 0 turn";
        for (int own = 0; own < 2; ++own)
            for (int to = 0; to < 3; ++to)
                if (r(to, own) != 0)
                    text += std::string(" ") + axes[static_cast<std::size_t>(own)] + "=" +
                            signs[r(to, own) > 0 ? 1 : 0] + axes[static_cast<std::size_t>(to)];
        const auto project = must(script::runScript(text));
        told += std::get<int>(project.sections.front()->parts.front().place.attitude) == turn ? 1 : 0;
    }
    EXPECT_EQ(told, 24);
}

TEST(Script, AMachineIsWrittenAndBuiltAgainAlike) {
    test::SeatedGearbox g;
    g.name(g.output, "Lamp shaft");
    auto function = g.turn("Lamp", g.output);
    function.travel = 90;
    function.withinS = 3;
    function.mustHold = function.withOthers = true;
    g.put(function);
    const std::string text = script::writeScript(g.project);
    const auto again = must(script::runScript(text));
    EXPECT_EQ(script::writeScript(again).size(), text.size()); // ids may differ, nothing else
    ASSERT_EQ(again.sections.front()->parts.size(), g.project.sections.front()->parts.size());
    for (std::size_t p = 0; p < again.sections.front()->parts.size(); ++p) {
        const auto &one = g.project.sections.front()->parts[p], &other = again.sections.front()->parts[p];
        EXPECT_EQ(one.shape, other.shape);
        EXPECT_EQ(one.place, other.place);
        EXPECT_EQ(one.name, other.name);
    }
    const auto& told = again.boards.front()->functions.front();
    EXPECT_EQ(told.name, "Lamp");
    EXPECT_EQ(told.amount, 20);
    EXPECT_EQ(told.travel, 90);
    EXPECT_EQ(told.withinS, 3);
    EXPECT_TRUE(told.mustHold);
    EXPECT_TRUE(told.withOthers);
}

TEST(Script, FiguresOfTheDemoAreWrittenAndBuiltAgain) {
    for (const char* name : {"heron", "drum", "fairgoer-baker", "neck-drive", "crab-leg", "heron-beak"}) {
        const auto project = must(files::loadProject(test::repo(std::string("/data/demo/") + name + ".ivrant")));
        const auto again = must(script::runScript(script::writeScript(project)));
        EXPECT_EQ(again.partCount(), project.partCount()) << name;
        ASSERT_EQ(again.joints.size(), project.joints.size()) << name;
        for (std::size_t j = 0; j < again.joints.size(); ++j) {
            EXPECT_EQ(again.joints[j].value, project.joints[j].value) << name;
            EXPECT_EQ(again.joints[j].name, project.joints[j].name) << name;
        }
        EXPECT_EQ(again.motions.size(), project.motions.size()) << name;
        ASSERT_EQ(again.poses.size(), project.poses.size()) << name;
        for (std::size_t q = 0; q < again.poses.size(); ++q) {
            EXPECT_EQ(again.poses[q].stands.kind, project.poses[q].stands.kind) << name;
            EXPECT_EQ(again.poses[q].stands.up, project.poses[q].stands.up) << name;
        }
    }
}

} // namespace
} // namespace ivrant
