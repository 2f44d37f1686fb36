#pragma once

#include "core/film/marking.h"
#include "film/film.h"
#include "film/follow_through.h"

#include <QImage>
#include <QObject>
#include <QThread>

#include <atomic>
#include <functional>
#include <memory>

namespace kite::app {

/// A film whose pictures come from a thread of its own: what is asked for last is shown first, and
/// the window never waits. Following and listening are done there too.
class FilmPlayer : public QObject {
    Q_OBJECT
public:
    explicit FilmPlayer(QObject* parent = nullptr);
    ~FilmPlayer() override; ///< gives up what runs

    void open(const QString& path);
    bool is_open() const { return open_; }
    bool is_opening() const { return opening_; }
    const film::FilmFacts& facts() const { return facts_; }

    void show(std::size_t number);
    const QImage& image() const { return image_; }
    std::size_t shown() const { return shown_; } ///< the picture that `image` is

    /// Points of one picture through the film (film/follow_through.h); `followed` comes for every
    /// picture on the way, then `follow_ended`.
    void follow(std::size_t from, std::size_t to, const film::Points& marked,
                const film::Points& steps);
    /// Where address, top and impact seem to be, from the strike (less its way of `distance_m`) and
    /// from how much the pictures change.
    void propose(double capture_rate_hz, double distance_m);
    void give_up();
    bool is_working() const { return working_; }

signals:
    void opened();
    void failed(const QString& what, const QString& mend);
    void shown_changed();
    void followed(std::size_t picture, const kite::film::FollowedPoints& points);
    void follow_ended(std::size_t last);
    /// `heard`: the sound told impact.
    void proposed(const kite::film::GuessedMoments& moments, bool heard);
    void working_changed();

private:
    struct Work; ///< lives on the thread
    void take(std::size_t number, const film::SharedPicture& picture);
    void set_working(bool working);
    void serve();

    QThread thread_;
    Work* work_;
    film::FilmFacts facts_;
    QImage image_;
    std::size_t shown_ = 0;
    bool open_ = false;
    bool opening_ = false;
    bool working_ = false;
};

} // namespace kite::app
