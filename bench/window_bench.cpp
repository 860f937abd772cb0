// SPDX-License-Identifier: GPL-3.0-or-later
// How long does the window keep a person waiting? The longest the event loop is held up during edits, and how soon the
// verdicts of an edit are on the screen. Needs a display or QT_QPA_PLATFORM=offscreen.
#include <QApplication>
#include <QElapsedTimer>
#include <QFile>
#include <QStandardPaths>
#include <QTemporaryDir>
#include <QThread>
#include <QTimer>
#include <atomic>
#include <benchmark/benchmark.h>

#include "app/shell/main_window.h"
#include "app/shell/theme.h"
#include "app/stations/stations.h"
#include "bench/boards.h"
#include "bench/models.h"
#include "core/model/edits.h"
#include "core/parts/family.h"

using namespace ivrant;
using namespace ivrant::app;

namespace {

struct Rig {
    QTemporaryDir journals;
    MainWindow window;
    double longestMs = 0; ///< longest single turn of the event loop since the last reset
    QTimer heart;         ///< beats as often as it may; the longest pause between beats is a block
    QElapsedTimer sinceBeat;

    Rig()
        : window(Prompts{[](QWidget*) { return QString(); }, [](QWidget*, const QString&) { return QString(); },
                         [](QWidget*) { return 'n'; }, [](QWidget*, const QStringList&) { return CopyAnswer{}; },
                         [](QWidget*, const QString&) { return 'o'; }, [](QWidget*, const QString&) { return true; }},
                 journals.path(), makeStations) {
        window.resize(1280, 800);
        window.show();
        QObject::connect(&heart, &QTimer::timeout, &window, [this] {
            longestMs = std::max(longestMs, static_cast<double>(sinceBeat.nsecsElapsed()) / 1e6);
            sinceBeat.start();
        });
        sinceBeat.start();
        heart.start(1);
    }
    ~Rig() { window.close(); }

