#pragma once

#include "app/session/record_keeper.h"

#include <QWidget>

#include <functional>
#include <string>
#include <vector>

class QGridLayout;

namespace kite::app {

/// What somebody typed, as the record keeps it, or why it cannot be.
struct Understood {
    Row value;
    QString why_not; ///< empty: it was understood
};

/// What is known of a golfer. What nobody said is "not said"; nothing is assumed.
class GolferPanel : public QWidget {
    Q_OBJECT
public:
    explicit GolferPanel(QWidget* parent = nullptr);

    /// Null: nobody is chosen.
    void show_golfer(const Row* golfer);

signals:
    /// Columns of the golfer that are to be changed; `what` names the step.
    void edit_wanted(const kite::app::Row& values, const QString& what);
    void not_understood(const QString& why);

private:
    void add_choice(QGridLayout* grid, const char* column, const QString& name,
                    const std::vector<std::pair<QString, Row>>& choices);
    using Understand = std::function<Understood(const QString&)>;
    using InWords = std::function<QString(const Row&)>;
    /// Without `understand` what is typed is kept as it stands.
    void add_text(QGridLayout* grid, const char* column, const QString& name,
                  const Understand& understand = {}, const InWords& in_words = {});
    void add_limits(QGridLayout* grid);
    void add_row(QGridLayout* grid, const QString& name, QWidget* field);

    std::vector<std::function<void(const Row&)>> fillers_;
    std::vector<std::string> limits_now_;
    bool filling_ = false;
};

} // namespace kite::app
