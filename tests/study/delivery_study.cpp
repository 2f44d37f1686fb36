// How right attack, path and low point are, and how well their intervals hold: on arcs whose
// answers are plain (a circle, one on which the head gains speed, one whose hub moves and that
// narrows), and on the swings of the second generator. Usage: kite-delivery-study [SWINGS].

#include "core/base/normal.h"
#include "core/base/units.h"
#include "core/measures/analyse.h"
#include "core/measures/approach.h"
#include "core/measures/marker_take.h"
#include "study/golfer.h"

#include <cmath>
#include <cstdio>
#include <cstdlib>
#include <functional>
#include <map>
#include <random>
#include <string>

using namespace kite;
using Eigen::Vector3d;

namespace {

struct Tally {
    int count = 0;
    int missing = 0;
    int within = 0;
    double sum = 0.0;
    double squares = 0.0;
    double u_squares = 0.0;
    void add(double error, double u) {
        if (!std::isfinite(error) || !std::isfinite(u)) {
            ++missing;
            return;
        }
        ++count;
        sum += error;
        squares += error * error;
        u_squares += u * u;
        within += std::abs(error) <= kCover95 * u ? 1 : 0;
    }
    void print(const std::string& name, const char* unit) const {
        const double n = std::max(1, count);
        std::printf("| %-44s | %4d | %8.3f %s | %7.3f | %7.3f | %5.1f %% | %4d |\n", name.c_str(),
                    count, sum / n, unit, std::sqrt(squares / n), std::sqrt(u_squares / n),
                    100.0 * within / n, missing);
    }
};

struct Truth {
    double attack_deg = 0.0;
    double path_deg = 0.0;
    double low_cm = 0.0;
};

/// By differences of the motion itself, and of the circle of its curvature at impact.
Truth truth_at(const std::function<Vector3d(double)>& head, double t_s) {
    constexpr double h = 1e-4;
    const Vector3d p = head(t_s);
    const Vector3d v = (3.0 * p - 4.0 * head(t_s - h) + head(t_s - 2 * h)) / (2 * h);
    const Vector3d a =
        (2.0 * p - 5.0 * head(t_s - h) + 4.0 * head(t_s - 2 * h) - head(t_s - 3 * h)) / (h * h);
    const Vector3d t = v.normalized();
    const Vector3d across = a - a.dot(t) * t;
    const Vector3d n = across.normalized();
    const double radius = v.squaredNorm() / across.norm();
    // Stepped along the circle, to be found by another way than the program's.
    double lowest = 1e9;
    Truth out;
    for (double phi = -1.2; phi <= 1.2; phi += 1e-5) {
        const Vector3d at = radius * (std::sin(phi) * t + (1.0 - std::cos(phi)) * n);
        if (at.z() < lowest) {
            lowest = at.z();
            out.low_cm = 100.0 * at.x();
        }
    }
    out.attack_deg = deg_from_rad(std::asin(t.z()));
    out.path_deg = deg_from_rad(std::atan2(-v.y(), v.x()));
    return out;
}

} // namespace

