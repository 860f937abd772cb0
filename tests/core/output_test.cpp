// SPDX-License-Identifier: GPL-3.0-or-later
// What leaves the program: results as JSON, content of the sheets, parts lists, undo, guards.
#include <random>

#include "core/base/at.h"
#include "core/files/results_json.h"

#include "core/files/json_guard.h"
#include "core/files/mesh_files.h"
#include "core/files/parts_csv.h"
#include "core/files/project_file.h"
#include "core/files/sheet_content.h"
#include "core/make/steps.h"
#include "core/model/history.h"
#include "tests/support/figures.h"
#include "tests/support/near.h"
#include "tests/support/repo.h"

using namespace ivrant;
using test::Figure;
using test::must;

namespace {

verdict::Report demoReport(const char* name) {
    return verdict::calcReport(std::make_shared<const model::Project>(
        must(files::loadProject(test::repo(std::string("/data/demo/") + name + ".ivrant")))));
}

/// A swivel head of 20 g on a foot.
Figure head() {
    Figure f;
    f.put(0, "plate 4x4 at 0 0 0");
    const auto base = f.put(0, "round plate 1x1 at 1 1 1");
    const auto head = f.put(1, "brick 2x2 at 0 0 0");
    f.project = must(model::weighParts(f.project, std::array{head}, 20));
    f.join("one-stud swivel", base, "stud 0,0", head, "tube 0,0", {0}, {{-90, 90}});
    return f;
}

} // namespace

TEST(RangeJson, EndlessFreedomsSaySo) {
    const auto report = verdict::calcReport(std::make_shared<const model::Project>(head().project));
    const auto json = files::makeRangeJson(report, report.present, std::nullopt);
    const auto& freedom = json["joints"][0]["freedoms"][0];
    EXPECT_TRUE(freedom["own"].is_null());
    EXPECT_EQ(freedom["endless"], true);
    EXPECT_EQ(freedom["free"], (model::Json{-180.0, 180.0}));
    EXPECT_EQ(freedom["stops"]["low"]["by"], "none");
    EXPECT_EQ(freedom["wanted"], (model::Json{-90.0, 90.0}));
}

TEST(RangeJson, OneJointAloneCanBeAskedFor) {
    const auto report = demoReport("heron");
    const auto& joint = report.project->joints[4];
    const auto json = files::makeRangeJson(report, report.poses[1], joint.id);
    ASSERT_EQ(json["joints"].size(), 1U);
    EXPECT_EQ(json["joints"][0]["id"], joint.id.text);
    EXPECT_EQ(json["pose"], "Reach");
    EXPECT_EQ(json["joints"][0]["freedoms"].size(), static_cast<std::size_t>(joint.kind->freedomCount()));
}

TEST(HoldJson, HasMassCentreTipAndSupport) {
    const auto report = verdict::calcReport(std::make_shared<const model::Project>(head().project));
    const auto json = files::makeHoldJson(report, report.present);
    EXPECT_EQ(json["ivrant"], "hold");
    const double plates = must(parts::makeShape("plate 4x4"))->massG + must(parts::makeShape("round plate 1x1"))->massG;
    EXPECT_NEAR(json["mass_g"].get<double>(), 20 + plates, 1e-3);
    // The support is the plate's underside, inset by 0.1 mm: from −3.9 to 27.9.
    ASSERT_EQ(json["support_mm"].size(), 4U);
    for (const auto& p : json["support_mm"])
        for (const auto& c : p)
            EXPECT_TRUE(std::abs(c.get<double>() + 3.9) < 1e-3 || std::abs(c.get<double>() - 27.9) < 1e-3);
    EXPECT_GT(json["tip"]["angle_deg"].get<double>(), 0);
    EXPECT_EQ(json["joints"][0]["pull_limit_n"], 1.5);
    EXPECT_NEAR(json["joints"][0]["carried_g"].get<double>(), 20, 1e-3);
}

TEST(HoldJson, HeldPosesHaveNoTip) {
    Figure f = head();
    f.project = must(model::addPose(f.project, "In the air", {}, model::Stance{}));
    const auto report = verdict::calcReport(std::make_shared<const model::Project>(f.project));
    EXPECT_TRUE(files::makeHoldJson(report, report.poses[0])["tip"].is_null());
    for (const auto& v : report.verdicts) EXPECT_NE(v.check, "tip");
}

