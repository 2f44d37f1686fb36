#include "app/rooms/bench/reading_panel.h"

#include "app/session/reference.h"
#include "app/theme/text.h"
#include "app/theme/theme.h"
#include "app/widgets/wrapped.h"
#include "core/practice/drill.h"
#include "core/reading/set_reading.h"
#include "formats/practice/drills_json.h"

#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

#include <algorithm>
#include <cmath>

namespace kite::app {

namespace {

/// By which school and which habit of the face a swing is read; empty: by none, square.
QString read_by(const LoadedSwing& swing) {
    QStringList parts;
    if (swing.rules->school.id != "none")
        parts << ReadingPanel::tr("Read by: %1")
                     .arg(QString::fromStdString(swing.rules->school.name));
    if (swing.rules->face == FaceHabit::Shut)
        parts << ReadingPanel::tr("shut club face");
    if (swing.rules->face == FaceHabit::Open)
        parts << ReadingPanel::tr("open club face");
    return parts.join(QStringLiteral("  ·  "));
}

} // namespace

ReadingPanel::ReadingPanel(ShownSwing* state, QWidget* parent)
    : QScrollArea(parent), state_(state) {
    setWidgetResizable(true);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    setFrameShape(QFrame::NoFrame);
    setFocusPolicy(Qt::NoFocus);
    setAccessibleName(tr("Reading"));
    connect(state_, &ShownSwing::swing_changed, this, &ReadingPanel::rebuild);
    connect(state_, &ShownSwing::reference_changed, this, &ReadingPanel::rebuild);
    connect(&Theme::instance(), &Theme::changed, this, &ReadingPanel::rebuild);
    rebuild();
}

void ReadingPanel::show_plain(bool plain) {
    plain_ = plain;
    rebuild();
}

void ReadingPanel::rebuild() {
    auto* content = new QWidget;
    content->setObjectName(QStringLiteral("reading"));
    auto* layout = new QVBoxLayout(content);
    const Theme& theme = Theme::instance();
    layout->setContentsMargins(theme.scaled(16), theme.scaled(14), theme.scaled(14),
                               theme.scaled(12));
    layout->setSpacing(theme.scaled(6));
    if (state_->has_swing()) {
        const LoadedSwing& swing = *state_->swing();
        if (plain_) {
            add_plain(layout, swing);
        } else {
            add_order(layout, swing);
            add_fix(layout, swing);
            add_set(layout);
            add_certainty(layout, swing);
            add_set_up(layout, swing);
            add_good(layout, swing);
            add_noticed(layout, swing);
        }
    }
    layout->addStretch(1);
    setWidget(content);
    viewport()->setAutoFillBackground(false);
}

void ReadingPanel::add_order(QVBoxLayout* layout, const LoadedSwing& swing) {
    // The same line as write_words gives, each part in its colour.
    const Theme& theme = Theme::instance();
    const Sequence& sequence = swing.analysis.sequence;
    QString line;
    for (std::size_t i = 0; i < sequence.order.size(); ++i) {
        if (i > 0)
            line += sequence.is_tied(sequence.order[i - 1], sequence.order[i])
                        ? QStringLiteral(" = ")
                        : QStringLiteral(" → ");
        // A part's name is never broken across lines.
        QString name = segment_name(sequence.order[i]).toHtmlEscaped();
        name.replace(QLatin1Char(' '), QStringLiteral("&nbsp;"));
        line += QStringLiteral("<span style=\"color:%1;\">%2</span>")
                    .arg(colours().of(sequence.order[i]).name(), name);
    }
    if (sequence.order.size() < 2)
        line = tr("The order of the peaks cannot be told.");
    const bool in_order = std::equal(kSequence.begin(), kSequence.end(), sequence.order.begin(),
                                     sequence.order.end());
    const QString title = sequence.order.size() < kSequence.size() ? tr("Order of the peaks")
                          : !in_order                              ? tr("Peaks out of order")
                          : sequence.tied.empty()                  ? tr("Peaks in order")
                          // The sentence below says how likely it is: it must not sound less sure.
                          : sequence.order_certainty >= 0.95 ? tr("Peaks in order, closely")
                                                             : tr("Order of the peaks not clear");
    auto* head = make_label(title, theme.font(20, Theme::Weight::Bold), "", this);
    head->setObjectName(QStringLiteral("order_title"));
    layout->addWidget(head);
    auto* order = make_label(line, theme.font(15, Theme::Weight::Semibold), "soft", this);
    order->setTextFormat(Qt::RichText);
    order->setObjectName(QStringLiteral("order"));
    layout->addWidget(order);
}

void ReadingPanel::add_fix(QVBoxLayout* layout, const LoadedSwing& swing) {
    const Theme& theme = Theme::instance();
    const ReadingWords words = write_words(swing.analysis, swing.reading, language());
    const auto text = [](const std::string& s) { return QString::fromStdString(s); };
    const bool fix = swing.reading.first_fix.has_value();

    auto* card = new QFrame(this);
    card->setObjectName(QStringLiteral("fix"));
    card->setProperty("tone", fix ? QStringLiteral("accent") : QString());
    auto* inner = new QVBoxLayout(card);
    inner->setContentsMargins(theme.scaled(12), theme.scaled(10), theme.scaled(10),
                              theme.scaled(10));
    inner->setSpacing(theme.scaled(5));
    if (fix) {
        auto* row = new QHBoxLayout;
        auto* first = new QLabel(tr("Mend this first"), card);
        first->setFont(theme.font(12, Theme::Weight::Semibold));
        first->setProperty("tone", QStringLiteral("accent"));
        row->addWidget(first, 1);
        auto* why = new QPushButton(tr("Why?"), card);
        why->setObjectName(QStringLiteral("link"));
        why->setFont(theme.font(12, Theme::Weight::Semibold));
        why->setCursor(Qt::PointingHandCursor);
        why->setProperty("leads_to", QStringLiteral("why"));
        why->setAccessibleName(tr("Why this first, and what would change it"));
        why->setToolTip(why->accessibleName());
        connect(
            why, &QPushButton::clicked, this,
            [this, id = QString::fromStdString(*swing.reading.first_fix)] { emit why_asked(id); });
        row->addWidget(why);
        inner->addLayout(row);
    }
    if (const QString by = read_by(swing); !by.isEmpty()) {
        auto* label = make_label(by, theme.font(12, Theme::Weight::Semibold), "soft", card);
        label->setObjectName(QStringLiteral("read_by"));
        inner->addWidget(label);
    }
    auto* title = make_label(text(words.fix_title), theme.font(17, Theme::Weight::Bold), "", card);
    title->setObjectName(QStringLiteral("fix_title"));
    inner->addWidget(title);
    inner->addWidget(make_label(text(words.fix_why), theme.font(13), "", card));
    if (fix) {
        const Fault& fault = *swing.reading.find(*swing.reading.first_fix);
        for (std::size_t i = 0; i < fault.because.size(); ++i)
            inner->addWidget(make_link(QString::fromStdString(words.because[i]), fault.because[i]));
        if (!words.leads_to.empty())
            inner->addWidget(
                make_label(tr("Leads to: %1").arg(text(words.leads_to)), theme.font(13), "", card));
        if (!words.ball.empty())
            inner->addWidget(make_label(text(words.ball), theme.font(13), "soft", card));
    }
    layout->addSpacing(theme.scaled(4));
    layout->addWidget(card);
}

void ReadingPanel::add_plain(QVBoxLayout* layout, const LoadedSwing& swing) {
    const Theme& theme = Theme::instance();
    const Language words = language();
    const auto say = [&](const std::string& line, double size, Theme::Weight weight,
                         const char* name) {
        if (line.empty())
            return;
        auto* label = make_label(QString::fromStdString(words.translate(line)),
                                 theme.font(size, weight), "", this);
        label->setObjectName(QString::fromLatin1(name));
        layout->addWidget(label);
    };
    const auto head = [&](const QString& text) {
        layout->addSpacing(theme.scaled(8));
        layout->addWidget(make_label(text, theme.font(15, Theme::Weight::Bold), "", this));
    };
    const Fault* fix =
        swing.reading.first_fix ? swing.reading.find(*swing.reading.first_fix) : nullptr;
    if (fix == nullptr) {
        head(tr("Nothing to mend"));
        layout->addWidget(make_label(tr("What you do is good: keep it, and practise it."),
                                     theme.font(15), "", this));
        return;
    }
    head(tr("The one thing"));
    say(fix->title, 20, Theme::Weight::Bold, "plain_title");
    say(fix->why, 15, Theme::Weight::Regular, "plain_why");
    DrillWish wish;
    wish.fault = fix->id;
    wish.preferred = swing.rules->school.drills;
    const auto drills = find_drills(formats::shipped_drills(), wish);
    if (!drills.empty()) {
        head(tr("How to work on it"));
        say(drills.front()->title, 15, Theme::Weight::Semibold, "plain_drill");
        say(drills.front()->feel, 15, Theme::Weight::Regular, "plain_feel");
        say(drills.front()->check, 15, Theme::Weight::Regular, "plain_check");
    }
    if (!fix->ball.empty()) {
        head(tr("What the ball shows"));
        say(fix->ball, 15, Theme::Weight::Regular, "plain_ball");
    }
    if (!swing.rules->school.cues.empty()) {
        head(tr("To say to yourself"));
        say(swing.rules->school.cues.front(), 15, Theme::Weight::Regular, "plain_cue");
    }
    layout->addSpacing(theme.scaled(8));
    for (const char* caution : {"always", "coach"})
        if (const auto found = formats::shipped_drills().cautions.find(caution);
            found != formats::shipped_drills().cautions.end())
            layout->addWidget(make_label(QString::fromStdString(words.translate(found->second)),
                                         theme.font(12), "soft", this));
}

/// What all swings of the band behind say together.
void ReadingPanel::add_set(QVBoxLayout* layout) {
    const auto& reference = state_->reference();
    if (!reference || reference->empty())
        return;
    std::vector<Reading> readings;
    for (const auto& swing : reference->swings)
        readings.push_back(swing->reading);
    const SetReading set = read_set(readings);
    const Theme& theme = Theme::instance();
    QString words = tr("In these %1 swings together nothing needs mending.").arg(readings.size());
    for (const SetReading::Share& share : set.shares)
        if (set.reading.first_fix == share.id)
            words = tr("In these %1 swings together: %2. Seen in %3 of %4 (in %5 to %6 % of such "
                       "swings, 95 %).")
                        .arg(readings.size())
                        .arg(QString::fromStdString(
                            language().translate(set.reading.find(share.id)->title)))
                        .arg(share.present)
                        .arg(share.judged)
                        .arg(number_text(100.0 * share.low, 0), number_text(100.0 * share.high, 0));
    layout->addSpacing(theme.scaled(6));
    layout->addWidget(
        make_label(tr("The set behind"), theme.font(15, Theme::Weight::Bold), "", this));
    auto* label = make_label(words, theme.font(13), "", this);
    label->setObjectName(QStringLiteral("set_reading"));
    layout->addWidget(label);
}

void ReadingPanel::add_good(QVBoxLayout* layout, const LoadedSwing& swing) {
    if (swing.reading.good.empty())
        return;
    const Theme& theme = Theme::instance();
    layout->addSpacing(theme.scaled(6));
    layout->addWidget(
        make_label(tr("What is good"), theme.font(15, Theme::Weight::Bold), "", this));
    for (const Because& good : swing.reading.good)
        layout->addWidget(make_link(QString::fromStdString(sentence(good, language())), good));
}

void ReadingPanel::add_set_up(QVBoxLayout* layout, const LoadedSwing& swing) {
    const std::vector<const Fault*> notes = swing.reading.noted();
    if (notes.empty())
        return;
    const Theme& theme = Theme::instance();
    const ReadingWords words = write_words(swing.analysis, swing.reading, language());
    layout->addSpacing(theme.scaled(6));
    layout->addWidget(make_label(tr("At address"), theme.font(15, Theme::Weight::Bold), "", this));
    for (std::size_t i = 0; i < notes.size(); ++i) {
        Because look = notes[i]->because.empty() ? Because{} : notes[i]->because.front();
        look.t_s = swing.analysis.moments.time_s(Moment::Address);
        QWidget* link = make_link(QString::fromStdString(words.set_up[i]), look);
        link->setObjectName(QStringLiteral("set_up_%1").arg(i));
        layout->addWidget(link);
    }
}

void ReadingPanel::add_certainty(QVBoxLayout* layout, const LoadedSwing& swing) {
    const Theme& theme = Theme::instance();
    const ReadingWords words = write_words(swing.analysis, swing.reading, language());
    layout->addSpacing(theme.scaled(6));
    layout->addWidget(make_label(tr("How sure"), theme.font(15, Theme::Weight::Bold), "", this));
    layout->addWidget(
        make_label(QString::fromStdString(words.certainty), theme.font(12), "soft", this));
}

void ReadingPanel::add_noticed(QVBoxLayout* layout, const LoadedSwing& swing) {
    const Theme& theme = Theme::instance();
    const ReadingWords words = write_words(swing.analysis, swing.reading, language());
    layout->addSpacing(theme.scaled(6));
    layout->addWidget(
        make_label(tr("What was noticed"), theme.font(15, Theme::Weight::Bold), "", this));
    // What weighs most first: what was mended or contradicted, then what else was noticed.
    for (const bool weighty : {true, false})
        for (const Finding& finding : swing.findings) {
            if ((finding.severity == Finding::Severity::Warning) != weighty)
                continue;
            layout->addWidget(make_label(QString::fromStdString(text_of(finding)), theme.font(12),
                                         weighty ? "" : "soft", this));
            add_mends(layout, swing, finding);
        }
    for (const Fault& fault : swing.reading.faults)
        if (fault.is_present() && !fault.counts())
            layout->addWidget(make_label(
                tr("%1: does not count. %2")
                    .arg(QString::fromStdString(language().translate(fault.title)),
                         QString::fromStdString(language().translate(fault.does_not_count))),
                theme.font(12), "soft", this));
    layout->addWidget(
        make_label(QString::fromStdString(words.given), theme.font(12), "soft", this));
}

void ReadingPanel::add_mends(QVBoxLayout* layout, const LoadedSwing& swing,
                             const Finding& finding) {
    const auto add = [&](const QString& text, const char* object, const auto& action) {
        auto* button = new LinkButton(text, this);
        button->setObjectName(QString::fromLatin1(object));
        connect(button, &QPushButton::clicked, this, action);
        layout->addWidget(button);
    };
    if (finding.code == "hand-contradicted" || finding.code == "hand-found") {
        const Handedness hand = swing.analysis.handed;
        add(tr("Yes, %1").arg(handed_name(hand)), "mend_hand",
            [this, hand] { emit state_->hand_said(hand); });
    }
    if (finding.code == "several-swings")
        for (int number = 1; number <= swing.analysis.swings_in_take; ++number)
            if (number != swing.analysis.swing_number)
                add(tr("Show swing %1 of this take").arg(number), "mend_number",
                    [this, number] { emit state_->swing_number_said(number); });
}

QWidget* ReadingPanel::make_link(const QString& text, const Because& because) {
    auto* button = new LinkButton(text, this);
    if (std::isfinite(because.t_s))
        button->setToolTip(tr("Show this moment: %1")
                               .arg(before_impact_text(state_->ms_from_impact(because.t_s))));
    connect(button, &QPushButton::clicked, this, [this, because] {
        state_->set_playing(false);
        state_->set_lit(because.segments);
        state_->set_cursor_s(because.t_s);
    });
    return button;
}

} // namespace kite::app
