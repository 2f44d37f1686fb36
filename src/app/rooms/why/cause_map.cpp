#include "app/rooms/why/cause_map.h"

#include "app/theme/text.h"
#include "app/theme/theme.h"
#include "core/reading/why.h"

#include <QHelpEvent>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QToolTip>

#include <algorithm>
#include <array>
#include <deque>
#include <map>
#include <set>
#include <utility>

namespace kite::app {

namespace {

constexpr std::size_t kColumns = 5;

std::size_t column_of(Phase phase) {
    return static_cast<std::size_t>(phase);
}

QString phase_name(Phase phase) {
    switch (phase) {
    case Phase::SetUp:
        return CauseMap::tr("Set-up");
    case Phase::Backswing:
        return CauseMap::tr("Backswing");
    case Phase::Transition:
        return CauseMap::tr("Transition");
    case Phase::Downswing:
        return CauseMap::tr("Downswing");
    case Phase::FollowThrough:
        return CauseMap::tr("Follow-through");
    }
    return {};
}

using Path = std::set<std::pair<std::string, std::string>>;

/// Adds the steps from a fault to others, by the shortest way each; it may pass through faults that
/// were not found.
void add_ways(const Reading& reading, const std::string& from, const std::vector<std::string>& to,
              Path& out) {
    std::map<std::string, std::string> came_from;
    std::deque<std::string> open{from};
    while (!open.empty()) {
        const Fault* fault = reading.find(open.front());
        open.pop_front();
        if (fault == nullptr)
            continue;
        for (const std::string& next : fault->leads_to)
            if (next != from && came_from.try_emplace(next, fault->id).second)
                open.push_back(next);
    }
    for (const std::string& id : to)
        for (std::string at = id; came_from.count(at) > 0; at = came_from[at])
            out.insert({came_from[at], at});
}

/// From the notes where it may begin to the first fix, and on to what it explains.
Path lit_path_of(const Reading& reading) {
    Path out;
    if (!reading.first_fix)
        return out;
    add_ways(reading, *reading.first_fix, reading.explained, out);
    for (const Fault* note : reading.noted())
        if (reading.may_begin_with(*note))
            add_ways(reading, note->id, {*reading.first_fix}, out);
    return out;
}

/// All that stands on the map, column after column.
std::vector<const Fault*> on_map(const Reading& reading) {
    std::vector<const Fault*> out;
    for (const auto* list : {&reading.set_up, &reading.faults})
        for (const Fault& fault : *list)
            out.push_back(&fault);
    return out;
}

QString title_of(const Fault& fault) {
    return QString::fromStdString(language().translate(fault.title));
}

} // namespace

CauseMap::CauseMap(Desk* desk, QWidget* parent) : QWidget(parent), desk_(desk) {
    setObjectName(QStringLiteral("cause_map"));
    setMinimumSize(560, 420);
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
    setAccessibleName(tr("What leads to what"));
    connect(&desk_->shown(), &ShownSwing::swing_changed, this, qOverload<>(&QWidget::update));
    connect(&Theme::instance(), &Theme::changed, this, qOverload<>(&QWidget::update));
}

std::vector<CauseMap::Node> CauseMap::lay_out() const {
    std::vector<Node> out;
    if (!desk_->shown().has_swing())
        return out;
    const Theme& theme = Theme::instance();
    const auto faults = on_map(desk_->shown().swing()->reading);
    std::array<std::size_t, kColumns> rows{};
    for (const Fault* fault : faults)
        ++rows[column_of(fault->phase)];
    const double head = theme.scaled(34);
    const double gap = theme.scaled(width() < theme.scaled(700) ? 22 : 34);
    const double width = (this->width() - gap * (kColumns - 1)) / double(kColumns);
    const auto most = double(*std::max_element(rows.begin(), rows.end()));
    const double step = std::min<double>(theme.scaled(46), (height() - head) / std::max(1.0, most));
    std::array<std::size_t, kColumns> next{};
    for (const Fault* fault : faults) {
        const std::size_t column = column_of(fault->phase);
        const std::size_t row = next[column]++;
        // Columns with few faults stand in the middle of their height.
        const double top = head + 0.5 * (most - double(rows[column])) * step;
        out.push_back({fault->id,
                       QRectF(double(column) * (width + gap), top + double(row) * step, width,
                              step - theme.scaled(3)),
                       column, row});
    }
    return out;
}

void CauseMap::choose(const std::string& fault) {
    if (chosen_ == fault)
        return;
    chosen_ = fault;
    update();
    emit chosen_changed();
}

QRect CauseMap::place_of(const std::string& fault) const {
    for (const Node& node : lay_out())
        if (node.id == fault)
            return node.box.toRect();
    return {};
}

void CauseMap::paintEvent(QPaintEvent* /*event*/) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    if (!desk_->shown().has_swing())
        return;
    const Theme& theme = Theme::instance();
    const Reading& reading = desk_->shown().swing()->reading;
    const std::vector<Node> nodes = lay_out();
    painter.setFont(theme.font(13, Theme::Weight::Bold));
    painter.setPen(colours().soft);
    for (const Node& node : nodes)
        if (node.row == 0)
            painter.drawText(QRectF(node.box.left(), 0, node.box.width(), theme.scaled(26)),
                             Qt::AlignLeft | Qt::AlignVCenter,
                             phase_name(reading.find(node.id)->phase));
    paint_edges(painter, nodes);
    for (const Node& node : nodes)
        paint_node(painter, node);
}

