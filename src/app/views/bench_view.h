#pragma once

#include "app/session/bench_state.h"

#include <QWidget>

class QLabel;

namespace kite::app {

class ElidedLabel;
class KiteView;
class PlaceLabel;
class ReadingPanel;
class SeparationStrip;
class StairChart;
class TransportBar;

/// One swing in full: the stair and the separation strip on one time axis, the reading and the kite
/// beside them, play beneath. Puts the parts together and computes nothing.
class BenchView : public QWidget {
    Q_OBJECT
public:
    explicit BenchView(BenchState* state, QWidget* parent = nullptr);

    void set_title(const QString& title, const QString& note);
    StairChart* stair() const { return stair_; }
    SeparationStrip* separation() const { return separation_; }
    KiteView* kite() const { return kite_; }

private:
    void restyle();

    BenchState* state_;
    QLabel* title_ = nullptr;
    ElidedLabel* note_ = nullptr;
    PlaceLabel* place_ = nullptr;
    StairChart* stair_ = nullptr;
    SeparationStrip* separation_ = nullptr;
    KiteView* kite_ = nullptr;
};

} // namespace kite::app
