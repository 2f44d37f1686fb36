#include "app/rooms/why/why_panel.h"

#include "app/theme/text.h"
#include "app/theme/theme.h"
#include "app/widgets/wrapped.h"
#include "core/reading/why.h"

#include <QLineEdit>
#include <QVBoxLayout>

#include <cmath>

namespace kite::app {

namespace {

QString text(const std::string& words) {
    return QString::fromStdString(words);
}

} // namespace

WhyPanel::WhyPanel(Desk* desk, QWidget* parent) : QScrollArea(parent), desk_(desk) {
    setWidgetResizable(true);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    setFrameShape(QFrame::NoFrame);
    setFocusPolicy(Qt::NoFocus);
    setAccessibleName(tr("Why"));
    connect(&desk_->shown(), &ShownSwing::swing_changed, this, &WhyPanel::rebuild);
    connect(&desk_->record(), &RecordKeeper::written, this, &WhyPanel::rebuild);
    connect(&Theme::instance(), &Theme::changed, this, &WhyPanel::rebuild);
    rebuild();
}

void WhyPanel::show_fault(const std::string& id) {
    id_ = id;
    rebuild();
}

void WhyPanel::rebuild() {
    auto* content = new QWidget;
    content->setObjectName(QStringLiteral("reading"));
    auto* layout = new QVBoxLayout(content);
    const Theme& theme = Theme::instance();
    layout->setContentsMargins(theme.scaled(16), 0, theme.scaled(14), theme.scaled(12));
    layout->setSpacing(theme.scaled(6));
    const Fault* fault =
        desk_->shown().has_swing() ? desk_->shown().swing()->reading.find(id_) : nullptr;
    if (fault != nullptr)
        add_fault(layout, *fault);
    else
        layout->addWidget(make_label(
            tr("Choose a fault in the picture: its reasons, and what would change the verdict, "
               "are shown here."),
            theme.font(13), "soft", this));
    layout->addStretch(1);
    setWidget(content);
    viewport()->setAutoFillBackground(false);
}

void WhyPanel::add_fault(QVBoxLayout* layout, const Fault& fault) {
    const Theme& theme = Theme::instance();
    const LoadedSwing& swing = *desk_->shown().swing();
    const Language words = language();
    const Why why = explain(fault, swing.reading, swing.analysis);
    const auto say = [&](const std::string& line, double size, const char* tone,
                         Theme::Weight weight = Theme::Weight::Regular) {
        if (!line.empty())
            layout->addWidget(make_label(text(line), theme.font(size, weight), tone, this));
    };
    if (swing.reading.first_fix == fault.id)
        layout->addWidget(make_label(tr("Mend this first"), theme.font(12, Theme::Weight::Semibold),
                                     "accent", this));
    auto* title = make_label(text(words.translate(fault.title)),
                             theme.font(17, Theme::Weight::Bold), "", this);
    title->setObjectName(QStringLiteral("why_title"));
    layout->addWidget(title);
    QString verdict = text(evidence_of(fault.evidence, words));
    if (fault.evidence)
        verdict += fault.is_present() ? tr(": found") : tr(": not found");
    if (fault.weight != 1.0)
        verdict += tr("; counts %1 times").arg(number_text(fault.weight, 1));
    auto* label = make_label(verdict, theme.font(13, Theme::Weight::Semibold), "", this);
    label->setObjectName(QStringLiteral("why_verdict"));
    layout->addWidget(label);
    if (!fault.counts())
        say(words.translate(fault.does_not_count), 13, "");
    say(words.translate(fault.why), 13, "soft");
    add_steps(layout, why);
    auto* change = make_label(text(change_of(why, words)), theme.font(13), "", this);
    change->setObjectName(QStringLiteral("why_change"));
    layout->addSpacing(theme.scaled(4));
    layout->addWidget(change);
    if (swing.reading.first_fix == fault.id)
        say(first_of(swing.reading, words), 13, "");
    add_overruling(layout, fault);
    add_links(layout, tr("Leads to, found here"), why.explains);
    add_links(layout, tr("May come from, found here"), why.behind);
}

/// What the instructor sees otherwise is kept with the swing, with the reason.
void WhyPanel::add_overruling(QVBoxLayout* layout, const Fault& fault) {
    const QString swing = desk_->shown_in_record();
    if (swing.isEmpty() || (!fault.is_present() && !fault.is_overruled))
        return;
    const Theme& theme = Theme::instance();
    RecordKeeper& record = desk_->record();
    layout->addSpacing(theme.scaled(4));
    for (const Row& verdict : record.view().verdicts) {
        if (text_in(verdict, "swing_id") != swing || store::text_in(verdict, "fault") != fault.id)
            continue;
        auto* said = make_label(tr("You see it otherwise: %1").arg(text_in(verdict, "reason")),
                                theme.font(13, Theme::Weight::Semibold), "", this);
        said->setObjectName(QStringLiteral("overruled"));
        layout->addWidget(said);
        auto* back = new LinkButton(tr("Take that back"), this);
        back->setObjectName(QStringLiteral("take_back"));
        connect(back, &QPushButton::clicked, this, [&record, swing, id = text_in(verdict, "id")] {
            record.bin({id});
            record.measure_again(swing);
        });
        layout->addWidget(back);
        return;
    }
    auto* reason = new QLineEdit(this);
    reason->setObjectName(QStringLiteral("overrule"));
    reason->setAccessibleName(tr("Why you see it otherwise"));
    reason->setPlaceholderText(tr("You see it otherwise? Say why, and press Return"));
    const Row values{{"swing_id", swing.toStdString()},
                     {"fault", fault.id},
                     {"evidence", fault.evidence ? Row(*fault.evidence) : Row()},
                     {"school", desk_->rules()->school.id},
                     {"overruled", 1}};
    connect(reason, &QLineEdit::returnPressed, this, [&record, reason, swing, values] {
        Row verdict = values;
        verdict["reason"] = reason->text().simplified().toStdString();
        if (!reason->text().simplified().isEmpty())
            record.make(QStringLiteral("verdict"), verdict,
                        [&record, swing](const QString&) { record.measure_again(swing); });
    });
    layout->addWidget(reason);
}

void WhyPanel::add_steps(QVBoxLayout* layout, const Why& why) {
    const Theme& theme = Theme::instance();
    const Language words = language();
    layout->addSpacing(theme.scaled(4));
    layout->addWidget(make_label(tr("From the measures to the verdict"),
                                 theme.font(15, Theme::Weight::Bold), "", this));
    for (const WhyStep& step : why.steps) {
        QString line = text(what_of(step, words));
        line[0] = line[0].toUpper();
        if (const std::string numbers = numbers_of(step, words); !numbers.empty())
            line += tr(": %1").arg(text(numbers));
        if (step.judged->evidence || !step.judged->silent)
            line += tr("; %1").arg(text(evidence_of(step.judged->evidence, words)));
        if (std::isfinite(step.weight))
            line += tr("; weight %1").arg(number_text(step.weight, 1));
        const std::string source =
            desk_->shown().swing()->rules->source_of(step.judged->condition->limit);
        if (!source.empty())
            line += tr(". Limit: %1").arg(text(source));
        QWidget* row = nullptr;
        if (std::isfinite(step.t_s)) {
            auto* link = new LinkButton(line, this);
            link->setProperty("why_step", true);
            link->setToolTip(tr("Show this moment on the Bench"));
            connect(link, &QPushButton::clicked, this, [this, t_s = step.t_s] {
                emit moment_asked(t_s, QString::fromStdString(id_));
            });
            row = link;
        } else {
            row = make_label(line, theme.font(13), "soft", this);
        }
        auto* inset = new QHBoxLayout;
        inset->setContentsMargins(theme.scaled(14 * step.depth), 0, 0, 0);
        inset->addWidget(row, 1);
        layout->addLayout(inset);
    }
}

void WhyPanel::add_links(QVBoxLayout* layout, const QString& head,
                         const std::vector<const Fault*>& faults) {
    if (faults.empty())
        return;
    const Theme& theme = Theme::instance();
    layout->addSpacing(theme.scaled(4));
    layout->addWidget(make_label(head, theme.font(15, Theme::Weight::Bold), "", this));
    for (const Fault* fault : faults) {
        auto* link = new LinkButton(text(language().translate(fault->title)), this);
        connect(link, &QPushButton::clicked, this,
                [this, id = QString::fromStdString(fault->id)] { emit fault_asked(id); });
        layout->addWidget(link);
    }
}

} // namespace kite::app
