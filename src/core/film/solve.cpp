#include "core/film/solve.h"

#include "core/base/missing.h"
#include "core/film/bundle.h"
#include "core/film/first_guess.h"

#include <Eigen/Cholesky>
#include <Eigen/Eigenvalues>

#include <algorithm>
#include <cmath>
#include <random>

namespace kite::film {

using Severity = Finding::Severity;

namespace {

/// Draws from a standard normal distribution, the same every time; in pairs that cancel, so that
/// their mean is what was found.
Eigen::MatrixXd standard_draws(Eigen::Index rows) {
    std::mt19937 random(20); // NOLINT(cert-msc32-c,cert-msc51-cpp): the same every time
    std::normal_distribution<double> normal;
    Eigen::MatrixXd out(rows, kFilmDraws);
    for (Eigen::Index j = 0; j < kFilmDraws; j += 2)
        for (Eigen::Index i = 0; i < rows; ++i) {
            out(i, j) = normal(random);
            out(i, j + 1) = -out(i, j);
        }
    return out;
}

/// Frames from which cameras and lengths are found: spread evenly, those with the most marks.
std::vector<std::size_t> telling_frames(const Bundle& bundle) {
    constexpr std::size_t kEnough = 48;
    const auto& frames = bundle.frames();
    std::vector<std::size_t> out;
    const std::size_t step = std::max<std::size_t>(1, frames.size() / kEnough);
    for (std::size_t begin = 0; begin < frames.size(); begin += step) {
        std::size_t best = begin;
        for (std::size_t i = begin; i < std::min(begin + step, frames.size()); ++i)
            if (frames[i].points.size() > frames[best].points.size())
                best = i;
        out.push_back(best);
    }
    return out;
}

/// SD of the direction from one point to another by the marks of one moment.
double direction_sd_rad(const Bundle::Frame& frame, Link link, const Eigen::MatrixXd& spread) {
    const auto [from, to] = ends_of(link);
    const auto place = [&](Point point) {
        return std::find(frame.points.begin(), frame.points.end(), static_cast<std::size_t>(point));
    };
    const auto a = place(from);
    const auto b = place(to);
    if (a == frame.points.end() || b == frame.points.end())
        return kMissing;
    const Eigen::Index i = 3 * (a - frame.points.begin());
    const Eigen::Index j = 3 * (b - frame.points.begin());
    const Eigen::Vector3d d = frame.x.segment<3>(j) - frame.x.segment<3>(i);
    const Eigen::Matrix3d C = spread.block<3, 3>(i, i) + spread.block<3, 3>(j, j) -
                              spread.block<3, 3>(i, j) - spread.block<3, 3>(j, i);
    if (is_trunk(link)) {
        const double level_m = std::hypot(d.x(), d.y());
        const Eigen::Vector3d across = Eigen::Vector3d(-d.y(), d.x(), 0.0) / level_m;
        return std::sqrt(std::max(0.0, across.dot(C * across))) / level_m;
    }
    const Eigen::Matrix3d off = Eigen::Matrix3d::Identity() - d * d.transpose() / d.squaredNorm();
    const Eigen::SelfAdjointEigenSolver<Eigen::Matrix3d> axes(off * C * off,
                                                              Eigen::EigenvaluesOnly);
    return std::sqrt(std::max(0.0, axes.eigenvalues().maxCoeff())) / d.norm();
}

/// Whether the views that have both ends of a link then show all three axes between them: with one
/// hidden, a direction and its mirror image look alike.
bool shows_all_axes(const Bundle& bundle, const Bundle::Frame& frame, Link link) {
    const auto [from, to] = ends_of(link);
    const auto has = [&](std::size_t v, Point point) {
        return std::find(frame.seen.begin(), frame.seen.end(),
                         std::pair(v, static_cast<std::size_t>(point))) != frame.seen.end();
    };
    std::array<bool, 3> shown{};
    for (std::size_t v = 0; v < bundle.marks().views.size(); ++v)
        if (has(v, from) && has(v, to))
            for (int axis = 0; axis < 3; ++axis)
                if (shows_axis(bundle.marks().views[v].side, axis))
                    shown[static_cast<std::size_t>(axis)] = true;
    return shown[0] && shown[1] && shown[2];
}

SpaceFrame in_space(const Bundle& bundle, const Eigen::VectorXd& g, const Bundle::Frame& frame,
                    const Eigen::MatrixXd& shared_draws, double worse) {
    SpaceFrame out;
    out.t_s = frame.t_s;
    out.at_m.fill(Eigen::Vector3d::Constant(kMissing));
    const Bundle::Normal normal = bundle.normal(g, frame);
    const Eigen::LDLT<Eigen::MatrixXd> solved(normal.points);
    const Eigen::MatrixXd spread =
        worse * worse *
        solved.solve(Eigen::MatrixXd::Identity(normal.points.rows(), normal.points.cols()));
    const Eigen::MatrixXd moved = -solved.solve(normal.between * shared_draws);
    for (std::size_t i = 0; i < frame.points.size(); ++i) {
        const Eigen::Index at = 3 * static_cast<Eigen::Index>(i);
        out.at_m[frame.points[i]] = frame.x.segment<3>(at);
        out.drawn_m[frame.points[i]] = moved.middleRows<3>(at).colwise() + frame.x.segment<3>(at);
    }
    for (Link link : kLinks)
        out.direction_sd_rad[static_cast<std::size_t>(link)] =
            bundle.hidden_axis() >= 0 || shows_all_axes(bundle, frame, link)
                ? direction_sd_rad(frame, link, spread)
                : kMissing;
    return out;
}

} // namespace

Outcome<Solution> solve(const Marks& marks) {
    Outcome<Solution> out;
    if (marks.views.empty() || marks.views.front().frames.empty()) {
        out.add({Severity::Error, "film-no-marks", "No point is marked in the first view.", "",
                 "Mark the belt, the shoulders, the lead arm and the club from before the top to "
                 "after impact."});
        return out;
    }
    Bundle bundle(marks);
    const auto begin = guess(bundle);
    if (!begin) {
        out.add({Severity::Error, "film-few-marks",
                 "Fewer than eight pictures are marked in the first view.", "",
                 "Mark every picture from a little before the top to a little after impact."});
        return out;
    }
    const auto telling = telling_frames(bundle);
    const bool alone = marks.views.size() == 1;
    bundle.leave_out_arms(alone);
    if (alone)
        bundle.hold_directions(bundle.solve(*begin, {}));
    constexpr double kCoarse = 10.0;
    bundle.widen(kCoarse);
    const Eigen::VectorXd near = bundle.solve(*begin, telling);
    bundle.widen(1.0 / kCoarse);
    const Eigen::VectorXd g = bundle.solve(near, telling);
    bundle.hold_directions({});
    const Eigen::MatrixXd shared = bundle.covariance(g, telling);
    bundle.leave_out_arms(false);
    for (Bundle::Frame& frame : bundle.frames())
        bundle.solve_points(g, frame);

    Solution& result = out.value;
    const auto [sum, should] = bundle.misfit(g, telling);
    constexpr double kTelling = 20.0;
    const double worse = should > kTelling ? std::max(1.0, std::sqrt(sum / should)) : 1.0;
    constexpr double kClearlyWorse = 1.3;
    result.worse_than_told = worse > kClearlyWorse;
    result.mark_error_px = worse * bundle.error_px();
    const Eigen::MatrixXd covariance = worse * worse * shared;
    const Eigen::LLT<Eigen::MatrixXd> root(covariance);
    const Eigen::MatrixXd draws = root.matrixL() * standard_draws(g.size());
    for (std::size_t v = 0; v < marks.views.size(); ++v) {
        result.cameras.push_back(bundle.camera(g, v));
        result.offset_s.push_back(bundle.offset_s(g, v));
        result.offset_u_s.push_back(
            v == 0 ? 0.0 : std::sqrt(covariance(bundle.offset_index(v), bundle.offset_index(v))));
    }
    for (Link link : kLinks)
        result.length_m[static_cast<std::size_t>(link)] = bundle.length_m(g, link);
    for (const Bundle::Frame& frame : bundle.frames())
        result.frames.push_back(in_space(bundle, g, frame, draws, worse));
    return out;
}

} // namespace kite::film
