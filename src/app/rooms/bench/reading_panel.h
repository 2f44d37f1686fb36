#pragma once

#include "app/session/shown_swing.h"

#include <QScrollArea>

class QVBoxLayout;

namespace kite::app {

/// The reading in words: the order in one line, the first fix in one card with its reasons, what is
/// good, and how sure. A reason moves the cursor to its moment and lights up its curves.
class ReadingPanel : public QScrollArea {
    Q_OBJECT
public:
    explicit ReadingPanel(ShownSwing* state, QWidget* parent = nullptr);

    /// In plain words without numbers, to be read with the golfer; else with every number.
    void show_plain(bool plain);
    bool is_plain() const { return plain_; }

signals:
    void why_asked(const QString& fault);

private:
    void rebuild();
    void add_order(QVBoxLayout* layout, const LoadedSwing& swing);
    void add_fix(QVBoxLayout* layout, const LoadedSwing& swing);
    void add_plain(QVBoxLayout* layout, const LoadedSwing& swing);
    void add_set(QVBoxLayout* layout);
    void add_good(QVBoxLayout* layout, const LoadedSwing& swing);
    void add_certainty(QVBoxLayout* layout, const LoadedSwing& swing);
    void add_set_up(QVBoxLayout* layout, const LoadedSwing& swing);
    void add_noticed(QVBoxLayout* layout, const LoadedSwing& swing);
    /// Beneath a finding what mends it in one click.
    void add_mends(QVBoxLayout* layout, const LoadedSwing& swing, const Finding& finding);
    QWidget* make_link(const QString& text, const Because& because);

    ShownSwing* state_;
    bool plain_ = false;
};

} // namespace kite::app
