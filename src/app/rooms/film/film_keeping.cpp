#include "app/charts/stair_chart.h"
#include "app/rooms/film/film_room.h"
#include "app/rooms/film/film_view.h"
#include "app/session/days.h"
#include "app/session/film_files.h"
#include "app/session/plan_counting.h"
#include "app/session/workers.h"
#include "app/theme/text.h"
#include "core/film/film_take.h"
#include "core/reading/words.h"
#include "formats/film/film_json.h"
#include "formats/practice/drills_json.h"
#include "formats/text/bytes.h"
#include "store/film_beside.h"

#include <QBuffer>
#include <QFileInfo>
#include <QLabel>
#include <QtConcurrent>

#include <algorithm>

// What comes of the marks: measuring, the file, the record, the report.

namespace kite::app {

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
    // Marked pictures with which it is worth a try.
    constexpr std::size_t kFewest = 20;
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
        shown_.set_swing(nullptr);
        charts_->hide();
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
    if (measure_again_) {
        // Of marks that are no longer the ones on screen, or of another film.
        measure();
        report_job();
        return;
    }
    report_job();
    const auto swing = watcher_.result();
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
    if (path_.isEmpty() || !save_now())
        return;
    if (!QFileInfo::exists(path_)) {
        shell_.show_message(tr("Nothing is marked yet"),
                            tr("A film becomes a swing by its marks: find the moments (P), then "
                               "click the points that are asked for."));
        return;
    }
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

void FilmRoom::join_drill(int list_id, const QString& swing) {
    const SwingListModel* swings = desk_->lesson().swings();
    const int row = swings->row_of(list_id);
    const auto& plan = desk_->plan().plan();
    if (row < 0 || !of_drill_action_->isChecked() || !plan || swings->request(row).path != path_)
        return;
    const Drill* drill = main_drill_of(*plan, formats::shipped_drills());
    const auto measured = swings->swing(row);
    if (drill == nullptr || !measured || !measured->ok)
        return;
    desk_->record().change(QStringLiteral("swing"), swing,
                           {{"tags", drill_tag(*plan, *drill).toStdString()}});
    // On rungs without a ball the film is of the movement, not of a full swing.
    const bool rehearsal = !counts_on(rung_on(*plan, *drill, today()).rung, {});
    const CountWords words = count_against_plan(desk_->plan(), {measured}, rehearsal);
    shell_.show_message(words.title, words.text);
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
    const auto copied = QtConcurrent::run(
        &workers(),
        [path = path_of(marks), record = path_of(desk_->record().path()),
         id = swing.toStdString()]() -> std::vector<Finding> {
            const auto bytes = formats::read_bytes(path);
            auto read = formats::read_film_marks(bytes.value);
            if (!bytes.ok() || !read.ok())
                return bytes.ok() ? read.findings : bytes.findings;
            // Side by side in one folder, whatever they were called before.
            std::vector<store::KeptFilm> films;
            for (film::View& view : read.value.views) {
                if (view.film.empty())
                    continue;
                const std::filesystem::path from =
                    path_of(film_named(QString::fromStdString(path.string()), view.film).path);
                if (from.empty()) {
                    view.film.clear();
                    continue;
                }
                view.film = std::string(key_of(view.side)) + from.extension().string();
                films.push_back({from, view.film});
            }
            return store::keep_film(record, id, path.filename().string(),
                                    formats::write_film_marks(read.value), films);
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
    QStringList words{side_name(marking_.view(active_).side)};
    if (shown_.has_swing())
        words << before_impact_text(shown_.ms_from_impact(at_s_));
    desk_->add_still({png.toStdString(), static_cast<double>(picture.width()),
                      static_cast<double>(picture.height()),
                      words.join(QStringLiteral(", ")).toStdString()});
    shell_.show_message(
        tr("This picture goes into the report"),
        tr("The report has %n picture(s) from the film.", "", static_cast<int>(desk_->stills())),
        tr("Leave them all out"), [this] { desk_->forget_stills(); });
}

} // namespace kite::app
