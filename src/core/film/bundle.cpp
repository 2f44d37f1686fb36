#include "core/film/bundle.h"

#include "core/base/units.h"

#include <Eigen/Cholesky>

#include <algorithm>
#include <cmath>

namespace kite::film {

namespace {

/// No lens is straight and no stick stiff to less than this.
constexpr double kLeastMarkError_px = 0.5;
/// Beyond this many SD a mark counts for less (Huber 1964).
constexpr double kFar = 3.0;

constexpr Eigen::Index kPerView = 7;

/// What is known before anything was marked (common practice, no source): how far cameras are off,
/// how far they stand away, how tall people are.
constexpr double kYaw_deg = 2.0;
constexpr double kPitch_deg = 4.0;
constexpr double kRoll_deg = 1.5;
constexpr double kUsualDistance_m = 4.5;
constexpr double kUsualDistanceAbove_m = 3.0;
constexpr double kLogDistance = 0.4;
constexpr double kToldDistance_m = 0.25;
constexpr double kLogFocal = 0.4;
constexpr double kToldFocal = 0.01;
constexpr double kFocalOfLongSide = 0.85;
constexpr double kBeltHeight_m = 0.95;
constexpr double kBeltHeight_u_m = 0.12;
/// By how much a constant length does not hold.
constexpr double kStickGives_m = 0.004;
constexpr double kLineGives_m = 0.02;
constexpr double kArmGives_m = 0.04;
constexpr double kClubGives_m = 0.012;
constexpr double kToldLength = 0.01;
/// Arm and club go up and away from the ball together: away over up of the planes that they move on
/// (a shaft that lies at 55 degrees; common practice, no source), and how far each picture leaves
/// that plane, as a share of the length.
constexpr double kArmPlane = 0.6;
constexpr double kClubPlane = 0.7;
constexpr double kPlane_u = 0.2;
constexpr double kOffPlane = 0.12;
/// So far from the belt nobody's body reaches.
constexpr double kAnywhere_m = 1.5;

struct UsualLength {
    double mean_m;
    double log_sd;
};

UsualLength usual_length(Link link, ClubKind club) {
    constexpr std::array<double, 4> kClubs_m{1.10, 1.03, 0.92, 0.87}; // by kind, grip to head
    if (link == Link::Club)
        return {kClubs_m[static_cast<std::size_t>(club)], 0.06};
    if (link == Link::Arm)
        return {0.60, 0.10};
    // A stick or the line of the body itself: from 0.2 to 2 m.
    return {0.6, 0.6};
}

std::optional<double> told_length(const Lengths& lengths, Link link) {
    switch (link) {
    case Link::Belt:
        return lengths.belt_stick;
    case Link::Shoulders:
        return lengths.shoulder_stick;
    case Link::Arm:
        return lengths.arm;
    case Link::Club:
        return lengths.club;
    }
    return std::nullopt;
}

double less_where_far(double r) {
    const double size = std::abs(r);
    return size <= kFar ? r : std::copysign(std::sqrt(kFar * (2.0 * size - kFar)), r);
}

} // namespace

std::pair<Point, Point> ends_of(Link link) {
    switch (link) {
    case Link::Belt:
        return {Point::BeltTrail, Point::BeltLead};
    case Link::Shoulders:
        return {Point::ShoulderTrail, Point::ShoulderLead};
    case Link::Arm:
        return {Point::LeadShoulder, Point::Wrist};
    case Link::Club:
        break;
    }
    return {Point::Grip, Point::ClubHead};
}

Bundle::Bundle(const Marks& marks)
    : marks_(marks),
      error_px_(std::max(kLeastMarkError_px, marks.mark_error_px.value_or(kUsualMarkError_px))) {
    const std::size_t views = marks.views.size();
    tracks_.resize(views);
    for (int axis = 0; axis < 3; ++axis) {
        bool shown = false;
        for (const View& view : marks.views)
            shown = shown || shows_axis(view.side, axis);
        if (!shown)
            hidden_axis_ = axis;
    }
    for (std::size_t v = 0; v < views; ++v)
        for (const MarkedFrame& frame : marks.views[v].frames)
            for (std::size_t p = 0; p < kPoints; ++p)
                if (frame.at[p])
                    tracks_[v][p].add(frame.t_s, *frame.at[p]);

    const Eigen::Index size =
        kPerView * static_cast<Eigen::Index>(views) + static_cast<Eigen::Index>(views) - 1 + 6;
    given_.mean = Eigen::VectorXd::Zero(size);
    given_.sd = Eigen::VectorXd::Ones(size);
    const auto set = [&](Eigen::Index i, double mean, double sd) {
        given_.mean(i) = mean;
        given_.sd(i) = sd;
    };
    for (std::size_t v = 0; v < views; ++v) {
        const View& view = marks.views[v];
        const bool above = view.side == Side::Above;
        // A camera that looks down may lean either way as much as the others nod.
        set(index(v, Part::Pitch), 0.0, rad_from_deg(kPitch_deg));
        set(index(v, Part::Yaw), 0.0, rad_from_deg(above ? kPitch_deg : kYaw_deg));
        set(index(v, Part::Roll), 0.0, rad_from_deg(above ? kYaw_deg : kRoll_deg));
        set(index(v, Part::Right), 0.0, 1.0);
        set(index(v, Part::Up), 0.0, 1.0);
        if (view.height_m && !above)
            set(index(v, Part::Up), *view.height_m - kBeltHeight_m, kBeltHeight_u_m);
        std::optional<double> distance_m = view.distance_m;
        if (above && !distance_m && view.height_m)
            distance_m = *view.height_m - kBeltHeight_m;
        if (distance_m)
            set(index(v, Part::LogDistance), std::log(*distance_m), kToldDistance_m / *distance_m);
        else
            set(index(v, Part::LogDistance),
                std::log(above ? kUsualDistanceAbove_m : kUsualDistance_m), kLogDistance);
        if (view.focal_px)
            set(index(v, Part::LogFocal), std::log(*view.focal_px), kToldFocal);
        else
            set(index(v, Part::LogFocal), std::log(kFocalOfLongSide * view.size_px.maxCoeff()),
                kLogFocal);
        constexpr double kToldOffset_u_s = 0.004; // put right by eye, to a frame or so
        if (v > 0)
            set(offset_index(v), view.offset_s.value_or(0.0),
                view.offset_s ? kToldOffset_u_s : 10.0);
    }
    set(plane_index(Link::Arm), kArmPlane, kPlane_u);
    set(plane_index(Link::Club), kClubPlane, kPlane_u);
    for (Link link : kLinks) {
        const auto told = told_length(marks.lengths_m, link);
        length_told_[static_cast<std::size_t>(link)] = told.has_value();
        const UsualLength usual = usual_length(link, marks.club.value_or(ClubKind::Iron));
        if (told)
            set(length_index(link), std::log(*told), kToldLength);
        else
            set(length_index(link), std::log(usual.mean_m), usual.log_sd);
    }
}

Eigen::Index Bundle::index(std::size_t view, Part part) const {
    return kPerView * static_cast<Eigen::Index>(view) + static_cast<Eigen::Index>(part);
}

Eigen::Index Bundle::offset_index(std::size_t view) const {
    return kPerView * static_cast<Eigen::Index>(marks_.views.size()) +
           static_cast<Eigen::Index>(view) - 1;
}

Eigen::Index Bundle::length_index(Link link) const {
    return (kPerView + 1) * static_cast<Eigen::Index>(marks_.views.size()) - 1 +
           static_cast<Eigen::Index>(link);
}

Eigen::Index Bundle::plane_index(Link link) const {
    return length_index(Link::Club) + (link == Link::Arm ? 1 : 2);
}

double Bundle::offset_s(const Eigen::VectorXd& g, std::size_t view) const {
    return view == 0 ? 0.0 : g(offset_index(view));
}

double Bundle::length_m(const Eigen::VectorXd& g, Link link) const {
    return std::exp(g(length_index(link)));
}

Camera Bundle::camera(const Eigen::VectorXd& g, std::size_t view) const {
    const Eigen::Matrix3d nominal = nominal_axes(marks_.views[view].side);
    Camera out;
    const Eigen::Vector3d turned(g(index(view, Part::Pitch)), g(index(view, Part::Yaw)),
                                 g(index(view, Part::Roll)));
    const double angle = turned.norm();
    // The axes right, up, forward are left-handed; how the three are called does not matter here.
    const Eigen::Matrix3d off = angle > 0.0
                                    ? Eigen::AngleAxisd(angle, turned / angle).toRotationMatrix()
                                    : Eigen::Matrix3d(Eigen::Matrix3d::Identity());
    out.axes = off * nominal;
    const double distance_m = std::exp(g(index(view, Part::LogDistance)));
    out.at_m = nominal.transpose() *
               Eigen::Vector3d(g(index(view, Part::Right)), g(index(view, Part::Up)), -distance_m);
    out.focal_px = std::exp(g(index(view, Part::LogFocal)));
    out.centre_px = 0.5 * marks_.views[view].size_px;
    return out;
}

/// The points of one picture where they are taken to be.
struct Bundle::Placed {
    std::array<Eigen::Vector3d, kPoints> p;
    std::array<bool, kPoints> there{};

