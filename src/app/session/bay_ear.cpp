#include "app/session/bay_ear.h"

#include "app/theme/text.h"
#include "formats/text/bytes.h"
#include "live/hearing.h"
#include "live/listener.h"

#include <QStringList>

#include <filesystem>

namespace kite::app {

namespace {

constexpr int kWait_ms = 10;
constexpr std::int64_t kQuiet_ns = 100000000;
constexpr std::int64_t kReport_ns = 150000000;
constexpr double kMountReach_s = 28.0;

} // namespace

BayEar::BayEar(QObject* parent) : QObject(parent), hearing_(std::make_unique<live::Hearing>()) {
    qRegisterMetaType<BayState>();
    qRegisterMetaType<BayCatch>();
    qRegisterMetaType<LaunchNumbers>();
    qRegisterMetaType<live::Cue>();
    qRegisterMetaType<std::shared_ptr<const std::string>>();
    connect_bay();
}

BayEar::~BayEar() {
    stop();
}

void BayEar::connect_bay() {
    // All of it happens on the thread that hears; signals carry it over.
    live::Bay& bay = hearing_->bay();
    bay.on_swing = [this](live::BaySwing swing) {
        BayCatch out;
        out.number = last_number_ = numbers_before_ + swing.number;
        out.practice = swing.practice;
        out.reference_s = swing.heard.cut.reference_s();
        out.findings = std::move(swing.findings);
        out.heard = std::make_shared<const live::Heard>(std::move(swing.heard));
        emit caught(out);
    };
    bay.on_whole = [this](const live::BaySwing& swing) {
        emit whole(numbers_before_ + swing.number,
                   std::make_shared<const std::string>(hearing_->capture(swing)));
    };
    bay.on_shot = [this](const live::BayShot& told) {
        emit shot(numbers_before_ + told.number, told.numbers);
    };
    bay.on_sample = [this](Segment segment, double t_s, const live::Imu& imu) {
        if (!feedback_)
            return;
        if (const auto heard = feedback_->add(segment, t_s, imu))
            emit cue(*heard);
    };
}

std::vector<Finding> BayEar::listen(const BayPlace& place) {
    stop();
    auto opened = live::Listener::open(place.address.toStdString(), place.port);
    if (!opened.ok())
        return opened.findings;
    const std::shared_ptr<live::Listener> listener = std::move(opened.value);
    port_ = listener->port();
    loopback_ = listener->is_loopback();
    run([this, listener] {
        const std::size_t count =
            listener->wait(kWait_ms, [this](std::int64_t time_ns, std::string_view bytes) {
                hearing_->take({live::RawRecord::Kind::Packet, time_ns, bytes});
            });
        return count > 0;
    });
    return {};
}

void BayEar::run(const std::function<bool()>& hear) {
    stop_ = false;
    thread_ = std::thread([this, hear, number = ++run_] {
        std::int64_t heard_ns = live::now_ns();
        std::int64_t reported_ns = 0;
        while (!stop_) {
            std::vector<Wish> wishes;
            {
                const std::lock_guard lock(mutex_);
                wishes.swap(wishes_);
            }
            for (const Wish& wish : wishes)
                wish(*hearing_);
            const bool heard = hear();
            const std::int64_t now_ns = live::now_ns();
            if (heard) {
                heard_ns = now_ns;
            } else if (now_ns - heard_ns > kQuiet_ns) {
                heard_ns = now_ns;
                hearing_->take({live::RawRecord::Kind::Tick, now_ns, {}});
            }
            if (now_ns - reported_ns > kReport_ns) {
                reported_ns = now_ns;
                look_at_mounting();
                report(number, true);
            }
        }
        hearing_->finish();
        report(number, false);
    });
}

void BayEar::stop() {
    stop_ = true;
    if (thread_.joinable())
        thread_.join();
}

void BayEar::ask(Wish wish) {
    if (!thread_.joinable()) {
        wish(*hearing_);
        return;
    }
    const std::lock_guard lock(mutex_);
    wishes_.push_back(std::move(wish));
}

void BayEar::apply(live::Hearing& hearing, const Settings& settings) {
    hearing.bay().set_handed(settings.handed);
    hearing.bay().set_club(settings.club);
    hearing.bay().set_drill(settings.drill);
}

void BayEar::set_golfer(std::optional<Handedness> handed, std::optional<ClubKind> club) {
    settings_.handed = handed;
    settings_.club = club;
    ask([this, settings = settings_](live::Hearing& hearing) { apply(hearing, settings); });
}

void BayEar::set_drill(bool drill) {
    settings_.drill = drill;
    ask([this, settings = settings_](live::Hearing& hearing) { apply(hearing, settings); });
}

void BayEar::set_feedback(const std::optional<live::Feedback::Rule>& rule) {
    ask([this, rule](live::Hearing&) {
        feedback_.reset();
        if (rule)
            feedback_.emplace(*rule);
    });
}

void BayEar::begin_mounting(Handedness handed) {
    ask([this, handed](live::Hearing& hearing) { guide_.emplace(handed, hearing.bay().now_s()); });
}

void BayEar::forget_mounting() {
    ask([this](live::Hearing& hearing) {
        guide_.reset();
        hearing.bay().set_mounts({});
    });
}

void BayEar::keep_by_hand() {
    ask([this](live::Hearing& hearing) {
        if (!hearing.bay().keep_by_hand())
            emit nothing_to_keep();
    });
}

std::vector<Finding> BayEar::record_to(const QString& path) {
    auto writer = live::RawWriter::create(path.toStdString());
    if (!writer.ok())
        return writer.findings;
    const auto shared = std::make_shared<std::unique_ptr<live::RawWriter>>(std::move(writer.value));
    ask([shared](live::Hearing& hearing) { hearing.record_to(std::move(*shared)); });
    return {};
}

void BayEar::stop_recording() {
    ask([](live::Hearing& hearing) { hearing.record_to(nullptr); });
}

void BayEar::replay(const QString& path) {
    stop();
    // What the recording says of devices and clocks is of its own time.
    hearing_ = std::make_unique<live::Hearing>();
    numbers_before_ = last_number_;
    connect_bay();
    apply(*hearing_, settings_);
    struct Recording {
        std::string bytes;
        std::string_view rest;
        bool opened = false;
    };
    const auto recording = std::make_shared<Recording>();
    run([this, recording, path = path_of(path)] {
        if (!recording->opened) {
            auto bytes = formats::read_bytes(path);
            recording->bytes = std::move(bytes.value);
            const auto file = live::open_raw(recording->bytes);
            recording->opened = true;
            recording->rest = file.value.records;
            const auto& findings = bytes.ok() ? file.findings : bytes.findings;
            if (has_errors(findings))
                emit refused(QString::fromStdString(text_of(findings.front())));
        }
        constexpr int kAtOnce = 2000;
        for (int i = 0; i < kAtOnce; ++i) {
            const auto record = live::next_record(recording->rest);
            if (!record) {
                stop_ = true;
                break;
            }
            hearing_->take(*record);
        }
        return true;
    });
}

void BayEar::look_at_mounting() {
    if (!guide_ || guide_->step() == live::MountGuide::Step::Done ||
        guide_->step() == live::MountGuide::Step::Failed)
        return;
    const double now_s = hearing_->bay().now_s();
    guide_->look(hearing_->bay().parts({now_s - kMountReach_s, now_s}), now_s);
    if (guide_->step() == live::MountGuide::Step::Done)
        hearing_->bay().set_mounts(guide_->result().value.mounts);
}

void BayEar::report(int run, bool listening) {
    const live::Bay& bay = hearing_->bay();
    BayState state;
    state.devices = bay.devices();
    state.now_s = bay.now_s();
    state.listening = listening;
    state.loopback = loopback_;
    state.swinging = bay.is_swinging();
    state.waits_for_launch = bay.has_launch();
    const live::HeardCounts& counts = hearing_->counts();
    state.not_understood = counts.not_understood;
    state.last_problem = QString::fromStdString(counts.last_problem);
    state.recording_failed = counts.recording_failed;
    state.mounted = !bay.mounts().empty();
    if (guide_) {
        state.mount_step = guide_->step();
        state.mount_share = guide_->share();
        for (const Finding& finding : guide_->result().findings)
            state.mount_problems << QString::fromStdString(text_of(finding));
    }
    // What an earlier run reports may arrive when the next has begun: its end is not that one's.
    QMetaObject::invokeMethod(
        this,
        [this, run, state] {
            if (run == run_)
                emit state_changed(state);
        },
        Qt::QueuedConnection);
}

} // namespace kite::app
