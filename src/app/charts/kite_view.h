#pragma once

#include "app/session/shown_swing.h"
#include "report/pictures/kite_geometry.h"

#include <QWidget>

namespace kite::app {

using report::KitePicture;

/// The kite: hip line and shoulder line from above, their ends joined; its opening is the
/// separation. Target line, ball and feet lie beneath. Follows the time cursor.
class KiteView : public QWidget {
    Q_OBJECT
public:
    explicit KiteView(ShownSwing* state, QWidget* parent = nullptr);
    QSize sizeHint() const override;

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    struct Ground;
    void paint_head(QPainter& painter, const KitePicture& kite, double pad) const;
    double paint_legend(QPainter& painter, const KitePicture& kite, double pad) const;
    void paint_ground(QPainter& painter, const KitePicture& kite, const Ground& ground) const;
    void paint_kite(QPainter& painter, const KitePicture& kite, const Ground& ground) const;
    void paint_hinge(QPainter& painter, const KitePicture& kite, const Ground& ground) const;

    ShownSwing* state_;
    std::vector<Eigen::Vector2d> hinge_way_;
};

} // namespace kite::app