TEST(HoldJson, WorstNamesThePoseThatAsksMost) {
    const auto report = demoReport("heron");
    const auto worst = files::makeWorstHoldJson(report);
    ASSERT_EQ(worst["joints"].size(), report.project->joints.size());
    for (std::size_t j = 0; j < report.project->joints.size(); ++j)
        for (const auto& pose : report.poses)
            EXPECT_LE(pose.loads[j].needNmm, worst["joints"][j]["need_nmm"].get<double>() + 1e-3);
}

TEST(CheckJson, EveryVerdictIsWholeAndIdsAreUnique) {
    for (const char* name : {"heron", "fairgoer-captain", "fairgoer-baker", "fairgoer-fisher", "fairgoer-keeper"}) {
        const auto json = files::makeCheckJson(demoReport(name));
        std::set<std::string> ids;
        int fail = 0;
        for (const auto& v : json["verdicts"]) {
            EXPECT_TRUE(ids.insert(v["id"].get<std::string>()).second) << v["id"];
            EXPECT_TRUE(v["id"].get<std::string>().starts_with(v["check"].get<std::string>() + "/"));
            const auto state = v["state"].get<std::string>();
            EXPECT_TRUE(state == "fail" || state == "thin" || state == "good" || state == "note");
            EXPECT_FALSE(v["text"].get<std::string>().empty());
            EXPECT_TRUE(v["margin"].is_null() || v["margin"].is_number());
            fail += state == "fail" ? 1 : 0;
        }
        EXPECT_EQ(json["summary"]["fail"], fail) << name;
    }
}

TEST(CheckJson, ParsesBackFromItsText) {
    const auto json = files::makeCheckJson(demoReport("fairgoer-keeper"));
    EXPECT_EQ(model::Json::parse(json.dump()), json);
}

TEST(StepsJson, EveryPartIsAddedOnce) {
    const auto heron = must(files::loadProject(test::repo("/data/demo/heron.ivrant")));
    const auto json = files::makeStepsJson(heron, must(model::makeTree(heron)));
    std::set<std::string> seen, joints;
    for (const auto& step : json["steps"]) {
        for (const auto& part : step["added"]) EXPECT_TRUE(seen.insert(part.get<std::string>()).second);
        if (step["joint"].is_null()) continue;
        EXPECT_TRUE(joints.insert(step["joint"].get<std::string>()).second);
    }
    EXPECT_EQ(seen.size(), heron.partCount());
    EXPECT_EQ(joints.size(), heron.joints.size()) << "every joint is hung on in some step";
}

TEST(Sheet, SaysWhatTheVerdictsSay) {
    const auto report = demoReport("heron");
    const auto content = files::makeSheetContent(report);
    EXPECT_EQ(content.title, "Heron");
    EXPECT_EQ(content.joints.size(), report.project->joints.size());
    EXPECT_EQ(static_cast<int>(content.verdicts.size()), content.summary.fail + content.summary.thin)
        << "what passes is counted, not listed";
    EXPECT_EQ(content.passing, std::to_string(content.summary.good) + " findings pass.");
    for (std::size_t i = 1; i < content.verdicts.size(); ++i)
        EXPECT_LE(static_cast<int>(content.verdicts[i - 1].state), static_cast<int>(content.verdicts[i].state))
            << "worst first";
    int parts = 0;
    for (const auto& line : content.parts) parts += line.count;
    EXPECT_EQ(parts, static_cast<int>(report.project->partCount()));
    const auto figure = [&](const std::string& name) {
        for (const auto& [key, value] : content.figures)
            if (key == name) return value;
        return std::string();
    };
    EXPECT_EQ(figure("Parts"), std::to_string(report.project->partCount()));
    EXPECT_NE(figure("Mass").find("not weighed"), std::string::npos);
    EXPECT_NE(content.basisNote.find("60 %"), std::string::npos);
    EXPECT_NE(figure("Height").find("mm"), std::string::npos);
    EXPECT_NE(files::makeSheetContent(report, base::LengthUnit::Studs).figures[2].second.find("studs"),
              std::string::npos);
}

