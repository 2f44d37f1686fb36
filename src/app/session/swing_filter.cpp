#include "app/session/swing_filter.h"

#include "app/theme/text.h"

#include <algorithm>
#include <cmath>

namespace kite::app {

namespace {

/// Greater is better; what is missing comes last.
double rank_of(double value) {
    return std::isfinite(value) ? value : -1e300;
}

} // namespace

SwingFilter::SwingFilter(SwingListModel* model, QObject* parent)
    : QSortFilterProxyModel(parent), model_(model) {
    setSourceModel(model);
    setDynamicSortFilter(true);
    sort(0);
}

QString SwingFilter::name_of(Sort sort) {
    switch (sort) {
    case Sort::Opened:
        return tr("as they came");
    case Sort::Golfer:
        return tr("by golfer and club");
    case Sort::InOrder:
        return tr("surest order first");
    case Sort::ClubHeadSpeed:
        return tr("fastest club head first");
    case Sort::GoodFirst:
        return tr("good ones first");
    }
    return {};
}

void SwingFilter::set_words(const QString& words) {
    words_ = words.split(QLatin1Char(' '), Qt::SkipEmptyParts);
    invalidateFilter();
}

void SwingFilter::set_sort(Sort sort) {
    sort_ = sort;
    invalidate();
}

QString SwingFilter::searched_text(int row) const {
    const QModelIndex index = model_->index(row);
    QStringList text{index.data(SwingListModel::GolferRole).toString(),
                     index.data(SwingListModel::NoteRole).toString(),
                     index.data(SwingListModel::FileRole).toString()};
    if (index.data(SwingListModel::GoodRole).toBool())
        text << tr("good");
    if (index.data(SwingListModel::ExcludedRole).toBool())
        text << tr("left out");
    const auto swing = model_->swing(row);
    if (!swing)
        text << tr("loading");
    else if (!swing->ok)
        text << tr("unreadable");
    else
        text << club_name(swing->analysis.club) << handed_name(swing->analysis.handed);
    return text.join(QLatin1Char('\n'));
}

bool SwingFilter::filterAcceptsRow(int row, const QModelIndex& /*parent*/) const {
    if (words_.isEmpty())
        return true;
    const QString text = searched_text(row);
    return std::all_of(words_.begin(), words_.end(), [&](const QString& word) {
        return text.contains(word, Qt::CaseInsensitive);
    });
}

bool SwingFilter::lessThan(const QModelIndex& left, const QModelIndex& right) const {
    const auto by_value = [&](auto value_of) {
        const double a = value_of(left);
        const double b = value_of(right);
        return a != b ? a > b : left.row() < right.row();
    };
    const auto measure = [this](const QModelIndex& index, double (*of)(const Analysis&)) {
        const auto swing = model_->swing(index.row());
        return rank_of(swing && swing->ok ? of(swing->analysis) : kMissing);
    };
    switch (sort_) {
    case Sort::Opened:
        break;
    case Sort::Golfer: {
        const auto key = [this](const QModelIndex& index) {
            const auto swing = model_->swing(index.row());
            return index.data(SwingListModel::GolferRole).toString() + QChar(1) +
                   (swing && swing->ok ? club_name(swing->analysis.club) : QString());
        };
        const int order = QString::localeAwareCompare(key(left), key(right));
        return order != 0 ? order < 0 : left.row() < right.row();
    }
    case Sort::InOrder:
        return by_value([&](const QModelIndex& index) {
            return measure(index, [](const Analysis& a) { return a.sequence.order_certainty; });
        });
    case Sort::ClubHeadSpeed:
        return by_value([&](const QModelIndex& index) {
            return measure(index, [](const Analysis& a) { return a.speed.club_head_m_s; });
        });
    case Sort::GoodFirst:
        return by_value([](const QModelIndex& index) {
            return index.data(SwingListModel::GoodRole).toBool() ? 1.0 : 0.0;
        });
    }
    return left.row() < right.row();
}

} // namespace kite::app
