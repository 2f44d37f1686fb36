#include "core/motion/gaps.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace kite {

void GapReport::merge(const GapReport& other) {
    filled_frames += other.filled_frames;
    open_frames += other.open_frames;
    if (other.longest_open_s > longest_open_s) {
        longest_open_s = other.longest_open_s;
        longest_open_at_s = other.longest_open_at_s;
    }
}

std::vector<Seen> bridge_gaps(FourSignals& x, Flags& valid, double rate_hz, double longest_s) {
    const std::size_t n = x.size();
    std::vector<Seen> seen(n, Seen::Unseen);
    const auto longest = static_cast<std::size_t>(std::floor(longest_s * rate_hz + 1e-6));
    const Flags measured = valid;
    std::size_t last = n; // the last measured frame
    // Whole stretches at once: there is nothing to bridge in them.
    for (std::size_t i = 0; i < n; ++i) {
        if (!measured[i])
            continue;
        if (last + 1 == i) {
            const auto from = measured.begin() + static_cast<std::ptrdiff_t>(i);
            const auto end =
                static_cast<std::size_t>(std::find(from, measured.end(), 0) - measured.begin());
            std::fill(seen.begin() + static_cast<std::ptrdiff_t>(i),
                      seen.begin() + static_cast<std::ptrdiff_t>(end), Seen::Seen);
            last = end - 1;
            i = last;
            continue;
        }
        seen[i] = Seen::Seen;
        const std::size_t before = last;
        last = i;
        if (before == n || i - before == 1 || i - before > longest)
            continue;
        // The outer two stand further off where the gap is longer, so that noise is not blown up.
        const bool sparse = longest_s > kLongestFilledGap_s;
        const std::size_t aside = sparse ? longest : std::max<std::size_t>(1, (i - before) / 2);
        std::vector<std::size_t> knots{before, i};
        // Where samples are sparse throughout, those half a gap away or further, the nearest first.
        const std::size_t nearest = std::max<std::size_t>(1, (i - before) / 2);
        for (std::size_t step = 0; step < aside; ++step) {
            const std::size_t k = sparse ? nearest + step : aside - step;
            if (before >= k && measured[before - k]) {
                knots.push_back(before - k);
                break;
            }
        }
        for (std::size_t step = 0; step < aside; ++step) {
            const std::size_t k = sparse ? nearest + step : aside - step;
            if (i + k < n && measured[i + k]) {
                knots.push_back(i + k);
                break;
            }
        }
        for (std::size_t f = before + 1; f < i; ++f) {
            Eigen::Array4d value = Eigen::Array4d::Zero();
            for (std::size_t a : knots) {
                double weight = 1.0;
                for (std::size_t b : knots)
                    if (a != b)
                        weight *= (static_cast<double>(f) - static_cast<double>(b)) /
                                  (static_cast<double>(a) - static_cast<double>(b));
                value += weight * x[a];
            }
            x[f] = value;
            valid[f] = true;
            seen[f] = Seen::Bridged;
        }
    }
    return seen;
}

Eigen::MatrixXd fill_to_times(const std::vector<double>& times_s, const Eigen::MatrixXd& samples,
                              const std::vector<double>& targets_s, GapReport& report,
                              double longest_s) {
    const auto columns = samples.cols();
    Eigen::MatrixXd out =
        Eigen::MatrixXd::Constant(static_cast<Eigen::Index>(targets_s.size()), columns,
                                  std::numeric_limits<double>::quiet_NaN());
    std::vector<std::size_t> valid;
    valid.reserve(times_s.size());
    for (std::size_t i = 0; i < times_s.size(); ++i)
        if (samples.row(static_cast<Eigen::Index>(i)).allFinite())
            valid.push_back(i);

    std::size_t next = 0; // first valid sample at or after the target
    double open_since = std::numeric_limits<double>::quiet_NaN();
    const auto close_gap = [&](double until_s) {
        if (std::isfinite(open_since) && until_s - open_since > report.longest_open_s) {
            report.longest_open_s = until_s - open_since;
            report.longest_open_at_s = open_since;
        }
        open_since = std::numeric_limits<double>::quiet_NaN();
    };
    for (std::size_t k = 0; k < targets_s.size(); ++k) {
        const double t = targets_s[k];
        const auto row = static_cast<Eigen::Index>(k);
        while (next < valid.size() && times_s[valid[next]] < t - 1e-9)
            ++next;
        if (next < valid.size() && std::abs(times_s[valid[next]] - t) <= 1e-9) {
            out.row(row) = samples.row(static_cast<Eigen::Index>(valid[next]));
            close_gap(t);
            continue;
        }
        const bool between = next > 0 && next < valid.size();
        if (!between ||
            times_s[valid[next]] - times_s[valid[next - 1]] > kLongestFilledGap_s + 1e-9) {
            ++report.open_frames;
            if (!std::isfinite(open_since))
                open_since = t;
            continue;
        }
        close_gap(t);
        ++report.filled_frames;
        if (times_s[valid[next]] - times_s[valid[next - 1]] > longest_s + 1e-9)
            continue; // bridged later, where it is known to be a bridge
        // Local cubic; samples further than the longest filled gap away are not asked.
        std::size_t first = next - 1;
        std::size_t last = next;
        if (first > 0 && times_s[valid[first]] - times_s[valid[first - 1]] <= kLongestFilledGap_s)
            --first;
        if (last + 1 < valid.size() &&
            times_s[valid[last + 1]] - times_s[valid[last]] <= kLongestFilledGap_s)
            ++last;
        Eigen::RowVectorXd value = Eigen::RowVectorXd::Zero(columns);
        for (std::size_t i = first; i <= last; ++i) {
            double weight = 1.0;
            for (std::size_t j = first; j <= last; ++j)
                if (j != i)
                    weight *= (t - times_s[valid[j]]) / (times_s[valid[i]] - times_s[valid[j]]);
            value += weight * samples.row(static_cast<Eigen::Index>(valid[i]));
        }
        out.row(row) = value;
    }
    close_gap(targets_s.empty() ? 0.0 : targets_s.back());
    return out;
}

} // namespace kite
