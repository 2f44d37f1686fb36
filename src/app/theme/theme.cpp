#include "app/theme/theme.h"

#include "paper/fonts.h"

#include <QApplication>
#include <QPalette>
#include <QResource>
#include <QSettings>
#include <QStyleFactory>

#include <algorithm>
#include <cmath>

/// Icons as resources.S holds them.
extern "C" const unsigned char kite_resources[]; // NOLINT(modernize-avoid-c-arrays)

namespace kite::app {

namespace {

double channel(double value) {
    return value <= 0.04045 ? value / 12.92 : std::pow((value + 0.055) / 1.055, 2.4);
}

double luminance(const QColor& colour) {
    return 0.2126 * channel(colour.redF()) + 0.7152 * channel(colour.greenF()) +
           0.0722 * channel(colour.blueF());
}

QString style_sheet(const Colours& c, ThemeKind kind, int corner) {
    // Hover, focus and pressed states look the same everywhere.
    return QStringLiteral(R"(
        QWidget { color: %ink; }
        QMainWindow, QWidget#page { background: %page; }
        QFrame#card { background: %surface; border: 1px solid %line; border-radius: %cornerpx; }
        QFrame#side { background: %surface; border: none; border-right: 1px solid %line; }
        QFrame#rule { background: %line; border: none; max-height: 1px; min-height: 1px; }
        QLabel { background: transparent; }
        QLabel#soft, QLabel[tone="soft"] { color: %soft; }
        QLabel[tone="accent"] { color: %accent; }
        QWidget#reading { background: transparent; }
        QFrame#fix { background: %page; border: 1px solid %line; border-left: 4px solid %soft; border-radius: %cornerpx; }
        QFrame#fix[tone="accent"] { border-left-color: %accent; }
        QToolTip { background: %surface; color: %ink; border: 1px solid %line; padding: 4px; }
        QPushButton, QToolButton {
            background: transparent; border: 1px solid %line; border-radius: %cornerpx;
            padding: 5px 10px; color: %ink; }
        QPushButton:hover, QToolButton:hover { background: %raised; }
        QPushButton:pressed, QToolButton:pressed, QToolButton:checked { background: %raised; border-color: %soft; }
        QPushButton:focus, QToolButton:focus { border: 2px solid %accent; padding: 4px 9px; }
        QPushButton#link { border: 2px solid transparent; border-left: 3px solid %line; border-radius: 0;
            text-align: left; padding: 3px 6px 3px 9px; }
        QPushButton#link:hover { background: %raised; border-left-color: %accent; }
        QPushButton#link:focus { border: 2px solid %accent; border-left-width: 3px; }
        QPushButton#primary { background: %ink; color: %surface; border-color: %ink; padding: 8px 18px; }
        QPushButton#primary:focus { border: 2px solid %accent; padding: 7px 17px; }
        QToolButton { padding: 4px 5px; }
        QToolButton:focus { padding: 3px 4px; }
        QToolButton[popupMode="2"] { padding-right: 18px; }
        QToolButton[popupMode="2"]:focus { padding-right: 17px; }
        QToolButton::menu-indicator { subcontrol-position: right center; right: 4px; }
        QLineEdit { background: %surface; border: 1px solid %line; border-radius: %cornerpx; padding: 7px 10px; }
        QLineEdit:focus { border-color: %accent; }
        QComboBox, QDoubleSpinBox, QSpinBox, QDateEdit { background: %surface; border: 1px solid %line; border-radius: %cornerpx; padding: 4px 8px; }
        QComboBox:focus, QDoubleSpinBox:focus, QSpinBox:focus, QDateEdit:focus { border-color: %accent; }
        QComboBox::drop-down { border: none; width: 18px; }
        QComboBox::down-arrow { image: url(:/icons/down-%kind.svg); width: 10px; height: 6px; }
        QCheckBox::indicator, QListView::indicator { width: 13px; height: 13px; border: 1px solid %soft; border-radius: 3px; background: %surface; }
        QCheckBox::indicator:checked, QListView::indicator:checked { background: %ink; border-color: %ink; }
        QCheckBox:focus { border: 1px solid %accent; border-radius: 3px; }
        QComboBox QAbstractItemView { background: %surface; border: 1px solid %line; selection-background-color: %raised; selection-color: %ink; }
        QTableView::item { padding-left: 8px; }
        QListWidget { background: transparent; border: none; outline: none; }
        QListWidget#drills::item, QListWidget#golfers::item, QListWidget#lessons::item, QListView#set_list::item { padding: 4px 6px; border: 0px; }
        QListWidget::item:selected, QListView#set_list::item:selected { background: %raised; color: %ink; }
        QScrollBar:horizontal { background: transparent; height: 8px; margin: 0; }
        QScrollBar::handle:horizontal { background: %line; border-radius: 4px; min-width: 24px; }
        QScrollBar::add-line:horizontal, QScrollBar::sub-line:horizontal { width: 0; }
        QTableCornerButton::section { background: transparent; border: none; }
        QTableView { background: transparent; border: none; alternate-background-color: %page; selection-background-color: %raised; selection-color: %ink; }
        QHeaderView { background: transparent; }
        QHeaderView::section { background: transparent; color: %soft; border: none; padding: 4px 8px; }
        QListView { background: %surface; border: none; outline: none; }
        QListView#swings, QListView#set_list, QListWidget { background: transparent; }
        QScrollArea { background: transparent; border: none; }
        QScrollBar:vertical { background: transparent; width: 8px; margin: 0; }
        QScrollBar::handle:vertical { background: %line; border-radius: 4px; min-height: 24px; }
        QScrollBar::add-line, QScrollBar::sub-line { height: 0; }
        QMenuBar, QMenu { background: %surface; color: %ink; }
        QMenu { border: 1px solid %line; }
        QMenuBar::item:selected, QMenu::item:selected { background: %raised; color: %ink; }
        QMenu::item:disabled { color: %soft; }
        QMenu::separator { height: 1px; background: %line; margin: 4px 8px; }
    )")
        .replace(QLatin1String("%kind"),
                 kind == ThemeKind::Dark ? QStringLiteral("dark") : QStringLiteral("light"))
        .replace(QLatin1String("%ink"), c.ink.name())
        .replace(QLatin1String("%soft"), c.soft.name())
        .replace(QLatin1String("%page"), c.page.name())
        .replace(QLatin1String("%surface"), c.surface.name())
        .replace(QLatin1String("%raised"), c.raised.name())
        .replace(QLatin1String("%line"), c.line.name())
        .replace(QLatin1String("%accent"), c.accent.name())
        .replace(QLatin1String("%corner"), QString::number(corner));
}

} // namespace

