#pragma once

#include <QWidget>

namespace kite::app {

/// What to do when there is no swing: open, drop, or look at the demo.
class EmptyView : public QWidget {
    Q_OBJECT
public:
    explicit EmptyView(QWidget* parent = nullptr);

signals:
    void open_requested();
    void demo_requested();
};

} // namespace kite::app
