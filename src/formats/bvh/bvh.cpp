#include "formats/bvh/bvh.h"

#include "core/base/units.h"
#include "formats/names/name_table.h"
#include "formats/text/delimited.h"
#include "formats/text/numbers.h"

#include <Eigen/Geometry>

#include <cmath>
#include <set>

namespace kite::formats {

using Eigen::Vector3d;
using Severity = Finding::Severity;

namespace {

constexpr std::size_t kDeepest = 200; ///< levels of joints
constexpr std::size_t kMostJoints = 2000;

class BvhParser {
public:
    explicit BvhParser(std::string_view text) : rest_(text) {}

    Outcome<BvhSkeleton> parse() {
        if (word() != "hierarchy") {
            fail("no-hierarchy", "The file does not begin with HIERARCHY.",
                 "Choose a BVH file, or export it again.");
        } else if (word() != "root") {
            fail("no-root", "The skeleton has no ROOT.", "Export it again.");
        } else if (read_joint(-1, 0)) {
            read_motion();
        }
        return std::move(out_);
    }

private:
    bool fail(std::string code, std::string what, std::string mend) {
        out_.add({Severity::Error, std::move(code), std::move(what),
                  "line " + std::to_string(line_), std::move(mend)});
        return false;
    }

    /// The next word, as it is written; empty at the end.
    std::string_view raw_word() {
        std::size_t at = 0;
        while (at < rest_.size() && std::isspace(static_cast<unsigned char>(rest_[at])) != 0)
            line_ += rest_[at++] == '\n' ? 1 : 0;
        std::size_t end = at;
        while (end < rest_.size() && std::isspace(static_cast<unsigned char>(rest_[end])) == 0)
            ++end;
        const std::string_view out = rest_.substr(at, end - at);
        rest_.remove_prefix(end);
        return out;
    }
    std::string word() { return lower_case(raw_word()); }
    /// The rest of the line: names may hold blanks.
    std::string line_rest() {
        const auto end = std::min(rest_.find('\n'), rest_.size());
        std::string out(trimmed(rest_.substr(0, end)));
        rest_.remove_prefix(end);
        return out;
    }
    std::optional<double> number() { return parse_number(raw_word()); }

    bool expect(const std::string& wanted) {
        const std::string found = word();
        return found == wanted || fail("hierarchy-broken",
                                       "\"" + wanted + "\" was expected, \"" + found.substr(0, 24) +
                                           "\" stands there.",
                                       "The hierarchy is damaged; export it again.");
    }

    bool read_offset(BvhSkeleton::Joint& joint) {
        for (Eigen::Index axis = 0; axis < 3; ++axis) {
            const auto value = number();
            if (!value)
                return fail("bad-offset", "The offset of " + joint.name + " is not three numbers.",
                            "The hierarchy is damaged; export it again.");
            joint.offset(axis) = *value;
        }
        return true;
    }

    bool read_channels(BvhSkeleton::Joint& joint) {
        const auto count = number();
        if (!count || !(*count >= 0.0) || *count > 6.0)
            return fail("bad-channels",
                        "The number of channels of " + joint.name + " is not between 0 and 6.",
                        "The hierarchy is damaged; export it again.");
        joint.first_channel = out_.value.channels;
        for (int i = 0; i < static_cast<int>(*count); ++i) {
            const std::string name = word();
            const bool rotation = name.size() == 9 && name.substr(1) == "rotation";
            const bool position = name.size() == 9 && name.substr(1) == "position";
            if ((!rotation && !position) || name.front() < 'x' || name.front() > 'z')
                return fail("bad-channel", "\"" + name.substr(0, 24) + "\" is not a channel.",
                            "Channels are Xposition, Yrotation and so on.");
            joint.channels += rotation ? name.front() : static_cast<char>(name.front() - 'x' + 'X');
        }
        out_.value.channels += joint.channels.size();
        return true;
    }

    /// After ROOT, JOINT or End: the name, then a block.
    bool read_joint(int parent, std::size_t depth) {
        if (depth > kDeepest || out_.value.joints.size() >= kMostJoints)
            return fail("too-deep", "The hierarchy is too large.", "The file is damaged.");
        BvhSkeleton::Joint joint;
        joint.name = line_rest();
        joint.parent = parent;
        const auto index = static_cast<int>(out_.value.joints.size());
        out_.value.joints.push_back(joint);
        if (!expect("{"))
            return false;
        for (;;) {
            const std::string next = word();
            if (next == "}") {
                out_.value.joints[static_cast<std::size_t>(index)] = joint;
                return true;
            }
            if (next == "offset") {
                if (!read_offset(joint))
                    return false;
            } else if (next == "channels") {
                if (!read_channels(joint))
                    return false;
            } else if (next == "joint") {
                if (!read_joint(index, depth + 1))
                    return false;
            } else if (next == "end") {
                if (!read_end(index, joint.name))
                    return false;
            } else {
                return fail("hierarchy-broken",
                            next.empty() ? "The hierarchy ends too early."
                                         : "\"" + next.substr(0, 24) + "\" is not known here.",
                            "The file is cut short or damaged; export it again.");
            }
        }
    }

    bool read_end(int parent, const std::string& of) {
        line_rest(); // "Site"
        BvhSkeleton::Joint joint;
        joint.name = of + " end";
        joint.parent = parent;
        if (!expect("{") || !expect("offset") || !read_offset(joint) || !expect("}"))
            return false;
        out_.value.joints.push_back(joint);
        return true;
    }