TEST(Sheet, CautionsAppearWhereTheyAreDue) {
    const auto has = [](const std::vector<std::string>& list, const char* word) {
        return std::any_of(list.begin(), list.end(),
                           [&](const auto& text) { return text.find(word) != std::string::npos; });
    };
    const auto listed = [](const model::Project& project) {
        return files::listCautions(verdict::calcReport(std::make_shared<const model::Project>(project)));
    };
    Figure f;
    EXPECT_TRUE(listed(f.project).empty()) << "nothing to swallow yet";
    f.put(0, "plate 4x4 at 0 0 0");
    EXPECT_TRUE(has(listed(f.project), "Small parts"));
    EXPECT_FALSE(has(listed(f.project), "Heavy"));
    EXPECT_FALSE(has(listed(f.project), "Ballast"));
    model::Ballast ballast;
    ballast.massG = 11'000;
    ballast.atUm = {12000, 12000, 1000};
    f.project = must(model::addBallast(f.project, f.project.sections[0]->id, ballast));
    EXPECT_TRUE(has(listed(f.project), "Heavy"));
    EXPECT_TRUE(has(listed(f.project), "two people"));
    EXPECT_TRUE(has(listed(f.project), "Ballast"));
    f.project = must(model::clearBallast(f.project, f.project.sections[0]->id));
    // The weight 3.9 mm inside the edge and about 27 mm up: atan(3.9 / 27) = 8.2°, less with its stud; the next brick
    // makes it fall short.
    for (const char* brick : {"brick 1x1 at 3 3 1", "brick 1x1 at 3 3 4", "brick 1x1 at 3 3 7"}) f.put(0, brick);
    const auto post = f.put(0, "brick 1x1 at 3 3 10");
    f.project = must(model::weighParts(f.project, std::array{post}, 500));
    EXPECT_TRUE(has(listed(f.project), "tip over"));
}

TEST(Lists, BallastIsCountedBesideTheParts) {
    Figure f;
    f.put(0, "plate 2x4 kelp at 0 0 0");
    f.put(0, "plate 4x2 kelp at 0 5 0");
    model::Ballast ballast;
    ballast.massG = 12.5;
    f.project = must(model::addBallast(f.project, f.project.sections[0]->id, ballast));
    const auto json = files::makePartsJson(f.project);
    EXPECT_EQ(json["count"], 2);
    ASSERT_EQ(json["parts"].size(), 1U) << "a plate is the same thing turned";
    EXPECT_EQ(json["parts"][0]["count"], 2);
    EXPECT_EQ(json["ballast"][0]["mass_g"], 12.5);
    EXPECT_NEAR(json["mass_g"].get<double>(), 12.5 + 2 * must(parts::makeShape("plate 2x4"))->massG, 1e-3);
    EXPECT_NE(files::makePartsCsv(f.project).find("ballast,"), std::string::npos);
}

TEST(Lists, WeighedPartsSayMeasured) {
    Figure f;
    const auto a = f.put(0, "brick 1x1 at 0 0 0");
    f.project = must(model::weighParts(f.project, std::array{a}, 0.44));
    EXPECT_EQ(files::makePartsJson(f.project)["parts"][0]["basis"], "measured");
    f.put(0, "brick 1x1 at 0 0 3");
    EXPECT_EQ(files::makePartsJson(f.project)["parts"][0]["basis"], "starting") << "one of the two is not weighed";
}

TEST(History, UndoAndRedoWalkTheSnapshots) {
    model::History history(model::makeEmptyProject("0"));
    EXPECT_FALSE(history.canUndo());
    for (int i = 1; i <= 3; ++i)
        history.push("edit " + std::to_string(i), must(model::renameProject(history.current(), std::to_string(i))));
    EXPECT_EQ(history.undoName(), "edit 3");
    history.undo();
    history.undo();
    EXPECT_EQ(history.current().name, "1");
    EXPECT_EQ(history.redoName(), "edit 2");
    history.redo();
    EXPECT_EQ(history.current().name, "2");
    history.push("other", must(model::renameProject(history.current(), "x")));
    EXPECT_FALSE(history.canRedo()) << "a new edit ends what was taken back";
    for (int i = 0; i < 10; ++i) history.undo();
    EXPECT_EQ(history.current().name, "0");
}

TEST(History, KeepsAThousandAndForgetsTheOldest) {
    model::History history(model::makeEmptyProject("0"));
    for (int i = 1; i <= 1500; ++i) history.push("e", must(model::renameProject(history.current(), std::to_string(i))));
    int steps = 0;
    while (history.canUndo()) {
        history.undo();
        ++steps;
    }
    EXPECT_GE(steps, 900);
    EXPECT_LE(steps, 1000);
}

