// SPDX-License-Identifier: GPL-3.0-or-later
// Asks as sentences and as verdicts, patterns, contradictions, shared briefs; scale and offsets by hand.
#include "core/base/units.h"
#include "core/brief/measures.h"
#include "core/brief/offset.h"
#include "core/brief/scale.h"
#include "core/files/brief_file.h"
#include "core/files/project_file.h"
#include "core/verdict/asks/asks.h"
#include "core/verdict/report.h"
#include "tests/support/figures.h"
#include "tests/support/linkages.h"
#include "tests/support/near.h"
#include "tests/support/repo.h"

using namespace ivrant;
using model::Ask;
using model::Comparison;
using test::must;

namespace {

Ask makeAsk(const std::string& measure, Comparison comparison, double value, const std::string& joint = "") {
    Ask ask;
    ask.measure = measure;
    ask.comparison = comparison;
    ask.value = value;
    ask.joint = joint;
    return ask;
}

struct Asked {
    verdict::Report report;
    explicit Asked(model::Project p)
        : report(verdict::calcReport(std::make_shared<const model::Project>(std::move(p)))) {}
    [[nodiscard]] std::vector<verdict::AskResult> measure(const Ask& ask) const {
        return verdict::measureAsks(report, {ask});
    }
    [[nodiscard]] double value(const Ask& ask) const {
        const auto results = measure(ask);
        if (results.empty() || !results.front().value)
            throw std::runtime_error("not measured: " + (results.empty() ? "" : results.front().problem));
        return *results.front().value;
    }
};

Asked makeGate() { return Asked(must(files::loadProject(test::repo("/tests/fixtures/gate_arm.ivrant")))); }

} // namespace

TEST(Asks, SentencesReadLikeSentences) {
    auto ask = makeAsk("hold-margin", Comparison::AtLeast, 1.5, "Gate");
    ask.pose = "Up";
    EXPECT_EQ(brief::composeSentence(ask), "The holding margin of Gate must be at least 1.5 in Up.");
    auto wish = makeAsk("mass", Comparison::AtMost, 120);
    wish.must = false;
    EXPECT_EQ(brief::composeSentence(wish), "The weight should be at most 120 g.");
    EXPECT_EQ(brief::composeSentence(makeAsk("range-total", Comparison::AtLeast, 90, "Gate")),
              "The free range of Gate must be at least 90°.");
}

TEST(Asks, ThereAreEnoughMeasuresAndEachIsWhole) {
    EXPECT_GE(brief::getMeasures().size(), 20U);
    std::set<std::string_view> keys;
    for (const auto& m : brief::getMeasures()) {
        EXPECT_TRUE(keys.insert(m.key).second) << m.key;
        EXPECT_FALSE(m.words.empty() || m.about.empty()) << m.key;
        EXPECT_EQ(m.words.find("{joint}") != m.words.npos, m.joint == brief::Need::Must) << m.key;
    }
}

