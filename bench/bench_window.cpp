#include "app/charts/kite_view.h"
#include "app/charts/separation_strip.h"
#include "app/charts/stair_chart.h"
#include "app/views/bench_view.h"
#include "app/views/main_window.h"

#include <QCoreApplication>
#include <benchmark/benchmark.h>

namespace {

using namespace kite::app;

/// The window on the demo lesson, every swing analysed.
void open_demo(MainWindow& window) {
    window.resize(1280, 800);
    window.show();
    window.open_demo();
    while (window.model()->is_loading())
        QCoreApplication::processEvents();
    QCoreApplication::processEvents();
}

void move_cursor(benchmark::State& state) {
    MainWindow window;
    open_demo(window);
    const auto range = window.state()->range();
    double share = 0.0;
    for (auto _ : state) {
        share += 0.013;
        share -= share > 1.0 ? 1.0 : 0.0;
        window.state()->set_cursor_s(range.begin_s + share * range.duration_s());
        QCoreApplication::processEvents(); // all charts have painted
    }
}
BENCHMARK(move_cursor)->Unit(benchmark::kMillisecond);

void next_swing(benchmark::State& state) {
    MainWindow window;
    open_demo(window);
    int row = 0;
    for (auto _ : state) {
        row = (row + 1) % window.model()->rowCount();
        window.select(row);
        QCoreApplication::processEvents();
    }
}
BENCHMARK(next_swing)->Unit(benchmark::kMillisecond);

void open_demo_lesson(benchmark::State& state) {
    for (auto _ : state) {
        MainWindow window;
        open_demo(window);
    }
}
BENCHMARK(open_demo_lesson)->Unit(benchmark::kMillisecond);

} // namespace
