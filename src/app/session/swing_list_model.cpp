#include "app/session/swing_list_model.h"

#include "app/session/workers.h"
#include "app/theme/text.h"

#include <QFileInfo>
#include <QtConcurrent>

#include <algorithm>

namespace kite::app {

struct SwingListModel::Removed {
    Entry entry;
    int row = 0;
};

SwingListModel::SwingListModel(QObject* parent) : QAbstractListModel(parent) {}

SwingListModel::~SwingListModel() {
    *unwanted_ = true; // what is queued need not be read any more
    for (auto& [id, watcher] : watchers_) {
        watcher->disconnect(this);
        watcher->waitForFinished();
    }
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
    case Qt::AccessibleTextRole: {
        // What the eye takes from the glyph, in words.
        QString text = tr("Swing %1, %2").arg(index.row() + 1).arg(golfer);
        if (state(index.row()) == State::Loading)
            return text + QStringLiteral(", ") + tr("loading");
        if (state(index.row()) == State::Failed)
            return text + QStringLiteral(", ") + tr("could not be read");
        const ReadingWords words =
            write_words(entry.loaded->analysis, entry.loaded->reading, language());
        text += QStringLiteral(", ") + QString::fromStdString(words.order);
        if (entry.marks.good)
            text += QStringLiteral(", ") + tr("marked as good");
        if (entry.marks.excluded)
            text += QStringLiteral(", ") + tr("left out of averages");
        return text;
    }
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
        entry.marks.note = request.note;
        entries_.push_back(std::move(entry));
    }
    endInsertRows();
    for (std::size_t i = begin; i < entries_.size(); ++i)
        start(entries_[i]);
    return first;
}

void SwingListModel::start(Entry& entry) {
    AnalysisOptions options = options_;
    options.moved_s = entry.moved_s;
    options.swing = entry.request.said.number;
    entry.outdated = false;
    auto watcher = std::make_unique<Watcher>();
    connect(watcher.get(), &Watcher::finished, this,
            [this, id = entry.id, raw = watcher.get()] { finish(id, raw->result()); });
    const auto work = [request = entry.request, loaded = entry.loaded, read = read_options_,
                       options = std::move(options),
                       unwanted = unwanted_]() -> std::shared_ptr<const LoadedSwing> {
        if (!loaded && *unwanted)
            return nullptr;
        return loaded ? analyse_again(loaded, options) : load_swing(request, read, options);
    };
    watcher->setFuture(QtConcurrent::run(&workers(), work));
    watchers_[entry.id] = std::move(watcher);
    emit progress_changed(done_, ++wanted_);
}

void SwingListModel::measure_again(Entry& entry) {
    // One at a time for each swing: the newest wish is done when the running one is through.
    if (watchers_.count(entry.id) > 0)
        entry.outdated = true;
    else if (!has_errors(entry.loaded->file_findings))
        start(entry);
}

void SwingListModel::finish(int id, std::shared_ptr<const LoadedSwing> loaded) {
    // The watcher is still on the stack above us.
    const auto watcher = watchers_.find(id);
    if (watcher != watchers_.end()) {
        watcher->second.release()->deleteLater();
        watchers_.erase(watcher);
    }
    ++done_;
    if (Entry* entry = find(id); entry != nullptr && loaded) { // else removed meanwhile
        entry->loaded = std::move(loaded);
        if (entry->outdated)
            measure_again(*entry);
        const int row = row_of(id);
        emit dataChanged(index(row), index(row));
        emit swing_loaded(row);
    }
    emit progress_changed(done_, wanted_);
    if (watchers_.empty()) {
        done_ = wanted_ = 0;
        emit all_loaded();
    }
}

void SwingListModel::set_options(const AnalysisOptions& options) {
    if (options == options_)
        return;
    options_ = options;
    for (Entry& entry : entries_)
        measure_again(entry);
    emit options_changed();
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
    if (watchers_.count(entry.id) > 0)
        return; // it is being read
    entry.request.axes = axes;
    entry.loaded = nullptr;
    entry.moved_s.clear(); // they were put into another reading
    start(entry);
    emit dataChanged(index(row), index(row));
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

int SwingListModel::row_of_file(const QString& path) const {
    for (int row = 0; row < rowCount(); ++row)
        if (entries_[static_cast<std::size_t>(row)].request.path == path)
            return row;
    return -1;
}

void SwingListModel::cancel_loading() {
    *unwanted_ = true;
    unwanted_ = std::make_shared<std::atomic<bool>>(false);
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
    AnalysisOptions wanted = options_;
    wanted.moved_s = entry.moved_s;
    wanted.swing = entry.request.said.number;
    if (watchers_.count(entry.id) == 0 &&
        (!entry.loaded || (entry.loaded->ok && !(entry.loaded->analysis.options == wanted))))
        start(entry);
}

} // namespace kite::app
