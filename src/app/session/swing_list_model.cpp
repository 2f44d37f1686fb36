#include "app/session/swing_list_model.h"

#include "app/session/swing_words.h"

#include <QFileInfo>

#include <algorithm>

namespace kite::app {

struct SwingListModel::Removed {
    Entry entry;
    int row = 0;
};

SwingListModel::SwingListModel(QObject* parent) : QAbstractListModel(parent) {
    connect(&reader_, &SwingReader::done, this, &SwingListModel::finish);
    connect(&reader_, &SwingReader::progress_changed, this, &SwingListModel::progress_changed);
    connect(&reader_, &SwingReader::all_done, this, &SwingListModel::all_loaded);
}

int SwingListModel::rowCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : static_cast<int>(entries_.size());
}

SwingListModel::State SwingListModel::state(int row) const {
    const Entry& entry = entries_.at(static_cast<std::size_t>(row));
    if (!entry.loaded)
        return State::Loading;
    return entry.loaded->ok ? State::Ready : State::Failed;
}

std::shared_ptr<const LoadedSwing> SwingListModel::swing(int row) const {
    if (row < 0 || row >= rowCount())
        return nullptr;
    return entries_[static_cast<std::size_t>(row)].loaded;
}

QVariant SwingListModel::data(const QModelIndex& index, int role) const {
    if (!index.isValid() || index.row() >= rowCount())
        return {};
    const Entry& entry = entries_[static_cast<std::size_t>(index.row())];
    const QString file = QFileInfo(entry.request.path).fileName();
    const QString golfer = entry.request.golfer.isEmpty() ? file : entry.request.golfer;
    switch (role) {
    case Qt::DisplayRole:
    case GolferRole:
        return golfer;
    case Qt::AccessibleTextRole:
        return spoken_row(index.row() + 1, golfer, entry.loaded.get(), entry.marks);
    case Qt::ToolTipRole:
        return entry.request.path;
    case NoteRole:
        return entry.marks.note;
    case FileRole:
        return file;
    case StateRole:
        return static_cast<int>(state(index.row()));
    case NumberRole:
        return index.row() + 1;
    case SwingRole:
        return QVariant::fromValue(entry.loaded);
    case GoodRole:
        return entry.marks.good;
    case ExcludedRole:
        return entry.marks.excluded;
    default:
        return {};
    }
}

QHash<int, QByteArray> SwingListModel::roleNames() const {
    auto names = QAbstractListModel::roleNames();
    names[GolferRole] = "golfer";
    names[NoteRole] = "note";
    names[FileRole] = "file";
    names[StateRole] = "state";
    names[NumberRole] = "number";
    return names;
}

int SwingListModel::open(const std::vector<SwingRequest>& requests) {
    const int first = rowCount();
    if (requests.empty())
        return first;
    beginInsertRows({}, first, first + static_cast<int>(requests.size()) - 1);
    const std::size_t begin = entries_.size();
    for (const SwingRequest& request : requests) {
        Entry entry;
        entry.id = next_id_++;
        entry.request = request;
        entry.marks = request.marks;
        entry.marks.note = request.note;
        entry.moved_s = request.moved_s;
        entries_.push_back(std::move(entry));
    }
    endInsertRows();
    for (std::size_t i = begin; i < entries_.size(); ++i)
        start(entries_[i]);
    return first;
}

AnalysisOptions SwingListModel::options_of(const Entry& entry) const {
    AnalysisOptions options = options_;
    options.moved_s = entry.moved_s;
    options.swing = entry.request.said.number;
    return options;
}

void SwingListModel::start(Entry& entry) {
    entry.outdated = false;
    if (entry.loaded) {
        reader_.measure(entry.id, entry.loaded, options_of(entry), rules_);
        return;
    }
    entry.anew = entry.anew || entry.rewritten;
    entry.rewritten = entry.said_anew = false;
    reader_.read(entry.id, entry.request, read_options_, options_of(entry), rules_);
}

void SwingListModel::measure_again(Entry& entry) {
    // One at a time for each swing: the newest wish is done when the running one is through.
    if (reader_.is_busy(entry.id))
        entry.outdated = true;
    else if (!has_errors(entry.loaded->file_findings))
        start(entry);
}

void SwingListModel::finish(int id, std::shared_ptr<const LoadedSwing> loaded) {
    Entry* entry = find(id);
    if (entry == nullptr || !loaded)
        return; // removed meanwhile
    entry->loaded = std::move(loaded);
    const int row = row_of(id);
    // Said while it was being measured.
    if (entry->loaded->overruled != entry->request.overruled)
        entry->loaded = app::read_again(*entry->loaded, entry->request.overruled);
    if (entry->rewritten || entry->said_anew) {
        read_again(row, entry->request.axes);
        return;
    }
    if (entry->outdated)
        measure_again(*entry);
    const bool anew = entry->anew && entry->loaded->ok;
    entry->anew = entry->anew && !anew;
    emit dataChanged(index(row), index(row));
    emit swing_loaded(row);
    if (anew)
        emit read_anew(row_of(id));
}

void SwingListModel::set_options(const AnalysisOptions& options) {
    if (options == options_)
        return;
    options_ = options;
    for (Entry& entry : entries_)
        measure_again(entry);
    emit options_changed();
}

void SwingListModel::set_rules(RulesInUse rules) {
    if (rules == rules_)
        return;
    rules_ = std::move(rules);
    for (Entry& entry : entries_)
        measure_again(entry);
    emit rules_changed();
}

SwingListModel::Entry* SwingListModel::find(int id) {
    const int row = row_of(id);
    return row < 0 ? nullptr : &entries_[static_cast<std::size_t>(row)];
}

