#include "core/film/first_guess.h"

#include "core/base/missing.h"

#include <Eigen/Cholesky>

#include <algorithm>
#include <cmath>
#include <limits>

namespace kite::film {

namespace {

/// Which lab axis a picture's right and up show, and with which sign.
struct Shown {
    int right_axis;
    double right_sign;
    int up_axis;
};

Shown shown_by(Side side) {
    switch (side) {
    case Side::FaceOn:
        return {0, 1.0, 2};
    case Side::DownTheLine:
        return {1, -1.0, 2};
    case Side::Above:
        break;
    }
    return {0, 1.0, 1};
}

/// What a view says of a lab axis in pixels, up and right positive; NaN where it does not show it.
double shown_px(Side side, const Pixel& at, int axis) {
    const Shown shown = shown_by(side);
    if (axis == shown.right_axis)
        return shown.right_sign * at.x();
    if (axis == shown.up_axis)
        return -at.y();
    return kMissing;
}

class Guess {
public:
    explicit Guess(Bundle& bundle) : bundle_(bundle), views_(bundle.marks().views) {}

    std::optional<Eigen::VectorXd> make() {
        g_ = bundle_.given().mean;
        find_offsets();
        make_frames();
        if (bundle_.frames().size() < 8)
            return std::nullopt;
        find_scales();
        find_widest();
        place_cameras();
        for (Bundle::Frame& frame : bundle_.frames())
            place_points(frame);
        choose_sides();
        return g_;
    }

private:
    std::optional<Pixel> seen(std::size_t view, std::size_t point, double t_s) const {
        const auto place = bundle_.track(view, point).at(t_s - bundle_.offset_s(g_, view));
        if (!place)
            return std::nullopt;
        return place->at;
    }

    /// A moment as it was marked by hand in a view, on its own clock.
    std::optional<double> told_s(std::size_t view, Moment moment) const {
        const auto found = views_[view].moments_s.find(moment);
        if (found == views_[view].moments_s.end())
            return std::nullopt;
        return found->second;
    }

    void find_offsets() {
        for (std::size_t v = 1; v < views_.size(); ++v) {
            const Eigen::Index at = bundle_.offset_index(v);
            if (views_[v].offset_s) {
                g_(at) = *views_[v].offset_s;
                refine_offset(v, 0.03);
                continue;
            }
            std::optional<double> by_moment;
            for (Moment moment : {Moment::Impact, Moment::Top, Moment::Address})
                if (!by_moment)
                    if (const auto first = told_s(0, moment))
                        if (const auto other = told_s(v, moment))
                            by_moment = *first - *other;
            if (by_moment) {
                g_(at) = *by_moment;
                refine_offset(v, 0.06);
            } else {
                g_(at) = 0.0;
                const double reach =
                    std::max(span_s(0), span_s(v)); // the films may begin at any time
                refine_offset(v, reach);
            }
        }
    }

    double span_s(std::size_t view) const {
        const auto& frames = views_[view].frames;
        return frames.empty() ? 0.0
                              : frames.back().t_s - frames.front().t_s +
                                    std::abs(views_[view].frames.front().t_s);
    }

    /// How badly two views agree about what both show, with the clocks so far apart.
    double disagreement(std::size_t v, double offset_s) const {
        const Side a = views_[0].side;
        const Side b = views_[v].side;
        double sum = 0.0;
        double all = 0.0;
        std::size_t pairs = 0;
        for (int axis = 0; axis < 3; ++axis)
            for (std::size_t point = 0; point < kPoints; ++point) {
                std::vector<std::pair<double, double>> both;
                for (const MarkedFrame& frame : views_[0].frames) {
                    if (!frame.at[point])
                        continue;
                    const auto other = bundle_.track(v, point).at(frame.t_s - offset_s);
                    if (!other)
                        continue;
                    const double x = shown_px(a, *frame.at[point], axis);
                    const double y = shown_px(b, other->at, axis);
                    if (std::isfinite(x) && std::isfinite(y))
                        both.emplace_back(x, y);
                }
                if (both.size() < 8)
                    continue;
                // The part of each that a straight line through the other does not explain.
                double mx = 0.0;
                double my = 0.0;
                for (const auto& [x, y] : both) {
                    mx += x;
                    my += y;
                }
                mx /= static_cast<double>(both.size());
                my /= static_cast<double>(both.size());
                double xx = 0.0;
                double yy = 0.0;
                double xy = 0.0;
                for (const auto& [x, y] : both) {
                    xx += (x - mx) * (x - mx);
                    yy += (y - my) * (y - my);
                    xy += (x - mx) * (y - my);
                }
                if (xx <= 0.0 || yy <= 0.0)
                    continue;
                sum += yy - (xy > 0.0 ? xy * xy / xx : 0.0);
                all += yy;
                pairs += both.size();
            }
        if (pairs < 12 || all <= 0.0)
            return std::numeric_limits<double>::infinity();
        // Few pairs at the rim agree by chance.
        return (sum / all + 1e-4) / std::sqrt(static_cast<double>(pairs));
    }

