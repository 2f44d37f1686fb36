#include "app/session/desk.h"

#include "formats/rules/rules_json.h"

#include <QDir>
#include <QFileInfo>

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

void Desk::set_caption(const QString& golfer, const QString& caption) {
    golfer_ = golfer;
    caption_ = caption;
    emit caption_changed();
}

void Desk::use_demo_record() {
    record_.open(QFileInfo(own_record_).dir().filePath(QStringLiteral("demo.db")));
    record_.collect_into(tr("Demo lesson"));
}

void Desk::look_at(const std::vector<SwingRequest>& requests) {
    SwingListModel* swings = lesson_.swings();
    int first = -1;
    for (const SwingRequest& request : requests) {
        int row = swings->row_of_record(request.record_id);
        if (row < 0)
            row = swings->open({request});
        first = first < 0 ? row : first;
    }
    emit look_asked(first);
}

} // namespace kite::app
