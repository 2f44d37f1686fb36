#pragma once

#include "app/session/swing_list_model.h"
#include "core/sets/swing_set.h"

#include <QFutureWatcher>
#include <QTimer>

#include <array>
#include <map>
#include <memory>
#include <string>
#include <vector>

namespace kite::app {

/// What lies behind the swing shown as a pale band.
enum class ReferenceKind {
    None,
    GoodSwings, ///< of this golfer with this club, marked as good
    AllSwings   ///< of this golfer with this club
};

/// A set of swings, averaged. Times are from impact. Swings that are left out are not in it.
struct Reference {
    ReferenceKind kind = ReferenceKind::None;
    QString name; ///< "Ada's good swings (4)"
    std::vector<std::shared_ptr<const LoadedSwing>> swings;
    std::array<Band, kSequence.size()> rates_deg_s; ///< empty with fewer than two swings
    std::array<PeakSummary, kSequence.size()> peaks;
    Band separation_deg;
    std::map<std::string, Band> body; ///< of every body curve, by its key

    Band body_band(const std::string& key) const;
    bool empty() const { return swings.size() < 2; }
    std::vector<const Analysis*> analyses() const;
};

/// Averages; runs on a worker thread.
std::shared_ptr<const Reference>
make_reference(ReferenceKind kind, QString name,
               std::vector<std::shared_ptr<const LoadedSwing>> swings);

/// Keeps the reference of the swing shown up to date: it is made anew when swings come, are marked
/// or are measured in another way. Many changes at once are one.
class ReferenceKeeper : public QObject {
    Q_OBJECT
public:
    explicit ReferenceKeeper(SwingListModel* model, QObject* parent = nullptr);
    ~ReferenceKeeper() override;

    ReferenceKind kind() const { return kind_; }
    void set_kind(ReferenceKind kind);
    void set_row(int row); ///< whose golfer and club; -1: nobody's
    /// Until the newest wish has been answered.
    bool is_busy() const { return busy_; }

    /// The rows of this golfer with this club and from this side, without those left out.
    static std::vector<int> rows_like(const SwingListModel& model, int row, bool good_only);
    /// The golfer's best other swing: good ones before others, then the surest order, then the
    /// fastest club head; -1: there is none.
    static int best_like(const SwingListModel& model, int row);

signals:
    void changed(std::shared_ptr<const kite::app::Reference> reference); ///< null: none

private:
    void wish();
    void make();
    void answer(const std::shared_ptr<const Reference>& reference);

    SwingListModel* model_;
    ReferenceKind kind_ = ReferenceKind::None;
    int id_ = -1;
    bool busy_ = false;
    QTimer soon_;
    QFutureWatcher<std::shared_ptr<const Reference>> watcher_;
};

} // namespace kite::app