Colours colours_of(ThemeKind kind) {
    Colours c;
    if (kind == ThemeKind::Light) {
        c.page = QColor(0xF3, 0xF2, 0xEE);
        c.surface = QColor(0xFC, 0xFB, 0xF9);
        c.raised = QColor(0xE9, 0xE7, 0xE1);
        c.line = QColor(0xD8, 0xD5, 0xCD);
        c.ink = QColor(0x22, 0x25, 0x2A);
        c.soft = QColor(0x5C, 0x61, 0x69);
        c.accent = QColor(0xB8, 0x1D, 0x5B);
        c.on_accent = QColor(0xFF, 0xFF, 0xFF);
        c.part = {QColor(0x0B, 0x66, 0x6A), QColor(0x69, 0x4A, 0x94), QColor(0x8C, 0x5E, 0x0A),
                  QColor(0x44, 0x48, 0x50)};
    } else {
        c.page = QColor(0x15, 0x17, 0x1B);
        c.surface = QColor(0x1D, 0x20, 0x25);
        c.raised = QColor(0x2A, 0x2E, 0x35);
        c.line = QColor(0x38, 0x3D, 0x45);
        c.ink = QColor(0xEC, 0xEA, 0xE4);
        c.soft = QColor(0xA6, 0xAB, 0xB4);
        c.accent = QColor(0xFF, 0x7A, 0xA8);
        c.on_accent = QColor(0x22, 0x0A, 0x14);
        c.part = {QColor(0x4F, 0xB0, 0xB0), QColor(0xB3, 0x99, 0xDD), QColor(0xD6, 0xA3, 0x4A),
                  QColor(0xB4, 0xBA, 0xC5)};
    }
    return c;
}

