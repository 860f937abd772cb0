// SPDX-License-Identifier: GPL-3.0-or-later
// Strings, bands and springs against hand arithmetic: triangles, laws, statics, energy; what is judged of them and
// mended; words and files.
#include <cmath>
#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/files/project_file.h"
#include "core/files/results_lines.h"
#include "core/files/sheet_lines.h"
#include "core/model/edits_options.h"
#include "core/model/mass.h"
#include "core/model/variants.h"
#include "core/pose/lines.h"
#include "core/pose/loop_loads.h"
#include "core/pose/stance.h"
#include "core/script/line_command.h"
#include "core/script/script.h"
#include "core/script/script_export.h"
#include "core/study/drive_inputs.h"
#include "core/study/motion.h"
#include "core/study/stand_cases.h"
#include "core/study/strands.h"
#include "core/verdict/mends.h"
#include "tests/support/linkages.h"
#include "tests/support/repo.h"
#include "tests/support/reports.h"

using namespace ivrant;
using geometry::Vec3;
using test::must;

namespace {

constexpr double kArmMm = 32, kBaseMm = 64, kAsideMm = 8; ///< between the beams' middles

/// An arm of 40 mm on one end of a lying beam, pinned with friction; lines go from its fifth hole to the other end.
/// At value v it stands at 90° − v above the beam.
struct Gate : test::Linkage {
    model::PartId base, arm;
    explicit Gate(double value = 30) {
        base = put(0, "beam 9 at 0 0 0");
        arm = put(1, "beam 5 at 0 0 0");
        tie(0, 0, arm, "hole 0 back", value);
        project = must(model::addPose(project, "Held", {}, {model::Stance::Kind::Held, project.sections[0]->id, {}}));
    }
    model::Line line(model::LineKind kind, const std::string& name = "Line") const {
        model::Line one;
        one.kind = kind;
        one.name = name;
        one.guides = {{arm, "hole 4", 0, 0, false}, {base, "hole 8", 0, 0, false}};
        return one;
    }
    void add(model::Line one) { project = must(model::putLine(project, std::move(one))); }
    [[nodiscard]] static double way(double value) {
        const double angle = base::degToRad(90 - value);
        return std::sqrt(kArmMm * kArmMm + kBaseMm * kBaseMm - 2 * kArmMm * kBaseMm * std::cos(angle) +
                         kAsideMm * kAsideMm);
    }
    /// mm a radian of growing value (the angle falls).
    [[nodiscard]] static double rate(double value) {
        return -kArmMm * kBaseMm * std::sin(base::degToRad(90 - value)) / way(value);
    }
    /// Weight of the arm about its pin, N·mm towards growing values (it falls that way, from upright on).
    [[nodiscard]] double weight(double value) const {
        const auto& part = model::getPart(project, model::PartIndex(project).find(arm));
        return base::weightN(part.massG()) * part.shape->centre.x() * std::cos(base::degToRad(90 - value));
    }
    [[nodiscard]] static double friction() { return parts::findJointKind("ribbed pin")->holdingNmm; }
};

const study::StrandStudy& studyOf(const verdict::Report& report, std::size_t index = 0) { return *report.lines[index]; }

std::vector<verdict::Mend> mendsOf(const verdict::Report& report, const std::string& check) {
    const auto* found = test::findCheck(report, check);
    if (!found) throw std::runtime_error("no verdict of " + check);
    return verdict::listMends(report, *found);
}

} // namespace

TEST(Lines, WayAndRateAreThoseOfTheTriangle) {
    for (const double value : {-20.0, 10.0, 45.0, 80.0}) {
        Gate f(value);
        f.add(f.line(model::LineKind::String));
        const auto tree = f.tree();
        const pose::Lines lines(f.project, tree);
        const auto placed = f.placed();
        const auto state = lines.place(0, placed.X_WS);
        ASSERT_TRUE(state.hasWay());
        EXPECT_NEAR(state.path.lengthMm, Gate::way(value), 1e-9);
        const pose::Kinematics kinematics(f.project, tree);
        const pose::LoopFollower follower(kinematics, pose::planLoops(kinematics, f.values(), {0, 0}));
        const auto speeds = pose::calcSpeeds(kinematics, placed, follower.start(f.values()), 0);
        ASSERT_EQ(lines.calcRates(0, state, speeds).size(), 1U);
        EXPECT_NEAR(lines.calcRates(0, state, speeds)[0], Gate::rate(value), 1e-9);
    }
}

