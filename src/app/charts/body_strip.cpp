#include "app/charts/body_strip.h"

#include "app/theme/text.h"
#include "app/theme/theme.h"

#include <QCoreApplication>
#include <QMenu>

#include <algorithm>
#include <cmath>

namespace kite::app {

namespace {

/// What the body does where a fault shows itself (common practice, no source): the pelvis that does
/// not re-centre or drop, the torso that tilts over.
bool belongs_to(std::string_view fault, std::string_view curve) {
    if (fault == "upper-body-first")
        return curve == "pelvis_sway" || curve == "pelvis_lift" || curve == "torso_sway";
    if (fault == "bunched-peaks")
        return curve == "pelvis_depth" || curve == "pelvis_tilt" || curve == "torso_tilt";
    if (fault == "out-of-order")
        return curve == "wrist_hinge" || curve == "lead_knee";
    return false;
}

QString tr_quantity(const char* text) {
    return QCoreApplication::translate("measure", text);
}

} // namespace

BodyStrip::BodyStrip(ShownSwing* state, QWidget* parent) : TimeChart(state, parent) {
    setAccessibleName(tr("Body: one quantity over time"));
    setToolTip(
        tr("Click on the name to choose; B shows the next quantity, Shift+B the one before"));
    set_bands(10, 6);
    QCPAxisRect* lane = add_lane();
    band_ = add_band(lane);
    overlay_ = addGraph(lane->axis(QCPAxis::atBottom), lane->axis(QCPAxis::atLeft));
    graph_ = addGraph(lane->axis(QCPAxis::atBottom), lane->axis(QCPAxis::atLeft));
    connect(&Units::instance(), &Units::changed, this, [this] {
        rebuild();
        repaint_soon();
    });
    rebuild();
}

QString BodyStrip::chosen() const {
    return QString::fromLatin1(quantity().key);
}

void BodyStrip::choose(const QString& key) {
    const Quantity* wanted = find_quantity(key.toStdString());
    if (wanted == nullptr || wanted->shown != Quantity::Shown::Everywhere || wanted == chosen_)
        return;
    chosen_ = wanted;
    rebuild();
    repaint_soon();
    emit choice_changed();
}

std::vector<const Quantity*> BodyStrip::offered() const {
    std::vector<const Quantity*> out;
    if (swing() == nullptr)
        return out;
    for (const Quantity& one : all_quantities())
        if (one.shown == Quantity::Shown::Everywhere && !one.curve(swing()->analysis).empty())
            out.push_back(&one);
    const auto& fix = swing()->reading.first_fix;
    std::stable_partition(out.begin(), out.end(),
                          [&](const Quantity* one) { return fix && belongs_to(*fix, one->key); });
    return out;
}

void BodyStrip::choose_next(int direction) {
    const auto curves = offered();
    if (curves.empty())
        return;
    const auto now = std::find(curves.begin(), curves.end(), &quantity());
    const auto count = static_cast<int>(curves.size());
    const int from =
        now == curves.end() ? (direction > 0 ? -1 : count) : static_cast<int>(now - curves.begin());
    const int next = ((from + direction) % count + count) % count;
    choose(QString::fromLatin1(curves[static_cast<std::size_t>(next)]->key));
}

void BodyStrip::mousePressEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton || event->position().x() > left_margin()) {
        TimeChart::mousePressEvent(event);
        return;
    }
    auto* menu = new QMenu(this);
    menu->setObjectName(QStringLiteral("body_menu"));
    menu->setAttribute(Qt::WA_DeleteOnClose);
    for (const Quantity* one : offered()) {
        QAction* action = menu->addAction(tr_quantity(one->name), this, [this, key = one->key] {
            choose(QString::fromLatin1(key));
        });
        action->setCheckable(true);
        action->setChecked(one == &quantity());
    }
    menu->popup(event->globalPosition().toPoint());
    event->accept();
}

Units::Shown BodyStrip::shown_unit() const {
    return Units::instance().of(quantity().unit);
}

QString BodyStrip::value_text(double value) const {
    const bool has_sides = *quantity().down != '\0';
    const QString unit = shown_unit().name;
    const QString space = unit == QStringLiteral("°") ? QString() : QStringLiteral(" ");
    QString size =
        number_text(has_sides ? std::abs(value) : value, quantity().decimals) + space + unit;
    if (!has_sides || std::abs(value) < 0.05)
        return size;
    return tr("%1 %2").arg(size, tr_quantity(value > 0.0 ? quantity().up : quantity().down));
}

