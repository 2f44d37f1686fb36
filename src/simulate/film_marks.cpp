#include "simulate/film_marks.h"

#include "simulate/lens.h"
#include "simulate/truth.h"

#include <cmath>

namespace kite::simulate {

namespace {

using Eigen::Vector2d;
using Eigen::Vector3d;

/// Frames that are marked, by their number.
std::vector<int> marked_frames(const FilmCamera& camera, const FilmTimes& times,
                               bool downswing_alone) {
    std::vector<int> out;
    const auto number = [&](double t_s) {
        return static_cast<int>(std::lround((t_s - camera.starts_s) * camera.rate_hz));
    };
    const int dense = number(times.top_s - 0.15);
    if (!downswing_alone) {
        const int first = std::max(0, number(times.takeaway_s - 0.12));
        for (int i = 0; i < 5; ++i)
            out.push_back(first + i);
        constexpr int kOfBackswing = 8;
        for (int i = 1; i <= kOfBackswing; ++i) {
            const int frame = out[4] + (dense - out[4]) * i / (kOfBackswing + 1);
            if (frame > out.back())
                out.push_back(frame);
        }
    }
    for (int i = out.empty() ? dense : std::max(dense, out.back() + 1);
         i <= number(std::min(times.impact_s + 0.12, times.end_s)); ++i)
        out.push_back(i);
    return out;
}

} // namespace

FilmSetup usual_phones(const std::vector<film::Side>& sides, double rate_hz) {
    FilmSetup out;
    for (film::Side side : sides) {
        FilmCamera camera;
        camera.side = side;
        camera.rate_hz = rate_hz;
        camera.distance_m = side == film::Side::Above ? 3.0 : 4.2;
        camera.focal_px = 430.0 * camera.distance_m;
        camera.beside_deg = side == film::Side::FaceOn ? 1.5 : -1.0;
        camera.starts_s = -0.137 * static_cast<double>(out.cameras.size());
        out.cameras.push_back(camera);
    }
    return out;
}

film::Marks mark_film(const SwingModel& model, const FilmSetup& setup) {
    return mark_film(points_of(model, setup), times_of(model), model.parameters().handed,
                     model.parameters().club, setup);
}

film::Marks mark_film(const PlaceOf& place_of, const FilmTimes& times, Handedness handed,
                      ClubKind club, const FilmSetup& setup) {
    std::mt19937 random(setup.seed);
    std::normal_distribution<double> normal;
    std::uniform_real_distribution<double> uniform;
    film::Marks out;
    out.handed = handed;
    out.club = club;
    if (setup.tells_sticks) {
        out.lengths_m.belt_stick = setup.belt_stick_m;
        out.lengths_m.shoulder_stick = setup.shoulder_stick_m;
    }
    if (setup.tells_arm_and_club) {
        const double t_s = times.impact_s;
        const auto apart = [&](film::Point a, film::Point b) {
            return (place_of(a, t_s) - place_of(b, t_s)).norm();
        };
        out.lengths_m.arm = apart(film::Point::LeadShoulder, film::Point::Wrist);
        out.lengths_m.club = apart(film::Point::Grip, film::Point::ClubHead);
    }
    out.mark_error_px = setup.mark_error_px;
    for (const FilmCamera& camera : setup.cameras) {
        const Lens lens(camera);
        film::View view;
        view.side = camera.side;
        view.size_px = camera.size_px;
        view.capture_rate_hz = camera.rate_hz;
        const auto rough = [&](const Vector2d& at) -> film::Pixel {
            return at + setup.mark_error_px * Vector2d(normal(random), normal(random));
        };
        if (camera.tells_camera) {
            view.distance_m = camera.distance_m - setup.tells_nearer_m;
            if (camera.side != film::Side::Above)
                view.height_m = camera.height_m;
            view.focal_px = camera.focal_px;
        }
        if (camera.tells_lines) {
            const double y = -0.75; // through the ball
            view.target_line_px =
                film::Line{rough(lens.see({-0.6, y, 0.0})), rough(lens.see({0.6, y, 0.0}))};
            if (camera.side != film::Side::Above)
                view.plumb_px =
                    film::Line{rough(lens.see({0.4, 0.3, 0.2})), rough(lens.see({0.4, 0.3, 1.8}))};
        }
        for (int number : marked_frames(camera, times, setup.downswing_alone)) {
            film::MarkedFrame frame;
            frame.t_s = number / camera.rate_hz;
            const double at_s = camera.starts_s + frame.t_s;
            for (std::size_t p = 0; p < (setup.marks_legs ? 12U : 8U); ++p) {
                const double streak_s = camera.blur_s * (uniform(random) - 0.5);
                const film::Pixel seen =
                    rough(lens.see(place_of(static_cast<film::Point>(p), at_s + streak_s)));
                if (uniform(random) >= setup.skipped_share)
                    frame.at[p] = seen;
            }
            view.frames.push_back(frame);
        }
        if (setup.tells_impact) {
            const auto nearest = [&](double t_s) {
                return std::round((t_s - camera.starts_s) * camera.rate_hz) / camera.rate_hz;
            };
            if (!setup.downswing_alone)
                view.moments_s[Moment::Address] = view.frames[2].t_s;
            view.moments_s[Moment::Top] = nearest(times.top_s);
            view.moments_s[Moment::Impact] = nearest(times.impact_s);
        }
        out.views.push_back(std::move(view));
    }
    if (handed == Handedness::Left)
        film::mirror_in_place(out);
    return out;
}

PlaceOf points_of(const SwingModel& model, const FilmSetup& setup) {
    return [&model, setup](film::Point point, double t_s) -> Vector3d {
        const auto on = [&](Segment segment, double across_m, double ahead_m) {
            const SwingModel::Pose pose = model.pose(segment, t_s);
            return Vector3d(pose.p_lab_m + pose.q_lab_segment * Vector3d(across_m, -ahead_m, 0.0));
        };
        constexpr double kBeltAhead_m = 0.12;
        constexpr double kChestAhead_m = 0.08;
        switch (point) {
        case film::Point::BeltLead:
            return on(Segment::Pelvis, 0.5 * setup.belt_stick_m, kBeltAhead_m);
        case film::Point::BeltTrail:
            return on(Segment::Pelvis, -0.5 * setup.belt_stick_m, kBeltAhead_m);
        case film::Point::ShoulderLead:
            return on(Segment::Torso, 0.5 * setup.shoulder_stick_m, kChestAhead_m);
        case film::Point::ShoulderTrail:
            return on(Segment::Torso, -0.5 * setup.shoulder_stick_m, kChestAhead_m);
        case film::Point::LeadShoulder:
            return model.pose(Segment::LeadArm, t_s).p_lab_m;
        case film::Point::Wrist: {
            const SwingModel::Pose arm = model.pose(Segment::LeadArm, t_s);
            return arm.p_lab_m -
                   model.parameters().arm_length_m * (arm.q_lab_segment * Vector3d::UnitZ());
        }
        case film::Point::Grip:
            return model.pose(Segment::Club, t_s).p_lab_m;
        case film::Point::ClubHead:
            return model.head_m(t_s);
        case film::Point::LeadKnee:
            return model.knee_m(true, t_s);
        case film::Point::LeadAnkle:
            return model.ankle_m(true, t_s);
        case film::Point::TrailKnee:
            return model.knee_m(false, t_s);
        case film::Point::TrailAnkle:
            return model.ankle_m(false, t_s);
        case film::Point::Head:
            break;
        }
        return on(Segment::Torso, 0.0, 0.05) + Vector3d(0.0, -0.05, 0.22);
    };
}

FilmTimes times_of(const SwingModel& model) {
    const Truth truth = calc_truth(model);
    return {model.takeaway_s(), truth.moments_s.at(Moment::Top), model.impact_s(),
            model.duration_s()};
}

} // namespace kite::simulate
