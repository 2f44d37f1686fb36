#include "app/charts/stair_chart.h"
#include "app/rooms/bench/bench_view.h"
#include "app/rooms/bench/swing_panel.h"
#include "app/rooms/report/report_room.h"
#include "app/test_window.h"
#include "paper/pages.h"

#include <QCoreApplication>
#include <QElapsedTimer>
#include <QEventLoop>
#include <QFile>
#include <QKeyEvent>
#include <QListView>
#include <QScrollBar>
#include <QTemporaryDir>
#include <QTimer>
#include <benchmark/benchmark.h>

#include <algorithm>
#include <memory>

namespace {

using namespace kite::app;

void settle(TestWindow& window) {
    while (window.model()->is_loading())
        QCoreApplication::processEvents(QEventLoop::WaitForMoreEvents, 5);
    QCoreApplication::processEvents();
}

/// The window on the demo lesson, every swing analysed.
void open_demo(TestWindow& window) {
    window.resize(1280, 800);
    window.show();
    window.open_demo();
    settle(window);
}

/// So many copies of demo swings, as files of a folder.
QStringList make_files(const QTemporaryDir& folder, int count) {
    QStringList out;
    for (int i = 0; i < count; ++i) {
        const QString name = folder.filePath(QStringLiteral("%1.csv").arg(1000 + i));
        QFile::copy(QStringLiteral(KITE_DEMO_FOLDER "/0%1-alva-iron.csv").arg(1 + i % 5), name);
        out << name;
    }
    return out;
}

void scrub(benchmark::State& state, TestWindow& window) {
    const auto range = window.state()->range();
    double share = 0.0;
    for (auto _ : state) {
        share += 0.013;
        share -= share > 1.0 ? 1.0 : 0.0;
        window.state()->set_cursor_s(range.begin_s + share * range.duration_s());
        QCoreApplication::processEvents(); // all charts have painted
    }
}

void move_cursor(benchmark::State& state) {
    TestWindow window;
    open_demo(window);
    scrub(state, window);
}
BENCHMARK(move_cursor)->Unit(benchmark::kMillisecond);

/// With a second swing under the first and the figure beside it.
void move_cursor_with_overlay(benchmark::State& state) {
    TestWindow window;
    open_demo(window);
    Overlay overlay;
    overlay.swing = window.model()->swing(4);
    window.state()->set_overlay(overlay);
    window.bench()->show_picture(1);
    window.bench()->show_traces(true);
    QCoreApplication::processEvents();
    scrub(state, window);
}
BENCHMARK(move_cursor_with_overlay)->Unit(benchmark::kMillisecond);

/// A flag dragged by a frame: the swing is measured anew on a worker and shown.
void move_a_moment(benchmark::State& state) {
    TestWindow window;
    open_demo(window);
    window.state()->choose_moment(kite::Moment::Top);
    int direction = 1;
    for (auto _ : state) {
        window.state()->nudge_moment(direction);
        direction = -direction;
        settle(window);
    }
}
BENCHMARK(move_a_moment)->Unit(benchmark::kMillisecond);

void next_swing(benchmark::State& state) {
    TestWindow window;
    open_demo(window);
    int row = 0;
    for (auto _ : state) {
        row = (row + 1) % window.model()->rowCount();
        window.select(row);
        QCoreApplication::processEvents();
    }
}
BENCHMARK(next_swing)->Unit(benchmark::kMillisecond);

void open_window(benchmark::State& state) {
    for (auto _ : state) {
        auto window = std::make_unique<TestWindow>();
        window->show();
        QCoreApplication::processEvents();
        state.PauseTiming();
        window.reset();
        state.ResumeTiming();
    }
}
BENCHMARK(open_window)->Unit(benchmark::kMillisecond);

void open_demo_lesson(benchmark::State& state) {
    for (auto _ : state) {
        auto window = std::make_unique<TestWindow>();
        open_demo(*window);
        // That the record has it all is waited for when the window goes: another figure.
        state.PauseTiming();
        window.reset();
        state.ResumeTiming();
    }
}
BENCHMARK(open_demo_lesson)->Unit(benchmark::kMillisecond);

/// One page further in a list of 500 swings.
void scroll_500_swings(benchmark::State& state) {
    const QTemporaryDir folder;
    TestWindow window;
    window.resize(1280, 800);
    window.show();
    window.open_paths(make_files(folder, 500));
    settle(window);
    auto* list = window.findChild<SwingPanel*>()->list();
    QScrollBar* bar = list->verticalScrollBar();
    for (auto _ : state) {
        bar->setValue(bar->value() >= bar->maximum() ? 0 : bar->value() + bar->pageStep());
        QCoreApplication::processEvents();
    }
}
BENCHMARK(scroll_500_swings)->Unit(benchmark::kMillisecond);

/// The longest time for which the window does not answer while 200 files come in: a clock that
/// should tick every 5 ms in the window's own loop, and by how much it was late.
void longest_block_importing_200(benchmark::State& state) {
    const QTemporaryDir folder;
    const QStringList files = make_files(folder, 200);
    double latest_ms = 0.0;
    double opening_ms = 0.0;
    for (auto _ : state) {
        TestWindow window;
        window.resize(1280, 800);
        window.show();
        QCoreApplication::processEvents();
        QEventLoop loop;
        QObject::connect(window.model(), &SwingListModel::all_loaded, &loop, &QEventLoop::quit);
        QTimer tick;
        tick.setTimerType(Qt::PreciseTimer);
        constexpr int kTick_ms = 5;
        QElapsedTimer since;
        QObject::connect(&tick, &QTimer::timeout, &tick, [&] {
            latest_ms =
                std::max(latest_ms, static_cast<double>(since.nsecsElapsed()) / 1e6 - kTick_ms);
            since.restart();
        });
        since.start();
        window.open_paths(files);
        opening_ms = std::max(opening_ms, static_cast<double>(since.nsecsElapsed()) / 1e6);
        since.restart();
        tick.start(kTick_ms);
        loop.exec();
    }
    state.counters["latest_ms"] = latest_ms;
    state.counters["opening_ms"] = opening_ms;
}
BENCHMARK(longest_block_importing_200)->Unit(benchmark::kMillisecond)->Iterations(3);

/// The report of the golfer on the Bench: made on a worker, laid out and painted for the preview on
/// the interface thread; the latter is counted.
void show_report(benchmark::State& state) {
    TestWindow window;
    open_demo(window);
    QEventLoop loop;
    auto* room = window.room<ReportRoom>();
    QObject::connect(room, &ReportRoom::made, &loop, &QEventLoop::quit);
    QTimer::singleShot(0, &window, [&] { window.enter(QStringLiteral("report")); });
    loop.exec();
    for (auto _ : state) {
        const kite::paper::Pages pages(room->report());
        for (int page = 0; page < pages.count(); ++page) {
            QPixmap sheet(820, 1160);
            sheet.fill(Qt::white);
            QPainter painter(&sheet);
            pages.paint(painter, page, 820.0 / kite::paper::Pages::kWidth_mm);
        }
    }
}
BENCHMARK(show_report)->Unit(benchmark::kMillisecond);

} // namespace