void BodyStrip::rebuild() {
    QColor fill = colours().ink;
    fill.setAlphaF(0.06F);
    graph_->setPen(QPen(colours().ink, 1.4));
    graph_->setBrush(fill);
    graph_->data()->clear();
    overlay_->setPen(overlay_pen(colours().ink));
    overlay_->data()->clear();
    show_band(band_, reference() == nullptr ? Band{} : reference()->body_band(quantity().key),
              shown_unit().factor, colours().ink);
    if (overlay() != nullptr)
        overlay_->setData(
            overlay_data_of(quantity().curve(overlay()->analysis).scaled(shown_unit().factor)));
    if (swing() == nullptr)
        return;
    const Curve& shown = quantity().curve(swing()->analysis);
    if (shown.empty())
        return;
    const Curve scaled = shown.scaled(shown_unit().factor);
    graph_->setData(data_of(scaled));
    // The whole swing up to 0.2 s after impact sets the scale: zooming does not change it.
    const TimeRange upto{0.0, std::min(scaled.duration_s(), state()->impact_s() + 0.2)};
    const auto most = scaled.find_max(upto);
    const auto least = scaled.find_min(upto);
    const double smallest =
        quantity().unit == std::string_view("m") ? 0.04 * shown_unit().factor : 10.0;
    double high = most ? std::max(0.0, most->value) : smallest;
    double low = least ? std::min(0.0, least->value) : 0.0;
    if (high - low < smallest)
        high = low + smallest;
    lanes()
        .front()
        ->axis(QCPAxis::atLeft)
        ->setRange(low - 0.14 * (high - low), high + 0.14 * (high - low));
}

void BodyStrip::paint_decoration(QCPPainter* painter) {
    if (swing() == nullptr)
        return;
    painter->setAntialiasing(true);
    const QRect lane = lanes().front()->rect();
    const bool missing = quantity().curve(swing()->analysis).empty();
    const auto wanted = wanted_ranges(*swing()->rules, swing()->analysis, quantity().key);
    QStringList lines{missing ? tr("not available") : tr("click or B: next")};
    if (!missing && !wanted.empty())
        lines << wanted_by();
    paint_caption(painter, tr_quantity(quantity().name), lines);
    if (missing)
        return;
    paint_wanted(painter, lane, lanes().front()->axis(QCPAxis::atLeft), wanted,
                 shown_unit().factor);
    paint_unseen(painter, lane, quantity().curve(swing()->analysis), {});
    QCPAxis* axis = lanes().front()->axis(QCPAxis::atLeft);
    const double zero = axis->coordToPixel(0.0);
    painter->setPen(QPen(colours().line, 1));
    painter->drawLine(QLineF(lane.left(), zero, lane.right(), zero));
    if (is_visible_time(state()->impact_s())) {
        const double impact_x = pixel_of(state()->impact_s());
        painter->setPen(QPen(colours().ink, 1.2));
        painter->drawLine(QLineF(impact_x, lane.top(), impact_x, lane.bottom()));
    }
    const Curve& shown = quantity().curve(swing()->analysis);
    for (Moment moment : {Moment::Top, Moment::Impact}) {
        const double t_s = swing()->analysis.moments.time_s(moment);
        const double value = shown.at(t_s) * shown_unit().factor;
        if (!is_visible_time(t_s) || !std::isfinite(value))
            continue;
        const QPointF at(pixel_of(t_s), axis->coordToPixel(value));
        painter->setPen(QPen(colours().surface, 1.2));
        painter->setBrush(colours().ink);
        painter->drawEllipse(at, 3.5, 3.5);
        draw_plate(painter, at + QPointF(0.0, at.y() < lane.center().y() ? 9.0 : -9.0),
                   value_text(value), colours().ink, moment == Moment::Impact);
    }
}

QString BodyStrip::text_at(QPointF at) const {
    if (at.x() < left_margin())
        return toolTip();
    const double t_s = time_at(at.x());
    const double value = quantity().curve(swing()->analysis).at(t_s);
    if (!std::isfinite(value) || !is_visible_time(t_s))
        return {};
    return value_text_at(t_s, tr_quantity(quantity().name) + QLatin1Char(' ') +
                                  value_text(value * shown_unit().factor));
}

void BodyStrip::paint_cursor_readings(QCPPainter* painter, double x) {
    const double value =
        quantity().curve(swing()->analysis).at(state()->cursor_s()) * shown_unit().factor;
    if (!std::isfinite(value))
        return;
    const QRect lane = lanes().front()->rect();
    painter->setPen(QPen(colours().surface, 1.2));
    painter->setBrush(colours().ink);
    painter->drawEllipse(QPointF(x, lanes().front()->axis(QCPAxis::atLeft)->coordToPixel(value)),
                         3.4, 3.4);
    if (is_cursor_at(state()->impact_s()) ||
        is_cursor_at(swing()->analysis.moments.time_s(Moment::Top)))
        return;
    draw_plate(painter, {x, lane.bottom() - 9.0}, value_text(value), colours().ink,
               x < lane.right() - Theme::instance().scaled(110));
}

} // namespace kite::app
