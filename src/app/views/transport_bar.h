#pragma once

#include "app/session/bench_state.h"

#include <QWidget>

class QToolButton;

namespace kite::app {

/// Play, slow play, frame and moment steps.
class TransportBar : public QWidget {
    Q_OBJECT
public:
    explicit TransportBar(BenchState* state, QWidget* parent = nullptr);

private:
    void restyle();
    void show_play();

    BenchState* state_;
    QToolButton* play_ = nullptr;
    std::vector<std::pair<QToolButton*, int>> icons_; ///< button and Icon
    std::vector<std::pair<QToolButton*, double>> speeds_;
    QToolButton* whole_ = nullptr;
};

} // namespace kite::app
