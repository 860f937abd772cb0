// SPDX-License-Identifier: GPL-3.0-or-later
// The tree of sections and joints on random figures, against searches that know nothing of trees.
#include <functional>
#include <gtest/gtest.h>
#include <random>
#include <set>

#include "tests/support/linkages.h"

#include "core/base/at.h"

using namespace ivrant;
using test::must;

namespace {

/// A figure of `sections` pieces with studs, cells and pins enough to be joined anywhere, and `ties` random joints.
struct RandomFigure : test::Figure {
    std::vector<std::pair<int, int>> edges; ///< per joint: sections
    RandomFigure(int sections, int ties, unsigned seed) {
        std::mt19937 random(seed);
        std::vector<model::PartId> pins, beams;
        for (int s = 0; s < sections; ++s) {
            beams.push_back(put(static_cast<std::size_t>(s), "beam 15 at 0 0 0"));
            pins.push_back(put(static_cast<std::size_t>(s), "pin ribbed at 0 3 0"));
        }
        std::vector<int> taken(static_cast<std::size_t>(sections), 0);
        for (int i = 0; i < ties; ++i) {
            const int from = static_cast<int>(random() % static_cast<unsigned>(sections)),
                      to = static_cast<int>(random() % static_cast<unsigned>(sections));
            const auto t = static_cast<std::size_t>(to);
            if (from == to || taken[t] > 14) continue;
            model::Joint joint;
            joint.kind = parts::findJointKind("ribbed pin");
            joint.from = {at(pins, from), "end+"};
            joint.to = {beams[t], "hole " + std::to_string(taken[t]++) + " back"};
            joint.value = {0};
            if (auto next = model::addJoint(project, joint)) {
                project = must(std::move(next));
                edges.emplace_back(from, to);
            }
        }
    }
};

/// Groups by flooding over all joints.
std::vector<int> flood(int sections, const std::vector<std::pair<int, int>>& edges) {
    std::vector<int> group(static_cast<std::size_t>(sections), -1);
    const std::function<void(int, int)> visit = [&](int s, int g) {
        if (at(group, s) >= 0) return;
        at(group, s) = g;
        for (const auto& [a, b] : edges) {
            if (a == s) visit(b, g);
            if (b == s) visit(a, g);
        }
    };
    for (int s = 0; s < sections; ++s) visit(s, s);
    return group;
}

/// Joints of the only way between two sections in a tree, found by trying.
std::vector<int> searchWay(const model::SectionTree& tree, int from, int to) {
    std::vector<int> way;
    std::set<int> seen;
    const std::function<bool(int)> visit = [&](int s) {
        if (s == to) return true;
        seen.insert(s);
        for (std::size_t j = 0; j < tree.from.size(); ++j) {
            if (tree.isClosing(static_cast<int>(j))) continue;
            const int a = tree.from[j].section, b = tree.to[j].section;
            const int next = a == s ? b : b == s ? a : -1;
            if (next < 0 || seen.count(next) > 0) continue;
            way.push_back(static_cast<int>(j));
            if (visit(next)) return true;
            way.pop_back();
        }
        return false;
    };
    visit(from);
    return way;
}

} // namespace

class RandomTrees : public testing::TestWithParam<unsigned> {};

TEST_P(RandomTrees, CarryEachSectionOnceAndCloseOnlyWhatHangsTogether) {
    constexpr int kSections = 9;
    const RandomFigure f(kSections, 16, GetParam());
    const auto tree = f.tree();
    const auto group = flood(kSections, f.edges);
    const std::set<int> groups(group.begin(), group.end());
    // A forest of n sections in g groups has n − g edges; every further joint closes a ring.
    EXPECT_EQ(tree.closing.size(), f.edges.size() - (kSections - groups.size()));
    EXPECT_EQ(tree.order.size(), static_cast<std::size_t>(kSections));
    std::set<int> placed;
    for (const int s : tree.order) {
        if (tree.parent(s) >= 0) {
            EXPECT_EQ(placed.count(tree.parent(s)), 1u) << "carried before its carrier";
        }
        placed.insert(s);
        EXPECT_EQ(at(group, tree.rootOf(s)), at(group, s));
    }
    for (std::size_t j = 0; j < f.edges.size(); ++j) {
        EXPECT_EQ(tree.from[j].section, f.edges[j].first);
        EXPECT_EQ(tree.to[j].section, f.edges[j].second);
    }
}

TEST_P(RandomTrees, WaysAndRingsAreThoseOfASearch) {
    const RandomFigure f(8, 13, 1000 + GetParam());
    const auto tree = f.tree();
    for (int a = 0; a < 8; ++a)
        for (int b = 0; b < 8; ++b)
            if (tree.rootOf(a) == tree.rootOf(b)) {
                EXPECT_EQ(tree.wayBetween(a, b), searchWay(tree, a, b)) << a << " to " << b;
            }
    std::set<int> inRings;
    for (const int c : tree.closing) {
        const auto ring = searchWay(tree, at(tree.from, c).section, at(tree.to, c).section);
        EXPECT_EQ(tree.ringOf(c), ring);
        inRings.insert(c);
        inRings.insert(ring.begin(), ring.end());
    }
    for (int j = 0; j < static_cast<int>(tree.from.size()); ++j) EXPECT_EQ(tree.isInRing(j), inRings.count(j) > 0) << j;
}

TEST_P(RandomTrees, WhatAJointCarriesIsWhatFallsOffWithoutIt) {
    const RandomFigure f(8, 12, 2000 + GetParam());
    const auto tree = f.tree();
    for (int j = 0; j < static_cast<int>(tree.from.size()); ++j) {
        std::set<int> carried;
        for (int s = 0; s < 8; ++s) {
            const auto way = tree.wayBetween(tree.rootOf(s), s);
            if (std::find(way.begin(), way.end(), j) != way.end()) carried.insert(s);
        }
        const auto listed = tree.carriedBy(j);
        EXPECT_EQ(std::set<int>(listed.begin(), listed.end()), carried) << j;
    }
}

INSTANTIATE_TEST_SUITE_P(Seeds, RandomTrees, testing::Range(0u, 12u));

TEST(Tree, TheSamePortsCannotBeJoinedTwiceInEitherSense) {
    test::FourBar f;
    model::Joint again = f.project.joints[0];
    again.name = "Again";
    EXPECT_EQ(model::addJoint(f.project, again).error().code, "joint.twice");
    std::swap(again.from, again.to);
    EXPECT_EQ(model::addJoint(f.project, again).error().code, "joint.twice");
}

TEST(Tree, OneBarTakesTwoClips) {
    test::Figure f;
    const auto bar = f.put(0, "bar plate 1x2 at 0 0 0"), one = f.put(1, "clip plate 1x2 at 0 0 0"),
               two = f.put(2, "clip plate 1x2 at 0 0 0");
    f.join("clip on bar", bar, "bar", one, "clip");
    f.join("clip on bar", bar, "bar", two, "clip");
    EXPECT_TRUE(f.tree().closing.empty());
    EXPECT_EQ(f.tree().carriedBy(0).size(), 1u);
}
