#include "app/session/reference.h"

#include "app/session/workers.h"
#include "core/catalogue/quantity.h"

#include <QtConcurrent>

#include <algorithm>
#include <cmath>
#include <tuple>

namespace kite::app {

namespace {
constexpr int kSoon_ms = 60; ///< changes within this time are one
} // namespace

std::vector<const Analysis*> Reference::analyses() const {
    std::vector<const Analysis*> out;
    out.reserve(swings.size());
    for (const auto& swing : swings)
        out.push_back(&swing->analysis);
    return out;
}

std::shared_ptr<const Reference>
make_reference(ReferenceKind kind, QString name,
               std::vector<std::shared_ptr<const LoadedSwing>> swings) {
    auto out = std::make_shared<Reference>();
    out->kind = kind;
    out->name = std::move(name);
    out->swings = std::move(swings);
    const auto analyses = out->analyses();
    for (Segment segment : kSequence) {
        const std::size_t i = index_of(segment);
        out->rates_deg_s[i] =
            calc_band(analyses, [i](const Analysis& a) -> const Curve& { return a.rate_deg_s[i]; });
    }
    out->peaks = summarise_peaks(analyses);
    out->separation_deg =
        calc_band(analyses, [](const Analysis& a) -> const Curve& { return a.separation_deg; });
    // All of them, here on the worker: the strip only shows what is ready.
    for (const Quantity& quantity : all_quantities())
        if (quantity.shown == Quantity::Shown::Everywhere)
            out->body[quantity.key] = calc_band(analyses, quantity.curve);
    return out;
}

Band Reference::body_band(const std::string& key) const {
    const auto found = body.find(key);
    return found == body.end() ? Band{} : found->second;
}

ReferenceKeeper::ReferenceKeeper(SwingListModel* model, QObject* parent)
    : QObject(parent), model_(model) {
    soon_.setSingleShot(true);
    soon_.setInterval(kSoon_ms);
    connect(&soon_, &QTimer::timeout, this, &ReferenceKeeper::make);
    const auto again = [this] {
        if (kind_ != ReferenceKind::None)
            wish();
    };
    connect(model_, &SwingListModel::swing_loaded, this, again);
    connect(model_, &SwingListModel::marks_changed, this, again);
    connect(model_, &QAbstractItemModel::rowsRemoved, this, again);
    connect(&watcher_, &QFutureWatcherBase::finished, this, [this] {
        if (!soon_.isActive()) // else a newer wish follows
            answer(watcher_.result());
    });
}

ReferenceKeeper::~ReferenceKeeper() {
    watcher_.disconnect(this);
    watcher_.waitForFinished();
}

void ReferenceKeeper::set_kind(ReferenceKind kind) {
    kind_ = kind;
    wish();
}

void ReferenceKeeper::wish() {
    busy_ = true;
    soon_.start();
}

void ReferenceKeeper::answer(const std::shared_ptr<const Reference>& reference) {
    busy_ = false;
    emit changed(reference);
}

void ReferenceKeeper::set_row(int row) {
    const int id = model_->id_of(row);
    if (id == id_)
        return;
    id_ = id;
    if (kind_ != ReferenceKind::None)
        wish();
}

std::vector<int> ReferenceKeeper::rows_like(const SwingListModel& model, int row, bool good_only) {
    std::vector<int> out;
    const auto shown = model.swing(row);
    if (!shown || !shown->ok)
        return out;
    for (int other = 0; other < model.rowCount(); ++other) {
        const auto swing = model.swing(other);
        const SwingMarks marks = model.marks_of(model.id_of(other));
        if (swing && swing->ok && !marks.excluded && (marks.good || !good_only) &&
            model.golfer_of(other) == model.golfer_of(row) &&
            swing->analysis.club == shown->analysis.club &&
            swing->analysis.handed == shown->analysis.handed)
            out.push_back(other);
    }
    return out;
}

int ReferenceKeeper::best_like(const SwingListModel& model, int row) {
    const auto value = [](double number) { return std::isfinite(number) ? number : -1.0; };
    const auto rank = [&](int other) {
        const Analysis& analysis = model.swing(other)->analysis;
        return std::tuple(model.marks_of(model.id_of(other)).good,
                          value(analysis.sequence.order_certainty),
                          value(analysis.speed.club_head_m_s));
    };
    int best = -1;
    for (int other : rows_like(model, row, false))
        if (other != row && (best < 0 || rank(other) > rank(best)))
            best = other;
    return best;
}

void ReferenceKeeper::make() {
    if (watcher_.isRunning()) { // one at a time; the newest wish last
        soon_.start();
        return;
    }
    const int row = model_->row_of(id_);
    if (kind_ == ReferenceKind::None || row < 0) {
        answer(nullptr);
        return;
    }
    std::vector<std::shared_ptr<const LoadedSwing>> swings;
    for (int other : rows_like(*model_, row, kind_ == ReferenceKind::GoodSwings))
        swings.push_back(model_->swing(other));
    const QString golfer = model_->golfer_of(row);
    const auto count = static_cast<int>(swings.size());
    const bool good = kind_ == ReferenceKind::GoodSwings;
    const QString name = golfer.isEmpty()
                             ? (good ? tr("good swings (%1)") : tr("all swings (%1)")).arg(count)
                             : (good ? tr("%1, good swings (%2)") : tr("%1, all swings (%2)"))
                                   .arg(golfer)
                                   .arg(count);
    watcher_.setFuture(
        QtConcurrent::run(&workers(), make_reference, kind_, name, std::move(swings)));
}

} // namespace kite::app
