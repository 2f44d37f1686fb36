#include "core/base/median.h"

#include "core/base/missing.h"

#include <algorithm>
#include <array>
#include <cstdint>
#include <cstring>

namespace kite {

namespace {

/// A whole number in the order of the numbers, and back: the bits of positive doubles ascend with
/// them, those of negative ones descend.
std::uint64_t rank_of(double value) {
    std::uint64_t bits = 0;
    std::memcpy(&bits, &value, sizeof bits);
    return bits ^ (((bits >> 63U) != 0) ? ~std::uint64_t{0} : std::uint64_t{1} << 63U);
}
double value_of(std::uint64_t rank) {
    const std::uint64_t bits =
        rank ^ (((rank >> 63U) != 0) ? std::uint64_t{1} << 63U : ~std::uint64_t{0});
    double value = 0.0;
    std::memcpy(&value, &bits, sizeof value);
    return value;
}

constexpr std::size_t kBins = 1024;
/// Of fewer a partition at once is quicker.
constexpr std::size_t kMany = 128;

} // namespace

double median_of(const std::vector<double>& values) {
    if (values.empty())
        return kMissing;
    std::vector<std::uint64_t> ranks(values.size());
    std::uint64_t least = ~std::uint64_t{0};
    std::uint64_t most = 0;
    for (std::size_t i = 0; i < values.size(); ++i) {
        ranks[i] = rank_of(values[i]);
        least = std::min(least, ranks[i]);
        most = std::max(most, ranks[i]);
    }
    std::size_t middle = values.size() / 2;
    std::size_t count = ranks.size();
    // Which way a partition goes is left to chance, and the processor guesses it wrongly half the
    // time: counted into bins, all but the few beside the middle drop out without a guess.
    if (count >= kMany) {
        unsigned shift = 0;
        while ((most - least) >> shift >= kBins)
            ++shift;
        std::array<std::uint32_t, kBins> filled{};
        for (std::uint64_t rank : ranks)
            ++filled[(rank - least) >> shift];
        std::size_t bin = 0;
        for (; filled[bin] <= middle; ++bin)
            middle -= filled[bin];
        count = 0;
        for (std::uint64_t rank : ranks) {
            ranks[count] = rank;
            count += (rank - least) >> shift == bin ? 1 : 0;
        }
    }
    const auto at = ranks.begin() + static_cast<std::ptrdiff_t>(middle);
    std::nth_element(ranks.begin(), at, ranks.begin() + static_cast<std::ptrdiff_t>(count));
    return value_of(*at);
}

} // namespace kite
