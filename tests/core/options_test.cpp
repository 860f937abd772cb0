// SPDX-License-Identifier: GPL-3.0-or-later
// Options: what is chosen stands in the model, the rest waits and comes back as it was; combinations against brute
// force; covering arrays hold every pair.
#include <gtest/gtest.h>

#include <random>
#include <set>

#include "core/files/project_file.h"
#include "core/make/combinations.h"
#include "core/model/edits_options.h"
#include "core/model/variants.h"
#include "core/parts/own_shape.h"
#include "core/parts/palette.h"
#include "core/verdict/make/option_matrix.h"
#include "tests/support/figures.h"

using namespace ivrant;
using test::must;

namespace {

/// A post with a hat: three alternatives and none.
struct Hatted : test::Figure {
    model::PartId cap;
    Hatted() {
        put(0, "plate 4x4 gorse at 0 0 0");
        put(0, "brick 2x2 slate at 1 1 1");
        cap = put(0, "plate 2x2 kelp at 1 1 4");
        project = must(model::addOption(project, "Hat", "cap", {&cap, 1}));
        further("tall", "brick 2x2 kelp at 1 1 4");
        further("wide", "plate 4x4 kelp at 0 0 4");
    }
    void further(const std::string& name, const std::string& part) {
        project = must(model::addAlternative(project, option().id, name));
        const auto id = put(0, part);
        project = must(model::assignToChosen(project, option().id, {&id, 1}));
    }
    [[nodiscard]] const model::Option& option() const { return project.options.list.at(0); }
    void choose(int a) {
        project = must(model::chooseAlternative(project, option().alternatives.at(static_cast<std::size_t>(a)).id));
    }
    [[nodiscard]] std::string shapes() const {
        std::string all;
        for (const auto& part : project.sections[0]->parts) all += part.shape->name + "; ";
        return all;
    }
};

model::Options makeOptions(const std::vector<int>& sizes) {
    model::Options options;
    int id = 1;
    for (const int size : sizes) {
        model::Option option;
        option.id.text = "n" + std::to_string(id++);
        option.name = option.id.text;
        for (int a = 0; a < size; ++a) {
            model::Alternative alternative;
            alternative.id.text = "l" + std::to_string(id++);
            alternative.name = alternative.id.text;
            option.alternatives.push_back(alternative);
        }
        options.list.push_back(option);
    }
    return options;
}

/// By the words of the rules, not by how they are looked up.
bool allowed(const model::Options& options, const make::Combination& combination) {
    std::set<std::string> standing;
    for (std::size_t o = 0; o < combination.size(); ++o)
        standing.insert(options.list[o].alternatives[static_cast<std::size_t>(combination[o])].id.text);
    for (const auto& rule : options.rules) {
        const bool first = standing.count(rule.first.text) > 0, second = standing.count(rule.second.text) > 0;
        if (first && (rule.excludes ? second : !second)) return false;
    }
    return true;
}

std::set<make::Combination> bruteForce(const model::Options& options) {
    std::set<make::Combination> all{{}};
    for (const auto& option : options.list) {
        std::set<make::Combination> longer;
        for (const auto& each : all)
            for (int a = 0; a < static_cast<int>(option.alternatives.size()); ++a) {
                auto next = each;
                next.push_back(a);
                longer.insert(next);
            }
        all = longer;
    }
    std::erase_if(all, [&](const make::Combination& each) { return !allowed(options, each); });
    return all;
}

using Pairs = std::set<std::tuple<std::size_t, int, std::size_t, int>>;
template <class List> Pairs pairsOf(const List& list) {
    Pairs pairs;
    for (const auto& each : list)
        for (std::size_t i = 0; i < each.size(); ++i)
            for (std::size_t j = i + 1; j < each.size(); ++j) pairs.insert({i, each[i], j, each[j]});
    return pairs;
}

} // namespace

TEST(Options, WhatIsChosenStandsAndTheRestWaits) {
    Hatted figure;
    EXPECT_EQ(figure.option().alternatives.size(), 4U) << "cap, none, tall, wide";
    EXPECT_EQ(figure.shapes(), "plate 4x4; brick 2x2; plate 4x4; ");
    figure.choose(0);
    EXPECT_EQ(figure.shapes(), "plate 4x4; brick 2x2; plate 2x2; ");
    const std::string before = files::writeProject(figure.project);
    figure.choose(1);
    EXPECT_EQ(figure.shapes(), "plate 4x4; brick 2x2; ");
    figure.choose(2);
    figure.choose(0);
    EXPECT_EQ(files::writeProject(figure.project), before) << "there and back changes nothing";
}

