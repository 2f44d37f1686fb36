#pragma once

#include "app/session/swing_list_model.h"

#include <QSortFilterProxyModel>
#include <QStringList>

namespace kite::app {

/// The list as it is looked at: sorted, and narrowed down by words. Every word must be found in
/// golfer, note, file, club or hand, or be a word for a state: good, left out, unreadable.
class SwingFilter : public QSortFilterProxyModel {
    Q_OBJECT
public:
    enum class Sort {
        Opened,        ///< as they came
        Golfer,        ///< by name, then club
        InOrder,       ///< surest to be in order first
        ClubHeadSpeed, ///< fastest first
        GoodFirst
    };
    static constexpr int kSorts = 5;

    explicit SwingFilter(SwingListModel* model, QObject* parent = nullptr);

    void set_words(const QString& words);
    void set_sort(Sort sort);
    Sort sort_by() const { return sort_; }
    static QString name_of(Sort sort);

protected:
    bool filterAcceptsRow(int row, const QModelIndex& parent) const override;
    bool lessThan(const QModelIndex& left, const QModelIndex& right) const override;

private:
    QString searched_text(int row) const;
    SwingListModel* model_;
    QStringList words_;
    Sort sort_ = Sort::Opened;
};

} // namespace kite::app
