#include "core/motion/marker_mend.h"

#include "core/base/findings.h"
#include "core/base/median.h"
#include "core/base/units.h"
#include "core/motion/marker_names.h"
#include "core/motion/plausible.h"
#include "core/motion/rotation.h"
#include "core/motion/stillness.h"
#include "core/signal/butterworth.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <map>
#include <set>

namespace kite {

using Eigen::Vector3d;
using Severity = Finding::Severity;
using Track = std::vector<Vector3d>;

namespace {

constexpr double kNaN = std::numeric_limits<double>::quiet_NaN();

class Mender {
public:
    Mender(MarkerTake& markers, std::vector<Finding>& findings) : m_(markers), findings_(findings) {
        for (const char* label : {"LASI", "RASI", "LPSI", "RPSI", "C7",   "T10",  "CLAV", "STRN",
                                  "LSHO", "RSHO", "LELB", "RELB", "LWRA", "LWRB", "RWRA", "RWRB",
                                  "LKNE", "RKNE", "LANK", "RANK", "CLB1", "CLB2", "CLB3"})
            if (Track* track = find(label))
                known_.push_back({label, track, 0.0});
        for (Known& known : known_)
            known.fastest_m_s = fastest_of(known.label);
    }

    void mend() {
        if (m_.frames < 8)
            return;
        give_back_exchanged();
        for (const std::vector<std::string>& labels :
             {pelvis_labels(Sides(Handedness::Right)), torso_labels(), club_labels()})
            keep_rigid(labels);
        for (const Known& known : known_)
            drop_spikes(known);
        relabel_club();
        relabel_body();
        say();
    }

    /// The calm frames before the swing; empty where they were not looked for, or where markers
    /// have other names since.
    std::optional<FrameRange> calm() const { return relabelled_.empty() ? calm_ : std::nullopt; }

private:
    static constexpr double kLeast_m = 0.05; ///< an exchange nearer than this is no matter
    static constexpr double kSixth = 1.0 / 6.0;
    struct Known {
        std::string label;
        Track* track = nullptr;
        double fastest_m_s = 0.0;
    };

    Track* find(std::string_view label) { return m_.find(label); }
    /// Every so many frames are enough for what is usual.
    std::size_t usual_step() const { return std::max<std::size_t>(1, m_.frames / 300); }
    static double fastest_of(const std::string& label) {
        if (label.rfind("CLB", 0) == 0)
            return plausible::kFastestClub_m_s;
        if (label.find("WR") != std::string::npos || label.find("ELB") != std::string::npos)
            return plausible::kFastestHand_m_s;
        return plausible::kFastestBody_m_s;
    }

    /// Nowhere do the coordinates of a track stand off those of the frames beside, weighed so, by
    /// as much as makes `most_m` of them together; false where one is missing. All of a track at
    /// once: most need no closer look.
    template <class Off>
    bool is_smooth(const Track& track, Eigen::Index reach, double most_m, const Off& off) {
        const auto frames = static_cast<Eigen::Index>(track.size());
        if (frames <= 2 * reach)
            return false;
        const Eigen::Map<const Eigen::ArrayXd> all(track.front().data(), 3 * frames);
        off_ = off([&](Eigen::Index aside) {
            return all.segment(3 * (reach + aside), 3 * (frames - 2 * reach));
        });
        // What is missing shows in the sum.
        return std::isfinite(off_.sum()) && off_.abs().maxCoeff() < most_m / std::sqrt(3.0);
    }

    /// Two markers at least that jump, or come back from a hole, further than a path bends.
    bool two_leave_their_paths() {
        int count = 0;
        for (const Known& known : known_) {
            const Track& track = *known.track;
            if (is_smooth(track, 1, kLeast_m,
                          [](const auto& at) { return at(1) - 2.0 * at(0) + at(-1); }))
                continue;
            bool leaves = false;
            for (std::size_t i = 2; i < track.size() && !leaves; ++i)
                leaves = !((track[i] - 2.0 * track[i - 1] + track[i - 2]).squaredNorm() <=
                           kLeast_m * kLeast_m);
            count += leaves ? 1 : 0;
        }
        return count >= 2;
    }

