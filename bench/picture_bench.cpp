// SPDX-License-Identifier: GPL-3.0-or-later
// How long does a frame take, and the printed sheet of a large model?
#include <benchmark/benchmark.h>
#include <filesystem>
#include <sys/resource.h>

#include "bench/models.h"
#include "core/files/project_file.h"
#include "core/model/variants.h"
#include "core/pose/kinematics.h"
#include "print/guide.h"
#include "render/picture.h"

using namespace ivrant;

namespace {

struct Shown {
    model::Project project;
    model::Placed placed;
    render::Scene scene;

    explicit Shown(std::size_t parts) : Shown(bench::makeWall(parts)) {}
    explicit Shown(model::Project of) : project(std::move(of)) {
        placed = pose::calcPlaced(project, bench::must(model::makeTree(project)), pose::getValues(project, nullptr));
        scene = render::makeScene(placed, bonds::calcBonds(project), {});
        scene.refined = false;
    }
};

/// A moving frame at 1280×800: another direction each time.
void BM_Frame(benchmark::State& state) {
    auto renderer = bench::must(render::Renderer::create());
    Shown shown(static_cast<std::size_t>(state.range(0)));
    (void)renderer->draw(shown.scene); // bakes
    for (auto _ : state) {
        shown.scene.camera.yaw += 0.05;
        benchmark::DoNotOptimize(renderer->draw(shown.scene));
    }
}
BENCHMARK(BM_Frame)->Arg(500)->Arg(5000)->Arg(10'000)->Unit(benchmark::kMillisecond)->UseRealTime();

/// The great auk with its solid core.
model::Project loadAuk() {
    const auto auk = bench::must(files::loadProject(IVRANT_DEMO_DIR "/auk.ivrant"));
    for (std::size_t v = 0; v < auk.variants.size(); ++v)
        if (auk.variants[v].name == "solid") return model::takeVariant(auk, static_cast<int>(v));
    return auk;
}
void BM_FrameOfAuk(benchmark::State& state) {
    auto renderer = bench::must(render::Renderer::create());
    Shown shown(loadAuk());
    (void)renderer->draw(shown.scene); // bakes
    for (auto _ : state) {
        shown.scene.camera.yaw += 0.05;
        benchmark::DoNotOptimize(renderer->draw(shown.scene));
    }
    state.counters["parts"] = static_cast<double>(shown.project.partCount());
}
BENCHMARK(BM_FrameOfAuk)->Unit(benchmark::kMillisecond)->UseRealTime();

/// The smooth frame that follows when the sheet has been still.
void BM_RefinedFrame(benchmark::State& state) {
    auto renderer = bench::must(render::Renderer::create());
    Shown shown(static_cast<std::size_t>(state.range(0)));
    shown.scene.refined = true;
    (void)renderer->draw(shown.scene);
    for (auto _ : state) benchmark::DoNotOptimize(renderer->draw(shown.scene));
}
BENCHMARK(BM_RefinedFrame)->Arg(500)->Arg(5000)->Unit(benchmark::kMillisecond)->UseRealTime();

/// First frame of a model: baking all sections, then drawing.
void BM_FirstFrame(benchmark::State& state) {
    const Shown shown(static_cast<std::size_t>(state.range(0)));
    for (auto _ : state) {
        auto renderer = bench::must(render::Renderer::create());
        benchmark::DoNotOptimize(renderer->draw(shown.scene));
    }
}
BENCHMARK(BM_FirstFrame)->Arg(5000)->Arg(10'000)->Unit(benchmark::kMillisecond)->UseRealTime();

void writeSheet(benchmark::State& state, model::Project project) {
    const auto path =
        (std::filesystem::temp_directory_path() / ("ivrant-bench-" + std::to_string(::getpid()) + ".pdf")).string();
    const auto report = verdict::calcReport(std::make_shared<const model::Project>(std::move(project)));
    for (auto _ : state)
        if (const auto written = print::writeGuidePdf(report, path); !written)
            state.SkipWithError(written.error().message.c_str());
    rusage usage{};
    getrusage(RUSAGE_SELF, &usage);
    state.counters["peak_MB"] = static_cast<double>(usage.ru_maxrss) / 1024;
    state.counters["pdf_MB"] = static_cast<double>(std::filesystem::file_size(path)) / 1e6;
    std::filesystem::remove(path);
}
void BM_SheetPdf(benchmark::State& state) {
    writeSheet(state, bench::makeWall(static_cast<std::size_t>(state.range(0))));
}
BENCHMARK(BM_SheetPdf)->Arg(5000)->Iterations(1)->Unit(benchmark::kSecond)->UseRealTime();

/// All layers as steps.
void BM_SheetOfAuk(benchmark::State& state) { writeSheet(state, loadAuk()); }
BENCHMARK(BM_SheetOfAuk)->Iterations(1)->Unit(benchmark::kSecond)->UseRealTime();

} // namespace

BENCHMARK_MAIN();
