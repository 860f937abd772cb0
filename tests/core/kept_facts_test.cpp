// SPDX-License-Identifier: GPL-3.0-or-later
// Facts kept from edit to edit: the same report as from nothing, bit for bit; what goes wrong in one fact leaves the
// others alive.
#include "core/study/kept_facts.h"

#include <cstdlib>
#include <random>

#include "core/base/at.h"
#include "core/files/project_file.h"
#include "core/verdict/report.h"
#include "tests/support/figures.h"
#include "tests/support/near.h"
#include "tests/support/repo.h"

using namespace ivrant;
using test::must;

namespace {

std::shared_ptr<const model::Project> share(model::Project project) {
    return std::make_shared<const model::Project>(std::move(project));
}

/// Everything that is told, to the last bit of each number.
std::string print(const verdict::Report& report) {
    std::ostringstream text;
    text << std::hexfloat;
    for (const auto& v : report.verdicts) {
        text << v.id << ' ' << v.group << ' ' << static_cast<int>(v.state) << ' ' << v.value << ' ' << v.limit << ' '
             << v.margin.value_or(-1) << ' ' << v.text << ' ' << v.detail << ' ' << v.stale;
        for (const auto& part : v.place.parts) text << ' ' << part.text;
        text << '\n';
    }
    const auto values = [&](const pose::JointValues& all) {
        for (const auto& joint : all)
            for (const double value : joint) text << ' ' << value;
    };
    for (const auto& pose : report.poses) {
        text << pose.name << (pose.placed.project == report.project.get());
        values(pose.values);
        for (const auto& range : pose.ranges)
            for (const auto* stop : {&range.low, &range.high}) {
                text << ' ' << range.free.low << ' ' << range.free.high << ' ' << static_cast<int>(stop->by) << ' '
                     << stop->plain << ' ' << stop->clearanceMm.value_or(-1);
                if (!stop->met) continue;
                const auto& met = *stop->met;
                text << ' ' << met.q << ' ' << met.found << ' ' << met.moving.spot.section << ' '
                     << met.moving.spot.part << ' ' << met.moving.solid << ' ' << met.fixed.spot.section << ' '
                     << met.fixed.spot.part << ' ' << met.fixed.solid;
            }
        for (const auto& load : pose.loads) text << ' ' << load.needNmm;
        if (pose.standing) text << " λ " << pose.standing->equilibrium.lambda.value_or(-1);
        text << '\n';
    }
    for (const auto& worst : report.worst) {
        text << worst.needNmm << ' ' << worst.tiltDeg;
        values(worst.values);
    }
    for (const auto& move : report.moves) text << ' ' << move.name << ' ' << move.leastDeg;
    return text.str();
}

/// One of the kinds of edits there are, on something picked at random; some change nothing that is looked at.
class RandomEdits {
public:
    explicit RandomEdits(unsigned seed) : m_random(seed) {}

    model::Project next(const model::Project& p) {
        for (;;) {
            auto edited = tryOne(p, pick(0, 17));
            if (edited) return std::move(edited).value();
        }
    }
    int pick(int low, int high) { return std::uniform_int_distribution<int>(low, high)(m_random); }

private:
    template <class List> const auto& any(const List& list) {
        return at(list, pick(0, static_cast<int>(list.size()) - 1));
    }

