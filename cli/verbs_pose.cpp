// SPDX-License-Identifier: GPL-3.0-or-later
// The studies of Pose: two-joint map, chain, choosing, turn clearance, reach, path, gaps, comparison of variants.
#include <CLI/CLI.hpp>

#include "cli/verbs.h"
#include "core/base/at.h"
#include "core/files/results_pose.h"
#include "core/model/variants.h"
#include "core/pose/rings.h"
#include "core/pose/stance.h"
#include "core/trials/strengths.h"

namespace ivrant::cli {
namespace {

/// A report with what the studies need: the pose asked for and a context for sweeps.
struct Study {
    const verdict::Report& report;
    const model::Project& project;
    const study::PoseFacts& pose;
    pose::RangeContext context;
};

class StudyVerb : public PoseVerb {
public:
    using PoseVerb::PoseVerb;

protected:
    template <class Use> int withStudy(Use use) const {
        return withPose(inPose(study::kLoads), [&](const verdict::Report& report, const study::PoseFacts& pose) {
            const auto& project = *report.project;
            return use(Study{report, project, pose, pose::makeRangeContext(project, report.tree, report.bonds)});
        });
    }
};

/// Calls `use(joint index)`, or complains about a name that is missing or unknown.
template <class Use> int withJoint(const model::Project& project, const std::optional<std::string>& name, Use use) {
    if (!name) return complain({"name.missing", "a joint is needed: --joint NAME", ""});
    const int j = findJoint(project, *name);
    return j < 0 ? complain(unknown("joint", *name)) : use(j);
}

int bendOf(const model::Project& project, int joint) { return at(project.joints, joint).kind->bendFreedom(); }

class Map : public StudyVerb {
public:
    Map() : StudyVerb("map", "which combinations of two joints are free") {}
    void addOptions(CLI::App& sub) override {
        StudyVerb::addOptions(sub);
        sub.add_option("--joint", m_joint, "id or name of a joint");
        sub.add_option("--with", m_other, "id or name of the second joint");
        sub.add_option("--steps", m_steps, "cells a side, 2 to 1000");
    }
    [[nodiscard]] int run() const override {
        return withStudy([&](const Study& s) {
            return withJoint(s.project, m_joint, [&](int first) {
                return withJoint(s.project, m_other, [&](int second) {
                    pose::MapRequest map;
                    map.first = {first, bendOf(s.project, first)};
                    map.second = {second, bendOf(s.project, second)};
                    map.firstRange = pose::getMapRange(s.project, map.first);
                    map.secondRange = pose::getMapRange(s.project, map.second);
                    map.steps = m_steps;
                    const auto result = pose::calcMap(s.context, s.pose.values, map);
                    if (!result) return complain(result.error());
                    print(files::makeMapJson(s.project, *result));
                    return 0;
                });
            });
        });
    }

private:
    std::optional<std::string> m_joint, m_other;
    int m_steps = 72;
};

class Chain : public StudyVerb {
public:
    Chain() : StudyVerb("chain", "a run of joints: total bend, radius, play, how it sags, what to make firm first") {}
    void addOptions(CLI::App& sub) override {
        StudyVerb::addOptions(sub);
        sub.add_option("--joint", m_joint, "id or name of a joint");
        sub.add_option("--to", m_other, "id or name of the joint at the other end");
    }
    [[nodiscard]] int run() const override {
        return withStudy([&](const Study& s) {
            return withJoint(s.project, m_joint, [&](int first) {
                return withJoint(s.project, m_other, [&](int last) {
                    const auto chain = pose::makeChain(s.context, s.pose.values, first, last);
                    if (!chain) return complain(chain.error());
                    const auto study = pose::calcChain(s.context, s.pose.values, *chain);
                    const auto sag = pose::calcSag(s.context, s.pose.values, *chain, s.pose.stance, s.report.strengths);
                    const auto firm =
                        pose::calcFirmFirst(s.context, s.pose.values, *chain, s.pose.stance, s.report.strengths);
                    print(files::makeChainJson(s.project, study, sag, firm));
                    return 0;
                });
            });
        });
    }

private:
    std::optional<std::string> m_joint, m_other;
};

class Choose : public StudyVerb {
public:
    Choose() : StudyVerb("choose", "every kind of joint tried at one place") {}
    void addOptions(CLI::App& sub) override {
        StudyVerb::addOptions(sub);
        sub.add_option("--joint", m_joint, "id or name of a joint");
        sub.add_option("--firm", m_firm, "preference: 0 smooth posing to 1 firm holding")->check(CLI::Range(0.0, 1.0));
    }
    [[nodiscard]] int run() const override {
        return withStudy([&](const Study& s) {
            return withJoint(s.project, m_joint, [&](int joint) {
                pose::ChooseRequest choose;
                choose.joint = joint;
                choose.firm = m_firm;
                choose.tiltDeg = s.project.tiltDeg;
                choose.strengthOf = [&](const parts::JointKind& kind) {
                    return trials::calcStrength(s.project, kind, &at(s.project.joints, joint).id);
                };
                print(files::makeChoicesJson(at(s.project.joints, joint), pose::calcChoices(s.project, choose)));
                return 0;
            });
        });
    }

private:
    std::optional<std::string> m_joint;
    double m_firm = 0.5;
};

class Clearance : public StudyVerb {
public:
    Clearance() : StudyVerb("clearance", "smallest gap over a full turn, and how far it may be off") {}
    void addOptions(CLI::App& sub) override {
        StudyVerb::addOptions(sub);
        sub.add_option("--joint", m_joint, "id or name of a joint");
        sub.add_option("--off", m_other, "id or name of a joint that may stand off its value");
    }
    [[nodiscard]] int run() const override {
        return withStudy([&](const Study& s) {
            return withJoint(s.project, m_joint, [&](int joint) {
                const auto& kind = *at(s.project.joints, joint).kind;
                const pose::FreedomRef turning{joint, kind.axisFreedom()};
                const auto clearance = pose::calcTurnClearance(s.context, s.pose.values, turning);
                if (!clearance) return complain(clearance.error());
                const auto play = pose::calcOffAxisPlay(s.context, s.pose.values, turning);
                auto json = files::makeClearanceJson(s.project, at(s.project.joints, joint), *clearance,
                                                     play ? std::optional(*play) : std::nullopt);
                if (m_other) {
                    const int other = findJoint(s.project, *m_other);
                    if (other < 0) return complain(unknown("joint", *m_other));
                    const auto off = pose::calcMisalignment(s.context, s.pose.values, turning, {other, 0});
                    if (!off) return complain(off.error());
                    json["misalignment"] = {{"of", at(s.project.joints, other).name},
                                            {"low_deg", files::rounded(off->lowDeg)},
                                            {"high_deg", files::rounded(off->highDeg)},
                                            {"endless", off->endless}};
                }
                print(json);
                return 0;
            });
        });
    }

private:
    std::optional<std::string> m_joint, m_other;
};

class Reach : public StudyVerb {
public:
    Reach() : StudyVerb("reach", "where the tip of a section can get to") {}
    void addOptions(CLI::App& sub) override {
        StudyVerb::addOptions(sub);
        sub.add_option("--section", m_section, "id or name of the section");
        sub.add_option("--samples", m_samples, "poses to try")->check(CLI::Range(1, 10'000'000));
    }
    [[nodiscard]] int run() const override {
        return withStudy([&](const Study& s) {
            const int section = m_section ? findSection(s.project, *m_section) : -1;
            if (section < 0) return complain(unknown("section", m_section.value_or("(none named: --section NAME)")));
            auto reach = pose::makeReachRequest(s.context, s.pose.values, s.pose.stance, section);
            if (reach.freedoms.empty()) return complain({"reach.still", "no joint moves this section", ""});
            reach.samples = m_samples;
            const pose::PoseChecker checker(s.context, s.pose.values);
            print(files::makeReachJson(s.project, section, pose::calcReach(checker, s.pose.values, reach)));
            return 0;
        });
    }

private:
    std::optional<std::string> m_section;
    int m_samples = 20'000;
};

class Path : public StudyVerb {
public:
    Path()
        : StudyVerb("path", "from one pose to another without collisions; a detour when the straight way is blocked") {}
    void addOptions(CLI::App& sub) override {
        StudyVerb::addOptions(sub);
        sub.add_option("--to", m_other, "id or name of the pose at the end");
    }
    [[nodiscard]] int run() const override {
        return withStudy([&](const Study& s) {
            const auto* target = findPose(s.report, m_other);
            if (!target || !m_other) return complain(unknown("pose", m_other.value_or("(none named: --to POSE)")));
            const pose::PoseChecker checker(s.context, s.pose.values);
            const auto check = pose::calcPath(checker, s.pose.values, target->values);
            std::optional<pose::Detour> detour;
            if (!check.free)
                if (auto found = pose::calcDetour(checker, s.pose.values, target->values))
                    detour = std::move(found).value();
            print(files::makePathJson(s.project, check, detour));
            return check.free || detour ? 0 : 1;
        });
    }

private:
    std::optional<std::string> m_other;
};

class Gaps : public StudyVerb {
public:
    Gaps() : StudyVerb("gaps", "how much of a joint's mechanism shows, over its range") {}
    void addOptions(CLI::App& sub) override {
        StudyVerb::addOptions(sub);
        sub.add_option("--joint", m_joint, "id or name of a joint");
    }
    [[nodiscard]] int run() const override {
        return withStudy([&](const Study& s) {
            return withJoint(s.project, m_joint, [&](int joint) {
                print(files::makeGapsJson(at(s.project.joints, joint),
                                          pose::calcGapsOverRange(s.context, s.pose.values, s.pose.stance, joint)));
                return 0;
            });
        });
    }

private:
    std::optional<std::string> m_joint;
};

class Covers : public StudyVerb {
public:
    Covers() : StudyVerb("covers", "how much range the parts of a section cost") {}
    void addOptions(CLI::App& sub) override {
        StudyVerb::addOptions(sub);
        sub.add_option("--section", m_section, "id or name of the section");
    }
    [[nodiscard]] int run() const override {
        return withStudy([&](const Study& s) {
            const int section = m_section ? findSection(s.project, *m_section) : -1;
            if (section < 0) return complain(unknown("section", m_section.value_or("(none named: --section NAME)")));
            std::vector<model::PartSpot> cover;
            for (std::size_t p = 0; p < at(s.project.sections, section)->parts.size(); ++p)
                cover.push_back({section, static_cast<int>(p)});
            print(files::makeCoversJson(s.project, pose::calcCoverCosts(s.context, s.pose.values, cover)));
            return 0;
        });
    }

private:
    std::optional<std::string> m_section;
};

class Compare : public ProjectVerb {
public:
    Compare() : ProjectVerb("compare", "what differs between two variants") {}
    void addOptions(CLI::App& sub) override {
        ProjectVerb::addOptions(sub);
        sub.add_option("--with", m_other, "name of the other variant");
    }
    [[nodiscard]] int run() const override {
        auto project = load();
        if (!project) return complain(project.error());
        if (project->variants.size() < 2) return complain({"variant.none", "this model has only one variant", ""});
        const int a = model::findShownVariant(*project);
        int b = -1;
        for (std::size_t v = 0; v < project->variants.size(); ++v)
            if (m_other ? project->variants[v].name == *m_other : b < 0 && static_cast<int>(v) != a)
                b = static_cast<int>(v);
        if (b < 0) return complain(unknown("variant", *m_other));
        const auto report = [](model::Project p) {
            return verdict::calcReport(std::make_shared<const model::Project>(std::move(p)));
        };
        print(files::makeCompareJson(verdict::compareReports(report(*project), report(model::takeVariant(*project, b)),
                                                             at(project->variants, a).name,
                                                             at(project->variants, b).name)));
        return 0;
    }

private:
    std::optional<std::string> m_other;
};

class Close : public ProjectVerb {
public:
    Close() : ProjectVerb("close", "close the rings of joints from the present values") {}
    void addOptions(CLI::App& sub) override {
        ProjectVerb::addOptions(sub);
        sub.add_option("--keep", m_kept, "joint (id or name) that stays as it is")->expected(-1);
        sub.add_option("-o,--output", m_output, "model to write: OUT.ivrant");
    }
    [[nodiscard]] int run() const override {
        const auto project = load();
        if (!project) return complain(project.error());
        std::vector<model::JointId> kept;
        for (const std::string& name : m_kept) {
            const int joint = findJoint(*project, name);
            if (joint < 0) return complain(unknown("joint", name));
            kept.push_back(at(project->joints, joint).id);
        }
        pose::Closed closed;
        const auto next = pose::closeRings(*project, kept, closed);
        if (!next) return complain(next.error());
        model::Json json;
        json["ivrant"] = "close";
        json["version"] = 1;
        json["closed"] = closed.closed;
        json["gap_mm"] = closed.gapMm;
        json["turn_deg"] = closed.turnDeg;
        model::Json joints = model::Json::array();
        const auto tree = model::makeTree(*next).value();
        for (std::size_t j = 0; j < next->joints.size(); ++j)
            if (tree.isInRing(static_cast<int>(j)))
                joints.push_back({{"id", next->joints[j].id.text},
                                  {"name", next->joints[j].name},
                                  {"before", project->joints[j].value},
                                  {"value", next->joints[j].value}});
        json["joints"] = std::move(joints);
        print(json);
        if (closed.closed && !m_output.empty())
            if (const int failed = save(m_output, *next); failed != 0) return failed;
        return closed.closed ? 0 : 1;
    }

private:
    std::vector<std::string> m_kept;
    std::string m_output;
};

} // namespace

void addPoseVerbs(Verbs& verbs) {
    verbs.push_back(std::make_unique<Close>());
    verbs.push_back(std::make_unique<Map>());
    verbs.push_back(std::make_unique<Chain>());
    verbs.push_back(std::make_unique<Choose>());
    verbs.push_back(std::make_unique<Clearance>());
    verbs.push_back(std::make_unique<Reach>());
    verbs.push_back(std::make_unique<Path>());
    verbs.push_back(std::make_unique<Gaps>());
    verbs.push_back(std::make_unique<Covers>());
    verbs.push_back(std::make_unique<Compare>());
}

} // namespace ivrant::cli
