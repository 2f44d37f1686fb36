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
    connect(swings_, &SwingListModel::swing_loaded, this, &RecordLink::tell);
    // What is opened is seen first, and kept when nothing is left to read.
    connect(swings_, &SwingListModel::all_loaded, this, [this] {
        if (keeper_->keeps_what_is_opened())
            keep_ready();
    });
    connect(swings_, &SwingListModel::read_anew, this, &RecordLink::keep_anew);
    connect(swings_, &SwingListModel::marks_changed, this, &RecordLink::tell);
    connect(keeper_, &RecordKeeper::kept, this, [this](int id, const QString& swing) {
        asked_.erase(id);
        swings_->set_record_id(id, swing);
        if (anew_.erase(id) > 0)
            keep_anew(swings_->row_of(id));
        // What was said of it meanwhile.
        if (const int row = swings_->row_of(id); row >= 0)
            tell(row);
    });
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
    if (!swing || !swing->ok || !swings_->record_id_of(id).isEmpty() || asked_.count(id) > 0)
        return;
    asked_.insert(id);
    keeper_->keep(to_keep(row));
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
    // It has been measured with the moved moments by now.
    if (const auto swing = swings_->swing(row); moved && swing && swing->ok)
        keeper_->put_result(record_id, swing);
}

} // namespace kite::app