TEST(Options, SurviveTheFileAndSayWhatIsWrong) {
    Hatted figure;
    figure.project = must(model::describeAlternative(figure.project, figure.option().alternatives[0].id, "cap",
                                                     "warm \xE2\x80\x9Dwool\xE2\x80\x9D", 2.5));
    const std::string text = files::writeProject(figure.project);
    const auto again = must(files::parseProject(text));
    EXPECT_EQ(files::writeProject(again), text);
    EXPECT_EQ(again.options.list[0].chosen, 3);
    EXPECT_DOUBLE_EQ(again.options.list[0].alternatives[0].price, 2.5);
    EXPECT_EQ(again.nextId, figure.project.nextId);
    const auto place = [&](const std::string& from, const std::string& to) {
        std::string broken = text;
        const auto at = broken.find(from);
        EXPECT_NE(at, std::string::npos) << from;
        broken.replace(at, from.size(), to);
        const auto read = files::parseProject(broken);
        return read ? std::string("read") : read.error().place;
    };
    EXPECT_TRUE(place("\"section\": \"s1\", \"parts\"", "\"section\": \"s9\", \"parts\"")
                    .starts_with("/options/0/alternatives/0"));
    EXPECT_EQ(place("\"chosen\": \"" + again.options.list[0].alternatives[3].id.text, "\"chosen\": \"none"),
              "/options/0/chosen");
    EXPECT_EQ(place("\"price\": 2.5", "\"price\": -1"), "/options/0/alternatives/0/price");
    EXPECT_TRUE(place("\"shape\": \"plate 2x2\", \"colour\": \"kelp\"", "\"shape\": \"no shape\", \"colour\": \"kelp\"")
                    .starts_with("/options/0/alternatives/0/waiting/parts/0/parts/0/shape"));
}

TEST(Options, WholeSectionsComeAndGoWithTheirJoints) {
    test::Figure figure;
    const auto fork = figure.put(0, "stepped hinge small fork at 1 1 1");
    figure.put(0, "plate 4x4 at 0 0 0");
    const auto tongue = figure.put(1, "stepped hinge small tongue at 0 0 0");
    figure.put(1, "brick 1x4 at 0 0 1");
    const auto joint = figure.join("stepped hinge small", fork, "finger", tongue, "finger", {0}, {{0, 45}});
    model::Stance stance;
    stance.kind = model::Stance::Kind::Flat;
    stance.section = figure.project.sections[0]->id;
    figure.project = must(model::addPose(figure.project, "Up", {{joint, {22.5}}}, stance));
    const model::SectionId arm = figure.project.sections[1]->id;
    figure.project = must(model::addOption(figure.project, "Arm", "lever", {}, {&arm, 1}));
    const std::string before = files::writeProject(figure.project);
    const auto& alternatives = figure.project.options.list[0].alternatives;
    auto without = must(model::chooseAlternative(figure.project, alternatives[1].id));
    EXPECT_EQ(without.sections.size(), 1U);
    EXPECT_TRUE(without.joints.empty());
    EXPECT_TRUE(without.poses[0].values.empty());
    without = must(files::parseProject(files::writeProject(without)));
    const auto with = must(model::chooseAlternative(without, alternatives[0].id));
    EXPECT_EQ(files::writeProject(with), before);
}

TEST(Options, RefuseWhatCannotComeAndGo) {
    Hatted figure;
    figure.choose(0);
    const auto again = model::addOption(figure.project, "Top", "cap", {&figure.cap, 1});
    ASSERT_FALSE(again);
    EXPECT_EQ(again.error().code, "option.taken");
    const auto chosen = model::removeAlternative(figure.project, figure.option().alternatives[0].id);
    ASSERT_FALSE(chosen);
    EXPECT_EQ(chosen.error().code, "option.chosen");
    test::Figure jointed;
    const auto fork = jointed.put(0, "stepped hinge small fork");
    const auto tongue = jointed.put(1, "stepped hinge small tongue");
    jointed.join("stepped hinge small", fork, "finger", tongue, "finger");
    const auto sits = model::addOption(jointed.project, "Hinge", "fork", {&fork, 1});
    ASSERT_FALSE(sits);
    EXPECT_EQ(sits.error().code, "option.joint");
}

TEST(Options, FollowOtherEdits) {
    Hatted figure;
    figure.choose(0);
    const auto bare = must(model::removeParts(figure.project, {&figure.cap, 1}));
    EXPECT_TRUE(bare.options.list[0].alternatives[0].parts.empty()) << "what is gone belongs to nothing";
    ASSERT_TRUE(files::parseProject(files::writeProject(bare)));
    // Each variant has its own: what is chosen in one leaves the other alone.
    auto two = must(model::addVariant(figure.project, "B", "A"));
    two = must(model::chooseAlternative(two, two.options.list[0].alternatives[1].id));
    two = must(files::parseProject(files::writeProject(two)));
    EXPECT_EQ(two.options.list[0].chosen, 1);
    EXPECT_EQ(model::takeVariant(two, 0).options.list[0].chosen, 0);
    const auto none = must(model::removeOption(figure.project, figure.option().id));
    EXPECT_EQ(none.partCount(), 3U) << "what stands in the model stays";
    EXPECT_TRUE(none.options.list.empty());
}

