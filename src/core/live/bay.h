#pragma once

#include "core/live/device.h"
#include "core/live/mounting.h"
#include "core/live/swing_take.h"

#include <deque>
#include <functional>
#include <map>
#include <string>
#include <vector>

namespace kite::live {

/// A swing that was found among what the devices said.
struct BaySwing {
    int number = 0;        ///< from 1, practice swings too
    bool practice = false; ///< no blow was felt
    bool by_hand = false;  ///< kept by hand, after the fact
    Heard heard;
    std::vector<DeviceFacts> devices; ///< as they were heard by then
    std::vector<Finding> findings;    ///< of mounts
    double known_at_s = 0.0;          ///< when all that it needs was there, on the computer's clock
};

/// Launch numbers that found their swing.
struct BayShot {
    int number = 0; ///< the swing's
    LaunchNumbers numbers;
};

/// From messages to swings. All times are the computer's, as the arrivals tell them; nothing here
/// looks at a clock, so the same messages give the same swings again.
class Bay {
public:
    static constexpr std::size_t kMostDevices = 16;

    /// As soon as a reading can be made: kNeededAfter_s after impact.
    std::function<void(BaySwing)> on_swing;
    /// The same swing with its finish.
    std::function<void(BaySwing)> on_whole;
    std::function<void(const BayShot&)> on_shot;
    /// Every sample of a part, as it comes; for feedback while moving.
    std::function<void(Segment, double t_s, const Imu&)> on_sample;

    void set_handed(std::optional<Handedness> handed) { handed_ = handed; }
    void set_club(std::optional<ClubKind> club) { club_ = club; }
    /// In a drill every movement away and back counts, whatever its speed.
    void set_drill(bool drill);
    void set_mounts(Mounts mounts);
    /// Until the first swing the golfer may show by the way how the sensors sit (MountGuide); used
    /// where they do not sit straight. `on_mounted` is told.
    void watch_for_mounting() { guide_.emplace(handed_.value_or(Handedness::Right), now_s_); }
    std::function<void()> on_mounted;
    const Mounts& mounts() const { return mounts_; }

    void take(const Message& message, double arrival_s);
    /// Time passes though nothing may come.
    void tick(double now_s);
    /// What waits for more is given with what there is.
    void finish();

    std::vector<DeviceFacts> devices() const;
    const Device* device_of(Role role) const; ///< the one that is heard best; nullptr: none
    /// What the sensors said, in their own axes.
    Parts parts(TimeRange range) const;
    /// Something faster than standing goes on, or did a moment ago.
    bool is_swinging() const { return candidate_.has_value(); }
    double now_s() const { return now_s_; } ///< the latest arrival or tick
    bool has_launch() const;
    /// Swings so far, practice swings too.
    int count() const { return count_; }
    std::size_t memory_bytes() const;

    /// The fastest moment of the last half minute that is in no swing yet, kept as one. False:
    /// there is nothing.
    bool keep_by_hand();

private:
    struct Candidate {
        double t_s = 0.0;
        double speed_deg_s = 0.0;
        double needs_until_s = 0.0; ///< judged when all was heard up to there
    };
    struct Past {
        int number = 0;
        double reference_s = 0.0;
        bool practice = false;
        bool has_launch = false;
    };

    Device& device(const std::string& name);
    void watch(const Device& device, const Imu& imu, double t_s);
    void take_shot(const Shot& shot);
    bool all_heard(double until_s) const;
    void judge(bool at_once);
    void look(); ///< at what has come
    void look_for_movement();
    void look_for_mounting();
    void found(Cut cut, bool by_hand);
    Heard heard_in(const Cut& cut) const;
    void give_whole(bool at_once);
    TimeRange recent(double length_s) const { return {now_s_ - length_s, now_s_ + 1.0}; }

    std::map<std::string, Device> devices_;
    Mounts mounts_;
    std::map<Segment, Eigen::Vector3d> up_before_; ///< at address, since they were mounted
    std::optional<Handedness> handed_;             ///< as it was said
    std::optional<Handedness> seen_handed_;        ///< as the last full swing turned
    std::optional<ClubKind> club_;
    bool drill_ = false;
    double now_s_ = 0.0;
    double looked_s_ = 0.0;
    double not_before_s_ = 0.0; ///< where the swing before was over
    std::optional<MountGuide> guide_;
    double guided_s_ = 0.0; ///< when it last looked
    std::optional<Candidate> candidate_;
    std::optional<BaySwing> unfinished_; ///< given already, without its finish
    int count_ = 0;
    std::deque<Past> past_;
};

} // namespace kite::live
