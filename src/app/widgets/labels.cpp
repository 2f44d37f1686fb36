#include "app/widgets/labels.h"

#include "app/theme/text.h"
#include "app/theme/theme.h"

#include <QPainter>
#include <QVBoxLayout>

#include <cmath>

namespace kite::app {

ElidedLabel::ElidedLabel(QWidget* parent) : QLabel(parent) {
    setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
}

QSize ElidedLabel::minimumSizeHint() const {
    return {0, QLabel::minimumSizeHint().height()};
}

void ElidedLabel::paintEvent(QPaintEvent* /*event*/) {
    QPainter painter(this);
    const QString shown = fontMetrics().elidedText(text(), Qt::ElideRight, width());
    setToolTip(shown == text() ? QString() : text());
    painter.setPen(palette().color(QPalette::WindowText));
    painter.drawText(rect(), Qt::AlignLeft | Qt::AlignVCenter, shown);
}

PlaceLabel::PlaceLabel(ShownSwing* state, QWidget* parent) : QWidget(parent), state_(state) {
    auto* text = new QVBoxLayout(this);
    text->setContentsMargins(0, 0, 0, 0);
    text->setSpacing(Theme::instance().scaled(2));
    place_ = new QLabel(this);
    place_->setObjectName(QStringLiteral("place"));
    between_ = new QLabel(this);
    between_->setObjectName(QStringLiteral("soft"));
    for (QLabel* label : {place_, between_}) {
        label->setAlignment(Qt::AlignRight | Qt::AlignBottom);
        text->addWidget(label);
    }
    connect(state_, &ShownSwing::cursor_changed, this, &PlaceLabel::show_place);
    connect(state_, &ShownSwing::swing_changed, this, &PlaceLabel::show_place);
    connect(&Theme::instance(), &Theme::changed, this, &PlaceLabel::restyle);
    restyle();
    show_place();
}

void PlaceLabel::restyle() {
    place_->setFont(Theme::instance().font(15, Theme::Weight::Semibold));
    between_->setFont(Theme::instance().font(12));
}

void PlaceLabel::show_place() {
    if (!state_->has_swing()) {
        place_->clear();
        between_->clear();
        return;
    }
    const double t = state_->cursor_s();
    place_->setText(before_impact_text(state_->ms_from_impact(t)));
    // The moment that it is, or the ones it lies between.
    QString before;
    QString after;
    double best_before = -1e9;
    double best_after = 1e9;
    for (Moment moment : kAllMoments) {
        const double at = state_->swing()->analysis.moments.time_s(moment);
        if (std::abs(at - t) < 0.0005) {
            between_->setText(moment == Moment::Impact ? QString() : moment_name(moment));
            return;
        }
        if (at < t && at > best_before) {
            best_before = at;
            before = moment_name(moment);
        }
        if (at > t && at < best_after) {
            best_after = at;
            after = moment_name(moment);
        }
    }
    between_->setText(before.isEmpty()  ? tr("before %1").arg(after)
                      : after.isEmpty() ? tr("after %1").arg(before)
                                        : tr("%1 to %2").arg(before, after));
}

} // namespace kite::app
