#include "app/rooms/film/film_room.h"

#include "app/charts/kite_view.h"
#include "app/charts/stair_chart.h"
#include "app/rooms/film/film_player.h"
#include "app/rooms/film/film_view.h"
#include "app/rooms/film/frame_strip.h"
#include "app/session/film_files.h"
#include "app/session/workers.h"
#include "app/shell/jobs.h"
#include "app/theme/text.h"
#include "app/theme/theme.h"
#include "app/widgets/labels.h"
#include "app/widgets/wrapped.h"
#include "core/film/film_take.h"
#include "core/reading/words.h"
#include "formats/film/film_json.h"
#include "formats/text/bytes.h"
#include "store/film_beside.h"

#include <QAbstractSpinBox>
#include <QAction>
#include <QApplication>
#include <QBuffer>
#include <QDir>
#include <QFileDialog>
#include <QFileInfo>
#include <QFrame>
#include <QHBoxLayout>
#include <QSettings>
#include <QStackedWidget>
#include <QToolButton>
#include <QVBoxLayout>
#include <QtConcurrent>

#include <algorithm>

namespace kite::app {

using film::Pixel;
using film::Point;

namespace {

constexpr int kMeasureAfter_ms = 250;
constexpr int kSaveAfter_ms = 600;
constexpr int kPlayStep_ms = 33;
constexpr double kPlaySpeed = 0.1; ///< share of real time
/// Marked pictures with which measuring is worth a try.
constexpr std::size_t kFewest = 20;

/// Which side a film shows, as its name may tell; else the first one that is still free.
film::Side side_of(const QString& path, const std::set<film::Side>& taken) {
    const QString name = QFileInfo(path).completeBaseName().toLower();
    if (name.contains(QLatin1String("line")) || name.contains(QLatin1String("behind")))
        return film::Side::DownTheLine;
    if (name.contains(QLatin1String("above")) || name.contains(QLatin1String("overhead")))
        return film::Side::Above;
    for (const film::Side side : {film::Side::FaceOn, film::Side::DownTheLine, film::Side::Above})
        if (taken.count(side) == 0)
            return side;
    return film::Side::FaceOn;
}

QString short_side_name(film::Side side) {
    switch (side) {
    case film::Side::FaceOn:
        return FilmRoom::tr("Face-on");
    case film::Side::DownTheLine:
        return FilmRoom::tr("Down the line");
    case film::Side::Above:
        return FilmRoom::tr("From above");
    }
    return {};
}

} // namespace

FilmRoom::FilmRoom(Shell& shell, std::shared_ptr<Desk> desk)
    : shell_(shell), desk_(std::move(desk)) {
    make_page();
    measure_soon_.setSingleShot(true);
    measure_soon_.setInterval(kMeasureAfter_ms);
    connect(&measure_soon_, &QTimer::timeout, this, &FilmRoom::measure);
    save_timer_.setSingleShot(true);
    save_timer_.setInterval(kSaveAfter_ms);
    connect(&save_timer_, &QTimer::timeout, this, &FilmRoom::save_aside);
    connect(&saver_, &QFutureWatcherBase::finished, this, [this] { say_saved(saver_.result()); });
    play_.setInterval(kPlayStep_ms);
    connect(&play_, &QTimer::timeout, this, &FilmRoom::play_on);
    connect(&watcher_, &QFutureWatcherBase::finished, this, &FilmRoom::take_measured);
    connect(&marking_, &Marking::changed, this, &FilmRoom::marks_changed);
    connect(&shown_, &TimeLine::cursor_changed, this, [this] {
        if (!moving_)
            show_at(shown_.cursor_s());
    });
    connect(&desk_->record(), &RecordKeeper::kept, this, [this](int list_id, const QString& swing) {
        if (film_in_record_)
            keep_film(list_id, swing);
    });
    connect(&Theme::instance(), &Theme::changed, this, &FilmRoom::restyle);
    restyle();
}

FilmRoom::~FilmRoom() {
    save_now();
    watcher_.waitForFinished();
    delete page_;
}

void FilmRoom::make_page() {
    const Theme& theme = Theme::instance();
    page_ = new QWidget;
    auto* outer = new QVBoxLayout(page_);
    outer->setContentsMargins(0, 0, 0, 0);
    pages_ = new QStackedWidget(page_);
    outer->addWidget(pages_);

    empty_ = new QWidget(pages_);
    auto* nothing = new QVBoxLayout(empty_);
    nothing->setContentsMargins(theme.scaled(40), theme.scaled(40), theme.scaled(40), 0);
    nothing->addWidget(
        make_label(tr("No film is open"), theme.font(20, Theme::Weight::Bold), "", empty_));
    nothing->addWidget(new WrappedText(
        tr("Open the film of one swing: from the front, and if there is a second phone also from "
           "behind, along the target line. Slow motion, phone upright, the golfer as large as "
           "hands "
           "and club allow, a stick in the belt. Film stays on this machine."),
        theme.font(14), empty_));
    auto* open = new QToolButton(empty_);
    open->setObjectName(QStringLiteral("film_open"));
    open->setText(tr("Open film…"));
    connect(open, &QToolButton::clicked, this, &FilmRoom::choose_files);
    auto* demo = new QToolButton(empty_);
    demo->setObjectName(QStringLiteral("film_demo"));
    demo->setText(tr("Look at the demo film"));
    connect(demo, &QToolButton::clicked, this, &FilmRoom::open_demo);
    auto* both_ways = new QHBoxLayout;
    both_ways->addWidget(open);
    both_ways->addWidget(demo);
    both_ways->addStretch(1);
    nothing->addLayout(both_ways);
    nothing->addStretch(1);
    pages_->addWidget(empty_);

    auto* work = new QWidget(pages_);
    auto* row = new QHBoxLayout(work);
    row->setContentsMargins(theme.scaled(14), theme.scaled(10), theme.scaled(12), theme.scaled(10));
    row->setSpacing(theme.scaled(12));
    auto* left = new QVBoxLayout;
    left->setSpacing(theme.scaled(4));
    title_ = new ElidedLabel(work);
    next_ = make_label({}, theme.font(15, Theme::Weight::Semibold), "accent", work);
    next_->setObjectName(QStringLiteral("film_next"));
    next_->setWordWrap(true);
    left->addWidget(title_);
    left->addWidget(next_);
    films_ = new QHBoxLayout;
    films_->setSpacing(theme.scaled(8));
    left->addLayout(films_, 1);
    auto* buttons = new QHBoxLayout;
    const auto button = [&](const char* name, const QString& words, const QString& tip,
                            auto&& run) {
        auto* out = new QToolButton(work);
        out->setObjectName(QString::fromLatin1(name));
        out->setText(words);
        out->setToolTip(tip);
        connect(out, &QToolButton::clicked, this, run);
        buttons->addWidget(out);
    };
    button("film_propose", tr("Find the moments"), tr("From the sound and the motion (P)"),
           [this] { propose(); });
    button("film_follow", tr("Follow"), tr("The points of this picture through the film (F)"),
           [this] { follow(true); });
    button("film_accept", tr("Accept"), tr("What was followed, all of it (Shift+Enter)"),
           [this] { accept(true); });
    button("film_bench", tr("To the Bench"), tr("With the whole reading (Ctrl+Enter)"),
           [this] { to_bench(); });
    buttons->addStretch(1);
    left->addLayout(buttons);
    row->addLayout(left, 5);

    auto* right = new QVBoxLayout;
    right->setSpacing(theme.scaled(8));
    const auto card = [&](QWidget* inside, int stretch) {
        auto* frame = new QFrame(work);
        frame->setObjectName(QStringLiteral("card"));
        auto* layout = new QVBoxLayout(frame);
        layout->setContentsMargins(1, 1, 1, 1);
        layout->addWidget(inside);
        right->addWidget(frame, stretch);
        return frame;
    };
    facts_ = new FactsPanel(&marking_, work);
    facts_->setMinimumHeight(theme.scaled(200));
    card(facts_, 7);
    auto* both = new QWidget(work);
    auto* charts = new QVBoxLayout(both);
    charts->setContentsMargins(0, 0, 0, 0);
    reading_ = new WrappedText({}, theme.font(13, Theme::Weight::Semibold), both);
    reading_->setObjectName(QStringLiteral("film_reading"));
    reading_->setContentsMargins(theme.scaled(12), theme.scaled(8), theme.scaled(8), 0);
    charts->addWidget(reading_);
    stair_ = new StairChart(&shown_, both);
    stair_->setObjectName(QStringLiteral("film_stair"));
    charts->addWidget(stair_, 9);
    kite_ = new KiteView(&shown_, both);
    kite_->setObjectName(QStringLiteral("film_kite"));
    charts->addWidget(kite_, 4);
    charts_ = card(both, 10);
    charts_->hide();
    row->addLayout(right, 4);
    pages_->addWidget(work);
    connect(facts_, &FactsPanel::line_asked, this, [this](FactsPanel::LineKind kind) {
        line_ = kind;
        for (std::size_t i = 0; i < panes_.size(); ++i)
            panes_[i].view->ask_for_line(i == active_);
        show_next();
    });
}

void FilmRoom::restyle() {
    const Theme& theme = Theme::instance();
    title_->setFont(theme.font(17, Theme::Weight::Bold));
    next_->setFont(theme.font(15, Theme::Weight::Semibold));
    reading_->setFont(theme.font(13, Theme::Weight::Semibold));
    for (const Pane& pane : panes_)
        pane.head->setFont(theme.font(12));
}

void FilmRoom::read_settings(const QSettings& settings) {
    face_covered_ = settings.value(QStringLiteral("film/face_covered"), false).toBool();
    film_in_record_ = settings.value(QStringLiteral("film/in_record"), false).toBool();
    if (in_record_action_ != nullptr)
        in_record_action_->setChecked(film_in_record_);
}

void FilmRoom::write_settings(QSettings& settings) const {
    settings.setValue(QStringLiteral("film/face_covered"), face_covered_);
    settings.setValue(QStringLiteral("film/in_record"), film_in_record_);
}

// ---- opening

void FilmRoom::choose_files() {
    QStringList endings;
    for (const std::string& ending : film::film_endings())
        endings << QStringLiteral("*.") + QString::fromStdString(ending);
    const QStringList paths = QFileDialog::getOpenFileNames(
        shell_.widget(), tr("Open the film of one swing, from one to three sides"), {},
        tr("Film and marks (%1 *.film.json);;All files (*)").arg(endings.join(QLatin1Char(' '))));
    if (!paths.isEmpty())
        open(paths);
}

void FilmRoom::open_demo() {
    const QString lesson = find_demo_lesson();
    const QString film =
        QFileInfo(lesson).dir().filePath(QStringLiteral("../film/two-phones.film.json"));
    if (lesson.isEmpty() || !QFileInfo::exists(film)) {
        shell_.show_message(
            tr("The demo film is missing"),
            tr("It belongs in share/kite-hinge/demo/film beside the program; install it again."));
        return;
    }
    open({QDir::cleanPath(film)});
}

bool FilmRoom::open(const QStringList& paths) {
    QStringList films;
    for (const QString& path : paths) {
        if (is_marks_name(path)) {
            const QString whole = QFileInfo(path).absoluteFilePath();
            const auto bytes = formats::read_bytes(whole.toStdString());
            auto marks = formats::read_film_marks(bytes.value);
            if (!bytes.ok() || !marks.ok()) {
                const Finding& finding =
                    bytes.ok() ? marks.findings.front() : bytes.findings.front();
                shell_.show_message(tr("These marks cannot be read"),
                                    QString::fromStdString(text_of(finding)));
                return true;
            }
            begin(std::move(marks.value), whole);
            return true;
        }
        if (is_film(path))
            films << QFileInfo(path).absoluteFilePath();
    }
    if (films.isEmpty())
        return false;
    const QFileInfo first(films.front());
    const QString marks_path = marks_beside(films.front());
    // Film that was marked before goes on from there.
    if (QFileInfo::exists(marks_path))
        return open({marks_path});
    film::Marks marks;
    std::set<film::Side> taken;
    for (const QString& path : films.mid(0, 3)) {
        film::View view;
        view.side = side_of(path, taken);
        taken.insert(view.side);
        view.film = QFileInfo(path).fileName().toStdString();
        if (QFileInfo(path).dir() != first.dir())
            view.film = path.toStdString();
        marks.views.push_back(std::move(view));
    }
    begin(std::move(marks), marks_path);
    return true;
}

void FilmRoom::begin(film::Marks marks, const QString& path) {
    save_now();
    set_playing(false);
    panes_.clear();
    path_ = path;
    active_ = 0;
    at_s_ = 0.0;
    skipped_.clear();
    waits_at_.reset();
    lost_words_.clear();
    line_.reset();
    dirty_ = false;
    shown_.set_swing(nullptr);
    charts_->hide();
    marking_.begin(std::move(marks));
    dirty_ = false; // what was just read is on disk
    fresh_ = true;
    save_timer_.stop();
    title_->setText(QFileInfo(path).fileName().section(QLatin1Char('.'), 0, -3));
    make_panes();
    facts_->show_view(0);
    pages_->setCurrentIndex(1);
    open_films();
    show_next();
    measure();
}

void FilmRoom::make_panes() {
    while (QLayoutItem* item = films_->takeAt(0)) {
        delete item->widget();
        delete item;
    }
    for (std::size_t i = 0; i < marking_.views(); ++i) {
        Pane pane;
        pane.widget = new QWidget(page_);
        auto* layout = new QVBoxLayout(pane.widget);
        layout->setContentsMargins(0, 0, 0, 0);
        layout->setSpacing(Theme::instance().scaled(3));
        pane.head = new ElidedLabel(pane.widget);
        pane.head->setFont(Theme::instance().font(12));
        pane.head->setObjectName(QStringLiteral("film_head_%1").arg(i));
        pane.view = new FilmView(&marking_, i, pane.widget);
        pane.strip = new FrameStrip(&marking_, i, pane.widget);
        pane.view->cover_face(face_covered_);
        layout->addWidget(pane.head);
        layout->addWidget(pane.view, 1);
        layout->addWidget(pane.strip);
        pane.player = std::make_unique<FilmPlayer>();
        films_->addWidget(pane.widget, 1);
        panes_.push_back(std::move(pane));
        connect_pane(i);
    }
    if (!panes_.empty())
        panes_.front().view->setFocus();
}

void FilmRoom::connect_pane(std::size_t index) {
    Pane& pane = panes_[index];
    FilmPlayer* player = pane.player.get();
    connect(pane.view, &FilmView::pressed, this, [this, index] { activate(index); });
    connect(pane.view, &FilmView::put, this,
            [this, index](Point point, const Pixel& at, int gesture) {
                marking_.put(index, panes_[index].view->picture(), point, at, gesture);
            });
    // Not before the button is up: until then the point may still be dragged.
    connect(pane.view, &FilmView::released, this, &FilmRoom::follow_on);
    connect(pane.view, &FilmView::line_drawn, this, &FilmRoom::take_line);
    connect(pane.view, &FilmView::step_asked, this, [this, index](int pictures) {
        activate(index);
        step(pictures);
    });
    connect(pane.strip, &FrameStrip::picture_asked, this, [this, index](std::size_t picture) {
        activate(index);
        set_playing(false);
        go_to(picture);
    });
    connect(player, &FilmPlayer::opened, this, [this, index, player] {
        const bool was_saved = !dirty_;
        const bool was_fresh = fresh_;
        marking_.set_film(index, player->facts());
        if (was_saved)
            dirty_ = false; // nobody said anything yet
        fresh_ = was_fresh;
        show_at(at_s_);
        report_job();
        const bool all = std::all_of(panes_.begin(), panes_.end(),
                                     [](const Pane& one) { return one.player->is_open(); });
        if (all)
            emit films_opened();
    });
    connect(player, &FilmPlayer::failed, this, [this](const QString& what, const QString& mend) {
        shell_.show_message(tr("The marks are shown without their film"),
                            what + QLatin1Char(' ') + mend);
        report_job();
    });
    connect(player, &FilmPlayer::shown_changed, this, [this, index, player] {
        Pane& one = panes_[index];
        one.view->show_picture(player->image(), player->shown());
        show_next();
    });
    connect(player, &FilmPlayer::followed, this,
            [this, index](std::size_t picture, const film::FollowedPoints& points) {
                panes_[index].found[picture] = points;
            });
    connect(player, &FilmPlayer::follow_ended, this,
            [this, index](std::size_t last) { take_followed(index, last); });
    connect(player, &FilmPlayer::proposed, this,
            [this, index](const film::GuessedMoments& moments, bool heard) {
                if (!moments.impact_s) {
                    shell_.show_message(tr("The moments do not show themselves"),
                                        tr("Go to address, top and impact and press A, T and I."));
                    return;
                }
                marking_.set_moments(index, moments);
                lost_words_ = heard
                                  ? tr("Impact was heard. Look at the moments; A, T and I put them "
                                       "where the film stands.")
                                  : tr("Found by the motion alone. Look at the moments; A, T and I "
                                       "put them where the film stands.");
                step_planned(0);
            });
    connect(player, &FilmPlayer::working_changed, this, [this] {
        report_job();
        show_next();
    });
}

void FilmRoom::open_films() {
    const QDir folder = QFileInfo(path_).dir();
    for (std::size_t i = 0; i < panes_.size(); ++i) {
        const std::string& film = marking_.view(i).film;
        if (!film.empty())
            panes_[i].player->open(folder.absoluteFilePath(QString::fromStdString(film)));
    }
    report_job();
    show_at(marking_.views() > 0 && !marking_.view(0).frames.empty()
                ? marking_.view(0).frames.front().t_s
                : 0.0);
}

void FilmRoom::entered() {
    // The film of the swing that is looked at, unless there is one under work.
    if (path_.isEmpty()) {
        QString shown = desk_->shown_file();
        // Of a swing from the record: its film, if that was kept with it.
        const QString kept = desk_->shown_in_record();
        const QDir folder(QString::fromStdString(
            store::film_folder(desk_->record().path().toStdString(), kept.toStdString()).string()));
        if (!kept.isEmpty() && !QFileInfo::exists(shown))
            for (const QString& file : folder.entryList({QStringLiteral("*.film.json")}))
                shown = folder.filePath(file);
        if (is_marks_name(shown) && QFileInfo::exists(shown))
            open({shown});
    }
    if (!panes_.empty())
        panes_[active_].view->setFocus();
    if (dirty_)
        measure();
}

void FilmRoom::activate(std::size_t index) {
    if (index == active_ || index >= panes_.size())
        return;
    waits_at_.reset();
    active_ = index;
    facts_->show_view(index);
    show_next();
}

bool FilmRoom::is_busy() const {
    return watcher_.isRunning() || measure_soon_.isActive() ||
           std::any_of(panes_.begin(), panes_.end(),
                       [](const Pane& pane) { return pane.player->is_working(); });
}

void FilmRoom::report_job() {
    const bool opening = std::any_of(panes_.begin(), panes_.end(), [](const Pane& pane) {
        return pane.player->is_opening() || pane.player->is_working();
    });
    if (opening || watcher_.isRunning())
        shell_.jobs().report(id(), tr("looking at film"), 0, 1);
    else
        shell_.jobs().end(id());
}

// ---- where the films stand

double FilmRoom::offset_s(std::size_t index) const {
    if (index == 0 || index >= marking_.views())
        return 0.0;
    const film::View& view = marking_.view(index);
    if (view.offset_s)
        return *view.offset_s;
    // By a moment that both show, the last one that there is.
    const auto& first = marking_.view(0).moments_s;
    for (const Moment moment : {Moment::Impact, Moment::Top, Moment::Address})
        if (first.count(moment) > 0 && view.moments_s.count(moment) > 0)
            return first.at(moment) - view.moments_s.at(moment);
    return 0.0;
}

std::size_t FilmRoom::picture() const {
    return active_ < panes_.size() ? panes_[active_].view->picture() : 0;
}

double FilmRoom::time_s() const {
    if (active_ >= marking_.views() || marking_.times_s(active_).empty())
        return 0.0;
    const auto& times = marking_.times_s(active_);
    return times[std::min(picture(), times.size() - 1)] + offset_s(active_);
}

void FilmRoom::show_at(double t_s) {
    at_s_ = t_s;
    for (std::size_t i = 0; i < panes_.size(); ++i) {
        const std::vector<double>& times = marking_.times_s(i);
        if (times.empty())
            continue;
        const std::size_t number = film::nearest_picture(times, t_s - offset_s(i));
        panes_[i].strip->set_picture(number);
        if (panes_[i].player->is_open())
            panes_[i].player->show(number);
        else
            panes_[i].view->show_picture({}, number);
    }
    moving_ = true;
    if (shown_.has_swing())
        shown_.set_cursor_s(t_s);
    moving_ = false;
    show_next();
}

void FilmRoom::go_to(std::size_t picture) {
    if (active_ >= marking_.views() || marking_.times_s(active_).empty())
        return;
    const auto& times = marking_.times_s(active_);
    show_at(times[std::min(picture, times.size() - 1)] + offset_s(active_));
}

void FilmRoom::step(int pictures) {
    if (active_ >= marking_.views() || marking_.times_s(active_).empty())
        return;
    set_playing(false);
    // From where it is meant to stand: pictures that are still on their way count.
    const auto& times = marking_.times_s(active_);
    const auto now =
        static_cast<std::ptrdiff_t>(film::nearest_picture(times, at_s_ - offset_s(active_)));
    const auto last = static_cast<std::ptrdiff_t>(times.size()) - 1;
    const auto at = static_cast<std::size_t>(std::clamp<std::ptrdiff_t>(now + pictures, 0, last));
    show_at(times[at] + offset_s(active_));
}

void FilmRoom::shift_film(int pictures) {
    if (marking_.views() < 2 || !(marking_.view(active_).capture_rate_hz > 0.0))
        return;
    set_playing(false);
    // Offsets count against the first film: where that one is shifted the other goes the other way.
    const std::size_t moved = active_ == 0 ? 1 : active_;
    const double by_s =
        (active_ == 0 ? 1.0 : -1.0) * pictures / marking_.view(active_).capture_rate_hz;
    const double offset = offset_s(moved) + by_s;
    marking_.edit(moved, tr("putting the films in step"),
                  [offset](film::View& view) { view.offset_s = offset; });
    show_at(active_ == 0 ? at_s_ + by_s : at_s_);
}

void FilmRoom::step_planned(int direction) {
    if (active_ >= marking_.views())
        return;
    const film::MarkingPlan plan = marking_.plan(active_);
    if (plan.pictures.empty())
        return;
    const auto& times = marking_.times_s(active_);
    const double now_s = at_s_ - offset_s(active_);
    std::size_t target = plan.pictures.front();
    if (direction > 0) {
        target = plan.pictures.back();
        for (auto it = plan.pictures.rbegin(); it != plan.pictures.rend(); ++it)
            if (times[*it] > now_s + 1e-6)
                target = *it;
    } else if (direction < 0) {
        for (const std::size_t picture : plan.pictures)
            if (times[picture] < now_s - 1e-6)
                target = picture;
    }
    go_to(target);
}

void FilmRoom::set_playing(bool playing) {
    if (playing)
        play_.start();
    else
        play_.stop();
}

void FilmRoom::play_on() {
    if (active_ >= marking_.views() || marking_.times_s(active_).empty()) {
        set_playing(false);
        return;
    }
    const double end_s = marking_.times_s(active_).back() + offset_s(active_);
    const double next_s = at_s_ + kPlaySpeed * 0.001 * kPlayStep_ms;
    if (next_s > end_s)
        set_playing(false);
    else
        show_at(next_s);
}

// ---- what is next

std::optional<Point> FilmRoom::next_point() const {
    if (active_ >= marking_.views())
        return std::nullopt;
    const film::MarkingPlan plan = marking_.plan(active_);
    const std::size_t now = picture();
    if (!std::binary_search(plan.pictures.begin(), plan.pictures.end(), now))
        return std::nullopt;
    for (const Point point : plan.points)
        if (!marking_.seen(active_, now, point).at &&
            skipped_.count({active_, now, static_cast<int>(point)}) == 0)
            return point;
    return std::nullopt;
}

QString FilmRoom::next_words() const {
    if (active_ >= marking_.views())
        return {};
    const film::View& view = marking_.view(active_);
    if (panes_[active_].player->is_working())
        return tr("Looking through the film…");
    if (line_)
        return tr("Click both ends of the line.");
    if (marking_.has_film(active_) && !(view.capture_rate_hz > 0.0))
        return tr("Say at how many pictures a second it was filmed.");
    const film::MarkingPlan plan = marking_.plan(active_);
    if (plan.pictures.empty())
        return tr("First the moments: find them (P), or go to address, top and impact and press A, "
                  "T, I.");
    if (asked_ && waits_at_ == picture())
        return tr("Lost here: click the %1, and following goes on (S: it cannot be seen).")
            .arg(point_name(*asked_));
    if (asked_)
        return tr("Click the %1.").arg(point_name(*asked_));
    if (!lost_words_.isEmpty())
        return lost_words_;
    const std::size_t now = picture();
    if (marking_.is_guessed(active_, now))
        return tr("Followed, not accepted yet: drag what is wrong, then Shift+Enter accepts all.");
    std::size_t open = 0;
    for (const std::size_t planned : plan.pictures)
        open += marking_.is_marked(active_, planned) ? 0U : 1U;
    if (open == 0)
        return tr("All pictures of this film are marked.");
    if (marking_.is_marked(active_, now))
        return tr("This picture is marked; follow its points from here (F).");
    return tr("%n pictures are still to be marked: Page Down goes to the next.", "",
              static_cast<int>(open));
}

void FilmRoom::show_next() {
    if (panes_.empty())
        return;
    asked_ = panes_[active_].player->is_working() ? std::nullopt : next_point();
    for (std::size_t i = 0; i < panes_.size(); ++i) {
        Pane& pane = panes_[i];
        pane.view->ask_for(i == active_ ? asked_ : std::nullopt);
        const film::View& view = marking_.view(i);
        const auto& times = marking_.times_s(i);
        QStringList words{short_side_name(view.side)};
        const std::size_t at = pane.view->picture();
        if (at < times.size())
            words << tr("%1 s").arg(number_text(times[at], 3))
                  << tr("%1 of %2").arg(at + 1).arg(times.size());
        if (view.capture_rate_hz > 0.0)
            words << tr("%1 a second").arg(number_text(view.capture_rate_hz, 0));
        pane.head->setText(words.join(QStringLiteral(" · ")));
    }
    next_->setText(next_words());
}

void FilmRoom::skip() {
    if (!asked_)
        return;
    // What cannot be seen in one picture cannot be seen in the next ones either.
    constexpr double kSkipped_s = 0.02;
    const auto& times = marking_.times_s(active_);
    for (std::size_t i = picture(); i < times.size() && times[i] < times[picture()] + kSkipped_s;
         ++i)
        skipped_.insert({active_, i, static_cast<int>(*asked_)});
    show_next();
    follow_on();
}

void FilmRoom::take_back() {
    if (active_ >= marking_.views())
        return;
    // The last point of the picture in the order in which they are asked for.
    const film::MarkingPlan plan = marking_.plan(active_);
    for (auto it = plan.points.rbegin(); it != plan.points.rend(); ++it)
        if (marking_.seen(active_, picture(), *it).at) {
            marking_.take_away(active_, picture(), *it);
            return;
        }
}

void FilmRoom::put_moment(Moment moment) {
    if (active_ >= marking_.views() || picture() >= marking_.times_s(active_).size())
        return;
    marking_.set_moment(active_, moment, marking_.times_s(active_)[picture()]);
}

void FilmRoom::take_line(const film::Line& line) {
    if (!line_)
        return;
    const FactsPanel::LineKind kind = *line_;
    line_.reset();
    marking_.edit(active_, tr("marking a line"), [&](film::View& view) {
        switch (kind) {
        case FactsPanel::LineKind::Plumb:
            view.plumb_px = line;
            break;
        case FactsPanel::LineKind::Target:
            view.target_line_px = line;
            break;
        case FactsPanel::LineKind::Scale:
            view.scale_px = line;
            if (!(view.scale_m > 0.0))
                view.scale_m = 1.0;
            break;
        }
    });
}

// ---- following

void FilmRoom::propose() {
    if (active_ >= panes_.size() || !panes_[active_].player->is_open())
        return;
    const film::View& view = marking_.view(active_);
    constexpr double kUsualDistance_m = 4.0;
    panes_[active_].player->propose(view.capture_rate_hz,
                                    view.distance_m.value_or(kUsualDistance_m));
}

void FilmRoom::follow(bool forwards) {
    if (active_ >= panes_.size() || !panes_[active_].player->is_open())
        return;
    const film::MarkingPlan plan = marking_.plan(active_);
    if (plan.pictures.empty())
        return;
    const std::size_t from = picture();
    const std::size_t to = forwards ? plan.pictures.back() : plan.pictures.front();
    if (from == to || (forwards ? from > to : from < to))
        return;
    // All that is known of this picture helps, but what was followed to it is followed already:
    // only what was marked by hand goes on from here, unless nothing was.
    Pane& pane = panes_[active_];
    film::Points at;
    film::Points steps;
    std::array<bool, film::kPoints> by_hand{};
    for (std::size_t p = 0; p < film::kPoints; ++p) {
        const Marking::Seen seen = marking_.seen(active_, from, static_cast<Point>(p));
        at[p] = seen.at;
        by_hand[p] = seen.at && !seen.guessed;
        if (seen.at)
            steps[p] = step_before(from, static_cast<Point>(p), forwards ? 1 : -1);
    }
    if (std::none_of(by_hand.begin(), by_hand.end(), [](bool one) { return one; }))
        by_hand.fill(true);
    pane.wanted = by_hand;
    pane.found.clear();
    lost_words_.clear();
    pane.player->follow(from, to, at, steps);
}

std::optional<Pixel> FilmRoom::step_before(std::size_t picture, Point point, int direction) const {
    constexpr std::size_t kBack = 6;
    const auto here = marking_.seen(active_, picture, point).at;
    for (std::size_t back = 1; here && back <= kBack; ++back) {
        if (direction > 0 && back > picture)
            break;
        const std::size_t other = direction > 0 ? picture - back : picture + back;
        if (const auto before = marking_.seen(active_, other, point).at)
            return Pixel((*here - *before) / static_cast<double>(back));
    }
    return std::nullopt;
}

void FilmRoom::take_followed(std::size_t index, std::size_t last) {
    Pane& pane = panes_[index];
    const film::MarkingPlan plan = marking_.plan(index);
    std::map<std::size_t, film::Points> planned;
    std::array<std::size_t, film::kPoints> seen_last{};
    for (auto& [number, points] : pane.found) {
        for (std::size_t p = 0; p < film::kPoints; ++p) {
            if (!pane.wanted[p])
                points.at[p].reset();
            if (points.at[p])
                seen_last[p] = number;
            if (points.outside[p])
                skipped_.insert({index, number, static_cast<int>(p)});
        }
        if (std::binary_search(plan.pictures.begin(), plan.pictures.end(), number))
            planned[number] = points.at;
    }
    pane.found.clear();
    if (planned.empty()) {
        lost_words_ = tr("Nothing could be followed from here: mark the next picture by hand.");
        show_next();
        return;
    }
    marking_.set_guesses(index, planned);
    activate(index);
    // What was hidden for some pictures on the way need not be asked for.
    const auto is_missing = [&](std::size_t number, Point point) {
        return !marking_.seen(index, number, point).at &&
               skipped_.count({index, number, static_cast<int>(point)}) == 0;
    };
    for (const auto& [number, points] : planned)
        for (const Point point : plan.points)
            if (is_missing(number, point) && number < seen_last[static_cast<std::size_t>(point)])
                skipped_.insert({index, number, static_cast<int>(point)});
    for (const auto& [number, points] : planned)
        for (const Point point : plan.points)
            if (is_missing(number, point)) {
                waits_at_ = number;
                go_to(number);
                return;
            }
    waits_at_.reset();
    go_to(last);
}

void FilmRoom::follow_on() {
    if (!waits_at_ || asked_ || picture() != *waits_at_ || panes_[active_].player->is_working())
        return;
    waits_at_.reset();
    follow(true);
}

void FilmRoom::accept(bool all) {
    if (active_ >= marking_.views())
        return;
    // Enter in a field takes its number in, and nothing else.
    if (auto* field = qobject_cast<QAbstractSpinBox*>(QApplication::focusWidget())) {
        field->interpretText();
        panes_[active_].view->setFocus();
        return;
    }
    lost_words_.clear();
    if (all) {
        marking_.accept(active_, 0, static_cast<std::size_t>(-1));
        return;
    }
    marking_.accept(active_, picture(), picture());
    step_planned(1);
}

// ---- measuring and keeping

void FilmRoom::marks_changed() {
    fresh_ = false;
    dirty_ = true;
    lost_words_.clear();
    show_next();
    measure_soon_.start();
    save_soon();
}

void FilmRoom::measure() {
    if (watcher_.isRunning()) {
        measure_again_ = true;
        return;
    }
    measure_again_ = false;
    const film::Marks marks = marking_.marks();
    const bool worth =
        std::any_of(marks.views.begin(), marks.views.end(),
                    [](const film::View& view) { return view.frames.size() >= kFewest; });
    if (!worth) {
        facts_->set_findings({}, false);
        return;
    }
    const AnalysisOptions options = desk_->lesson().swings()->options();
    const RulesInUse rules = desk_->rules();
    report_job();
    watcher_.setFuture(QtConcurrent::run(&workers(), [marks, options, rules] {
        return swing_of(film::take_from_marks(marks), options, rules);
    }));
}

void FilmRoom::take_measured() {
    const auto swing = watcher_.result();
    if (measure_again_)
        measure();
    report_job();
    QStringList findings;
    for (const Finding& finding : swing->findings)
        findings << QString::fromStdString(text_of(finding));
    facts_->set_findings(findings, swing->ok);
    moving_ = true; // the films stay where they are
    shown_.set_swing(swing);
    moving_ = false;
    charts_->setVisible(swing->ok);
    if (swing->ok && fresh_) {
        // What was marked before is shown where it matters.
        fresh_ = false;
        show_at(swing->analysis.moments.time_s(Moment::Top));
    }
    if (swing->ok) {
        const ReadingWords words = write_words(swing->analysis, swing->reading, language());
        reading_->setText(QString::fromStdString(words.order) + QLatin1Char('\n') +
                          QString::fromStdString(words.fix_title));
        moving_ = true;
        shown_.set_cursor_s(at_s_);
        moving_ = false;
    }
    emit measured();
}

void FilmRoom::save_soon() {
    if (!path_.isEmpty() && !save_timer_.isActive())
        save_timer_.start();
}

std::optional<film::Marks> FilmRoom::marks_to_save() const {
    if (!dirty_ || path_.isEmpty())
        return std::nullopt;
    film::Marks marks = marking_.marks();
    const bool anything =
        std::any_of(marks.views.begin(), marks.views.end(), [](const film::View& view) {
            return !view.frames.empty() || !view.moments_s.empty() || view.plumb_px ||
                   view.target_line_px || view.scale_px;
        });
    if (!anything)
        return std::nullopt;
    return marks;
}

void FilmRoom::save_aside() {
    if (saver_.isRunning()) {
        save_soon();
        return;
    }
    const auto marks = marks_to_save();
    if (!marks)
        return;
    dirty_ = false;
    saver_.setFuture(QtConcurrent::run(&workers(), [marks = *marks, path = path_.toStdString()] {
        return formats::write_bytes(path, formats::write_film_marks(marks));
    }));
}

bool FilmRoom::save_now() {
    save_timer_.stop();
    saver_.waitForFinished();
    const auto marks = marks_to_save();
    if (!marks)
        return true;
    dirty_ = false;
    return say_saved(formats::write_bytes(path_.toStdString(), formats::write_film_marks(*marks)));
}

bool FilmRoom::say_saved(const std::vector<Finding>& findings) {
    if (!has_errors(findings))
        return true;
    dirty_ = true;
    shell_.show_message(tr("The marks cannot be kept beside the film"),
                        QString::fromStdString(text_of(findings.front())));
    return false;
}

void FilmRoom::to_bench() {
    dirty_ = dirty_ || !QFileInfo::exists(path_);
    if (path_.isEmpty() || !save_now() || !QFileInfo::exists(path_))
        return;
    SwingListModel* swings = desk_->lesson().swings();
    int row = swings->row_of_file(path_);
    if (row < 0) {
        // A new swing, of the golfer who is meant.
        SwingRequest request;
        request.path = path_;
        request.golfer = desk_->golfer_meant();
        row = swings->open({request});
    } else {
        row = desk_->lesson().take_rewritten(path_);
    }
    emit desk_->look_asked(row);
    shell_.enter(QStringLiteral("bench"));
}

bool FilmRoom::may_keep_film_of(const QString& name) const {
    const RecordKeeper& record = desk_->record();
    const Row* lesson = record.lesson_row();
    for (const Row& golfer : record.view().golfers) {
        const bool is_meant = lesson != nullptr
                                  ? text_in(*lesson, "golfer_id") == text_in(golfer, "id")
                                  : text_in(golfer, "name") == name;
        const auto consent = golfer.find("film_consent");
        if (is_meant && consent != golfer.end() && consent->is_number() && consent->get<int>() == 0)
            return false;
    }
    return true;
}

void FilmRoom::keep_film(int list_id, const QString& swing) {
    const int row = desk_->lesson().swings()->row_of(list_id);
    const QString marks = row < 0 ? QString() : desk_->lesson().swings()->request(row).path;
    if (!is_marks_name(marks) || !QFileInfo::exists(marks))
        return;
    if (!may_keep_film_of(desk_->lesson().swings()->request(row).golfer)) {
        shell_.show_message(tr("The film is not kept with the record"),
                            tr("This golfer does not want film to be kept (Lesson room)."));
        return;
    }
    // Copying is long; the window does not wait for it.
    const auto copied =
        QtConcurrent::run(&workers(),
                          [marks = std::filesystem::path(marks.toStdString()),
                           record = std::filesystem::path(desk_->record().path().toStdString()),
                           id = swing.toStdString()]() -> std::vector<Finding> {
                              const auto bytes = formats::read_bytes(marks);
                              const auto read = formats::read_film_marks(bytes.value);
                              if (!bytes.ok() || !read.ok())
                                  return bytes.findings;
                              std::vector<std::filesystem::path> films;
                              for (const film::View& view : read.value.views)
                                  if (!view.film.empty())
                                      films.push_back(marks.parent_path() / view.film);
                              return store::keep_film(record, id, marks, films);
                          });
    auto* watcher = new QFutureWatcher<std::vector<Finding>>(this);
    connect(watcher, &QFutureWatcherBase::finished, this, [this, watcher] {
        for (const Finding& finding : watcher->result())
            shell_.show_message(tr("The film is not kept with the record"),
                                QString::fromStdString(text_of(finding)));
        watcher->deleteLater();
    });
    watcher->setFuture(copied);
}

QImage FilmRoom::still() {
    if (active_ >= panes_.size())
        return {};
    if (face_covered_ && !panes_[active_].view->knows_face()) {
        shell_.show_message(tr("The face cannot be covered"),
                            tr("Mark the sticks or the head in one picture of this film first, so "
                               "that it is known where the face is."));
        return {};
    }
    return panes_[active_].view->still();
}

void FilmRoom::save_still() {
    const QImage picture = still();
    if (!picture.isNull())
        shell_.ask_and_save(tr("Save this picture with its lines"), tr("Picture (*.png)"),
                            [picture](const QString& file) { return picture.save(file, "PNG"); });
}

void FilmRoom::report_still() {
    constexpr int kHigh_px = 900; // sharp on a third of a page
    QImage picture = still();
    if (picture.isNull())
        return;
    if (picture.height() > kHigh_px)
        picture = picture.scaledToHeight(kHigh_px, Qt::SmoothTransformation);
    QByteArray png;
    QBuffer buffer(&png);
    buffer.open(QIODevice::WriteOnly);
    picture.save(&buffer, "PNG");
    QStringList words{short_side_name(marking_.view(active_).side)};
    if (shown_.has_swing())
        words << before_impact_text(shown_.ms_from_impact(at_s_));
    desk_->add_still({png.toStdString(), static_cast<double>(picture.width()),
                      static_cast<double>(picture.height()),
                      words.join(QStringLiteral(", ")).toStdString()});
    shell_.show_message(tr("This picture goes into the report"),
                        tr("The report has %n picture(s) from the film.", "",
                           static_cast<int>(desk_->stills().size())),
                        tr("Leave them all out"), [this] { desk_->forget_stills(); });
}

} // namespace kite::app