    void refine_offset(std::size_t v, double reach_s) {
        double& offset = g_(bundle_.offset_index(v));
        for (double step_s : {0.008, 0.002, 0.0005}) {
            const double reach = step_s > 0.005 ? reach_s : 6.0 * step_s;
            if (step_s > 0.005 && reach_s < 0.05)
                continue;
            const double middle = offset;
            double best = disagreement(v, middle);
            const int steps = static_cast<int>(reach / step_s);
            for (int step = -steps; step <= steps; ++step) {
                const double there_s = middle + step * step_s;
                const double here = disagreement(v, there_s);
                if (here < best) {
                    best = here;
                    offset = there_s;
                }
            }
        }
    }

    /// Whether a view has the point then, and will after the offset has changed a little.
    bool counts(std::size_t v, std::size_t point, double t_s) const {
        const double margin_s = v == 0 ? 0.0 : 1.0 / std::max(60.0, views_[v].capture_rate_hz);
        return seen(v, point, t_s - margin_s) && seen(v, point, t_s + margin_s);
    }

    void make_frames() {
        bundle_.frames().clear();
        for (const MarkedFrame& marked : views_[0].frames) {
            Bundle::Frame frame;
            frame.t_s = marked.t_s;
            for (std::size_t p = 0; p < kPoints; ++p) {
                const std::size_t before = frame.seen.size();
                for (std::size_t v = 0; v < views_.size(); ++v)
                    if (counts(v, p, frame.t_s))
                        frame.seen.emplace_back(v, p);
                if (frame.seen.size() > before)
                    frame.points.push_back(p);
            }
            frame.x = Eigen::VectorXd::Zero(3 * static_cast<Eigen::Index>(frame.points.size()));
            if (!frame.points.empty())
                bundle_.frames().push_back(std::move(frame));
        }
    }

    /// Squares of a link's pixels in each view, of the axes that it is the first to show.
    std::optional<Eigen::VectorXd> squares(Link link, double t_s) const {
        const auto [from, to] = ends_of(link);
        Eigen::VectorXd out = Eigen::VectorXd::Zero(static_cast<Eigen::Index>(views_.size()));
        for (int axis = 0; axis < 3; ++axis) {
            for (std::size_t v = 0; v < views_.size(); ++v) {
                const auto a = seen(v, static_cast<std::size_t>(from), t_s);
                const auto b = seen(v, static_cast<std::size_t>(to), t_s);
                if (!a || !b)
                    continue;
                const double d =
                    shown_px(views_[v].side, *b, axis) - shown_px(views_[v].side, *a, axis);
                if (!std::isfinite(d))
                    continue;
                out(static_cast<Eigen::Index>(v)) += d * d;
                break;
            }
        }
        if (!(out.sum() > 0.0))
            return std::nullopt;
        return out;
    }

    void find_scales() {
        const Eigen::Index n = static_cast<Eigen::Index>(views_.size());
        px_per_m_ = Eigen::VectorXd::Constant(n, kMissing);
        Eigen::MatrixXd A = Eigen::MatrixXd::Zero(n, n);
        Eigen::VectorXd b = Eigen::VectorXd::Zero(n);
        for (Link link : kLinks) {
            const bool trunk = is_trunk(link);
            if (trunk && !bundle_.length_told(link))
                continue;
            const double length_m = bundle_.length_m(g_, link);
            const double weight = 1.0 / bundle_.given().sd(bundle_.length_index(link));
            for (const Bundle::Frame& frame : bundle_.frames())
                if (const auto row = squares(link, frame.t_s)) {
                    const Eigen::VectorXd scaled = weight * *row / (length_m * length_m);
                    A += scaled * scaled.transpose();
                    b += weight * scaled;
                }
        }
        if (n > 1) {
            const Eigen::VectorXd q = A.ldlt().solve(b);
            for (Eigen::Index v = 0; v < n; ++v)
                if (q(v) > 0.0)
                    px_per_m_(v) = 1.0 / std::sqrt(q(v));
        }
        for (Eigen::Index v = 0; v < n; ++v) {
            const View& view = views_[static_cast<std::size_t>(v)];
            const double widest = widest_px_per_m(static_cast<std::size_t>(v));
            double& scale = px_per_m_(v);
            if (view.scale_px && view.scale_m > 0.0)
                scale = (view.scale_px->to - view.scale_px->from).norm() / view.scale_m;
            else if (view.distance_m && view.focal_px)
                scale = *view.focal_px / *view.distance_m;
            else if (!(scale > 0.7 * widest && scale < 1.6 * widest))
                scale = widest;
        }
    }

