// SPDX-License-Identifier: GPL-3.0-or-later
// How long do stocks, baskets, combinations, modules and boxes take?
#include <benchmark/benchmark.h>

#include <random>

#include "bench/models.h"
#include "core/base/at.h"
#include "core/files/project_file.h"
#include "core/files/supplies_csv.h"
#include "core/make/basket.h"
#include "core/model/edits_options.h"
#include "core/study/packing.h"
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

/// The first so many studs of a section that point upward with nothing on them, in the section, mm.
std::vector<geometry::Vec3> listFreeStuds(const model::Project& project, int section, std::size_t most) {
    std::vector<geometry::Vec3> free;
    const auto bonds = bonds::calcBonds(project);
    const auto& parts = at(project.sections, section)->parts;
    for (std::size_t p = 0; p < parts.size(); ++p) {
        const auto& ports = parts[p].shape->ports;
        const auto& covered = at(bonds, section)->coveredStuds[p];
        for (std::size_t k = 0; k < ports.size() && free.size() < most; ++k)
            if (ports[k].kind == parts::PortKind::Stud &&
                std::find(covered.begin(), covered.end(), static_cast<int>(k)) == covered.end() &&
                (parts[p].place.frame().linear() * ports[k].axis).z() > 0.99)
                free.push_back(parts[p].place.frame() * ports[k].origin);
    }
    return free;
}

/// Two places on the heron's body, 14 alternatives each, on a model of about 150 parts: 196 combinations.
void BM_HeronCombinations(benchmark::State& state) {
    constexpr int kAlternatives = 14;
    model::Project project = load("heron");
    const auto put = [&](const geometry::Vec3& stud, const char* shape, int colour) {
        model::NewPart part;
        part.shape = bench::must(parts::makeShape(shape));
        part.colour = colour;
        for (int k = 0; k < 3; ++k)
            part.place.atUm[static_cast<std::size_t>(k)] = std::llround(1000 * (stud[k] - (k < 2 ? 4 : 0)));
        std::vector<model::PartId> ids;
        project = bench::must(model::addParts(project, project.sections[0]->id, {&part, 1}, &ids));
        return ids.front();
    };
    const auto studs = listFreeStuds(project, 0, 24);
    for (std::size_t k = 2; k < studs.size(); ++k) put(studs[k], "round plate 1x1", 1);
    for (int option = 0; option < 2; ++option) {
        const auto first = put(studs[static_cast<std::size_t>(option)], "round plate 1x1", 0);
        project = bench::must(model::addOption(project, "Place " + std::to_string(option), "0", {&first, 1}));
        const auto id = project.options.list.back().id;
        project = bench::must(model::removeAlternative(project, project.options.list.back().alternatives.back().id));
        for (int k = 1; k < kAlternatives; ++k) {
            project = bench::must(model::addAlternative(project, id, std::to_string(k)));
            const auto next = put(studs[static_cast<std::size_t>(option)], "round plate 1x1", k);
            project = bench::must(model::assignToChosen(project, id, {&next, 1}));
        }
    }
    const auto report = verdict::calcReport(std::make_shared<const model::Project>(project));
    std::size_t rows = 0;
    for (auto _ : state) rows = verdict::calcOptionMatrix(report).rows.size();
    state.counters["combinations"] = static_cast<double>(rows);
    state.counters["parts"] = static_cast<double>(project.partCount());
}
BENCHMARK(BM_HeronCombinations)->Unit(benchmark::kSecond)->Iterations(1);

/// Four modules and two reaches of the heron; a section of its neck alone is looked at in both its poses.
void BM_Modules(benchmark::State& state) {
    model::Project project = load("heron");
    for (const char* name : {"Left wing", "Right wing", "Head", "Tail"})
        for (const auto& section : project.sections)
            if (section->name == name) {
                model::Module one;
                one.name = name;
                one.sections = {section->id};
                project = bench::must(model::putModule(project, one));
            }
    for (const auto side : {model::Side::Top, model::Side::Bottom}) {
        model::Reach reach;
        reach.name = "Battery";
        reach.part = project.sections[0]->parts[5].id;
        reach.side = side;
        project = bench::must(model::putReach(project, reach));
    }
    study::Wanted wanted;
    wanted.facts = study::kAtRest;
    const auto facts = study::calcFacts(std::make_shared<const model::Project>(project), wanted);
    std::size_t lifts = 0;
    for (auto _ : state) lifts = study::calcModules(facts)->modules.size();
    state.counters["modules"] = static_cast<double>(lifts);
}
BENCHMARK(BM_Modules)->Unit(benchmark::kMillisecond);

void BM_Packing(benchmark::State& state, const char* name) {
    study::Wanted wanted;
    wanted.facts = study::kModules;
    const auto facts = study::calcFacts(std::make_shared<const model::Project>(load(name)), wanted);
    std::size_t boxes = 0;
    for (auto _ : state) boxes = study::planPacking(facts).boxes.size();
    state.counters["boxes"] = static_cast<double>(boxes);
}
BENCHMARK_CAPTURE(BM_Packing, heron, "heron")->Unit(benchmark::kMillisecond);
BENCHMARK_CAPTURE(BM_Packing, auk, "auk")->Unit(benchmark::kMillisecond);

} // namespace

BENCHMARK_MAIN();
