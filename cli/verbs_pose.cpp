// The studies of Pose: two-joint map, chain, choosing, turn clearance, reach, path, gaps, comparison of variants.
#include "cli/common.h"
#include "core/files/results_pose.h"
#include "core/model/variants.h"
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

template <class Use> int withStudy(const Request& request, Use use) {
    return withReport(request, inRequestedPose(request, study::kLoads), [&](const verdict::Report& report) {
        const auto* pose = findPose(report, request.pose);
        if (!pose) return complain(unknown("pose", *request.pose));
        return use(Study{report, *report.project, *pose, pose::makeRangeContext(*report.project, report.tree, report.bonds)});
    });
}

/// Calls `use(joint index)`, or complains about a name that is missing or unknown.
template <class Use> int withJoint(const model::Project& project, const std::optional<std::string>& name, Use use) {
    if (!name) return complain({"name.missing", "a joint is needed: --joint NAME", ""});
    const int j = findJoint(project, *name);
    return j < 0 ? complain(unknown("joint", *name)) : use(j);
}

int bendOf(const model::Project& project, int joint) { return project.joints[static_cast<std::size_t>(joint)].kind->bendFreedom(); }

} // namespace

int runMap(const Request& request) {
    return withStudy(request, [&](const Study& s) {
        return withJoint(s.project, request.joint, [&](int first) {
            return withJoint(s.project, request.other, [&](int second) {
                pose::MapRequest map;
                map.first = {first, bendOf(s.project, first)};
                map.second = {second, bendOf(s.project, second)};
                map.firstRange = pose::getMapRange(s.project, map.first);
                map.secondRange = pose::getMapRange(s.project, map.second);
                map.steps = request.steps;
                const auto result = pose::calcMap(s.context, s.pose.values, map);
                if (!result) return complain(result.error());
                print(request, files::makeMapJson(s.project, *result));
                return 0;
            });
        });
    });
}

int runChain(const Request& request) {
    return withStudy(request, [&](const Study& s) {
        return withJoint(s.project, request.joint, [&](int first) {
            return withJoint(s.project, request.other, [&](int last) {
                const auto chain = pose::makeChain(s.context, s.pose.values, first, last);
                if (!chain) return complain(chain.error());
                const auto study = pose::calcChain(s.context, s.pose.values, *chain);
                const auto sag = pose::calcSag(s.context, s.pose.values, *chain, s.pose.stance, s.report.strengths);
                const auto firm = pose::calcFirmFirst(s.context, s.pose.values, *chain, s.pose.stance, s.report.strengths);
                print(request, files::makeChainJson(s.project, study, sag, firm));
                return 0;
            });
        });
    });
}

int runChoose(const Request& request) {
    return withStudy(request, [&](const Study& s) {
        return withJoint(s.project, request.joint, [&](int joint) {
            pose::ChooseRequest choose;
            choose.joint = joint;
            choose.firm = request.firm;
            choose.tiltDeg = s.project.tiltDeg;
            choose.strengthOf = [&](const parts::JointKind& kind) {
                return trials::calcStrength(s.project, kind, &s.project.joints[static_cast<std::size_t>(joint)].id);
            };
            print(request, files::makeChoicesJson(s.project.joints[static_cast<std::size_t>(joint)], pose::calcChoices(s.project, choose)));
            return 0;
        });
    });
}

