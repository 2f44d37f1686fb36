#include "app/session/desk.h"

#include "app/theme/text.h"
#include "formats/beside/launch_csv.h"
#include "formats/json/lesson_json.h"
#include "formats/rules/rules_json.h"

#include <QDir>
#include <QFileInfo>

#include <cmath>

namespace kite::app {

std::vector<Finding> Desk::read_by(const QString& school, FaceHabit face, const QString& what) {
    auto read = formats::rules_with_school(school.toStdString());
    if (!read.ok())
        return read.findings;
    read.value.face = face;
    read.value.goal = rules()->goal;
    const auto rules = std::make_shared<const Rules>(std::move(read.value));
    if (what.isEmpty())
        lesson_.swings()->set_rules(rules);
    else
        lesson_.editor()->set_rules(rules, what);
    return {};
}

void Desk::set_goal(Goal goal, const QString& what) {
    Rules now = *rules();
    now.goal = goal;
    const auto changed = std::make_shared<const Rules>(std::move(now));
    if (what.isEmpty())
        lesson_.swings()->set_rules(changed);
    else
        lesson_.editor()->set_rules(changed, what);
}

void Desk::know_golfer(const store::Row& golfer) {
    Rules now = *rules();
    now.face = find_face(store::text_in(golfer, "face")).value_or(now.face);
    now.goal = find_goal(store::text_in(golfer, "goal")).value_or(now.goal);
    if (now.face != rules()->face || now.goal != rules()->goal)
        lesson_.swings()->set_rules(std::make_shared<const Rules>(std::move(now)));
    limits_.clear();
    const auto limits = store::Row::parse(store::text_in(golfer, "limits"), nullptr, false);
    if (limits.is_array())
        for (const auto& limit : limits)
            if (limit.is_string())
                limits_.push_back(limit.get<std::string>());
}

int Desk::shown_row() const {
    const SwingListModel* swings = lesson_.swings();
    for (int row = 0; row < swings->rowCount(); ++row)
        if (shown_.has_swing() && swings->swing(row) == shown_.swing())
            return row;
    return -1;
}

QString Desk::shown_in_record() const {
    const int row = shown_row();
    return row < 0 ? QString() : lesson_.swings()->record_id_of(lesson_.swings()->id_of(row));
}

QString Desk::shown_file() const {
    const int row = shown_row();
    return row < 0 ? QString() : lesson_.swings()->request(row).path;
}

void Desk::add_still(report::Photo still) {
    stills_.push_back(std::move(still));
    emit stills_changed();
}

void Desk::forget_stills() {
    stills_.clear();
    emit stills_changed();
}

QString Desk::golfer_meant() const {
    const Row* chosen = record_.golfer(record_.whose());
    return !golfer_.isEmpty() || chosen == nullptr ? golfer_ : text_in(*chosen, "name");
}

void Desk::set_caption(const QString& golfer, const QString& caption) {
    golfer_ = golfer;
    caption_ = caption;
    emit caption_changed();
}

Desk::Desk(QObject* parent) : QObject(parent) {}

void Desk::use_demo_record() {
    record_.open(QFileInfo(own_record_).dir().filePath(QStringLiteral("demo.db")));
    record_.collect_into(tr("Demo lesson"));
    keep_earlier();
}

/// What the demo's golfers did before: kept once, however often the demo is opened.
void Desk::keep_earlier() {
    const QFileInfo demo(find_demo_lesson());
    const auto earlier = formats::read_lesson(
        path_of(demo.dir().filePath(QStringLiteral("../earlier/lesson.json"))));
    for (const formats::LessonSwing& swing : earlier.value.swings) {
        ToKeep kept;
        kept.path = QString::fromStdString(swing.file.lexically_normal().string());
        kept.golfer = QString::fromStdString(swing.golfer);
        kept.rules = rules();
        kept.read_options = lesson_.swings()->read_options();
        kept.day = QString::fromStdString(swing.day);
        if (!swing.flight.empty())
            kept.columns["flight"] = swing.flight;
        if (std::isfinite(swing.guess_open_deg))
            kept.columns["guess_open_deg"] = swing.guess_open_deg;
        if (swing.launch)
            kept.columns["launch"] = formats::to_json(*swing.launch);
        record_.keep(kept);
    }
}

std::vector<int> Desk::rows_of(const std::vector<SwingRequest>& requests) {
    SwingListModel* swings = lesson_.swings();
    std::vector<int> out;
    for (const SwingRequest& request : requests) {
        const int row = swings->row_of_record(request.record_id);
        out.push_back(row >= 0 ? row : swings->open({request}));
    }
    return out;
}

void Desk::look_at(const std::vector<SwingRequest>& requests) {
    const std::vector<int> rows = rows_of(requests);
    emit look_asked(rows.empty() ? -1 : rows.front());
}

void Desk::compare(const std::vector<SwingRequest>& first,
                   const std::vector<SwingRequest>& second) {
    const std::vector<int> a = rows_of(first);
    emit compare_asked(a, rows_of(second));
}

} // namespace kite::app
