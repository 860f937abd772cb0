// SPDX-License-Identifier: GPL-3.0-or-later
// How long do stocks, baskets and combinations take?
#include <benchmark/benchmark.h>

#include <random>

#include "bench/models.h"
#include "core/files/project_file.h"
#include "core/files/supplies_csv.h"
#include "core/make/basket.h"
#include "core/verdict/make/option_matrix.h"

using namespace ivrant;

namespace {

model::Project load(const char* name) {
    return bench::must(files::loadProject(std::string(IVRANT_DEMO_DIR) + "/" + name + ".ivrant"));
}

/// 300 wishes, 8 sellers that each have two thirds of them, packs, least orders, falling shipping.
void BM_Basket(benchmark::State& state) {
    constexpr int kWishes = 300, kSellers = 8;
    std::mt19937 random(static_cast<unsigned>(state.range(0)));
    const auto between = [&](int low, int high) { return std::uniform_int_distribution<int>(low, high)(random); };
    make::BasketRequest request;
    for (int s = 0; s < kSellers; ++s)
        request.sellers.push_back({"S" + std::to_string(s),
                                   between(2, 14),
                                   between(0, 3) * 5.0,
                                   {{0, between(30, 80) * 0.1}, {25, between(10, 30) * 0.1}, {60, 0}}});
    for (int w = 0; w < kWishes; ++w) {
        request.wishes.push_back({"wish " + std::to_string(w), w % 7, between(1, 40), {}});
        const double price = between(3, 40) * 0.01;
        for (int s = 0; s < kSellers; ++s)
            if (between(0, 2) > 0)
                request.offers.push_back({s, request.wishes.back().shape, request.wishes.back().colour,
                                          price * between(80, 130) * 0.01, between(5, 200),
                                          between(0, 4) == 0 ? between(2, 10) : 1});
    }
    make::Basket basket;
    for (auto _ : state) basket = bench::must(make::findBasket(request));
    state.counters["gap_percent"] = 100 * basket.gap();
    state.counters["proven"] = basket.proven;
    state.counters["cost"] = basket.cost;
    state.counters["sellers"] = static_cast<double>(basket.sellers.size());
}
BENCHMARK(BM_Basket)->DenseRange(1, 3)->Unit(benchmark::kMillisecond)->Iterations(1);

void BM_StockTable(benchmark::State& state) {
    std::string csv = "shape,colour,count,drawer\n";
    for (long i = 0; i < state.range(0); ++i)
        csv += "plate " + std::to_string(1 + i % 8) + "x" + std::to_string(1 + i % 16) + ",slate," +
               std::to_string(i % 100) + ",D" + std::to_string(i % 500) + "\n";
    std::size_t lines = 0;
    for (auto _ : state) lines = bench::must(files::parseStock(csv)).lines.size();
    state.counters["lines"] = static_cast<double>(lines);
}
BENCHMARK(BM_StockTable)->Arg(1000)->Arg(1'000'000)->Unit(benchmark::kMillisecond);

void BM_Tide(benchmark::State& state) {
    auto project = load("auk");
    auto supplies = std::make_shared<model::Supplies>();
    supplies->stocks.push_back(std::make_shared<model::Stock>());
    project.supplies = supplies;
    const auto tree = bench::must(model::makeTree(project));
    std::size_t lines = 0;
    for (auto _ : state) lines = make::calcTide(project, tree).lines.size();
    state.counters["kinds"] = static_cast<double>(lines);
}
BENCHMARK(BM_Tide)->Unit(benchmark::kMillisecond);

/// The demo's fair-goer of your choice: every combination with all its verdicts, its first report not counted.
void BM_Combinations(benchmark::State& state) {
    const auto report = verdict::calcReport(std::make_shared<const model::Project>(load("fairgoer-choices")));
    std::size_t rows = 0;
    for (auto _ : state) rows = verdict::calcOptionMatrix(report).rows.size();
    state.counters["combinations"] = static_cast<double>(rows);
    state.counters["parts"] = static_cast<double>(report.project->partCount());
}
BENCHMARK(BM_Combinations)->Unit(benchmark::kMillisecond);

} // namespace

BENCHMARK_MAIN();
