// SPDX-License-Identifier: GPL-3.0-or-later
// The demo's machines: what can be built from their sheets, runs, and is mended by what is offered.
#include <gtest/gtest.h>

#include <map>
#include <set>

#include "core/base/at.h"
#include "core/files/project_file.h"
#include "core/pose/kinematics.h"
#include "core/verdict/mends.h"
#include "tests/support/machines.h"
#include "tests/support/repo.h"
#include "tests/support/reports.h"

namespace ivrant {
namespace {

struct Known {
    const char* file;
    std::size_t parts;                         ///< at least
    std::map<std::string, std::string> ratios; ///< of functions, without the sense
    std::string failing;                       ///< the one check that fails
};

class DemoMachines : public testing::TestWithParam<Known> {
protected:
    model::Project project =
        test::must(files::loadProject(test::repo(std::string("/data/demo/") + GetParam().file + ".ivrant")));
};

TEST_P(DemoMachines, OneFindingFailsAndTheFirstMendOfItMendsAll) {
    const auto report = test::reportOf(project);
    const verdict::Verdict* failing = nullptr;
    for (const auto& v : report.verdicts)
        if (v.state == verdict::State::Fail) {
            EXPECT_EQ(v.check, GetParam().failing) << v.text << ": " << v.detail;
            failing = &v;
        }
    ASSERT_NE(failing, nullptr);
    const auto mends = verdict::listMends(report, *failing);
    ASSERT_FALSE(mends.empty());
    const auto mended = test::reportOf(test::must(mends.front().apply(project)));
    for (const auto& v : mended.verdicts) EXPECT_NE(v.state, verdict::State::Fail) << v.text << ": " << v.detail;
}

TEST_P(DemoMachines, EveryShaftIsCarriedEveryMotorSeatedEveryFunctionDriven) {
    const auto report = test::reportOf(project);
    EXPECT_GE(project.partCount(), GetParam().parts);
    for (const auto& board : project.boards) EXPECT_TRUE(board->shafts.empty() && board->gears.empty());
    for (const auto& support : report.drive->net.supports)
        EXPECT_GE(support.holesMm.size() + support.universals, 2u) << support.shaft;
    for (const auto& motor : report.drive->net.motors)
        EXPECT_EQ(motor.seat, drive::PartMotor::Seat::Firm) << motor.name;
    std::map<std::string, std::string> found;
    for (const auto* position : report.drive->listStates())
        for (const auto& function : position->functions) {
            if (function.motors.empty() || function.loose) continue;
            auto ratio = function.motors.front().ratio;
            found[function.function->name] = drive::formatRatio(abs(ratio));
            EXPECT_NEAR(function.inW, function.outW + function.lostW, 1e-9) << function.function->name;
        }
    EXPECT_EQ(found, GetParam().ratios);
}

TEST_P(DemoMachines, WithoutAnyOneWheelSomethingIsNotDriven) {
    const auto driven = [](const model::Project& p) {
        std::set<std::string> names;
        const auto tree = test::must(model::makeTree(p));
        const auto report = study::calcDrive(pose::calcPlaced(p, tree, pose::getValues(p, nullptr)), tree);
        for (const auto* position : report.listStates())
            for (const auto& function : position->functions)
                if (!function.motors.empty() && !function.loose) names.insert(function.function->name);
        return names;
    };
    const auto all = driven(project);
    for (const auto& section : project.sections)
        for (const model::Part& part : section->parts) {
            // Wheels between a motor and what it moves: not flanges, on which something is only fixed.
            if (part.shape->rings.empty() || !part.name.empty()) continue;
            if (part.shape->name.find("gear 24") != std::string::npos) continue;
            const auto without = model::removeParts(project, {&part.id, 1});
            if (!without) continue; // a joint needs it
            EXPECT_LT(driven(*without).size(), all.size()) << part.shape->name << " " << part.id.text;
        }
}

INSTANTIATE_TEST_SUITE_P(
    All, DemoMachines,
    testing::Values(Known{"bridge",
                          390,
                          {{"Slew", "1:63"}, {"Gate", "1:27"}, {"Lamp mast", "9:25"}, {"Span lift", "9:1000"}},
                          "travel-time"},
                    Known{"cart", 240, {{"Both wheels", "3:7"}, {"Tip the basket", "1:15"}}, "travel-time"},
                    Known{"neck-drive", 50, {{"Raise the neck", "1:40"}}, "travel-time"}),
    [](const auto& one) {
        std::string name = one.param.file;
        std::erase(name, '-');
        return name;
    });

} // namespace
} // namespace ivrant
