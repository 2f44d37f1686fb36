#pragma once

#include "app/session/bay_ear.h"

#include <QWidget>

class QLabel;
class QVBoxLayout;

namespace kite::app {

class WrappedText;

/// Who sends, and how well: rate, loss, clock, battery of each device.
class DevicePanel : public QWidget {
    Q_OBJECT
public:
    explicit DevicePanel(QWidget* parent = nullptr);

    void set_state(const BayState& state);
    QString text() const; ///< all of it, for who does not see it

private:
    struct Line {
        QLabel* name = nullptr;
        WrappedText* words = nullptr;
    };

    QVBoxLayout* lines_ = nullptr;
    using LineKey = std::pair<int, std::string>; ///< role, name
    std::map<LineKey, Line> lines_by_role_;
    WrappedText* missing_ = nullptr;
    WrappedText* problems_ = nullptr;
};

} // namespace kite::app