void CauseMap::paint_edges(QPainter& painter, const std::vector<Node>& nodes) const {
    const Theme& theme = Theme::instance();
    const Colours& c = colours();
    const Reading& reading = desk_->shown().swing()->reading;
    const auto node_of = [&](const std::string& id) -> const Node* {
        const auto found = std::find_if(nodes.begin(), nodes.end(),
                                        [&](const Node& node) { return node.id == id; });
        return found == nodes.end() ? nullptr : &*found;
    };
    const auto draw = [&](const Node& from, const Node& to, const QPen& pen) {
        painter.setPen(pen);
        painter.setBrush(Qt::NoBrush);
        const bool beside = from.column == to.column;
        const QPointF a(from.box.right(), from.box.center().y());
        const QPointF b(beside ? to.box.right() : to.box.left(), to.box.center().y());
        // Within a column the line bows out into the gap beside it.
        const double bow =
            beside ? theme.scaled(10) + 0.06 * std::abs(b.y() - a.y()) : 0.5 * (b.x() - a.x());
        QPainterPath path(a);
        path.cubicTo(a + QPointF(bow, 0), b + QPointF(beside ? bow : -bow, 0), b);
        painter.drawPath(path);
    };
    const Path lit_path = lit_path_of(reading);
    // What may lead to what, faint; of the chosen fault in ink; the lit path over all.
    for (const int layer : {0, 1, 2})
        for (const Fault* fault : on_map(reading))
            for (const std::string& id : fault->leads_to) {
                const Node* from = node_of(fault->id);
                const Node* to = node_of(id);
                const bool lit = lit_path.count({fault->id, id}) > 0;
                const bool asked = fault->id == chosen_ || id == chosen_;
                if (from == nullptr || to == nullptr || layer != (lit ? 2 : asked ? 1 : 0))
                    continue;
                draw(*from, *to,
                     lit     ? QPen(c.accent, 2.4)
                     : asked ? QPen(c.soft, 1.4)
                             : QPen(c.line, 1.0));
            }
}

