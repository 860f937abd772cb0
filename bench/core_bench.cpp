// SPDX-License-Identifier: GPL-3.0-or-later
// How long do the core's answers take? Sweeps, opening and saving, an edit of the heron to its verdicts.
#include <array>
#include <benchmark/benchmark.h>
#include <filesystem>

#include "bench/models.h"
#include "core/files/project_file.h"
#include "core/make/proposal.h"
#include "core/pose/range.h"
#include "core/verdict/report.h"

using namespace ivrant;

namespace {

/// Both directions of one joint, to its two stops, with the bodies already made.
void BM_Sweep(benchmark::State& state) {
    const auto project = bench::makeArms(static_cast<std::size_t>(state.range(0)));
    const auto tree = bench::must(model::makeTree(project));
    const auto context = pose::makeRangeContext(project, tree, bonds::calcBonds(project));
    const auto values = pose::getValues(project, nullptr);
    pose::FreedomRange range;
    for (auto _ : state) benchmark::DoNotOptimize(range = pose::calcRange(context, values, 0, 0));
    state.counters["free_low_deg"] = range.free.low;
    state.counters["free_high_deg"] = range.free.high;
}
BENCHMARK(BM_Sweep)->Arg(200)->Arg(1000)->Unit(benchmark::kMillisecond);

/// The order of building of one section: of the demo (0: the heron's body, 1: the bridge's pier, 2: the statue) or a
/// block of 11,000 bricks, 50 a course (3). `check`: the steps there are; else the plan.
void runOrder(benchmark::State& state, bool check) {
    constexpr std::array<const char*, 3> kFiles{"heron", "bridge", "auk"};
    constexpr long kBlock = 3, kCourses = 220;
    model::Project project = model::makeEmptyProject("Block");
    if (state.range(0) < kBlock) {
        project = bench::must(files::loadProject(std::string(IVRANT_DEMO_DIR) + "/" +
                                                 kFiles.at(static_cast<std::size_t>(state.range(0))) + ".ivrant"));
    } else {
        std::vector<model::NewPart> parts;
        for (long z = 0; z < kCourses; ++z)
            for (long k = 0; k < 50; ++k)
                parts.push_back(bench::makePart("brick 2x4", 0, (k % 10) * 2, (k / 10) * 4 + (z % 2) * 2, z * 3,
                                                static_cast<int>(z) + 1));
        project = bench::must(model::addParts(project, project.sections.front()->id, parts));
    }
    const auto& section = *project.sections.front();
    const auto bonds = bonds::calcSectionBonds(section, {});
    const auto steps = make::listPartSteps(section);
    std::size_t groups = 0, faults = 0;
    for (auto _ : state) {
        make::Scene scene(section, bonds);
        if (check)
            faults = make::checkOrder(scene, steps).faults.size();
        else
            groups = make::planAssembly(scene, make::calcBuildKeys(scene)).subs.size();
    }
    state.counters["parts"] = static_cast<double>(section.parts.size());
    state.counters["groups"] = static_cast<double>(groups);
    state.counters["faults"] = static_cast<double>(faults);
}
void BM_PlanOrder(benchmark::State& state) { runOrder(state, false); }
void BM_CheckOrder(benchmark::State& state) { runOrder(state, true); }
BENCHMARK(BM_PlanOrder)->DenseRange(0, 3)->Unit(benchmark::kMillisecond);
BENCHMARK(BM_CheckOrder)->DenseRange(0, 3)->Unit(benchmark::kMillisecond);

/// Bonds and bodies from nothing, as after opening.
void BM_SweepFromNothing(benchmark::State& state) {
    const auto project = bench::makeArms(static_cast<std::size_t>(state.range(0)));
    const auto tree = bench::must(model::makeTree(project));
    for (auto _ : state) {
        std::vector<bonds::SectionBondsPtr> bonds;
        for (const auto& section : project.sections)
            bonds.push_back(std::make_shared<const bonds::SectionBonds>(bonds::calcSectionBonds(*section, {0})));
        const auto context = pose::makeRangeContext(project, tree, bonds);
        benchmark::DoNotOptimize(pose::calcRange(context, pose::getValues(project, nullptr), 0, 0));
    }
}
BENCHMARK(BM_SweepFromNothing)->Arg(200)->Arg(1000)->Unit(benchmark::kMillisecond);

std::string temporaryFile() {
    return (std::filesystem::temp_directory_path() / ("ivrant-bench-" + std::to_string(::getpid()) + ".ivrant"))
        .string();
}

void BM_Open(benchmark::State& state) {
    const auto path = temporaryFile();
    if (!files::saveProject(bench::makeWall(static_cast<std::size_t>(state.range(0))), path))
        state.SkipWithError("cannot write");
    for (auto _ : state) {
        const auto project = bench::must(files::loadProject(path));
        for (const auto& section : project.sections) benchmark::DoNotOptimize(bonds::calcSectionBonds(*section, {}));
    }
    std::filesystem::remove(path);
}
BENCHMARK(BM_Open)->Arg(1000)->Arg(10'000)->Unit(benchmark::kMillisecond);

/// The great auk, both variants, with the bonds of the one shown.
void BM_OpenAuk(benchmark::State& state) {
    for (auto _ : state) {
        const auto project = bench::must(files::loadProject(IVRANT_DEMO_DIR "/auk.ivrant"));
        for (const auto& section : project.sections) benchmark::DoNotOptimize(bonds::calcSectionBonds(*section, {}));
    }
}
BENCHMARK(BM_OpenAuk)->Unit(benchmark::kMillisecond);

void BM_Save(benchmark::State& state) {
    const auto path = temporaryFile();
    const auto project = bench::makeWall(static_cast<std::size_t>(state.range(0)));
    for (auto _ : state)
        if (!files::saveProject(project, path)) state.SkipWithError("cannot write");
    std::filesystem::remove(path);
}
BENCHMARK(BM_Save)->Arg(10'000)->Unit(benchmark::kMillisecond);

model::Project loadHeron() { return bench::must(files::loadProject(IVRANT_DEMO_DIR "/heron.ivrant")); }

/// A part added to the body, then everything that the verdict slip shows.
void BM_EditToVerdicts(benchmark::State& state) {
    const auto heron = loadHeron();
    const auto section = heron.sections.front()->id;
    long z = 40;
    for (auto _ : state) {
        const std::vector<model::NewPart> added{bench::makePart("brick 2x4", 1, 0, 0, ++z, 9)};
        const auto edited = std::make_shared<const model::Project>(bench::must(model::addParts(heron, section, added)));
        benchmark::DoNotOptimize(verdict::calcReport(edited));
    }
    state.counters["parts"] = static_cast<double>(heron.partCount());
}
BENCHMARK(BM_EditToVerdicts)->Unit(benchmark::kMillisecond);

/// A joint turned, as while dragging a limb.
void BM_PoseToVerdicts(benchmark::State& state) {
    const auto heron = loadHeron();
    const auto& joint = heron.joints[8];
    double angle = 0;
    for (auto _ : state) {
        angle = angle > 20 ? 0 : angle + 22.5;
        auto value = joint.value;
        value[0] = angle;
        benchmark::DoNotOptimize(verdict::calcReport(
            std::make_shared<const model::Project>(bench::must(model::setJointValue(heron, joint.id, value)))));
    }
}
BENCHMARK(BM_PoseToVerdicts)->Unit(benchmark::kMillisecond);

} // namespace

BENCHMARK_MAIN();
