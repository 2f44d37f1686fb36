#include "app/rooms/film/facts_panel.h"

#include "app/rooms/film/film_view.h"
#include "app/theme/text.h"
#include "app/theme/theme.h"
#include "app/widgets/wrapped.h"
#include "core/base/language.h"
#include "core/base/units.h"
#include "core/film/camera_check.h"

#include <QComboBox>
#include <QDoubleSpinBox>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QScrollArea>
#include <QSignalBlocker>
#include <QToolButton>
#include <QVBoxLayout>

namespace kite::app {

namespace {

QComboBox* make_choice(QWidget* parent, const char* name, const QString& words) {
    auto* out = new QComboBox(parent);
    out->setObjectName(QString::fromLatin1(name));
    out->setAccessibleName(words);
    out->setMinimumWidth(Theme::instance().scaled(70));
    out->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
    return out;
}

/// 0 stands for "not said".
std::optional<double> told(double value, double factor) {
    if (value > 0.0)
        return value * factor;
    return std::nullopt;
}

} // namespace

FactsPanel::FactsPanel(Marking* marking, QWidget* parent) : QWidget(parent), marking_(marking) {
    const Theme& theme = Theme::instance();
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    auto* scroll = new QScrollArea(this);
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    auto* page = new QWidget;
    auto* layout = new QVBoxLayout(page);
    layout->setContentsMargins(theme.scaled(12), theme.scaled(8), theme.scaled(10),
                               theme.scaled(8));
    advice_ = new WrappedText({}, theme.font(13), page);
    advice_->setObjectName(QStringLiteral("film_advice"));
    layout->addWidget(advice_);
    auto* row = new QHBoxLayout;
    row->setSpacing(theme.scaled(16));
    const auto add_form = [&] {
        auto* form = new QFormLayout;
        form->setVerticalSpacing(theme.scaled(3));
        form->setHorizontalSpacing(theme.scaled(8));
        row->addLayout(form, 1);
        return form;
    };
    add_film(add_form());
    add_swing(add_form());
    layout->addLayout(row);
    layout->addWidget(rate_words_);
    auto* lines = new QHBoxLayout;
    add_lines(lines);
    layout->addLayout(lines);
    layout->addStretch(1);
    scroll->setWidget(page);
    outer->addWidget(scroll);
    connect(marking_, &Marking::changed, this, &FactsPanel::show_all);
    connect(&Theme::instance(), &Theme::changed, this,
            [this] { advice_->setFont(Theme::instance().font(13)); });
}

QDoubleSpinBox* FactsPanel::add_number(QFormLayout* form, const char* name, const QString& words,
                                       double most, int decimals, const QString& unit,
                                       const std::function<void(double)>& to) {
    auto* out = new QDoubleSpinBox(this);
    out->setObjectName(QString::fromLatin1(name));
    out->setAccessibleName(words);
    out->setRange(0.0, most);
    out->setDecimals(decimals);
    out->setSuffix(QLatin1Char(' ') + unit);
    out->setSpecialValueText(tr("not said"));
    out->setButtonSymbols(QAbstractSpinBox::NoButtons);
    out->setMinimumWidth(Theme::instance().scaled(70));
    out->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
    out->setKeyboardTracking(false);
    connect(out, &QDoubleSpinBox::valueChanged, this, [this, to](double value) {
        if (!showing_ && index_ < marking_->views())
            to(value);
    });
    form->addRow(words, out);
    return out;
}

void FactsPanel::add_swing(QFormLayout* form) {
    handed_ = make_choice(this, "film_handed", tr("Golfer"));
    handed_->addItems(
        {tr("as the film shows"), handed_name(Handedness::Right), handed_name(Handedness::Left)});
    connect(handed_, &QComboBox::activated, this, [this](int index) {
        marking_->edit_swing(tr("saying the hand"), [index](film::Marks& marks) {
            marks.handed = index == 0   ? std::optional<Handedness>()
                           : index == 1 ? Handedness::Right
                                        : Handedness::Left;
        });
    });
    form->addRow(tr("Golfer"), handed_);
    club_ = make_choice(this, "film_club", tr("Club"));
    for (const ClubKind kind : {ClubKind::Driver, ClubKind::Wood, ClubKind::Iron, ClubKind::Wedge})
        club_->addItem(club_name(kind), static_cast<int>(kind));
    connect(club_, &QComboBox::activated, this, [this] {
        const auto kind = static_cast<ClubKind>(club_->currentData().toInt());
        marking_->edit_swing(tr("saying the club"),
                             [kind](film::Marks& marks) { marks.club = kind; });
    });
    form->addRow(tr("Club"), club_);
    const auto length = [&](const char* name, const QString& words,
                            std::optional<double> film::Lengths::*which) {
        return add_number(form, name, words, 300.0, 1, tr("cm"), [this, which](double value) {
            marking_->edit_swing(tr("saying a length"), [which, value](film::Marks& marks) {
                marks.lengths_m.*which = told(value, 0.01);
            });
        });
    };
    belt_cm_ = length("film_belt", tr("Belt stick"), &film::Lengths::belt_stick);
    shoulder_cm_ = length("film_shoulders", tr("Shoulder stick"), &film::Lengths::shoulder_stick);
    arm_cm_ = length("film_arm", tr("Lead arm"), &film::Lengths::arm);
    club_cm_ = length("film_club_length", tr("Club length"), &film::Lengths::club);
}

void FactsPanel::add_film(QFormLayout* form) {
    side_ = make_choice(this, "film_side", tr("This film is"));
    for (const film::Side side : {film::Side::FaceOn, film::Side::DownTheLine, film::Side::Above})
        side_->addItem(side_name(side), static_cast<int>(side));
    connect(side_, &QComboBox::activated, this, [this] {
        const auto side = static_cast<film::Side>(side_->currentData().toInt());
        marking_->edit(index_, tr("saying the view"),
                       [side](film::View& view) { view.side = side; });
    });
    form->addRow(tr("This film is"), side_);
    rate_hz_ = add_number(form, "film_rate", tr("Filmed at"), 10000.0, 2, tr("a second"),
                          [this](double value) { marking_->set_capture_rate(index_, value); });
    rate_words_ = make_label({}, Theme::instance().font(12), "soft", this);
    rate_words_->setWordWrap(true);
    rate_words_->setObjectName(QStringLiteral("film_rate_words"));
    const auto camera = [&](const char* name, const QString& words,
                            std::optional<double> film::View::*which) {
        return add_number(form, name, words, 100.0, 2, tr("m"), [this, which](double value) {
            marking_->edit(index_, tr("saying where the phone stood"),
                           [which, value](film::View& view) { view.*which = told(value, 1.0); });
        });
    };
    distance_m_ = camera("film_distance", tr("Phone to golfer"), &film::View::distance_m);
    height_m_ = camera("film_height", tr("Phone above floor"), &film::View::height_m);
    scale_m_ =
        add_number(form, "film_scale", tr("Known length"), 20.0, 3, tr("m"), [this](double value) {
            marking_->edit(index_, tr("saying a known length"),
                           [value](film::View& view) { view.scale_m = value; });
        });
}

void FactsPanel::add_lines(QHBoxLayout* layout) {
    layout->addWidget(new QLabel(tr("Mark a line:"), this));
    const auto line = [&](const char* name, const QString& words, LineKind kind) {
        auto* button = new QToolButton(this);
        button->setObjectName(QString::fromLatin1(name));
        button->setText(words);
        button->setToolTip(tr("Click both ends in the film"));
        connect(button, &QToolButton::clicked, this, [this, kind] { emit line_asked(kind); });
        layout->addWidget(button);
    };
    line("film_plumb", tr("upright"), LineKind::Plumb);
    line("film_target", tr("target line"), LineKind::Target);
    line("film_known", tr("known length"), LineKind::Scale);
    layout->addStretch(1);
}

void FactsPanel::show_view(std::size_t index) {
    index_ = index;
    show_all();
}

void FactsPanel::set_findings(const QStringList& findings, bool measured) {
    findings_ = findings;
    measured_ = measured;
    show_advice();
}

void FactsPanel::show_all() {
    setEnabled(index_ < marking_->views());
    if (index_ >= marking_->views())
        return;
    showing_ = true;
    const film::Marks marks = marking_->marks();
    const film::View& view = marks.views[index_];
    handed_->setCurrentIndex(!marks.handed ? 0 : *marks.handed == Handedness::Right ? 1 : 2);
    club_->setCurrentIndex(club_->findData(static_cast<int>(marks.club.value_or(ClubKind::Iron))));
    side_->setCurrentIndex(side_->findData(static_cast<int>(view.side)));
    const auto length = [](QDoubleSpinBox* box, const std::optional<double>& value, double factor) {
        box->setValue(value ? *value * factor : 0.0);
    };
    length(belt_cm_, marks.lengths_m.belt_stick, 100.0);
    length(shoulder_cm_, marks.lengths_m.shoulder_stick, 100.0);
    length(arm_cm_, marks.lengths_m.arm, 100.0);
    length(club_cm_, marks.lengths_m.club, 100.0);
    length(distance_m_, view.distance_m, 1.0);
    length(height_m_, view.height_m, 1.0);
    scale_m_->setValue(view.scale_m);
    rate_hz_->setValue(view.capture_rate_hz);
    showing_ = false;
    QString words;
    if (marking_->has_film(index_)) {
        const film::FilmFacts& facts = marking_->facts(index_);
        const double slow = film::slow_motion_of(facts, view.capture_rate_hz);
        if (!(view.capture_rate_hz > 0.0) && !facts.has_times)
            words = tr(
                "A folder of pictures does not say when they were taken: say how many a second.");
        else if (!(view.capture_rate_hz > 0.0))
            words = tr("The file does not say it. It plays at %1 a second; slow motion is filmed "
                       "faster than that.")
                        .arg(number_text(facts.stored_rate_hz, 1));
        else if (slow > 1.0)
            words =
                tr("Slow motion: it plays %1 times slower than it was.").arg(number_text(slow, 1));
        if (!film::is_possible_tempo(view))
            words =
                tr("No swing lasts like this from top to impact: the capture rate is wrong, or a "
                   "moment is.");
    }
    rate_words_->setText(words);
    rate_words_->setVisible(!words.isEmpty());
    show_advice();
}

void FactsPanel::show_advice() {
    if (index_ >= marking_->views())
        return;
    const film::Marks marks = marking_->marks();
    const Language language = app::language();
    QStringList lines;
    for (const film::CameraAdvice& advice : film::check_camera(marks.views[index_])) {
        std::vector<std::string> values;
        for (const double value : advice.values)
            values.push_back(written(value, advice.decimals, language));
        lines << QString::fromStdString(filled(advice.what, values, language));
    }
    // What it will tell is of interest until it has told.
    const film::FilmPromise promise = film::promise_of(marks);
    if (!measured_) {
        QStringList tells;
        for (const std::string& one : promise.tells)
            tells << said(one);
        if (!tells.isEmpty())
            lines << tr("This film can tell: %1").arg(tells.join(QLatin1Char(' ')));
        for (const std::string& one : promise.cannot)
            lines << said(one);
    }
    lines << findings_;
    advice_->setText(lines.join(QStringLiteral("\n\n")));
    advice_->setVisible(!lines.isEmpty());
}

} // namespace kite::app