/// Those of functions on the swing bridge, of motions on the crab's leg, of lines on the heron's beak, all others on
/// the heron.
TEST(Asks, EveryMeasureMeasuresSomethingOnTheDemo) {
    const auto load = [](const char* file) {
        return Asked(must(files::loadProject(test::repo(std::string("/data/demo/") + file))));
    };
    const Asked heron = load("heron.ivrant"), bridge = load("bridge.ivrant"), leg = load("crab-leg.ivrant"),
                beak = load("heron-beak.ivrant");
    test::Treader treader;
    treader.project = must(model::renameJoint(treader.project, treader.project.joints[0].id, "Crank"));
    model::Motion walking;
    walking.name = "Walking";
    walking.joint = treader.project.joints[0].id;
    walking.feet = {treader.project.sections[3]->id, treader.project.sections[4]->id};
    const Asked walker(must(model::putMotion(treader.project, walking)));
    const std::set<std::string_view> ofWalks{"stride", "walk-tip", "walk-slip"};
    const std::set<std::string_view> ofLines{"line-pull", "line-along", "band-help"};
    const std::set<std::string_view> ofMotions{"transmission", "motion-torque", "path-width", "path-height"};
    for (const auto& m : brief::getMeasures()) {
        Ask ask = makeAsk(std::string(m.key), Comparison::AtLeast, 1);
        if (m.joint == brief::Need::Must) ask.joint = "Neck 1";
        if (m.other == brief::Need::Must) ask.other = "Head";
        if (m.section == brief::Need::Must) ask.section = "Body";
        if (m.shape == brief::Need::Must) ask.shape = "plate 4x10";
        if (m.function == brief::Need::Must) ask.function = "Span lift";
        if (m.ofWord) ask.word = "stepped*";
        if (ofMotions.count(m.key) > 0 || ofWalks.count(m.key) > 0) ask.joint = "Crank";
        if (ofLines.count(m.key) > 0) ask.joint = "Beak";
        const Asked& asked = m.function == brief::Need::Must ? bridge
                             : ofMotions.count(m.key) > 0    ? leg
                             : ofLines.count(m.key) > 0      ? beak
                             : ofWalks.count(m.key) > 0      ? walker
                                                             : heron;
        const auto results = asked.measure(ask);
        ASSERT_EQ(results.size(), 1U) << m.key;
        EXPECT_TRUE(results[0].problem.empty()) << m.key << ": " << results[0].problem;
        EXPECT_TRUE(results[0].value.has_value() != m.ofWord) << m.key;
    }
}

TEST(Asks, ValuesByHand) {
    const Asked gate = makeGate();
    EXPECT_EQ(gate.value(makeAsk("parts", Comparison::AtLeast, 1)), 4);
    EXPECT_EQ(gate.value(makeAsk("joints", Comparison::AtLeast, 1)), 1);
    EXPECT_EQ(gate.value(makeAsk("colours", Comparison::AtLeast, 1)), 2);
    // Arm down: highest is the stud of the brick 1x6: plate 3.2 + its hinge's plate 3.2 and 3.2 axis height above… the
    // arm's frame: the axis is 3.2 over both undersides, so the arm's underside is level with the fork's at 3.2; brick
    // on the tongue's top: 3.2 + 3.2 + 9.6 + 1.7.
    auto height = makeAsk("height", Comparison::AtLeast, 1);
    height.pose = "Down";
    EXPECT_NEAR(gate.value(height), 3.2 + 3.2 + 9.6 + 1.7, 1e-6);
    // Without a pose the comparison decides which of both counts: up, the arm stands on end.
    EXPECT_NEAR(gate.value(makeAsk("height", Comparison::AtLeast, 1)), 17.7, 1e-6);
    EXPECT_GT(gate.value(makeAsk("height", Comparison::AtMost, 1)), 40);
    EXPECT_NEAR(gate.value(makeAsk("play", Comparison::AtMost, 2, "Gate")), 1.0, test::kRounding);
}

TEST(Asks, PassFailMarginAndWish) {
    const Asked gate = makeGate();
    const auto fails = gate.measure(makeAsk("parts", Comparison::AtMost, 3))[0];
    EXPECT_FALSE(fails.passes);
    EXPECT_NEAR(*fails.margin, 3.0 / 4, test::kRounding);
    EXPECT_TRUE(gate.measure(makeAsk("parts", Comparison::Equal, 4))[0].passes);
    auto wish = makeAsk("parts", Comparison::AtMost, 3);
    wish.must = false;
    const auto verdicts = verdict::makeAskVerdicts(gate.report, {wish}, verdict::measureAsks(gate.report, {wish}));
    EXPECT_EQ(verdicts[0].state, verdict::State::Thin);
    EXPECT_EQ(verdicts[0].station, verdict::Station::Brief);
}

