#include "core/signal/curve.h"

#include <algorithm>
#include <cmath>

namespace kite {

namespace {
constexpr double kNaN = std::numeric_limits<double>::quiet_NaN();

/// Lagrange polynomial through the samples of `window` at position u (in frames); its value and
/// first derivative (per frame).
struct ValueAndSlope {
    double value = kNaN;
    double slope = kNaN;
};

ValueAndSlope interpolate(const std::vector<double>& v, FrameRange window, double u) {
    ValueAndSlope out{0.0, 0.0};
    for (std::size_t i = window.begin; i < window.end; ++i) {
        double weight = 1.0;
        double weight_slope = 0.0;
        for (std::size_t j = window.begin; j < window.end; ++j) {
            if (j == i)
                continue;
            const double scale = 1.0 / (static_cast<double>(i) - static_cast<double>(j));
            const double factor = (u - static_cast<double>(j)) * scale;
            weight_slope = weight_slope * factor + weight * scale;
            weight *= factor;
        }
        out.value += weight * v[i];
        out.slope += weight_slope * v[i];
    }
    return out;
}

} // namespace

Curve::Curve(std::vector<double> values, double rate_hz, std::optional<double> change_s)
    : values_(std::move(values)), rate_hz_(rate_hz), change_s_(change_s) {}

std::size_t Curve::first_after_change() const {
    if (!change_s_)
        return size();
    const double u = std::floor(*change_s_ * rate_hz_ + 1e-9) + 1.0;
    return u <= 0.0 ? 0 : std::min(size(), static_cast<std::size_t>(u));
}

std::optional<FrameRange> Curve::stencil(double t_s, Side side) const {
    if (empty() || !std::isfinite(t_s))
        return std::nullopt;
    const double u = t_s * rate_hz_;
    const auto last = static_cast<double>(size() - 1);
    if (u < -1e-6 || u > last + 1e-6)
        return std::nullopt;
    const std::size_t cut = first_after_change();
    const bool before =
        !change_s_ || t_s < *change_s_ || (t_s == *change_s_ && side == Side::Before);

    // The frame at or before t, moved into the piece that t belongs to.
    auto left = static_cast<std::size_t>(std::clamp(std::floor(u + 1e-9), 0.0, last));
    if (before && left >= cut) {
        if (cut == 0)
            return std::nullopt;
        left = cut - 1;
    }
    if (!before && left < cut) {
        if (cut >= size())
            return std::nullopt;
        left = cut;
    }
    const bool on_frame = std::abs(u - static_cast<double>(left)) < 1e-6;
    const std::size_t low = left >= cut ? cut : 0;
    const std::size_t high = left >= cut ? size() : cut;

    // Grow outwards from the pair of frames around t, inside the run of finite samples.
    if (!std::isfinite(values_[left]))
        return std::nullopt;
    if (!on_frame && u > static_cast<double>(left) && left + 1 < high &&
        !std::isfinite(values_[left + 1]))
        return std::nullopt;
    FrameRange window{left, left + 1};
    const auto grow_right = [&] {
        const bool can = window.end < high && std::isfinite(values_[window.end]);
        window.end += can ? 1 : 0;
        return can;
    };
    const auto grow_left = [&] {
        const bool can = window.begin > low && std::isfinite(values_[window.begin - 1]);
        window.begin -= can ? 1 : 0;
        return can;
    };
    bool more = true;
    while (window.size() < 4 && more) {
        more = grow_right();
        if (window.size() < 4)
            more = grow_left() || more;
    }
    return window;
}

double Curve::at(double t_s, Side side) const {
    const auto window = stencil(t_s, side);
    return window ? interpolate(values_, *window, t_s * rate_hz_).value : kNaN;
}

double Curve::slope_at(double t_s, Side side) const {
    const auto window = stencil(t_s, side);
    return window && window->size() > 1
               ? interpolate(values_, *window, t_s * rate_hz_).slope * rate_hz_
               : kNaN;
}

std::optional<Curve::Extreme> Curve::find_max(TimeRange range) const {
    if (empty() || !(range.end_s >= range.begin_s))
        return std::nullopt;
    Extreme best;
    const auto consider = [&](double t_s, double value, bool at_edge) {
        if (std::isfinite(value) && !(value <= best.value))
            best = {t_s, value, at_edge};
    };
    const double begin = std::max(0.0, range.begin_s);
    const double end = std::min(duration_s(), range.end_s);
    consider(begin, at(begin, Side::After), true);
    consider(end, at(end, Side::Before), true);
    if (change_s_ && *change_s_ > begin && *change_s_ < end) {
        consider(*change_s_, at(*change_s_, Side::Before), true);
        consider(*change_s_, at(*change_s_, Side::After), true);
    }
    const std::size_t cut = first_after_change();
    const auto first = static_cast<std::size_t>(std::ceil(begin * rate_hz_ - 1e-9));
    const std::size_t after =
        end < 0.0 ? 0 : std::min(size(), static_cast<std::size_t>(end * rate_hz_ + 1e-9) + 1);
    for (std::size_t i = first; i < after; ++i) {
        const double value = values_[i];
        // The next one in the range is higher, and will be asked: all the way up a slope.
        if (i + 1 < after && values_[i + 1] > value)
            continue;
        // Neither higher than what was found nor the highest of three, whose parabola may be: most.
        const bool beside_higher =
            (i > 0 && values_[i - 1] > value) || (i + 1 < size() && values_[i + 1] > value);
        if (!std::isfinite(value) || (value <= best.value && beside_higher))
            continue;
        const bool has_left = i > 0 && (i != cut) && std::isfinite(values_[i - 1]);
        const bool has_right = i + 1 < size() && (i + 1 != cut) && std::isfinite(values_[i + 1]);
        if (has_left && has_right && value >= values_[i - 1] && value >= values_[i + 1]) {
            // Vertex of the parabola through three samples.
            const double bend = values_[i - 1] - 2.0 * value + values_[i + 1];
            const double shift = bend < 0.0 ? 0.5 * (values_[i - 1] - values_[i + 1]) / bend : 0.0;
            const double t_s = (static_cast<double>(i) + shift) / rate_hz_;
            if (t_s >= begin && t_s <= end)
                consider(t_s, value - 0.25 * (values_[i - 1] - values_[i + 1]) * shift, false);
        }
        const bool inner = has_left && has_right && time_of(i) > begin && time_of(i) < end;
        consider(time_of(i), value, !inner);
    }
    if (!std::isfinite(best.value))
        return std::nullopt;
    return best;
}

std::optional<Curve::Extreme> Curve::find_min(TimeRange range) const {
    auto found = scaled(-1.0).find_max(range);
    if (found)
        found->value = -found->value;
    return found;
}

FrameRange Curve::frames_of(TimeRange range) const {
    const double begin = std::max(0.0, range.begin_s);
    const double end = std::min(duration_s(), range.end_s);
    if (size() < 2 || !(end > begin))
        return {};
    const auto first = static_cast<std::size_t>(std::floor(begin * rate_hz_));
    const auto last = static_cast<std::size_t>(std::ceil(end * rate_hz_));
    return {first, std::min(last, size() - 1)};
}

/// Nothing passes the level in that direction after a frame: of most frames that is plain.
bool Curve::stays(std::size_t frame, double level, Direction direction) const {
    if (frame + 1 >= size())
        return true;
    const double left = values_[frame];
    const double right = values_[frame + 1];
    return direction == Direction::Rising ? left >= level || right < level
                                          : left <= level || right > level;
}

std::optional<double> Curve::crossing_after(std::size_t frame, double level, Direction direction,
                                            TimeRange range) const {
    if (stays(frame, level, direction))
        return std::nullopt;
    const double sign = direction == Direction::Rising ? 1.0 : -1.0;
    const double left = sign * (values_[frame] - level);
    std::size_t next = frame + 1;
    if (std::isfinite(left))
        while (next < size() && !std::isfinite(values_[next]))
            ++next;
    if (next >= size())
        return std::nullopt;
    const double right = sign * (values_[next] - level);
    if (!(left < 0.0 && right >= 0.0))
        return std::nullopt;
    if (next != frame + 1) {
        const double across = (static_cast<double>(frame) +
                               static_cast<double>(next - frame) * left / (left - right)) /
                              rate_hz_;
        return range.contains(across) ? std::optional(across) : std::nullopt;
    }
    const auto begin = static_cast<double>(frame);
    double u = begin + left / (left - right);
    const std::size_t cut = first_after_change();
    if (frame + 1 != cut) {
        // The local cubic, never across the change or a gap.
        FrameRange window{frame, frame + 2};
        if (frame > (frame >= cut ? cut : 0) && std::isfinite(values_[frame - 1]))
            --window.begin;
        if (frame + 2 < (frame >= cut ? size() : cut) && std::isfinite(values_[frame + 2]))
            ++window.end;
        // Newton's steps; where one leaves the bracket it is halved instead.
        double low = begin;
        double high = begin + 1.0;
        for (int step = 0; step < 60 && high - low > 1e-12; ++step) {
            const ValueAndSlope at = interpolate(values_, window, u);
            const double off = sign * (at.value - level);
            (off < 0.0 ? low : high) = u;
            const double newton = u - off / (sign * at.slope);
            if (std::abs(newton - u) < 1e-12)
                break;
            u = newton > low && newton < high ? newton : 0.5 * (low + high);
        }
    }
    const double t_s = u / rate_hz_;
    if (!range.contains(t_s))
        return std::nullopt;
    return t_s;
}

std::vector<double> Curve::find_crossings(double level, Direction direction,
                                          TimeRange range) const {
    std::vector<double> times;
    const FrameRange frames = frames_of(range);
    for (std::size_t i = frames.begin; i < frames.end; ++i)
        if (const auto t_s = crossing_after(i, level, direction, range))
            times.push_back(*t_s);
    return times;
}

std::optional<double> Curve::find_first_crossing(double level, Direction direction,
                                                 TimeRange range) const {
    const FrameRange frames = frames_of(range);
    for (std::size_t i = frames.begin; i < frames.end; ++i)
        if (const auto t_s = crossing_after(i, level, direction, range))
            return t_s;
    return std::nullopt;
}

std::optional<double> Curve::find_last_crossing(double level, Direction direction,
                                                TimeRange range) const {
    const FrameRange frames = frames_of(range);
    for (std::size_t i = frames.end; i-- > frames.begin;)
        if (const auto t_s = crossing_after(i, level, direction, range))
            return t_s;
    return std::nullopt;
}

double Curve::unseen_about_s(double t_s) const {
    const double u = t_s * rate_hz_;
    if (!(u >= 0.0) || u > static_cast<double>(size()) - 1.0)
        return 0.0;
    auto left = static_cast<std::size_t>(u + 1e-9);
    std::size_t right = std::min(size() - 1, left + (u > static_cast<double>(left) + 1e-9 ? 1 : 0));
    if (std::isfinite(values_[left]) && std::isfinite(values_[right]))
        return 0.0;
    while (left > 0 && !std::isfinite(values_[left]))
        --left;
    while (right + 1 < size() && !std::isfinite(values_[right]))
        ++right;
    return static_cast<double>(right - left) / rate_hz_;
}

double Curve::longest_unseen_s(TimeRange range) const {
    const FrameRange frames = frames_of(range);
    std::size_t run = 0;
    std::size_t longest = 0;
    for (std::size_t i = frames.begin; i < frames.end; ++i) {
        run = std::isfinite(values_[i]) ? 0 : run + 1;
        longest = std::max(longest, run);
    }
    return longest == 0 ? 0.0 : static_cast<double>(longest + 1) / rate_hz_;
}

double Curve::slope_at_frame(std::size_t i) const {
    const std::size_t cut = first_after_change();
    const bool changed = i >= cut;
    const std::size_t low = changed ? cut : 0;
    const std::size_t high = changed ? size() : cut;
    if (i > low && i + 2 < high) {
        // The cubic through one frame before and two after, where all are there: most.
        const double slope =
            (6.0 * values_[i + 1] - 2.0 * values_[i - 1] - 3.0 * values_[i] - values_[i + 2]) *
            (rate_hz_ / 6.0);
        if (std::isfinite(slope))
            return slope;
    }
    return std::isfinite(values_[i]) ? slope_at(time_of(i), changed ? Side::After : Side::Before)
                                     : kNaN;
}

Curve Curve::derivative(TimeRange range) const {
    std::vector<double> out(size(), kNaN);
    const double first = std::max(0.0, std::floor(range.begin_s * rate_hz_) - 1.0);
    const double last = std::ceil(range.end_s * rate_hz_) + 1.0;
    for (auto i = static_cast<std::size_t>(first); i < size() && static_cast<double>(i) <= last;
         ++i) {
        out[i] = slope_at_frame(i);
    }
    return {std::move(out), rate_hz_, change_s_};
}

Curve Curve::scaled(double factor) const {
    std::vector<double> out(values_);
    for (double& value : out)
        value *= factor;
    return {std::move(out), rate_hz_, change_s_};
}

double mean_between(const Curve& curve, TimeRange range) {
    double sum = 0.0;
    int count = 0;
    const auto first =
        static_cast<std::size_t>(std::max(0.0, std::ceil(range.begin_s * curve.rate_hz() - 1e-9)));
    for (std::size_t i = first; i < curve.size() && curve.time_of(i) <= range.end_s + 1e-9; ++i) {
        if (std::isfinite(curve.values()[i])) {
            sum += curve.values()[i];
            ++count;
        }
    }
    return count > 0 ? sum / count : kNaN;
}

} // namespace kite