    /// Follows every marker from frame to frame. Those that leave their path all at once for each
    /// other's path have been exchanged.
    void give_back_exchanged() {
        if (!two_leave_their_paths())
            return;
        struct Path {
            Vector3d last = missing_point();
            Vector3d velocity = Vector3d::Zero(); ///< a frame
            std::size_t seen_at = 0;
        };
        const auto longest = static_cast<std::size_t>(std::max(2.0, std::round(0.12 * m_.rate_hz)));
        std::vector<Path> paths(known_.size());
        std::vector<std::size_t> off;
        for (std::size_t i = 0; i < m_.frames; ++i) {
            off.clear();
            const auto expected = [&](std::size_t k) -> Vector3d {
                const Path& path = paths[k];
                const auto steps = static_cast<double>(std::min(i - path.seen_at, longest));
                return path.last + steps * path.velocity;
            };
            const auto gate_m = [&](std::size_t k) {
                return 0.03 + 0.6 * paths[k].velocity.norm() *
                                  static_cast<double>(std::min(i - paths[k].seen_at, longest));
            };
            for (std::size_t k = 0; k < known_.size(); ++k) {
                const Vector3d& p = (*known_[k].track)[i];
                if (!is_finite(p) || !is_finite(paths[k].last))
                    continue;
                // Lost for long: it may be anywhere, and is taken up again where it is.
                if (i - paths[k].seen_at > longest)
                    paths[k].last = missing_point();
                else if ((p - expected(k)).squaredNorm() > kLeast_m * kLeast_m &&
                         (p - expected(k)).norm() > gate_m(k))
                    off.push_back(k);
            }
            for (std::size_t a = 0; a < off.size(); ++a)
                for (std::size_t b = a + 1; b < off.size(); ++b) {
                    Vector3d& p = (*known_[off[a]].track)[i];
                    Vector3d& q = (*known_[off[b]].track)[i];
                    const Vector3d at_a = expected(off[a]);
                    const Vector3d at_b = expected(off[b]);
                    const double as_is = (p - at_a).norm() + (q - at_b).norm();
                    const double swapped = (q - at_a).norm() + (p - at_b).norm();
                    if (swapped < 0.4 * as_is && (q - at_a).norm() < gate_m(off[a]) &&
                        (p - at_b).norm() < gate_m(off[b])) {
                        std::swap(p, q);
                        exchanged_.insert(known_[off[a]].label);
                        exchanged_.insert(known_[off[b]].label);
                        exchanged_frames_.insert(i);
                    }
                }
            for (std::size_t k = 0; k < known_.size(); ++k) {
                const Vector3d& p = (*known_[k].track)[i];
                if (!p.allFinite())
                    continue;
                Path& path = paths[k];
                const double steps = static_cast<double>(i - path.seen_at);
                // A jump that no golfer makes: the path is kept, in case it comes back.
                if (path.last.allFinite() &&
                    (p - path.last).norm() * m_.rate_hz > steps * known_[k].fastest_m_s)
                    continue;
                path.velocity = path.last.allFinite() && steps > 0.0
                                    ? Vector3d((p - path.last) / steps)
                                    : Vector3d::Zero();
                path.last = p;
                path.seen_at = i;
            }
        }
    }