TEST(Asks, PatternsNameSeveralAndEachIsMeasured) {
    const Asked heron(must(files::loadProject(test::repo("/data/demo/heron.ivrant"))));
    Ask kinds = makeAsk("joint-kind", Comparison::AtLeast, 0, "Neck*");
    kinds.word = "stepped hinge*";
    const auto results = heron.measure(kinds);
    ASSERT_EQ(results.size(), 6U);
    EXPECT_EQ(std::count_if(results.begin(), results.end(), [](const auto& r) { return r.passes; }),
              4); // two balls near the head
    const auto verdicts = verdict::makeAskVerdicts(heron.report, {kinds}, results);
    std::set<std::string> ids;
    for (const auto& v : verdicts) EXPECT_TRUE(ids.insert(v.id).second) << v.id;
    EXPECT_TRUE(brief::matchesPattern("*ball*", "small ball and cup"));
    EXPECT_TRUE(brief::matchesPattern("NECK 1", "Neck 1"));
    EXPECT_FALSE(brief::matchesPattern("Neck", "Neck 1"));
    EXPECT_TRUE(brief::matchesPattern("a*b*c", "aXbYbZc"));
    EXPECT_FALSE(brief::matchesPattern("a*b*c", "aXbYbZ"));
}

TEST(Asks, WhatIsNotThereIsSaid) {
    const Asked gate = makeGate();
    EXPECT_NE(gate.measure(makeAsk("hold-margin", Comparison::AtLeast, 1, "Elbow"))[0].problem.find("Elbow"),
              std::string::npos);
    EXPECT_FALSE(gate.measure(makeAsk("hold-margin", Comparison::AtLeast, 1))[0].problem.empty()); // needs a joint
    EXPECT_FALSE(gate.measure(makeAsk("beauty", Comparison::AtLeast, 1))[0].problem.empty());
    auto pose = makeAsk("tip-angle", Comparison::AtLeast, 1);
    pose.pose = "Asleep";
    EXPECT_FALSE(gate.measure(pose)[0].problem.empty());
    EXPECT_FALSE(gate.measure(pose)[0].passes);
}

TEST(Asks, ContradictionsAreFindings) {
    const auto low = makeAsk("mass", Comparison::AtMost, 100), high = makeAsk("mass", Comparison::AtLeast, 120),
               fine = makeAsk("mass", Comparison::AtLeast, 80);
    EXPECT_TRUE(brief::isContradicting(low, high));
    EXPECT_FALSE(brief::isContradicting(low, fine));
    EXPECT_FALSE(brief::isContradicting(low, makeAsk("height", Comparison::AtLeast, 120)));
    EXPECT_TRUE(brief::isContradicting(makeAsk("mass", Comparison::Equal, 5), makeAsk("mass", Comparison::Equal, 6)));
    const Asked gate = makeGate();
    const std::vector<Ask> asks{low, high};
    const auto verdicts = verdict::makeAskVerdicts(gate.report, asks, verdict::measureAsks(gate.report, asks));
    EXPECT_EQ(std::count_if(verdicts.begin(), verdicts.end(), [](const auto& v) { return v.check == "ask-conflict"; }),
              1);
}

TEST(Asks, TheProjectsOwnBecomeVerdictsAndShowingCounts) {
    auto project = must(files::loadProject(test::repo("/tests/fixtures/gate_arm.ivrant")));
    const auto find = [](const verdict::Report& r, const std::string& check) {
        return static_cast<int>(std::count_if(r.verdicts.begin(), r.verdicts.end(), [&](const auto& v) {
            return v.check == check && v.state != verdict::State::Good;
        }));
    };
    EXPECT_EQ(find(Asked(project).report, "shown"), 0); // nothing was asked
    project = must(model::putAsk(project, makeAsk("parts", Comparison::AtMost, 3)));
    EXPECT_EQ(find(Asked(project).report, "ask"), 1);
    EXPECT_EQ(find(Asked(project).report, "shown"), 1);
    project = must(model::setShownOn(project, "2026-11-20"));
    EXPECT_EQ(find(Asked(project).report, "shown"), 0);
    EXPECT_EQ(model::setShownOn(project, "yesterday").error().code, "project.date");
}

