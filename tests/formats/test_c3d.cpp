#include "core/measures/analyse.h"
#include "formats/c3d/c3d.h"
#include "formats/markers/marker_file.h"
#include "formats/reader.h"
#include "reference/dart_values.h"
#include "simulate/simulate.h"
#include "support/c3d_bytes.h"
#include "support/temporary_folder.h"

#include <gtest/gtest.h>

#include <cmath>

using namespace kite;
using namespace kite::formats;
using kite::test::C3dBytes;

namespace {

void expect_stored(const C3dFile& file, double scale) {
    ASSERT_EQ(file.labels, (std::vector<std::string>{"AA", "BB"}));
    EXPECT_EQ(file.frames, 3u);
    EXPECT_DOUBLE_EQ(file.rate_hz, 120.0);
    for (int frame = 0; frame < 3; ++frame)
        for (int point = 0; point < 2; ++point)
            for (int axis = 0; axis < 3; ++axis) {
                const double value =
                    file.points[static_cast<std::size_t>(point)][static_cast<std::size_t>(frame)](
                        axis);
                if (frame == 2 && point == 1)
                    EXPECT_TRUE(std::isnan(value)) << "a negative residual is a gap";
                else
                    EXPECT_DOUBLE_EQ(value, scale * C3dBytes::stored(frame, point, axis));
            }
}

std::string error_of(const std::string& bytes) {
    const auto file = parse_c3d(bytes);
    return file.ok() ? "" : file.findings.back().code + " @ " + file.findings.back().where;
}

} // namespace

TEST(C3d, ReadsRealsAndIntegers) {
    C3dBytes bytes;
    auto file = parse_c3d(bytes.build());
    ASSERT_TRUE(file.ok()) << text_of(file.findings.front());
    expect_stored(file.value, 1.0);
    bytes.integers = true;
    file = parse_c3d(bytes.build());
    ASSERT_TRUE(file.ok()) << text_of(file.findings.front());
    expect_stored(file.value, 0.5);
}

TEST(C3d, PassesOverAnalogueSamples) {
    C3dBytes bytes;
    bytes.analog = 7;
    const auto file = parse_c3d(bytes.build());
    ASSERT_TRUE(file.ok());
    expect_stored(file.value, 1.0);
}

TEST(C3d, ScalesItsUnitToMetres) {
    for (const auto& [unit, metres] :
         {std::pair("mm", 0.001), std::pair("cm", 0.01), std::pair("m", 1.0)}) {
        C3dBytes bytes;
        bytes.unit = unit;
        const auto markers = markers_from_c3d(parse_c3d(bytes.build()).value, {});
        EXPECT_TRUE(markers.findings.empty());
        EXPECT_NEAR(markers.value.tracks_m[1][1].y(), metres * C3dBytes::stored(1, 1, 1), 1e-12)
            << unit;
    }
    C3dBytes bytes;
    bytes.unit = "ell";
    EXPECT_EQ(markers_from_c3d(parse_c3d(bytes.build()).value, {}).findings.front().code,
              "unit-unknown");
}

TEST(C3d, RefusesWhatItCannotTrust) {
    C3dBytes bytes;
    bytes.frames_claimed = 60000;
    EXPECT_EQ(error_of(bytes.build()), "frames-beyond-file @ byte 1024");
    bytes = {};
    bytes.points_claimed = 65535;
    EXPECT_EQ(error_of(bytes.build()), "frames-beyond-file @ byte 1024");
    bytes.points_claimed = 0;
    EXPECT_EQ(error_of(bytes.build()), "no-points @ parameter POINT:USED");
    bytes = {};
    bytes.data_block = 200;
    EXPECT_EQ(error_of(bytes.build()), "data-outside @ parameter POINT:DATA_START");
    bytes = {};
    bytes.processor = 83;
    EXPECT_EQ(error_of(bytes.build()), "processor @ byte 515");
    const std::string whole = C3dBytes{}.build();
    EXPECT_EQ(error_of(whole.substr(0, 400)), "not-c3d @ byte 1");
    EXPECT_EQ(error_of(whole.substr(0, 512)), "parameters-outside @ byte 0");
    EXPECT_EQ(error_of(whole.substr(0, 1024)), "data-outside @ parameter POINT:DATA_START");
    EXPECT_EQ(error_of(whole.substr(0, 1100)), "frames-beyond-file @ byte 1024");
    std::string broken = whole;
    broken[0] = '\7';
    EXPECT_EQ(error_of(broken), "parameters-outside @ byte 0");
}

