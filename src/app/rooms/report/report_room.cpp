#include "app/rooms/report/report_room.h"

#include "app/session/workers.h"
#include "app/shell/commands.h"
#include "app/theme/text.h"
#include "app/theme/theme.h"
#include "app/theme/units.h"
#include "app/widgets/wrapped.h"
#include "core/reading/set_reading.h"
#include "core/sets/history.h"
#include "formats/practice/drills_json.h"
#include "formats/text/bytes.h"
#include "paper/pages.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDate>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QLineEdit>
#include <QPrintDialog>
#include <QPrinter>
#include <QPushButton>
#include <QScrollArea>
#include <QSettings>
#include <QSignalBlocker>
#include <QtConcurrent>

namespace kite::app {

namespace {

const char* const kBench = "bench";
const char* const kGood = "good";
const char* const kShown = "shown";

/// Everything a report is made of, held while a worker makes it.
struct Ingredients {
    std::vector<std::shared_ptr<const LoadedSwing>> swings;
    std::vector<std::shared_ptr<const LoadedSwing>> before;
    report::Told told;
};

report::Report report_of(const Ingredients& from) {
    report::Told told = from.told;
    std::vector<Reading> readings;
    for (const auto& swing : from.swings) {
        told.swings.push_back(&swing->analysis);
        told.readings.push_back(&swing->reading);
        readings.push_back(swing->reading);
    }
    std::vector<Reading> readings_before;
    for (const auto& swing : from.before) {
        told.before.push_back(&swing->analysis);
        readings_before.push_back(swing->reading);
    }
    if (!readings_before.empty()) {
        told.comparing.question =
            usual_question(read_set(readings_before).reading.first_fix.value_or(""),
                           told.plan ? &*told.plan : nullptr, formats::shipped_drills(),
                           from.swings.front()->rules->book);
        told.comparing.sessions = Sessions::Two; // an earlier lesson
    }
    told.example_take = from.swings.at(read_set(readings).example)->take.get();
    told.school = &from.swings.front()->rules->school;
    told.drills = &formats::shipped_drills();
    return report::make_report(told);
}

/// One sheet as it comes out of the printer.
QLabel* sheet_of(const paper::Pages& pages, int page, int width, double ratio, QWidget* parent) {
    const double per_mm = width * ratio / paper::Pages::kWidth_mm;
    QPixmap picture(qRound(paper::Pages::kWidth_mm * per_mm),
                    qRound(paper::Pages::kHeight_mm * per_mm));
    picture.fill(Qt::white);
    QPainter painter(&picture);
    pages.paint(painter, page, per_mm);
    painter.end();
    picture.setDevicePixelRatio(ratio);
    auto* out = new QLabel(parent);
    out->setObjectName(QStringLiteral("sheet"));
    out->setPixmap(picture);
    out->setAccessibleName(ReportRoom::tr("Page %1 of %2").arg(page + 1).arg(pages.count()));
    return out;
}

} // namespace

ReportRoom::ReportRoom(Shell& shell, std::shared_ptr<Desk> desk)
    : shell_(shell), desk_(std::move(desk)) {
    const Theme& theme = Theme::instance();
    page_ = new QWidget;
    auto* row = new QHBoxLayout(page_);
    row->setContentsMargins(theme.scaled(14), theme.scaled(14), 0, 0);
    row->setSpacing(theme.scaled(16));
    auto* left = new QVBoxLayout;
    make_left(left);
    row->addLayout(left);
    scroll_ = new QScrollArea(page_);
    scroll_->setObjectName(QStringLiteral("preview"));
    scroll_->setAccessibleName(tr("The pages"));
    scroll_->setWidgetResizable(true);
    scroll_->setFrameShape(QFrame::NoFrame);
    auto* sheets = new QWidget;
    sheets_ = new QVBoxLayout(sheets);
    sheets_->setSpacing(theme.scaled(14));
    scroll_->setWidget(sheets);
    row->addWidget(scroll_, 1);
    connect(&desk_->record(), &RecordKeeper::opened, this, [this] { filled_for_.clear(); });
    connect(&Units::instance(), &Units::changed, this, &ReportRoom::gather);
    connect(&Theme::instance(), &Theme::changed, this, &ReportRoom::restyle);
    restyle();
}

ReportRoom::~ReportRoom() {
    delete page_;
}

QLineEdit* ReportRoom::add_field(QFormLayout* form, const char* name, const QString& words) {
    auto* out = new QLineEdit(page_);
    out->setObjectName(QStringLiteral("report_") + QLatin1String(name));
    out->setAccessibleName(words);
    connect(out, &QLineEdit::editingFinished, this, &ReportRoom::gather);
    form->addRow(words, out);
    return out;
}

void ReportRoom::show_stills() {
    const auto count = static_cast<int>(desk_->stills_of(golfer_of_report()).size());
    with_stills_->setText(tr("With %n picture(s) from the film", "", count));
    with_stills_->setVisible(count > 0);
}

void ReportRoom::make_left(QVBoxLayout* layout) {
    const Theme& theme = Theme::instance();
    auto* form = new QFormLayout;
    form->setRowWrapPolicy(QFormLayout::WrapAllRows);
    form->setVerticalSpacing(theme.scaled(4));
    const auto choice = [&](const char* name, const QString& words) {
        auto* out = new QComboBox(page_);
        out->setObjectName(QString::fromLatin1(name));
        out->setAccessibleName(words);
        connect(out, &QComboBox::activated, this, &ReportRoom::gather);
        form->addRow(words, out);
        return out;
    };
    which_ = choice("report_swings", tr("Swings"));
    against_ = choice("report_against", tr("Compared with"));
    title_ = add_field(form, "title", tr("Title"));
    title_->setPlaceholderText(tr("Your name, or your academy's"));
    colour_ = add_field(form, "colour", tr("Colour"));
    colour_->setPlaceholderText(QString::fromLatin1(report::kUsualAccent));
    colour_words_ = make_label({}, theme.font(12), "accent", page_);
    colour_words_->setObjectName(QStringLiteral("colour_words"));
    form->addRow(colour_words_);
    one_thing_ = add_field(form, "one_thing", tr("The one thing, in your words"));
    homework_ = add_field(form, "homework", tr("Homework"));
    note_ = add_field(form, "note", tr("Note under the numbers"));
    with_plan_ = new QCheckBox(tr("With the practice plan"), page_);
    with_plan_->setObjectName(QStringLiteral("with_plan"));
    connect(with_plan_, &QCheckBox::toggled, this, &ReportRoom::gather);
    form->addRow(with_plan_);
    with_stills_ = new QCheckBox(page_);
    with_stills_->setObjectName(QStringLiteral("with_stills"));
    with_stills_->setChecked(true);
    connect(with_stills_, &QCheckBox::toggled, this, &ReportRoom::gather);
    form->addRow(with_stills_);
    show_stills();
    connect(desk_.get(), &Desk::stills_changed, this, [this] {
        show_stills();
        if (page_->isVisible())
            gather();
    });
    layout->addLayout(form);
    const auto button = [&](const QString& words, const char* name, const auto& run) {
        auto* out = new QPushButton(words, page_);
        out->setObjectName(QString::fromLatin1(name));
        connect(out, &QPushButton::clicked, this, run);
        layout->addWidget(out);
    };
    button(tr("Save as PDF…"), "save_pdf",
           [this] { save(tr("PDF (*.pdf)"), [this] { return paper::pdf_of(report_); }); });
    button(tr("Save as HTML…"), "save_html",
           [this] { save(tr("HTML (*.html)"), [this] { return report::to_html(report_); }); });
    button(tr("Print…"), "print", [this] { print(); });
    hint_ = make_label({}, theme.font(13), "soft", page_);
    hint_->setObjectName(QStringLiteral("report_hint"));
    layout->addWidget(hint_);
    layout->addStretch(1);
}

void ReportRoom::restyle() {
    const Theme& theme = Theme::instance();
    for (QWidget* field : page_->findChildren<QWidget*>())
        if (qobject_cast<QLineEdit*>(field) != nullptr ||
            qobject_cast<QComboBox*>(field) != nullptr ||
            qobject_cast<QPushButton*>(field) != nullptr)
            field->setFixedWidth(theme.scaled(230));
}

ReportRoom::Swings ReportRoom::on_bench(bool good_alone) const {
    const SwingListModel& swings = *desk_->lesson().swings();
    Swings out;
    for (int row = 0; row < swings.rowCount(); ++row) {
        auto swing = swings.swing(row);
        const SwingMarks marks = swings.marks_of(swings.id_of(row));
        if (swing && swing->ok && swings.golfer_of(row) == desk_->golfer() && !marks.excluded &&
            (marks.good || !good_alone))
            out.push_back(std::move(swing));
    }
    return out;
}

void ReportRoom::list_sets() {
    const QString was = which_->currentData().toString();
    const QString was_against = against_->currentData().toString();
    const QSignalBlocker quiet(which_);
    const QSignalBlocker quiet_too(against_);
    which_->clear();
    against_->clear();
    against_->addItem(tr("nothing"), QString());
    if (desk_->shown().has_swing()) {
        const QString golfer = desk_->golfer();
        which_->addItem(golfer.isEmpty() ? tr("All on the Bench")
                                         : tr("%1 on the Bench").arg(golfer),
                        QString::fromLatin1(kBench));
        which_->addItem(tr("The good ones of them"), QString::fromLatin1(kGood));
        which_->addItem(tr("The swing on the Bench"), QString::fromLatin1(kShown));
    }
    const RecordKeeper& record = desk_->record();
    for (const Row* lesson : record.lessons_of(record.whose())) {
        const Row* golfer = record.golfer(record.whose());
        const QString name = tr("%1, %2").arg(
            golfer == nullptr ? QString() : text_in(*golfer, "name"), text_in(*lesson, "name"));
        which_->addItem(name, text_in(*lesson, "id"));
        against_->addItem(name, text_in(*lesson, "id"));
    }
    which_->setCurrentIndex(std::max(0, which_->findData(was)));
    against_->setCurrentIndex(std::max(0, against_->findData(was_against)));
}

const Row* ReportRoom::lesson_chosen() const {
    for (const Row& row : desk_->record().view().lessons)
        if (text_in(row, "id") == which_->currentData().toString())
            return &row;
    return nullptr;
}

const Row* ReportRoom::lesson_meant() const {
    if (const Row* lesson = lesson_chosen())
        return lesson;
    const RecordKeeper& record = desk_->record();
    const Row* lesson = record.lesson_row();
    const Row* golfer = lesson == nullptr ? nullptr : record.golfer(text_in(*lesson, "golfer_id"));
    // Swings that do not say whose they are were opened in this lesson.
    return golfer != nullptr &&
                   (desk_->golfer().isEmpty() || desk_->golfer() == text_in(*golfer, "name"))
               ? lesson
               : nullptr;
}

QString ReportRoom::golfer_of_report() const {
    if (const Row* lesson = lesson_meant())
        if (const Row* golfer = desk_->record().golfer(text_in(*lesson, "golfer_id")))
            return text_in(*golfer, "name");
    return desk_->golfer_meant();
}

bool ReportRoom::plan_is_of(const QString& golfer) const {
    const auto& plan = desk_->plan().plan();
    return plan && !plan->golfer.empty() && plan->golfer == golfer.toStdString();
}

/// The words of the lesson, until somebody writes others; and no plan and no pictures but this
/// golfer's without asking for them.
void ReportRoom::fill_words() {
    const Row* lesson = lesson_meant();
    const QString golfer = golfer_of_report();
    const QString key =
        golfer + QLatin1Char('/') + (lesson == nullptr ? QString() : text_in(*lesson, "id"));
    const auto& plan = desk_->plan().plan();
    with_plan_->setText(
        !plan || plan_is_of(golfer) || plan->golfer.empty()
            ? tr("With the practice plan")
            : tr("With the practice plan of %1").arg(QString::fromStdString(plan->golfer)));
    const int stills = static_cast<int>(desk_->stills_of(golfer).size());
    with_stills_->setText(tr("With %n picture(s) from the film", "", stills));
    with_stills_->setVisible(stills > 0);
    if (const bool mine = plan_is_of(golfer); filled_for_ != key || mine != had_plan_) {
        const QSignalBlocker quiet(with_plan_);
        with_plan_->setChecked(mine);
        had_plan_ = mine;
    }
    if (filled_for_ == key)
        return;
    filled_for_ = key;
    one_thing_->setText(lesson == nullptr ? QString() : text_in(*lesson, "one_thing"));
    homework_->setText(lesson == nullptr ? QString() : text_in(*lesson, "homework"));
    note_->clear(); // it was written for somebody else
}

void ReportRoom::swings_of(const QString& choice, const std::function<void(const Swings&)>& then) {
    if (choice.isEmpty())
        then({});
    else if (choice == QLatin1String(kBench) || choice == QLatin1String(kGood))
        then(on_bench(choice == QLatin1String(kGood)));
    else if (choice == QLatin1String(kShown))
        then(desk_->shown().has_swing() ? Swings{desk_->shown().swing()} : Swings{});
    else
        desk_->record().measure(choice, then);
}

void ReportRoom::gather() {
    if (filling_ || !page_->isVisible())
        return;
    fill_words();
    const int asked = ++asked_;
    const QString before_name = against_->currentText();
    const QString against = against_->currentData().toString();
    swings_of(which_->currentData().toString(), [=](const Swings& swings) {
        if (asked == asked_)
            swings_of(against, [=](const Swings& before) {
                if (asked == asked_)
                    make(swings, before, before_name);
            });
    });
}

QString ReportRoom::subtitle(const Swings& swings) const {
    QStringList parts;
    if (const Row* lesson = lesson_chosen()) {
        if (const Row* golfer = desk_->record().golfer(text_in(*lesson, "golfer_id")))
            parts << text_in(*golfer, "name");
        const QDate day = QDate::fromString(text_in(*lesson, "day"), Qt::ISODate);
        parts << (day.isValid() ? QLocale().toString(day, QLocale::LongFormat)
                                : text_in(*lesson, "name"));
    } else {
        parts << desk_->golfer_meant()
              << QLocale().toString(QDate::currentDate(), QLocale::LongFormat);
    }
    parts << (swings.size() == 1 ? tr("one swing")
                                 : tr("%n swings", nullptr, static_cast<int>(swings.size())));
    if (const Analysis& first = swings.front()->analysis; first.club_said)
        parts << club_name(first.club);
    parts.removeAll(QString());
    return parts.join(QStringLiteral(" · "));
}

void ReportRoom::make(const Swings& swings, const Swings& before, const QString& before_name) {
    if (swings.empty()) {
        report_ = {};
        hint_->setText(desk_->lesson().swings()->rowCount() == 0
                           ? tr("Open swings on the Bench, or choose a golfer with lessons.")
                           : tr("There is no swing in this choice."));
        show_pages();
        return;
    }
    Ingredients from{swings, before, {}};
    report::Told& told = from.told;
    told.language = language();
    told.shown_unit = [](const std::string& unit) {
        const auto shown = Units::instance().of(unit);
        return std::pair(shown.factor, shown.name.toStdString());
    };
    told.title = title_->text().simplified().toStdString();
    told.subtitle = subtitle(swings).toStdString();
    told.before_name = before_name.toStdString();
    told.one_thing = one_thing_->text().simplified().toStdString();
    told.homework = homework_->text().simplified().toStdString();
    told.note = note_->text().simplified().toStdString();
    colour_words_->setVisible(false);
    if (const QString colour = colour_->text().trimmed(); !colour.isEmpty()) {
        const auto read = report::paper_colour(colour.toStdString());
        if (!read.ok())
            colour_words_->setText(QString::fromStdString(text_of(read.findings.front())));
        colour_words_->setVisible(!read.ok());
        told.accent = read.value;
    }
    if (with_plan_->isChecked())
        told.plan = desk_->plan().plan();
    if (with_stills_->isChecked())
        told.stills = desk_->stills_of(golfer_of_report());
    QtConcurrent::run(&workers(), report_of, from)
        .then(this, [this, asked = asked_](const report::Report& report) {
            if (asked != asked_)
                return;
            report_ = report;
            hint_->clear();
            show_pages();
        });
}

void ReportRoom::show_pages() {
    while (QLayoutItem* item = sheets_->takeAt(0)) {
        delete item->widget();
        delete item;
    }
    if (!report_.pages.empty()) {
        const paper::Pages pages(report_);
        const int width = std::min(scroll_->viewport()->width() - Theme::instance().scaled(30),
                                   Theme::instance().scaled(820));
        for (int page = 0; page < pages.count(); ++page)
            sheets_->addWidget(sheet_of(pages, page, std::max(300, width),
                                        page_->devicePixelRatioF(), scroll_->widget()),
                               0, Qt::AlignHCenter);
    }
    sheets_->addStretch(1);
    emit made();
}

void ReportRoom::save(const QString& kinds, const std::function<std::string()>& bytes) {
    if (report_.pages.empty()) {
        shell_.show_message(tr("There is no report yet"), hint_->text());
        return;
    }
    shell_.ask_and_save(tr("Save the report"), kinds, [bytes](const QString& file) {
        const std::string made = bytes();
        return !made.empty() && formats::write_bytes(file.toStdString(), made).empty();
    });
}

void ReportRoom::print() {
    if (report_.pages.empty()) {
        shell_.show_message(tr("There is no report yet"), hint_->text());
        return;
    }
    QPrinter printer(QPrinter::HighResolution);
    printer.setDocName(QString::fromStdString(report_.title));
    QPrintDialog dialog(&printer, shell_.widget());
    if (dialog.exec() == QDialog::Accepted && !paper::Pages(report_).print(printer))
        shell_.show_message(tr("The report was not printed"),
                            tr("The printer did not take it. Save it as PDF and print that."));
}

void ReportRoom::entered() {
    list_sets();
    gather();
    which_->setFocus();
}

void ReportRoom::read_settings(const QSettings& settings) {
    filling_ = true;
    title_->setText(settings.value(QStringLiteral("report/title")).toString());
    colour_->setText(settings.value(QStringLiteral("report/colour")).toString());
    filling_ = false;
}

void ReportRoom::write_settings(QSettings& settings) const {
    settings.setValue(QStringLiteral("report/title"), title_->text());
    settings.setValue(QStringLiteral("report/colour"), colour_->text());
}

void ReportRoom::add_commands(Commands& commands) {
    const auto add = [&](const char* menu, const char* id, const QString& words,
                         const QList<QKeySequence>& keys, const std::function<void()>& run) {
        commands.add(QString::fromLatin1(menu),
                     {QStringLiteral("report.") + QLatin1String(id), words, keys, run});
    };
    add("file", "pdf", tr("Save the report as P&DF…"), {QKeySequence::Save},
        [this] { save(tr("PDF (*.pdf)"), [this] { return paper::pdf_of(report_); }); });
    add("file", "html", tr("Save the report as &HTML…"), {},
        [this] { save(tr("HTML (*.html)"), [this] { return report::to_html(report_); }); });
    add("file", "print", tr("&Print the report…"), {QKeySequence::Print}, [this] { print(); });
    add("view", "back", tr("&Back to the Bench"), {QKeySequence(Qt::Key_Escape)},
        [this] { shell_.enter(QStringLiteral("bench")); });
}

} // namespace kite::app