TEST(BriefFile, RoundTripAndErrorsWithTheirPlace) {
    const std::string text = R"({ "format": "ivrant-brief", "version": 1, "name": "Fair-goers",
  "asks": [
    { "measure": "joint-kind", "is": "at least", "word": "one-stud swivel", "must": true, "joint": "Head" },
    { "measure": "mass", "is": "at most", "value": 60, "must": false, "later": 1 }] })";
    const auto brief = must(files::parseBrief(text));
    EXPECT_EQ(brief.asks.size(), 2U);
    EXPECT_EQ(files::writeBrief(must(files::parseBrief(files::writeBrief(brief)))), files::writeBrief(brief));
    EXPECT_NE(files::writeBrief(brief).find("\"later\": 1"), std::string::npos);
    const auto placeOf = [](const std::string& json) { return files::parseBrief(json).error().place; };
    const std::string head = R"({ "format": "ivrant-brief", "version": 1, "name": "x", "asks": )";
    EXPECT_EQ(placeOf(head + R"([ { "measure": "mass", "is": "about", "value": 1 } ] })"), "/asks/0/is");
    EXPECT_EQ(placeOf(head + R"([ { "measure": "hold-margin", "value": 1 } ] })"), "/asks/0");
    EXPECT_EQ(placeOf(head + R"([ { "measure": "mass", "value": "much" } ] })"), "/asks/0/value");
    EXPECT_EQ(placeOf(R"({ "format": "other" })"), "/format");
    EXPECT_FALSE(files::parseBrief("{ nonsense"));
}

TEST(Scale, PairsByHand) {
    // 900 real is 225 mm, 400 is 100: one to four exactly.
    const auto exact = must(brief::calcScale({{900, 225}, {400, 100}}));
    EXPECT_NEAR(exact.mmPerReal, 0.25, 1e-12);
    EXPECT_NEAR(exact.spread, 0, 1e-12);
    const auto length = must(brief::calcScaledLength(exact, 100)); // 25 mm: 3 studs is 24, 8 plates 25.6
    EXPECT_NEAR(length.studs, 3, 1e-12);
    EXPECT_NEAR(length.studsErrorMm, -1, 1e-9);
    EXPECT_EQ(length.plates, 8);
    EXPECT_NEAR(length.platesErrorMm, 0.6, 1e-9);
    // Ratios 0.2 and 0.3: geometric mean √0.06, each off by √1.5 − 1.
    EXPECT_NEAR(must(brief::calcScale({{100, 20}, {100, 30}})).mmPerReal, std::sqrt(0.06), 1e-12);
    EXPECT_NEAR(must(brief::calcScale({{100, 20}, {100, 30}})).spread, std::sqrt(1.5) - 1, 1e-12);
    EXPECT_EQ(brief::calcScale({{100, 20}, {0, 30}}).error().place, "1");
    EXPECT_EQ(brief::calcScale({}).error().code, "scale.pairs");
}

TEST(Offset, KnownWays) {
    // Five plates sideways are two pitches: the base of sideways building. 5.6 = 8 − 2.4: half pitch and a leaf: 4
    // + 1.6.
    const auto ways = must(brief::findOffsets(5.6));
    EXPECT_NEAR(ways[0].errorMm, 0, 1e-9);
    EXPECT_EQ(ways[0].effort, 3); // a half pitch and one leaf
    EXPECT_EQ(must(brief::findOffsets(16))[0].pitches, 2);
    EXPECT_EQ(must(brief::findOffsets(16))[0].effort, 0);
    const auto tenth = must(brief::findOffsets(0.8)); // 4 − 3.2
    EXPECT_NEAR(tenth[0].mm, 0.8, 1e-9);
    for (const auto& way : must(brief::findOffsets(-13.37)))
        EXPECT_NEAR(way.mm, way.pitches * 8.0 + way.halfPitches * 4.0 + way.plates * 3.2 + way.halfPlates * 1.6, 1e-9);
    EXPECT_EQ(brief::findOffsets(1e9).error().code, "offset.range");
}