    /// As the loop of the program does: what was asked to be deleted is deleted too, which processEvents alone leaves
    /// to an outer loop.
    static void processEvents() {
        QCoreApplication::processEvents(QEventLoop::AllEvents, 1);
        QCoreApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
    }
    void turn() {
        QElapsedTimer timer;
        timer.start();
        processEvents();
        longestMs = std::max(longestMs, static_cast<double>(timer.nsecsElapsed()) / 1e6);
    }
    /// As the program's loop waits: what works in the background has the cores meanwhile.
    void wait() {
        turn();
        QThread::usleep(200);
    }
    void settle() {
        while (!(window.session().isReportCurrent() && !window.jobs().isBusy())) wait();
        for (int i = 0; i < 10; ++i) turn();
    }
    /// Runs something on the window's thread and counts it as one turn.
    template <class Act> void act(Act action) {
        QElapsedTimer timer;
        timer.start();
        action();
        longestMs = std::max(longestMs, static_cast<double>(timer.nsecsElapsed()) / 1e6);
    }
};

void addBrick(Session& session, long z) {
    const std::vector<model::NewPart> added{bench::makePart("brick 2x4", 1, 0, 0, z, 9)};
    session.apply("brick", [&](const model::Project& p) { return model::addParts(p, p.sections.front()->id, added); });
}

double residentMb() {
    QFile status("/proc/self/status");
    if (!status.open(QIODevice::ReadOnly)) return 0;
    for (const QByteArray& line : status.readAll().split('\n'))
        if (line.startsWith("VmRSS:")) return line.mid(6).trimmed().split(' ').first().toDouble() / 1024;
    return 0;
}

/// 2,000 edits of the heron that leave it as large as it was, each until its verdicts are shown: the first hundred
/// against the last, and memory.
void BM_TwoThousandEdits(benchmark::State& state) {
    Rig rig;
    if (!rig.window.openFile(IVRANT_DEMO_DIR "/heron.ivrant")) return state.SkipWithError("the demo does not open");
    rig.settle();
    const double before = residentMb();
    for (auto _ : state) {
        double first = 0, last = 0;
        for (int i = 0; i < 2000; ++i) {
            QElapsedTimer timer;
            timer.start();
            const auto& project = rig.window.session().project();
            const std::vector ids{
                project.sections[static_cast<std::size_t>(i) % project.sections.size()]->parts.front().id};
            rig.window.session().apply("recolour",
                                       [&](const model::Project& p) { return model::recolourParts(p, ids, i % 5); });
            if (i >= 100 && i < 1900) { // typed fast: the verdicts do not follow every one
                Rig::processEvents();
                continue;
            }
            rig.settle();
            const double ms = static_cast<double>(timer.nsecsElapsed()) / 1e6;
            (i < 100 ? first : last) += ms / 100;
        }
        state.counters["first_ms"] = first;
        state.counters["last_ms"] = last;
    }
    state.counters["before_mb"] = before;
    state.counters["after_mb"] = residentMb();
}
BENCHMARK(BM_TwoThousandEdits)->Iterations(1)->Unit(benchmark::kSecond)->UseRealTime();

/// An edit of an attached part of the heron, a plate for a tile and back, with the given station in front: until the
/// first verdicts are painted
/// (`first_ms`), until all are.
void BM_EditToShownVerdicts(benchmark::State& state) {
    Rig rig;
    if (!rig.window.openFile(IVRANT_DEMO_DIR "/heron.ivrant")) return state.SkipWithError("the demo does not open");
    rig.window.goStation(static_cast<int>(state.range(0)));
    rig.settle();
    Session& session = rig.window.session();
    std::vector<model::PartId> ids;
    for (const auto& part : session.project().sections[1]->parts)
        if (ids.empty() && part.shape->family == "plate") ids.push_back(part.id);
    if (ids.empty()) return state.SkipWithError("no plate there");
    const auto plate = model::getPart(session.project(), model::PartIndex(session.project()).find(ids[0])).shape;
    const auto tile = bench::must(parts::makeShape("tile" + plate->name.substr(plate->name.rfind(' '))));
    QElapsedTimer since;
    double first = 0;
    bool seen = false;
    QObject::connect(&session, &Session::stageChanged, &rig.window, [&] { seen = true; });
    bool smooth = false;
    rig.longestMs = 0;
    for (auto _ : state) {
        since.start();
        seen = false;
        smooth = !smooth;
        rig.act([&] {
            session.apply("exchange",
                          [&](const model::Project& p) { return model::exchangeShape(p, ids, smooth ? tile : plate); });
        });
        while (!seen && !session.isReportCurrent()) rig.wait();
        rig.turn(); // and painted
        first += static_cast<double>(since.nsecsElapsed()) / 1e6;
        while (!session.isReportCurrent()) rig.wait();
        rig.turn();
    }
    rig.settle();
    state.counters["first_ms"] = first / static_cast<double>(state.iterations());
    state.counters["longest_block_ms"] = rig.longestMs;
}
BENCHMARK(BM_EditToShownVerdicts)->Arg(1)->Arg(2)->Arg(4)->Arg(5)->Unit(benchmark::kMillisecond)->UseRealTime();

/// The same on a large wall: the analysis goes on in the background, the window must stay alive.
void BM_EditOfLargeModel(benchmark::State& state) {
    Rig rig;
    const auto wall = bench::makeWall(static_cast<std::size_t>(state.range(0)));
    rig.window.session().reset(wall, "", false);
    rig.settle();
    rig.longestMs = 0;
    long z = 400;
    for (auto _ : state) {
        rig.act([&] { addBrick(rig.window.session(), ++z); });
        for (int i = 0; i < 3; ++i) rig.turn();
    }
    rig.settle();
    state.counters["longest_block_ms"] = rig.longestMs;
}
BENCHMARK(BM_EditOfLargeModel)->Arg(5000)->Arg(10'000)->Iterations(5)->Unit(benchmark::kMillisecond)->UseRealTime();

/// Opening a file in the window until its first picture is painted.
void BM_OpenInWindow(benchmark::State& state) {
    Rig rig;
    const QString path = rig.journals.path() + "/wall.ivrant";
    rig.window.session().reset(bench::makeWall(static_cast<std::size_t>(state.range(0))), "", false);
    if (!rig.window.session().save(path)) return state.SkipWithError("cannot write");
    rig.settle();
    rig.longestMs = 0;
    for (auto _ : state) {
        rig.window.openFile(path);
        for (int i = 0; i < 5; ++i) rig.turn(); // the first picture
    }
    rig.settle();
    state.counters["longest_block_ms"] = rig.longestMs;
}
BENCHMARK(BM_OpenInWindow)->Arg(10'000)->Iterations(3)->Unit(benchmark::kMillisecond)->UseRealTime();

/// One move of a dragged wheel on the board of the Drive station, with all live results, until it is painted.
void BM_DragOnBoardPainted(benchmark::State& state) {
    Rig rig;
    model::BoardId board;
    rig.window.session().reset(bench::makeBoard(static_cast<int>(state.range(0)), board), "", false);
    rig.window.goStation(rig.window.indexOf(verdict::Station::Drive));
    rig.settle();
    auto* drawn = rig.window.findChild<QWidget*>("board");
    const std::string dragged = rig.window.session().project().boards[0]->shafts[5].id.text;
    std::int64_t by = 4'000;
    rig.window.session().apply("Move", [&](const model::Project& p) {
        return model::moveOnBoard(p, board, {dragged}, {by, 0, 0});
    });
    for (auto _ : state) {
        by = -by;
        rig.window.session().applyLive("Move", [&](const model::Project& p) {
            return model::moveOnBoard(p, board, {dragged}, {by, 0, 0});
        });
        drawn->repaint();
    }
}
BENCHMARK(BM_DragOnBoardPainted)->Arg(60)->Unit(benchmark::kMillisecond)->UseRealTime();

/// The same with wheels that are parts, plan and elevation painted.
void BM_DragPartsPainted(benchmark::State& state) {
    Rig rig;
    model::BoardId board;
    rig.window.session().reset(bench::makePartBoard(static_cast<int>(state.range(0)), board), "", false);
    rig.window.goStation(rig.window.indexOf(verdict::Station::Drive));
    rig.settle();
    auto* drawn = rig.window.findChild<QWidget*>("board");
    const auto& parts = rig.window.session().project().sections.front()->parts;
    std::vector<std::string> dragged; // a shaft with its wheel
    for (std::size_t p = 0; p + 1 < parts.size() && dragged.empty(); ++p)
        if (p > 10 && parts[p].shape->family == "axle") dragged = {parts[p].id.text, parts[p + 1].id.text};
    std::int64_t by = 4'000;
    rig.window.session().apply("Move", [&](const model::Project& p) {
        return model::moveSeen(p, board, dragged, {by, 0, 0});
    });
    for (auto _ : state) {
        by = -by;
        rig.window.session().applyLive("Move", [&](const model::Project& p) {
            return model::moveSeen(p, board, dragged, {by, 0, 0});
        });
        drawn->repaint();
    }
}
BENCHMARK(BM_DragPartsPainted)->Arg(60)->Unit(benchmark::kMillisecond)->UseRealTime();

/// A click on another position of the bridge's selector until board and tables show it.
void BM_SwitchSelector(benchmark::State& state) {
    Rig rig;
    if (!rig.window.openFile(IVRANT_DEMO_DIR "/bridge.ivrant")) return state.SkipWithError("the demo does not open");
    rig.window.goStation(rig.window.indexOf(verdict::Station::Drive));
    rig.settle();
    auto* drawn = rig.window.findChild<QWidget*>("board");
    auto* table = rig.window.findChild<QWidget*>("functions");
    const auto selector = rig.window.session().project().boards[0]->selectors[0].id;
    int position = 0;
    for (auto _ : state) {
        position = 1 - position;
        rig.window.session().apply("Move the selector", [&](const model::Project& p) {
            return model::setSelectorPosition(p, selector, position);
        });
        drawn->repaint();
        table->repaint();
        state.PauseTiming();
        rig.settle();
        state.ResumeTiming();
    }
}
BENCHMARK(BM_SwitchSelector)->Iterations(20)->Unit(benchmark::kMillisecond)->UseRealTime();

} // namespace

int main(int argc, char** argv) {
    QStandardPaths::setTestModeEnabled(true);
    QApplication app(argc, argv);
    QApplication::setApplicationName("ivrant-bench");
    applyTheme(app, false);
    benchmark::Initialize(&argc, argv);
    benchmark::RunSpecifiedBenchmarks();
    return 0;
}
