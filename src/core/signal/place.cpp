#include "core/signal/place.h"

#include <algorithm>
#include <cmath>

namespace kite {

namespace {

/// Sub-frame places stay this share of a frame uncertain, whatever the curve says.
constexpr double kFrameShare = 0.03;
/// A curve is carried on by its slope no further than this, in frames.
constexpr double kNext = 2.2;
/// Is a jump of this size likelier a break than none? Both as normal distributions.
bool is_break(double jump, double u, double rate, const Break& at_break) {
    constexpr double kLeastShare = 0.01; // of the rate: the curve's own unevenness
    const double none = std::hypot(u, kLeastShare * rate);
    const double some = std::hypot(none, at_break.loss_sd * rate);
    const double off = jump - at_break.usual_loss * rate;
    return -0.5 * off * off / (some * some) - std::log(some) + std::log(at_break.odds) >
           -0.5 * jump * jump / (none * none) - std::log(none);
}

FrameRange frames_between(double from_s, double to_s, const Samples& samples) {
    const auto size = static_cast<double>(samples.x.size());
    const double first = std::clamp(std::ceil(from_s * samples.rate_hz - 1e-9), 0.0, size);
    const double last = std::clamp(std::floor(to_s * samples.rate_hz + 1e-9) + 1.0, first, size);
    return {static_cast<std::size_t>(first), static_cast<std::size_t>(last)};
}

std::optional<Spline> lay(const Samples& samples, FrameRange frames,
                          std::optional<double> cutoff_hz, bool to_the_end = false) {
    if (frames.empty())
        return std::nullopt;
    Spline::Options options;
    options.frames = frames;
    options.smoothness = samples.smoothness;
    options.cutoff_hz = cutoff_hz ? cutoff_hz : samples.cutoff_hz;
    options.loose_steps = samples.loose_steps;
    options.to_the_end = to_the_end;
    return Spline::fit(samples.x, samples.rate_hz, options);
}

struct Found {
    double t_s = 0.0;
    double value = -std::numeric_limits<double>::infinity();
    bool at_first = false; ///< at an end of the drawn frames
    bool at_last = false;
};

/// Greatest value of one column; between frames where the change passes nought.
Found highest_of(const Spline::Draws& draws, Eigen::Index column, double rate_hz, TimeRange range) {
    Found best;
    const Eigen::Index rows = draws.level.rows();
    for (Eigen::Index i = 0; i < rows; ++i) {
        const double t_s =
            (static_cast<double>(draws.frames.begin) + static_cast<double>(i)) / rate_hz;
        const double level = draws.level(i, column);
        if (t_s >= range.begin_s - 1e-9 && t_s <= range.end_s + 1e-9 && level > best.value)
            best = {t_s, level, i == 0, i + 1 == rows};
        if (i + 1 == rows || !(draws.change(i, column) > 0.0 && draws.change(i + 1, column) < 0.0))
            continue;
        const double share =
            draws.change(i, column) / (draws.change(i, column) - draws.change(i + 1, column));
        const double at_s = t_s + share / rate_hz;
        if (at_s < range.begin_s || at_s > range.end_s)
            continue;
        // Cubic through both ends with their slopes.
        const double h = 1.0 / rate_hz;
        const double s = share;
        const double value = (1.0 + 2.0 * s) * (1.0 - s) * (1.0 - s) * level +
                             s * (1.0 - s) * (1.0 - s) * h * draws.change(i, column) +
                             s * s * (3.0 - 2.0 * s) * draws.level(i + 1, column) +
                             s * s * (s - 1.0) * h * draws.change(i + 1, column);
        if (value > best.value)
            best = {at_s, value, false, false};
    }
    return best;
}

/// Value at a time beyond the last drawn frame, by its slope.
double carried_on(const Spline::Draws& draws, Eigen::Index column, double rate_hz, double t_s) {
    const Eigen::Index last = draws.level.rows() - 1;
    const double from_s =
        (static_cast<double>(draws.frames.begin) + static_cast<double>(last)) / rate_hz;
    return draws.level(last, column) + (t_s - from_s) * draws.change(last, column);
}

/// One piece with its draws, for the smoothings that the data allow.
struct Drawn {
    const Spline* spline = nullptr;
    Spline::Draws mean;
    std::vector<Spline::Draws> possible;
};

constexpr double kAside = 1.2247; ///< three equal weights at 0 and ± this have variance 1
/// 0 where noise asks for the usual smoothing or more, 1 where there is so little of it that the
/// data show their shape by themselves.
double plainness(const Samples& samples, const Spline& spline) {
    constexpr double kFrom = 0.8;
    constexpr double kTo = 1.3;
    return std::clamp((spline.cutoff_hz() / samples.smoothness.usual_hz - kFrom) / (kTo - kFrom),
                      0.0, 1.0);
}
/// The spline's prior is rougher than a body where there is little noise, and smoother than the
/// odd shapes that noise hides: by so much its scatter was off for shapes of all kinds.
constexpr double kNoisyScale = 1.3;
constexpr double kPlainScale = 0.9;

/// What lies more standard deviations aside than this need not be drawn.
constexpr double kOutOfReach = 6.0;

/// Those of the frames whose value may reach the greatest.
FrameRange frames_in_reach(const Spline& spline, const Spline::Draws& mean, int derivative) {
    const Eigen::Index rows = mean.level.rows();
    if (rows == 0)
        return mean.frames;
    Eigen::Index top = 0;
    mean.level.col(0).maxCoeff(&top);
    const std::vector<double> sd = spline.sd(mean.frames, derivative);
    const auto sd_at = [&](Eigen::Index i) { return sd[static_cast<std::size_t>(i)]; };
    const double least = mean.level(top, 0) - kOutOfReach * sd_at(top);
    const auto may = [&](Eigen::Index i) {
        return i == top || mean.level(i, 0) + kOutOfReach * sd_at(i) >= least;
    };
    Eigen::Index first = 0;
    while (!may(first))
        ++first;
    Eigen::Index last = rows - 1;
    while (!may(last))
        --last;
    first = std::max<Eigen::Index>(first - 2, 0);
    last = std::min(last + 2, rows - 1);
    return {mean.frames.begin + static_cast<std::size_t>(first),
            mean.frames.begin + static_cast<std::size_t>(last) + 1};
}

Drawn draw(const Samples& samples, const std::optional<Spline>& spline, FrameRange frames,
           bool to_the_end, Depth depth) {
    Drawn out;
    if (!spline)
        return out;
    out.spline = &*spline;
    out.mean = spline->mean(frames, samples.derivative);
    if (depth == Depth::PlaceAlone)
        return out;
    const int each = spline->log_cutoff_sd() > 0.0 ? Spline::kDraws / 3 : Spline::kDraws;
    const FrameRange reach = frames_in_reach(*spline, out.mean, samples.derivative);
    out.possible.push_back(spline->draw(reach, samples.derivative, each));
    const double least_log_sd =
        samples.smoothness.least_log_sd * (1.0 - plainness(samples, *spline));
    if (spline->log_cutoff_sd() > 0.0)
        for (double aside : {-kAside, kAside}) {
            const double sd = std::max(spline->log_cutoff_sd(), least_log_sd);
            const auto other = lay(samples, spline->frames(),
                                   spline->cutoff_hz() * std::exp(aside * sd), to_the_end);
            if (other)
                out.possible.push_back(
                    other->draw(frames_in_reach(*other, other->mean(frames, samples.derivative),
                                                samples.derivative),
                                samples.derivative, each));
        }
    return out;
}

/// The greatest value over both pieces for one draw; the first is used up to the break.
Found highest_over(const Drawn& before, const Drawn& after, std::size_t which, Eigen::Index column,
                   bool of_mean, double rate_hz, TimeRange range, double break_s) {
    Found best;
    if (before.spline != nullptr) {
        const auto& draws = of_mean ? before.mean : before.possible[which % before.possible.size()];
        if (draws.level.rows() > 0) {
            const Eigen::Index own = column % draws.level.cols();
            best = highest_of(draws, own, rate_hz, {range.begin_s, std::min(range.end_s, break_s)});
            const double last_s = static_cast<double>(draws.frames.end - 1) / rate_hz;
            if (break_s <= range.end_s && best.at_last && break_s - last_s < kNext / rate_hz) {
                // Still rising when the ball came.
                const double value = carried_on(draws, own, rate_hz, break_s);
                if (value >= best.value)
                    best = {break_s, value, false, true};
            }
        }
    }
    if (after.spline != nullptr) {
        const auto& draws = of_mean ? after.mean : after.possible[which % after.possible.size()];
        if (draws.level.rows() > 0) {
            const Found found = highest_of(draws, column % draws.level.cols(), rate_hz,
                                           {std::max(range.begin_s, break_s), range.end_s});
            if (found.value > best.value)
                best = found;
        }
    }
    return best;
}

} // namespace

double Samples::unseen_about_s(double t_s) const {
    const double u = t_s * rate_hz;
    const auto n = static_cast<std::ptrdiff_t>(x.size());
    const auto seen = [&](std::ptrdiff_t i) {
        return i >= 0 && i < n && std::isfinite(x[static_cast<std::size_t>(i)]);
    };
    double longest = 0.0;
    for (auto i = static_cast<std::ptrdiff_t>(std::ceil(u - 1.5));
         static_cast<double>(i) <= u + 1.5; ++i) {
        if (i < 0 || i >= n || seen(i))
            continue;
        std::ptrdiff_t from = i;
        std::ptrdiff_t to = i;
        while (from - 1 >= 0 && !seen(from - 1))
            --from;
        while (to + 1 < n && !seen(to + 1))
            ++to;
        longest = std::max(longest, static_cast<double>(to - from + 1) / rate_hz);
    }
    return longest;
}

bool Samples::is_beside_hole(double t_s) const {
    // Where what was seen ends, a spline bends as its prior has it: some frames of what is really
    // there are needed to tell a summit from a slope that goes on. Across a shorter hole the other
    // side tells.
    constexpr double kBeside_s = 0.025;
    constexpr double kHole_s = 0.1;
    const auto n = static_cast<std::ptrdiff_t>(x.size());
    const auto hole = static_cast<std::ptrdiff_t>(std::lround(kHole_s * rate_hz));
    const auto reach = static_cast<std::ptrdiff_t>(std::lround(kBeside_s * rate_hz));
    const auto middle = static_cast<std::ptrdiff_t>(std::lround(t_s * rate_hz));
    for (const std::ptrdiff_t step : {-1, +1}) {
        std::ptrdiff_t unseen = 0;
        for (std::ptrdiff_t k = 0; k <= reach + hole; ++k) {
            const std::ptrdiff_t i = middle + step * k;
            const bool seen = i >= 0 && i < n && std::isfinite(x[static_cast<std::size_t>(i)]);
            unseen = seen ? 0 : unseen + 1;
            if (unseen >= hole && k - unseen < reach)
                return true;
        }
    }
    return false;
}

SplineState Pieces::mean_at(double t_s) const {
    if (t_s > break_s && after)
        return after->mean_at(t_s);
    return before ? before->mean_at(t_s) : after ? after->mean_at(t_s) : SplineState{};
}

namespace {

/// Through the samples within reach of a place: one piece, or two where the break shows. Nothing
/// before: there are too few samples.
Pieces lay_pieces(const Samples& samples, double near_s, const std::optional<Break>& at_break) {
    const double from_s = near_s - kPlaceReach_s;
    const double to_s = near_s + kPlaceReach_s;
    Pieces laid;
    const bool breaks = at_break && at_break->t_s > from_s && at_break->t_s < to_s;
    if (breaks) {
        // Frames that may lie on either side say nothing.
        const double guard_s = at_break->u_s * samples.rate_hz > 0.3 ? 1.5 * at_break->u_s : 0.0;
        laid.break_s = at_break->t_s;
        const FrameRange first = frames_between(from_s, at_break->t_s, samples);
        if (guard_s > 0.0) {
            Samples masked = samples;
            for (std::size_t i = first.begin; i < first.end; ++i)
                if (samples.time_of(i) > at_break->t_s - guard_s)
                    masked.x[i] = std::numeric_limits<double>::quiet_NaN();
            laid.before = lay(masked, first, {}, true);
        } else {
            laid.before = lay(samples, first, {}, true);
        }
        laid.after =
            lay(samples, frames_between(at_break->t_s + guard_s + 1e-7, to_s, samples), {});
        if (laid.before && laid.after) {
            const SplineState a = laid.before->at(at_break->t_s);
            const SplineState b = laid.after->at(at_break->t_s);
            const int d = samples.derivative;
            const double jump = a.x(d) - b.x(d);
            const double u = std::sqrt(std::max(0.0, a.P(d, d) + b.P(d, d)));
            if (!is_break(jump, u, std::abs(a.x(d)), *at_break))
                laid = Pieces{};
        } else if (!laid.before) {
            laid = Pieces{};
        }
    }
    if (!laid.before)
        laid.before = lay(samples, frames_between(from_s, to_s, samples), {});
    return laid;
}

} // namespace

std::optional<Place> find_highest(const Samples& samples, TimeRange range, double near_s,
                                  const std::optional<Break>& at_break, Pieces* pieces,
                                  Depth depth) {
    Pieces laid = lay_pieces(samples, near_s, at_break);
    if (!laid.before)
        return std::nullopt;
    const FrameRange frames = frames_between(range.begin_s - 1.0 / samples.rate_hz,
                                             range.end_s + 1.0 / samples.rate_hz, samples);
    const bool two = std::isfinite(laid.break_s);
    const Drawn before = draw(samples, laid.before, frames, two, depth);
    const Drawn after = draw(samples, laid.after, frames, false, depth);
    const double rate = samples.rate_hz;
    const Found found = highest_over(before, after, 0, 0, true, rate, range, laid.break_s);
    if (!std::isfinite(found.value))
        return std::nullopt;

    Place out;
    out.t_s = found.t_s;
    out.value = found.value;
    out.cutoff_hz = laid.before->cutoff_hz();
    if (depth == Depth::PlaceAlone) {
        if (pieces != nullptr)
            *pieces = std::move(laid);
        return out;
    }
    double squares = 0.0;
    double value_squares = 0.0;
    int count = 0;
    const std::size_t kinds = std::max(before.possible.size(), after.possible.size());
    for (Eigen::Index j = 0; j < Spline::kDraws; ++j) {
        const Found one = highest_over(before, after, static_cast<std::size_t>(j) % kinds, j, false,
                                       rate, range, laid.break_s);
        if (!std::isfinite(one.value))
            continue;
        squares += (one.t_s - out.t_s) * (one.t_s - out.t_s);
        value_squares += (one.value - out.value) * (one.value - out.value);
        ++count;
    }
    const double scale =
        kNoisyScale - (kNoisyScale - kPlainScale) * plainness(samples, *laid.before);
    out.u_s = std::hypot(scale * std::sqrt(squares / std::max(1, count)), kFrameShare / rate);
    out.value_u = std::sqrt(value_squares / std::max(1, count));
    out.at_break = std::abs(out.t_s - laid.break_s) < 1e-9;
    // At the very end of what a spline rests on it may still rise where the curve just turned.
    constexpr double kEnd_s = 0.001;
    if (out.at_break && at_break)
        out.u_s = std::hypot(std::hypot(out.u_s, at_break->u_s), kEnd_s);
    out.unseen_s = samples.unseen_about_s(out.t_s);
    const auto at = [&](double t_s) { return std::abs(out.t_s - t_s) < 0.6 / rate; };
    out.at_end = !out.at_break && (at(range.begin_s) || at(range.end_s) || found.at_first ||
                                   found.at_last || samples.is_beside_hole(out.t_s));
    if (pieces != nullptr)
        *pieces = std::move(laid);
    return out;
}

std::optional<Place> find_rise(const Samples& samples, TimeRange range, double near_s) {
    const double from_s = std::max(range.begin_s, near_s - kPlaceReach_s);
    const double to_s = std::min(range.end_s, near_s + kPlaceReach_s);
    const FrameRange frames = frames_between(from_s, to_s, samples);
    const auto spline = lay(samples, frames, {});
    if (!spline)
        return std::nullopt;
    const double rate = samples.rate_hz;
    // The last change of sign within reach of the place asked about: of the trembling about a slow
    // one each is as good as the other.
    const auto last_rise = [&](const Spline::Draws& draws, Eigen::Index column) {
        for (Eigen::Index i = draws.level.rows() - 1; i-- > 0;) {
            const double a = draws.level(i, column);
            const double b = draws.level(i + 1, column);
            if (!(a < 0.0 && b >= 0.0))
                continue;
            return (static_cast<double>(draws.frames.begin) + static_cast<double>(i) +
                    a / (a - b)) /
                   rate;
        }
        return std::numeric_limits<double>::quiet_NaN();
    };
    const auto mean = spline->mean(frames, samples.derivative);
    Place out;
    out.t_s = last_rise(mean, 0);
    out.cutoff_hz = spline->cutoff_hz();
    if (!std::isfinite(out.t_s))
        return std::nullopt;
    // Between the two frames by Newton's steps.
    for (int k = 0; k < 4; ++k) {
        const SplineState at = spline->mean_at(out.t_s);
        const double step = at.x(samples.derivative) / at.x(samples.derivative + 1);
        if (!(std::abs(step) < 1.0 / rate))
            break;
        out.t_s -= step;
    }
    out.value = 0.0;
    out.unseen_s = samples.unseen_about_s(out.t_s);
    // Only where the sign is in doubt.
    const std::vector<double> sd = spline->sd(mean.frames, samples.derivative);
    const auto in_doubt = [&](Eigen::Index i) {
        return std::abs(mean.level(i, 0)) < kOutOfReach * sd[static_cast<std::size_t>(i)];
    };
    const auto row = static_cast<Eigen::Index>(
        std::clamp(out.t_s * rate - static_cast<double>(mean.frames.begin), 0.0,
                   static_cast<double>(mean.level.rows() - 1)));
    Eigen::Index first = row;
    Eigen::Index last = std::min(row + 1, mean.level.rows() - 1);
    for (Eigen::Index i = 0; i < mean.level.rows(); ++i)
        if (in_doubt(i)) {
            first = std::min(first, i);
            last = std::max(last, i);
        }
    first = std::max<Eigen::Index>(first - 2, 0);
    last = std::min(last + 2, mean.level.rows() - 1);
    const auto possible = spline->draw({mean.frames.begin + static_cast<std::size_t>(first),
                                        mean.frames.begin + static_cast<std::size_t>(last) + 1},
                                       samples.derivative);
    double squares = 0.0;
    int count = 0;
    for (Eigen::Index j = 0; j < Spline::kDraws; ++j)
        if (const double t_s = last_rise(possible, j); std::isfinite(t_s)) {
            squares += (t_s - out.t_s) * (t_s - out.t_s);
            ++count;
        }
    if (count < Spline::kDraws / 2)
        return std::nullopt;
    out.u_s = std::hypot(std::sqrt(squares / count), kFrameShare / rate);
    return out;
}

SplineState find_before(const Samples& samples, double t_s, double reach_s) {
    const auto spline = lay(samples, frames_between(t_s - reach_s, t_s, samples), {});
    return spline ? spline->at(t_s) : SplineState{};
}

} // namespace kite