const SwingListModel::Entry* SwingListModel::find(int id) const {
    const int row = row_of(id);
    return row < 0 ? nullptr : &entries_[static_cast<std::size_t>(row)];
}

int SwingListModel::id_of(int row) const {
    return row < 0 || row >= rowCount() ? -1 : entries_[static_cast<std::size_t>(row)].id;
}

int SwingListModel::row_of(int id) const {
    const auto found = std::find_if(entries_.begin(), entries_.end(),
                                    [id](const Entry& entry) { return entry.id == id; });
    return found == entries_.end() ? -1 : static_cast<int>(found - entries_.begin());
}

std::map<Moment, double> SwingListModel::moved_of(int id) const {
    const Entry* entry = find(id);
    return entry == nullptr ? std::map<Moment, double>{} : entry->moved_s;
}

void SwingListModel::set_moved(int id, std::map<Moment, double> moved_s) {
    Entry* entry = find(id);
    if (entry == nullptr || entry->moved_s == moved_s)
        return;
    entry->moved_s = std::move(moved_s);
    measure_again(*entry);
}

void SwingListModel::set_overruled(int id, const Overruled& overruled) {
    Entry* entry = find(id);
    if (entry == nullptr)
        return;
    entry->request.overruled = overruled;
    if (!entry->loaded || entry->loaded->overruled == overruled)
        return;
    entry->loaded = app::read_again(*entry->loaded, overruled);
    const int row = row_of(id);
    emit dataChanged(index(row), index(row));
    emit swing_loaded(row);
}

SwingMarks SwingListModel::marks_of(int id) const {
    const Entry* entry = find(id);
    return entry == nullptr ? SwingMarks{} : entry->marks;
}

void SwingListModel::set_marks(int id, SwingMarks marks) {
    Entry* entry = find(id);
    if (entry == nullptr || entry->marks == marks)
        return;
    entry->marks = std::move(marks);
    const int row = row_of(id);
    emit dataChanged(index(row), index(row));
    emit marks_changed(row);
}

QString SwingListModel::golfer_of(int row) const {
    return row < 0 || row >= rowCount() ? QString()
                                        : entries_[static_cast<std::size_t>(row)].request.golfer;
}

void SwingListModel::read_again(int row, const AxisHints& axes) {
    if (row < 0 || row >= rowCount())
        return;
    Entry& entry = entries_[static_cast<std::size_t>(row)];
    entry.request.axes = axes;
    if (reader_.is_busy(entry.id)) {
        entry.said_anew = true; // when what is under way is through
        return;
    }
    entry.loaded = nullptr;
    entry.moved_s.clear(); // they were put into another reading
    start(entry);
    emit dataChanged(index(row), index(row));
}

void SwingListModel::take_rewritten(int row) {
    if (row < 0 || row >= rowCount())
        return;
    Entry& entry = entries_[static_cast<std::size_t>(row)];
    entry.rewritten = true;
    read_again(row, entry.request.axes);
}

SwingSaid SwingListModel::said_of(int id) const {
    const Entry* entry = find(id);
    return entry == nullptr ? SwingSaid{} : entry->request.said;
}

void SwingListModel::say(int id, const SwingSaid& said) {
    Entry* entry = find(id);
    if (entry == nullptr || entry->request.said == said)
        return;
    const bool measured_alike =
        entry->request.said.handed == said.handed && entry->request.said.club == said.club;
    entry->request.said = said;
    if (measured_alike && entry->loaded && entry->loaded->ok) {
        measure_again(*entry); // another swing of the same take
        return;
    }
    read_again(row_of(id), entry->request.axes);
}

QString SwingListModel::record_id_of(int id) const {
    const Entry* entry = find(id);
    return entry == nullptr ? QString() : entry->request.record_id;
}

void SwingListModel::set_record_id(int id, const QString& record_id) {
    if (Entry* entry = find(id))
        entry->request.record_id = record_id;
}

int SwingListModel::row_of_record(const QString& record_id) const {
    for (std::size_t i = 0; i < entries_.size(); ++i)
        if (!record_id.isEmpty() && entries_[i].request.record_id == record_id)
            return static_cast<int>(i);
    return -1;
}

int SwingListModel::row_of_file(const QString& path) const {
    for (int row = 0; row < rowCount(); ++row)
        if (entries_[static_cast<std::size_t>(row)].request.path == path)
            return row;
    return -1;
}

void SwingListModel::cancel_loading() {
    reader_.give_up();
    for (int row = rowCount(); row-- > 0;)
        if (state(row) == State::Loading)
            remove(row);
}

std::shared_ptr<const SwingListModel::Removed> SwingListModel::remove(int row) {
    if (row < 0 || row >= rowCount())
        return nullptr;
    auto out = std::make_shared<Removed>();
    out->row = row;
    beginRemoveRows({}, row, row);
    out->entry = std::move(entries_[static_cast<std::size_t>(row)]);
    entries_.erase(entries_.begin() + row);
    endRemoveRows();
    return out;
}

void SwingListModel::restore(const Removed& removed) {
    const int row = std::min(removed.row, rowCount());
    beginInsertRows({}, row, row);
    entries_.insert(entries_.begin() + row, removed.entry);
    endInsertRows();
    Entry& entry = entries_[static_cast<std::size_t>(row)];
    // Read, or measured in the way that holds now, if that changed meanwhile.
    if (!reader_.is_busy(entry.id) &&
        (!entry.loaded ||
         (entry.loaded->ok && (!(entry.loaded->analysis.options == options_of(entry)) ||
                               entry.loaded->rules != rules_))))
        start(entry);
}

} // namespace kite::app