TEST(History, EverySnapshotComesBackAsItWas) {
    // Random edits of several sections, then a random walk: each snapshot is written to the same bytes as when it was
    // made.
    std::mt19937 random(4);
    Figure f;
    for (int i = 0; i < 40; ++i)
        f.put(static_cast<std::size_t>(i % 3), "brick 2x2 at " + std::to_string(3 * i) + " 0 0");
    model::History history(f.project);
    std::vector<std::string> texts{files::writeProject(f.project)};
    for (int i = 0; i < 120; ++i) {
        const auto& now = history.current();
        const auto& section = *now.sections[random() % now.sections.size()];
        std::vector<model::PartId> ids;
        for (const auto& part : section.parts)
            if (random() % 7 == 0) ids.push_back(part.id);
        if (ids.empty()) ids.push_back(section.parts.front().id);
        model::EditResult next = model::renameProject(now, std::to_string(i));
        switch (random() % 5) {
        case 0: next = model::recolourParts(now, ids, static_cast<int>(random() % 5)); break;
        case 1: next = model::moveParts(now, ids, geometry::makeFrame(geometry::Mat3::Identity(), {0, 0, 9.6})); break;
        case 2:
            next = model::duplicateParts(now, ids, geometry::makeFrame(geometry::Mat3::Identity(), {0, 80, 0}));
            break;
        case 3:
            if (section.parts.size() > ids.size() + 2) next = model::removeParts(now, ids);
            break;
        default: break;
        }
        history.push("edit", must(next));
        texts.push_back(files::writeProject(history.current()));
    }
    std::size_t at = texts.size() - 1;
    for (int walk = 0; walk < 1000; ++walk) {
        const bool back = random() % 2 == 0;
        if (back && history.canUndo()) {
            history.undo();
            --at;
        } else if (!back && history.canRedo()) {
            history.redo();
            ++at;
        }
        if (walk % 10 == 0) {
            ASSERT_EQ(files::writeProject(history.current()), texts[at]) << walk;
        }
    }
}

TEST(History, GrowsByWhatChangesNotByTheModel) {
    Figure f;
    f.put(0, "brick 1x1 at 0 0 0");
    std::vector<model::NewPart> parts(2000);
    for (std::size_t i = 0; i < parts.size(); ++i) {
        parts[i].shape = must(parts::makeShape("brick 1x1"));
        parts[i].place.atUm = {static_cast<std::int64_t>(i + 1) * 8000, 0, 0};
    }
    model::History history(must(model::addParts(f.project, f.project.sections[0]->id, parts)));
    for (int i = 0; i < 500; ++i) {
        const std::vector ids{ivrant::at(history.current().sections[0]->parts, i).id};
        history.push("recolour", must(model::recolourParts(history.current(), ids, 1 + i % 3)));
    }
    EXPECT_LT(history.bytes(), 500 * 8192U) << "some kilobytes an edit, not a copy of 2,000 parts";
    EXPECT_EQ(history.forgotten(), 0U);
    for (int i = 0; i < 1200; ++i)
        history.push("rename", must(model::renameProject(history.current(), std::to_string(i))));
    EXPECT_EQ(history.forgotten(), 1701 - model::History::kMost);
}

TEST(Guard, CountsWithoutBuilding) {
    EXPECT_TRUE(files::guardJson("{\"a\": [1, 2, {\"b\": \"]]]}}}[[[\"}]}"));
    EXPECT_TRUE(files::guardJson("\"\\\"[[[[\"")) << "brackets in texts do not count";
    EXPECT_EQ(files::guardJson(std::string(65, '[')).error().code, "file.depth");
    EXPECT_TRUE(files::guardJson(std::string(64, '[')));
    EXPECT_TRUE(files::guardJson(""));
}

TEST(Meshes, StlTrianglesFaceOutwards) {
    // The volume from the divergence theorem, Σ a·(b × c) / 6 over the triangles, is positive and that of the drawn
    // solids.
    Figure f;
    f.put(0, "tile 2x3 at 0 0 0");
    const auto stl = files::makeStl(f.placed());
    std::uint32_t count = 0;
    std::memcpy(&count, stl.data() + 80, 4);
    double volume = 0;
    for (std::uint32_t t = 0; t < count; ++t) {
        float v[12];
        std::memcpy(v, stl.data() + 84 + 50 * t, sizeof v);
        const geometry::Vec3 a(v[3], v[4], v[5]), b(v[6], v[7], v[8]), c(v[9], v[10], v[11]);
        volume += a.dot(b.cross(c)) / 6;
        EXPECT_GT((b - a).cross(c - a).dot(geometry::Vec3(v[0], v[1], v[2])), 0) << "the stored normal agrees";
    }
    EXPECT_NEAR(volume, 16 * 24 * 3.2, 0.01);
}