    explicit Placed(const Frame& frame) {
        for (std::size_t i = 0; i < frame.points.size(); ++i) {
            p[frame.points[i]] = frame.x.segment<3>(3 * static_cast<Eigen::Index>(i));
            there[frame.points[i]] = true;
        }
    }
    bool has(Point a) const { return there[static_cast<std::size_t>(a)]; }
    bool has_both(Point a, Point b) const { return has(a) && has(b); }
    const Eigen::Vector3d& at(Point a) const { return p[static_cast<std::size_t>(a)]; }
    Eigen::Vector3d between(Point a, Point b) const { return 0.5 * (at(a) + at(b)); }
};

/// How far marks lie from where the cameras see their points.
void Bundle::add_marks(const Eigen::VectorXd& g, const Frame& frame, const Placed& placed,
                       std::vector<double>& r) const {
    std::vector<Camera> cameras;
    for (std::size_t v = 0; v < tracks_.size(); ++v)
        cameras.push_back(camera(g, v));
    for (const auto& [v, point] : frame.seen) {
        if (trunk_alone_ && point > static_cast<std::size_t>(Point::ShoulderTrail))
            continue;
        const auto seen = tracks_[v][point].at(frame.t_s - offset_s(g, v));
        if (!seen) {
            r.insert(r.end(), {kFar, kFar});
            continue;
        }
        const Pixel off = cameras[v].see(placed.p[point]) - seen->at;
        const double sd = std::hypot(error_px_ * seen->noise, seen->bend_px);
        r.push_back(less_where_far(off.x() / sd));
        r.push_back(less_where_far(off.y() / sd));
    }
}

/// How far sticks, arm and club are from their lengths.
void Bundle::add_lengths(const Eigen::VectorXd& g, const Placed& placed,
                         std::vector<double>& r) const {
    for (Link link : kLinks) {
        const auto [from, to] = ends_of(link);
        const bool trunk = is_trunk(link);
        if (!placed.has_both(from, to) || (trunk_alone_ && !trunk))
            continue;
        const Eigen::Vector3d d = placed.at(to) - placed.at(from);
        if (!trunk && hidden_axis_ > 0)
            r.push_back((d.y() - g(plane_index(link)) * d.z()) / (kOffPlane * length_m(g, link)));
        const double gives_m = trunk ? (length_told(link) ? kStickGives_m : kLineGives_m)
                               : link == Link::Arm ? kArmGives_m
                                                   : kClubGives_m;
        // With a hidden axis the length says how far along it; then rough marks must not say that
        // the length is exceeded.
        const double rough_m =
            hidden_axis_ < 0
                ? 0.0
                : std::sqrt(2.0) * error_px_ *
                      std::exp(g(index(0, Part::LogDistance)) - g(index(0, Part::LogFocal)));
        r.push_back((d.norm() - length_m(g, link)) / std::hypot(gives_m, rough_m));
    }
}

/// Where no picture tells a place, a body does, roughly; the belt is where counting begins.
void Bundle::add_usual_body(const Eigen::VectorXd& g, const Placed& placed,
                            std::vector<double>& r) const {
    // Across the picture a body's usual shape would only bend the scale.
    const auto near = [&](const Eigen::Vector3d& off, double hidden_sd_m) {
        for (int i = 0; i < 3; ++i)
            r.push_back(off(i) / (i == hidden_axis_ ? hidden_sd_m : kAnywhere_m));
    };
    Eigen::Vector3d belt = Eigen::Vector3d::Zero();
    if (placed.has_both(Point::BeltLead, Point::BeltTrail)) {
        belt = placed.between(Point::BeltLead, Point::BeltTrail);
        near(belt, 0.12);
        if (hidden_axis_ == 2) // hips and shoulders stay level to some 15 degrees
            r.push_back((placed.at(Point::BeltLead) - placed.at(Point::BeltTrail)).z() /
                        (0.2 * length_m(g, Link::Belt)));
    }
    Eigen::Vector3d chest = belt + Eigen::Vector3d(0.0, -0.15, 0.45);
    if (placed.has_both(Point::ShoulderLead, Point::ShoulderTrail)) {
        const Eigen::Vector3d middle = placed.between(Point::ShoulderLead, Point::ShoulderTrail);
        near(middle - chest, 0.12);
        if (hidden_axis_ == 2)
            r.push_back((placed.at(Point::ShoulderLead) - placed.at(Point::ShoulderTrail)).z() /
                        (0.35 * length_m(g, Link::Shoulders)));
        chest = middle;
    }
    if (placed.has(Point::LeadShoulder))
        near(placed.at(Point::LeadShoulder) - chest, 0.2);
    if (placed.has(Point::Wrist))
        near(placed.at(Point::Wrist) - chest, 0.8);
    if (placed.has_both(Point::Grip, Point::Wrist)) {
        const Eigen::Vector3d off = placed.at(Point::Grip) - placed.at(Point::Wrist);
        for (int i = 0; i < 3; ++i)
            r.push_back(off(i) / 0.08);
    } else if (placed.has(Point::Grip)) {
        near(placed.at(Point::Grip) - chest, 0.8);
    }
    if (placed.has(Point::ClubHead))
        near(placed.at(Point::ClubHead) - chest, 2.0);
    for (Point other :
         {Point::LeadKnee, Point::LeadAnkle, Point::TrailKnee, Point::TrailAnkle, Point::Head})
        if (placed.has(other))
            near(placed.at(other) - belt, 0.5);
}

Eigen::VectorXd Bundle::residuals(const Eigen::VectorXd& g, const Frame& frame,
                                  Eigen::Index* of_marks) const {
    std::vector<double> r;
    r.reserve(96);
    const Placed placed(frame);
    add_marks(g, frame, placed, r);
    if (of_marks != nullptr)
        *of_marks = static_cast<Eigen::Index>(r.size());
    add_lengths(g, placed, r);
    add_usual_body(g, placed, r);
    return Eigen::Map<Eigen::VectorXd>(r.data(), static_cast<Eigen::Index>(r.size()));
}

Eigen::VectorXd Bundle::own_residuals(const Eigen::VectorXd& g) const {
    std::vector<double> r;
    for (Eigen::Index i = 0; i < g.size(); ++i)
        r.push_back((g(i) - given_.mean(i)) / given_.sd(i));
    if (held_.size() > 0) {
        constexpr double kHeld_rad = 1e-4;
        for (std::size_t v = 0; v < marks_.views.size(); ++v)
            for (Part part : {Part::Pitch, Part::Yaw, Part::Roll})
                r.push_back((g(index(v, part)) - held_(index(v, part))) / kHeld_rad);
    }
    for (const Scale& scale : scales_)
        r.push_back((g(index(scale.view, Part::LogFocal)) -
                     g(index(scale.view, Part::LogDistance)) - std::log(scale.px_per_m)) /
                    scale.log_sd);
    for (std::size_t v = 0; v < marks_.views.size(); ++v) {
        const View& view = marks_.views[v];
        const Camera cam = camera(g, v);
        const auto ray = [&](const Pixel& at) -> Eigen::Vector3d {
            const Pixel off = (at - cam.centre_px) / cam.focal_px;
            return cam.axes.transpose() * Eigen::Vector3d(off.x(), -off.y(), 1.0);
        };
        if (view.plumb_px && view.side != Side::Above) {
            const Pixel drawn = view.plumb_px->to - view.plumb_px->from;
            const Pixel middle = 0.5 * (view.plumb_px->to + view.plumb_px->from);
            const double distance_m = std::exp(g(index(v, Part::LogDistance)));
            const Eigen::Vector3d at = cam.at_m + distance_m * ray(middle);
            const Pixel upright =
                cam.see(at + Eigen::Vector3d(0, 0, 0.3)) - cam.see(at - Eigen::Vector3d(0, 0, 0.3));
            const double off = drawn.x() * upright.y() - drawn.y() * upright.x();
            r.push_back(off / (upright.norm() * error_px_ * std::sqrt(2.0)));
        }
        if (view.target_line_px) {
            const double ground_z = view.height_m ? cam.at_m.z() - *view.height_m : -kBeltHeight_m;
            const auto on_ground = [&](const Pixel& at) -> std::optional<Eigen::Vector3d> {
                const Eigen::Vector3d along = ray(at);
                if (along.z() > -0.02)
                    return std::nullopt; // the horizon and above
                return Eigen::Vector3d(cam.at_m + (ground_z - cam.at_m.z()) / along.z() * along);
            };
            const auto turn = [&](const Pixel& from, const Pixel& to) -> std::optional<double> {
                const auto a = on_ground(from);
                const auto b = on_ground(to);
                if (!a || !b || (*b - *a).norm() < 0.05)
                    return std::nullopt;
                const Eigen::Vector3d along = *b - *a;
                return std::atan(along.y() / along.x());
            };
            const Line& line = *view.target_line_px;
            const auto found = turn(line.from, line.to);
            if (found) {
                double variance = std::pow(rad_from_deg(0.3), 2); // how well a stick is laid
                for (int i = 0; i < 4; ++i) {
                    Line moved = line;
                    Pixel& end = i < 2 ? moved.from : moved.to;
                    end(i % 2) += error_px_;
                    if (const auto other = turn(moved.from, moved.to))
                        variance += std::pow(*other - *found, 2);
                }
                r.push_back(*found / std::sqrt(variance));
            } else {
                r.push_back(0.0);
            }
        }
        if (view.scale_px && view.scale_m > 0.0) {
            const double distance_m = std::exp(g(index(v, Part::LogDistance)));
            const double seen_m =
                (view.scale_px->to - view.scale_px->from).norm() * distance_m / cam.focal_px;
            // It may lie a little nearer or further than the golfer.
            const double sd = std::hypot(0.3 / distance_m, 0.01);
            r.push_back(std::log(seen_m / view.scale_m) / sd);
        }
    }
    return Eigen::Map<Eigen::VectorXd>(r.data(), static_cast<Eigen::Index>(r.size()));
}

namespace {

/// Derivatives of a function of a vector, by differences to both sides.
template <class Function>
Eigen::MatrixXd derivatives(const Function& of, Eigen::VectorXd at, double step) {
    Eigen::MatrixXd out;
    for (Eigen::Index i = 0; i < at.size(); ++i) {
        const double kept = at(i);
        at(i) = kept + step;
        const Eigen::VectorXd up = of(at);
        at(i) = kept - step;
        const Eigen::VectorXd down = of(at);
        at(i) = kept;
        if (i == 0)
            out.resize(up.size(), at.size());
        // Where a mark comes into reach or goes out of it there is no derivative.
        if (up.size() == out.rows() && down.size() == out.rows())
            out.col(i) = (up - down) / (2.0 * step);
        else
            out.col(i).setZero();
    }
    return out;
}

constexpr double kStep = 2e-5;

} // namespace

Eigen::MatrixXd Bundle::by_points(const Eigen::VectorXd& g, const Frame& frame) const {
    Frame moved = frame;
    return derivatives(
        [&](const Eigen::VectorXd& x) {
            moved.x = x;
            return residuals(g, moved);
        },
        frame.x, kStep);
}

Eigen::MatrixXd Bundle::by_shared(const Eigen::VectorXd& g, const Frame& frame) const {
    return derivatives([&](const Eigen::VectorXd& moved) { return residuals(moved, frame); }, g,
                       kStep);
}

Bundle::Normal Bundle::normal(const Eigen::VectorXd& g, const Frame& frame) const {
    const Eigen::VectorXd r = residuals(g, frame);
    const Eigen::MatrixXd x = by_points(g, frame);
    Eigen::MatrixXd s = by_shared(g, frame);
    if (s.rows() != r.size())
        s.setZero(r.size(), g.size());
    Normal out;
    out.points = x.transpose() * x;
    out.between = x.transpose() * s;
    out.shared = s.transpose() * s;
    out.pull_points = x.transpose() * r;
    out.pull_shared = s.transpose() * r;
    return out;
}

double Bundle::cost(const Eigen::VectorXd& g, const std::vector<Frame>& frames,
                    const std::vector<std::size_t>& which) const {
    double out = own_residuals(g).squaredNorm();
    for (std::size_t i : which)
        out += residuals(g, frames[i]).squaredNorm();
    return out;
}

Eigen::VectorXd Bundle::solve(Eigen::VectorXd g, const std::vector<std::size_t>& which) {
    double damping = 1e-3;
    double now = cost(g, frames_, which);
    constexpr int kRounds = 60;
    for (int round = 0; round < kRounds; ++round) {
        std::vector<Normal> normals;
        normals.reserve(which.size());
        for (std::size_t i : which)
            normals.push_back(normal(g, frames_[i]));
        const Eigen::VectorXd own = own_residuals(g);
        const Eigen::MatrixXd own_by =
            derivatives([&](const Eigen::VectorXd& at) { return own_residuals(at); }, g, kStep);
        bool better = false;
        double gained = 0.0;
        while (!better && damping < 1e8) {
            Eigen::MatrixXd H = own_by.transpose() * own_by;
            Eigen::VectorXd b = own_by.transpose() * own;
            std::vector<Eigen::LDLT<Eigen::MatrixXd>> solved;
            solved.reserve(normals.size());
            for (const Normal& n : normals) {
                Eigen::MatrixXd A = n.points;
                A.diagonal() *= 1.0 + damping;
                solved.emplace_back(A);
                const Eigen::MatrixXd across = solved.back().solve(n.between);
                H += n.shared - n.between.transpose() * across;
                b += n.pull_shared - across.transpose() * n.pull_points;
            }
            Eigen::MatrixXd damped = H;
            damped.diagonal() *= 1.0 + damping;
            const Eigen::VectorXd step = -damped.ldlt().solve(b);
            std::vector<Frame> moved = frames_;
            for (std::size_t k = 0; k < which.size(); ++k)
                moved[which[k]].x -=
                    solved[k].solve(normals[k].pull_points + normals[k].between * step);
            const Eigen::VectorXd there = g + step;
            const double then = cost(there, moved, which);
            if (std::isfinite(then) && then < now) {
                gained = now - then;
                g = there;
                frames_ = std::move(moved);
                now = then;
                better = true;
                damping = std::max(damping * 0.2, 1e-9);
            } else {
                damping *= 8.0;
            }
        }
        if (!better || gained < 1e-5 * (1.0 + now))
            break;
    }
    return g;
}

void Bundle::solve_points(const Eigen::VectorXd& g, Frame& frame) const {
    double damping = 1e-3;
    Eigen::VectorXd r = residuals(g, frame);
    constexpr int kRounds = 30;
    for (int round = 0; round < kRounds && damping < 1e8; ++round) {
        const Eigen::MatrixXd J = by_points(g, frame);
        Eigen::MatrixXd A = J.transpose() * J;
        A.diagonal() *= 1.0 + damping;
        Frame moved = frame;
        moved.x -= A.ldlt().solve(J.transpose() * r);
        const Eigen::VectorXd then = residuals(g, moved);
        const double gained = r.squaredNorm() - then.squaredNorm();
        if (std::isfinite(gained) && gained >= 0.0) {
            frame = std::move(moved);
            r = then;
            damping = std::max(damping * 0.1, 1e-9);
            if (gained < 1e-6 * (1.0 + r.squaredNorm()))
                break;
        } else {
            damping *= 10.0;
        }
    }
}

Eigen::MatrixXd Bundle::covariance(const Eigen::VectorXd& g,
                                   const std::vector<std::size_t>& which) const {
    const Eigen::MatrixXd own =
        derivatives([&](const Eigen::VectorXd& at) { return own_residuals(at); }, g, kStep);
    Eigen::MatrixXd H = own.transpose() * own;
    for (std::size_t i : which) {
        const Normal n = normal(g, frames_[i]);
        H += n.shared - n.between.transpose() * n.points.ldlt().solve(n.between);
    }
    return H.ldlt().solve(Eigen::MatrixXd::Identity(H.rows(), H.cols()));
}

std::pair<double, double> Bundle::misfit(const Eigen::VectorXd& g,
                                         const std::vector<std::size_t>& which) const {
    double sum = 0.0;
    double more = 0.0;
    for (std::size_t i : which) {
        const Frame& frame = frames_[i];
        Eigen::Index of_marks = 0;
        const Eigen::VectorXd r = residuals(g, frame, &of_marks);
        const Eigen::MatrixXd J = by_points(g, frame);
        const Eigen::MatrixXd spread =
            (J.transpose() * J).ldlt().solve(Eigen::MatrixXd(J.topRows(of_marks).transpose()));
        for (Eigen::Index k = 0; k < of_marks; ++k) {
            sum += r(k) * r(k);
            more += 1.0 - J.row(k).dot(spread.col(k));
        }
    }
    return {sum, more};
}

} // namespace kite::film
