#pragma once

#include "core/base/names.h"
#include "report/drawing.h"

#include <QColor>
#include <QFont>
#include <QObject>

class QSettings;

namespace kite::app {

enum class ThemeKind { Light, Dark };

/// The colours of one theme. One muted hue a part, used for that part and nothing else; one accent
/// for "look here", none for good or bad. Text colours keep a contrast of 4.5 : 1 (WCAG AA) against
/// `page` and `surface`; tests/app checks it.
struct Colours {
    QColor page;                ///< behind everything
    QColor surface;             ///< cards, list, charts
    QColor raised;              ///< pressed or chosen row
    QColor line;                ///< hairlines and grid
    QColor ink;                 ///< text
    QColor soft;                ///< second text
    QColor accent;              ///< look here
    QColor on_accent;           ///< text on the accent
    std::array<QColor, 4> part; ///< pelvis, torso, lead arm, club

    const QColor& of(Segment segment) const { return part[index_of(segment)]; }
};

Colours colours_of(ThemeKind kind);

/// Contrast of two colours, 1 to 21 (WCAG 2.1, relative luminance).
double contrast(const QColor& a, const QColor& b);

/// The chosen theme, its fonts and sizes; one for the application.
class Theme : public QObject {
    Q_OBJECT
public:
    static Theme& instance();

    /// Loads the shipped fonts and sets palette and style sheet of the application.
    void apply(ThemeKind kind);
    ThemeKind kind() const { return kind_; }
    /// Size of the text against the usual one, 1.0 to 1.5; takes effect at once.
    void set_text_scale(double scale);
    double text_scale() const { return scale_; }
    void switch_kind(); ///< light or dark
    /// As it was last; where nothing is kept, light and of the usual size.
    void read(const QSettings& settings);
    void write(QSettings& settings) const;
    const Colours& colours() const { return colours_; }

    enum class Weight { Regular, Semibold, Bold };
    /// The shipped font at a size in pixels of 100 % text.
    QFont font(double pixels, Weight weight = Weight::Regular) const;
    /// A length in pixels that grows with the text.
    int scaled(double pixels) const;

signals:
    void changed();

private:
    Theme();
    ThemeKind kind_ = ThemeKind::Light;
    Colours colours_;
    double scale_ = 1.0;
};

inline const Colours& colours() {
    return Theme::instance().colours();
}

/// The theme's colour of what a drawing names.
QColor theme_palette(report::Ink ink);

} // namespace kite::app
