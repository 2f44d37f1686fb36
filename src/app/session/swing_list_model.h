#pragma once

#include "app/session/swing_marks.h"
#include "app/session/swing_reader.h"

#include <QAbstractListModel>

#include <map>
#include <memory>
#include <vector>

namespace kite::app {

/// The swings of the session, in the order in which they were opened. A row is there at once and
/// fills when its file has been read and measured.
class SwingListModel : public QAbstractListModel {
    Q_OBJECT
public:
    enum Role {
        GolferRole = Qt::UserRole + 1,
        NoteRole,
        FileRole,
        StateRole,  ///< a State as int
        NumberRole, ///< from 1
        SwingRole,  ///< std::shared_ptr<const LoadedSwing>; empty while loading
        GoodRole,
        ExcludedRole,
    };
    enum class State { Loading, Ready, Failed };

    explicit SwingListModel(QObject* parent = nullptr);

    int rowCount(const QModelIndex& parent = {}) const override;
    QVariant data(const QModelIndex& index, int role) const override;
    QHash<int, QByteArray> roleNames() const override;

    /// Appends the swings and begins to load them. Returns the first new row.
    int open(const std::vector<SwingRequest>& requests);
    struct Removed; ///< an entry and where it stood
    /// Takes a swing off the list, with all that was said of it.
    std::shared_ptr<const Removed> remove(int row); ///< null: there is no such row
    /// Back where it was, or at the end if the list has become shorter.
    void restore(const Removed& removed);
    /// How files are read, besides what is said of each; for those opened from now on.
    void set_read_options(formats::ReadOptions options) { read_options_ = std::move(options); }
    const formats::ReadOptions& read_options() const { return read_options_; }
    const SwingRequest& request(int row) const {
        return entries_.at(static_cast<std::size_t>(row)).request;
    }
    /// Reads the file once more, with other axes or after the tables have changed.
    void read_again(int row, const AxisHints& axes);
    /// The file was written again: reads it once more, after the reading that is under way.
    void take_rewritten(int row);

    /// What the user said of a swing; a change reads it again.
    SwingSaid said_of(int id) const;
    void say(int id, const SwingSaid& said);
    /// Under which id the record keeps a swing; empty: it does not.
    QString record_id_of(int id) const;
    void set_record_id(int id, const QString& record_id);
    int row_of_record(const QString& record_id) const; ///< -1: it is not in the list
    /// The row of a file; -1: it is not in the list.
    int row_of_file(const QString& path) const;

    /// How all swings are measured; a change analyses them again, none is read again.
    const AnalysisOptions& options() const { return options_; }
    void set_options(const AnalysisOptions& options);
    /// By which rules all swings are read; a change reads them again in words.
    const RulesInUse& rules() const { return rules_; }
    void set_rules(RulesInUse rules);

    /// A swing keeps its id while rows come and go; -1: there is none.
    int id_of(int row) const;
    int row_of(int id) const;
    /// Moments of a swing that were put by hand.
    std::map<Moment, double> moved_of(int id) const;
    void set_moved(int id, std::map<Moment, double> moved_s);

    /// What the instructor sees otherwise; the swing is read so at once.
    void set_overruled(int id, const Overruled& overruled);

    SwingMarks marks_of(int id) const;
    void set_marks(int id, SwingMarks marks);

    /// The file's golfer; empty if nobody said.
    QString golfer_of(int row) const;

    /// Empty while loading.
    std::shared_ptr<const LoadedSwing> swing(int row) const;
    State state(int row) const;
    bool is_loading() const { return reader_.is_busy(); }
    /// Takes the files that are not read yet off the list.
    void cancel_loading();

signals:
    void swing_loaded(int row); ///< also after it was analysed again
    void read_anew(int row);    ///< a file that was written again can be measured
    void options_changed();
    void rules_changed();
    void marks_changed(int row);
    /// Of what was asked for since nothing was left to do.
    void progress_changed(int done, int wanted);
    void all_loaded();

private:
    struct Entry {
        int id = 0;
        SwingRequest request;
        std::shared_ptr<const LoadedSwing> loaded;
        std::map<Moment, double> moved_s;
        SwingMarks marks;
        bool outdated = false;  ///< asked for in another way while it was being measured
        bool rewritten = false; ///< the file, since it was begun to be read
        bool said_anew = false; ///< hand, club or axes, since it was begun to be read
        bool anew = false;      ///< what is read now is another file than before
    };
    Entry* find(int id);
    const Entry* find(int id) const;
    /// How an entry is measured.
    AnalysisOptions options_of(const Entry& entry) const;
    void start(Entry& entry);
    void measure_again(Entry& entry);
    void finish(int id, std::shared_ptr<const LoadedSwing> loaded);

    std::vector<Entry> entries_;
    int next_id_ = 1;
    AnalysisOptions options_;
    RulesInUse rules_ = rules_without_school();
    formats::ReadOptions read_options_;
    SwingReader reader_;
};

} // namespace kite::app

Q_DECLARE_METATYPE(std::shared_ptr<const kite::app::LoadedSwing>)
