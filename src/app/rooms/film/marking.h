#pragma once

#include "core/film/marking.h"
#include "film/film.h"
#include "film/follow_through.h"

#include <QObject>
#include <QString>
#include <QUndoCommand>
#include <QUndoStack>

#include <functional>
#include <map>
#include <vector>

namespace kite::app {

/// One view as it is being marked: what was marked, and what was only followed so far.
struct ViewMarks {
    film::View view;
    std::map<std::size_t, film::Points> guesses; ///< by picture
};

/// The marks of one swing while they are made: every change is one step that can be undone.
class Marking : public QObject {
    Q_OBJECT
public:
    explicit Marking(QObject* parent = nullptr);

    QUndoStack* history() { return &history_; }
    /// Other marks; nothing of what was before can be undone.
    void begin(film::Marks marks);

    std::size_t views() const { return views_.size(); }
    const film::View& view(std::size_t index) const { return views_.at(index).view; }
    /// Everything that was marked; guesses are not in it.
    film::Marks marks() const;

    /// When each picture of a view was taken, s from the view's first. Without film: of the marked
    /// pictures.
    const std::vector<double>& times_s(std::size_t index) const { return times_.at(index); }
    /// A view's film is at hand; where nobody said how it was filmed the file's word is taken.
    void set_film(std::size_t index, const film::FilmFacts& facts);
    bool has_film(std::size_t index) const { return facts_.at(index).pictures() > 0; }
    const film::FilmFacts& facts(std::size_t index) const { return facts_.at(index); }
    /// What is to be marked; head, knees and ankles too where that is wanted.
    film::MarkingPlan plan(std::size_t index) const;
    void want_more(bool wanted);
    bool wants_more() const { return more_; }

    /// What is known of a point in a picture.
    struct Seen {
        std::optional<film::Pixel> at;
        bool guessed = false;
    };
    Seen seen(std::size_t index, std::size_t picture, film::Point point) const;
    bool is_marked(std::size_t index, std::size_t picture) const; ///< with a point, not guessed
    bool is_guessed(std::size_t index, std::size_t picture) const;

    /// Steps of one gesture (a drag) become one.
    void put(std::size_t index, std::size_t picture, film::Point point, const film::Pixel& at,
             int gesture);
    void take_away(std::size_t index, std::size_t picture, film::Point point);
    void set_moment(std::size_t index, Moment moment, std::optional<double> t_s);
    void set_moments(std::size_t index, const film::GuessedMoments& moments);
    void accept(std::size_t index, std::size_t first, std::size_t last);
    /// What following found, as one step.
    void set_guesses(std::size_t index, const std::map<std::size_t, film::Points>& found);
    void drop_guesses(std::size_t index);
    /// How it was filmed; all times of the view go with it.
    void set_capture_rate(std::size_t index, double rate_hz);
    /// Anything else of a view, or of the swing.
    void edit(std::size_t index, const QString& words, const std::function<void(film::View&)>& to);
    void edit_swing(const QString& words, const std::function<void(film::Marks&)>& to);

signals:
    void changed();

private:
    class ViewStep;
    class SwingStep;
    void set_view(std::size_t index, const ViewMarks& view);
    void set_swing(const film::Marks& swing);
    void step(std::size_t index, const QString& words, int gesture,
              const std::function<void(ViewMarks&)>& to);
    void retime(std::size_t index);
    double time_of(std::size_t index, std::size_t picture) const;

    QUndoStack history_;
    film::Marks swing_; ///< without views
    std::vector<ViewMarks> views_;
    std::vector<film::FilmFacts> facts_;
    std::vector<std::vector<double>> times_;
    bool more_ = false;
};

} // namespace kite::app
