#include "app/rooms/bay/bay_room.h"
#include "app/session/plan_counting.h"
#include "app/session/workers.h"
#include "app/theme/text.h"
#include "formats/practice/drills_json.h"
#include "formats/text/bytes.h"
#include "live/capture.h"

#include <QDateTime>
#include <QDir>
#include <QFileInfo>
#include <QtConcurrent>

#include <cmath>

// What becomes of a swing: its reading, its launch numbers, its file, the drill's count.

namespace kite::app {

namespace {

constexpr int kLaunchWait_ms = 7000;
constexpr std::size_t kGlyphs = 10;

} // namespace

void BayRoom::take_caught(const BayCatch& caught) {
    Waiting& waiting = waiting_[caught.number];
    waiting.caught = caught;
    if (const Row* golfer = desk_->record().golfer(desk_->record().whose()))
        waiting.golfer = text_in(*golfer, "name");
    if (const Drill* here = drill())
        waiting.drill_tag = drill_tag(*desk_->plan().plan(), *here);
    reading_ = caught.number;
    show_state();
    const AnalysisOptions options = desk_->lesson().swings()->options();
    const RulesInUse rules = desk_->rules();
    auto* watcher = new QFutureWatcher<std::shared_ptr<const LoadedSwing>>(this);
    connect(watcher, &QFutureWatcherBase::finished, this, [this, watcher, caught] {
        take_reading(caught.number, watcher->result());
        watcher->deleteLater();
    });
    watcher->setFuture(QtConcurrent::run(&workers(), [caught, options, rules] {
        return swing_of(live::take_of(*caught.heard), options, rules);
    }));
}

void BayRoom::take_reading(int number, const std::shared_ptr<const LoadedSwing>& swing) {
    Waiting& waiting = waiting_[number];
    waiting.swing = swing;
    const BayCatch& caught = waiting.caught;
    if (reading_ == number)
        reading_ = 0;
    state_.swinging = false; // until it is heard of anew
    ++(caught.practice && !in_drill_ ? practices_ : swings_);
    shown_ = swing;
    shown_caught_ = caught;
    launch_words_.clear();
    drill_value_ = {};
    drill_passed_.reset();
    // What is made up counts for nobody's plan but the demo's.
    if (swing->ok && (!caught.heard->is_made_up || desk_->whose_record() == Desk::Whose::Demo ||
                      desk_->record().whose().isEmpty()))
        count_for_drill(*swing, caught.practice);
    last_.push_back({swings_, caught.practice && !in_drill_, swing->ok, swing->analysis.sequence,
                     swing->reading, drill_passed_});
    if (last_.size() > kGlyphs)
        last_.pop_front();
    if (!caught.findings.empty())
        say(caught.findings, tr("A sensor does not sit as it did"));
    show_state();
    emit read(number);
    keep_if_whole(number, true);
}

void BayRoom::take_shot(int number, const LaunchNumbers& numbers) {
    const auto waiting = waiting_.find(number);
    if (waiting == waiting_.end())
        return;
    waiting->second.launch = numbers;
    if (shown_caught_.number == number) {
        QStringList words;
        for (const LaunchField& field : kLaunchFields)
            if (const double value = numbers.*field.member; std::isfinite(value))
                words << QStringLiteral("%1 %2 %3")
                             .arg(said(field.name), number_text(value, field.decimals),
                                  QString::fromUtf8(field.unit));
        launch_words_ = words.mid(0, 3).join(QStringLiteral(", "));
        show_state();
    }
    keep_if_whole(number, false);
}

void BayRoom::keep_if_whole(int number, bool wait_for_launch) {
    const auto found = waiting_.find(number);
    if (found == waiting_.end() || !found->second.capture || !found->second.swing)
        return;
    // Launch numbers come some seconds after the shot.
    if (wait_for_launch && state_.waits_for_launch && !found->second.caught.practice &&
        !found->second.launch) {
        QTimer::singleShot(kLaunchWait_ms, this, [this, number] { keep_if_whole(number, false); });
        return;
    }
    keep(number);
}

QString BayRoom::folder() const {
    return QFileInfo(desk_->record().path()).dir().filePath(QStringLiteral("bay"));
}

void BayRoom::keep(int number) {
    const Waiting waiting = std::move(waiting_.at(number));
    waiting_.erase(number);
    const QString stamp =
        QDateTime::fromMSecsSinceEpoch(static_cast<qint64>(1000.0 * waiting.caught.reference_s))
            .toString(QStringLiteral("yyyy-MM-dd hh.mm.ss.zzz"));
    const QString file = QDir(folder()).filePath(stamp + QStringLiteral(".kitebay"));
    const bool practice = waiting.caught.practice && !waiting.launch && waiting.drill_tag.isEmpty();
    auto* watcher = new QFutureWatcher<std::vector<Finding>>(this);
    connect(watcher, &QFutureWatcherBase::finished, this, [this, watcher, waiting, file, practice] {
        const std::vector<Finding> findings = watcher->result();
        watcher->deleteLater();
        if (has_errors(findings)) {
            say(findings, tr("A swing of the bay cannot be kept"));
            return;
        }
        SwingRequest request;
        request.path = file;
        // Whose it is was settled when it was made.
        request.golfer = waiting.caught.heard->is_made_up ? tr("Stand-in") : waiting.golfer;
        // A practice swing is kept and marked, and not counted among the shots.
        if (practice) {
            request.marks.excluded = true;
            request.marks.note = tr("practice swing");
        }
        if (!waiting.drill_tag.isEmpty())
            tags_[file] = waiting.drill_tag;
        emit kept(desk_->lesson().swings()->open({request}));
    });
    watcher->setFuture(QtConcurrent::run(
        &workers(), [capture = waiting.capture, launch = waiting.launch, path = path_of(file)] {
            std::error_code ignored; // the writing says what is wrong
            std::filesystem::create_directories(path.parent_path(), ignored);
            return formats::write_bytes(path,
                                        launch ? live::with_launch(*capture, *launch) : *capture);
        }));
}

void BayRoom::tag_kept(int list_id, const QString& swing) {
    const SwingListModel* swings = desk_->lesson().swings();
    const int row = swings->row_of(list_id);
    if (row < 0)
        return;
    const auto tag = tags_.find(swings->request(row).path);
    if (tag == tags_.end())
        return;
    desk_->record().change(QStringLiteral("swing"), swing, {{"tags", tag->second.toStdString()}});
    tags_.erase(tag);
}

// ---- the drill

const Drill* BayRoom::drill() const {
    const auto& plan = desk_->plan().plan();
    return in_drill_ && plan ? main_drill_of(*plan, formats::shipped_drills()) : nullptr;
}

void BayRoom::set_drill(bool on) {
    in_drill_ = on;
    checks_.clear();
    ear_.set_drill(on);
    if (on && drill() == nullptr)
        shell_.show_message(
            tr("There is no drill yet"),
            tr("Movements are found all the same; what counts is said by a plan (Practice room)."));
    show_state();
}

void BayRoom::count_for_drill(const LoadedSwing& swing, bool practice) {
    const Drill* here = drill();
    if (here == nullptr)
        return;
    // Without a ball it is the exaggerated, slow one that is asked for.
    const PlanCheck check =
        check_swing(*here, swing.analysis, practice, &swing.reading,
                    desk_->plan().plan() ? desk_->plan().plan()->fault : std::string());
    drill_value_ = check.value;
    drill_passed_ = check.passed;
    if (!check.passed)
        return;
    checks_.push_back(check);
    if (count_running(desk_->plan(), *here, checks_, tr("count a swing of the bay")))
        checks_.clear();
}

} // namespace kite::app