// Source of the layouts: c3d.org user guide (values from memory): SGI/MIPS stores the most
// significant byte first, DEC stores VAX F floats.
TEST(C3d, ReadsEveryProcessorTypeInIntegersAndReals) {
    for (int processor : {84, 85, 86}) {
        for (bool integers : {false, true}) {
            test::C3dBytes bytes;
            bytes.processor = processor;
            bytes.integers = integers;
            const auto file = parse_c3d(bytes.build());
            ASSERT_TRUE(file.ok()) << processor << " " << text_of(file.findings.front());
            EXPECT_DOUBLE_EQ(file.value.rate_hz, 120.0);
            ASSERT_EQ(file.value.frames, 3u);
            const double scale = integers ? 0.5 : 1.0;
            EXPECT_DOUBLE_EQ(file.value.points[1][1].y(), scale * test::C3dBytes::stored(1, 1, 1));
            EXPECT_FALSE(file.value.points[1][2].allFinite());
        }
    }
}

// Event times count from frame 1 of the trial, ours from the file's first frame.
TEST(C3d, TakesTheImpactEvent) {
    test::C3dBytes bytes;
    bytes.data_block = 4;
    bytes.first_field = 121;
    bytes.event_min = 0.0;
    bytes.event_s = 1.01;
    const auto file = parse_c3d(bytes.build());
    ASSERT_TRUE(file.ok()) << text_of(file.findings.front());
    ASSERT_EQ(file.value.events.size(), 1u);
    EXPECT_EQ(file.value.events[0].label, "Impact");
    EXPECT_NEAR(file.value.events[0].t_s, 1.01 - 120.0 / 120.0, 1e-6);
    EXPECT_NEAR(*markers_from_c3d(file.value, {}).value.contact_s, 0.01, 1e-6);
}

// By hand: value of channel c (from 1) in sample s of frame f: (100 f + 10 s + c - 1) · -0.5 · 2,
// so minus (100 f + 10 s + c - 1). Two samples a frame.
TEST(C3d, TakesTheVerticalForceOfEveryPlatformType) {
    for (int type : {1, 2, 3, 4}) {
        for (bool integers : {false, true}) {
            test::C3dBytes bytes;
            bytes.platform_type = type;
            bytes.integers = integers;
            bytes.data_block = 4;
            bytes.analog = type == 3 ? 16 : 12;
            const auto file = parse_c3d(bytes.build());
            ASSERT_TRUE(file.ok()) << text_of(file.findings.front());
            ASSERT_EQ(file.value.platforms.size(), 1u) << "type " << type;
            const auto& platform = file.value.platforms[0];
            EXPECT_NEAR(platform.centre.x(), 100.0, 1e-6);
            EXPECT_NEAR(platform.centre.y(), 200.0, 1e-6);
            ASSERT_EQ(platform.vertical.size(), 3u);
            for (int frame = 0; frame < 3; ++frame) {
                const double base = 100.0 * frame + 5.0; // mean of samples 0 and 1
                const double expected = type == 3   ? 4.0 * base + 4.0 + 5.0 + 6.0 + 7.0
                                        : type == 4 ? 0.5 * base + 2.0 * (base + 2.0)
                                                    : base + 2.0;
                EXPECT_NEAR(platform.vertical[static_cast<std::size_t>(frame)], expected, 1e-3)
                    << "type " << type << " frame " << frame;
            }
        }
    }
}

// Source: DART's own loader (tests/reference/dart_c3d.cpp), after undoing its swap (x, y, z) →
// (y, z, x) and its division by 1000.
TEST(C3d, ReadsARealCaptureLikeDart) {
    const std::string bytes = test::TemporaryFolder::read(KITE_SQUAT_C3D);
    const auto file = parse_c3d(bytes);
    ASSERT_TRUE(file.ok());
    for (const auto& expected : reference::kDartPoints) {
        const Eigen::Vector3d& p = file.value.points[expected.point][expected.frame];
        EXPECT_NEAR(p.y() / 1000.0, expected.position[0], 2e-6);
        EXPECT_NEAR(p.z() / 1000.0, expected.position[1], 2e-6);
        EXPECT_NEAR(p.x() / 1000.0, expected.position[2], 2e-6);
    }
}

