#include "app/rooms/film/marking.h"

#include <algorithm>
#include <cmath>

namespace kite::app {

using film::Pixel;
using film::Point;

/// One view before and after.
class Marking::ViewStep : public QUndoCommand {
public:
    ViewStep(Marking* marking, std::size_t index, ViewMarks before, ViewMarks after,
             const QString& words, int gesture)
        : QUndoCommand(words), marking_(marking), index_(index), before_(std::move(before)),
          after_(std::move(after)), gesture_(gesture) {}
    void undo() override { marking_->set_view(index_, before_); }
    void redo() override { marking_->set_view(index_, after_); }
    int id() const override { return 1; }
    bool mergeWith(const QUndoCommand* other) override {
        const auto* next = static_cast<const ViewStep*>(other);
        if (gesture_ <= 0 || next->gesture_ != gesture_ || next->index_ != index_)
            return false;
        after_ = next->after_;
        return true;
    }

private:
    Marking* marking_;
    std::size_t index_;
    ViewMarks before_;
    ViewMarks after_;
    int gesture_;
};

class Marking::SwingStep : public QUndoCommand {
public:
    SwingStep(Marking* marking, film::Marks before, film::Marks after, const QString& words)
        : QUndoCommand(words), marking_(marking), before_(std::move(before)),
          after_(std::move(after)) {}
    void undo() override { marking_->set_swing(before_); }
    void redo() override { marking_->set_swing(after_); }

private:
    Marking* marking_;
    film::Marks before_;
    film::Marks after_;
};

Marking::Marking(QObject* parent) : QObject(parent) {}

void Marking::begin(film::Marks marks) {
    history_.clear();
    views_.clear();
    for (film::View& view : marks.views)
        views_.push_back({std::move(view), {}});
    marks.views.clear();
    swing_ = std::move(marks);
    facts_.assign(views_.size(), {});
    times_.assign(views_.size(), {});
    for (std::size_t i = 0; i < views_.size(); ++i)
        retime(i);
    emit changed();
}

film::Marks Marking::marks() const {
    film::Marks out = swing_;
    for (const ViewMarks& one : views_)
        out.views.push_back(one.view);
    return out;
}

void Marking::retime(std::size_t index) {
    std::vector<double>& times = times_[index];
    times.clear();
    const film::FilmFacts& facts = facts_[index];
    const film::View& view = views_[index].view;
    if (facts.pictures() > 0)
        for (std::size_t i = 0; i < facts.pictures(); ++i)
            times.push_back(facts.real_s(i, view.capture_rate_hz));
    else
        for (const film::MarkedFrame& frame : view.frames)
            times.push_back(frame.t_s);
}

void Marking::set_film(std::size_t index, const film::FilmFacts& facts) {
    facts_.at(index) = facts;
    film::View& view = views_.at(index).view;
    if (view.size_px.isZero())
        view.size_px = facts.size_px;
    if (!(view.capture_rate_hz > 0.0) && facts.capture_rate_hz)
        view.capture_rate_hz = *facts.capture_rate_hz;
    retime(index);
    emit changed();
}

film::MarkingPlan Marking::plan(std::size_t index) const {
    film::MarkingPlan out = film::plan_marking(view(index), times_s(index));
    if (more_ && !out.points.empty())
        out.points.insert(out.points.end(), {Point::Head, Point::LeadKnee, Point::LeadAnkle,
                                             Point::TrailKnee, Point::TrailAnkle});
    return out;
}

void Marking::want_more(bool wanted) {
    more_ = wanted;
    emit changed();
}

double Marking::time_of(std::size_t index, std::size_t picture) const {
    return times_.at(index).at(picture);
}

Marking::Seen Marking::seen(std::size_t index, std::size_t picture, Point point) const {
    if (picture >= times_.at(index).size())
        return {};
    const auto* frame = film::find_frame(view(index), time_of(index, picture));
    if (frame != nullptr && (*frame)[point])
        return {(*frame)[point], false};
    const auto found = views_[index].guesses.find(picture);
    if (found != views_[index].guesses.end())
        return {found->second[static_cast<std::size_t>(point)], true};
    return {};
}

bool Marking::is_marked(std::size_t index, std::size_t picture) const {
    return picture < times_.at(index).size() &&
           film::find_frame(view(index), time_of(index, picture)) != nullptr;
}

bool Marking::is_guessed(std::size_t index, std::size_t picture) const {
    return views_.at(index).guesses.count(picture) > 0;
}

void Marking::step(std::size_t index, const QString& words, int gesture,
                   const std::function<void(ViewMarks&)>& to) {
    ViewMarks after = views_.at(index);
    to(after);
    history_.push(new ViewStep(this, index, views_[index], std::move(after), words, gesture));
}

void Marking::set_view(std::size_t index, const ViewMarks& view) {
    const double rate_before = views_.at(index).view.capture_rate_hz;
    views_[index] = view;
    if (rate_before != view.view.capture_rate_hz || facts_[index].pictures() == 0)
        retime(index);
    emit changed();
}

void Marking::set_swing(const film::Marks& swing) {
    swing_ = swing;
    emit changed();
}

void Marking::put(std::size_t index, std::size_t picture, Point point, const Pixel& at,
                  int gesture) {
    if (picture >= times_.at(index).size())
        return;
    step(index, tr("marking a point"), gesture, [&](ViewMarks& one) {
        film::frame_at(one.view, time_of(index, picture))[point] = at;
        if (const auto found = one.guesses.find(picture); found != one.guesses.end())
            found->second[static_cast<std::size_t>(point)].reset();
    });
}

void Marking::take_away(std::size_t index, std::size_t picture, Point point) {
    if (!seen(index, picture, point).at)
        return;
    step(index, tr("taking a point away"), 0, [&](ViewMarks& one) {
        film::frame_at(one.view, time_of(index, picture))[point].reset();
        film::drop_empty_frames(one.view);
        if (const auto found = one.guesses.find(picture); found != one.guesses.end())
            found->second[static_cast<std::size_t>(point)].reset();
    });
}

void Marking::set_moment(std::size_t index, Moment moment, std::optional<double> t_s) {
    step(index, tr("putting a moment"), 0, [&](ViewMarks& one) {
        if (t_s)
            one.view.moments_s[moment] = *t_s;
        else
            one.view.moments_s.erase(moment);
    });
}

void Marking::set_moments(std::size_t index, const film::GuessedMoments& moments) {
    step(index, tr("finding the moments"), 0, [&](ViewMarks& one) {
        const auto put_one = [&](Moment moment, const std::optional<double>& t_s) {
            if (t_s && *t_s >= 0.0)
                one.view.moments_s[moment] = *t_s;
        };
        put_one(Moment::Address, moments.address_s);
        put_one(Moment::Top, moments.top_s);
        put_one(Moment::Impact, moments.impact_s);
    });
}

void Marking::accept(std::size_t index, std::size_t first, std::size_t last) {
    step(index, tr("accepting what was followed"), 0, [&](ViewMarks& one) {
        for (auto it = one.guesses.lower_bound(first);
             it != one.guesses.end() && it->first <= last;) {
            film::MarkedFrame& frame = film::frame_at(one.view, time_of(index, it->first));
            for (std::size_t p = 0; p < film::kPoints; ++p)
                if (it->second[p] && !frame.at[p])
                    frame.at[p] = it->second[p];
            it = one.guesses.erase(it);
        }
        film::drop_empty_frames(one.view);
    });
}

void Marking::set_guesses(std::size_t index, const std::map<std::size_t, film::Points>& found) {
    step(index, tr("following points"), 0, [&](ViewMarks& one) {
        for (const auto& [picture, points] : found) {
            const auto* frame = film::find_frame(one.view, time_of(index, picture));
            film::Points& guesses = one.guesses[picture];
            for (std::size_t p = 0; p < film::kPoints; ++p)
                if (points[p] && (frame == nullptr || !frame->at[p]))
                    guesses[p] = points[p];
        }
        for (auto it = one.guesses.begin(); it != one.guesses.end();) {
            const bool empty =
                std::none_of(it->second.begin(), it->second.end(),
                             [](const std::optional<Pixel>& at) { return at.has_value(); });
            it = empty ? one.guesses.erase(it) : std::next(it);
        }
    });
}

void Marking::drop_guesses(std::size_t index) {
    if (!views_.at(index).guesses.empty())
        step(index, tr("leaving what was followed"), 0,
             [](ViewMarks& one) { one.guesses.clear(); });
}

void Marking::set_capture_rate(std::size_t index, double rate_hz) {
    step(index, tr("saying the capture rate"), 0, [&](ViewMarks& one) {
        const film::FilmFacts& facts = facts_[index];
        const double slower = film::slow_motion_of(facts, one.view.capture_rate_hz) /
                              film::slow_motion_of(facts, rate_hz);
        for (film::MarkedFrame& frame : one.view.frames)
            frame.t_s *= slower;
        for (auto& [moment, t_s] : one.view.moments_s)
            t_s *= slower;
        one.view.capture_rate_hz = rate_hz;
    });
}

void Marking::edit(std::size_t index, const QString& words,
                   const std::function<void(film::View&)>& to) {
    step(index, words, 0, [&](ViewMarks& one) { to(one.view); });
}

void Marking::edit_swing(const QString& words, const std::function<void(film::Marks&)>& to) {
    film::Marks after = swing_;
    to(after);
    history_.push(new SwingStep(this, swing_, after, words));
}

} // namespace kite::app
