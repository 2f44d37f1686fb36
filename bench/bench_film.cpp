// Film of a phone: 1080 x 1920, 240 pictures a second, 8 s. Made once a run, of pictures that
// repeat.

#include "film/film.h"
#include "film/follow_through.h"
#include "film/render/film_writer.h"
#include "simulate/golfers.h"
#include "simulate/lens.h"
#include "support/temporary_folder.h"

#include <benchmark/benchmark.h>

#include <random>

namespace {

using namespace kite;
using namespace kite::film;

constexpr std::size_t kPictures = 1920;
constexpr std::size_t kDifferent = 120; ///< of the downswing, over and over

struct Clip {
    test::TemporaryFolder folder;
    std::filesystem::path path = folder.path("clip.mp4");
    simulate::SwingModel model{simulate::typical_swing(ClubKind::Iron)};
    simulate::FilmSetup setup = simulate::usual_phones({Side::FaceOn}, 240.0);
    simulate::FilmTimes times = simulate::times_of(model);

    double swing_s(std::size_t picture) const {
        return times.top_s - 0.2 + static_cast<double>(picture % kDifferent) / 240.0;
    }
    Clip() {
        simulate::FilmCamera& camera = setup.cameras.front();
        camera.focal_px *= 0.85;
        const Scene scene(model, setup, camera);
        std::vector<Drawn> drawn;
        for (std::size_t i = 0; i < kDifferent; ++i)
            drawn.push_back(scene.draw(swing_s(i), 3.0, static_cast<std::uint32_t>(i)));
        StoredAs stored;
        stored.sound = swing_sound(4.0, 8.0, 4.0, stored.sound_rate_hz, 1);
        write_film(
            path, kPictures, [&](std::size_t i) { return drawn[i % kDifferent]; }, stored);
    }
};

const Clip& clip() {
    static const Clip one;
    return one;
}

std::shared_ptr<Film> opened() {
    return Film::open(clip().path).value;
}

void film_opens(benchmark::State& state) {
    clip();
    for (auto _ : state)
        benchmark::DoNotOptimize(opened()->picture(0));
}
BENCHMARK(film_opens)->Unit(benchmark::kMillisecond);

/// One picture on or back, as shown, for 400 pictures; the slowest as well.
void film_steps(benchmark::State& state) {
    const bool forwards = state.range(0) > 0;
    double slowest_ms = 0.0;
    double sum_ms = 0.0;
    double steps = 0.0;
    for (auto _ : state) {
        state.PauseTiming();
        const auto film = opened();
        std::size_t at = forwards ? 600 : 1400;
        film->picture(at);
        state.ResumeTiming();
        for (int i = 0; i < 400; ++i) {
            const auto begun = std::chrono::steady_clock::now();
            // As the player does between two pictures that are asked for.
            film->prepare(forwards ? at + 30 : at - 30, 8);
            at = forwards ? at + 1 : at - 1;
            benchmark::DoNotOptimize(film->picture(at));
            const std::chrono::duration<double, std::milli> took =
                std::chrono::steady_clock::now() - begun;
            slowest_ms = std::max(slowest_ms, took.count());
            sum_ms += took.count();
            steps += 1.0;
        }
        state.counters["cache_MB"] = static_cast<double>(film->cache_bytes()) / 1e6;
    }
    state.counters["slowest_ms"] = slowest_ms;
    state.counters["ms_a_step"] = sum_ms / steps;
}
BENCHMARK(film_steps)->Arg(1)->Arg(-1)->Unit(benchmark::kMillisecond)->Iterations(2);

/// Anywhere in the film, out of nowhere.
void film_jumps(benchmark::State& state) {
    const auto film = opened();
    std::mt19937 random(3);
    for (auto _ : state)
        benchmark::DoNotOptimize(film->picture(random() % kPictures));
}
BENCHMARK(film_jumps)->Unit(benchmark::kMillisecond);

/// One point, or eight, over 100 pictures, decoding included.
void film_follows(benchmark::State& state) {
    const simulate::Lens lens(clip().setup.cameras.front());
    const auto place_of = simulate::points_of(clip().model, clip().setup);
    Points at;
    for (std::size_t p = 0; p < static_cast<std::size_t>(state.range(0)); ++p)
        at[p] = lens.see(place_of(static_cast<Point>(p), clip().swing_s(600)));
    const auto film = opened();
    for (auto _ : state)
        follow_through(*film, 600, 700, at, {},
                       [](std::size_t, const FollowedPoints&) { return true; });
}
BENCHMARK(film_follows)->Arg(1)->Arg(8)->Unit(benchmark::kMillisecond);

} // namespace
