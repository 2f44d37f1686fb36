#include "app/rooms/film/film_player.h"

#include "core/film/strike.h"
#include "film/motion.h"
#include "film/sound.h"

#include <QTimer>

#include <algorithm>

namespace kite::app {

namespace {

constexpr std::size_t kNobody = static_cast<std::size_t>(-1);
/// So many pictures ahead in the way that somebody steps are got ready.
constexpr std::size_t kAhead = 30;
constexpr int kAtATime = 4;
/// Pictures a second that are looked at for motion.
constexpr double kLookedAt_hz = 60.0;

QImage image_of(const film::SharedPicture& picture) {
    if (!picture)
        return {};
    // The image keeps the picture.
    auto* kept = new film::SharedPicture(picture);
    return {picture->bgra.data(),
            picture->width_px,
            picture->height_px,
            qsizetype{4} * picture->width_px,
            QImage::Format_RGB32,
            [](void* held) { delete static_cast<film::SharedPicture*>(held); },
            kept};
}

} // namespace

struct FilmPlayer::Work : public QObject {
    std::shared_ptr<film::Film> film;
    QString path;
    std::atomic<std::size_t> wanted{kNobody};
    std::atomic<bool> asked{false};
    std::atomic<bool> going_on{true};
    std::size_t last = 0;
    std::size_t ahead = kNobody; ///< what is being got ready
    bool forwards = true;

    /// Gets ready what will be asked for next, a little at a time.
    void prepare() {
        if (!film || ahead == kNobody || asked)
            return;
        if (film->prepare(ahead, kAtATime))
            ahead = kNobody;
        else
            QMetaObject::invokeMethod(
                this, [this] { prepare(); }, Qt::QueuedConnection);
    }

    void look_ahead(std::size_t now) {
        if (now != last)
            forwards = now > last;
        last = now;
        const std::size_t n = film->facts().pictures();
        const std::size_t target =
            forwards ? std::min(now + kAhead, n - 1) : now - std::min(now, kAhead);
        if (ahead == kNobody && !film->is_near(target)) {
            ahead = target;
            QMetaObject::invokeMethod(
                this, [this] { prepare(); }, Qt::QueuedConnection);
        }
    }
};

FilmPlayer::FilmPlayer(QObject* parent) : QObject(parent), work_(new Work) {
    work_->moveToThread(&thread_);
    connect(&thread_, &QThread::finished, work_, &QObject::deleteLater);
    thread_.start();
}

FilmPlayer::~FilmPlayer() {
    work_->going_on = false;
    thread_.quit();
    thread_.wait();
}

void FilmPlayer::set_working(bool working) {
    if (working_ == working)
        return;
    working_ = working;
    emit working_changed();
}

void FilmPlayer::open(const QString& path) {
    opening_ = true;
    QMetaObject::invokeMethod(work_, [this, path] {
        auto film = film::Film::open(path.toStdString());
        work_->film = film.value;
        work_->path = path;
        QMetaObject::invokeMethod(this, [this, film] {
            opening_ = false;
            if (!film.ok()) {
                emit failed(QString::fromStdString(film.findings.front().what),
                            QString::fromStdString(film.findings.front().mend));
                return;
            }
            facts_ = film.value->facts();
            open_ = true;
            emit opened();
        });
    });
}

void FilmPlayer::show(std::size_t number) {
    if (!open_ || facts_.pictures() == 0)
        return;
    work_->wanted = std::min(number, facts_.pictures() - 1);
    if (!work_->asked.exchange(true))
        QMetaObject::invokeMethod(work_, [this] { serve(); });
}

void FilmPlayer::serve() {
    work_->asked = false;
    const std::size_t number = work_->wanted;
    if (!work_->film || number == kNobody)
        return;
    const film::SharedPicture picture = work_->film->picture(number);
    QMetaObject::invokeMethod(this, [this, number, picture] { take(number, picture); });
    work_->look_ahead(number);
}

void FilmPlayer::take(std::size_t number, const film::SharedPicture& picture) {
    shown_ = number;
    image_ = image_of(picture);
    emit shown_changed();
}

void FilmPlayer::give_up() {
    work_->going_on = false;
}

void FilmPlayer::follow(std::size_t from, std::size_t to, const film::Points& marked,
                        const film::Points& steps) {
    if (!open_ || working_)
        return;
    work_->going_on = true;
    set_working(true);
    QMetaObject::invokeMethod(work_, [this, from, to, marked, steps] {
        const std::size_t last =
            film::follow_through(*work_->film, from, to, marked, steps,
                                 [this](std::size_t picture, const film::FollowedPoints& points) {
                                     QMetaObject::invokeMethod(this, [this, picture, points] {
                                         emit followed(picture, points);
                                     });
                                     return work_->going_on.load();
                                 });
        QMetaObject::invokeMethod(this, [this, last] {
            set_working(false);
            emit follow_ended(last);
        });
    });
}

void FilmPlayer::propose(double capture_rate_hz, double distance_m) {
    if (!open_ || working_)
        return;
    work_->going_on = true;
    set_working(true);
    QMetaObject::invokeMethod(work_, [this, capture_rate_hz, distance_m] {
        film::Film& film = *work_->film;
        const film::FilmFacts& facts = film.facts();
        std::optional<double> strike_s;
        if (facts.has_sound) {
            const auto sound = film::read_sound(work_->path.toStdString());
            if (const auto strike = film::find_strike(sound.value.values, sound.value.rate_hz))
                strike_s = (sound.value.starts_s + strike->t_s) /
                               film::slow_motion_of(facts, capture_rate_hz) -
                           distance_m * film::kSound_s_per_m;
        }
        const double rate_hz = facts.stored_rate_hz * film::slow_motion_of(facts, capture_rate_hz);
        const auto every =
            static_cast<std::size_t>(std::max(1.0, std::floor(rate_hz / kLookedAt_hz)));
        // Where the strike is known only the swing before it is looked at.
        std::size_t first = 0;
        std::size_t last = facts.pictures();
        if (strike_s) {
            first = facts.nearest(*strike_s - 2.5, capture_rate_hz);
            last = facts.nearest(*strike_s + 0.1, capture_rate_hz);
        }
        std::vector<double> times;
        std::vector<double> change;
        film::GreyPicture before;
        for (std::size_t i = first; i < last && work_->going_on; i += every) {
            const film::SharedPicture picture = film.picture(i);
            if (!picture)
                continue;
            film::GreyPicture now = film::grey_of(*picture);
            times.push_back(facts.real_s(i, capture_rate_hz));
            change.push_back(before.empty() ? 0.0 : film::difference(before, now));
            before = std::move(now);
        }
        const film::GuessedMoments moments = film::guess_moments(times, change, strike_s);
        QMetaObject::invokeMethod(this, [this, moments, heard = strike_s.has_value()] {
            set_working(false);
            emit proposed(moments, heard);
        });
    });
}

} // namespace kite::app