// Source: squat.c3d of Debian's dart-doc, a real capture: 53 points, 2,539 frames, 120 Hz, scale
// -1.
TEST(C3d, ReadsARealCapture) {
    const std::string bytes = test::TemporaryFolder::read(KITE_SQUAT_C3D);
    ASSERT_FALSE(bytes.empty()) << "the package dart-doc is missing";
    const auto file = parse_c3d(bytes);
    ASSERT_TRUE(file.ok()) << text_of(file.findings.front());
    EXPECT_EQ(file.value.labels.size(), 53u);
    EXPECT_EQ(file.value.frames, 2539u);
    EXPECT_DOUBLE_EQ(file.value.rate_hz, 120.0);
    EXPECT_DOUBLE_EQ(file.value.scale, -1.0);
    EXPECT_EQ(file.value.find_number("POINT:DATA_START"), 10.0);
    EXPECT_EQ(file.value.unit, "mm");

    // A person: the head stands 1 to 2 m above the floor, the ankle marker near it.
    const auto markers = markers_from_c3d(file.value, {});
    double head = 0.0;
    double ankle = 0.0;
    for (int axis = 0; axis < 3; ++axis) {
        head = std::max(head, (*markers.value.find("LFHD"))[0](axis));
        ankle = std::max(ankle, (*markers.value.find("LANK"))[0](axis));
    }
    EXPECT_GT(head, 1.2);
    EXPECT_LT(head, 2.1);
    EXPECT_LT((*markers.value.find("LANK"))[0].z(), 0.3);

    const auto take = read_take(std::string_view(bytes), "squat.c3d", {});
    ASSERT_FALSE(take.ok());
    ASSERT_EQ(take.findings.size(), 1u) << "one clear sentence";
    EXPECT_EQ(take.findings[0].what, "53 points, 2,539 frames at 120 Hz were read, but not the "
                                     "markers that a swing needs: missing are pelvis "
                                     "(LASI, RASI, LPSI and RPSI), lead arm (LSHO, LWRA and LWRB) "
                                     "and club (CLB1, CLB2 and CLB3).");
}

TEST(C3d, ComesBackAsItWasWritten) {
    simulate::SwingParameters parameters;
    parameters.handed = Handedness::Left;
    parameters.club = ClubKind::Driver;
    MarkerTake markers = simulate::make_markers(parameters);
    markers.tracks_m[2][17] = Eigen::Vector3d::Constant(std::nan(""));
    const auto bytes = write_c3d(markers);
    ASSERT_TRUE(bytes.ok());
    const auto file = parse_c3d(bytes.value);
    ASSERT_TRUE(file.ok()) << text_of(file.findings.front());
    const auto back = markers_from_c3d(file.value, {});
    EXPECT_EQ(back.value.labels, markers.labels);
    EXPECT_EQ(back.value.handed, Handedness::Left);
    EXPECT_EQ(back.value.club, ClubKind::Driver);
    EXPECT_EQ(back.value.frames, markers.frames);
    EXPECT_TRUE(std::isnan(back.value.tracks_m[2][17].x()));
    for (std::size_t m = 0; m < markers.tracks_m.size(); ++m)
        EXPECT_LT((back.value.tracks_m[m][99] - markers.tracks_m[m][99]).norm(),
                  2e-7); // single precision
}

// More labels than one parameter can hold go on in LABELS2.
TEST(C3d, WritesManyMarkers) {
    MarkerTake markers;
    markers.rate_hz = 100.0;
    markers.frames = 2;
    for (int i = 0; i < 300; ++i) {
        markers.labels.push_back("M" + std::to_string(i));
        markers.tracks_m.emplace_back(2, Eigen::Vector3d(i, 0.0, 0.0));
    }
    const auto file = parse_c3d(write_c3d(markers).value);
    ASSERT_TRUE(file.ok()) << text_of(file.findings.front());
    EXPECT_EQ(file.value.labels, markers.labels);
    EXPECT_NEAR(file.value.points[299][1].x(), 299000.0, 1e-6);
}

// The same swing as poses and as markers in turned lab axes gives the same measures.
TEST(C3d, GivesTheSameAnalysisAsPoses) {
    simulate::SwingParameters parameters;
    const auto poses = analyse(simulate::make_take(parameters), {});
    MarkerTake markers = simulate::make_markers(parameters);
    for (auto& track : markers.tracks_m)
        for (auto& p : track)
            p = Eigen::Vector3d(-p.y(), p.x(), p.z()); // the target is +y now
    const auto take = read_take(std::string_view(write_c3d(markers).value), "swing.c3d", {});
    ASSERT_TRUE(take.ok());
    const auto result = analyse(take.value, {});
    ASSERT_TRUE(result.ok());
    for (Segment segment : kSequence) {
        EXPECT_NEAR(result.value.sequence.find(segment)->peak_t_s,
                    poses.value.sequence.find(segment)->peak_t_s, 2e-4);
        EXPECT_NEAR(result.value.sequence.find(segment)->peak_deg_s,
                    poses.value.sequence.find(segment)->peak_deg_s, 1.0);
    }
    EXPECT_NEAR(result.value.position(Segment::Pelvis, Moment::Impact).sway_m,
                poses.value.position(Segment::Pelvis, Moment::Impact).sway_m, 1e-4);
}

