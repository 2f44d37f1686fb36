#pragma once

#include "app/session/swing_loader.h"
#include "core/live/mounting.h"

#include <QWidget>

#include <deque>

namespace kite::app {

/// One swing among the last ones.
struct BayGlyph {
    int number = 0;
    bool practice = false;
    bool measured = false; ///< else nothing could be told of it
    Sequence sequence;
    Reading reading;
    std::optional<bool> passed; ///< in a drill
};

/// What stands on the screen that is read from three metres away.
struct AcrossPicture {
    QString state;              ///< "Ready", "Swing", …
    bool busy = false;          ///< something goes on: the state stands in the accent
    QString counts;             ///< "7 swings, 2 practice swings"
    QString reading;            ///< what is to be mended first, in a few words
    QString advice;             ///< instead of a swing: what to check, what to do
    double advice_share = -1.0; ///< of what is being done; below 0: no bar
    std::shared_ptr<const LoadedSwing> swing;
    QString launch; ///< "41.2 m/s, 148 m"
    // The drill that is being done.
    QString drill;
    Measured value;
    QString unit;
    QString band_words;
    std::optional<bool> passed;
    std::deque<BayGlyph> last; ///< oldest first
};

/// One view for a screen across the room: the order as a stair, the one number of the drill, the
/// last swings. All sizes follow the window's.
class AcrossView : public QWidget {
    Q_OBJECT
public:
    explicit AcrossView(QWidget* parent = nullptr);

    void set_picture(AcrossPicture picture);
    const AcrossPicture& picture() const { return picture_; }
    QSize minimumSizeHint() const override { return {420, 320}; }

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    void paint_head(QPainter& painter, const QRectF& box) const;
    void paint_advice(QPainter& painter, const QRectF& box) const;
    void paint_stair(QPainter& painter, const QRectF& box) const;
    void paint_number(QPainter& painter, const QRectF& box) const;
    void paint_last(QPainter& painter, const QRectF& box) const;
    QFont sized(double share, bool bold = false) const; ///< of the height

    AcrossPicture picture_;
};

} // namespace kite::app