    /// Distances within a cluster of three or four markers do not change.
    void keep_rigid(const std::vector<std::string>& labels) {
        std::vector<Track*> tracks;
        std::vector<std::string> names;
        for (const std::string& label : labels)
            if (Track* track = find(label)) {
                tracks.push_back(track);
                names.push_back(label);
            }
        const std::size_t n = tracks.size();
        if (n < 3)
            return;
        // Of squared distances, so that no root is taken in every frame.
        struct Allowed {
            double least_m2 = 0.0;
            double most_m2 = std::numeric_limits<double>::infinity();
            /// A distance to what was not seen breaks no bound.
            bool allow(double d_m2) const { return !(d_m2 < least_m2) && !(d_m2 > most_m2); }
        };
        std::vector<Allowed> allowed(n * n);
        std::vector<double> values;
        for (std::size_t a = 0; a < n; ++a)
            for (std::size_t b = a + 1; b < n; ++b) {
                values.clear();
                for (std::size_t i = 0; i < m_.frames; i += usual_step())
                    if (const double d = ((*tracks[a])[i] - (*tracks[b])[i]).norm();
                        std::isfinite(d))
                        values.push_back(d);
                const double middle = median_of(values);
                for (double& value : values)
                    value = std::abs(value - middle);
                if (values.empty())
                    continue; // never seen together
                // Mostly so near the middle that what is allowed in any case is more than that.
                constexpr double kSpread = 7.0 * 1.4826; // of normal ones seven standard deviations
                const auto apart = std::count_if(values.begin(), values.end(), [](double value) {
                    return kSpread * value > plausible::kRigid_m;
                });
                const bool tight = 2 * static_cast<std::size_t>(apart) < values.size();
                const double off_m = tight ? plausible::kRigid_m
                                           : std::max(plausible::kRigid_m,
                                                      std::min(0.04, kSpread * median_of(values)));
                const double least_m = std::max(0.0, middle - off_m);
                allowed[a * n + b] = {least_m * least_m, (middle + off_m) * (middle + off_m)};
            }
        // Pair by pair through the whole take: hardly any frame needs more than that.
        Flags fine(m_.frames, 1);
        for (std::size_t a = 0; a < n; ++a)
            for (std::size_t b = a + 1; b < n; ++b) {
                const Allowed bounds = allowed[a * n + b];
                const Track& first = *tracks[a];
                const Track& second = *tracks[b];
                for (std::size_t i = 0; i < m_.frames; ++i)
                    if (!bounds.allow((first[i] - second[i]).squaredNorm()))
                        fine[i] = 0;
            }
        std::vector<Vector3d> now(n);
        const auto fits = [&](const std::vector<std::size_t>& use) {
            for (std::size_t a = 0; a < use.size(); ++a)
                for (std::size_t b = a + 1; b < use.size(); ++b) {
                    // The list ascends.
                    const double d_m2 = (now[use[a]] - now[use[b]]).squaredNorm();
                    if (!allowed[use[a] * n + use[b]].allow(d_m2))
                        return false;
                }
            return true;
        };
        std::vector<std::size_t> all(n);
        for (std::size_t k = 0; k < n; ++k)
            all[k] = k;
        for (std::size_t i = 0; i < m_.frames; ++i) {
            if (fine[i])
                continue;
            for (std::size_t k = 0; k < n; ++k)
                now[k] = (*tracks[k])[i];
            mend_frame(i, tracks, names, now, all, fits);
        }
    }

    template <class Fits>
    void mend_frame(std::size_t i, std::vector<Track*>& tracks,
                    const std::vector<std::string>& names, std::vector<Vector3d>& now,
                    const std::vector<std::size_t>& all, const Fits& fits) {
        const std::size_t n = tracks.size();
        // Two exchanged, if that is the one way.
        int ways = 0;
        std::pair<std::size_t, std::size_t> which;
        for (std::size_t a = 0; a < n; ++a)
            for (std::size_t b = a + 1; b < n; ++b) {
                if (!now[a].allFinite() || !now[b].allFinite())
                    continue;
                std::swap(now[a], now[b]);
                if (fits(all)) {
                    ++ways;
                    which = {a, b};
                }
                std::swap(now[a], now[b]);
            }
        if (ways == 1) {
            std::swap((*tracks[which.first])[i], (*tracks[which.second])[i]);
            exchanged_.insert(names[which.first]);
            exchanged_.insert(names[which.second]);
            exchanged_frames_.insert(i);
            return;
        }
        // One that went astray.
        ways = 0;
        std::size_t astray = 0;
        for (std::size_t k = 0; k < n; ++k) {
            if (!now[k].allFinite())
                continue;
            std::vector<std::size_t> rest;
            std::size_t seen = 0;
            for (std::size_t other : all)
                if (other != k) {
                    rest.push_back(other);
                    seen += now[other].allFinite() ? 1 : 0;
                }
            if (seen >= 2 && fits(rest)) {
                ++ways;
                astray = k;
            }
        }
        if (ways == 1) {
            (*tracks[astray])[i] = missing_point();
            dropped_.insert(names[astray]);
            dropped_frames_.insert(i);
            return;
        }
        for (std::size_t k = 0; k < n; ++k) {
            if (now[k].allFinite())
                dropped_.insert(names[k]);
            (*tracks[k])[i] = missing_point();
        }
        dropped_frames_.insert(i);
    }

