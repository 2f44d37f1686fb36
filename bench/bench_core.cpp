#include "core/measures/analyse.h"
#include "core/reading/reading.h"
#include "formats/reader.h"
#include "formats/rules/rules_json.h"
#include "formats/text/bytes.h"
#include "simulate/simulate.h"

#include <benchmark/benchmark.h>

#include <filesystem>

namespace {

using namespace kite;

std::string demo_bytes(const char* name) {
    return formats::read_bytes(std::filesystem::path(KITE_DEMO_FOLDER) / name).value;
}

void read_file(benchmark::State& state, const char* name) {
    const std::string bytes = demo_bytes(name);
    for (auto _ : state)
        benchmark::DoNotOptimize(formats::read_take(std::string_view(bytes), name, {}));
    state.SetBytesProcessed(static_cast<std::int64_t>(state.iterations()) *
                            static_cast<std::int64_t>(bytes.size()));
}
BENCHMARK_CAPTURE(read_file, pose_csv, "05-alva-iron.csv")->Unit(benchmark::kMillisecond);
BENCHMARK_CAPTURE(read_file, c3d, "10-priska-wedge.c3d")->Unit(benchmark::kMillisecond);

void analyse_swing(benchmark::State& state) {
    simulate::SwingParameters parameters;
    parameters.rate_hz = static_cast<double>(state.range(0));
    parameters.noise_mm = 0.4;
    const Take take = simulate::make_take(parameters);
    for (auto _ : state)
        benchmark::DoNotOptimize(analyse(take, {}));
}
BENCHMARK(analyse_swing)->Arg(240)->Arg(500)->Unit(benchmark::kMillisecond);

void read_in_words(benchmark::State& state) {
    const Analysis analysis = analyse(simulate::make_take({}), {}).value;
    for (auto _ : state)
        benchmark::DoNotOptimize(read_swing(analysis, formats::plain_rules()));
}
BENCHMARK(read_in_words)->Unit(benchmark::kMicrosecond);

} // namespace