// Lab axes turned every way, a left-hander, a later start and other frame rates: the same swing.
// Turning and mirroring lose nothing; a frame rate changes what lies between the frames.
TEST(C3d, TheSameSwingInOtherAxesHandsTimesAndRates) {
    struct Case {
        const char* name;
        SignedAxis up;
        SignedAxis target;
        Handedness handed;
        double later_s;
        double rate_hz;
        double tolerance_ms;
    };
    constexpr SignedAxis kX{0, +1};
    constexpr SignedAxis kMinusX{0, -1};
    constexpr SignedAxis kY{1, +1};
    constexpr SignedAxis kMinusY{1, -1};
    constexpr SignedAxis kZ{2, +1};
    constexpr SignedAxis kMinusZ{2, -1};
    simulate::SwingParameters usual;
    usual.rate_hz = 240.0;
    const Analysis expected =
        analyse(take_from_marker_file({simulate::make_markers(usual), {}}, {}, {}).value, {}).value;
    for (const Case& c :
         std::vector<Case>{{"up y, target z", kY, kZ, Handedness::Right, 0.0, 240.0, 0.01},
                           {"up z, target -x", kZ, kMinusX, Handedness::Right, 0.0, 240.0, 0.01},
                           {"up -y, target x", kMinusY, kX, Handedness::Right, 0.0, 240.0, 0.01},
                           {"up x, target -z", kX, kMinusZ, Handedness::Right, 0.0, 240.0, 0.01},
                           {"left-handed", kZ, kX, Handedness::Left, 0.0, 240.0, 0.01},
                           {"left-handed, up y", kY, kX, Handedness::Left, 0.0, 240.0, 0.01},
                           {"later by half a second", kZ, kX, Handedness::Right, 0.5, 240.0, 0.6},
                           {"120 Hz", kZ, kX, Handedness::Right, 0.0, 120.0, 3.0},
                           {"500 Hz", kZ, kX, Handedness::Right, 0.0, 500.0, 1.0}}) {
        SCOPED_TRACE(c.name);
        simulate::SwingParameters parameters = usual;
        parameters.handed = c.handed;
        parameters.lead_in_s += c.later_s;
        parameters.rate_hz = c.rate_hz;
        MarkerTake markers = simulate::make_markers(parameters);
        // From the lab to the file's axes: x to the target, z up, y = z × x.
        const Eigen::Vector3d x = c.target.vector();
        const Eigen::Vector3d z = c.up.vector();
        const Eigen::Vector3d y = z.cross(x);
        for (auto& track : markers.tracks_m)
            for (auto& p : track)
                p = Eigen::Vector3d(p.x() * x + p.y() * y + p.z() * z);
        markers.up_axis = c.up;
        const auto take = read_take(std::string_view(write_c3d(markers).value), "swing.c3d", {});
        ASSERT_TRUE(take.ok()) << text_of(take.findings.back());
        const auto result = analyse(take.value, {});
        ASSERT_TRUE(result.ok());
        const Analysis& got = result.value;
        EXPECT_EQ(got.handed, c.handed);
        EXPECT_EQ(got.sequence.order, expected.sequence.order);
        for (Segment segment : kSequence) {
            const auto* a = got.sequence.find(segment);
            const auto* b = expected.sequence.find(segment);
            EXPECT_NEAR(a->before_impact_ms, b->before_impact_ms, c.tolerance_ms)
                << key_of(segment);
            EXPECT_NEAR(a->peak_deg_s, b->peak_deg_s, c.rate_hz < 200.0 ? 25.0 : 8.0)
                << key_of(segment);
        }
        for (Moment moment : {Moment::Top, Moment::Impact}) {
            const TrunkPosition a = got.position(Segment::Pelvis, moment);
            const TrunkPosition b = expected.position(Segment::Pelvis, moment);
            EXPECT_NEAR(a.turn_deg, b.turn_deg, 0.7);
            EXPECT_NEAR(a.side_tilt_deg, b.side_tilt_deg, 0.3);
            EXPECT_NEAR(a.sway_m, b.sway_m, 0.002);
            EXPECT_NEAR(a.depth_m, b.depth_m, 0.002);
            EXPECT_NEAR(a.lift_m, b.lift_m, 0.002);
        }
    }
}