double contrast(const QColor& a, const QColor& b) {
    const double one = luminance(a);
    const double other = luminance(b);
    return (std::max(one, other) + 0.05) / (std::min(one, other) + 0.05);
}

Theme& Theme::instance() {
    static Theme theme;
    return theme;
}

Theme::Theme() : colours_(colours_of(ThemeKind::Light)) {
    QResource::registerResource(&kite_resources[0]);
    paper::load_fonts();
}

void Theme::apply(ThemeKind kind) {
    kind_ = kind;
    colours_ = colours_of(kind);
    QApplication::setStyle(QStyleFactory::create(QStringLiteral("Fusion")));
    QApplication::setFont(font(13));
    QPalette palette;
    palette.setColor(QPalette::Window, colours_.page);
    palette.setColor(QPalette::Base, colours_.surface);
    palette.setColor(QPalette::AlternateBase, colours_.raised);
    palette.setColor(QPalette::Button, colours_.surface);
    for (QPalette::ColorRole role :
         {QPalette::WindowText, QPalette::Text, QPalette::ButtonText, QPalette::ToolTipText})
        palette.setColor(role, colours_.ink);
    palette.setColor(QPalette::ToolTipBase, colours_.surface);
    palette.setColor(QPalette::PlaceholderText, colours_.soft);
    palette.setColor(QPalette::Highlight, colours_.accent);
    palette.setColor(QPalette::HighlightedText, colours_.on_accent);
    QApplication::setPalette(palette);
    qApp->setStyleSheet(style_sheet(colours_, kind_, scaled(6)));
    emit changed();
}

void Theme::set_text_scale(double scale) {
    const double wanted = std::clamp(scale, 1.0, 1.5);
    if (wanted == scale_)
        return;
    scale_ = wanted;
    apply(kind_);
}

QFont Theme::font(double pixels, Weight weight) const {
    QFont font(QString::fromLatin1(paper::kFamily));
    font.setPixelSize(scaled(pixels));
    font.setWeight(weight == Weight::Bold       ? QFont::Bold
                   : weight == Weight::Semibold ? QFont::DemiBold
                                                : QFont::Normal);
    return font;
}

int Theme::scaled(double pixels) const {
    return static_cast<int>(std::lround(pixels * scale_));
}

void Theme::switch_kind() {
    apply(kind_ == ThemeKind::Light ? ThemeKind::Dark : ThemeKind::Light);
}

namespace {
const QString kKindKey = QStringLiteral("window/theme");
const QString kScaleKey = QStringLiteral("window/text_scale");
const QString kDark = QStringLiteral("dark");
} // namespace

void Theme::read(const QSettings& settings) {
    apply(settings.value(kKindKey).toString() == kDark ? ThemeKind::Dark : ThemeKind::Light);
    set_text_scale(settings.value(kScaleKey, 1.0).toDouble());
}

void Theme::write(QSettings& settings) const {
    settings.setValue(kKindKey, kind_ == ThemeKind::Dark ? kDark : QStringLiteral("light"));
    settings.setValue(kScaleKey, scale_);
}

QColor theme_palette(report::Ink ink) {
    using report::Ink;
    const Colours& c = colours();
    switch (ink) {
    case Ink::None:
        return Qt::transparent;
    case Ink::Paper:
        return c.surface;
    case Ink::Line:
        return c.line;
    case Ink::Soft:
        return c.soft;
    case Ink::Text:
        return c.ink;
    case Ink::Accent:
        return c.accent;
    case Ink::Pelvis:
        return c.of(Segment::Pelvis);
    case Ink::Torso:
        return c.of(Segment::Torso);
    case Ink::LeadArm:
        return c.of(Segment::LeadArm);
    case Ink::Club:
        return c.of(Segment::Club);
    }
    return c.ink;
}

} // namespace kite::app
