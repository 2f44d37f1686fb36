#include "app/rooms/lesson/golfer_panel.h"

#include "app/rooms/lesson/golfer_clubs.h"
#include "app/theme/text.h"
#include "app/widgets/wrapped.h"
#include "formats/practice/drills_json.h"

#include <QCheckBox>
#include <QComboBox>
#include <QGridLayout>
#include <QLineEdit>
#include <QLocale>

#include <algorithm>

namespace kite::app {

namespace {

/// The list of limits as the record keeps it.
std::vector<std::string> limits_of(const Row& golfer) {
    std::vector<std::string> out;
    const Row& kept = golfer.at("limits");
    const Row list =
        kept.is_string() ? Row::parse(kept.get<std::string>(), nullptr, false) : Row::array();
    if (list.is_array())
        for (const Row& limit : list)
            if (limit.is_string())
                out.push_back(limit.get<std::string>());
    return out;
}

Understood positive(const QString& words) {
    bool ok = false;
    const double typed = QLocale().toDouble(words, &ok);
    if (!ok || !(typed > 0.0))
        return {nullptr, GolferPanel::tr("“%1” is no number above nought.").arg(words)};
    return {typed, {}};
}

} // namespace

GolferPanel::GolferPanel(QWidget* parent) : QWidget(parent) {
    setObjectName(QStringLiteral("golfer_panel"));
    auto* grid = new QGridLayout(this);
    grid->setContentsMargins(0, 0, 0, 0);
    grid->setVerticalSpacing(4);
    grid->setColumnStretch(1, 1);
    const QString not_said = tr("not said");
    add_text(grid, "name", tr("Name"));
    add_choice(grid, "handed", tr("Hand"),
               {{not_said, nullptr},
                {handed_name(Handedness::Right), "right"},
                {handed_name(Handedness::Left), "left"}});
    add_choice(grid, "face", tr("Club face"),
               {{not_said, nullptr},
                {tr("square"), "square"},
                {tr("shut"), "shut"},
                {tr("open"), "open"}});
    add_choice(grid, "goal", tr("Wants most"),
               {{not_said, nullptr},
                {tr("more speed"), "speed"},
                {tr("straighter"), "straight"},
                {tr("cleaner strike"), "strike"},
                {tr("less strain"), "strain"}});
    add_text(grid, "height_m", tr("Height, m"), positive);
    add_text(grid, "mass_kg", tr("Mass, kg"), positive);
    add_text(grid, "clubs", tr("Clubs, m"), clubs_from, clubs_in_words);
    const QString how = tr("Kind, name and length in metres, with a semicolon between clubs: "
                           "driver 1.15; iron seven 0.94");
    findChild<QLineEdit*>(QStringLiteral("clubs"))->setToolTip(how);
    findChild<QLineEdit*>(QStringLiteral("clubs"))->setAccessibleDescription(how);
    add_limits(grid);
    add_text(grid, "injuries", tr("Injuries"));
    add_choice(grid, "film_consent", tr("Film may be kept"),
               {{not_said, nullptr}, {tr("yes"), 1}, {tr("no"), 0}});
    add_text(grid, "note", tr("Note"));
    grid->setRowStretch(grid->rowCount(), 1);
    show_golfer(nullptr);
}

void GolferPanel::add_row(QGridLayout* grid, const QString& name, QWidget* field) {
    const int row = grid->rowCount();
    grid->addWidget(make_label(name, Theme::instance().font(12), "soft", this), row, 0);
    field->setAccessibleName(name);
    grid->addWidget(field, row, 1);
}

void GolferPanel::add_choice(QGridLayout* grid, const char* column, const QString& name,
                             const std::vector<std::pair<QString, Row>>& choices) {
    auto* box = new QComboBox(this);
    box->setObjectName(QString::fromLatin1(column));
    for (const auto& choice : choices)
        box->addItem(choice.first);
    connect(box, &QComboBox::activated, this, [this, column, name, choices](int at) {
        emit edit_wanted({{column, choices.at(static_cast<std::size_t>(at)).second}}, name);
    });
    fillers_.push_back([box, column, choices](const Row& golfer) {
        for (std::size_t i = 0; i < choices.size(); ++i)
            if (golfer.at(column) == choices[i].second)
                box->setCurrentIndex(static_cast<int>(i));
    });
    add_row(grid, name, box);
}

void GolferPanel::add_text(QGridLayout* grid, const char* column, const QString& name,
                           const Understand& understand, const InWords& in_words) {
    auto* line = new QLineEdit(this);
    line->setObjectName(QString::fromLatin1(column));
    line->setPlaceholderText(tr("not said"));
    const bool needed = std::string(column) == "name";
    connect(line, &QLineEdit::editingFinished, this,
            [this, line, column, name, understand, needed] {
                const QString text = line->text().simplified();
                if (filling_ || !line->isModified() || (needed && text.isEmpty()))
                    return;
                line->setModified(false);
                Understood typed;
                if (!text.isEmpty())
                    typed = understand ? understand(text) : Understood{text.toStdString(), {}};
                // The old value comes back with the next look at the record.
                if (typed.why_not.isEmpty())
                    emit edit_wanted({{column, typed.value}}, name);
                else
                    emit not_understood(tr("%1: %2").arg(name, typed.why_not));
            });
    fillers_.push_back([line, column, in_words](const Row& golfer) {
        if (line->hasFocus() && line->isModified())
            return; // somebody is typing
        const Row& value = golfer.at(column);
        line->setText(in_words            ? in_words(value)
                      : value.is_string() ? QString::fromStdString(value.get<std::string>())
                      : value.is_number() ? QLocale().toString(value.get<double>())
                                          : QString());
    });
    add_row(grid, name, line);
}

void GolferPanel::add_limits(QGridLayout* grid) {
    bool first = true;
    for (const auto& [key, words] : formats::shipped_drills().limits) {
        auto* box = new QCheckBox(said(words), this);
        box->setObjectName(QStringLiteral("limit_") + QString::fromStdString(key));
        connect(box, &QCheckBox::clicked, this, [this, key = key](bool on) {
            auto limits = limits_now_;
            limits.erase(std::remove(limits.begin(), limits.end(), key), limits.end());
            if (on)
                limits.push_back(key);
            emit edit_wanted({{"limits", limits.empty() ? Row() : Row(Row(limits).dump())}},
                             tr("To be spared"));
        });
        fillers_.push_back([box, key = key](const Row& golfer) {
            const auto limits = limits_of(golfer);
            box->setChecked(std::find(limits.begin(), limits.end(), key) != limits.end());
        });
        const int row = grid->rowCount();
        if (first)
            grid->addWidget(
                make_label(tr("To be spared"), Theme::instance().font(12), "soft", this), row, 0);
        grid->addWidget(box, row, 1);
        first = false;
    }
}

void GolferPanel::show_golfer(const Row* golfer) {
    setEnabled(golfer != nullptr);
    if (golfer == nullptr)
        return;
    filling_ = true;
    limits_now_ = limits_of(*golfer);
    for (const auto& fill : fillers_)
        fill(*golfer);
    filling_ = false;
}

} // namespace kite::app
