// SPDX-License-Identifier: GPL-3.0-or-later
// Results as JSON say what the core found: studies of Pose, trains and fits, variants compared, the statue desk; the
// workshop's library comes back.
#include <gtest/gtest.h>

#include "core/base/at.h"
#include "core/files/brief_file.h"
#include "core/files/project_file.h"
#include "core/files/results_desk.h"
#include "core/files/results_drive.h"
#include "core/files/results_json.h"
#include "core/files/results_pose.h"
#include "core/files/results_stand.h"
#include "core/model/variants.h"
#include "core/stand/brick_layers.h"
#include "core/study/stand_cases.h"
#include "tests/support/repo.h"
#include "tests/support/reports.h"
#include "tests/support/stacks.h"

using namespace ivrant;
using model::Json;
using test::must;
using test::reportOf;

namespace {

constexpr double kRounded = 1e-4;

model::Project heron() { return must(files::loadProject(test::repo("/data/demo/heron.ivrant"))); }

int jointNamed(const model::Project& project, const std::string& name) {
    for (std::size_t j = 0; j < project.joints.size(); ++j)
        if (project.joints[j].name == name) return static_cast<int>(j);
    throw std::runtime_error("no joint " + name);
}
double numberAt(const Json& json) { return json.get<double>(); }

/// The heron with what studies of it need.
struct Study {
    model::Project project = heron();
    model::SectionTree tree = must(model::makeTree(project));
    pose::RangeContext context = pose::makeRangeContext(project, tree, bonds::calcBonds(project));
    pose::JointValues values = pose::getValues(project, nullptr);
};

} // namespace

TEST(ResultsJson, HeadsRoundingAndNothing) {
    const Json head = files::makeHead("trial");
    EXPECT_EQ(head["ivrant"], "trial");
    EXPECT_EQ(head["version"], 1);
    EXPECT_EQ(files::rounded(0.123456), 0.1235);
    EXPECT_FALSE(std::signbit(files::rounded(-1e-9))) << "never −0";
    EXPECT_TRUE(files::optionalJson(std::nullopt).is_null());
    EXPECT_EQ(files::optionalJson(2.0), 2.0);
    EXPECT_EQ(files::pointJson({1, 2, 3.00004}), Json({1.0, 2.0, 3.0}));
    EXPECT_EQ(files::rangeJson({-10, 20}), Json({-10.0, 20.0}));
    const Json error = files::makeErrorJson({"file.open", "cannot be read", "/sections/0"});
    EXPECT_EQ(error["ivrant"], "error");
    EXPECT_EQ(error["code"], "file.open");
    EXPECT_EQ(error["pointer"], "/sections/0");
}

TEST(ResultsJson, AMapHasALetterForEachCell) {
    const Study s;
    pose::MapRequest request;
    request.first = {jointNamed(s.project, "Neck 1"), 0};
    request.second = {jointNamed(s.project, "Neck 2"), 0};
    request.firstRange = pose::getMapRange(s.project, request.first);
    request.secondRange = pose::getMapRange(s.project, request.second);
    request.steps = 12;
    const auto map = must(pose::calcMap(s.context, s.values, request));
    const Json json = files::makeMapJson(s.project, map);
    EXPECT_EQ(json["first"]["name"], "Neck 1");
    ASSERT_EQ(json["cells"].size(), 12U);
    int free = 0;
    for (int i = 0; i < 12; ++i) {
        const auto row = at(json["cells"], i).get<std::string>();
        ASSERT_EQ(row.size(), 12U);
        for (int k = 0; k < 12; ++k) {
            const char letter = at(row, k);
            EXPECT_EQ(letter == '.', map.at(i, k) == pose::Cell::Free);
            EXPECT_EQ(letter == '-', map.at(i, k) == pose::Cell::Beyond);
            free += letter == '.' ? 1 : 0;
        }
    }
    EXPECT_NEAR(numberAt(json["free_share"]), free / 144.0, kRounded);
}

TEST(ResultsJson, AChainSumsItsPlayAndNamesItsJoints) {
    const Study s;
    const auto report = reportOf(s.project);
    const auto chain =
        must(pose::makeChain(s.context, s.values, jointNamed(s.project, "Neck 1"), jointNamed(s.project, "Head")));
    const auto study = pose::calcChain(s.context, s.values, chain);
    const auto sag = pose::calcSag(s.context, s.values, chain, report.poses[0].stance, report.strengths);
    const Json json =
        files::makeChainJson(s.project, study, sag,
                             pose::calcFirmFirst(s.context, s.values, chain, report.poses[0].stance, report.strengths));
    double sum = 0;
    for (const Json& play : json["play"]) sum += numberAt(play["play_mm"]);
    EXPECT_NEAR(sum, numberAt(json["tip_play_mm"]), 1e-3) << "Σ of the joints";
    EXPECT_EQ(json["play"].size(), study.play.size());
    EXPECT_EQ(json["play"][0]["joint"], "Neck 1");
    EXPECT_NEAR(numberAt(json["high"]["total_deg"]), study.high.totalDeg, kRounded);
    EXPECT_LE(numberAt(json["high"]["total_deg"]), numberAt(json["high"]["single_sum_deg"]) + kRounded);
    EXPECT_EQ(json["sag"].size(), sag.steps.size());
    // Play alone is the same, without looking at poses.
    EXPECT_NEAR(pose::calcPlay(s.context, s.values, chain).tipPlayMm, study.tipPlayMm, 1e-9);
}

