// The strike in a sound track, on sounds made by hand: hiss, hum, and bursts that die away as a
// struck ball's do.

#include "core/base/units.h"
#include "core/film/strike.h"

#include <gtest/gtest.h>

#include <cmath>
#include <random>

namespace kite::film {
namespace {

constexpr double kRate_hz = 48000.0;

/// Two seconds of hiss and of mains hum that is ten times as loud.
std::vector<float> quiet(double hiss = 0.002) {
    std::mt19937 random(5);
    std::normal_distribution<double> noise(0.0, hiss);
    std::vector<float> out(96000);
    for (std::size_t i = 0; i < out.size(); ++i)
        out[i] = static_cast<float>(
            noise(random) +
            10.0 * hiss * std::sin(2.0 * kPi * 50.0 * static_cast<double>(i) / kRate_hz));
    return out;
}

/// A burst of 3 kHz from a value on, a millisecond to a third.
void strike(std::vector<float>& sound, std::size_t at, double loud) {
    for (std::size_t i = at; i < sound.size(); ++i) {
        const double t_s = static_cast<double>(i - at) / kRate_hz;
        sound[i] +=
            static_cast<float>(loud * std::exp(-t_s / 0.001) * std::cos(2.0 * kPi * 3000.0 * t_s));
    }
}

TEST(Strike, IsWhereTheSoundBegins) {
    // A burst may lie anywhere in the pieces that are compared.
    for (const std::size_t at : {3100U, 20000U, 50017U, 70023U, 95500U}) {
        std::vector<float> sound = quiet();
        strike(sound, at, 0.3);
        const auto found = find_strike(sound, kRate_hz);
        ASSERT_TRUE(found) << at;
        EXPECT_NEAR(found->t_s * kRate_hz, static_cast<double>(at), 2.0);
        // From value to value: its first step of 0.3 in 48 values, and 0.3 · 2π · 3000 / 48000 that
        // dies away, together 0.07 on the average of a millisecond; the hiss 0.0028. That is 25
        // times as much, less where the burst lies across two pieces.
        EXPECT_NEAR(found->above, 20.0, 6.0);
    }
}

TEST(Strike, AnEchoOrAQuieterOneLeavesItAloneAndAnotherAsLoudDoesNot) {
    const auto second = [](std::size_t later, double loud) {
        std::vector<float> sound = quiet();
        strike(sound, 30000, 0.3);
        strike(sound, 30000 + later, loud);
        return find_strike(sound, kRate_hz);
    };
    for (const auto& alone : {second(24000, 0.1), second(11000, 0.29), second(36000, 0.13)}) {
        ASSERT_TRUE(alone);
        EXPECT_NEAR(alone->t_s, 30000.0 / kRate_hz, 1e-4);
    }
    // A quarter of a second and more apart, and more than half as loud.
    EXPECT_FALSE(second(13000, 0.29));
    EXPECT_FALSE(second(24000, 0.2));
    EXPECT_FALSE(second(24000, 0.6)) << "also where the second is the loudest";
}

TEST(Strike, IsNotInWhatDoesNotStandOut) {
    EXPECT_FALSE(find_strike(quiet(), kRate_hz));
    std::vector<float> faint = quiet();
    strike(faint, 50000, 0.006);
    EXPECT_FALSE(find_strike(faint, kRate_hz));
    // Silence that a program made: a click of a ten-thousandth is none.
    std::vector<float> silence(96000, 0.0F);
    silence[50000] = 1e-4F;
    EXPECT_FALSE(find_strike(silence, kRate_hz));
    // Values that are none count as silence.
    std::vector<float> broken = quiet();
    strike(broken, 50000, 0.3);
    broken[10000] = std::nanf("");
    EXPECT_TRUE(find_strike(broken, kRate_hz));
}

TEST(Strike, WantsEnoughSound) {
    std::vector<float> sound = quiet();
    strike(sound, 3100, 0.3);
    // 60 ms before it and a little after.
    EXPECT_TRUE(find_strike({sound.begin(), sound.begin() + 68 * 48}, kRate_hz));
    EXPECT_FALSE(find_strike({sound.begin(), sound.begin() + 67 * 48}, kRate_hz));
    EXPECT_FALSE(find_strike(sound, 3999.0));
    EXPECT_FALSE(find_strike({}, kRate_hz));
}

} // namespace
} // namespace kite::film
