#include "app/session/record_link.h"

#include "store/measured.h"

namespace kite::app {

namespace {

Row text_or_nothing(const QString& text) {
    return text.isEmpty() ? Row() : Row(text.toStdString());
}

/// What the record holds of the marks and moved moments of a swing.
Row columns_of(const SwingMarks& marks, const std::map<Moment, double>& moved_s) {
    return {{"mark", marks.good       ? Row("good")
                     : marks.excluded ? Row("left out")
                                      : Row()},
            {"note", text_or_nothing(marks.note)},
            {"moved", text_or_nothing(QString::fromStdString(store::column_of(moved_s)))}};
}

} // namespace

RecordLink::RecordLink(SwingListModel* swings, RecordKeeper* keeper, QObject* parent)
    : QObject(parent), swings_(swings), keeper_(keeper) {
    connect(swings_, &QAbstractItemModel::rowsInserted, this,
            [this](const QModelIndex&, int first, int last) { take_arrivals(first, last); });
    connect(swings_, &SwingListModel::swing_loaded, this, &RecordLink::tell);
    // What is opened is seen first, and kept when nothing is left to read.
    connect(swings_, &SwingListModel::all_loaded, this, &RecordLink::keep_ready);
    connect(swings_, &SwingListModel::read_anew, this, &RecordLink::keep_anew);
    connect(swings_, &SwingListModel::marks_changed, this, &RecordLink::tell);
    connect(keeper_, &RecordKeeper::changed, this, &RecordLink::take_verdicts);
    connect(keeper_, &RecordKeeper::whose_changed, this, [this] { said_nobody_ = false; });
    connect(keeper_, &RecordKeeper::kept, this, [this](int id, const QString& swing) {
        asked_.erase(id);
        if (failed_.erase(id) > 0)
            emit unkept_changed();
        swings_->set_record_id(id, swing);
        if (anew_.erase(id) > 0)
            keep_anew(swings_->row_of(id));
        // What was said of it meanwhile.
        if (const int row = swings_->row_of(id); row >= 0)
            tell(row);
    });
    connect(keeper_, &RecordKeeper::not_kept, this, [this](int id, const QString& why) {
        asked_.erase(id);
        why_not_ = why;
        if (swings_->row_of(id) < 0)
            return; // of the demo's past, or taken off meanwhile
        failed_.insert(id);
        emit unkept_changed();
        retry_.start();
    });
    constexpr int kRetry_ms = 10000;
    retry_.setInterval(kRetry_ms);
    retry_.setSingleShot(true);
    connect(&retry_, &QTimer::timeout, this, &RecordLink::try_again);
}

void RecordLink::take_arrivals(int first, int last) {
    const auto place = keeper_->place_for_arrivals();
    for (int row = first; row <= last; ++row) {
        const int id = swings_->id_of(row);
        const SwingRequest& request = swings_->request(row);
        if (!request.record_id.isEmpty())
            said_.try_emplace(id, request.said);
        // What comes from the record is in it; what comes back onto the list has its place.
        if (!request.record_id.isEmpty() || places_.count(id) > 0)
            continue;
        if (!place) {
            if (!said_nobody_)
                emit nobody_to_keep_for();
            said_nobody_ = true;
            continue;
        }
        const bool collected = !place->collected.isEmpty();
        const Row* chosen = keeper_->golfer(place->golfer);
        if (!collected && !request.golfer.isEmpty() && chosen != nullptr &&
            text_in(*chosen, "name") != request.golfer) {
            emit of_another_golfer(request.golfer);
            continue;
        }
        places_[id] = *place;
    }
}

void RecordLink::take_verdicts() {
    std::map<QString, Overruled> all;
    for (const Row& row : keeper_->view().verdicts)
        if (row.value("overruled", 0) != 0)
            all[text_in(row, "swing_id")][store::text_in(row, "fault")] =
                store::text_in(row, "reason");
    for (int row = 0; row < swings_->rowCount(); ++row) {
        const int id = swings_->id_of(row);
        const auto found = all.find(swings_->record_id_of(id));
        if (!swings_->record_id_of(id).isEmpty())
            swings_->set_overruled(id, found == all.end() ? Overruled() : found->second);
    }
}

bool RecordLink::is_nobodys(int row) const {
    const int id = swings_->id_of(row);
    const auto swing = swings_->swing(row);
    return swing && swing->ok && !is_made_up(*swing) && swings_->record_id_of(id).isEmpty() &&
           places_.count(id) == 0 && swings_->request(row).golfer.isEmpty();
}

int RecordLink::nobodys() const {
    int out = 0;
    for (int row = 0; row < swings_->rowCount(); ++row)
        out += is_nobodys(row) ? 1 : 0;
    return out;
}

void RecordLink::keep_nobodys() {
    const auto place = keeper_->place_for_arrivals();
    if (!place)
        return;
    for (int row = 0; row < swings_->rowCount(); ++row)
        if (is_nobodys(row))
            places_.emplace(swings_->id_of(row), *place);
    keep_ready();
}

void RecordLink::let_go_of(const QString& record) {
    for (int row = swings_->rowCount(); row-- > 0;) {
        const int id = swings_->id_of(row);
        const auto place = places_.find(id);
        // What is not in its record yet stays until it is.
        if (!swings_->record_id_of(id).isEmpty() ||
            (place != places_.end() && place->second.record == record && failed_.count(id) == 0))
            swings_->remove(row);
    }
    told_.clear();
}

void RecordLink::try_again() {
    for (const int id : std::set<int>(failed_)) {
        if (swings_->row_of(id) < 0) {
            failed_.erase(id);
            emit unkept_changed();
        }
    }
    if (!failed_.empty())
        keep_ready();
}

void RecordLink::keep_ready() {
    // In the order of the list, whichever was measured first.
    for (int row = 0; row < swings_->rowCount(); ++row) {
        if (swings_->state(row) == SwingListModel::State::Loading)
            return;
        keep(row);
    }
}

void RecordLink::keep(int row) {
    const int id = swings_->id_of(row);
    const auto swing = swings_->swing(row);
    const auto place = places_.find(id);
    if (!swing || !swing->ok || !swings_->record_id_of(id).isEmpty() || asked_.count(id) > 0 ||
        place == places_.end() || (is_made_up(*swing) && place->second.collected.isEmpty()))
        return;
    // In the record for which it came, and in no other.
    if (place->second.record != keeper_->path()) {
        retry_.start();
        return;
    }
    asked_.insert(id);
    ToKeep what = to_keep(row);
    what.in = place->second;
    said_[id] = what.said;
    keeper_->keep(what);
}

void RecordLink::keep_anew(int row) {
    const int id = swings_->id_of(row);
    if (asked_.count(id) > 0) {
        anew_.insert(id);
        return;
    }
    const auto swing = swings_->swing(row);
    const QString kept = swings_->record_id_of(id);
    if (!swing || !swing->ok || kept.isEmpty())
        return;
    ToKeep what = to_keep(row);
    what.anew = kept;
    said_[id] = what.said;
    keeper_->keep(what);
}

ToKeep RecordLink::to_keep(int row) const {
    const SwingRequest& request = swings_->request(row);
    ToKeep out;
    out.list_id = swings_->id_of(row);
    out.path = request.path;
    out.golfer = request.golfer;
    out.said = request.said;
    out.axes = request.axes;
    out.read_options = swings_->read_options();
    out.options = swings_->options();
    out.options.swing = request.said.number;
    out.rules = swings_->swing(row)->rules;
    return out;
}

void RecordLink::tell(int row) {
    const int id = swings_->id_of(row);
    const QString record_id = swings_->record_id_of(id);
    if (record_id.isEmpty())
        return;
    if (const auto said = said_.find(id);
        said != said_.end() && !(said->second == swings_->said_of(id))) {
        said->second = swings_->said_of(id);
        keeper_->say(record_id, said->second, swings_->request(row).axes);
    }
    Row now = columns_of(swings_->marks_of(id), swings_->moved_of(id));
    const auto known = told_.find(id);
    if (known != told_.end() && known->second == now)
        return;
    // A swing that has just come from the record says what the record holds.
    const bool first = known == told_.end();
    const SwingRequest& request = swings_->request(row);
    const bool from_record = request.capture != nullptr;
    const bool moved = known != told_.end() && known->second.at("moved") != now.at("moved");
    told_[id] = now;
    if (first && (from_record ? now == columns_of(request.marks, request.moved_s)
                              : now == columns_of({}, {})))
        return;
    keeper_->change(QStringLiteral("swing"), record_id, now);
    if (moved)
        keeper_->measure_again(record_id);
}

} // namespace kite::app