TEST(ResultsJson, ChoicesKeepTheirOrderAndSayWhy) {
    const auto project = heron();
    pose::ChooseRequest request;
    request.joint = jointNamed(project, "Neck 2");
    request.strengthOf = [](const parts::JointKind& kind) {
        model::JointStrength strength;
        strength.holding.value = kind.holdingNmm;
        return strength;
    };
    const auto choices = pose::calcChoices(project, request);
    const Json json = files::makeChoicesJson(at(project.joints, request.joint), choices);
    ASSERT_EQ(json["choices"].size(), choices.size());
    int present = 0;
    for (std::size_t k = 0; k < choices.size(); ++k) {
        const Json& entry = json["choices"][k];
        EXPECT_EQ(entry["kind"], choices[k].kind->name);
        EXPECT_EQ(entry["ruled_out"].size(), choices[k].ruledOut.size());
        present += entry["present"].get<bool>() ? 1 : 0;
        if (k > 0 && choices[k].ruledOut.empty() && choices[k - 1].ruledOut.empty()) {
            EXPECT_LE(choices[k].score, choices[k - 1].score + 1e-12);
        }
    }
    EXPECT_EQ(present, 1) << "the kind that is there now";
}

TEST(ResultsJson, ReachPathGapsAndCoversSayWhatWasFound) {
    const Study s;
    auto request =
        pose::makeReachRequest(s.context, s.values, {}, s.project.findSection(s.project.sections.back()->id));
    request.samples = 300;
    if (!request.freedoms.empty()) {
        const pose::PoseChecker checker(s.context, s.values);
        const auto reach = pose::calcReach(checker, s.values, request);
        const Json json = files::makeReachJson(s.project, request.section, reach);
        EXPECT_EQ(json["tried"], reach.tried);
        EXPECT_EQ(json["free"], reach.points.size());
        if (reach.highest >= 0) {
            EXPECT_NEAR(numberAt(json["highest"]["at_mm"][2]), numberAt(json["high_mm"][2]), kRounded);
        }
    }
    const pose::PoseChecker checker(s.context, s.values);
    const auto way = pose::calcPath(checker, s.values, s.values);
    const Json still = files::makePathJson(s.project, way, std::nullopt);
    EXPECT_EQ(still["free"], way.free);
    EXPECT_TRUE(still["detour"].is_null());
    const int neck = jointNamed(s.project, "Neck 2");
    const auto gaps = pose::calcGapsOverRange(s.context, s.values, {}, neck, 3);
    const Json shown = files::makeGapsJson(at(s.project.joints, neck), gaps);
    ASSERT_EQ(shown["views"].size(), gaps.size());
    for (const Json& view : shown["views"]) {
        EXPECT_LE(numberAt(view["least_mm2"]), numberAt(view["now_mm2"]) + 1e-3 + numberAt(view["most_mm2"]));
        EXPECT_LE(numberAt(view["least_mm2"]), numberAt(view["most_mm2"]));
    }
    const model::PartSpot cover{0, 0};
    const auto costs = pose::calcCoverCosts(s.context, s.values, {cover});
    const Json dear = files::makeCoversJson(s.project, costs);
    ASSERT_EQ(dear["costs"].size(), costs.size());
    for (std::size_t k = 1; k < costs.size(); ++k)
        EXPECT_GE(numberAt(dear["costs"][k - 1]["cost"]), numberAt(dear["costs"][k]["cost"])) << "dearest first";
}

