#pragma once

#include "app/session/record_keeper.h"

#include <QAbstractTableModel>

namespace kite::app {

/// How a ball flew and where it was struck: a key of the record, the key to press, and the word.
struct BallWord {
    const char* key;
    char press;
    const char* word;
};
const std::vector<BallWord>& flight_words();
const std::vector<BallWord>& strike_words();

/// The swings of the lesson under way, as the record holds them. Flight, strike, guess and note can
/// be written into it.
class SwingTable : public QAbstractTableModel {
    Q_OBJECT
public:
    enum Column {
        Number,
        Time,
        File,
        Club,
        FirstFix,
        Flight,
        Strike,
        Guess,
        Measured,
        Note,
        Tags,
        FirstLaunch, ///< one column a launch number from here on
        Count = FirstLaunch + static_cast<int>(kLaunchFields.size())
    };

    explicit SwingTable(RecordKeeper* keeper, QObject* parent = nullptr);

    int rowCount(const QModelIndex& parent = {}) const override;
    int columnCount(const QModelIndex& parent = {}) const override;
    QVariant data(const QModelIndex& index, int role) const override;
    bool setData(const QModelIndex& index, const QVariant& value, int role) override;
    QVariant headerData(int section, Qt::Orientation orientation, int role) const override;
    Qt::ItemFlags flags(const QModelIndex& index) const override;

    /// Of a column of launch numbers; nullptr: it is another.
    static const LaunchField* launch_field(int column);
    /// Words or numbers are typed into this column: no key means anything else there.
    static bool takes_typing(int column);
    /// The measured number is shown only after the golfer's guess.
    void set_guess_first(bool guess_first);
    /// Swings found in the whole record instead of those of the lesson; empty: the lesson's.
    void show_found(const std::optional<std::vector<Row>>& found);
    bool shows_found() const { return found_.has_value(); }
    const std::vector<Row>& rows() const { return swings_; }
    const Row& swing(int row) const { return swings_.at(static_cast<std::size_t>(row)); }

signals:
    /// A cell is to be changed; `what` names the step.
    void edit_wanted(const QString& swing, const kite::app::Row& values, const QString& what);

private:
    void take();
    bool is_overruled(const Row& swing) const;
    QString text_at(const Row& swing, int row, int column) const;

    RecordKeeper* keeper_;
    std::vector<Row> swings_;
    std::optional<std::vector<Row>> found_;
    bool guess_first_ = false;
};

} // namespace kite::app