void CauseMap::paint_node(QPainter& painter, const Node& node) const {
    const Theme& theme = Theme::instance();
    const Colours& c = colours();
    const Reading& reading = desk_->shown().swing()->reading;
    const Fault& fault = *reading.find(node.id);
    const bool present = fault.is_present() && fault.counts();
    const bool on_path = reading.first_fix == node.id ||
                         std::find(reading.explained.begin(), reading.explained.end(), node.id) !=
                             reading.explained.end();
    painter.setBrush(node.id == chosen_ ? c.raised : c.surface);
    painter.setPen(node.id == chosen_ && hasFocus() ? QPen(c.accent, 1.6)
                   : present                        ? QPen(c.soft, 1.0)
                                                    : QPen(c.line, 1.0));
    painter.drawRect(node.box);
    // How strongly it shows: a bar along the lower edge.
    if (fault.evidence) {
        QRectF bar = node.box;
        bar.setTop(bar.bottom() - theme.scaled(3));
        bar.setWidth(bar.width() * *fault.evidence);
        painter.fillRect(bar, on_path ? c.accent : c.soft);
    }
    // What does not fit on one line takes two smaller ones.
    const auto weight = present ? Theme::Weight::Bold : Theme::Weight::Regular;
    const QRectF inside = node.box.adjusted(theme.scaled(7), 0, -theme.scaled(4), -2);
    QString title = title_of(fault);
    const bool is_low = node.box.height() < theme.scaled(28);
    QFont font = theme.font(is_low ? 10 : 12, weight);
    int wrap = Qt::TextWordWrap;
    const auto fits = [&] {
        return QFontMetricsF(font).boundingRect(inside, wrap, title).height() <= node.box.height();
    };
    if (!is_low && QFontMetricsF(font).horizontalAdvance(title) > inside.width())
        font = theme.font(11, weight);
    if (!fits())
        font = theme.font(9, weight);
    if (!fits()) {
        title = QFontMetricsF(font).elidedText(title, Qt::ElideRight, inside.width());
        wrap = 0;
    }
    painter.setFont(font);
    painter.setPen(present ? c.ink : c.soft);
    painter.drawText(inside, Qt::AlignLeft | Qt::AlignVCenter | wrap, title);
    if (!fault.evidence) { // not judged
        painter.setPen(QPen(c.soft, 1.0, Qt::DotLine));
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(node.box);
    }
}

const Fault* CauseMap::fault_at(const QPointF& at) const {
    for (const Node& node : lay_out())
        if (node.box.contains(at))
            return desk_->shown().swing()->reading.find(node.id);
    return nullptr;
}

void CauseMap::mousePressEvent(QMouseEvent* event) {
    if (const Fault* fault = fault_at(event->position()))
        choose(fault->id);
}

void CauseMap::mouseMoveEvent(QMouseEvent* event) {
    setCursor(fault_at(event->position()) != nullptr ? Qt::PointingHandCursor : Qt::ArrowCursor);
}

bool CauseMap::event(QEvent* event) {
    if (event->type() == QEvent::ToolTip) {
        const auto* help = static_cast<QHelpEvent*>(event);
        const Fault* fault = fault_at(help->pos());
        QToolTip::showText(help->globalPos(),
                           fault == nullptr ? QString()
                                            : tr("%1 (%2)").arg(title_of(*fault),
                                                                QString::fromStdString(evidence_of(
                                                                    fault->evidence, language()))),
                           this);
        return true;
    }
    return QWidget::event(event);
}

void CauseMap::keyPressEvent(QKeyEvent* event) {
    switch (event->key()) {
    case Qt::Key_Up:
        return step(0, -1);
    case Qt::Key_Down:
        return step(0, 1);
    case Qt::Key_Left:
        return step(-1, 0);
    case Qt::Key_Right:
        return step(1, 0);
    default:
        QWidget::keyPressEvent(event);
    }
}

void CauseMap::step(int columns, int rows) {
    const std::vector<Node> nodes = lay_out();
    if (nodes.empty())
        return;
    const auto now = std::find_if(nodes.begin(), nodes.end(),
                                  [&](const Node& node) { return node.id == chosen_; });
    if (now == nodes.end())
        return choose(nodes.front().id);
    // In the column asked for, the one that is nearest in height.
    const Node* best = nullptr;
    for (const Node& node : nodes) {
        const bool fits = columns == 0
                              ? node.column == now->column && int(node.row) == int(now->row) + rows
                              : int(node.column) == int(now->column) + columns;
        const auto off = [&](const Node& one) {
            return std::abs(one.box.center().y() - now->box.center().y());
        };
        if (fits && (best == nullptr || off(node) < off(*best)))
            best = &node;
    }
    if (best != nullptr)
        choose(best->id);
}

} // namespace kite::app
