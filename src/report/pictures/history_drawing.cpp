#include "report/pictures/history_drawing.h"

#include "core/base/names.h"
#include "report/day_words.h"

#include <algorithm>
#include <boost/date_time/gregorian/gregorian_types.hpp>
#include <cmath>
#include <map>

namespace kite::report {

namespace {

class HistoryPicture {
public:
    HistoryPicture(const std::vector<HistoryLane>& lanes, const std::vector<HistoryEvent>& events,
                   double width_mm, double height_mm, double letters, const Language& language)
        : lanes_(lanes), events_(events), letters_(letters),
          language_(language), out_{width_mm, height_mm, {}, {}}, left_mm_(44.0 * letters),
          right_mm_(width_mm - 32.0 * letters), foot_mm_(17.0 * letters) {
        find_days();
    }

    Drawing draw() {
        const double lane_mm = (out_.height_mm - foot_mm_) / static_cast<double>(lanes_.size());
        for (std::size_t i = 0; i < lanes_.size(); ++i)
            draw_lane(lanes_[i], lane_mm * static_cast<double>(i), lane_mm);
        draw_foot(out_.height_mm - foot_mm_);
        return std::move(out_);
    }

private:
    void find_days() {
        std::vector<Date> days;
        for (const HistoryLane& lane : lanes_)
            for (const LessonPoint& point : lane.lessons)
                days.push_back(point.day);
        for (const HistoryEvent& event : events_)
            days.push_back(event.day);
        if (days.empty())
            days.emplace_back(1970, 1, 1);
        first_ = *std::min_element(days.begin(), days.end());
        last_ = *std::max_element(days.begin(), days.end());
    }
    double x(const Date& day) const {
        const auto all = static_cast<double>((last_ - first_).days());
        const double pad = 4.0; // for the scatter beside the first and last day
        if (!(all > 0.0))
            return 0.5 * (left_mm_ + right_mm_);
        return left_mm_ + pad +
               static_cast<double>((day - first_).days()) / all *
                   (right_mm_ - left_mm_ - 2.0 * pad);
    }
    std::string number(double value, const HistoryLane& lane) const {
        return written(value * lane.factor, lane.decimals, language_);
    }
    void words(Spot at, const std::string& text, double letters_mm, Ink ink,
               Anchor anchor = Anchor::Start, bool bold = false) {
        out_.words(at, text, letters_mm * letters_, ink, anchor, bold);
    }

    void draw_lane(const HistoryLane& lane, double top, double high) {
        const double line = 3.7 * letters_;
        words({0.0, top + line}, lane.name, 2.9, Ink::Text, Anchor::Start, true);
        out_.line({{0.0, top + high}, {out_.width_mm, top + high}}, Ink::Line, 0.2);
        if (lane.lessons.empty()) {
            words({left_mm_, top + line}, language_.translate(KITE_TR("not measured yet")), 2.7,
                  Ink::Soft);
            return;
        }
        double low = lane.lessons.front().swings.front().value;
        double most = low;
        const auto take = [&](double value) {
            if (!std::isfinite(value))
                return;
            low = std::min(low, value);
            most = std::max(most, value);
        };
        for (const LessonPoint& point : lane.lessons)
            for (const Measured& value : point.swings)
                take(value.value);
        const double sd = std::isfinite(lane.baseline.sd) ? lane.baseline.sd : 0.0;
        take(lane.baseline.mean - sd);
        take(lane.baseline.mean + sd);
        if (!(most > low)) {
            low -= 1.0;
            most += 1.0;
        }
        const double inner_top = top + 2.0;
        const double inner = high - 4.0;
        const auto y = [&](double value) {
            return inner_top + inner * (1.0 - (std::clamp(value, low, most) - low) / (most - low));
        };
        words({left_mm_ - 1.5, inner_top + 2.2 * letters_}, number(most, lane), 2.3, Ink::Soft,
              Anchor::End);
        words({left_mm_ - 1.5, inner_top + inner}, number(low, lane), 2.3, Ink::Soft, Anchor::End);
        if (lane.baseline.count > 0) {
            const double half = sd;
            out_.area({{left_mm_, y(lane.baseline.mean - half)},
                       {right_mm_, y(lane.baseline.mean - half)},
                       {right_mm_, y(lane.baseline.mean + half)},
                       {left_mm_, y(lane.baseline.mean + half)}},
                      Ink::Pelvis)
                .opacity = 0.12;
            words({0.0, top + 2.0 * line},
                  filled(KITE_TR("{1}: {2}"),
                         {lane.baseline_words, number(lane.baseline.mean, lane)}, language_),
                  2.5, Ink::Pelvis);
        }
        draw_points(lane, y);
        draw_latest(lane, top + line);
    }

