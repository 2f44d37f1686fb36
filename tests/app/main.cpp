#include "app/theme/theme.h"

#include <QApplication>
#include <QSettings>
#include <QTemporaryDir>
#include <gtest/gtest.h>

int main(int argc, char** argv) {
    testing::InitGoogleTest(&argc, argv);
    // No display is needed unless somebody asks for one.
    if (qEnvironmentVariableIsEmpty("QT_QPA_PLATFORM"))
        qputenv("QT_QPA_PLATFORM", "offscreen");
    QLocale::setDefault(QLocale(QLocale::English, QLocale::UnitedKingdom));
    QApplication app(argc, argv);
    // The tester's own settings and record are neither read nor changed.
    const QTemporaryDir settings;
    // A test that is killed works where the one that kills it can look.
    qputenv("XDG_DATA_HOME", qEnvironmentVariableIsSet("KITE_TEST_DATA")
                                 ? qgetenv("KITE_TEST_DATA")
                                 : settings.path().toUtf8());
    QCoreApplication::setApplicationName(QStringLiteral("kite-hinge"));
    QCoreApplication::setOrganizationName(QStringLiteral("kite-hinge"));
    QSettings::setDefaultFormat(QSettings::IniFormat);
    QSettings::setPath(QSettings::IniFormat, QSettings::UserScope, settings.path());
    kite::app::Theme::instance().apply(kite::app::ThemeKind::Light);
    return RUN_ALL_TESTS();
}
