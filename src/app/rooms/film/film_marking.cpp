#include "app/rooms/film/film_player.h"
#include "app/rooms/film/film_room.h"
#include "app/rooms/film/film_view.h"
#include "app/rooms/film/frame_strip.h"
#include "app/theme/text.h"
#include "app/widgets/labels.h"

#include <QAbstractSpinBox>
#include <QApplication>
#include <QLabel>
#include <QTimer>

#include <algorithm>

// The Film room at work: where the films stand, what is asked for next, following.

namespace kite::app {

using film::Pixel;
using film::Point;

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
    constexpr double kPlaySpeed = 0.1; // share of real time
    const double next_s = at_s_ + kPlaySpeed * 0.001 * play_.interval();
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
        QStringList words{side_name(view.side)};
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
    pane.forwards = forwards;
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
    std::array<std::optional<std::size_t>, film::kPoints> seen_last; // on the way
    const auto is_farther = [&](std::size_t one, std::size_t other) {
        return pane.forwards ? one > other : one < other;
    };
    for (auto& [number, points] : pane.found) {
        for (std::size_t p = 0; p < film::kPoints; ++p) {
            if (!pane.wanted[p])
                points.at[p].reset();
            if (points.at[p] && (!seen_last[p] || is_farther(number, *seen_last[p])))
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
    std::optional<std::size_t> lost_at;
    for (const auto& [number, points] : planned)
        for (const Point point : plan.points) {
            const auto& seen = seen_last[static_cast<std::size_t>(point)];
            if (!is_missing(number, point))
                continue;
            if (seen && is_farther(*seen, number))
                skipped_.insert({index, number, static_cast<int>(point)});
            else if (!lost_at || is_farther(*lost_at, number))
                lost_at = number;
        }
    if (lost_at) {
        waits_at_ = lost_at;
        go_to(*lost_at);
        return;
    }
    waits_at_.reset();
    go_to(last);
}

void FilmRoom::follow_on() {
    if (!waits_at_ || asked_ || picture() != *waits_at_ || panes_[active_].player->is_working())
        return;
    waits_at_.reset();
    follow(panes_[active_].forwards);
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

} // namespace kite::app
