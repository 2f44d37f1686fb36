#include "app/rooms/golfer/relation_table.h"

#include "app/theme/text.h"
#include "app/theme/units.h"

#include <algorithm>
#include <cmath>
#include <map>

namespace kite::app {

namespace {

/// With fewer degrees of freedom than this every interval is nearly as wide as can be.
constexpr double kFewest = 4.0;

} // namespace

void RelationTable::show_relations(const GolferHistory& history, const LaunchField& against) {
    beginResetModel();
    rows_.clear();
    against_ = against;
    std::vector<double> launch;
    for (const auto& shot : history.launch)
        launch.push_back(shot ? (*shot).*against.member : kMissing);
    // Swings of one lesson with one club are held against each other.
    std::map<std::string, int> numbers;
    std::vector<int> group;
    for (const Row& swing : history.swings)
        group.push_back(numbers
                            .try_emplace(store::text_in(swing, "lesson_id") + "/" +
                                             store::text_in(swing, "club"),
                                         static_cast<int>(numbers.size()))
                            .first->second);
    std::vector<double> p;
    for (const Measure& measure : all_measures()) {
        std::vector<double> values;
        for (const KeptMeasures& swing : history.measures) {
            const auto found = swing.values.find(measure.key);
            values.push_back(found == swing.values.end() ? kMissing : found->second.value);
        }
        const Relation relation = relate(values, launch, group);
        if (relation.freedom < kFewest || !std::isfinite(relation.r))
            continue;
        rows_.push_back({&measure, relation, false});
        p.push_back(relation.p);
    }
    const std::vector<bool> shown = control_false_discoveries(p, 0.05);
    for (std::size_t i = 0; i < rows_.size(); ++i)
        rows_[i].is_shown = shown[i];
    std::stable_sort(rows_.begin(), rows_.end(), [](const Entry& a, const Entry& b) {
        return a.is_shown != b.is_shown ? a.is_shown
                                        : std::abs(a.relation.r) > std::abs(b.relation.r);
    });
    endResetModel();
}

int RelationTable::rowCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : static_cast<int>(rows_.size());
}
int RelationTable::columnCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : Count;
}

QString RelationTable::text_at(const Entry& entry, int column) const {
    const Relation& it = entry.relation;
    switch (column) {
    case Name:
        return said(entry.measure->name);
    case Together:
        return number_text(it.r, 2);
    case Interval:
        return std::isfinite(it.r_low)
                   ? tr("%1 to %2").arg(number_text(it.r_low, 2), number_text(it.r_high, 2))
                   : tr("not known");
    case Slope: {
        const auto launch = Units::instance().of_flight(against_.unit);
        const auto measure = Units::instance().of(entry.measure->unit);
        const double factor = launch.factor / measure.factor;
        const auto text = [&](double value) { return number_text(factor * value, 2); };
        return tr("%1 (%2 to %3) %4 a %5")
            .arg(text(it.slope), text(it.slope_low), text(it.slope_high), launch.name,
                 measure.name.isEmpty() ? tr("unit") : measure.name);
    }
    case Swings:
        return QString::number(it.count);
    case Verdict:
        return entry.is_shown ? tr("goes together") : tr("not shown");
    default:
        return {};
    }
}

QVariant RelationTable::data(const QModelIndex& index, int role) const {
    if (!index.isValid() || index.row() >= rowCount())
        return {};
    const Entry& entry = rows_[static_cast<std::size_t>(index.row())];
    if (role == Qt::DisplayRole)
        return text_at(entry, index.column());
    if (role == Qt::TextAlignmentRole && index.column() != Name && index.column() != Verdict)
        return QVariant::fromValue(Qt::Alignment(Qt::AlignRight | Qt::AlignVCenter));
    return {};
}

QVariant RelationTable::headerData(int section, Qt::Orientation orientation, int role) const {
    if (orientation != Qt::Horizontal || role != Qt::DisplayRole)
        return {};
    const QString names[] = {tr("Measure"),        tr("r"),      tr("95 % interval"),
                             tr("Change with it"), tr("Swings"), tr("Verdict")};
    return section >= 0 && section < Count ? names[section] : QString();
}

} // namespace kite::app