    model::EditResult tryOne(const model::Project& p, int kind) {
        const auto& section = any(p.sections);
        if (section->parts.empty()) return base::Error{"none", "an empty section", ""};
        const std::vector part{any(section->parts).id};
        switch (kind) {
        case 0: return model::recolourParts(p, part, pick(0, 5));
        case 1: return model::renameSection(p, section->id, "Section " + std::to_string(pick(0, 99)));
        case 2: return model::setStep(p, part, pick(1, 9));
        case 3: return model::weighParts(p, part, pick(0, 3) == 0 ? std::nullopt : std::optional(0.5 + pick(0, 20)));
        case 4:
            return model::moveParts(p, part,
                                    geometry::makeFrame(geometry::Mat3::Identity(),
                                                        {8.0 * pick(-1, 1), 8.0 * pick(-1, 1), 3.2 * pick(0, 2)}));
        case 5: return model::removeParts(p, part);
        case 6: return model::setTilt(p, pick(0, 12));
        case 7: return model::setRules(p, pick(0, 1) == 0 ? model::BuildRules::Strict : model::BuildRules::Display);
        case 8: return model::renameProject(p, "Model " + std::to_string(pick(0, 9)));
        case 9: return model::addBallast(p, section->id, {1.0 + pick(0, 40), {0, 0, 0}});
        case 10: return model::setShownOn(p, "2026-11-0" + std::to_string(pick(1, 9)));
        case 11: {
            model::Ask ask;
            ask.measure = pick(0, 1) == 0 ? "mass" : "tip-angle";
            ask.value = pick(1, 400);
            return model::putAsk(p, ask);
        }
        case 12: {
            model::OwnCase own;
            own.name = "Case " + std::to_string(pick(0, 9));
            own.asideG = 0.1 * pick(0, 5);
            return p.cases.size() > 2 ? model::removeCase(p, p.cases.front().id) : model::putCase(p, own);
        }
        case 13:
            return p.poses.empty() ? model::EditResult(p)
                                   : model::renamePose(p, any(p.poses).id, "Pose " + std::to_string(pick(0, 99)));
        case 14: return p.poses.size() < 2 ? model::EditResult(p) : model::removePose(p, any(p.poses).id);
        default: break;
        }
        if (p.joints.empty()) return base::Error{"none", "no joints", ""};
        const model::Joint& joint = any(p.joints);
        std::vector<double> value = joint.value;
        const double step = joint.kind->stepDeg > 0 ? joint.kind->stepDeg : 2.5;
        value[0] += step * pick(-2, 2);
        if (kind == 15) return model::setJointValue(p, joint.id, value);
        if (kind == 16 && !p.poses.empty()) {
            const auto& pose = any(p.poses);
            auto values = pose.values;
            values[joint.id] = value;
            return model::setPose(p, pose.id, values, pose.stands);
        }
        auto wanted = joint.wanted;
        if (wanted.empty()) return base::Error{"none", "nothing is wanted", ""};
        wanted[0].high += pick(-3, 3);
        return model::setWanted(p, joint.id, wanted);
    }

    std::mt19937 m_random;
};

/// More, for a night: IVRANT_KEPT_EDITS=500.
int editsPerDemo() {
    const char* asked = std::getenv("IVRANT_KEPT_EDITS");
    return asked ? std::atoi(asked) : 18;
}

} // namespace

TEST(KeptFacts, RandomEditsGiveTheSameReportAsFromNothing) {
    for (const char* demo :
         {"heron", "neck-drive", "cart", "bridge-span", "fairgoer-captain", "drum", "crab-leg", "heron-beak"}) {
        RandomEdits edits(20261130);
        auto project = share(must(files::loadProject(test::repo(std::string("/data/demo/") + demo + ".ivrant"))));
        std::vector<std::shared_ptr<const model::Project>> history{project};
        verdict::Report kept = verdict::calcReport(project);
        for (int i = 0; i < editsPerDemo(); ++i) {
            // Now and then what was taken back comes again.
            project = edits.pick(0, 5) == 0 ? at(history, edits.pick(0, static_cast<int>(history.size()) - 1))
                                            : share(edits.next(*project));
            history.push_back(project);
            kept = verdict::calcReport(project, nullptr, {}, {}, &kept);
            const verdict::Report fresh = verdict::calcReport(project);
            ASSERT_EQ(print(kept), print(fresh)) << demo << ", edit " << i;
            ASSERT_EQ(kept.known, fresh.known);
        }
    }
}

TEST(KeptFacts, WhatReadsNothingThatChangedIsTheSameObject) {
    const auto heron = share(must(files::loadProject(test::repo("/data/demo/heron.ivrant"))));
    const auto before = verdict::calcReport(heron);
    const std::vector part{heron->sections.front()->parts.front().id};
    const auto after = [&](const model::EditResult& edited) {
        return verdict::calcReport(share(must(edited)), nullptr, {}, {}, &before);
    };
    const auto recoloured =
        after(model::recolourParts(*heron, part, 1 + heron->sections.front()->parts.front().colour % 4));
    EXPECT_EQ(recoloured.structure, before.structure);
    EXPECT_NE(recoloured.hidden, before.hidden) << "whose colours show is asked anew";
    const auto renamed = after(model::renameProject(*heron, "Another name"));
    EXPECT_EQ(renamed.hidden, before.hidden);
    EXPECT_EQ(renamed.poses.front().standing, before.poses.front().standing);
    // One pose changed: the bonds of the others stay.
    ASSERT_GT(heron->poses.size(), 1U);
    auto values = heron->poses[1].values;
    for (auto& [joint, value] : values)
        if (at(heron->joints, heron->findJoint(joint)).kind->stepDeg == 0) value[0] += 0.5;
    const auto posed = after(model::setPose(*heron, heron->poses[1].id, values, heron->poses[1].stands));
    EXPECT_EQ(posed.poses[0].standing, before.poses[0].standing);
    EXPECT_NE(posed.poses[1].standing, before.poses[1].standing);
    EXPECT_EQ(posed.structure, before.structure) << "it is that of the first pose";
    // A part moved: nothing of it may stay.
    const auto moved = after(model::weighParts(*heron, part, 25));
    EXPECT_NE(moved.structure, before.structure);
    EXPECT_NE(moved.poses.front().standing, before.poses.front().standing);
}