    /// A link is never seen longer than it is.
    double widest_px_per_m(std::size_t v) const {
        double out = kMissing;
        double trust = 0.0;
        for (Link link : kLinks) {
            const bool trunk = is_trunk(link);
            if (trunk && !bundle_.length_told(link))
                continue;
            const auto [from, to] = ends_of(link);
            std::vector<double> px;
            for (const Bundle::Frame& frame : bundle_.frames()) {
                const auto a = seen(v, static_cast<std::size_t>(from), frame.t_s);
                const auto b = seen(v, static_cast<std::size_t>(to), frame.t_s);
                if (a && b)
                    px.push_back((*b - *a).norm());
            }
            if (px.size() < 4)
                continue;
            std::sort(px.begin(), px.end());
            const double widest = px[px.size() - 1 - px.size() / 20];
            const double scale = widest / bundle_.length_m(g_, link);
            const double weight = 1.0 / bundle_.given().sd(bundle_.length_index(link));
            // Of links as well known the one that shows most.
            if (!(out > 0.0) || weight > 1.5 * trust || (weight > 0.7 * trust && scale > out)) {
                out = scale;
                trust = std::max(trust, weight);
            }
        }
        return out > 0.0 ? out : 0.15 * views_[v].size_px.maxCoeff();
    }

    /// Where the belt, else the shoulders, are in the middle of all frames.
    Pixel middle_px(std::size_t v) const {
        for (Link link : {Link::Belt, Link::Shoulders}) {
            const auto [from, to] = ends_of(link);
            Pixel sum = Pixel::Zero();
            double count = 0.0;
            for (const Bundle::Frame& frame : bundle_.frames()) {
                const auto a = seen(v, static_cast<std::size_t>(from), frame.t_s);
                const auto b = seen(v, static_cast<std::size_t>(to), frame.t_s);
                if (!a || !b)
                    continue;
                sum += 0.5 * (*a + *b);
                count += 1.0;
            }
            if (count > 0.0) {
                Pixel out = sum / count;
                if (link == Link::Shoulders && views_[v].side != Side::Above)
                    out.y() += 0.45 * px_per_m_(static_cast<Eigen::Index>(v));
                return out;
            }
        }
        return 0.5 * views_[v].size_px;
    }

    /// With a single view that looks at the front, the belt passes square to it in the downswing,
    /// and is seen in full then: its widest, of a curve through many marks.
    void find_widest() {
        if (bundle_.hidden_axis() != 1)
            return;
        struct Told {
            Link link;
            double nearer_m; ///< than the belt's middle
            double log_sd;
        };
        const double impact_s = fastest_s();
        for (const Told& told : {Told{Link::Belt, 0.0, 0.004}, Told{Link::Shoulders, 0.15, 0.03}}) {
            if (!bundle_.length_told(told.link))
                continue;
            const auto [from, to] = ends_of(told.link);
            std::vector<double> t_s;
            std::vector<double> px;
            for (const MarkedFrame& frame : views_[0].frames)
                if (frame[from] && frame[to] && frame.t_s > impact_s - 0.2 &&
                    frame.t_s < impact_s + 0.05) {
                    t_s.push_back(frame.t_s);
                    px.push_back((*frame[to] - *frame[from]).norm());
                }
            const auto widest = highest_of_parabolas(t_s, px);
            if (!widest)
                continue;
            const double here = widest->value / bundle_.length_m(g_, told.link);
            const double distance_m = std::exp(g_(bundle_.index(0, Bundle::Part::LogDistance)));
            bundle_.add_scale(0, here * (distance_m - told.nearer_m) / distance_m, told.log_sd);
            px_per_m_(0) = here * (distance_m - told.nearer_m) / distance_m;
            return;
        }
    }

