// SPDX-License-Identifier: GPL-3.0-or-later
// How long do trains, locks, ratio searches and boards take?
#include <benchmark/benchmark.h>
#include <random>

#include "bench/boards.h"
#include "core/drive/board_line.h"
#include "core/drive/board_reader.h"
#include "core/drive/drive_report.h"
#include "core/files/project_file.h"
#include "core/model/board_parts.h"
#include "core/pose/kinematics.h"
#include "core/study/drive_inputs.h"
#include "core/verdict/report.h"
#include "tests/support/trains.h"

using namespace ivrant;

namespace {

/// A long train with differentials: a chain of meshes, every tenth shaft a differential's case with its sides meshed
/// on.
drive::Train makeLong(int shafts) {
    drive::Train train{shafts, {}};
    for (int i = 0; i + 1 < shafts; ++i) train.relations.push_back(drive::makeSpur(i, 12 + 4 * (i % 7), i + 1, 20));
    return train;
}

void BM_SolveChain(benchmark::State& state) {
    const auto train = makeLong(static_cast<int>(state.range(0)));
    for (auto _ : state) benchmark::DoNotOptimize(drive::solveTrain(train, {0}));
}
BENCHMARK(BM_SolveChain)->Arg(100)->Arg(500)->Unit(benchmark::kMillisecond);

/// As many random relations as leave some freedom.
void BM_SolveRandom(benchmark::State& state) {
    std::mt19937 random(4);
    const int shafts = static_cast<int>(state.range(0));
    const auto train = test::makeRandomTrain(random, shafts, shafts * 9 / 10);
    for (auto _ : state) benchmark::DoNotOptimize(drive::solveTrain(train, {0}));
}
BENCHMARK(BM_SolveRandom)->Arg(100)->Arg(500)->Unit(benchmark::kMillisecond);

/// A long train closed by a pair that contradicts it.
void BM_ExplainLock(benchmark::State& state) {
    auto train = makeLong(static_cast<int>(state.range(0)));
    train.relations.push_back(drive::makeSpur(0, 8, train.things - 1, 56));
    for (auto _ : state) {
        const auto set = drive::explainLock(train, 0);
        state.counters["contradicting"] = static_cast<double>(set.size());
    }
}
BENCHMARK(BM_ExplainLock)->Arg(500)->Unit(benchmark::kMillisecond);

void BM_FindAndPlace(benchmark::State& state) {
    drive::RatioWish wish;
    wish.ratio = 1.0 / 105;
    model::BoardId board;
    const auto project = model::addBoard(model::makeEmptyProject("Bench"), "", {}, {}, &board).value();
    drive::BoardHand hand;
    hand.board = board;
    for (auto _ : state) {
        const auto found = drive::searchRatios(wish).value();
        benchmark::DoNotOptimize(drive::placeTrain(project, hand, found.groups.front().trains.front()));
        state.counters["groups"] = static_cast<double>(found.groups.size());
    }
}
BENCHMARK(BM_FindAndPlace)->Unit(benchmark::kMillisecond);

/// One move of a dragged wheel: the edit and all live results.
void BM_DragOnBoard(benchmark::State& state) {
    model::BoardId board;
    auto project = bench::makeBoard(static_cast<int>(state.range(0)), board);
    const std::string dragged = project.boards[0]->shafts[5].id.text;
    std::int64_t by = 4'000;
    for (auto _ : state) {
        project = model::moveOnBoard(project, board, {dragged}, {by, 0, 0}).value();
        benchmark::DoNotOptimize(drive::calcDriveReport(
            project,
            drive::readBoards(project, model::calcBoardFrames({&project, {geometry::Frame::Identity()}, {}}))));
        by = -by;
    }
}
BENCHMARK(BM_DragOnBoard)->Arg(60)->Arg(500)->Unit(benchmark::kMillisecond);

/// A machine of parts, read and solved: the demo's neck drive so many times beside each other.
void BM_PartDrive(benchmark::State& state) {
    const auto one = files::loadProject(IVRANT_DATA_DIR "/demo/neck-drive.ivrant").value();
    auto project = std::make_shared<model::Project>(one);
    const auto& base = *one.sections.front();
    for (int copy = 1; copy < static_cast<int>(state.range(0)); ++copy) {
        std::vector<model::NewPart> added;
        for (const model::Part& part : base.parts) {
            model::NewPart next{part.shape, part.colour, part.place, part.step};
            next.place.atUm[0] += 64'000 * copy;
            added.push_back(std::move(next));
        }
        *project = model::addParts(*project, base.id, added).value();
    }
    const auto tree = model::makeTree(*project).value();
    const model::Placed placed = pose::calcPlaced(*project, tree, pose::getValues(*project, nullptr));
    for (auto _ : state) benchmark::DoNotOptimize(study::calcDrive(placed, tree));
    state.counters["parts"] = static_cast<double>(project->partCount());
    state.counters["shafts"] = static_cast<double>(study::calcDrive(placed, tree).net.supports.size());
}
BENCHMARK(BM_PartDrive)->Arg(1)->Arg(10)->Unit(benchmark::kMillisecond);

/// The demo's swing bridge: its drive read and solved at every position of the selector.
void BM_BridgeDrive(benchmark::State& state) {
    const auto project = files::loadProject(IVRANT_DATA_DIR "/demo/bridge.ivrant").value();
    const auto tree = model::makeTree(project).value();
    const model::Placed placed = pose::calcPlaced(project, tree, pose::getValues(project, nullptr));
    for (auto _ : state) benchmark::DoNotOptimize(study::calcDrive(placed, tree));
    state.counters["parts"] = static_cast<double>(project.partCount());
}
BENCHMARK(BM_BridgeDrive)->Unit(benchmark::kMillisecond);

/// An edit of a wheel of the bridge: its drive and all that is judged of it.
void BM_BridgeDriveVerdicts(benchmark::State& state) {
    const auto project =
        std::make_shared<const model::Project>(files::loadProject(IVRANT_DATA_DIR "/demo/bridge.ivrant").value());
    study::Wanted wanted;
    wanted.facts = study::kDrive;
    model::PartId wheel;
    for (const auto& section : project->sections)
        for (const model::Part& part : section->parts)
            if (part.shape->name == "spur gear 20") wheel = part.id;
    const auto without = std::make_shared<const model::Project>(model::removeParts(*project, {&wheel, 1}).value());
    bool gone = false;
    for (auto _ : state) {
        gone = !gone;
        benchmark::DoNotOptimize(verdict::calcReport(gone ? without : project, nullptr, wanted));
    }
}
BENCHMARK(BM_BridgeDriveVerdicts)->Unit(benchmark::kMillisecond);

} // namespace

BENCHMARK_MAIN();