TEST(Combinations, AreAllThatTheRulesAllow) {
    std::mt19937 random(7);
    const auto below = [&](int n) { return std::uniform_int_distribution<int>(0, n - 1)(random); };
    for (int round = 0; round < 40; ++round) {
        std::vector<int> sizes;
        for (int o = 1 + below(4); o > 0; --o) sizes.push_back(1 + below(4));
        auto options = makeOptions(sizes);
        for (int r = below(4); r > 0 && sizes.size() > 1; --r) {
            const int a = below(static_cast<int>(sizes.size())), b = below(static_cast<int>(sizes.size()));
            if (a == b) continue;
            const auto pick = [&](int o) {
                const auto& list = options.list[static_cast<std::size_t>(o)].alternatives;
                return list[static_cast<std::size_t>(below(static_cast<int>(list.size())))].id;
            };
            options.rules.push_back({pick(a), pick(b), below(3) > 0});
        }
        const auto expected = bruteForce(options);
        const auto found = make::listCombinations(options, 1000);
        EXPECT_TRUE(found.all);
        EXPECT_EQ(std::set<make::Combination>(found.list.begin(), found.list.end()), expected);
        EXPECT_EQ(found.list.size(), expected.size());
        // As if there were too many: every pair that some allowed combination has, and only allowed ones.
        if (found.count <= 1) continue;
        const auto few = make::listCombinations(options, 1);
        EXPECT_FALSE(few.all);
        for (const auto& each : few.list) EXPECT_TRUE(allowed(options, each));
        EXPECT_EQ(pairsOf(few.list), pairsOf(expected)) << "round " << round;
    }
}

TEST(Combinations, PairsNeedFew) {
    // Eight options of four: 65,536 combinations; every pair fits into about 4² times a logarithm.
    const auto options = makeOptions(std::vector<int>(8, 4));
    const auto few = make::listCombinations(options);
    EXPECT_FALSE(few.all);
    EXPECT_EQ(pairsOf(few.list).size(), 28U * 16U);
    EXPECT_LE(few.list.size(), 45U);
    EXPECT_GE(few.list.size(), 16U) << "two options alone have 16 pairs";
}

TEST(Combinations, TakeOutOfTheDrawersWhatTheyAreMadeOf) {
    Hatted figure;
    const auto lines = make::listAlternativeParts(figure.project, {0, 2});
    ASSERT_EQ(lines.size(), 1U);
    EXPECT_EQ(lines[0].shape, "brick 2x2");
    auto supplies = std::make_shared<model::Supplies>();
    auto stock = std::make_shared<model::Stock>();
    const int kelp = parts::findColour("kelp"), gorse = parts::findColour("gorse"), slate = parts::findColour("slate");
    stock->lines = {{"plate 4x4", gorse, 1, "", ""},
                    {"brick 2x2", slate, 1, "", ""},
                    {"plate 4x4", kelp, 1, "", ""},
                    {"plate 2x2", kelp, 1, "", ""}};
    supplies->stocks.push_back(stock);
    figure.project.supplies = supplies;
    const auto missing = make::calcAllAtOnce(figure.project);
    ASSERT_EQ(missing.size(), 1U) << "all four hats at once: the tall one is made of a brick that is not there";
    EXPECT_EQ(missing[0].shape, "brick 2x2");
    EXPECT_EQ(missing[0].missing(), 1);
}

TEST(OptionMatrix, TellsWhichChoiceFailsAndWhatFailsAlways) {
    Hatted figure;
    // A wall beside the post that the wide hat runs into; and a part that nothing holds, whatever is chosen.
    figure.choose(0);
    figure.put(0, "brick 1x1 slate at 0 0 1");
    figure.put(0, "brick 1x1 slate at 0 0 4");
    figure.put(0, "brick 1x1 slate at 20 20 9");
    const auto report = verdict::calcReport(std::make_shared<const model::Project>(figure.project));
    const auto matrix = verdict::calcOptionMatrix(report);
    ASSERT_EQ(matrix.rows.size(), 4U);
    EXPECT_TRUE(matrix.complete);
    EXPECT_FALSE(matrix.always.empty());
    for (const auto& row : matrix.rows) {
        const bool wide = row.combination[0] == 3;
        EXPECT_EQ(row.passes(), !wide) << row.combination[0] << (row.fails.empty() ? "" : row.fails[0].text);
        EXPECT_EQ(row.parts, row.combination[0] == 1 ? 5 : 6);
        // The same by choosing it by hand.
        auto single = figure;
        single.choose(row.combination[0]);
        const auto own = verdict::calcReport(std::make_shared<const model::Project>(single.project));
        std::size_t fails = 0;
        for (const auto& v : own.verdicts) fails += v.state == verdict::State::Fail ? 1 : 0;
        EXPECT_EQ(fails, row.fails.size() + matrix.always.size());
    }
    base::Progress stopped;
    stopped.stop();
    EXPECT_FALSE(verdict::calcOptionMatrix(report, 200, &stopped).complete);
}