    /// Single points far from the curve through their neighbours in time.
    void drop_spikes(const Known& known) {
        Track& track = *known.track;
        const bool club = known.label.rfind("CLB", 0) == 0;
        // The club bends round fast, and the ball kicks it.
        const double least_m = plausible::kSpike_m + (club ? 12.0 : 0.6) / m_.rate_hz;
        if (is_smooth(track, 2, least_m, [](const auto& at) {
                return at(0) - kSixth * (4.0 * (at(-1) + at(1)) - at(-2) - at(2));
            }))
            return;
        // Squared, as far off as a point lies.
        std::vector<double> residual(m_.frames, kNaN);
        const auto residual_at = [&](std::size_t i) {
            if (i < 2 || i + 2 >= m_.frames)
                return kNaN;
            const Vector3d& a = track[i - 1];
            const Vector3d& b = track[i + 1];
            // Not a number where one of them is missing: then the next ones alone.
            const double by_four =
                (track[i] - kSixth * (4.0 * (a + b) - track[i - 2] - track[i + 2])).squaredNorm();
            return std::isfinite(by_four) ? by_four : (track[i] - 0.5 * (a + b)).squaredNorm();
        };
        double most = 0.0;
        for (std::size_t i = 0; i < m_.frames; ++i) {
            residual[i] = residual_at(i);
            most = std::max(most, std::isfinite(residual[i]) ? residual[i] : 0.0);
        }
        if (most < least_m * least_m)
            return;
        for (double& value : residual)
            value = std::sqrt(value);
        std::vector<double> about;
        for (int round = 0; round < 40; ++round) {
            // The largest first: its neighbours look bad because of it.
            std::size_t worst = m_.frames;
            for (std::size_t i = 0; i < m_.frames; ++i)
                if (std::isfinite(residual[i]) &&
                    (worst == m_.frames || residual[i] > residual[worst]))
                    worst = i;
            if (worst == m_.frames)
                return;
            about.clear();
            for (std::size_t i = worst > 12 ? worst - 12 : 0; i < std::min(m_.frames, worst + 13);
                 ++i)
                if (std::isfinite(residual[i]))
                    about.push_back(residual[i]);
            const double limit = std::max(least_m, 7.0 * median_of(about));
            if (residual[worst] < limit)
                return;
            track[worst] = missing_point();
            spikes_.insert(known.label);
            ++spike_count_;
            for (std::size_t i = worst > 2 ? worst - 2 : 0; i < std::min(m_.frames, worst + 3); ++i)
                residual[i] = std::sqrt(residual_at(i));
        }
    }

    Vector3d mean_in(const char* label, FrameRange frames) {
        return kite::mean_in(m_, {label}, frames);
    }

    void exchange(const char* a, const char* b) {
        Track* first = find(a);
        Track* second = find(b);
        if (first == nullptr || second == nullptr)
            return;
        std::swap(*first, *second);
        relabelled_.insert(a);
        relabelled_.insert(b);
    }

    /// From the hands outwards: upper shaft, lower shaft, head.
    void relabel_club() {
        const Track* a = m_.find("LWRA") != nullptr ? m_.find("LWRA") : m_.find("RWRA");
        if (a == nullptr)
            return;
        std::vector<std::pair<double, const char*>> order;
        for (const char* label : {"CLB1", "CLB2", "CLB3"}) {
            const Track* track = m_.find(label);
            if (track == nullptr)
                continue;
            std::vector<double> d;
            for (std::size_t i = 0; i < m_.frames; i += usual_step())
                if (const double x = ((*track)[i] - (*a)[i]).norm(); std::isfinite(x))
                    d.push_back(x);
            if (d.empty())
                return;
            order.emplace_back(median_of(d), label);
        }
        if (order.size() < 2)
            return;
        auto sorted = order;
        std::sort(sorted.begin(), sorted.end(),
                  [](const auto& x, const auto& y) { return x.first < y.first; });
        bool right = true;
        for (std::size_t k = 0; k < order.size(); ++k)
            right = right && (sorted[k].second == order[k].second ||
                              std::abs(sorted[k].first - order[k].first) < 0.04);
        if (right)
            return;
        std::vector<Track> tracks;
        for (const auto& entry : sorted)
            tracks.push_back(*m_.find(entry.second));
        for (std::size_t k = 0; k < order.size(); ++k) {
            if (sorted[k].second != order[k].second)
                relabelled_.insert(order[k].second);
            *find(order[k].second) = std::move(tracks[k]);
        }
    }

