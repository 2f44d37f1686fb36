// What film tells: swings of the study's own generator (golfer.h) filmed by cameras that stand
// some degrees off, run on clocks of their own and are marked with errors, by view set and by how
// much is known. Usage: kite-film-study [SWINGS A CELL] [WORDS]. Its table stands in
// docs/accuracy.md.

#include "core/base/units.h"
#include "core/catalogue/quantity.h"
#include "core/film/film_take.h"
#include "core/measures/analyse.h"
#include "core/motion/rotation.h"
#include "simulate/film_marks.h"
#include "study/golfer.h"

#include <cmath>
#include <cstdio>
#include <cstdlib>
#include <functional>
#include <map>
#include <string>

using namespace kite;

namespace {

struct Tally {
    int count = 0;
    int covered = 0;
    int within = 0;
    int missing = 0;
    double squares = 0.0;
    double u_squares = 0.0;

    void add(double error, double u, double limit) {
        if (!std::isfinite(error) || !(u > 0.0)) {
            ++missing;
            return;
        }
        ++count;
        covered += std::abs(error) <= 1.96 * u ? 1 : 0;
        within += std::abs(error) <= limit ? 1 : 0;
        squares += error * error;
        u_squares += u * u;
    }
    void print(const std::string& name) const {
        const double n = std::max(1, count);
        std::printf("| %-34s | %5d | %6.2f | %6.2f | %5.1f %% | %5.1f %% | %4d |\n", name.c_str(),
                    count, std::sqrt(squares / n), std::sqrt(u_squares / n), 100.0 * covered / n,
                    100.0 * within / n, missing);
    }
};

simulate::PlaceOf points_of(const study::Motion& motion, const simulate::FilmSetup& setup) {
    return [&motion, setup](film::Point point, double t_s) -> Eigen::Vector3d {
        const auto on = [](const study::Motion::Pose& pose, double across_m, double ahead_m) {
            return Eigen::Vector3d(pose.p + pose.q * Eigen::Vector3d(across_m, -ahead_m, 0.0));
        };
        switch (point) {
        case film::Point::BeltLead:
            return on(motion.pelvis(t_s), 0.5 * setup.belt_stick_m + 0.02, 0.13);
        case film::Point::BeltTrail:
            return on(motion.pelvis(t_s), -0.5 * setup.belt_stick_m + 0.02, 0.13);
        case film::Point::ShoulderLead:
            return on(motion.torso(t_s), 0.5 * setup.shoulder_stick_m - 0.01, 0.09);
        case film::Point::ShoulderTrail:
            return on(motion.torso(t_s), -0.5 * setup.shoulder_stick_m - 0.01, 0.09);
        case film::Point::LeadShoulder:
            return motion.arm(t_s).p;
        case film::Point::Wrist:
            return motion.wrist(t_s);
        case film::Point::Grip:
            return motion.club(t_s).p;
        default:
            return motion.head(t_s);
        }
    };
}

struct Cell {
    const char* name;
    std::vector<film::Side> sides;
    double rate_hz;
    double mark_px;
    bool camera_told;
    bool sticks_told;
    double beside_deg;
    bool lines_told = false; ///< a plumb line and a stick on the target line
    std::function<void(simulate::FilmSetup&)> change = {};
};

} // namespace