TEST(ResultsJson, TrainsFitsAndPairs) {
    drive::RatioWish wish;
    wish.ratio = 1.0 / 15;
    const auto found = must(drive::searchRatios(wish));
    const Json json = files::makeRatioJson(wish, found);
    ASSERT_EQ(json["groups"].size(), found.groups.size());
    ASSERT_FALSE(found.groups.empty());
    EXPECT_TRUE(json["nearest"].is_null());
    const auto fits = drive::listFits(drive::calcOutsideMm(8, 24));
    const Json offsets = files::makeFitsJson(8, 24, fits);
    EXPECT_EQ(offsets["distance_mm"], 16.0) << "half of 8 + 24, a tooth being a mm of diameter";
    EXPECT_EQ(offsets["offsets"].size(), fits.size());
    const auto pairs = drive::listPairs(16'000, 0, {8, 12, 16, 20, 24});
    const Json meshing = files::makePairsJson(16'000, 0, pairs);
    EXPECT_EQ(meshing["offset_mm"], Json({16.0, 0.0}));
    bool has = false;
    for (const Json& pair : meshing["pairs"]) has |= pair["teeth"] == Json({8, 24}) || pair["teeth"] == Json({24, 8});
    EXPECT_TRUE(has);
}

TEST(ResultsJson, VariantsAreComparedInTheirFigures) {
    const auto study = must(files::loadProject(test::repo("/data/demo/heron-stand.ivrant")));
    const auto post = std::find_if(study.variants.begin(), study.variants.end(),
                                   [](const auto& v) { return v.name == "D on a post"; });
    ASSERT_NE(post, study.variants.end());
    const auto comparison = verdict::compareReports(
        reportOf(study), reportOf(must(model::showVariant(study, post->id))), "A firm", "D on a post");
    const Json json = files::makeCompareJson(comparison);
    EXPECT_EQ(json["b"], "D on a post");
    EXPECT_TRUE(json["parts"].empty()) << "a post is no part of the model";
    bool told = false;
    for (const Json& figure : json["figures"]) {
        if (figure["what"] == "mass") {
            EXPECT_EQ(figure["a"], figure["b"]) << "and has no weight in it";
        }
        if (figure["what"] != "posts") continue;
        told = true;
        EXPECT_EQ(figure["a"], 0);
        EXPECT_EQ(figure["b"], 1);
    }
    EXPECT_TRUE(told);
}

TEST(ResultsJson, TheDeskTheCoreAndFirmPartsCountWhatTheyFound) {
    stand::CellGrid grid{10, 10, 8, {}, {}, base::kBrickMm};
    grid.filled.assign(10 * 10 * 8, 1);
    const auto project = must(stand::makeStatue("Block", must(stand::layBricks(grid, stand::getUsualSizes())), 0));
    const auto report = reportOf(project);
    const auto core = must(study::calcCore(report, report.present));
    const Json left = files::makeCoreJson(report, core);
    EXPECT_EQ(left["parts"], core.leaveOut.size());
    EXPECT_EQ(left["leave_out"].size(), core.leaveOut.size());
    double gram = 0;
    for (const auto spot : core.leaveOut) gram += model::getPart(project, spot).massG();
    EXPECT_NEAR(numberAt(left["mass_g"]), gram, kRounded);
    const auto firm = must(stand::proposeFirm(report.present.placed, study::calcBondLimits(report), {}));
    const Json inside = files::makeFirmJson(firm);
    int shapes = 0;
    for (const Json& shape : inside["shapes"]) shapes += shape["count"].get<int>();
    EXPECT_EQ(shapes, static_cast<int>(firm.parts.size()));
    const auto design = must(study::calcPosts(report, report.present));
    const Json support = files::makePostJson(report, report.present, design);
    EXPECT_EQ(support["needed"], design.needed);
    EXPECT_EQ(support["supports"].size(), design.spots.size());
    EXPECT_FALSE(design.why.empty()) << "a block needs none, and that is said";
}

TEST(Workshop, TheLibraryComesBackAndGarbageIsNamed) {
    model::Series holding;
    holding.id = {"m4"};
    holding.quantity = model::Quantity::Holding;
    holding.kind = "stepped hinge small";
    holding.readings = {28, 31, 29.5};
    holding.date = "2026-11-20";
    holding.note = "new parts";
    model::Series worn = holding;
    worn.id = {"m5"};
    worn.moves = {0, 100, 200};
    const auto text = files::writeWorkshop({holding, worn});
    const auto read = must(files::parseWorkshop(text));
    ASSERT_EQ(read.size(), 2U);
    EXPECT_EQ(read[0].readings, holding.readings);
    EXPECT_EQ(read[0].note, "new parts");
    EXPECT_EQ(read[1].moves, worn.moves);
    EXPECT_EQ(files::writeWorkshop(read), text);
    EXPECT_EQ(files::parseWorkshop("{").error().code, "file.syntax");
    EXPECT_EQ(files::parseWorkshop(R"({ "format": "ivrant-brief", "version": 1, "measured": [] })").error().code,
              "file.format");
    const auto wrong = files::parseWorkshop(
        R"({ "format": "ivrant-workshop", "version": 1, "measured": [ { "quantity": "luck" } ] })");
    ASSERT_FALSE(wrong.ok());
    EXPECT_EQ(wrong.error().place.substr(0, 11), "/measured/0");
    EXPECT_EQ(files::loadWorkshop("/nowhere/workshop.json").error().code, "file.open");
    EXPECT_EQ(files::loadBrief("/nowhere/family.json").error().code, "file.open");
}
