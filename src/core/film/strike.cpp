#include "core/film/strike.h"

#include <algorithm>
#include <cmath>
#include <numeric>

namespace kite::film {

namespace {

constexpr double kPiece_s = 0.001;
constexpr double kBefore_s = 0.060;
constexpr double kStandsOut = 8.0;
constexpr double kSameStrike_s = 0.25;
constexpr double kAlike = 0.5;
constexpr double kOnset = 0.25; ///< of the loudest value

} // namespace

std::optional<Strike> find_strike(const std::vector<float>& values, double rate_hz) {
    if (!(rate_hz >= 4000.0))
        return std::nullopt;
    const auto piece = static_cast<std::size_t>(std::lround(kPiece_s * rate_hz));
    const std::size_t pieces = values.size() / piece;
    const auto before = static_cast<std::size_t>(kBefore_s / kPiece_s);
    if (pieces < before + 8)
        return std::nullopt;
    // A strike is sharp: the change from value to value, in which hum and wind hardly count.
    std::vector<double> loud(pieces, 0.0);
    for (std::size_t i = 0; i < pieces; ++i) {
        double sum = 0.0;
        for (std::size_t k = std::max<std::size_t>(1, i * piece); k < (i + 1) * piece; ++k) {
            const double step = static_cast<double>(values[k]) - static_cast<double>(values[k - 1]);
            if (std::isfinite(step))
                sum += step * step;
        }
        loud[i] = std::sqrt(sum / static_cast<double>(piece));
    }
    // Silence that was made by a program must not make any click stand out without end.
    std::vector<double> sorted = loud;
    const auto middle = sorted.begin() + static_cast<std::ptrdiff_t>(pieces / 2);
    std::nth_element(sorted.begin(), middle, sorted.end());
    const double usual = std::max(*middle, 1e-5);
    const auto strength = [&](std::size_t i) {
        const auto begin = loud.begin() + static_cast<std::ptrdiff_t>(i - before);
        const double mean =
            std::accumulate(begin, begin + static_cast<std::ptrdiff_t>(before), 0.0) /
            static_cast<double>(before);
        return loud[i] / std::max(mean, usual);
    };
    std::size_t best = before;
    for (std::size_t i = before; i < pieces; ++i)
        if (strength(i) * loud[i] > strength(best) * loud[best])
            best = i;
    if (strength(best) < kStandsOut)
        return std::nullopt;
    const auto apart = static_cast<std::size_t>(kSameStrike_s / kPiece_s);
    for (std::size_t i = before; i < pieces; ++i) {
        const std::size_t distance = i > best ? i - best : best - i;
        if (distance > apart && loud[i] > kAlike * loud[best] && strength(i) > kStandsOut)
            return std::nullopt;
    }
    // From the loudest value back to where it began.
    const auto step_at = [&](std::size_t k) {
        return std::abs(static_cast<double>(values[k]) - static_cast<double>(values[k - 1]));
    };
    const std::size_t from = std::max<std::size_t>(1, (best - 2) * piece);
    const std::size_t to = (best + 1) * piece;
    double loudest = 0.0;
    for (std::size_t k = from; k < to; ++k)
        loudest = std::max(loudest, step_at(k));
    std::size_t onset = from;
    while (onset < to && step_at(onset) < kOnset * loudest)
        ++onset;
    return Strike{static_cast<double>(onset) / rate_hz, strength(best)};
}

} // namespace kite::film
