#pragma once

#include "app/session/shown_swing.h"

#include <QWidget>

class QAction;
class QBoxLayout;
class QToolButton;

namespace kite::app {

/// Play, slow play, frame and moment steps; at the other end club and hand, to be said where the
/// file does not.
class TransportBar : public QWidget {
    Q_OBJECT
public:
    explicit TransportBar(ShownSwing* state, QWidget* parent = nullptr);

private:
    void restyle();
    void show_play();
    void add_golfer(QBoxLayout* layout);
    void show_golfer();

    ShownSwing* state_;
    QToolButton* play_ = nullptr;
    std::vector<std::pair<QToolButton*, int>> icons_; ///< button and Icon
    std::vector<std::pair<QToolButton*, double>> speeds_;
    QToolButton* whole_ = nullptr;
    QToolButton* golfer_ = nullptr;
    std::vector<std::pair<QAction*, ClubKind>> clubs_;
    std::vector<std::pair<QAction*, Handedness>> hands_;
};

} // namespace kite::app