TEST(Lines, LawsAreStraightBetweenPointsAndGoOn) {
    model::Line band;
    band.kind = model::LineKind::Band;
    band.law = {{10, 0.5}, {20, 0.8}};
    EXPECT_DOUBLE_EQ(pose::calcLaw(band, 50, -3).newton, 0) << "slack";
    EXPECT_DOUBLE_EQ(pose::calcLaw(band, 50, 5).newton, 0.25);
    EXPECT_NEAR(pose::calcLaw(band, 50, 15).newton, 0.65, 1e-12);
    EXPECT_FALSE(pose::calcLaw(band, 50, 20).beyond);
    EXPECT_NEAR(pose::calcLaw(band, 50, 30).newton, 1.1, 1e-12);
    EXPECT_TRUE(pose::calcLaw(band, 50, 30).beyond);
    band.law.clear();
    EXPECT_NEAR(pose::calcLaw(band, 50, 50).newton, pose::kBandPullN, 1e-12) << "starting: at twice its length";
    band.kind = model::LineKind::Spring;
    EXPECT_NEAR(pose::calcLaw(band, 50, 4).newton, 4 * pose::kSpringRateN, 1e-12);
}

TEST(Lines, PullsOfAllLinesTogetherMoveNothing) {
    Gate f(35);
    model::Line band = f.line(model::LineKind::Band);
    band.lengthMm = 30;
    band.count = 3;
    f.add(band);
    model::Line spring = f.line(model::LineKind::Spring, "Strut");
    spring.lengthMm = 90;
    f.add(spring);
    const auto pulls = pose::calcLinePulls(f.placed(), f.tree());
    ASSERT_EQ(pulls.size(), 2U);
    EXPECT_GT(pulls[0].force.norm(), 1);
    EXPECT_NEAR((pulls[0].force + pulls[1].force).norm(), 0, 1e-12);
    EXPECT_NEAR((pulls[0].moment + pulls[1].moment).norm(), 0, 1e-9);
}

TEST(Lines, AJointHoldsWeightAndBandTogether) {
    Gate f(50);
    const double bare = f.load().needNmm;
    EXPECT_NEAR(bare, f.weight(50), 1e-9);
    model::Line band = f.line(model::LineKind::Band);
    band.lengthMm = 40;
    band.law = {{10, 0.2}, {100, 2}};
    band.count = 2;
    f.add(band);
    const auto report = test::reportOf(f.project);
    const double pull = 2 * 0.02 * (Gate::way(50) - 40);
    // Weight and band both draw towards growing values, where the way is shorter.
    EXPECT_NEAR(report.poses[0].loads[0].needNmm, f.weight(50) - pull * Gate::rate(50), 1e-9);
    EXPECT_NEAR(report.poses[0].loads[0].carriedG, f.load().carriedG, 1e-9) << "a band carries no weight";
    EXPECT_EQ(report.worst[0].needNmm, 0) << "over a wanted range it is not known with a band across";
}

