// SPDX-License-Identifier: GPL-3.0-or-later
// How long do the studies of Pose take? The two-joint map, chain poses with self-collision, the chooser, dragging a
// limb.
#include <benchmark/benchmark.h>

#include "bench/models.h"
#include "core/base/at.h"
#include "core/base/units.h"
#include "core/files/project_file.h"
#include "core/model/edits.h"
#include "core/parts/family.h"
#include "core/pose/chain.h"
#include "core/pose/choose.h"
#include "core/pose/lines.h"
#include "core/pose/loops.h"
#include "core/pose/map.h"
#include "core/pose/reach.h"
#include "core/pose/solve.h"
#include "core/pose/stance.h"
#include "core/study/motion.h"
#include "core/study/strands.h"
#include "core/study/walk.h"
#include "core/trials/strengths.h"
#include "core/verdict/report.h"

using namespace ivrant;

namespace {

struct Loaded {
    model::Project project;
    model::SectionTree tree;
    pose::RangeContext context;
    pose::JointValues values;
    explicit Loaded(model::Project p)
        : project(std::move(p)), tree(bench::must(model::makeTree(project))),
          context(pose::makeRangeContext(project, tree, bonds::calcBonds(project))),
          values(pose::getValues(project, nullptr)) {}
    [[nodiscard]] int joint(const char* name) const {
        for (std::size_t j = 0; j < project.joints.size(); ++j)
            if (project.joints[j].name == name) return static_cast<int>(j);
        throw std::runtime_error(name);
    }
};

model::Project loadHeron() { return bench::must(files::loadProject(IVRANT_DEMO_DIR "/heron.ivrant")); }

void BM_TwoJointMap(benchmark::State& state) {
    const Loaded arms(bench::makeArms(static_cast<std::size_t>(state.range(0)), 2));
    pose::MapRequest request;
    request.first = {0, 0};
    request.second = {1, 0};
    request.firstRange = request.secondRange = {-112.5, 112.5};
    double share = 0;
    for (auto _ : state) share = bench::must(pose::calcMap(arms.context, arms.values, request)).freeShare;
    state.counters["free_share"] = share;
}
BENCHMARK(BM_TwoJointMap)->Arg(200)->Arg(1000)->Unit(benchmark::kMillisecond)->UseRealTime();

/// 100,000 poses of the heron's seven-joint neck, each placed and tested against itself.
void BM_ChainPoses(benchmark::State& state) {
    const Loaded heron(loadHeron());
    // The neck alone: what else the bird has is not part of the chain.
    pose::RangeContext context = heron.context;
    for (std::size_t s = 0; s < heron.project.sections.size(); ++s)
        if (heron.project.sections[s]->name.find("Neck") == std::string::npos &&
            heron.project.sections[s]->name != "Head")
            context.bodies.sections[s] = std::make_shared<const pose::SectionBody>();
    std::vector<int> joints;
    for (const char* name : {"Neck 1", "Neck 2", "Neck 3", "Neck 4", "Neck 5", "Neck 6", "Head"})
        joints.push_back(heron.joint(name));
    const pose::PoseChecker checker(context, heron.values, joints);
    pose::ReachRequest request;
    for (int j : joints)
        for (int f = 0; f < at(heron.project.joints, j).kind->freedomCount(); ++f) {
            request.freedoms.push_back({j, f});
            request.limits.push_back(checker.freeRange({j, f}));
        }
    request.samples = 100'000;
    std::size_t free = 0;
    for (auto _ : state) free = pose::calcReach(checker, heron.values, request).points.size();
    state.counters["free"] = static_cast<double>(free);
}
BENCHMARK(BM_ChainPoses)->Unit(benchmark::kMillisecond);

/// A plate of n x n studs, thrown down aslant and settled: the hull of all its corners and the face it rests on.
void BM_SettlePlate(benchmark::State& state) {
    const std::string n = std::to_string(state.range(0));
    auto project = model::makeEmptyProject("Plate");
    model::NewPart plate;
    plate.shape = bench::must(parts::makeShape("plate " + n + "x" + n));
    project = bench::must(model::addParts(project, project.sections[0]->id, {&plate, 1}));
    const geometry::Frame thrown = geometry::makeFrame(geometry::expMap({0.3, -0.7, 1.1}), {5, 6, 7});
    model::Stance settle;
    settle.kind = model::Stance::Kind::Settle;
    for (auto _ : state) {
        model::Placed placed{&project, {thrown}};
        pose::applyStance(placed, settle);
        benchmark::DoNotOptimize(placed);
    }
}
BENCHMARK(BM_SettlePlate)->Arg(8)->Arg(16)->Arg(48)->Unit(benchmark::kMillisecond);

void BM_SettleAuk(benchmark::State& state) {
    const Loaded auk(bench::must(files::loadProject(IVRANT_DEMO_DIR "/auk.ivrant")));
    model::Stance settle;
    settle.kind = model::Stance::Kind::Settle;
    const geometry::Frame thrown = geometry::makeFrame(geometry::expMap({0.3, -0.7, 1.1}), {5, 6, 7});
    for (auto _ : state) {
        model::Placed placed = pose::calcPlaced(auk.project, auk.tree, auk.values);
        for (auto& X : placed.X_WS) X = thrown * X;
        pose::applyStance(placed, settle);
        benchmark::DoNotOptimize(placed);
    }
    state.counters["parts"] = static_cast<double>(auk.project.partCount());
}
BENCHMARK(BM_SettleAuk)->Unit(benchmark::kMillisecond);

/// The heron with a block on its back, about 160 parts, every pose settled on its hull.
void BM_ChooseSettled(benchmark::State& state) {
    auto heron = loadHeron();
    std::vector<model::NewPart> block(40);
    for (std::size_t i = 0; i < block.size(); ++i) {
        block[i].shape = bench::must(parts::makeShape("brick 1x1"));
        block[i].place.atUm = {static_cast<std::int64_t>(i % 8) * 8000, static_cast<std::int64_t>(i / 8) * 8000,
                               400'000};
    }
    heron = bench::must(model::addParts(heron, heron.sections[0]->id, block));
    for (auto& pose : heron.poses) {
        pose.stands = {};
        pose.stands.kind = model::Stance::Kind::Settle;
    }
    pose::ChooseRequest request;
    for (std::size_t j = 0; j < heron.joints.size(); ++j)
        if (heron.joints[j].name == "Neck 3") request.joint = static_cast<int>(j);
    request.strengthOf = [&](const parts::JointKind& kind) { return trials::calcStrength(heron, kind); };
    for (auto _ : state) benchmark::DoNotOptimize(pose::calcChoices(heron, request));
    state.counters["parts"] = static_cast<double>(heron.partCount());
}
BENCHMARK(BM_ChooseSettled)->Unit(benchmark::kMillisecond)->UseRealTime();

void BM_Choose(benchmark::State& state) {
    const auto heron = loadHeron();
    pose::ChooseRequest request;
    for (std::size_t j = 0; j < heron.joints.size(); ++j)
        if (heron.joints[j].name == "Neck 3") request.joint = static_cast<int>(j);
    request.strengthOf = [&](const parts::JointKind& kind) { return trials::calcStrength(heron, kind); };
    for (auto _ : state) benchmark::DoNotOptimize(pose::calcChoices(heron, request));
}
BENCHMARK(BM_Choose)->Unit(benchmark::kMillisecond)->UseRealTime();

void BM_ChainStudy(benchmark::State& state) {
    const Loaded heron(loadHeron());
    const auto chain =
        bench::must(pose::makeChain(heron.context, heron.values, heron.joint("Neck 1"), heron.joint("Head")));
    for (auto _ : state) benchmark::DoNotOptimize(pose::calcChain(heron.context, heron.values, chain));
}
BENCHMARK(BM_ChainStudy)->Unit(benchmark::kMillisecond);

/// One movement of the pointer while the head is dragged: all joints down to the standing foot, other foot kept, way
/// tested.
void BM_DragLimb(benchmark::State& state) {
    const Loaded heron(loadHeron());
    const pose::PoseChecker checker(heron.context, heron.values);
    model::Placed placed = pose::calcPlaced(heron.project, heron.tree, heron.values);
    const auto stance = pose::getDefaultStance(heron.project, heron.tree);
    pose::applyStance(placed, stance);
    const int head = at(heron.tree.to, heron.joint("Head")).section;
    pose::SolveRequest request;
    request.values = heron.values;
    request.grounded = heron.project.findSection(stance.section);
    request.X_WGround = at(placed.X_WS, request.grounded);
    pose::addFreedomsTo(checker, head, request.grounded, 12, request);
    const geometry::Vec3 start = at(placed.X_WS, head).translation();
    request.goals.push_back({head, geometry::Vec3::Zero(), start, std::nullopt, 1});
    double way = 0, error = 0;
    for (auto _ : state) {
        way += 0.4;
        request.goals[0].target = start + geometry::Vec3(0, 30 * std::sin(way), 20 * std::cos(way) - 20);
        const auto solution = pose::calcSolution(checker.kinematics(), request);
        const double share = pose::calcFreeShare(checker, request.values, solution.values, 2);
        request.values = pose::calcBetween(request.values, solution.values, share);
        error = solution.errorMm;
    }
    state.counters["joints"] = static_cast<double>(request.freedoms.size());
    state.counters["error_mm"] = error;
}
BENCHMARK(BM_DragLimb)->Unit(benchmark::kMillisecond);

} // namespace

namespace {

/// One place of a linkage: rates, prediction, closing.
void LoopPlaces(benchmark::State& state) {
    const Loaded model(bench::makeRockers(static_cast<int>(state.range(0))));
    const pose::Kinematics kinematics(model.project, model.tree);
    const pose::LoopFollower follower(kinematics, pose::planLoops(kinematics, model.values, {0, 0}));
    auto place = follower.start(model.values);
    if (!place.isClosed()) state.SkipWithError("the loops do not close");
    double at = place.values[0][0];
    for (auto _ : state) {
        at += 5;
        if (follower.advance(place, at) != pose::LoopEnd::Reached) state.SkipWithError("it sticks");
    }
    state.counters["loops"] = static_cast<double>(state.range(0));
}
BENCHMARK(LoopPlaces)->Arg(1)->Arg(18)->Unit(benchmark::kMicrosecond);

/// A taut line past eight pins, with where it touches.
void StrandPaths(benchmark::State& state) {
    std::vector<pose::StrandGuide> guides{{{0, 0, 0}, geometry::Vec3::UnitZ(), 0, 0, false}};
    for (int k = 1; k <= 8; ++k)
        guides.push_back({{20.0 * k, k % 2 ? 5.0 : -5.0, 0}, geometry::Vec3::UnitZ(), 3, k % 2 ? -1 : 1, false});
    guides.push_back({{180, 0, 0}, geometry::Vec3::UnitZ(), 0, 0, false});
    for (auto _ : state) benchmark::DoNotOptimize(pose::calcStrandPath(guides));
}
BENCHMARK(StrandPaths)->Unit(benchmark::kMicrosecond);

/// The string through the heron's neck, with its gradient, in one pose; all that is known of its two lines.
void LineInAPose(benchmark::State& state) {
    const Loaded model(bench::must(files::loadProject(IVRANT_DEMO_DIR "/heron-beak.ivrant")));
    const pose::Lines lines(model.project, model.tree);
    const auto placed = pose::calcPlaced(model.project, model.tree, model.values);
    const std::vector<pose::Screw> speeds(placed.X_WS.size(), pose::Screw::Ones());
    for (auto _ : state) {
        const auto line = lines.place(0, placed.X_WS);
        benchmark::DoNotOptimize(lines.calcRates(0, line, speeds));
    }
}
BENCHMARK(LineInAPose)->Unit(benchmark::kMicrosecond);

void LineStudies(benchmark::State& state) {
    const auto report = verdict::calcReport(
        std::make_shared<const model::Project>(bench::must(files::loadProject(IVRANT_DEMO_DIR "/heron-beak.ivrant"))));
    for (auto _ : state) benchmark::DoNotOptimize(study::calcStrands(report));
}
BENCHMARK(LineStudies)->Unit(benchmark::kMillisecond);

/// One turn on feet, every degree.
void Walks(benchmark::State& state) {
    const Loaded model(bench::makeRockers(static_cast<int>(state.range(0))));
    const auto placed = pose::calcPlaced(model.project, model.tree, model.values);
    const auto strengths = trials::calcStrengths(model.project);
    study::MotionInputs inputs;
    inputs.project = &model.project;
    inputs.tree = &model.tree;
    inputs.placed = &placed;
    inputs.strengths = &strengths;
    model::Motion motion;
    motion.joint = model.project.joints[0].id;
    std::vector<int> feet;
    for (std::size_t s = 1; s < model.project.sections.size(); ++s) feet.push_back(static_cast<int>(s));
    std::size_t places = 0;
    for (auto _ : state) places = study::calcWalk(inputs, motion, feet).places.size();
    state.counters["places"] = static_cast<double>(places);
}
BENCHMARK(Walks)->Arg(18)->Unit(benchmark::kMillisecond);

/// A whole study of 72 places with everything that meets.
void MotionStudies(benchmark::State& state) {
    const Loaded model(state.range(0) > 0 ? bench::makeRockers(static_cast<int>(state.range(0)))
                                          : bench::must(files::loadProject(IVRANT_DEMO_DIR "/crab-leg.ivrant")));
    const auto placed = pose::calcPlaced(model.project, model.tree, model.values);
    const auto strengths = trials::calcStrengths(model.project);
    study::MotionInputs inputs;
    inputs.project = &model.project;
    inputs.tree = &model.tree;
    inputs.placed = &placed;
    inputs.bodies = &model.context.bodies;
    inputs.strengths = &strengths;
    model::Motion motion;
    motion.joint = model.project.joints.front().id;
    for (auto _ : state) {
        const auto study = study::calcMotion(inputs, motion);
        if (!study.problem.empty()) state.SkipWithError(study.problem.c_str());
        benchmark::DoNotOptimize(study.places.size());
    }
}
BENCHMARK(MotionStudies)->Arg(0)->Arg(18)->Unit(benchmark::kMillisecond);

} // namespace

BENCHMARK_MAIN();