int main(int argc, char** argv) {
    const int swings = argc > 1 ? std::atoi(argv[1]) : 100;
    std::map<std::string, Tally> angles;
    std::map<std::string, Tally> lows;
    std::mt19937 random(20261202);
    const auto uniform = [&](double low, double high) {
        return std::uniform_real_distribution<double>(low, high)(random);
    };
    for (const char* shape : {"circle", "circle, faster", "hub moves, narrows"})
        for (double rate_hz : {240.0, 500.0})
            for (double noise_mm : {0.0, 0.3, 1.0})
                for (int k = 0; k < swings; ++k) {
                    const double radius = uniform(1.2, 1.8);
                    const double turn = uniform(32.0, 48.0) / radius;
                    const double incline = rad_from_deg(uniform(45.0, 65.0));
                    const double at = rad_from_deg(uniform(-8.0, 8.0)); // past the lowest point
                    const double yaw = rad_from_deg(uniform(-6.0, 6.0));
                    const bool faster = std::string(shape) != "circle";
                    const bool hub = std::string(shape) == "hub moves, narrows";
                    const double gain = faster ? uniform(-150.0, 250.0) : 0.0;
                    const Vector3d drift =
                        hub ? Vector3d(uniform(-0.8, 0.8), uniform(-0.5, 0.5), uniform(-0.3, 0.8))
                            : Vector3d::Zero();
                    const double narrows = hub ? uniform(-1.5, 0.5) : 0.0;
                    const Vector3d along(std::cos(yaw), std::sin(yaw), 0.0);
                    const Vector3d in =
                        Vector3d(-std::sin(yaw), std::cos(yaw), 0.0) * std::cos(incline) +
                        Vector3d(0.0, 0.0, std::sin(incline));
                    const double impact_s = 0.5 + uniform(0.0, 1.0 / rate_hz);
                    const auto head = [&](double t_s) -> Vector3d {
                        const double dt = t_s - impact_s;
                        const double angle = at + turn * dt + 0.5 * gain * dt * dt;
                        const double r = radius + narrows * dt;
                        return drift * dt + r * (std::sin(angle) * along - std::cos(angle) * in);
                    };
                    std::normal_distribution<double> noise(0.0, 1e-3 * noise_mm);
                    std::vector<Vector3d> path;
                    for (int i = 0; i < static_cast<int>(0.6 * rate_hz); ++i) {
                        Vector3d p = head(i / rate_hz);
                        for (Eigen::Index axis = 0; axis < 3; ++axis)
                            p(axis) += noise_mm > 0.0 ? noise(random) : 0.0;
                        path.push_back(p);
                    }
                    const Truth truth = truth_at(head, impact_s);
                    const Approach found = fit_approach(path, rate_hz, impact_s, 0.0);
                    char cell[80];
                    std::snprintf(cell, sizeof cell, "%s, %3.0f Hz %.1f mm", shape, rate_hz,
                                  noise_mm);
                    angles[std::string("attack ") + cell].add(found.attack_deg - truth.attack_deg,
                                                              found.attack_u_deg);
                    angles[std::string("path ") + cell].add(found.path_deg - truth.path_deg,
                                                            found.path_u_deg);
                    lows[std::string("low ") + cell].add(100.0 * found.low_point_m - truth.low_cm,
                                                         100.0 * found.low_point_u_m);
                }
    for (double rate_hz : {120.0, 240.0, 500.0})
        for (double noise_mm : {0.0, 0.3, 1.0})
            for (int k = 0; k < swings; ++k) {
                const study::Golfer golfer = study::draw_golfer(random, 32.0);
                const study::Motion motion(golfer);
                const Outcome<Take> take = take_from_file_markers(
                    study::capture_markers(motion, rate_hz, noise_mm, golfer.seed), {});
                const Outcome<Analysis> result = analyse(take.value, {});
                if (!take.ok() || !result.ok())
                    continue;
                const Truth truth =
                    truth_at([&](double t_s) { return motion.head(t_s); }, motion.impact_s());
                const Analysis& a = result.value;
                char cell[80];
                std::snprintf(cell, sizeof cell, "generator 2, %3.0f Hz %.1f mm", rate_hz,
                              noise_mm);
                angles[std::string("attack ") + cell].add(a.speed.attack_deg - truth.attack_deg,
                                                          a.speed.attack_u_deg);
                angles[std::string("path ") + cell].add(a.speed.club_head_direction_deg -
                                                            truth.path_deg,
                                                        a.speed.club_head_direction_u_deg);
                lows[std::string("low ") + cell].add(a.delivery.low_point_cm - truth.low_cm,
                                                     a.delivery.low_point_u_cm);
            }
    std::printf("| what | n | bias | RMS | u | within | none |\n|---|---|---|---|---|---|---|\n");
    for (const auto& [name, tally] : angles)
        tally.print(name, "°");
    for (const auto& [name, tally] : lows)
        tally.print(name, "cm");
    return 0;
}