int runClearance(const Request& request) {
    return withStudy(request, [&](const Study& s) {
        return withJoint(s.project, request.joint, [&](int joint) {
            const auto& kind = *s.project.joints[static_cast<std::size_t>(joint)].kind;
            const pose::FreedomRef turning{joint, kind.axisFreedom()};
            const auto clearance = pose::calcTurnClearance(s.context, s.pose.values, turning);
            if (!clearance) return complain(clearance.error());
            const auto play = pose::calcOffAxisPlay(s.context, s.pose.values, turning);
            auto json =
                files::makeClearanceJson(s.project, s.project.joints[static_cast<std::size_t>(joint)], *clearance, play ? std::optional(*play) : std::nullopt);
            if (request.other) {
                const int other = findJoint(s.project, *request.other);
                if (other < 0) return complain(unknown("joint", *request.other));
                const auto off = pose::calcMisalignment(s.context, s.pose.values, turning, {other, 0});
                if (!off) return complain(off.error());
                json["misalignment"] = {{"of", s.project.joints[static_cast<std::size_t>(other)].name},
                                        {"low_deg", files::rounded(off->lowDeg)},
                                        {"high_deg", files::rounded(off->highDeg)},
                                        {"endless", off->endless}};
            }
            print(request, json);
            return 0;
        });
    });
}

int runReach(const Request& request) {
    return withStudy(request, [&](const Study& s) {
        const int section = request.section ? findSection(s.project, *request.section) : -1;
        if (section < 0) return complain(unknown("section", request.section.value_or("(none named: --section NAME)")));
        auto reach = pose::makeReachRequest(s.context, s.pose.values, s.pose.stance, section);
        if (reach.freedoms.empty()) return complain({"reach.still", "no joint moves this section", ""});
        reach.samples = request.samples;
        const pose::PoseChecker checker(s.context, s.pose.values);
        print(request, files::makeReachJson(s.project, section, pose::calcReach(checker, s.pose.values, reach)));
        return 0;
    });
}

int runPath(const Request& request) {
    return withStudy(request, [&](const Study& s) {
        const auto* target = findPose(s.report, request.other);
        if (!target || !request.other) return complain(unknown("pose", request.other.value_or("(none named: --to POSE)")));
        const pose::PoseChecker checker(s.context, s.pose.values);
        const auto check = pose::calcPath(checker, s.pose.values, target->values);
        std::optional<pose::Detour> detour;
        if (!check.free)
            if (auto found = pose::calcDetour(checker, s.pose.values, target->values)) detour = std::move(found).value();
        print(request, files::makePathJson(s.project, check, detour));
        return check.free || detour ? 0 : 1;
    });
}

int runGaps(const Request& request) {
    return withStudy(request, [&](const Study& s) {
        return withJoint(s.project, request.joint, [&](int joint) {
            print(request, files::makeGapsJson(s.project.joints[static_cast<std::size_t>(joint)],
                                               pose::calcGapsOverRange(s.context, s.pose.values, s.pose.stance, joint)));
            return 0;
        });
    });
}

int runCovers(const Request& request) {
    return withStudy(request, [&](const Study& s) {
        const int section = request.section ? findSection(s.project, *request.section) : -1;
        if (section < 0) return complain(unknown("section", request.section.value_or("(none named: --section NAME)")));
        std::vector<model::PartSpot> cover;
        for (std::size_t p = 0; p < s.project.sections[static_cast<std::size_t>(section)]->parts.size(); ++p) cover.push_back({section, static_cast<int>(p)});
        print(request, files::makeCoversJson(s.project, pose::calcCoverCosts(s.context, s.pose.values, cover)));
        return 0;
    });
}

int runCompare(const Request& request) {
    auto project = loadRequested(request);
    if (!project) return complain(project.error());
    if (project->variants.size() < 2) return complain({"variant.none", "this model has only one variant", ""});
    const int a = model::findShownVariant(*project);
    int b = -1;
    for (std::size_t v = 0; v < project->variants.size(); ++v)
        if (request.other ? project->variants[v].name == *request.other : b < 0 && static_cast<int>(v) != a) b = static_cast<int>(v);
    if (b < 0) return complain(unknown("variant", *request.other));
    const auto report = [](model::Project p) { return verdict::calcReport(std::make_shared<const model::Project>(std::move(p))); };
    print(request, files::makeCompareJson(verdict::compareReports(report(*project), report(model::takeVariant(*project, b)),
                                                                  project->variants[static_cast<std::size_t>(a)].name,
                                                                  project->variants[static_cast<std::size_t>(b)].name)));
    return 0;
}

} // namespace ivrant::cli