    template <class Y>
    void draw_points(const HistoryLane& lane, const Y& y) {
        std::vector<Spot> means;
        std::map<Date, int> on_day;
        for (const LessonPoint& point : lane.lessons) {
            // Lessons of one day stand beside each other.
            const double at = x(point.day) + 3.0 * on_day[point.day]++;
            means.push_back({at, y(point.summary.mean)});
            const auto count = static_cast<double>(point.swings.size());
            for (std::size_t i = 0; i < point.swings.size(); ++i) {
                const double beside =
                    count > 1.0 ? 2.4 * (static_cast<double>(i) / (count - 1.0) - 0.5) : 0.0;
                out_.disc({at + beside, y(point.swings[i].value)}, 0.45, Ink::Club).opacity = 0.45;
            }
            if (std::isfinite(point.low))
                out_.line({{at, y(point.low)}, {at, y(point.high)}}, Ink::Text, 0.5);
            out_.disc(means.back(), 0.9, Ink::Paper, Ink::Text, 0.45);
        }
        out_.line(means, Ink::Soft, 0.2).dotted = true;
    }

    void draw_latest(const HistoryLane& lane, double y) {
        const double at = right_mm_ + 2.0;
        const LessonPoint& last = lane.lessons.back();
        words({at, y}, number(last.summary.mean, lane), 3.1, Ink::Text, Anchor::Start, true);
        const double line = 3.4 * letters_;
        if (std::isfinite(last.low))
            words({at, y + line},
                  filled(KITE_TR("{1} to {2}"), {number(last.low, lane), number(last.high, lane)},
                         language_),
                  2.4, Ink::Soft);
        const Change& change = lane.since_baseline;
        if (std::isfinite(change.low))
            words({at, y + 2.0 * line},
                  filled(KITE_TR("change {1} to {2}"),
                         {number(change.low, lane), number(change.high, lane)}, language_),
                  2.4, Ink::Soft);
    }

    void draw_foot(double top) {
        const double plan_y = top + 4.0 * letters_;
        const double done_y = top + 8.4 * letters_;
        words({0.0, plan_y + 1.0}, language_.translate(KITE_TR("Plans")), 2.6, Ink::Soft);
        words({0.0, done_y + 1.0}, language_.translate(KITE_TR("Practice")), 2.6, Ink::Soft);
        words({0.0, top + 14.0 * letters_}, language_.translate(KITE_TR("Lessons")), 2.6,
              Ink::Soft);
        const HistoryEvent* plan = nullptr;
        double free_from = 0.0;
        for (const HistoryEvent& event : events_) {
            const double at = x(event.day);
            switch (event.kind) {
            case HistoryEvent::Kind::PlanBegins:
                plan = &event;
                break;
            case HistoryEvent::Kind::PlanEnds:
                if (plan == nullptr)
                    break;
                out_.line({{x(plan->day), plan_y}, {std::max(at, x(plan->day) + 0.5), plan_y}},
                          Ink::LeadArm, 1.2);
                words({x(plan->day), plan_y - 1.4}, plan->words, 2.2, Ink::Soft);
                break;
            case HistoryEvent::Kind::Practised:
                out_.disc({at, done_y}, 0.8, Ink::LeadArm);
                break;
            case HistoryEvent::Kind::Counted:
                out_.disc({at, done_y}, 1.2, Ink::Paper, Ink::LeadArm, 0.5);
                words({at, done_y - 1.6}, event.words, 2.2, Ink::Soft, Anchor::Middle);
                break;
            case HistoryEvent::Kind::Lesson:
                out_.line({{at, top}, {at, top + 1.6}}, Ink::Text, 0.4);
                // A date for every lesson that has room for one.
                if (at < free_from)
                    break;
                free_from = at + 15.0 * letters_;
                words({at, top + 14.0 * letters_},
                      day_words(event.day, language_) +
                          (first_.year() == last_.year()
                               ? ""
                               : " " + std::to_string(static_cast<int>(event.day.year()))),
                      2.4, Ink::Soft, Anchor::Middle);
                break;
            }
        }
    }

    const std::vector<HistoryLane>& lanes_;
    const std::vector<HistoryEvent>& events_;
    double letters_;
    const Language& language_;
    Drawing out_;
    double left_mm_;
    double right_mm_;
    double foot_mm_;
    Date first_{1970, 1, 1};
    Date last_{1970, 1, 1};
};

} // namespace

Drawing history_drawing(const std::vector<HistoryLane>& lanes,
                        const std::vector<HistoryEvent>& events, double width_mm, double height_mm,
                        double letters, const Language& language) {
    if (lanes.empty())
        return {width_mm, height_mm, {}, {}};
    return HistoryPicture(lanes, events, width_mm, height_mm, letters, language).draw();
}

} // namespace kite::report
