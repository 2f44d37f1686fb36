#include "core/live/sample_ring.h"

#include <algorithm>
#include <cmath>

namespace kite::live {

namespace {

constexpr std::int64_t kWrap = std::int64_t{1} << 31;
/// Further away than this a number is no neighbour.
constexpr std::int64_t kFar = 20000;
/// So many far ones in a row, and the device counts anew.
constexpr std::size_t kRestart = 10;
/// Packets overtake each other by less than this many samples.
constexpr std::size_t kOnTheWay = 20;

} // namespace

std::int64_t SampleRing::unwrapped(std::int32_t number) const {
    const std::int64_t here = static_cast<std::int64_t>(number) & (kWrap - 1);
    if (samples_.empty())
        return here;
    const std::int64_t newest = first_ + static_cast<std::int64_t>(samples_.size()) - 1;
    std::int64_t apart = (here - newest) % kWrap;
    if (apart > kWrap / 2)
        apart -= kWrap;
    if (apart < -kWrap / 2)
        apart += kWrap;
    return newest + apart;
}

SampleRing::Added SampleRing::add(std::int32_t number, double device_s,
                                  const std::array<double, 6>& values) {
    const std::int64_t n = unwrapped(number);
    Added added = Added::New;
    if (samples_.empty()) {
        first_ = n;
    } else {
        const std::int64_t newest = first_ + static_cast<std::int64_t>(samples_.size()) - 1;
        if (std::abs(n - newest) > kFar) {
            odd_ = odd_ > 0 && std::abs(n - odd_number_) < kFar ? odd_ + 1 : 1;
            odd_number_ = n;
            if (odd_ < kRestart)
                return Added::Odd;
            samples_.clear();
            first_ = n;
            added = Added::Restarted;
        }
    }
    odd_ = 0;
    if (n < first_) {
        // Older than all that is held: it overtook nobody at the start, or was dropped since.
        return Added::Odd;
    }
    const auto place = static_cast<std::size_t>(n - first_);
    if (place >= samples_.size())
        samples_.resize(place + 1);
    Sample& sample = samples_[place];
    if (sample.there) {
        ++doubled_;
        return Added::Doubled;
    }
    sample = {true, device_s, values};
    while (samples_.size() > kMost) {
        samples_.pop_front();
        ++first_;
    }
    return added;
}

void SampleRing::clear() {
    samples_.clear();
    odd_ = 0;
}

void SampleRing::trim() {
    const Sample* last = newest();
    if (last == nullptr)
        return;
    const double until_s = last->device_s - kKept_s;
    while (!samples_.empty() && (!samples_.front().there || samples_.front().device_s < until_s)) {
        samples_.pop_front();
        ++first_;
    }
}

const SampleRing::Sample* SampleRing::newest() const {
    // The last place is always taken: the ring grows to what came.
    return samples_.empty() ? nullptr : &samples_.back();
}

double SampleRing::lost_share() const {
    if (samples_.size() <= kOnTheWay)
        return 0.0;
    const std::size_t count = samples_.size() - kOnTheWay;
    const auto lost =
        std::count_if(samples_.begin(), samples_.begin() + static_cast<std::ptrdiff_t>(count),
                      [](const Sample& sample) { return !sample.there; });
    return static_cast<double>(lost) / static_cast<double>(count);
}

double SampleRing::rate_hz() const {
    constexpr std::size_t kFewest = 20;
    if (samples_.size() < kFewest)
        return 0.0;
    const auto first = std::find_if(samples_.begin(), samples_.end(),
                                    [](const Sample& sample) { return sample.there; });
    const double apart_s = samples_.back().device_s - first->device_s;
    const auto count = static_cast<double>(samples_.end() - first - 1);
    return apart_s > 0.0 ? count / apart_s : 0.0;
}

} // namespace kite::live