    struct Highest {
        double t_s;
        double value;
    };
    /// The greatest value of parabolas laid through 0.06 s of marks each; empty where it lies at an
    /// end or too few were marked.
    static std::optional<Highest> highest_of_parabolas(const std::vector<double>& t_s,
                                                       const std::vector<double>& px) {
        constexpr double kHalf_s = 0.03;
        std::optional<Highest> best;
        bool at_end = true;
        for (std::size_t i = 0; i < t_s.size(); ++i) {
            Eigen::Matrix3d A = Eigen::Matrix3d::Zero();
            Eigen::Vector3d b = Eigen::Vector3d::Zero();
            int count = 0;
            for (std::size_t j = 0; j < t_s.size(); ++j) {
                const double x = (t_s[j] - t_s[i]) / kHalf_s;
                if (std::abs(x) > 1.0)
                    continue;
                const Eigen::Vector3d row(1.0, x, x * x);
                A += row * row.transpose();
                b += px[j] * row;
                ++count;
            }
            const bool to_the_rim = t_s[i] - t_s.front() < kHalf_s || t_s.back() - t_s[i] < kHalf_s;
            if (count < 6 || to_the_rim)
                continue;
            const double here = A.ldlt().solve(b)(0);
            if (!best || here > best->value) {
                best = Highest{t_s[i], here};
                at_end = t_s[i] - t_s.front() < 1.2 * kHalf_s;
            }
        }
        return at_end ? std::nullopt : best;
    }

    void place_cameras() {
        for (std::size_t v = 0; v < views_.size(); ++v) {
            const View& view = views_[v];
            const double scale = px_per_m_(static_cast<Eigen::Index>(v));
            double& distance = g_(bundle_.index(v, Bundle::Part::LogDistance));
            double& focal = g_(bundle_.index(v, Bundle::Part::LogFocal));
            const double wanted = std::log(scale);
            const double off = wanted - (focal - distance);
            if (view.focal_px && !view.distance_m)
                distance -= off;
            else if (view.distance_m && !view.focal_px)
                focal += off;
            else if (!view.distance_m && !view.focal_px) {
                distance -= 0.5 * off;
                focal += 0.5 * off;
            }
            const Pixel middle = middle_px(v) - 0.5 * view.size_px;
            middle_px_.push_back(middle_px(v));
            g_(bundle_.index(v, Bundle::Part::Right)) = -middle.x() / scale;
            double& up = g_(bundle_.index(v, Bundle::Part::Up));
            const double level = middle.y() / scale;
            if (view.height_m && view.side != Side::Above) {
                // Where the height is told the camera nods.
                const double distance_m = std::exp(distance);
                g_(bundle_.index(v, Bundle::Part::Pitch)) = (up - level) / distance_m;
            } else {
                up = level;
            }
        }
    }

    void place_points(Bundle::Frame& frame) const {
        for (std::size_t i = 0; i < frame.points.size(); ++i) {
            Eigen::Vector3d at = usual(frame.points[i]);
            std::array<double, 3> count{};
            for (std::size_t v = 0; v < views_.size(); ++v) {
                const auto px = seen(v, frame.points[i], frame.t_s);
                if (!px)
                    continue;
                for (int axis = 0; axis < 3; ++axis) {
                    const double shown = shown_px(views_[v].side, *px - middle_px_[v], axis) /
                                         px_per_m_(static_cast<Eigen::Index>(v));
                    if (!std::isfinite(shown))
                        continue;
                    double& n = count[static_cast<std::size_t>(axis)];
                    at(axis) = (n * at(axis) + shown) / (n + 1.0);
                    n += 1.0;
                }
            }
            frame.x.segment<3>(3 * static_cast<Eigen::Index>(i)) = at;
        }
    }

    static Eigen::Vector3d usual(std::size_t point) {
        switch (static_cast<Point>(point)) {
        case Point::BeltLead:
        case Point::BeltTrail:
            return Eigen::Vector3d::Zero();
        case Point::ShoulderLead:
        case Point::ShoulderTrail:
        case Point::LeadShoulder:
            return {0.0, -0.1, 0.45};
        case Point::Wrist:
        case Point::Grip:
            return {0.0, -0.4, 0.2};
        case Point::ClubHead:
            return {0.0, -0.8, 0.0};
        case Point::LeadKnee:
        case Point::TrailKnee:
            return {0.0, -0.1, -0.45};
        case Point::LeadAnkle:
        case Point::TrailAnkle:
            return {0.0, 0.0, -0.85};
        case Point::Head:
            break;
        }
        return {0.0, -0.15, 0.7};
    }

