#include "study/recipes.h"

#include "core/base/units.h"
#include "core/motion/rotation.h"
#include "formats/c3d/c3d.h"
#include "formats/pose_csv/pose_csv.h"
#include "formats/text/numbers.h"
#include "formats/trc/trc.h"

#include <algorithm>
#include <cmath>
#include <initializer_list>

namespace kite::study {

using Eigen::Quaterniond;
using Eigen::Vector3d;
using Track = std::vector<Vector3d>;
using Random = std::mt19937;

namespace {

double uniform(Random& random, double low, double high) {
    return std::uniform_real_distribution<double>(low, high)(random);
}
double sign(Random& random) {
    return uniform(random, 0.0, 1.0) < 0.5 ? -1.0 : 1.0;
}

constexpr std::array<double, 4> kRates{120.0, 200.0, 240.0, 360.0};

/// A motion with its markers, about to be spoilt.
struct Scene {
    Golfer golfer;
    Motion motion;
    MotionTruth truth;
    MarkerTake markers;

    Scene(const Golfer& g, Random& random, double rate_hz = 0.0, double noise_mm = 0.0)
        : golfer(g), motion(g), truth(truth_of(motion)),
          markers(capture_markers(motion, rate_hz > 0.0 ? rate_hz : kRates[random() % 4],
                                  noise_mm > 0.0 ? noise_mm : uniform(random, 0.2, 0.8), g.seed)) {
        markers.handed_said = false;
        markers.club_said = true;
    }
    std::size_t frame(double t_s) const {
        return static_cast<std::size_t>(std::clamp(std::round(t_s * markers.rate_hz), 0.0,
                                                   static_cast<double>(markers.frames - 1)));
    }
    /// Labels of the lead side are those of the left for a right-hander.
    std::string side(const std::string& label) const {
        if (golfer.handed == Handedness::Right || label.rfind("CLB", 0) == 0 || label == "CLAV")
            return label;
        std::string out = label;
        if (out.front() == 'L')
            out.front() = 'R';
        else if (out.front() == 'R')
            out.front() = 'L';
        return out;
    }
    Track& track(const std::string& label) { return *markers.find(side(label)); }
    void hide(std::initializer_list<const char*> labels, double from_s, double to_s) {
        for (const char* label : labels)
            for (std::size_t i = frame(from_s); i <= frame(to_s); ++i)
                track(label)[i] = missing_point();
    }
    void exchange(const char* a, const char* b, double from_s, double to_s) {
        for (std::size_t i = frame(from_s); i <= frame(to_s); ++i)
            std::swap(track(a)[i], track(b)[i]);
    }
    double peak_s(Segment segment) const { return truth.parts[index_of(segment)].peak_s; }
    double impact_s() const { return motion.impact_s(); }
    double top_s() const { return truth.moments_s.at(Moment::Top); }
};

const std::initializer_list<const char*> kPelvis{"LASI", "RASI", "LPSI", "RPSI"};
const std::initializer_list<const char*> kTorso{"C7", "T10", "CLAV", "STRN"};
const std::initializer_list<const char*> kClub{"CLB1", "CLB2", "CLB3"};
const std::initializer_list<const char*> kHead{"CLB3"};
const std::initializer_list<const char*> kWrists{"LWRA", "LWRB", "RWRA", "RWRB"};
const std::initializer_list<const char*> kArmAndClub{"CLB1", "CLB2", "CLB3", "LSHO",
                                                     "LELB", "LWRA", "LWRB"};
const std::initializer_list<const char*> kFront{"LASI", "RASI", "CLAV", "STRN"};
const std::initializer_list<const char*> kBack{"LPSI", "RPSI", "C7", "T10"};

Capture as_c3d(const MarkerTake& markers) {
    Capture out;
    out.name = "capture.c3d";
    out.bytes = formats::write_c3d(markers).value;
    return out;
}

/// The lab turned about the vertical: the target lies `deg` from x afterwards.
void turn(MarkerTake& markers, double deg) {
    const Quaterniond q(Eigen::AngleAxisd(rad_from_deg(deg), Vector3d::UnitZ()));
    for (Track& track : markers.tracks_m)
        for (Vector3d& p : track)
            p = q * p;
}

/// Lab frame to y up.
void lay_down(MarkerTake& markers) {
    for (Track& track : markers.tracks_m)
        for (Vector3d& p : track)
            p = Vector3d(p.x(), p.z(), -p.y());
    markers.up_axis = SignedAxis{1, +1};
}

/// Still frames put before the take, moved by `move` (a rotation about the vertical and a shift)
/// and brought to where the golfer stands within a second.
void step_in(MarkerTake& markers, double still_s, double yaw_deg, const Vector3d& shift,
             Random& random) {
    const auto still = static_cast<std::size_t>(still_s * markers.rate_hz);
    const auto walk = static_cast<std::size_t>(markers.rate_hz);
    std::normal_distribution<double> noise(0.0, 0.0004);
    for (Track& track : markers.tracks_m) {
        Track before;
        for (std::size_t i = 0; i < still + walk; ++i) {
            const double u =
                i < still ? 0.0 : static_cast<double>(i - still) / static_cast<double>(walk);
            const double left = 0.5 * (1.0 + std::cos(kPi * u)); // 1 to 0
            const Quaterniond q(Eigen::AngleAxisd(rad_from_deg(yaw_deg * left), Vector3d::UnitZ()));
            before.push_back(q * track.front() + left * shift +
                             Vector3d(noise(random), noise(random), noise(random)));
        }
        track.insert(track.begin(), before.begin(), before.end());
    }
    markers.frames += still + walk;
}

/// The last frame held for a while.
void hold_finish(MarkerTake& markers, double s, Random& random) {
    const auto frames = static_cast<std::size_t>(s * markers.rate_hz);
    std::normal_distribution<double> noise(0.0, 0.0003);
    for (Track& track : markers.tracks_m) {
        const Vector3d last = track.back();
        for (std::size_t i = 0; i < frames; ++i)
            track.push_back(last + Vector3d(noise(random), noise(random), noise(random)));
    }
    markers.frames += frames;
}

/// Markers of one motion after those of another, which fade into each other.
MarkerTake joined(const MarkerTake& first, const MarkerTake& second) {
    MarkerTake out = second;
    const auto fade = static_cast<std::size_t>(0.8 * second.rate_hz);
    for (std::size_t k = 0; k < out.tracks_m.size(); ++k) {
        Track track = first.tracks_m[k];
        const Vector3d from = track.back();
        const Vector3d to = second.tracks_m[k].front();
        for (std::size_t i = 1; i <= fade; ++i) {
            const double u = static_cast<double>(i) / static_cast<double>(fade);
            track.push_back(from + 0.5 * (1.0 - std::cos(kPi * u)) * (to - from));
        }
        track.insert(track.end(), second.tracks_m[k].begin(), second.tracks_m[k].end());
        out.tracks_m[k] = std::move(track);
    }
    out.frames = out.tracks_m.front().size();
    return out;
}

/// A column of text with its values.
struct Column {
    std::string name;
    std::vector<double> values;
};

std::string table(const std::vector<std::string>& comments, const std::vector<Column>& columns,
                  int decimals = 7) {
    std::string out;
    for (const std::string& comment : comments)
        out += "# " + comment + "\n";
    for (std::size_t k = 0; k < columns.size(); ++k)
        out += (k == 0 ? "" : ",") + columns[k].name;
    out += "\n";
    for (std::size_t i = 0; i < columns.front().values.size(); ++i) {
        for (std::size_t k = 0; k < columns.size(); ++k) {
            const double value = columns[k].values[i];
            out += (k == 0 ? "" : ",") +
                   (std::isfinite(value) ? fixed(value, decimals) : std::string());
        }
        out += "\n";
    }
    return out;
}

/// Poses in the lab as measured, as columns.
std::vector<Column> pose_columns(const Take& right_handed, double length_factor = 1.0) {
    Take take = right_handed;
    if (take.handed == Handedness::Left)
        mirror_in_place(take);
    std::vector<Column> out{{"time_s", {}}};
    for (std::size_t i = 0; i < take.frames; ++i)
        out[0].values.push_back(take.time_of(i));
    for (const auto& [segment, series] : take.segments) {
        const std::string key(key_of(segment));
        std::vector<Column> q{
            {key + "_qw", {}}, {key + "_qx", {}}, {key + "_qy", {}}, {key + "_qz", {}}};
        std::vector<Column> p{{key + "_x_m", {}}, {key + "_y_m", {}}, {key + "_z_m", {}}};
        for (std::size_t i = 0; i < take.frames; ++i) {
            const Quaterniond& r = series.q_lab_segment[i];
            q[0].values.push_back(r.w());
            q[1].values.push_back(r.x());
            q[2].values.push_back(r.y());
            q[3].values.push_back(r.z());
            for (int k = 0; k < 3; ++k)
                p[static_cast<std::size_t>(k)].values.push_back(length_factor *
                                                                series.p_lab_m[i](k));
        }
        out.insert(out.end(), q.begin(), q.end());
        out.insert(out.end(), p.begin(), p.end());
    }
    for (const auto& [point, track] : take.points_lab_m) {
        const std::string key(key_of(point));
        for (int k = 0; k < 3; ++k) {
            Column column{key + (k == 0 ? "_x_m" : k == 1 ? "_y_m" : "_z_m"), {}};
            for (const Vector3d& v : track)
                column.values.push_back(length_factor * v(k));
            out.push_back(std::move(column));
        }
    }
    return out;
}

std::vector<std::string> pose_comments(const Take& take, bool say_hand = true) {
    std::vector<std::string> out{"kite-hinge: pose 1"};
    if (say_hand)
        out.push_back("handed: " + std::string(key_of(take.handed)));
    out.push_back("club: " + std::string(key_of(take.club)));
    out.push_back("arm_length_m: " + fixed(*take.arm_length_m, 4));
    out.push_back("club_length_m: " + fixed(*take.club_length_m, 4));
    out.push_back("hip_joint_width_m: " + fixed(*take.hip_joint_width_m, 4));
    return out;
}

Capture csv(std::string bytes) {
    Capture out;
    out.name = "capture.csv";
    out.bytes = std::move(bytes);
    return out;
}

/// For pose sources the head is on the shaft's line.
void head_on_shaft(Golfer& golfer, Random&) {
    golfer.body.head_off_shaft_m = 0.0;
}

Take poses(const Golfer& golfer, Random& random) {
    const Motion motion(golfer);
    return capture_poses(motion, kRates[random() % 4], 0.1, 0.5, golfer.seed);
}

/// Rates of the four parts, sampled; the sign of the downswing positive.
std::vector<Column> rate_columns(const Golfer& golfer, double rate_hz, Random& random) {
    const Motion motion(golfer);
    const auto frames = static_cast<std::size_t>(motion.end_s() * rate_hz);
    const MotionTruth truth = truth_of(motion);
    std::normal_distribution<double> noise(0.0, 1.5);
    std::vector<Column> out{{"time_s", {}}};
    for (std::size_t i = 0; i < frames; ++i)
        out[0].values.push_back(static_cast<double>(i) / rate_hz);
    Vector3d n = Vector3d::Zero();
    {
        const double t = motion.impact_s() - 0.02;
        const Quaterniond step = motion.club(t).q * motion.club(t - 1e-4).q.conjugate();
        n = log_of(step).normalized();
    }
    for (Segment segment : kSequence) {
        Column column{std::string(key_of(segment)) + "_rate_deg_s", {}};
        for (std::size_t i = 0; i < frames; ++i) {
            const double t = static_cast<double>(i) / rate_hz;
            const double h = 2e-5;
            const bool before = t <= motion.impact_s();
            const Vector3d w = log_of(motion.pose(segment, before ? t : t + h).q *
                                      motion.pose(segment, before ? t - h : t).q.conjugate()) /
                               h;
            const Vector3d z = motion.pose(segment, t).q * Vector3d::UnitZ();
            double rate = w.dot(z);
            if (segment == Segment::LeadArm || segment == Segment::Club) {
                const Vector3d across = w - w.dot(z) * z;
                rate = std::copysign(across.norm(), across.dot(n));
            }
            column.values.push_back(deg_from_rad(rate) + noise(random));
        }
        out.push_back(std::move(column));
    }
    return out;
}

/// Inertial sensors in the segments' axes.
struct SensorSet {
    double rate_hz = 240.0;
    std::vector<Column> columns;
};
SensorSet sensors(const Golfer& golfer, Random& random, double gyro_factor = 1.0,
                  double force_factor = 1.0, double range_dps = 1e9) {
    const Motion motion(golfer);
    SensorSet out;
    out.rate_hz = 240.0;
    const auto frames = static_cast<std::size_t>(motion.end_s() * out.rate_hz);
    std::normal_distribution<double> noise(0.0, 0.1);
    out.columns.push_back({"time_s", {}});
    for (std::size_t i = 0; i < frames; ++i)
        out.columns[0].values.push_back(static_cast<double>(i) / out.rate_hz);
    const bool left = golfer.handed == Handedness::Left;
    for (Segment segment : kSequence) {
        const std::string key(key_of(segment));
        std::vector<Column> g{{key + "_gx_dps", {}}, {key + "_gy_dps", {}}, {key + "_gz_dps", {}}};
        std::vector<Column> a{{key + "_ax_g", {}}, {key + "_ay_g", {}}, {key + "_az_g", {}}};
        const Vector3d bias(uniform(random, -0.8, 0.8), uniform(random, -0.8, 0.8),
                            uniform(random, -0.8, 0.8));
        for (std::size_t i = 0; i < frames; ++i) {
            const double t = static_cast<double>(i) / out.rate_hz;
            const double h = 1e-4;
            Quaterniond q0 = motion.pose(segment, t - h).q;
            Quaterniond q1 = motion.pose(segment, t + h).q;
            Quaterniond q = motion.pose(segment, t).q;
            if (left) {
                q0 = mirrored(q0);
                q1 = mirrored(q1);
                q = mirrored(q);
            }
            const Vector3d w = q.conjugate() * Vector3d(log_of(q1 * q0.conjugate()) / (2.0 * h));
            const Vector3d up = q.conjugate() * Vector3d::UnitZ();
            for (std::size_t k = 0; k < 3; ++k) {
                const auto axis = static_cast<Eigen::Index>(k);
                const double dps = std::clamp(deg_from_rad(w(axis)) + bias(axis) + noise(random),
                                              -range_dps, range_dps);
                g[k].values.push_back(gyro_factor * dps);
                a[k].values.push_back(force_factor * (up(axis) + 0.003 * noise(random)));
            }
        }
        out.columns.insert(out.columns.end(), g.begin(), g.end());
        out.columns.insert(out.columns.end(), a.begin(), a.end());
    }
    return out;
}

std::vector<std::string> hand_comment(const Golfer& golfer) {
    return {"handed: " + std::string(key_of(golfer.handed))};
}

using Make = std::function<Capture(const Golfer&, Random&)>;

/// A marker recipe: spoil the scene, write a C3D.
Make spoilt(const std::function<void(Scene&, Random&)>& spoil, double rate_hz = 0.0,
            double noise_mm = 0.0) {
    return [=](const Golfer& golfer, Random& random) {
        Scene scene(golfer, random, rate_hz, noise_mm);
        spoil(scene, random);
        return as_c3d(scene.markers);
    };
}

std::vector<Recipe> make_recipes() {
    std::vector<Recipe> all;
    const auto add = [&](const char* group, const char* name, bool tellable, Make make,
                         std::function<void(Golfer&, Random&)> prepare = {},
                         double turn_allowed_deg = 0.0) {
        all.push_back(
            {group, name, tellable, std::move(make), std::move(prepare), turn_allowed_deg});
    };
    const auto right_handed = [](Golfer& g, Random&) { g.handed = Handedness::Right; };
    const auto left_handed = [](Golfer& g, Random&) { g.handed = Handedness::Left; };

    // Axes, target line, hand.
    add("axes", "clean", true, spoilt([](Scene&, Random&) {}));
    add("axes", "y up", true, spoilt([](Scene& s, Random&) { lay_down(s.markers); }));
    add("axes", "y up, file says z", true, spoilt([](Scene& s, Random&) {
            lay_down(s.markers);
            s.markers.up_axis = SignedAxis{2, +1};
        }));
    for (double deg : {90.0, 180.0, -90.0})
        add("axes",
            deg > 100 ? "lab turned 180°"
            : deg > 0 ? "lab turned 90°"
                      : "lab turned -90°",
            true, spoilt([deg](Scene& s, Random&) { turn(s.markers, deg); }));
    add("axes", "target line 12 to 40° off", true,
        spoilt([](Scene& s, Random& r) { turn(s.markers, sign(r) * uniform(r, 12.0, 40.0)); }), {},
        9.0);
    add("axes", "quarter turn and 15 to 30° more", true, spoilt([](Scene& s, Random& r) {
            turn(s.markers, 90.0 + sign(r) * uniform(r, 15.0, 30.0));
        }),
        {}, 9.0);
    add("axes", "finish held for 2 s", true, spoilt([](Scene& s, Random& r) {
            hold_finish(s.markers, 2.0, r);
            turn(s.markers, 90.0 * static_cast<double>(r() % 4));
        }));
    add("address", "stands beside the ball first", true, [](const Golfer& golfer, Random& random) {
        Scene s(golfer, random);
        step_in(s.markers, uniform(random, 0.6, 1.6), uniform(random, -50.0, 50.0),
                {uniform(random, -0.4, 0.1), golfer.handed == Handedness::Left ? -0.45 : 0.45, 0.0},
                random);
        Capture out = as_c3d(s.markers);
        out.shift_s =
            static_cast<double>(s.markers.frames -
                                Scene(golfer, random, s.markers.rate_hz, 0.3).markers.frames) /
            s.markers.rate_hz;
        return out;
    });
    add("hand", "left-hander, nobody says", true, spoilt([](Scene&, Random&) {}), left_handed);
    add("hand", "right-hander told left", true, spoilt([](Scene& s, Random&) {
            s.markers.handed = Handedness::Left;
            s.markers.handed_said = true;
        }),
        right_handed);
    add("hand", "left-hander told right", true, spoilt([](Scene& s, Random&) {
            s.markers.handed = Handedness::Right;
            s.markers.handed_said = true;
        }),
        left_handed);

    // Gaps.
    const auto about = [](double t, double length, Random& r) {
        const double off = uniform(r, 0.3, 0.7) * length;
        return TimeRange{t - off, t - off + length};
    };
    for (const auto& [ms, tellable] :
         {std::pair(35.0, true), std::pair(60.0, false), std::pair(120.0, false)}) {
        const double s_length = ms / 1000.0;
        const std::string text = std::to_string(static_cast<int>(ms)) + " ms";
        for (const auto& [part, markers, name] : {std::tuple(Segment::Pelvis, kPelvis, "pelvis"),
                                                  std::tuple(Segment::Torso, kTorso, "torso")})
            all.push_back({"gaps",
                           std::string(name) + " hidden " + text + " at its peak",
                           tellable,
                           spoilt([=](Scene& s, Random& r) {
                               const TimeRange t = about(s.peak_s(part), s_length, r);
                               s.hide(markers, t.begin_s, t.end_s);
                           }),
                           {},
                           0.0});
    }
    add("gaps", "pelvis hidden 80 ms at its reversal", false, spoilt([=](Scene& s, Random& r) {
            const TimeRange t = about(s.truth.parts[0].reversal_s, 0.08, r);
            s.hide(kPelvis, t.begin_s, t.end_s);
        }));
    add("gaps", "pelvis hidden just beside its peak", true, spoilt([](Scene& s, Random& r) {
            const double from = s.peak_s(Segment::Pelvis) + sign(r) * uniform(r, 0.02, 0.03);
            const bool after = from > s.peak_s(Segment::Pelvis);
            s.hide(kPelvis, after ? from : from - 0.09, after ? from + 0.09 : from);
        }));
    add("gaps", "wrist hidden 80 ms at the top", false, spoilt([=](Scene& s, Random& r) {
            const TimeRange t = about(s.top_s(), 0.08, r);
            s.hide({"LWRA", "LWRB"}, t.begin_s, t.end_s);
        }));
    add("gaps", "wrist hidden 150 ms in transition", false, spoilt([=](Scene& s, Random& r) {
            const TimeRange t = about(s.truth.parts[2].reversal_s, 0.15, r);
            s.hide({"LWRA", "LWRB"}, t.begin_s, t.end_s);
        }));
    add("gaps", "shoulder hidden 80 ms in the downswing", false, spoilt([=](Scene& s, Random& r) {
            const TimeRange t = about(s.peak_s(Segment::LeadArm), 0.08, r);
            s.hide({"LSHO"}, t.begin_s, t.end_s);
        }));
    add("gaps", "club hidden 60 ms over impact", false, spoilt([=](Scene& s, Random& r) {
            const TimeRange t = about(s.impact_s(), 0.06, r);
            s.hide(kClub, t.begin_s, t.end_s);
        }));
    add("gaps", "club hidden 30 ms over impact", false, spoilt([=](Scene& s, Random& r) {
            const TimeRange t = about(s.impact_s(), 0.03, r);
            s.hide(kClub, t.begin_s, t.end_s);
        }));
    add("gaps", "club hidden through the backswing", false,
        spoilt([](Scene& s, Random&) { s.hide(kClub, s.golfer.still_s + 0.1, s.top_s() - 0.05); }));
    add("gaps", "club hidden over the top", false, spoilt([=](Scene& s, Random& r) {
            const TimeRange t = about(s.top_s(), 0.12, r);
            s.hide(kClub, t.begin_s, t.end_s);
        }));
    for (const char* label : {"CLB1", "CLB2", "CLB3"})
        all.push_back({"gaps",
                       std::string(label) + " hidden 100 ms over impact",
                       true,
                       spoilt([=](Scene& s, Random& r) {
                           const TimeRange t = about(s.impact_s(), 0.1, r);
                           s.hide({label}, t.begin_s, t.end_s);
                       }),
                       {},
                       0.0});
    add("gaps", "one pelvis marker hidden at address", true, spoilt([](Scene& s, Random& r) {
            const char* const labels[] = {"LASI", "RASI", "LPSI", "RPSI"};
            s.hide({labels[r() % 4]}, 0.0, s.golfer.still_s + uniform(r, 0.0, 0.2));
        }));
    add("gaps", "one torso marker hidden at address", true, spoilt([](Scene& s, Random& r) {
            const char* const labels[] = {"C7", "T10", "CLAV", "STRN"};
            s.hide({labels[r() % 4]}, 0.0, s.golfer.still_s + uniform(r, 0.0, 0.2));
        }));
    add("gaps", "pelvis hidden at address", false,
        spoilt([](Scene& s, Random&) { s.hide(kPelvis, 0.0, s.golfer.still_s); }));
    for (const auto& [name, markers] :
         {std::pair("club", kClub), std::pair("club head", kHead),
          std::pair("club and lead arm", kArmAndClub), std::pair("wrists", kWrists),
          std::pair("front of the trunk", kFront), std::pair("back of the trunk", kBack)})
        all.push_back({"gaps",
                       std::string(name) + " hidden for long anywhere",
                       false,
                       spoilt([=](Scene& s, Random& r) {
                           const double from_s = uniform(r, 0.0, s.impact_s() + 0.3);
                           s.hide(markers, from_s, from_s + uniform(r, 0.2, 2.5));
                       }),
                       {},
                       0.0});
    add("gaps", "club seen in the backswing alone", false, spoilt([](Scene& s, Random& r) {
            s.hide(kClub, s.impact_s() - uniform(r, 0.3, 0.9), s.motion.end_s());
        }));
    add("gaps", "one marker of each trunk part hidden in the downswing", true,
        spoilt([](Scene& s, Random&) {
            s.hide({"RASI", "T10"}, s.top_s() - 0.1, s.impact_s() + 0.1);
        }));
    add("gaps", "2 % of all points missing", true, spoilt([](Scene& s, Random& r) {
            for (Track& track : s.markers.tracks_m)
                for (Vector3d& p : track)
                    if (uniform(r, 0.0, 1.0) < 0.02)
                        p = missing_point();
        }));
    add("gaps", "whole frames lost now and then", true, spoilt([](Scene& s, Random& r) {
            for (std::size_t i = 0; i < s.markers.frames; ++i)
                if (uniform(r, 0.0, 1.0) < 0.03)
                    for (Track& track : s.markers.tracks_m)
                        track[i] = missing_point();
        }));

    // Wrong and exchanged markers.
    add("markers", "front hip markers exchanged for 15 frames", true,
        spoilt([](Scene& s, Random& r) {
            const double from = s.impact_s() - uniform(r, 0.05, 0.3);
            s.exchange("LASI", "RASI", from, from + 15.0 / s.markers.rate_hz);
        }));
    add("markers", "front hip markers exchanged throughout", true,
        spoilt([](Scene& s, Random&) { s.exchange("LASI", "RASI", 0.0, 100.0); }));
    add("markers", "all hip markers left for right", true, spoilt([](Scene& s, Random&) {
            s.exchange("LASI", "RASI", 0.0, 100.0);
            s.exchange("LPSI", "RPSI", 0.0, 100.0);
        }));
    add("markers", "hip markers front for back", true, spoilt([](Scene& s, Random&) {
            s.exchange("LASI", "LPSI", 0.0, 100.0);
            s.exchange("RASI", "RPSI", 0.0, 100.0);
        }));
    add("markers", "wrist and club exchanged for some frames", true,
        spoilt([](Scene& s, Random& r) {
            const double from = s.top_s() + uniform(r, -0.2, 0.1);
            s.exchange("LWRA", "CLB1", from, from + 0.05);
        }));
    add("markers", "lower shaft and head exchanged for some frames", true,
        spoilt([](Scene& s, Random& r) {
            const double from = s.impact_s() - uniform(r, 0.0, 0.12);
            s.exchange("CLB2", "CLB3", from, from + 0.04);
        }));
    add("markers", "club upside down", true,
        spoilt([](Scene& s, Random&) { s.exchange("CLB1", "CLB3", 0.0, 100.0); }));
    add("markers", "neck and breastbone exchanged", true,
        spoilt([](Scene& s, Random&) { s.exchange("C7", "CLAV", 0.0, 100.0); }));
    add("markers", "shoulders left for right", true,
        spoilt([](Scene& s, Random&) { s.exchange("LSHO", "RSHO", 0.0, 100.0); }));
    add("markers", "knees exchanged for some frames", true, spoilt([](Scene& s, Random& r) {
            const double from = s.impact_s() - uniform(r, 0.0, 0.3);
            s.exchange("LKNE", "RKNE", from, from + 0.06);
        }));
    add("markers", "feet left for right", true, spoilt([](Scene& s, Random&) {
            s.exchange("LANK", "RANK", 0.0, 100.0);
            s.exchange("LKNE", "RKNE", 0.0, 100.0);
        }));
    add("markers", "single points 10 cm off", true, spoilt([](Scene& s, Random& r) {
            for (int k = 0; k < 12; ++k) {
                Track& track = s.markers.tracks_m[r() % s.markers.tracks_m.size()];
                track[r() % track.size()] +=
                    0.1 *
                    Vector3d(uniform(r, -1, 1), uniform(r, -1, 1), uniform(r, -1, 1)).normalized();
            }
        }));
    add("markers", "single points 10 cm off in the downswing", true,
        spoilt([](Scene& s, Random& r) {
            for (Track& track : s.markers.tracks_m)
                if (r() % 2 == 0)
                    track[s.frame(s.impact_s() - uniform(r, 0.0, 0.25))] +=
                        0.1 * Vector3d(uniform(r, -1, 1), uniform(r, -1, 1), uniform(r, -1, 1))
                                  .normalized();
        }));
    add("markers", "a hip marker slips by 4 cm", false, spoilt([](Scene& s, Random& r) {
            const double from = s.impact_s() - uniform(r, 0.1, 0.3);
            for (std::size_t i = s.frame(from); i < s.markers.frames; ++i)
                s.track("RPSI")[i] += Vector3d(0.03, 0.02, -0.02);
        }));
    add(
        "markers", "skin moves by 6 mm", true, spoilt([](Scene&, Random&) {}),
        [](Golfer& g, Random&) { g.skin_mm = 6.0; }, 3.0);

    // Units.
    add("units", "C3D in metres that says mm", true, [](const Golfer& golfer, Random& random) {
        Scene s(golfer, random);
        for (Track& track : s.markers.tracks_m)
            for (Vector3d& p : track)
                p *= 0.001;
        return as_c3d(s.markers);
    });
    add("units", "TRC in cm that says mm", true, [](const Golfer& golfer, Random& random) {
        Scene s(golfer, random);
        for (Track& track : s.markers.tracks_m)
            for (Vector3d& p : track)
                p *= 0.1;
        Capture out;
        out.name = "capture.trc";
        out.bytes = formats::write_trc(s.markers);
        return out;
    });

    // Impact.
    add("impact", "contact mark, right", true, spoilt([](Scene& s, Random& r) {
            s.markers.contact_s = s.impact_s() + uniform(r, -0.0015, 0.0015);
        }));
    add("impact", "contact mark 20 to 40 ms off", true, spoilt([](Scene& s, Random& r) {
            s.markers.contact_s = s.impact_s() + sign(r) * uniform(r, 0.02, 0.04);
        }));
    add("impact", "club fastest 6 to 15 ms after the ball", true,
        spoilt([](Scene&, Random&) {}, 240.0), [](Golfer& g, Random& r) {
            auto& club = g.plans[index_of(Segment::Club)];
            club.shape = Shape::Bell;
            club.loss = 0.0;
            club.peak_before_ms = 0.0;
            club.rises_after_ms = uniform(r, 6.0, 15.0);
        });
    add("impact", "a faster practice swing first", false, [](const Golfer& golfer, Random& random) {
        Golfer practice = golfer;
        for (auto& plan : practice.plans) {
            plan.peak_deg_s *= 1.12;
            plan.loss = 0.0;
        }
        const double rate_hz = 240.0;
        const MarkerTake first = capture_markers(Motion(practice), rate_hz, 0.4, golfer.seed + 1);
        const MarkerTake second = capture_markers(Motion(golfer), rate_hz, 0.4, golfer.seed);
        MarkerTake both = joined(first, second);
        both.handed_said = false;
        Capture out = as_c3d(both);
        out.shift_s = static_cast<double>(both.frames - second.frames) / rate_hz;
        (void)random;
        return out;
    });

    // Rate and noise.
    add("rate", "60 Hz", false, spoilt([](Scene&, Random&) {}, 60.0, 0.5));
    add("rate", "80 Hz", false, spoilt([](Scene&, Random&) {}, 80.0, 0.5));
    add("rate", "100 Hz", true, spoilt([](Scene&, Random&) {}, 100.0, 0.5));
    add("rate", "40 Hz", false, spoilt([](Scene&, Random&) {}, 40.0, 0.5));
    add("rate", "240 Hz, 1.5 mm of noise", true, spoilt([](Scene&, Random&) {}, 240.0, 1.5));
    add("rate", "500 Hz, 1.5 mm of noise", true, spoilt([](Scene&, Random&) {}, 500.0, 1.5));

    // Takes that begin late or end early.
    add("take", "ends 5 ms after impact", false, [](const Golfer& golfer, Random& random) {
        Scene s(golfer, random);
        const std::size_t end = s.frame(s.impact_s() + 0.005) + 1;
        for (Track& track : s.markers.tracks_m)
            track.resize(end);
        s.markers.frames = end;
        return as_c3d(s.markers);
    });
    add("take", "begins after the takeaway", false, [](const Golfer& golfer, Random& random) {
        Scene s(golfer, random);
        const std::size_t begin = s.frame(s.golfer.still_s + 0.25);
        for (Track& track : s.markers.tracks_m)
            track.erase(track.begin(), track.begin() + static_cast<std::ptrdiff_t>(begin));
        s.markers.frames -= begin;
        Capture out = as_c3d(s.markers);
        out.shift_s = -static_cast<double>(begin) / s.markers.rate_hz;
        return out;
    });

    // Poses.
    add(
        "poses", "clean", true,
        [](const Golfer& golfer, Random& random) {
            const Take take = poses(golfer, random);
            return csv(table(pose_comments(take), pose_columns(take)));
        },
        head_on_shaft);
    add(
        "poses", "quaternions x y z w", true,
        [](const Golfer& golfer, Random& random) {
            const Take take = poses(golfer, random);
            std::vector<Column> columns = pose_columns(take);
            for (std::size_t k = 0; k + 3 < columns.size(); ++k)
                if (columns[k].name.find("_qw") != std::string::npos) {
                    auto w = columns[k].values;
                    columns[k].values = columns[k + 1].values;
                    columns[k + 1].values = columns[k + 2].values;
                    columns[k + 2].values = columns[k + 3].values;
                    columns[k + 3].values = std::move(w);
                }
            return csv(table(pose_comments(take), columns));
        },
        head_on_shaft);
    add(
        "poses", "quaternions inverted", true,
        [](const Golfer& golfer, Random& random) {
            const Take take = poses(golfer, random);
            std::vector<Column> columns = pose_columns(take);
            for (Column& column : columns)
                for (const char* part : {"_qx", "_qy", "_qz"})
                    if (column.name.find(part) != std::string::npos)
                        for (double& v : column.values)
                            v = -v;
            return csv(table(pose_comments(take), columns));
        },
        head_on_shaft);
    add(
        "poses", "signs of quaternions flip", true,
        [](const Golfer& golfer, Random& random) {
            Take take = poses(golfer, random);
            for (auto& entry : take.segments)
                for (Quaterniond& q : entry.second.q_lab_segment)
                    if (random() % 2 == 0)
                        q.coeffs() = -q.coeffs();
            return csv(table(pose_comments(take), pose_columns(take)));
        },
        head_on_shaft);
    add(
        "poses", "places in millimetres", true,
        [](const Golfer& golfer, Random& random) {
            const Take take = poses(golfer, random);
            return csv(table(pose_comments(take), pose_columns(take, 1000.0)));
        },
        head_on_shaft);
    add(
        "poses", "lab turned by 15 to 35°", true,
        [](const Golfer& golfer, Random& random) {
            Take take = poses(golfer, random);
            const Quaterniond q(Eigen::AngleAxisd(
                rad_from_deg(sign(random) * uniform(random, 15.0, 35.0)), Vector3d::UnitZ()));
            for (auto& entry : take.segments) {
                for (Quaterniond& r : entry.second.q_lab_segment)
                    r = q * r;
                for (Vector3d& p : entry.second.p_lab_m)
                    p = q * p;
            }
            for (auto& entry : take.points_lab_m)
                for (Vector3d& p : entry.second)
                    p = q * p;
            return csv(table(pose_comments(take), pose_columns(take)));
        },
        head_on_shaft, 9.0);
    add(
        "poses", "left-hander, nobody says", true,
        [](const Golfer& golfer, Random& random) {
            const Take take = poses(golfer, random);
            return csv(table(pose_comments(take, false), pose_columns(take)));
        },
        [=](Golfer& g, Random& r) {
            left_handed(g, r);
            head_on_shaft(g, r);
        });
    add(
        "poses", "right-hander told left", true,
        [](const Golfer& golfer, Random& random) {
            const Take take = poses(golfer, random);
            auto comments = pose_comments(take, false);
            comments.push_back("handed: left");
            return csv(table(comments, pose_columns(take)));
        },
        [=](Golfer& g, Random& r) {
            right_handed(g, r);
            head_on_shaft(g, r);
        });
    add(
        "poses", "stamps tremble by a third of a frame", true,
        [](const Golfer& golfer, Random& random) {
            const Take take = poses(golfer, random);
            std::vector<Column> columns = pose_columns(take);
            for (double& t : columns[0].values)
                t += uniform(random, -0.33, 0.33) / take.rate_hz;
            return csv(table(pose_comments(take), columns));
        },
        head_on_shaft);
    add(
        "poses", "times left out, rate given", true,
        [](const Golfer& golfer, Random& random) {
            const Take take = poses(golfer, random);
            std::vector<Column> columns = pose_columns(take);
            columns.erase(columns.begin());
            auto comments = pose_comments(take);
            comments.push_back("rate_hz: " + formats::format_number(take.rate_hz));
            return csv(table(comments, columns));
        },
        head_on_shaft);
    add(
        "poses", "times in milliseconds", true,
        [](const Golfer& golfer, Random& random) {
            const Take take = poses(golfer, random);
            std::vector<Column> columns = pose_columns(take);
            for (double& t : columns[0].values)
                t *= 1000.0;
            return csv(table(pose_comments(take), columns));
        },
        head_on_shaft);
    add(
        "poses", "3 % of the rows dropped", true,
        [](const Golfer& golfer, Random& random) {
            const Take take = poses(golfer, random);
            std::vector<Column> columns = pose_columns(take);
            for (std::size_t i = columns[0].values.size() - 1; i > 0; --i)
                if (uniform(random, 0.0, 1.0) < 0.03)
                    for (Column& column : columns)
                        column.values.erase(column.values.begin() + static_cast<std::ptrdiff_t>(i));
            return csv(table(pose_comments(take), columns));
        },
        head_on_shaft);
    add(
        "poses", "contact mark 20 to 40 ms off", true,
        [](const Golfer& golfer, Random& random) {
            const Take take = poses(golfer, random);
            auto comments = pose_comments(take);
            comments.push_back(
                "contact_s: " +
                fixed(Motion(golfer).impact_s() + sign(random) * uniform(random, 0.02, 0.04), 4));
            return csv(table(comments, pose_columns(take)));
        },
        head_on_shaft);

    // Tables of rates and angles.
    add("tables", "rates, clean", true, [](const Golfer& golfer, Random& random) {
        return csv(table({}, rate_columns(golfer, 240.0, random), 4));
    });
    add("tables", "rates in rad/s", true, [](const Golfer& golfer, Random& random) {
        auto columns = rate_columns(golfer, 240.0, random);
        for (std::size_t k = 1; k < columns.size(); ++k)
            for (double& v : columns[k].values)
                v = rad_from_deg(v);
        return csv(table({}, columns, 6));
    });
    add("tables", "rates with the downswing negative", true,
        [](const Golfer& golfer, Random& random) {
            auto columns = rate_columns(golfer, 240.0, random);
            for (std::size_t k = 1; k < columns.size(); ++k)
                for (double& v : columns[k].values)
                    v = -v;
            return csv(table({}, columns, 4));
        });
    add("tables", "rates, pelvis missing 60 ms at its peak", false,
        [](const Golfer& golfer, Random& random) {
            auto columns = rate_columns(golfer, 240.0, random);
            const double peak =
                truth_of(Motion(golfer)).parts[0].peak_s - uniform(random, 0.02, 0.04);
            for (std::size_t i = 0; i < columns[1].values.size(); ++i)
                if (columns[0].values[i] >= peak && columns[0].values[i] <= peak + 0.06)
                    columns[1].values[i] = std::nan("");
            return csv(table({}, columns, 4));
        });
    add("tables", "rates, a faster practice swing first", false,
        [](const Golfer& golfer, Random& random) {
            Golfer practice = golfer;
            for (auto& plan : practice.plans)
                plan.peak_deg_s *= 1.12;
            auto first = rate_columns(practice, 240.0, random);
            const auto second = rate_columns(golfer, 240.0, random);
            const auto before = first[0].values.size();
            for (std::size_t k = 0; k < first.size(); ++k)
                first[k].values.insert(first[k].values.end(), second[k].values.begin(),
                                       second[k].values.end());
            for (std::size_t i = 0; i < first[0].values.size(); ++i)
                first[0].values[i] = static_cast<double>(i) / 240.0;
            Capture out = csv(table({}, first, 4));
            out.shift_s = static_cast<double>(before) / 240.0;
            return out;
        });
    const auto angle_columns = [](const Golfer& golfer, double factor) {
        Take take = capture_poses(Motion(golfer), 240.0, 0.1, 0.0, golfer.seed);
        if (take.handed == Handedness::Left)
            mirror_in_place(take);
        std::vector<Column> columns{{"time_s", {}}};
        for (std::size_t i = 0; i < take.frames; ++i)
            columns[0].values.push_back(take.time_of(i));
        for (const auto& [segment, series] : take.segments) {
            const std::string key(key_of(segment));
            std::vector<Column> c{{key + "_turn_deg", {}},
                                  {key + "_side_tilt_deg", {}},
                                  {key + "_forward_bend_deg", {}}};
            for (const Quaterniond& q : series.q_lab_segment) {
                const BodyAngles a = angles_of(q);
                c[0].values.push_back(factor * deg_from_rad(a.turn_rad));
                c[1].values.push_back(factor * deg_from_rad(a.side_tilt_rad));
                c[2].values.push_back(factor * deg_from_rad(a.forward_bend_rad));
            }
            columns.insert(columns.end(), c.begin(), c.end());
        }
        return columns;
    };
    add("tables", "angles in radians", true, [=](const Golfer& golfer, Random&) {
        return csv(table(hand_comment(golfer), angle_columns(golfer, rad_from_deg(1.0))));
    });
    add(
        "tables", "angles of a left-hander, nobody says", true,
        [=](const Golfer& golfer, Random&) { return csv(table({}, angle_columns(golfer, 1.0))); },
        left_handed);

    // Sensors.
    add(
        "sensors", "clean", true,
        [](const Golfer& golfer, Random& random) {
            return csv(table(hand_comment(golfer), sensors(golfer, random).columns, 5));
        },
        {}, 12.0);
    add(
        "sensors", "one sample empty", true,
        [](const Golfer& golfer, Random& random) {
            auto set = sensors(golfer, random);
            for (std::size_t k = 1; k < set.columns.size(); ++k)
                set.columns[k].values[20 + random() % (set.columns[k].values.size() - 40)] =
                    std::nan("");
            return csv(table(hand_comment(golfer), set.columns, 5));
        },
        {}, 12.0);
    add(
        "sensors", "gyro ends at 1500 °/s", false,
        [](const Golfer& golfer, Random& random) {
            return csv(
                table(hand_comment(golfer), sensors(golfer, random, 1.0, 1.0, 1500.0).columns, 5));
        },
        {}, 12.0);
    add(
        "sensors", "accelerometers in m/s²", true,
        [](const Golfer& golfer, Random& random) {
            return csv(
                table(hand_comment(golfer), sensors(golfer, random, 1.0, 9.80665).columns, 5));
        },
        {}, 12.0);
    add(
        "sensors", "gyros in rad/s", true,
        [](const Golfer& golfer, Random& random) {
            return csv(
                table(hand_comment(golfer), sensors(golfer, random, rad_from_deg(1.0)).columns, 6));
        },
        {}, 12.0);
    add(
        "sensors", "left-hander, nobody says", true,
        [](const Golfer& golfer, Random& random) {
            return csv(table({}, sensors(golfer, random).columns, 5));
        },
        left_handed, 12.0);
    return all;
}

} // namespace

const std::vector<Recipe>& all_recipes() {
    static const std::vector<Recipe> recipes = make_recipes();
    return recipes;
}

} // namespace kite::study
