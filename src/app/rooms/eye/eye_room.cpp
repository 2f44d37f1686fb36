#include "app/rooms/eye/eye_room.h"

#include "app/charts/figure_view.h"
#include "app/session/days.h"
#include "app/session/workers.h"
#include "app/shell/commands.h"
#include "app/theme/text.h"
#include "app/theme/theme.h"
#include "app/widgets/wrapped.h"
#include "core/base/normal.h"
#include "formats/practice/eye_json.h"
#include "simulate/golfers.h"
#include "simulate/planted_faults.h"
#include "simulate/simulate.h"

#include <QComboBox>
#include <QDir>
#include <QDoubleSpinBox>
#include <QFileInfo>
#include <QFrame>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QPushButton>
#include <QSettings>
#include <QStackedWidget>
#include <QTableWidget>
#include <QVBoxLayout>
#include <QtConcurrent>

namespace kite::app {

namespace {

/// How long a figure is up; an order takes as long as its downswing, shown this much slower.
constexpr int kUp_ms = 1500;
constexpr double kSlower = 0.15;

/// The orders that swings have, by the keys of their parts.
const std::vector<std::array<Segment, 4>>& orders() {
    using S = Segment;
    static const std::vector<std::array<Segment, 4>> all{
        {S::Pelvis, S::Torso, S::LeadArm, S::Club},
        {S::Torso, S::Pelvis, S::LeadArm, S::Club},
        {S::Pelvis, S::LeadArm, S::Torso, S::Club},
        {S::LeadArm, S::Pelvis, S::Torso, S::Club},
        {S::Torso, S::LeadArm, S::Pelvis, S::Club}};
    return all;
}

template <class Parts>
std::string order_key(const Parts& parts) {
    std::string out;
    for (const Segment part : parts)
        out += (out.empty() ? "" : " ") + std::string(key_of(part));
    return out;
}

QString order_words(const std::string& key) {
    QStringList out;
    for (const QString& part : QString::fromStdString(key).split(QLatin1Char(' ')))
        for (const Segment segment : kSequence)
            if (part == QLatin1String(key_of(segment).data()))
                out << segment_name(segment);
    return out.join(QStringLiteral(" → "));
}

QString angle_name(EyeAngle angle) {
    switch (angle) {
    case EyeAngle::PelvisTurn:
        return EyeRoom::tr("Turn of the pelvis");
    case EyeAngle::TorsoTurn:
        return EyeRoom::tr("Turn of the torso");
    case EyeAngle::Separation:
        return EyeRoom::tr("Separation");
    }
    return {};
}

QString view_name(EyeView view) {
    return view == EyeView::FaceOn ? EyeRoom::tr("face-on") : EyeRoom::tr("down the line");
}

/// A swing that nobody has seen: any club, faults or none, times and angles as golfers have them.
simulate::SwingParameters any_swing(std::mt19937& random) {
    constexpr std::array kClubs{ClubKind::Driver, ClubKind::Iron, ClubKind::Wedge};
    simulate::SwingParameters out = simulate::typical_swing(kClubs[random() % kClubs.size()]);
    simulate::scatter(out, random, 3.0);
    const auto faults = simulate::plantable_faults();
    if (random() % 3 != 0)
        simulate::plant(out, faults[random() % faults.size()], 1.0);
    return out;
}

double angle_at(const Analysis& analysis, EyeAngle angle, double t_s) {
    if (angle == EyeAngle::Separation)
        return analysis.separation_deg.at(t_s);
    const auto part = angle == EyeAngle::PelvisTurn ? Segment::Pelvis : Segment::Torso;
    const auto found = analysis.trunk.find(part);
    return found == analysis.trunk.end() ? kMissing : found->second.angles.turn_deg.at(t_s);
}

} // namespace

EyeRoom::EyeRoom(Shell& shell) : shell_(shell) {
    make_page();
    showing_.setSingleShot(true);
    connect(&showing_, &QTimer::timeout, this, &EyeRoom::hide_figure);
    connect(&maker_, &QFutureWatcherBase::finished, this, [this] { ask(maker_.result()); });
    connect(&shown_, &TimeLine::play_changed, this, [this] {
        if (stage_ == Stage::Shown && !question_.angle && !shown_.is_playing())
            hide_figure();
    });
    connect(&Theme::instance(), &Theme::changed, this, &EyeRoom::restyle);
    restyle();
    show_stage();
}

EyeRoom::~EyeRoom() {
    maker_.waitForFinished();
    delete page_;
}

QString EyeRoom::file() {
    return QFileInfo(QSettings().fileName()).dir().filePath(QStringLiteral("eye.json"));
}

void EyeRoom::make_page() {
    const Theme& theme = Theme::instance();
    page_ = new QWidget;
    auto* row = new QHBoxLayout(page_);
    row->setContentsMargins(theme.scaled(18), theme.scaled(14), theme.scaled(14), theme.scaled(14));
    row->setSpacing(theme.scaled(16));
    auto* left = new QVBoxLayout;
    title_ = make_label(tr("Train the eye"), theme.font(20, Theme::Weight::Bold), "", page_);
    left->addWidget(title_);
    words_ = new WrappedText({}, theme.font(15), page_);
    words_->setObjectName(QStringLiteral("eye_words"));
    left->addWidget(words_);
    auto* answers = new QHBoxLayout;
    degrees_ = new QDoubleSpinBox(page_);
    degrees_->setObjectName(QStringLiteral("eye_degrees"));
    degrees_->setAccessibleName(tr("Your estimate in degrees"));
    degrees_->setRange(-180.0, 180.0);
    degrees_->setDecimals(0);
    degrees_->setSuffix(tr("°"));
    degrees_->setButtonSymbols(QAbstractSpinBox::NoButtons);
    order_ = new QComboBox(page_);
    order_->setObjectName(QStringLiteral("eye_order"));
    order_->setAccessibleName(tr("Your estimate of the order"));
    for (const auto& parts : orders())
        order_->addItem(order_words(order_key(parts)), QString::fromStdString(order_key(parts)));
    go_ = new QPushButton(page_);
    go_->setObjectName(QStringLiteral("eye_go"));
    connect(go_, &QPushButton::clicked, this, [this] {
        if (stage_ == Stage::Asked)
            answer();
        else
            next();
    });
    answers->addWidget(degrees_);
    answers->addWidget(order_);
    answers->addWidget(go_);
    answers->addStretch(1);
    left->addLayout(answers);
    auto* card = new QFrame(page_);
    card->setObjectName(QStringLiteral("card"));
    auto* inside = new QVBoxLayout(card);
    inside->setContentsMargins(1, 1, 1, 1);
    pictures_ = new QStackedWidget(card);
    pictures_->addWidget(new QWidget(pictures_)); // nothing is shown
    figures_ = {new FigureView(&shown_, FigureView::From::FaceOn, pictures_),
                new FigureView(&shown_, FigureView::From::DownTheLine, pictures_)};
    for (FigureView* figure : figures_)
        pictures_->addWidget(figure);
    inside->addWidget(pictures_);
    left->addWidget(card, 1);
    row->addLayout(left, 5);

    auto* right = new QVBoxLayout;
    const auto table = [&](const char* name, const QStringList& head) {
        auto* out = new QTableWidget(0, static_cast<int>(head.size()), page_);
        out->setObjectName(QString::fromLatin1(name));
        out->setHorizontalHeaderLabels(head);
        out->verticalHeader()->hide();
        out->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
        out->horizontalHeader()->setSectionResizeMode(0, QHeaderView::ResizeToContents);
        out->setEditTriggers(QAbstractItemView::NoEditTriggers);
        out->setSelectionMode(QAbstractItemView::NoSelection);
        out->setFocusPolicy(Qt::NoFocus);
        out->setShowGrid(false);
        return out;
    };
    right->addWidget(
        make_label(tr("How you see"), theme.font(16, Theme::Weight::Semibold), "", page_));
    scores_ = table("eye_scores", {tr("Angle"), tr("Seen"), tr("Bias"), tr("Scatter")});
    right->addWidget(scores_, 3);
    orders_ = make_label({}, theme.font(13), "soft", page_);
    orders_->setObjectName(QStringLiteral("eye_orders"));
    right->addWidget(orders_);
    right->addWidget(
        make_label(tr("Week by week"), theme.font(16, Theme::Weight::Semibold), "", page_));
    weeks_ =
        table("eye_weeks", {tr("Week from"), tr("Angle"), tr("Seen"), tr("Bias"), tr("Scatter")});
    right->addWidget(weeks_, 3);
    row->addLayout(right, 4);
}

void EyeRoom::restyle() {
    title_->setFont(Theme::instance().font(20, Theme::Weight::Bold));
    words_->setFont(Theme::instance().font(15));
    orders_->setFont(Theme::instance().font(13));
}

void EyeRoom::entered() {
    read();
    show_scores();
    go_->setFocus();
}

void EyeRoom::read() {
    if (read_)
        return;
    read_ = true;
    auto kept = formats::read_eye(file().toStdString());
    guesses_ = std::move(kept.value);
    keeps_ = !has_errors(kept.findings);
    if (!keeps_)
        shell_.show_message(
            tr("What your eye estimated so far cannot be read"),
            tr("%1 Nothing is written over it: today's estimates are not kept. Mend or move %2.")
                .arg(QString::fromStdString(text_of(kept.findings.front())), file()));
}

void EyeRoom::next() {
    if (stage_ == Stage::Making || stage_ == Stage::Shown)
        return;
    read();
    stage_ = Stage::Making;
    const simulate::SwingParameters parameters = any_swing(random_);
    question_ = {};
    question_.view = random_() % 2 == 0 ? EyeView::FaceOn : EyeView::DownTheLine;
    // Now and then an order.
    if (random_() % 4 != 0)
        question_.angle = kEyeAngles[random_() % kEyeAngles.size()];
    maker_.setFuture(QtConcurrent::run(&workers(), [parameters] {
        return swing_of({simulate::make_take(parameters), {}}, {});
    }));
    show_stage();
}

void EyeRoom::ask(const std::shared_ptr<const LoadedSwing>& swing) {
    if (!swing->ok) {
        stage_ = Stage::Nothing;
        next(); // another one
        return;
    }
    const Analysis& analysis = swing->analysis;
    const double top_s = analysis.moments.time_s(Moment::Top);
    const double impact_s = analysis.moments.time_s(Moment::Impact);
    shown_.set_playing(false);
    shown_.set_swing(swing);
    shown_.set_speed(kSlower);
    const auto figure = static_cast<std::size_t>(question_.view == EyeView::FaceOn ? 0 : 1);
    stage_ = Stage::Shown;
    if (question_.angle) {
        // Any moment from the top to a little after impact.
        std::uniform_real_distribution<double> share(0.0, 1.15);
        const double t_s = top_s + share(random_) * (impact_s - top_s);
        shown_.set_cursor_s(t_s);
        question_.truth_deg = angle_at(analysis, *question_.angle, t_s);
        showing_.start(kUp_ms);
    } else {
        question_.truth_order = order_key(analysis.sequence.order);
        shown_.set_range({top_s - 0.1, impact_s + 0.1});
        shown_.set_cursor_s(top_s - 0.1);
        shown_.set_playing(true);
        showing_.start(static_cast<int>(1000.0 * (impact_s - top_s + 0.2) / kSlower));
    }
    const bool known = question_.angle
                           ? std::isfinite(question_.truth_deg)
                           : order_->findData(QString::fromStdString(question_.truth_order)) >= 0;
    if (!known) {
        showing_.stop();
        shown_.set_playing(false);
        stage_ = Stage::Nothing;
        next();
        return;
    }
    pictures_->setCurrentWidget(figures_[figure]);
    show_stage();
}

void EyeRoom::hide_figure() {
    if (stage_ != Stage::Shown)
        return;
    showing_.stop();
    stage_ = Stage::Asked;
    shown_.set_playing(false);
    pictures_->setCurrentIndex(0);
    show_stage();
    if (question_.angle) {
        degrees_->setFocus();
        degrees_->selectAll();
    } else {
        order_->setFocus();
    }
    emit asked();
}

void EyeRoom::answer() {
    if (stage_ != Stage::Asked)
        return;
    degrees_->interpretText();
    EyeGuess guess = question_;
    guess.day = day_.value_or(today());
    if (guess.angle)
        guess.said_deg = degrees_->value();
    else
        guess.said_order = order_->currentData().toString().toStdString();
    question_ = guess;
    guesses_.push_back(guess);
    if (keeps_) {
        QDir().mkpath(QFileInfo(file()).path());
        for (const Finding& finding : formats::write_eye(file().toStdString(), guesses_))
            shell_.show_message(tr("Your estimates are not kept"),
                                QString::fromStdString(text_of(finding)));
    }
    stage_ = Stage::Answered;
    // The figure once more, with the truth.
    pictures_->setCurrentWidget(
        figures_[static_cast<std::size_t>(question_.view == EyeView::FaceOn ? 0 : 1)]);
    show_stage();
    show_scores();
    go_->setFocus();
}

void EyeRoom::show_stage() {
    const bool asks = stage_ == Stage::Asked;
    degrees_->setVisible(asks && question_.angle);
    order_->setVisible(asks && !question_.angle);
    go_->setVisible(stage_ == Stage::Nothing || asks || stage_ == Stage::Answered);
    go_->setText(asks ? tr("That is it") : tr("Show me a figure"));
    switch (stage_) {
    case Stage::Nothing:
        words_->setText(
            tr("A figure is shown for a moment, from the front or down the line. Say how "
               "far it is turned, or in which order its parts were fastest."));
        break;
    case Stage::Making:
        words_->setText(tr("A figure is made…"));
        break;
    case Stage::Shown:
        words_->setText(question_.angle ? tr("%1?").arg(angle_name(*question_.angle))
                                        : tr("In which order are the parts fastest?"));
        break;
    case Stage::Asked:
        words_->setText(question_.angle ? tr("%1 in degrees? Open counts plus, closed minus.")
                                              .arg(angle_name(*question_.angle))
                                        : tr("In which order were the parts fastest?"));
        break;
    case Stage::Answered:
        if (question_.angle)
            words_->setText(tr("You said %1, it was %2: %3 off.")
                                .arg(turn_text(question_.said_deg), turn_text(question_.truth_deg),
                                     tr("%1°").arg(number_text(std::abs(question_.off_deg())))));
        else if (question_.said_order == question_.truth_order)
            words_->setText(tr("Right: %1.").arg(order_words(question_.truth_order)));
        else
            words_->setText(tr("It was %1.").arg(order_words(question_.truth_order)));
        break;
    }
}

void EyeRoom::show_scores() {
    const auto put = [](QTableWidget* table, int row, int column, const QString& text) {
        table->setItem(row, column, new QTableWidgetItem(text));
    };
    const auto put_score = [&](QTableWidget* table, int row, int column, const EyeScore& score) {
        put(table, row, column, QString::number(score.count));
        const bool known = std::isfinite(score.bias_u_deg);
        put(table, row, column + 1,
            known ? tr("%1 ± %2°")
                        .arg(number_text(score.bias_deg), number_text(kCover95 * score.bias_u_deg))
                  : tr("too few"));
        put(table, row, column + 2,
            known ? tr("%1°").arg(number_text(score.scatter_deg)) : tr("–"));
    };
    scores_->setRowCount(0);
    weeks_->setRowCount(0);
    for (const EyeAngle angle : kEyeAngles) {
        for (const EyeView view : kEyeViews) {
            const EyeScore one = score(guesses_, angle, view);
            if (one.count == 0)
                continue;
            const int row = scores_->rowCount();
            scores_->insertRow(row);
            put(scores_, row, 0, tr("%1, %2").arg(angle_name(angle), view_name(view)));
            put_score(scores_, row, 1, one);
        }
        for (const EyeWeek& week : by_week(guesses_, angle)) {
            const int row = weeks_->rowCount();
            weeks_->insertRow(row);
            put(weeks_, row, 0, QLocale().toString(qdate_of(week.monday), QLocale::ShortFormat));
            put(weeks_, row, 1, angle_name(angle));
            put_score(weeks_, row, 2, week.score);
        }
    }
    const EyeOrders both = score_orders(guesses_);
    orders_->setText(both.count == 0
                         ? tr("Bias: how much too open you see, ± its 95 % interval. Scatter: its "
                              "standard deviation.")
                         : tr("Orders: %1 of %2 right.").arg(both.right).arg(both.count));
}

void EyeRoom::add_commands(Commands& commands) {
    const QString menu = QStringLiteral("view");
    commands.add(
        menu, {QStringLiteral("eye.next"), tr("&Next figure"), {QKeySequence(Qt::Key_N)}, [this] {
                   if (stage_ != Stage::Asked)
                       next();
               }});
    commands.add(menu, {QStringLiteral("eye.answer"),
                        tr("&Give the estimate, or the next figure"),
                        {QKeySequence(Qt::Key_Return), QKeySequence(Qt::Key_Enter)},
                        [this] {
                            if (stage_ == Stage::Asked)
                                answer();
                            else
                                next();
                        }});
}

} // namespace kite::app