    /// Impact as it was marked, else the fastest moment of the club head, else of the wrist, else
    /// of the shoulder.
    double fastest_s() const {
        for (std::size_t v = 0; v < views_.size(); ++v)
            if (const auto told = told_s(v, Moment::Impact))
                return *told + bundle_.offset_s(g_, v);
        if (const auto fastest =
                find_fastest_step(views_[0], {Point::ClubHead, Point::Wrist, Point::ShoulderLead}))
            return fastest->t_s;
        return 0.5 * (views_[0].frames.front().t_s + views_[0].frames.back().t_s);
    }

    Eigen::Index place_of(const Bundle::Frame& frame, Point point) const {
        const auto found =
            std::find(frame.points.begin(), frame.points.end(), static_cast<std::size_t>(point));
        return found == frame.points.end() ? -1 : 3 * (found - frame.points.begin());
    }

    /// With one axis hidden a link's share of it follows from its length, but for the sign.
    void choose_sides() {
        const int axis = bundle_.hidden_axis();
        if (axis < 0)
            return;
        const double impact_s = fastest_s();
        for (Link link : kLinks) {
            const auto [from, to] = ends_of(link);
            // When it is seen widest in the downswing it stands across the picture.
            std::vector<double> t_s;
            std::vector<double> wide_m;
            for (const Bundle::Frame& frame : bundle_.frames()) {
                const Eigen::Index a = place_of(frame, from);
                const Eigen::Index b = place_of(frame, to);
                if (a < 0 || b < 0 || frame.t_s < impact_s - 0.25 || frame.t_s > impact_s + 0.08)
                    continue;
                Eigen::Vector3d d = frame.x.segment<3>(b) - frame.x.segment<3>(a);
                d(axis) = 0.0;
                t_s.push_back(frame.t_s);
                wide_m.push_back(std::copysign(d.norm(), d.x()));
            }
            const auto widest = highest_of_parabolas(t_s, wide_m);
            const double widest_s = widest ? widest->t_s : impact_s;
            for (Bundle::Frame& frame : bundle_.frames()) {
                const Eigen::Index a = place_of(frame, from);
                const Eigen::Index b = place_of(frame, to);
                if (a < 0 || b < 0)
                    continue;
                Eigen::Vector3d d = frame.x.segment<3>(b) - frame.x.segment<3>(a);
                d(axis) = 0.0;
                const double length_m = std::max(bundle_.length_m(g_, link), d.norm());
                const double size = std::sqrt(std::max(0.0, length_m * length_m - d.squaredNorm()));
                const double sign = side_of(link, axis, d, frame.t_s, widest_s, impact_s);
                const bool trunk = is_trunk(link);
                if (trunk) {
                    const double middle = 0.5 * (frame.x(a + axis) + frame.x(b + axis));
                    frame.x(a + axis) = middle - 0.5 * sign * size;
                    frame.x(b + axis) = middle + 0.5 * sign * size;
                } else {
                    if (link == Link::Club && place_of(frame, Point::Wrist) >= 0)
                        frame.x(a + axis) = frame.x(place_of(frame, Point::Wrist) + axis);
                    frame.x(b + axis) = frame.x(a + axis) + sign * size;
                }
            }
        }
    }

    static double side_of(Link link, int axis, const Eigen::Vector3d& shown, double t_s,
                          double widest_s, double impact_s) {
        const bool trunk = is_trunk(link);
        if (axis == 1)
            // Face-on: the trunk is closed, then open; arm and club move on a plane that rises away
            // from the ball.
            return trunk ? (t_s < widest_s ? -1.0 : 1.0) : (shown.z() < 0.0 ? -1.0 : 1.0);
        if (axis == 0)
            // Down the line: the lead side stays nearer to the target; hands and club come from
            // the other side.
            return trunk ? 1.0 : (t_s < impact_s ? -1.0 : 1.0);
        // From above: hips and shoulders are near level, arm and club on their plane.
        return trunk ? 0.0 : (shown.y() < 0.0 ? -1.0 : 1.0);
    }

    Bundle& bundle_;
    const std::vector<View>& views_;
    Eigen::VectorXd g_;
    Eigen::VectorXd px_per_m_;
    std::vector<Pixel> middle_px_;
};

} // namespace

std::optional<Eigen::VectorXd> guess(Bundle& bundle) {
    return Guess(bundle).make();
}

} // namespace kite::film
