#include "app/theme/text.h"
#include "app/theme/theme.h"

#include <QFontInfo>
#include <gtest/gtest.h>

#include <array>
#include <cmath>

using namespace kite;
using namespace kite::app;

// Source: WCAG 2.1, contrast of black on white 21 : 1, of a colour on itself 1 : 1; #767676 on
// white is the lightest grey that passes 4.5 : 1 (4.54).
TEST(Contrast, FollowsTheFormula) {
    EXPECT_NEAR(contrast(Qt::black, Qt::white), 21.0, 1e-9);
    EXPECT_NEAR(contrast(Qt::red, Qt::red), 1.0, 1e-9);
    EXPECT_NEAR(contrast(QColor(0x76, 0x76, 0x76), Qt::white), 4.54, 0.01);
}

// WCAG 2.1 AA: text 4.5 : 1 on whatever it stands on, in both themes.
TEST(Theme, TextHasEnoughContrast) {
    for (ThemeKind kind : {ThemeKind::Light, ThemeKind::Dark}) {
        const Colours c = colours_of(kind);
        for (const QColor& text :
             {c.ink, c.soft, c.accent, c.part[0], c.part[1], c.part[2], c.part[3]})
            for (const QColor& back : {c.page, c.surface})
                EXPECT_GE(contrast(text, back), 4.5)
                    << text.name().toStdString() << " on " << back.name().toStdString();
        for (const QColor& text : {c.ink, c.soft})
            EXPECT_GE(contrast(text, c.raised), 4.5) << "in the chosen row";
        EXPECT_GE(contrast(c.on_accent, c.accent), 4.5);
    }
}

namespace {

/// What somebody without one kind of cone sees, in linear light (Viénot, Brettel & Mollon, Color
/// Res. Appl. 24, 1999: protanopia and deuteranopia; matrices from memory), as lightness and two
/// chromatic coordinates of CIE 1976 L*a*b* (D65).
std::array<double, 3> seen(const QColor& colour, int missing_cone) {
    const auto linear = [](double v) {
        return v <= 0.04045 ? v / 12.92 : std::pow((v + 0.055) / 1.055, 2.4);
    };
    std::array<double, 3> rgb{linear(colour.redF()), linear(colour.greenF()),
                              linear(colour.blueF())};
    if (missing_cone > 0) {
        const bool red = missing_cone == 1;
        const double mixed =
            red ? 0.11238 * rgb[0] + 0.88762 * rgb[1] : 0.29275 * rgb[0] + 0.70725 * rgb[1];
        const double blue = red ? 0.00401 * rgb[0] - 0.00401 * rgb[1] + rgb[2]
                                : -0.02234 * rgb[0] + 0.02234 * rgb[1] + rgb[2];
        rgb = {mixed, mixed, blue};
    }
    const auto f = [](double t) {
        return t > 216.0 / 24389.0 ? std::cbrt(t) : (24389.0 / 27.0 * t + 16.0) / 116.0;
    };
    const double x = f((0.4124 * rgb[0] + 0.3576 * rgb[1] + 0.1805 * rgb[2]) / 0.9505);
    const double y = f(0.2126 * rgb[0] + 0.7152 * rgb[1] + 0.0722 * rgb[2]);
    const double z = f((0.0193 * rgb[0] + 0.1192 * rgb[1] + 0.9505 * rgb[2]) / 1.089);
    return {116.0 * y - 16.0, 500.0 * (x - y), 200.0 * (y - z)};
}

} // namespace

// Neighbouring lanes differ by at least 10 in CIE76 (2.3 is just noticeable, Mahy et al. 1994,
// value from memory) for normal eyes and for those without the red or the green cone.
TEST(Theme, NeighbouringPartsAreToldApartByEveryEye) {
    for (ThemeKind kind : {ThemeKind::Light, ThemeKind::Dark})
        for (int missing : {0, 1, 2})
            for (std::size_t i = 1; i < 4; ++i) {
                const auto a = seen(colours_of(kind).part[i - 1], missing);
                const auto b = seen(colours_of(kind).part[i], missing);
                const double apart = std::hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]);
                EXPECT_GT(apart, 10.0) << "parts " << i - 1 << " and " << i << ", cone " << missing
                                       << (kind == ThemeKind::Dark ? ", dark" : ", light");
            }
}

TEST(Theme, ShipsItsFont) {
    EXPECT_EQ(QFontInfo(Theme::instance().font(13)).family(), QStringLiteral("Lato"));
}

TEST(Texts, SayTurnsAndTimesInWords) {
    EXPECT_EQ(turn_text(38.4), QStringLiteral("38° open"));
    EXPECT_EQ(turn_text(-90.6), QStringLiteral("91° closed"));
    EXPECT_EQ(turn_text(-0.3), QStringLiteral("square"));
    EXPECT_EQ(turn_text(std::nan("")), QStringLiteral("–"));
    EXPECT_EQ(before_impact_text(-88.2), QStringLiteral("88 ms before impact"));
    EXPECT_EQ(before_impact_text(0.4), QStringLiteral("at impact"));
    EXPECT_EQ(before_impact_text(12.0), QStringLiteral("12 ms after impact"));
    EXPECT_EQ(number_text(-2156.4), QString(QChar(0x2212)) + QStringLiteral("2,156"));
    EXPECT_EQ(number_text(-0.2), QStringLiteral("0"));
}
