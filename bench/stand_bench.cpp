// SPDX-License-Identifier: GPL-3.0-or-later
// How long do bonds in balance, their λ, laying bricks and hollowing take, from small statues to large ones?
#include <algorithm>
#include <benchmark/benchmark.h>
#include <cmath>
#include <sys/resource.h>

#include "core/stand/certificate.h"
#include "core/stand/sight.h"
#include "core/stand/size_rows.h"
#include "core/study/stand_cases.h"
#include "core/verdict/report.h"
#include "data/demo/make_auk.h"

using namespace ivrant;

namespace {

const std::vector<std::array<int, 2>> kSizes{{2, 4}, {2, 3}, {2, 2}, {1, 4}, {1, 3}, {1, 2}};

const geometry::MeshBody& getAuk() {
    static const geometry::MeshBody auk = geometry::makeMeshBody(demo::makeAukMesh()).value();
    return auk;
}

/// The auk about as large as gives so many parts.
struct Statue {
    std::shared_ptr<const model::Project> project;
    model::SectionTree tree;
    std::vector<bonds::SectionBondsPtr> bonds;
    model::Placed placed;
    stand::BondLimits limits;

    Statue(double parts, int shell) {
        double height = 400;
        stand::SizeRow row;
        for (int round = 0; round < 8; ++round) {
            row = stand::calcSize(getAuk(), {height, shell, kSizes}).value();
            height *= std::pow(parts / static_cast<double>(row.parts), shell > 0 ? 0.5 : 0.36);
        }
        project = std::make_shared<const model::Project>(stand::makeStatue("Auk", row.layers, 0).value());
        tree = model::makeTree(*project).value();
        bonds = bonds::calcBonds(*project);
        placed = {project.get(), {geometry::Frame::Identity()}};
        limits = study::calcBondLimits(*project);
    }
};
const Statue& getStatue(int parts, int shell) {
    static std::map<std::pair<int, int>, std::unique_ptr<Statue>> made;
    auto& statue = made[{parts, shell}];
    if (!statue) statue = std::make_unique<Statue>(parts, shell);
    return *statue;
}

void solve(benchmark::State& state, bool lambda) {
    const Statue& statue = getStatue(static_cast<int>(state.range(0)), static_cast<int>(state.range(1)));
    stand::EquilibriumRequest request;
    request.use = false;
    request.lambda = lambda;
    bool stands = false;
    for (auto _ : state) {
        const auto net = stand::makeBondNet(statue.placed, statue.bonds, statue.limits);
        const auto e = stand::calcEquilibrium(net, stand::calcLoads(net, {0, 0, -1}), request).value();
        stands = e.stands;
        if (e.lambda) state.counters["lambda"] = *e.lambda;
        state.counters["steps"] = e.iterations;
    }
    rusage usage{};
    getrusage(RUSAGE_SELF, &usage);
    state.counters["parts"] = static_cast<double>(statue.project->partCount());
    state.counters["stands"] = stands;
    state.counters["peak_mb"] = static_cast<double>(usage.ru_maxrss) / 1024;
}
/// Which parts fall, none of them named by λ; second argument: cells of shell, 0 solid.
void BM_Falls(benchmark::State& state) { solve(state, false); }
BENCHMARK(BM_Falls)
    ->Args({500, 2})
    ->Args({2000, 2})
    ->Args({6000, 2})
    ->Args({10000, 2})
    ->Args({10000, 0})
    ->Unit(benchmark::kMillisecond);

/// The same and λ.
void BM_Lambda(benchmark::State& state) { solve(state, true); }
BENCHMARK(BM_Lambda)->Args({500, 2})->Args({2000, 2})->Args({6000, 2})->Args({6000, 3})->Args({6000, 0})->Unit(
    benchmark::kMillisecond);

/// Quick proof that it stands; third argument 1: the highest part is away, with the forces from before as the start.
void BM_Certificate(benchmark::State& state) {
    const Statue& statue = getStatue(static_cast<int>(state.range(0)), static_cast<int>(state.range(1)));
    const bool again = state.range(2) != 0;
    stand::KeptForces kept;
    if (again) {
        const auto whole = stand::makeBondNet(statue.placed, statue.bonds, statue.limits);
        kept = stand::calcCertificate(whole, stand::calcLoads(whole, {0, 0, -1})).value().forces;
    }
    const auto& parts = statue.project->sections[0]->parts;
    const auto lower = [](const model::Part& l, const model::Part& r) { return l.place.atUm[2] < r.place.atUm[2]; };
    const int highest = static_cast<int>(std::max_element(parts.begin(), parts.end(), lower) - parts.begin());
    stand::NetRequest without;
    if (again) without.built = [&](model::PartSpot spot) { return spot.part != highest; };
    for (auto _ : state) {
        const auto net = stand::makeBondNet(statue.placed, statue.bonds, statue.limits, without);
        stand::CertificateRequest request;
        if (again) request.start = &kept;
        const auto c = stand::calcCertificate(net, stand::calcLoads(net, {0, 0, -1}), request).value();
        state.counters["stands"] = c.stands;
        state.counters["rounds"] = c.rounds;
        state.counters["lacks_N"] = c.residualN;
        state.counters["use"] = c.largestUse;
    }
    state.counters["parts"] = static_cast<double>(parts.size());
}
BENCHMARK(BM_Certificate)
    ->Args({500, 2, 0})
    ->Args({2000, 2, 0})
    ->Args({6000, 3, 0})
    ->Args({6000, 0, 0})
    ->Args({6000, 3, 1})
    ->Args({6000, 0, 1})
    ->Args({10000, 0, 0})
    ->Unit(benchmark::kMillisecond);

/// What `ivrant-cli stand` solves: at rest, then, several at once, slope, bump and knock in their worst ways and
/// carried; second argument 0: at rest alone.
void BM_UsualCases(benchmark::State& state) {
    const Statue& statue = getStatue(static_cast<int>(state.range(0)), 3);
    const auto report = verdict::calcReport(statue.project);
    for (auto _ : state) {
        bool holds = study::calcStandCase(report, report.present, study::makeAtRest(report, report.present))
                         .value()
                         .equilibrium.stands;
        if (state.range(1) == 0) continue;
        auto cases = study::listStandCases(report, report.present);
        std::erase_if(cases, [](const stand::StandCase& c) { return c.kind == stand::CaseKind::Standing; });
        benchmark::DoNotOptimize(
            study::calcStandCases(report, report.present, cases, {}, [&](std::size_t, const auto& result) {
                holds &= result->equilibrium.stands;
                return true;
            }));
        benchmark::DoNotOptimize(holds);
    }
    rusage usage{};
    getrusage(RUSAGE_SELF, &usage);
    state.counters["parts"] = static_cast<double>(statue.project->partCount());
    state.counters["peak_mb"] = static_cast<double>(usage.ru_maxrss) / 1024;
}
BENCHMARK(BM_UsualCases)
    ->Args({4000, 0})
    ->Args({4000, 1})
    ->Args({14000, 0})
    ->Args({14000, 1})
    ->Unit(benchmark::kMillisecond)
    ->Iterations(1)
    ->UseRealTime();

void BM_LayBricks(benchmark::State& state) {
    for (auto _ : state) benchmark::DoNotOptimize(stand::calcSize(getAuk(), {780, 0, kSizes}));
}
BENCHMARK(BM_LayBricks)->Unit(benchmark::kMillisecond);

/// What can be left out of the solid auk.
void BM_Core(benchmark::State& state) {
    const auto row = stand::calcSize(getAuk(), {780, 0, kSizes}).value();
    const auto report =
        verdict::calcReport(std::make_shared<const model::Project>(stand::makeStatue("Auk", row.layers, 0).value()));
    for (auto _ : state) {
        const auto core = study::calcCore(report, report.present).value();
        state.counters["parts"] = static_cast<double>(core.leaveOut.size());
    }
}
BENCHMARK(BM_Core)->Unit(benchmark::kMillisecond);

/// Rays at every part, one pose.
void BM_NeverSeen(benchmark::State& state) {
    const Statue& statue = getStatue(static_cast<int>(state.range(0)), static_cast<int>(state.range(1)));
    for (auto _ : state) {
        const auto sight = stand::calcSight(statue.placed).value();
        state.counters["rays"] = static_cast<double>(sight.rays);
        state.counters["never"] =
            static_cast<double>(std::count(sight.look[0].begin(), sight.look[0].end(), stand::Look::Never));
    }
    state.counters["parts"] = static_cast<double>(statue.project->partCount());
}
BENCHMARK(BM_NeverSeen)
    ->Args({6000, 3})
    ->Args({6000, 0})
    ->Args({10000, 0})
    ->Unit(benchmark::kMillisecond)
    ->UseRealTime();

} // namespace

BENCHMARK_MAIN();
