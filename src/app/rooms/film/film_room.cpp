#include "app/rooms/film/film_room.h"

#include "app/charts/kite_view.h"
#include "app/charts/stair_chart.h"
#include "app/rooms/film/film_player.h"
#include "app/rooms/film/film_view.h"
#include "app/rooms/film/frame_strip.h"
#include "app/session/film_files.h"
#include "app/shell/jobs.h"
#include "app/theme/theme.h"
#include "app/widgets/labels.h"
#include "app/widgets/wrapped.h"
#include "formats/film/film_json.h"
#include "formats/text/bytes.h"
#include "store/film_beside.h"

#include <QAction>
#include <QDir>
#include <QFileDialog>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QSettings>
#include <QStackedWidget>
#include <QVBoxLayout>

#include <algorithm>

namespace kite::app {

using film::Pixel;
using film::Point;

namespace {

constexpr int kMeasureAfter_ms = 250;
constexpr int kSaveAfter_ms = 600;
constexpr int kPlayStep_ms = 33;

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
    // Measured in another way, or read by another school: here too.
    for (const auto changed : {&SwingListModel::options_changed, &SwingListModel::rules_changed})
        connect(desk_->lesson().swings(), changed, this, [this] {
            if (!path_.isEmpty())
                measure_soon_.start();
        });
    connect(&desk_->record(), &RecordKeeper::kept, this,
            [this](int list_id, const QString& swing, bool is_new) {
                if (is_new)
                    join_drill(list_id, swing);
                // A copy that is there goes with its marks.
                std::error_code ignored;
                if (film_in_record_ ||
                    std::filesystem::exists(store::film_folder(desk_->record().path().toStdString(),
                                                               swing.toStdString()),
                                            ignored))
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
        if (QFileInfo(path).dir() != first.dir()) {
            view.film = path.toStdString();
            allow_film(path);
        }
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
    if (of_drill_action_ != nullptr)
        of_drill_action_->setChecked(false);
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
    QStringList elsewhere;
    for (std::size_t i = 0; i < panes_.size(); ++i) {
        const NamedFilm film = film_named(path_, marking_.view(i).film);
        if (!film.path.isEmpty())
            panes_[i].player->open(film.path);
        else if (!film.elsewhere.isEmpty())
            elsewhere << film.elsewhere;
        else if (!marking_.view(i).film.empty())
            shell_.show_message(
                tr("A film is not where the marks are"),
                tr("%1 names no film beside it. Put the film into the same folder, under that "
                   "name, and open the marks again.")
                    .arg(QFileInfo(path_).fileName()));
    }
    if (!elsewhere.isEmpty())
        shell_.show_message(tr("These marks name film in another folder"),
                            tr("%1. Open it only if it is the film that you mean.")
                                .arg(elsewhere.join(QStringLiteral(", "))),
                            tr("Open it"), [this, elsewhere, marks = path_] {
                                for (const QString& film : elsewhere)
                                    allow_film(film);
                                if (marks == path_)
                                    open_films();
                            });
    report_job();
    show_at(marking_.views() > 0 && !marking_.view(0).frames.empty()
                ? marking_.view(0).frames.front().t_s
                : 0.0);
}

void FilmRoom::entered() {
    // Another swing is looked at than the last time: its film, if it has one.
    if (const QString looked_at = marks_looked_at(); looked_at != looked_at_) {
        looked_at_ = looked_at;
        if (!looked_at.isEmpty() && looked_at != path_)
            open({looked_at});
    }
    if (!panes_.empty())
        panes_[active_].view->setFocus();
}

QString FilmRoom::marks_looked_at() const {
    const QString file = desk_->shown_file();
    if (QFileInfo::exists(file))
        return is_marks_name(file) ? file : QString();
    // Of a swing from the record: its film, if that was kept with it.
    const auto folder = store::film_folder(desk_->record().path().toStdString(),
                                           desk_->shown_in_record().toStdString());
    if (folder.empty())
        return {};
    const QDir kept(QString::fromStdString(folder.string()));
    const QStringList found = kept.entryList({QStringLiteral("*.film.json")});
    return found.isEmpty() ? QString() : kept.filePath(found.front());
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

} // namespace kite::app