int main(int argc, char** argv) {
    const int swings = argc > 1 ? std::atoi(argv[1]) : 40;
    const std::string words = argc > 2 ? argv[2] : "";
    const bool loud = std::getenv("LOUD") != nullptr;
    using film::Side;
    const std::vector<Side> two{Side::FaceOn, Side::DownTheLine};
    const Cell cells[] = {
        {"two views", two, 240, 2, true, true, 1.5},
        {"exact marks", two, 240, 0.05, true, true, 0.0},
        {"two views, camera not told", two, 240, 2, false, true, 1.5},
        {"two views, no stick length", two, 240, 2, true, false, 1.5},
        {"two views, nothing told", two, 240, 2, false, false, 1.5},
        {"two views, 120 a second", two, 120, 2, true, true, 1.5},
        {"two views, 60 a second", two, 60, 2, true, true, 1.5},
        {"two views, 4 px", two, 240, 4, true, true, 1.5},
        {"two views, 4 degrees off", two, 240, 2, true, true, 4.0},
        {"two views, 4 degrees off, lines told", two, 240, 2, true, true, 4.0, true},
        {"two views, a tenth of the points missing", two, 240, 2, true, true, 1.5, false,
         [](auto& setup) { setup.skipped_share = 0.1; }},
        {"two views, downswing alone", two, 240, 2, true, true, 1.5, false,
         [](auto& setup) { setup.downswing_alone = true; }},
        {"two views, distance told to the ball", two, 240, 2, true, true, 1.5, false,
         [](auto& setup) { setup.tells_nearer_m = 0.7; }},
        {"two views, blurred by a shutter of 2 ms", two, 240, 2, true, true, 1.5, false,
         [](auto& setup) {
             for (auto& camera : setup.cameras)
                 camera.blur_s = 0.002;
         }},
        {"two views, impact not marked", two, 240, 2, true, true, 1.5, false,
         [](auto& setup) { setup.tells_impact = false; }},
        {"three views", {Side::FaceOn, Side::DownTheLine, Side::Above}, 240, 2, true, true, 1.5},
        {"face-on and above", {Side::FaceOn, Side::Above}, 240, 2, true, true, 1.5},
        {"face-on alone", {Side::FaceOn}, 240, 2, true, true, 1.5},
        {"down the line alone", {Side::DownTheLine}, 240, 2, true, true, 1.5},
        {"above alone", {Side::Above}, 240, 2, true, true, 1.5},
    };
    for (const Cell& cell : cells) {
        if (std::string(cell.name).find(words) == std::string::npos)
            continue;
        std::map<std::string, Tally> tallies;
        std::map<std::string, int> said;
        int failed = 0;
        int right = 0;
        int open = 0;
        int wrong = 0;
        int certain_wrong = 0;
        std::mt19937 random(815);
        std::normal_distribution<double> normal;
        std::uniform_real_distribution<double> uniform;
        for (int k = 0; k < swings; ++k) {
            const study::Golfer golfer = study::draw_golfer(random);
            const study::Motion motion(golfer);
            const study::MotionTruth truth = study::truth_of(motion);
            simulate::FilmSetup setup;
            setup.mark_error_px = cell.mark_px;
            setup.tells_sticks = cell.sticks_told;
            setup.belt_stick_m = cell.sticks_told ? 0.7 + 0.4 * uniform(random) : 0.40;
            setup.shoulder_stick_m = cell.sticks_told ? 0.7 + 0.4 * uniform(random) : 0.42;
            setup.seed = golfer.seed;
            double starts_s = 0.0;
            for (Side side : cell.sides) {
                simulate::FilmCamera camera;
                camera.side = side;
                camera.rate_hz = cell.rate_hz;
                camera.tells_camera = cell.camera_told;
                camera.tells_lines = cell.lines_told;
                camera.distance_m =
                    side == Side::Above ? 2.8 + uniform(random) : 3.4 + 2.5 * uniform(random);
                camera.height_m = 0.8 + 0.6 * uniform(random);
                camera.focal_px = 420.0 * camera.distance_m * (0.9 + 0.3 * uniform(random));
                camera.beside_deg = cell.beside_deg * normal(random);
                camera.pan_deg = 0.5 * normal(random);
                camera.nod_deg = 2.0 * normal(random);
                camera.lean_deg = 1.0 * normal(random);
                camera.starts_s = starts_s;
                starts_s = -0.3 * uniform(random) - 0.01;
                setup.cameras.push_back(camera);
            }
            if (cell.change)
                cell.change(setup);
            const simulate::FilmTimes times{motion.takeaway_s(), truth.moments_s.at(Moment::Top),
                                            motion.impact_s(), motion.end_s()};
            const film::Marks marks = simulate::mark_film(points_of(motion, setup), times,
                                                          golfer.handed, golfer.club, setup);
            const Outcome<Take> take = film::take_from_marks(marks);
            const Outcome<Analysis> result = analyse(take.value, {});
            for (const auto* list : {&take.findings, &result.findings})
                for (const Finding& f : *list)
                    ++said[f.code];
            if (!take.ok() || !result.ok()) {
                ++failed;
                if (loud)
                    for (const auto* list : {&take.findings, &result.findings})
                        for (const Finding& f : *list)
                            std::printf("! %s\n", text_of(f).c_str());
                continue;
            }
            const Analysis& a = result.value;
            // The take begins with the first mark.
            const double start_s = setup.cameras[0].starts_s;
            for (Moment moment : {Moment::Top, Moment::ShaftLevelDown, Moment::Impact}) {
                const double t_s = truth.moments_s.at(moment);
                const auto& at = a.moments[moment];
                tallies["moment " + std::string(key_of(moment)) + ", ms"].add(
                    at ? 1000.0 * (at->t_s + start_s - t_s) : NAN, at ? 1000.0 * at->u_s : NAN,
                    8.0);
                const double pelvis = deg_from_rad(turn_of(motion.pelvis(t_s).q));
                const double torso = deg_from_rad(turn_of(motion.torso(t_s).q));
                const auto check = [&](const char* key, double is, double limit) {
                    const Measured m = at_moment(*find_quantity(key), a, moment);
                    tallies[std::string(key) + ", °"].add(m.value - is, m.u, limit);
                    tallies[std::string(key) + " at " + std::string(key_of(moment))].add(
                        m.value - is, m.u, limit);
                    if (loud)
                        std::printf("%d %s %s %.2f is %.2f u %.2f\n", k, key,
                                    std::string(key_of(moment)).c_str(), m.value, is, m.u);
                };
                check("pelvis_turn", pelvis, 3.0);
                check("torso_turn", torso, 3.0);
                check("separation", pelvis - torso, 4.0);
            }
            for (Segment segment : kSequence) {
                const SegmentSequence* part = a.sequence.find(segment);
                const auto& is = truth.parts[index_of(segment)];
                tallies["peak " + std::string(key_of(segment)) + ", ms"].add(
                    part ? 1000.0 * (part->peak_t_s + start_s - is.peak_s) : NAN,
                    part ? 1000.0 * part->peak_t_u_s : NAN, 8.0);
                tallies["speed " + std::string(key_of(segment)) + ", %"].add(
                    part ? 100.0 * (part->peak_deg_s / is.peak_deg_s - 1.0) : NAN,
                    part ? 100.0 * part->peak_u_deg_s / is.peak_deg_s : NAN, 10.0);
            }
            // An order is called certain where no two are tied.
            if (a.sequence.order.size() < 4 || !a.sequence.tied.empty()) {
                bool fits = a.sequence.order.size() == 4;
                if (fits) {
                    const auto is = truth.order();
                    for (std::size_t i = 0; i < 4 && fits; ++i)
                        for (std::size_t j = i + 1; j < 4 && fits; ++j) {
                            const auto place = [&](Segment s) {
                                return std::find(is.begin(), is.end(), s) - is.begin();
                            };
                            const Segment x = a.sequence.order[i];
                            const Segment y = a.sequence.order[j];
                            fits = a.sequence.is_tied(x, y) || place(x) < place(y);
                        }
                }
                fits || a.sequence.order.size() < 4 ? ++open : ++wrong;
            } else {
                a.sequence.order == truth.order() ? ++right : ++certain_wrong;
                wrong += a.sequence.order == truth.order() ? 0 : 1;
            }
        }
        std::printf(
            "\n%s: %d swings, %d not measured; order right %d, tied or open %d, wrong %d, of "
            "them called certain %d\n",
            cell.name, swings, failed, right, open, wrong, certain_wrong);
        std::printf(
            "| | n | RMS | stated | covered | within | missing |\n|---|---|---|---|---|---|---|\n");
        for (const auto& [name, tally] : tallies)
            tally.print(name);
        for (const auto& [code, count] : said)
            std::printf("%s %d; ", code.c_str(), count);
        std::printf("\n");
        std::fflush(stdout);
    }
    return 0;
}
