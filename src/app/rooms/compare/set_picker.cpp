#include "app/rooms/compare/set_picker.h"

namespace kite::app {

SetPicker::SetPicker(SwingListModel* swings, QObject* parent)
    : QAbstractListModel(parent), swings_(swings) {
    // The list is short and changes seldom: it is looked at as a whole.
    const auto anew = [this] {
        beginResetModel();
        endResetModel();
        emit sets_changed();
    };
    connect(swings_, &QAbstractItemModel::rowsInserted, this, anew);
    connect(swings_, &QAbstractItemModel::rowsRemoved, this, anew);
    connect(swings_, &QAbstractItemModel::modelReset, this, anew);
    connect(swings_, &QAbstractItemModel::dataChanged, this, [this] {
        if (rowCount() > 0)
            emit dataChanged(index(0), index(rowCount() - 1));
        emit sets_changed();
    });
}

int SetPicker::rowCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : swings_->rowCount();
}

SetPicker::Set SetPicker::set_of(int row) const {
    const auto found = sets_.find(swings_->id_of(row));
    return found == sets_.end() ? Set::Neither : found->second;
}

QVariant SetPicker::data(const QModelIndex& index, int role) const {
    if (!index.isValid() || index.row() >= rowCount())
        return {};
    const int row = index.row();
    if (role == SetRole)
        return static_cast<int>(set_of(row));
    if (role != Qt::DisplayRole && role != Qt::AccessibleTextRole)
        return {};
    const QModelIndex at = swings_->index(row);
    const QString golfer = at.data(SwingListModel::GolferRole).toString();
    const QString note = at.data(SwingListModel::NoteRole).toString();
    const QString name = tr("%1  %2").arg(row + 1).arg(golfer) +
                         (note.isEmpty() ? QString() : QStringLiteral("  ") + note);
    switch (set_of(row)) {
    case Set::First:
        return tr("① %1").arg(name);
    case Set::Second:
        return tr("② %1").arg(name);
    case Set::Neither:
        break;
    }
    return tr("·  %1").arg(name);
}

void SetPicker::put(const std::vector<int>& rows, Set set) {
    for (int row : rows)
        sets_[swings_->id_of(row)] = set;
    if (rowCount() > 0)
        emit dataChanged(index(0), index(rowCount() - 1));
    emit sets_changed();
}

std::vector<int> SetPicker::rows_that_count(const QString& golfer) const {
    std::vector<int> out;
    for (int row = 0; row < rowCount(); ++row) {
        const auto swing = swings_->swing(row);
        if (swing && swing->ok && swings_->golfer_of(row) == golfer &&
            !swings_->marks_of(swings_->id_of(row)).excluded)
            out.push_back(row);
    }
    return out;
}

void SetPicker::split(const QString& golfer) {
    const std::vector<int> rows = rows_that_count(golfer);
    sets_.clear();
    for (std::size_t i = 0; i < rows.size(); ++i)
        sets_[swings_->id_of(rows[i])] = 2 * i < rows.size() ? Set::First : Set::Second;
    put({}, Set::Neither);
}

void SetPicker::split_by_club(const QString& golfer) {
    sets_.clear();
    std::optional<ClubKind> first;
    for (const int row : rows_that_count(golfer)) {
        const ClubKind club = swings_->swing(row)->analysis.club;
        first = first.value_or(club);
        sets_[swings_->id_of(row)] = club == *first ? Set::First : Set::Second;
    }
    put({}, Set::Neither);
}

std::vector<std::shared_ptr<const LoadedSwing>> SetPicker::swings_of(Set set) const {
    std::vector<std::shared_ptr<const LoadedSwing>> out;
    for (int row = 0; row < rowCount(); ++row) {
        auto swing = swings_->swing(row);
        if (set_of(row) == set && swing && swing->ok &&
            !swings_->marks_of(swings_->id_of(row)).excluded)
            out.push_back(std::move(swing));
    }
    return out;
}

} // namespace kite::app
