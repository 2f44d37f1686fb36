#include "app/theme/text.h"
#include "app/theme/theme.h"

#include <QFontInfo>
#include <gtest/gtest.h>

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