TEST(KeptFacts, StagesComeInOrderAndKeepOlderVerdictsMeanwhile) {
    const auto heron = share(must(files::loadProject(test::repo("/data/demo/heron.ivrant"))));
    const auto before = verdict::calcReport(heron);
    std::vector<verdict::Report> stages;
    const auto moved =
        share(must(model::weighParts(*heron, std::vector{heron->sections.front()->parts.front().id}, 25)));
    const auto whole = verdict::calcReport(
        moved, nullptr, {}, [&](const verdict::Report& stage) { stages.push_back(verdict::keepOlder(stage, before)); });
    ASSERT_EQ(stages.size(), 2U);
    const auto count = [](const verdict::Report& r, const std::string& group) {
        return std::count_if(r.verdicts.begin(), r.verdicts.end(), [&](const auto& v) { return v.group == group; });
    };
    for (const auto& stage : stages) {
        EXPECT_NE(stage.toCome, 0U);
        for (const auto& v : stage.verdicts)
            EXPECT_EQ(v.stale, v.group == "asks" || v.group == "structure" || v.group == "cases" ||
                                   v.group == "hidden" || v.group == "assembly" ||
                                   (v.group == "bonds" && !(stage.known & study::kAtRest)) ||
                                   (v.group == "worst" && !(stage.known & study::kWorst)) ||
                                   (v.group == "moves" && !(stage.known & study::kMoves)))
                << v.id;
        EXPECT_EQ(count(stage, "poses"), count(whole, "poses"));
        EXPECT_EQ(count(stage, "structure"), count(before, "structure"));
    }
    EXPECT_EQ(whole.toCome, 0U);
    EXPECT_TRUE(std::none_of(whole.verdicts.begin(), whole.verdicts.end(), [](const auto& v) { return v.stale; }));
}

TEST(BrokenFacts, LeaveTheOtherVerdictsAlive) {
    const auto heron = share(must(files::loadProject(test::repo("/data/demo/heron.ivrant"))));
    const auto sound = verdict::calcReport(heron);
    for (const auto& [fact, group] : {std::pair{study::kAtRest, "bonds"},
                                      {study::kStructure, "structure"},
                                      {study::kHidden, "hidden"},
                                      {study::kAssembly, "assembly"},
                                      {study::kWorst, "worst"}}) {
        study::breakFacts(fact);
        const auto report = verdict::calcReport(heron);
        study::breakFacts(0);
        ASSERT_TRUE(report.complete);
        const auto found =
            std::find_if(report.verdicts.begin(), report.verdicts.end(),
                         [id = std::string("not-judged/") + group](const auto& v) { return v.id == id; });
        ASSERT_NE(found, report.verdicts.end()) << group;
        EXPECT_NE(found->detail.find("broken on purpose"), std::string::npos);
        for (const auto& v : sound.verdicts) {
            if (v.group == group || v.group == "asks") continue; // asks read everything
            const auto same = std::find_if(report.verdicts.begin(), report.verdicts.end(),
                                           [&](const auto& other) { return other.id == v.id; });
            ASSERT_NE(same, report.verdicts.end()) << v.id;
            EXPECT_EQ(same->text, v.text);
        }
        // Nothing of it is kept.
        const auto again = verdict::calcReport(heron, nullptr, {}, {}, &report);
        EXPECT_EQ(print(again), print(sound));
    }
}

TEST(Facts, StoppedAtOnceTheyAreIncompleteAndNothingElse) {
    for (const char* demo : {"heron", "neck-drive", "bridge", "cart", "crab-leg"}) {
        const auto project = share(must(files::loadProject(test::repo(std::string("/data/demo/") + demo + ".ivrant"))));
        base::Progress progress;
        progress.stop();
        const auto report = verdict::calcReport(project, &progress);
        EXPECT_FALSE(report.complete) << demo;
        // And somewhere on the way, whatever was being looked at then.
        for (int stage = 0; stage < 2; ++stage) { // the last is told by the report itself
            base::Progress later;
            int seen = 0;
            const auto stopped = verdict::calcReport(project, &later, {}, [&](const verdict::Report&) {
                if (seen++ == stage) later.stop();
            });
            EXPECT_EQ(stopped.complete, !later.stopped()) << demo << ", stage " << stage;
        }
    }
}
