// SPDX-License-Identifier: GPL-3.0-or-later
// Looking at a model in other joint values leaves it as it is set; edits that move a joint are meant as seen.
#include <gtest/gtest.h>

#include "core/base/at.h"
#include "core/files/project_file.h"
#include "core/model/edits.h"
#include "core/model/look.h"
#include "core/model/variants.h"
#include "tests/support/repo.h"

using namespace ivrant;

namespace {

struct Look : testing::Test {
    model::Project set = files::loadProject(test::repo("/data/demo/heron.ivrant")).value();
    model::ValuesByJoint reach() {
        for (const auto& pose : set.poses)
            if (pose.name == "Reach") return pose.values;
        ADD_FAILURE() << "no such pose";
        return {};
    }
    model::Project seen = model::lookAt(set, reach());
};

std::vector<std::vector<double>> valuesOf(const model::Project& project) {
    std::vector<std::vector<double>> values;
    for (const auto& joint : project.joints) values.push_back(joint.value);
    return values;
}

} // namespace

TEST_F(Look, ShowsTheValuesAndNothingElse) {
    EXPECT_NE(valuesOf(seen), valuesOf(set));
    for (const auto& [id, value] : reach()) EXPECT_EQ(at(seen.joints, seen.findJoint(id)).value, value);
    EXPECT_EQ(seen.sections, set.sections) << "shared, not copied";
    model::ValuesByJoint odd{{set.joints[0].id, {1, 2, 3, 4, 5}}, {{"nobody"}, {1}}};
    EXPECT_EQ(valuesOf(model::lookAt(set, odd)), valuesOf(set)) << "what does not fit is left out";
}

TEST_F(Look, AnEditOfSomethingElseLeavesTheJointsAsSet) {
    const auto settled = model::settle(set, seen, *model::renameProject(seen, "Other"));
    EXPECT_FALSE(settled.moved);
    EXPECT_EQ(settled.project.name, "Other");
    EXPECT_EQ(valuesOf(settled.project), valuesOf(set));
}

TEST_F(Look, AnEditThatMovesAJointSetsAllAsSeen) {
    const auto& joint = seen.joints.front();
    auto value = joint.value;
    value[0] += 1;
    const auto settled = model::settle(set, seen, *model::setJointValues(seen, {{joint.id, value}}));
    EXPECT_TRUE(settled.moved);
    auto expected = valuesOf(seen);
    expected[0] = value;
    EXPECT_EQ(valuesOf(settled.project), expected);
}

TEST_F(Look, JointsThatAreNewOrExchangedKeepWhatTheEditGaveThem) {
    auto edited = seen;
    edited.joints.erase(edited.joints.begin());
    auto extra = seen.joints.back();
    extra.id = {"extra"};
    extra.value = {12.5};
    edited.joints.push_back(extra);
    const auto settled = model::settle(set, seen, edited);
    EXPECT_FALSE(settled.moved);
    EXPECT_EQ(settled.project.joints.back().value, std::vector<double>{12.5});
    EXPECT_EQ(settled.project.joints.front().value, set.joints[1].value);
}

TEST_F(Look, EditsThatPutVariantsAwayAreTold) {
    EXPECT_FALSE(model::changesVariants(seen, *model::renameProject(seen, "Other")));
    EXPECT_TRUE(model::changesVariants(seen, *model::addVariant(seen, "C")));
}
