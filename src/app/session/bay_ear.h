#pragma once

#include "app/session/swing_loader.h"
#include "core/live/bay.h"
#include "core/live/feedback.h"

#include <QObject>

#include <atomic>
#include <functional>
#include <memory>
#include <mutex>
#include <thread>
#include <vector>

namespace kite::live {
class Hearing;
} // namespace kite::live

namespace kite::app {

/// A device that was not heard for so long is said to be silent.
inline constexpr double kSilent_s = 2.0;

/// Where it is listened.
struct BayPlace {
    QString address;
    int port = 0;
};

/// A swing of the bay on its way to the window.
struct BayCatch {
    int number = 0;
    bool practice = false;
    double reference_s = 0.0;      ///< impact, or what stands for it, on the computer's clock
    std::vector<Finding> findings; ///< of how the sensors sit
    std::shared_ptr<const live::Heard> heard;
};

/// How things stand, several times a second.
struct BayState {
    std::vector<live::DeviceFacts> devices;
    double now_s = 0.0;
    bool listening = false;
    bool loopback = true;
    bool swinging = false;
    bool waits_for_launch = false; ///< a launch monitor is heard
    std::uint64_t not_understood = 0;
    QString last_problem;
    bool recording_failed = false;
    std::optional<live::MountGuide::Step> mount_step; ///< the guide is at work
    double mount_share = 0.0;
    QStringList mount_problems;
    bool mounted = false;
};

/// Listens on a thread of its own; everything it finds comes back as signals. What is asked of it
/// is done between two packets.
class BayEar : public QObject {
    Q_OBJECT
public:
    explicit BayEar(QObject* parent = nullptr);
    ~BayEar() override; ///< waits for the thread

    /// Findings: why it cannot.
    std::vector<Finding> listen(const BayPlace& place);
    void stop();
    bool is_listening() const { return thread_.joinable(); }
    int port() const { return port_; } ///< that is listened on

    void set_golfer(std::optional<Handedness> handed, std::optional<ClubKind> club);
    void set_drill(bool drill);
    void set_feedback(const std::optional<live::Feedback::Rule>& rule);
    void begin_mounting(Handedness handed);
    void forget_mounting();
    /// The fastest movement of the last half minute that is in no swing yet.
    void keep_by_hand();
    /// Writes all that arrives to a new file; findings: why not.
    std::vector<Finding> record_to(const QString& path);
    void stop_recording();
    /// Hears a recording instead, as fast as it goes; `refused` where it cannot be read.
    void replay(const QString& path);

signals:
    void state_changed(const kite::app::BayState& state);
    /// A reading can be made.
    void caught(const kite::app::BayCatch& swing);
    /// The same swing with its finish, as a file.
    void whole(int number, const std::shared_ptr<const std::string>& capture);
    void shot(int number, const kite::LaunchNumbers& numbers);
    void cue(kite::live::Cue cue);
    void nothing_to_keep();
    void refused(const QString& why);

private:
    using Wish = std::function<void(live::Hearing&)>;

    void ask(Wish wish);
    void run(const std::function<bool()>& hear);
    void connect_bay();
    void report(int run, bool listening);
    void look_at_mounting();

    /// What holds for whatever is heard, now and later.
    struct Settings {
        std::optional<Handedness> handed;
        std::optional<ClubKind> club;
        bool drill = false;
    };
    void apply(live::Hearing& hearing, const Settings& settings);

    Settings settings_;
    int run_ = 0; ///< counts how often hearing began
    /// Every recording counts its swings from one: those of all before it, and the last of this.
    int numbers_before_ = 0;
    int last_number_ = 0;
    std::thread thread_;
    std::atomic<bool> stop_{false};
    int port_ = 0;
    bool loopback_ = true;
    std::mutex mutex_;
    std::vector<Wish> wishes_;

    // The thread's own while it runs.
    std::unique_ptr<live::Hearing> hearing_;
    std::optional<live::MountGuide> guide_;
    std::optional<live::Feedback> feedback_;
};

} // namespace kite::app

Q_DECLARE_METATYPE(kite::app::BayState)
Q_DECLARE_METATYPE(kite::app::BayCatch)
