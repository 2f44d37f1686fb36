#include "core/film/marking.h"

#include "core/base/missing.h"

#include <algorithm>
#include <cmath>

namespace kite::film {

namespace {

constexpr double kBeforeTop_s = 0.12;
constexpr double kAfterImpact_s = 0.10;
constexpr double kAddress_s = 0.1; ///< about address, where pictures count for it
constexpr int kOfAddress = 3;
constexpr int kOfBackswing = 8;
constexpr double kShortestDown_s = 0.15;
constexpr double kLongestDown_s = 0.6;
constexpr double kLongestBack_s = 4.0;

std::optional<double> moment_of(const View& view, Moment moment) {
    const auto found = view.moments_s.find(moment);
    if (found == view.moments_s.end())
        return std::nullopt;
    return found->second;
}

/// Half the time from one picture to the next.
double half_picture_s(const View& view) {
    return view.capture_rate_hz > 0.0 ? 0.5 / view.capture_rate_hz : 0.002;
}

} // namespace

MarkingPlan plan_marking(const View& view, const std::vector<double>& real_s) {
    MarkingPlan out;
    const auto top_s = moment_of(view, Moment::Top);
    const auto impact_s = moment_of(view, Moment::Impact);
    if (real_s.empty() || !top_s || !impact_s || *top_s >= *impact_s)
        return out;
    // A stick is followed by its ends; hands and club tell the rest.
    out.points = {Point::BeltLead, Point::BeltTrail,    Point::ShoulderLead, Point::ShoulderTrail,
                  Point::Grip,     Point::LeadShoulder, Point::Wrist,        Point::ClubHead};
    const std::size_t dense = nearest_picture(real_s, *top_s - kBeforeTop_s);
    const std::size_t last = nearest_picture(real_s, *impact_s + kAfterImpact_s);
    if (const auto address_s = moment_of(view, Moment::Address); address_s && *address_s < *top_s) {
        // Pictures that somebody chose already count; the rest is spread evenly.
        const std::size_t first = nearest_picture(real_s, *address_s);
        const std::size_t still = std::min(first + kOfAddress, dense);
        std::vector<std::size_t> chosen;
        for (const MarkedFrame& frame : view.frames)
            if (const std::size_t at = nearest_picture(real_s, frame.t_s); at < dense)
                chosen.push_back(at);
        const auto near_address = std::count_if(chosen.begin(), chosen.end(), [&](std::size_t at) {
            return std::abs(real_s[at] - *address_s) < kAddress_s;
        });
        out.pictures = chosen;
        if (near_address < kOfAddress)
            for (std::size_t i = first; i < still; ++i)
                out.pictures.push_back(i);
        if (static_cast<int>(chosen.size()) - near_address < kOfBackswing)
            for (std::size_t i = 1; i <= kOfBackswing && dense > still; ++i)
                out.pictures.push_back(still + (dense - still) * i / (kOfBackswing + 1));
        std::sort(out.pictures.begin(), out.pictures.end());
        out.pictures.erase(std::unique(out.pictures.begin(), out.pictures.end()),
                           out.pictures.end());
        while (!out.pictures.empty() && out.pictures.back() >= dense)
            out.pictures.pop_back();
    }
    for (std::size_t i = dense; i <= last; ++i)
        out.pictures.push_back(i);
    return out;
}

GuessedMoments guess_moments(const std::vector<double>& real_s, const std::vector<double>& change,
                             std::optional<double> strike_s) {
    GuessedMoments out;
    const std::size_t n = std::min(real_s.size(), change.size());
    if (n < 8)
        return out;
    // Stillness as the quietest fifth shows it.
    std::vector<double> sorted(change.begin() + 1, change.begin() + static_cast<std::ptrdiff_t>(n));
    std::sort(sorted.begin(), sorted.end());
    const double still = sorted[sorted.size() / 5];
    const auto peak =
        std::max_element(change.begin() + 1, change.begin() + static_cast<std::ptrdiff_t>(n));
    const double loudest = *peak - still;
    if (!strike_s && !(loudest > 3.0 * still))
        return out;
    out.impact_s = strike_s ? strike_s : real_s[static_cast<std::size_t>(peak - change.begin())];
    // The top is the quiet of the last 0.6 s before impact, where the club turns about.
    double quiet = kMissing;
    for (std::size_t i = 1; i < n; ++i) {
        const double before_s = *out.impact_s - real_s[i];
        if (before_s < kShortestDown_s || before_s > kLongestDown_s)
            continue;
        if (!(quiet <= change[i])) {
            quiet = change[i];
            out.top_s = real_s[i];
        }
    }
    if (!out.top_s)
        return out;
    // Address: the last stillness before that, at least half a second earlier.
    const double moves = still + 0.05 * loudest;
    for (std::size_t i = n; i-- > 1;)
        if (real_s[i] < *out.top_s - 0.5 && change[i] < moves) {
            out.address_s = std::max(real_s[i] - 0.1, real_s.front());
            break;
        }
    return out;
}

bool is_possible_tempo(const View& view) {
    const auto address_s = moment_of(view, Moment::Address);
    const auto top_s = moment_of(view, Moment::Top);
    const auto impact_s = moment_of(view, Moment::Impact);
    if (!top_s || !impact_s)
        return true;
    const double down_s = *impact_s - *top_s;
    if (down_s < kShortestDown_s || down_s > kLongestDown_s)
        return false;
    return !address_s || *top_s - *address_s <= kLongestBack_s;
}

std::size_t nearest_picture(const std::vector<double>& times_s, double t_s) {
    const auto after = std::lower_bound(times_s.begin(), times_s.end(), t_s);
    const auto number = static_cast<std::size_t>(after - times_s.begin());
    if (number == 0)
        return 0;
    const bool before = after == times_s.end() || t_s - *std::prev(after) <= *after - t_s;
    return before ? number - 1 : number;
}

const MarkedFrame* find_frame(const View& view, double t_s) {
    const double half_s = half_picture_s(view);
    for (const MarkedFrame& frame : view.frames)
        if (std::abs(frame.t_s - t_s) < half_s)
            return &frame;
    return nullptr;
}

MarkedFrame& frame_at(View& view, double t_s) {
    const double half_s = half_picture_s(view);
    auto at = view.frames.begin();
    while (at != view.frames.end() && at->t_s < t_s - half_s)
        ++at;
    if (at != view.frames.end() && std::abs(at->t_s - t_s) < half_s)
        return *at;
    MarkedFrame made;
    made.t_s = t_s;
    return *view.frames.insert(at, made);
}

void drop_empty_frames(View& view) {
    const auto is_empty = [](const MarkedFrame& frame) {
        return std::none_of(frame.at.begin(), frame.at.end(),
                            [](const std::optional<Pixel>& at) { return at.has_value(); });
    };
    view.frames.erase(std::remove_if(view.frames.begin(), view.frames.end(), is_empty),
                      view.frames.end());
}

} // namespace kite::film
