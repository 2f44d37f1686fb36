#include "app/session/swing_list_model.h"

#include "app/theme/text.h"

#include <QFileInfo>
#include <QtConcurrent>

#include <algorithm>

namespace kite::app {

SwingListModel::SwingListModel(QObject* parent) : QAbstractListModel(parent) {}

SwingListModel::~SwingListModel() {
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
        return text + QStringLiteral(", ") + QString::fromStdString(words.order);
    }
    case Qt::ToolTipRole:
        return entry.request.path;
    case NoteRole:
        return entry.request.note;
    case FileRole:
        return file;
    case StateRole:
        return static_cast<int>(state(index.row()));
    case NumberRole:
        return index.row() + 1;
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
    for (const SwingRequest& request : requests)
        entries_.push_back({next_id_++, request, nullptr});
    endInsertRows();
    for (std::size_t i = begin; i < entries_.size(); ++i) {
        const int id = entries_[i].id;
        auto watcher = std::make_unique<Watcher>();
        connect(watcher.get(), &Watcher::finished, this,
                [this, id, raw = watcher.get()] { finish(id, raw->result()); });
        watcher->setFuture(QtConcurrent::run(load_swing, entries_[i].request));
        watchers_[id] = std::move(watcher);
    }
    return first;
}

void SwingListModel::finish(int id, std::shared_ptr<const LoadedSwing> loaded) {
    // The watcher is still on the stack above us.
    const auto watcher = watchers_.find(id);
    if (watcher != watchers_.end()) {
        watcher->second.release()->deleteLater();
        watchers_.erase(watcher);
    }
    const auto found = std::find_if(entries_.begin(), entries_.end(),
                                    [id](const Entry& entry) { return entry.id == id; });
    if (found != entries_.end()) { // else removed meanwhile
        found->loaded = std::move(loaded);
        const int row = static_cast<int>(found - entries_.begin());
        emit dataChanged(index(row), index(row));
        emit swing_loaded(row);
    }
    if (watchers_.empty())
        emit all_loaded();
}

void SwingListModel::remove(int row) {
    if (row < 0 || row >= rowCount())
        return;
    beginRemoveRows({}, row, row);
    entries_.erase(entries_.begin() + row);
    endRemoveRows();
}

} // namespace kite::app