TEST(Lines, AStringNeedsWhatRaisesTheArmAgainstFriction) {
    Gate f(80);
    model::Line string = f.line(model::LineKind::String);
    string.end = model::LineEnd::Hand;
    string.works = model::Works{f.project.joints[0].id, 80, 20};
    // Growing values shorten the way, so pulling lays the arm down; to raise it it has to be led from behind.
    f.add(string);
    EXPECT_GE(studyOf(test::reportOf(f.project)).wrongWay, 0);
    Gate g(20);
    string = g.line(model::LineKind::String);
    string.end = model::LineEnd::Hand;
    string.works = model::Works{g.project.joints[0].id, 20, 80};
    g.add(string);
    const auto report = test::reportOf(g.project);
    const auto& study = studyOf(report);
    ASSERT_EQ(study.problem, "");
    ASSERT_EQ(study.places.size(), static_cast<std::size_t>(study::kWorkPlaces) + 1);
    EXPECT_NEAR(study.mostTravelMm, Gate::way(20) - Gate::way(80), 1e-9);
    double most = 0;
    for (const auto& place : study.places) {
        const double need = Gate::friction() - g.weight(place.at);
        EXPECT_NEAR(place.needNmm, need, 1e-6);
        EXPECT_NEAR(place.leverMm, -Gate::rate(place.at), 1e-6);
        EXPECT_NEAR(place.knotN, need / -Gate::rate(place.at), 1e-6);
        most = std::max(most, place.pullN);
    }
    EXPECT_DOUBLE_EQ(at(study.places, study.hardest).pullN, most);
    EXPECT_NEAR(study.cutMm, Gate::way(20) + 200, 1e-6) << "two knots and something to hold on to";
}

TEST(Lines, PullGrowsByEToTheFrictionTimesBends) {
    Gate f(20);
    model::Line string = f.line(model::LineKind::String);
    string.guides.insert(string.guides.begin() + 1, {f.base, "hole 4", 0, 0, false});
    string.end = model::LineEnd::Hand;
    string.works = model::Works{f.project.joints[0].id, 20, 60};
    f.add(string);
    const auto report = test::reportOf(f.project);
    const auto& study = studyOf(report);
    ASSERT_EQ(study.problem, "");
    const pose::Lines lines(f.project, report.tree);
    for (const auto& place : study.places) {
        if (place.pullN == 0) continue;
        // Beside the first piece the second one lies along the beam: the bend is the angle between them.
        const double angle = base::degToRad(90 - place.at);
        const Vec3 in(kBaseMm / 2 - kArmMm * std::cos(angle), kAsideMm, -kArmMm * std::sin(angle));
        const double bend = std::acos(in.normalized().x());
        EXPECT_NEAR(place.pullN / place.knotN, std::exp(pose::kStringFriction * bend), 1e-6);
    }
}

TEST(Lines, BandsAreCountedForTheHardestPlace) {
    Gate f(20);
    model::Line band = f.line(model::LineKind::Band);
    band.lengthMm = 28;
    band.law = {{10, 0.2}, {100, 2}};
    band.works = model::Works{f.project.joints[0].id, 20, 80};
    f.add(band);
    const auto report = test::reportOf(f.project);
    const auto& study = studyOf(report);
    double least = 1e9;
    for (int k = 0; k <= study::kWorkPlaces; ++k) {
        const double value = 20 + 60.0 * k / study::kWorkPlaces;
        const double one = 0.02 * std::max(0.0, Gate::way(value) - 28) * -Gate::rate(value);
        const double need = Gate::friction() - f.weight(value);
        if (need > 0) least = std::min(least, one / need);
    }
    const int wanted = static_cast<int>(std::ceil(1 / least));
    ASSERT_GT(wanted, 1);
    EXPECT_EQ(study.needCount, wanted);
    const auto* found = test::findCheck(report, "line");
    ASSERT_TRUE(found);
    EXPECT_EQ(found->state, verdict::State::Fail);
    EXPECT_NEAR(*found->margin, least, 1e-9);
    const auto mends = mendsOf(report, "line");
    ASSERT_FALSE(mends.empty());
    EXPECT_EQ(mends.front().text, "put " + std::to_string(wanted) + " of them side by side");
    const auto mended = test::reportOf(must(mends.front().apply(f.project)));
    EXPECT_NE(test::findCheck(mended, "line")->state, verdict::State::Fail);
    // No number of them helps where it hangs loose.
    band.id = f.project.lines[0].id;
    band.lengthMm = 60;
    f.project = must(model::putLine(f.project, band));
    const auto loose = test::reportOf(f.project);
    EXPECT_EQ(studyOf(loose).needCount, 0);
    EXPECT_NE(test::findCheck(loose, "line")->text.find("hangs loose"), std::string::npos);
}