    /// What a body at address looks like, whatever the labels say: the hands are in front of it,
    /// and left is where front and up say.
    void relabel_body() {
        const FrameRange calm = find_calm_before_swing(m_);
        calm_ = calm;
        if (!is_calm(m_, calm)) {
            relabel_trunk_in_swing();
            return;
        }
        const auto at = [&](const char* label) { return mean_in(label, calm); };
        const auto mean_seen = [&](std::initializer_list<const char*> labels) {
            return kite::mean_in(m_, labels, calm);
        };
        const Vector3d hips = mean_seen({"LASI", "RASI", "LPSI", "RPSI"});
        const Vector3d chest = mean_seen({"C7", "CLAV", "T10", "STRN", "LSHO", "RSHO"});
        const Vector3d hands = mean_seen({"LWRA", "LWRB", "RWRA", "RWRB"});
        if (!hips.allFinite() || !chest.allFinite() || !hands.allFinite())
            return;
        const Vector3d up = (chest - hips).normalized();
        Vector3d front = hands - 0.5 * (hips + chest);
        front -= front.dot(up) * up;
        if (front.norm() < 0.08)
            return; // the hands hang beside the body: nothing to tell front by
        front.normalize();
        // Left hand side of somebody who looks to the front.
        const Vector3d left = up.cross(front);

        const auto wrong = [&](const char* a, const char* b, const Vector3d& direction,
                               double least) {
            const Vector3d d = at(a) - at(b);
            return d.allFinite() && d.dot(direction) < -least * d.norm();
        };
        // Front and back first, since what they are is told by the hands alone.
        const Vector3d asis = mean_seen({"LASI", "RASI"});
        const Vector3d psis = mean_seen({"LPSI", "RPSI"});
        if (at("LASI").allFinite() && at("RASI").allFinite() && at("LPSI").allFinite() &&
            at("RPSI").allFinite() && (asis - psis).dot(front) < -0.5 * (asis - psis).norm()) {
            exchange("LASI", "LPSI");
            exchange("RASI", "RPSI");
        }
        if (wrong("C7", "T10", up, 0.5))
            exchange("C7", "T10");
        if (wrong("CLAV", "STRN", up, 0.5))
            exchange("CLAV", "STRN");
        if (wrong("CLAV", "C7", front, 0.3))
            exchange("CLAV", "C7");
        if (wrong("STRN", "T10", front, 0.3))
            exchange("STRN", "T10");
        for (const auto& [a, b] :
             {std::pair("LASI", "RASI"), std::pair("LPSI", "RPSI"), std::pair("LSHO", "RSHO"),
              std::pair("LELB", "RELB"), std::pair("LKNE", "RKNE"), std::pair("LANK", "RANK")})
            if (wrong(a, b, left, 0.4))
                exchange(a, b);
        relabel_hands();
    }

    /// Nobody was seen standing still: in the swing too the hands stay before the chest, so that
    /// most frames tell its front from its back.
    void relabel_trunk_in_swing() {
        constexpr double kLeastShare = 0.85;
        constexpr std::size_t kFewestTold = 10;
        const std::size_t fastest = find_fastest_frame(m_);
        const auto reach = static_cast<std::size_t>(std::lround(0.8 * m_.rate_hz));
        const std::size_t end = std::min(fastest, m_.frames);
        const std::size_t begin = end > reach ? end - reach : 0;
        for (const auto& [front_label, back_label] :
             {std::pair("CLAV", "C7"), std::pair("STRN", "T10")}) {
            std::size_t told = 0;
            std::size_t wrong = 0;
            for (std::size_t i = begin; i < end; ++i) {
                const FrameRange now{i, i + 1};
                const Vector3d hips = 0.25 * (mean_in("LASI", now) + mean_in("RASI", now) +
                                              mean_in("LPSI", now) + mean_in("RPSI", now));
                const Vector3d chest = 0.5 * (mean_in("LSHO", now) + mean_in("RSHO", now));
                const Vector3d hands = 0.5 * (mean_in("LWRA", now) + mean_in("RWRA", now));
                const Vector3d up = (chest - hips).normalized();
                Vector3d front = hands - 0.5 * (hips + chest);
                front -= front.dot(up) * up;
                const Vector3d d = mean_in(front_label, now) - mean_in(back_label, now);
                if (!(front.norm() > 0.15) || !d.allFinite())
                    continue;
                ++told;
                wrong += d.dot(front.normalized()) < -0.3 * d.norm() ? 1 : 0;
            }
            if (told >= kFewestTold &&
                static_cast<double>(wrong) > kLeastShare * static_cast<double>(told))
                exchange(front_label, back_label);
        }
    }