    bool read_motion() {
        BvhSkeleton& skeleton = out_.value;
        if (!expect("motion") || !expect("frames:"))
            return false;
        const auto frames = number();
        if (!frames || !(*frames >= 0.0))
            return fail("bad-frames", "The number of frames is not a number.", "Export it again.");
        if (!expect("frame") || !expect("time:"))
            return false;
        const auto time = number();
        if (!time || !(*time > 1e-5) || *time > 1.0)
            return fail("bad-frame-time", "The frame time is not a time in seconds.",
                        "Frame Time is, for instance, 0.008333.");
        skeleton.frame_time_s = *time;
        if (skeleton.channels == 0)
            return fail("no-channels", "No joint has channels.", "Export it again.");
        for (;;) {
            const std::string_view text = raw_word();
            if (text.empty())
                break;
            const auto value = parse_number(text);
            if (!value)
                return fail("not-a-number",
                            "\"" + std::string(text.substr(0, 24)) + "\" is not a number.",
                            "The motion is damaged; export it again.");
            skeleton.values.push_back(static_cast<float>(*value));
        }
        const std::size_t whole = skeleton.frames();
        if (static_cast<double>(whole) < *frames ||
            skeleton.values.size() != whole * skeleton.channels)
            out_.add({Severity::Warning, "frames-missing",
                      "The header claims " + format_number(*frames) + " frames, the file holds " +
                          std::to_string(whole) + ".",
                      "line " + std::to_string(line_),
                      "Export it again if the swing's end is missing."});
        skeleton.values.resize(whole * skeleton.channels);
        return true;
    }

    std::string_view rest_;
    std::size_t line_ = 1;
    Outcome<BvhSkeleton> out_;
};

} // namespace

std::vector<Vector3d> BvhSkeleton::positions(std::size_t frame) const {
    std::vector<Eigen::Isometry3d> placed(joints.size());
    std::vector<Vector3d> out(joints.size());
    for (std::size_t j = 0; j < joints.size(); ++j) {
        const Joint& joint = joints[j];
        Vector3d shift = joint.offset;
        Eigen::Matrix3d turn = Eigen::Matrix3d::Identity();
        for (std::size_t c = 0; c < joint.channels.size(); ++c) {
            const double value =
                static_cast<double>(values[frame * channels + joint.first_channel + c]);
            const char channel = joint.channels[c];
            if (channel >= 'x')
                turn = turn * Eigen::AngleAxisd(rad_from_deg(value), Vector3d::Unit(channel - 'x'));
            else
                // A position replaces the offset's part of the root; elsewhere it adds to it.
                shift(channel - 'X') =
                    joint.parent < 0 ? value : joint.offset(channel - 'X') + value;
        }
        Eigen::Isometry3d here = Eigen::Isometry3d::Identity();
        here.linear() = turn;
        here.translation() = shift;
        placed[j] = joint.parent < 0 ? here : placed[static_cast<std::size_t>(joint.parent)] * here;
        out[j] = placed[j].translation();
    }
    return out;
}

int bvh_sureness(std::string_view bytes, const std::filesystem::path& path) {
    const std::string_view head = trimmed(without_mark(bytes).substr(0, 256));
    if (lower_case(head.substr(0, 9)) == "hierarchy")
        return 95;
    return lower_case(path.extension().string()) == ".bvh" ? 60 : 0;
}

Outcome<BvhSkeleton> parse_bvh(std::string_view bytes) {
    return BvhParser(without_mark(bytes)).parse();
}

Outcome<Take> read_bvh(std::string_view bytes, const ReadOptions& options) {
    Outcome<BvhSkeleton> file = parse_bvh(bytes);
    if (!file.ok())
        return {{}, std::move(file.findings)};
    const BvhSkeleton& skeleton = file.value;
    const NameTable table = options.names ? *options.names : NameTable::shipped();
    JointTake joints;
    joints.rate_hz = 1.0 / skeleton.frame_time_s;
    // Frame times are rounded: 0.0083333 means 120 Hz, 0.0083417 a television's 119.88.
    constexpr double kRounded = 0.0005;
    constexpr double kTelevision = 1.001;
    const double whole = std::round(joints.rate_hz);
    const double television = std::round(joints.rate_hz * kTelevision) / kTelevision;
    const double usual = std::abs(joints.rate_hz - whole) <= std::abs(joints.rate_hz - television)
                             ? whole
                             : television;
    if (std::abs(joints.rate_hz - usual) < kRounded * joints.rate_hz)
        joints.rate_hz = usual;
    joints.frames = skeleton.frames();
    joints.handed = options.handed.value_or(Handedness::Right);
    joints.handed_said = options.handed.has_value();
    joints.club = options.club.value_or(ClubKind::Iron);
    joints.club_said = options.club.has_value();
    Outcome<Take> out;
    if (joints.frames < 16) {
        out.findings = std::move(file.findings);
        out.add({Severity::Error, "too-few-frames",
                 "There are too few frames of motion (" + std::to_string(joints.frames) + ").",
                 "MOTION", "A swing needs some seconds of recording."});
        return out;
    }
    // The first joint of a name is the one meant.
    std::vector<std::pair<std::size_t, std::vector<Vector3d>*>> wanted;
    for (std::size_t j = 0; j < skeleton.joints.size(); ++j) {
        const auto name = table.find_joint(skeleton.joints[j].name);
        if (!name || joints.joints.count(*name) > 0)
            continue;
        auto& track = joints.joints[*name];
        track.resize(joints.frames);
        wanted.emplace_back(j, &track);
    }
    for (std::size_t frame = 0; frame < joints.frames && !wanted.empty(); ++frame) {
        const std::vector<Vector3d> positions = skeleton.positions(frame);
        for (const auto& [joint, track] : wanted)
            (*track)[frame] = positions[joint];
    }
    out = poses_from_joints(joints, options.axes);
    out.findings.insert(out.findings.begin(), file.findings.begin(), file.findings.end());
    return out;
}

} // namespace kite::formats