TEST(Lines, WorkOverAMotionIsWhatWeightsAndBandsStore) {
    Gate f(20);
    model::Line band = f.line(model::LineKind::Band);
    band.lengthMm = 30;
    band.law = {{100, 5}};
    f.add(band);
    model::Motion motion;
    motion.name = "Down";
    motion.joint = f.project.joints[0].id;
    motion.over = model::Travel{20, 80};
    motion.places = 360;
    f.project = must(model::putMotion(f.project, motion));
    const auto report = test::reportOf(f.project);
    const auto& study = *report.motions[0];
    ASSERT_EQ(study.problem, "");
    double work = 0; // trapezes
    for (std::size_t k = 1; k < study.places.size(); ++k)
        work += (study.places[k].gravityNmm + study.places[k - 1].gravityNmm) / 2 *
                base::degToRad(study.places[k].at - study.places[k - 1].at);
    const auto stored = [&](double value) {
        const double stretch = Gate::way(value) - 30;
        const auto& part = model::getPart(f.project, model::PartIndex(f.project).find(f.arm));
        return 0.05 * stretch * stretch / 2 +
               base::weightN(part.massG()) * part.shape->centre.x() * std::sin(base::degToRad(90 - value));
    };
    EXPECT_NEAR(work, stored(80) - stored(20), 0.02);
}

TEST(Lines, ADriveIsAskedForTheBandToo) {
    Gate f(20);
    const auto bare = study::makeLoopLoad(f.placed(), f.tree(), 0);
    EXPECT_FALSE(bare) << "one cosine says it";
    model::Line band = f.line(model::LineKind::Band);
    band.lengthMm = 30;
    f.add(band);
    const auto curve = study::makeLoopLoad(f.placed(), f.tree(), 0);
    ASSERT_TRUE(curve);
    for (std::size_t k = 0; k < curve->at.size(); ++k) {
        const double value = curve->at[k], stretch = Gate::way(value) - 30;
        const double pull = stretch > 0 ? pose::kBandPullN * stretch / 30 : 0;
        EXPECT_NEAR(curve->nmm[k], pull * Gate::rate(value) - f.weight(value), 1e-6);
    }
}