    /// A forearm keeps its length: the wrist that does is its own.
    void relabel_hands() {
        const auto scatter = [&](const char* elbow, const char* wrist) {
            const Track* a = m_.find(elbow);
            const Track* b = m_.find(wrist);
            std::vector<double> d;
            if (a != nullptr && b != nullptr)
                for (std::size_t i = 0; i < m_.frames; i += usual_step())
                    if (const double x = ((*a)[i] - (*b)[i]).norm(); std::isfinite(x))
                        d.push_back(x);
            const double middle = median_of(d);
            for (double& x : d)
                x = std::abs(x - middle);
            return median_of(d);
        };
        // Both forearms must say so: elbows stretch and markers slip.
        const auto crossed = [&](const char* elbow, const char* own, const char* other) {
            const double as_is = scatter(elbow, own);
            return as_is > 0.02 && scatter(elbow, other) < 0.3 * as_is;
        };
        if (!crossed("LELB", "LWRA", "RWRA") || !crossed("RELB", "RWRA", "LWRA"))
            return;
        exchange("LWRA", "RWRA");
        exchange("LWRB", "RWRB");
    }

    void say() {
        if (!relabelled_.empty())
            findings_.push_back(
                {Severity::Warning, "markers-relabelled",
                 "Markers bear each other's names throughout (a body cannot look like that); they "
                 "were given back: " +
                     listed({relabelled_.begin(), relabelled_.end()}) + ".",
                 "marker labels", "Correct the labels where the markers are captured."});
        if (!exchanged_.empty())
            findings_.push_back(
                {Severity::Warning, "markers-exchanged",
                 "Markers were exchanged in " + std::to_string(exchanged_frames_.size()) +
                     " frames and were given back: " +
                     listed({exchanged_.begin(), exchanged_.end()}) + ".",
                 "marker labels", "Look at these frames where the markers are captured."});
        if (!dropped_.empty())
            findings_.push_back({Severity::Warning, "markers-dropped",
                                 "Markers do not keep their distances in " +
                                     std::to_string(dropped_frames_.size()) +
                                     " frames, more than skin allows; there they were not used: " +
                                     listed({dropped_.begin(), dropped_.end()}) + ".",
                                 "marker labels", "Check for loose markers and wrong labels."});
        if (!spikes_.empty())
            findings_.push_back({Severity::Warning, "markers-spikes",
                                 std::to_string(spike_count_) +
                                     " single points lie far off their paths and were not used: " +
                                     listed({spikes_.begin(), spikes_.end()}) + ".",
                                 "marker labels",
                                 "Look at these markers where they are captured."});
    }

    MarkerTake& m_;
    std::vector<Finding>& findings_;
    std::vector<Known> known_;
    Eigen::ArrayXd off_; ///< of a track, kept for the next
    std::set<std::string> exchanged_;
    std::set<std::size_t> exchanged_frames_;
    std::set<std::string> dropped_;
    std::set<std::size_t> dropped_frames_;
    std::set<std::string> spikes_;
    int spike_count_ = 0;
    std::optional<FrameRange> calm_;
    std::set<std::string> relabelled_;
};

} // namespace

std::optional<FrameRange> mend_markers(MarkerTake& markers, std::vector<Finding>& findings) {
    Mender mender(markers, findings);
    mender.mend();
    return mender.calm();
}

} // namespace kite
