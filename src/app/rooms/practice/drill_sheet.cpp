#include "app/rooms/practice/drill_sheet.h"

#include "app/charts/drill_figure.h"
#include "app/theme/text.h"
#include "app/theme/theme.h"
#include "app/widgets/wrapped.h"
#include "core/practice/plan.h"

#include <QVBoxLayout>

namespace kite::app {

namespace {

QString joined(const std::vector<std::string>& list) {
    QStringList out;
    for (const std::string& one : list)
        out << said(one);
    return out.join(QStringLiteral(", "));
}

QString bands_of(const Drill& drill) {
    const Language words = language();
    return DrillSheet::tr("%1: in the rehearsal %2, in the swing %3.")
        .arg(QString::fromStdString(name_of(drill.measure, words)),
             QString::fromStdString(text_of(drill.rehearsal, drill.measure, words)),
             QString::fromStdString(text_of(drill.swing, drill.measure, words)));
}

QString rungs_of(const Drill& drill) {
    return DrillSheet::tr("From %1 (%2) to %3 (%4).")
        .arg(drill.first_rung)
        .arg(said(name_of_rung(drill.first_rung)))
        .arg(drill.last_rung)
        .arg(said(name_of_rung(drill.last_rung)));
}

/// What is said of a drill, head by head; the steps apart.
std::vector<std::pair<QString, QString>> parts_of(const Drill& drill) {
    return {{DrillSheet::tr("Needed"),
             drill.needs.empty() ? DrillSheet::tr("nothing") : joined(drill.needs)},
            {DrillSheet::tr("Set-up"), said(drill.set_up)},
            {DrillSheet::tr("To feel"), said(drill.feel)},
            {DrillSheet::tr("It is right when"), said(drill.check)},
            {DrillSheet::tr("Measured"), bands_of(drill)},
            {DrillSheet::tr("Rungs"), rungs_of(drill)},
            {DrillSheet::tr("Lead and trail side"), said(drill.sides)},
            {DrillSheet::tr("Short swings"), said(drill.part_swing)}};
}

} // namespace

DrillSheet::DrillSheet(const DrillBook* book, QWidget* parent) : QScrollArea(parent), book_(book) {
    setWidgetResizable(true);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    setFrameShape(QFrame::NoFrame);
    setFocusPolicy(Qt::NoFocus);
    setAccessibleName(tr("Drill"));
    connect(&Theme::instance(), &Theme::changed, this, &DrillSheet::rebuild);
    rebuild();
}

void DrillSheet::show_drill(const std::string& id, const std::string& fault) {
    id_ = id;
    fault_ = fault;
    rebuild();
}

void DrillSheet::rebuild() {
    const Theme& theme = Theme::instance();
    auto* content = new QWidget;
    content->setObjectName(QStringLiteral("reading"));
    auto* layout = new QVBoxLayout(content);
    layout->setContentsMargins(theme.scaled(16), 0, theme.scaled(16), theme.scaled(12));
    layout->setSpacing(theme.scaled(5));
    const auto head = [&](const QString& words) {
        layout->addSpacing(theme.scaled(3));
        layout->addWidget(make_label(words, theme.font(13, Theme::Weight::Bold), "", content));
    };
    const auto say = [&](const QString& words, const char* tone = "") {
        layout->addWidget(make_label(words, theme.font(13), tone, content));
    };
    const Drill* drill = book_->find(id_, fault_);
    if (drill == nullptr) {
        say(tr("No drill fits what is asked for. Ask for less on the left."), "soft");
    } else {
        auto* title =
            make_label(said(drill->title), theme.font(20, Theme::Weight::Bold), "", content);
        title->setObjectName(QStringLiteral("drill_title"));
        layout->addWidget(title);
        say(said(drill->purpose), "soft");
        auto* figure = new DrillFigureView(content);
        figure->show_drill(drill);
        figure->setFixedHeight(theme.scaled(205));
        layout->addWidget(figure);
        const auto parts = parts_of(*drill);
        for (std::size_t i = 0; i < parts.size(); ++i) {
            if (!parts[i].second.isEmpty()) {
                head(parts[i].first);
                say(parts[i].second);
            }
            if (i == 1) {
                head(tr("Steps"));
                for (std::size_t k = 0; k < drill->steps.size(); ++k)
                    say(QStringLiteral("%1.  %2").arg(k + 1).arg(said(drill->steps[k])));
            }
        }
        head(tr("Cautions"));
        for (const std::string& one : cautions_of(*book_, *drill))
            say(said(one));
    }
    layout->addStretch(1);
    setWidget(content);
    viewport()->setAutoFillBackground(false);
}

QString html_of(const Drill& drill, const DrillBook& book) {
    QString out = QStringLiteral("<h2>%1</h2><p>%2</p><p><img src=\"drill:%3\" width=\"420\" "
                                 "height=\"210\"></p>")
                      .arg(said(drill.title).toHtmlEscaped(), said(drill.purpose).toHtmlEscaped(),
                           QString::fromStdString(drill.id));
    const auto parts = parts_of(drill);
    for (std::size_t i = 0; i < parts.size(); ++i) {
        if (!parts[i].second.isEmpty())
            out += QStringLiteral("<p><b>%1.</b> %2</p>")
                       .arg(parts[i].first.toHtmlEscaped(), parts[i].second.toHtmlEscaped());
        if (i == 1) {
            out += QStringLiteral("<ol>");
            for (const std::string& step : drill.steps)
                out += QStringLiteral("<li>%1</li>").arg(said(step).toHtmlEscaped());
            out += QStringLiteral("</ol>");
        }
    }
    out += QStringLiteral("<p><b>%1</b></p><ul>").arg(DrillSheet::tr("Cautions"));
    for (const std::string& one : cautions_of(book, drill))
        out += QStringLiteral("<li>%1</li>").arg(said(one).toHtmlEscaped());
    return out + QStringLiteral("</ul>");
}

} // namespace kite::app