TEST(Lines, ASpringSagsToWhereItBalances) {
    Gate f(10);
    f.project = must(model::addBallast(f.project, f.project.sections[1]->id, {200, {32'000, 0, 0}}));
    model::Line spring = f.line(model::LineKind::Spring);
    spring.lengthMm = 64;
    spring.law = {{1, 0.3}, {30, 9}};
    spring.travelMm = 30;
    spring.works = model::Works{f.project.joints[0].id, 10, 75};
    f.add(spring);
    const auto report = test::reportOf(f.project);
    const auto& study = studyOf(report);
    ASSERT_EQ(study.problem, "");
    ASSERT_TRUE(study.sagAt);
    const double at = *study.sagAt, pressed = 64 - Gate::way(at);
    const double load = f.weight(at) + base::weightN(200) * kArmMm * std::cos(base::degToRad(90 - at));
    EXPECT_GT(pressed, 0);
    EXPECT_NEAR(0.3 * pressed * -Gate::rate(at), load, 0.01) << "it pushes as hard as the weight falls";
    EXPECT_NEAR(study.sagLeftMm, 30 - pressed, 1e-3);
    spring.id = f.project.lines[0].id;
    spring.law = {{1, 0.01}, {30, 0.3}};
    f.project = must(model::putLine(f.project, spring));
    const auto weak = test::reportOf(f.project);
    EXPECT_FALSE(studyOf(weak).sagAt);
    EXPECT_EQ(test::findCheck(weak, "line")->state, verdict::State::Fail);
}

TEST(Lines, AStayThatIsTooShortIsToldAndMadeLonger) {
    Gate f(80);
    model::Line stay = f.line(model::LineKind::String, "Stay");
    stay.lengthMm = std::ceil(Gate::way(80));
    f.add(stay);
    f.project = must(model::addPose(f.project, "Up", {{f.project.joints[0].id, {10}}},
                                    {model::Stance::Kind::Held, f.project.sections[0]->id, {}}));
    const auto report = test::reportOf(f.project);
    const auto* found = test::findCheck(report, "line");
    ASSERT_TRUE(found);
    EXPECT_EQ(found->state, verdict::State::Fail);
    EXPECT_NEAR(found->value, Gate::way(10) - *stay.lengthMm, 1e-9);
    const auto mends = mendsOf(report, "line");
    ASSERT_FALSE(mends.empty());
    const auto mended = test::reportOf(must(mends.front().apply(f.project)));
    EXPECT_EQ(test::findCheck(mended, "line")->state, verdict::State::Good);
}

TEST(Lines, BadLinesAreFindingsOrErrorsWithTheirPlace) {
    Gate f;
    model::Line string = f.line(model::LineKind::String);
    const auto codeOf = [&](const model::Line& line) { return model::putLine(f.project, line).error().code; };
    model::Line one = string;
    one.guides.pop_back();
    EXPECT_EQ(codeOf(one), "line.guides");
    one = string;
    one.guides[1].radiusMm = 3;
    EXPECT_EQ(codeOf(one), "line.side") << "a round has a side";
    one.guides[1].side = 1;
    EXPECT_EQ(codeOf(one), "line.side") << "and is no end";
    one = string;
    one.guides[0].port = "nose";
    EXPECT_EQ(codeOf(one), "edit.missing");
    one = string;
    one.lengthMm = 0;
    EXPECT_EQ(codeOf(one), "line.length");
    one = string;
    one.law = {{10, 1}, {5, 2}};
    EXPECT_EQ(codeOf(one), "line.law");
    one = string;
    one.kind = model::LineKind::Band;
    one.end = model::LineEnd::Hand;
    EXPECT_EQ(codeOf(one), "line.end");
    one = string;
    one.works = model::Works{{"nobody"}, 0, 1};
    EXPECT_EQ(codeOf(one), "edit.missing");
    one = string;
    one.works = model::Works{f.project.joints[0].id, NAN, 1};
    EXPECT_EQ(codeOf(one), "line.works");
    f.add(string);
    // A part that is gone is no error of the project: the line tells it.
    auto gone = f.project;
    gone.lines[0].guides[1].part.text = "p999";
    const auto report = test::reportOf(gone);
    EXPECT_EQ(studyOf(report).code, "line.part");
    EXPECT_EQ(test::findCheck(report, "line")->state, verdict::State::Fail);
    EXPECT_NE(test::findCheck(report, "line")->detail.find("guide 2"), std::string::npos);
}

TEST(Lines, TieAModuleToTheRest) {
    Gate f;
    model::Module arm;
    arm.name = "Arm";
    arm.sections = {f.project.sections[1]->id};
    f.project = must(model::putModule(f.project, arm));
    EXPECT_FALSE(test::findCheck(test::reportOf(f.project), "module-line"));
    f.add(f.line(model::LineKind::String, "Halyard"));
    const auto report = test::reportOf(f.project);
    const auto* tied = test::findCheck(report, "module-line");
    ASSERT_TRUE(tied);
    EXPECT_EQ(tied->state, verdict::State::Fail);
    EXPECT_NE(tied->detail.find("Halyard"), std::string::npos);
    // A line within it goes along.
    auto own = f.project;
    own.lines[0].guides[1] = {f.arm, "hole 0", 0, 0, false};
    EXPECT_FALSE(test::findCheck(test::reportOf(own), "module-line"));
}

TEST(Lines, WaitWithAGuideThatIsNotChosen) {
    Gate f;
    const auto eye = f.put(0, "eye plate at 3 3 1");
    model::Line string = f.line(model::LineKind::String);
    string.guides[1] = {eye, "eye", 0, 0, false};
    f.add(string);
    f.project = must(model::addOption(f.project, "Eye", "with", std::vector{eye}));
    ASSERT_EQ(studyOf(test::reportOf(f.project)).problem, "");
    f.project = must(model::chooseAlternative(f.project, f.project.options.list[0].alternatives[1].id));
    const auto report = test::reportOf(f.project);
    EXPECT_EQ(studyOf(report).code, "line.waits");
    EXPECT_EQ(test::findCheck(report, "line")->state, verdict::State::Note);
    f.project = must(model::chooseAlternative(f.project, f.project.options.list[0].alternatives[0].id));
    EXPECT_EQ(studyOf(test::reportOf(f.project)).problem, "") << "and is back with it";
}

TEST(Lines, FileAndScriptKeepThemWhole) {
    Gate f;
    model::Line one = f.line(model::LineKind::Band, "A \"stiff\" band");
    one.guides.insert(one.guides.begin() + 1, {f.base, "hole 4", 2.5, -1, true});
    one.lengthMm = 30.5;
    one.count = 3;
    one.law = {{10, 0.25}, {22.5, 1}};
    one.works = model::Works{f.project.joints[0].id, 35, -5};
    f.add(one);
    model::Line drum = f.line(model::LineKind::String, "Hoist");
    drum.end = model::LineEnd::Drum;
    drum.guides.back() = {f.base, "hole 6", 4, 1, false};
    f.add(drum);
    model::Line strut = f.line(model::LineKind::Spring, "Strut");
    strut.travelMm = 12;
    strut.lengthMm = 70;
    f.add(strut);
    const auto again = must(files::parseProject(files::writeProject(f.project)));
    ASSERT_EQ(again.lines.size(), 3U);
    for (std::size_t i = 0; i < 3; ++i) {
        const model::Line &l = f.project.lines[i], &r = again.lines[i];
        EXPECT_TRUE(l.id == r.id && l.name == r.name && l.kind == r.kind && l.guides == r.guides && l.end == r.end &&
                    l.closed == r.closed && l.lengthMm == r.lengthMm && l.count == r.count && l.law == r.law &&
                    l.travelMm == r.travelMm && l.works == r.works)
            << i;
        // And as words, but for the quotation marks in its name.
        const auto typed = must(script::parseLine(f.project, script::writeLine(f.project, l)));
        EXPECT_TRUE(l.kind == typed.kind && l.guides == typed.guides && l.end == typed.end &&
                    l.lengthMm == typed.lengthMm && l.count == typed.count && l.law == typed.law &&
                    l.travelMm == typed.travelMm && l.works == typed.works)
            << script::writeLine(f.project, l);
    }
    const auto built = must(script::runScript(script::writeScript(f.project)));
    ASSERT_EQ(built.lines.size(), 3U);
    EXPECT_EQ(built.lines[0].law, f.project.lines[0].law);
}

TEST(Lines, TypedWordsSayWhatIsMissing) {
    Gate f;
    const auto codeOf = [&](const std::string& text) {
        const auto line = script::parseLine(f.project, text);
        return line ? std::string("none") : line.error().code + ": " + line.error().message;
    };
    const std::string arm = f.arm.text, base = f.base.text;
    EXPECT_EQ(codeOf("string S from " + arm + " hole 4 to " + base + " hole 8"), "none");
    EXPECT_EQ(codeOf("rope S from a b to c d").substr(0, 12), "script.word:");
    EXPECT_NE(codeOf("string S from " + arm + " hole 4").find("second guide"), std::string::npos);
    EXPECT_NE(codeOf("string S from " + arm + " hole 4 through " + base + " hole 8").find("where it ends"),
              std::string::npos);
    EXPECT_NE(codeOf("string S from " + arm + " hole 44 to " + base + " hole 8").find("no port 'hole 44'"),
              std::string::npos);
    EXPECT_NE(codeOf("string S from p99 hole 4 to " + base + " hole 8").find("no part 'p99'"), std::string::npos);
    EXPECT_NE(codeOf("band B round " + arm + " hole 4 round " + base + " hole 8").find("'radius'"), std::string::npos);
    // A band keeps the length that it was put on with, however the model is posed later.
    const auto band = must(script::parseLine(f.project, "band B from " + arm + " hole 4 to " + base + " hole 8"));
    ASSERT_TRUE(band.lengthMm);
    EXPECT_NEAR(*band.lengthMm, Gate::way(30), 0.051);
    // A loop round two pins turns the same way about both.
    const auto loop = must(script::parseLine(f.project, "band B round " + arm + " hole 4 radius 2.4 round " + base +
                                                            " hole 8 radius 2.4 count 2"));
    EXPECT_TRUE(loop.closed);
    f.add(loop);
    const auto tree = f.tree();
    const pose::Lines lines(f.project, tree);
    const auto state = lines.place(0, f.placed().X_WS);
    ASSERT_TRUE(state.hasWay()) << state.code;
    const double plane = std::sqrt(Gate::way(30) * Gate::way(30) - kAsideMm * kAsideMm);
    EXPECT_NEAR(state.path.lengthMm, 2 * plane + 2 * base::kPi * 2.4, 1e-6);
}

TEST(Lines, TheHeronsBeakFailsAndIsMended) {
    auto project = must(files::loadProject(test::repo("/data/demo/heron-beak.ivrant")));
    auto report = test::reportOf(project);
    ASSERT_EQ(report.lines.size(), 2U);
    const auto* along = test::findCheck(report, "line-along");
    ASSERT_TRUE(along);
    EXPECT_EQ(along->state, verdict::State::Fail) << "bending the neck opens the beak";
    const auto mends = mendsOf(report, "line-along");
    const auto out = std::find_if(mends.begin(), mends.end(),
                                  [](const verdict::Mend& m) { return m.text.starts_with("let it out"); });
    ASSERT_NE(out, mends.end());
    project = must(out->apply(project));
    report = test::reportOf(project);
    EXPECT_EQ(test::findCheck(report, "line-along")->state, verdict::State::Good);
    for (const auto& one : studyOf(report).poses) EXPECT_NEAR(one.pulledDeg.value_or(9), 0, 1e-6);
    const auto sheet = files::listSheetLines(report);
    ASSERT_EQ(sheet.size(), 2U);
    EXPECT_EQ(sheet[0].guides.size(), 9U);
    const auto json = files::makeLinesJson(report, true);
    EXPECT_EQ(json["ivrant"], "strands");
    EXPECT_EQ(json["lines"][0]["poses"].size(), report.poses.size());
    EXPECT_EQ(json["lines"][0]["places"].size(), studyOf(report).places.size());
}

TEST(Lines, PulledBondsBalanceByHand) {
    // Two bricks on one stud, the upper one pulled straight up by a band with more than a stud holds.
    test::Figure f;
    const auto low = f.put(0, "plate 4x4 at 0 0 0"), high = f.put(0, "round brick 1x1 at 0 0 1");
    const auto arch = f.put(0, "brick 1x1 at 3 3 1");
    (void)low;
    (void)arch;
    stand::StandCase pulled;
    pulled.strapped = true; // else all of it is lifted
    const auto report = test::reportOf(f.project);
    const auto spot = model::PartIndex(f.project).find(high);
    const auto solve = [&](double newton) {
        pulled.pulls = {{spot, {0, 0, 10}, {0, 0, newton}}};
        return must(study::calcStandCase(report, report.present, pulled, {})).equilibrium;
    };
    const double stud = study::calcBondLimits(report).studPull.value;
    EXPECT_TRUE(solve(0.8 * stud).stands);
    EXPECT_FALSE(solve(1.5 * stud).stands);
}
