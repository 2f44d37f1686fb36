#include "app/rooms/bench/bench_room.h"
#include "app/rooms/eye/eye_room.h"
#include "app/rooms/rooms.h"
#include "app/shell/commands.h"
#include "app/shell/shell_window.h"
#include "app/theme/theme.h"

#include <QApplication>
#include <QCommandLineParser>
#include <QSettings>
#include <QTemporaryDir>
#include <QTimer>

#include <csignal>
#include <cstdio>

namespace {

using namespace kite;
using namespace kite::app;

/// The picture, once layout and charts have settled and nothing goes on in the background.
void shoot_when_still(ShellWindow& window, const QString& file) {
    constexpr int kSettle_ms = 300;
    QTimer::singleShot(kSettle_ms, &window, [&window, file] {
        if (!window.jobs().is_idle()) {
            shoot_when_still(window, file);
            return;
        }
        const bool ok = window.grab().save(file);
        if (!ok)
            std::fprintf(stderr, "%s: the picture cannot be written; check its folder.\n",
                         qPrintable(file));
        QCoreApplication::exit(ok ? 0 : 1);
    });
}

/// Waits until every file is analysed, then writes the picture and ends the program.
void take_picture(ShellWindow& window, const QString& file, int row, const QString& moment,
                  const QString& commands, int wait_ms) {
    const auto write = [&window, file, row, moment, commands, wait_ms] {
        auto* bench = window.room<BenchRoom>();
        bench->select(row);
        for (const QString& id : commands.split(QLatin1Char(';'), Qt::SkipEmptyParts))
            if (!window.commands().run(id))
                std::fprintf(stderr, "There is no command %s.\n", qPrintable(id));
        ShownSwing& shown = bench->shown();
        for (Moment m : kAllMoments)
            if (moment == QLatin1String(key_of(m).data()) && shown.has_swing())
                shown.set_cursor_s(shown.swing()->analysis.moments.time_s(m));
        QTimer::singleShot(wait_ms, &window, [&window, file] { shoot_when_still(window, file); });
    };
    if (window.jobs().is_idle())
        QTimer::singleShot(0, &window, write);
    else
        QObject::connect(&window.jobs(), &Jobs::all_ended, &window, write,
                         Qt::SingleShotConnection);
}

} // namespace

int main(int argc, char** argv) {
    // A file that may not grow is an error of writing, to be said, and no reason to end.
    std::signal(SIGXFSZ, SIG_IGN);
    QApplication app(argc, argv);
    QCoreApplication::setApplicationName(QStringLiteral("kite-hinge"));
    QCoreApplication::setOrganizationName(QStringLiteral("kite-hinge"));
    QSettings::setDefaultFormat(QSettings::IniFormat);
    QCoreApplication::setApplicationVersion(QStringLiteral(KITE_VERSION));

    QCommandLineParser parser;
    parser.setApplicationDescription(
        QCoreApplication::translate("main", "Timing and order of the golf pivot."));
    parser.addHelpOption();
    parser.addVersionOption();
    parser.addPositionalArgument(
        QStringLiteral("files"),
        QCoreApplication::translate("main", "Swing files, folders or lesson lists to open."),
        QStringLiteral("[files…]"));
    const auto option = [&parser](const char* name, const char* text, const char* value = nullptr,
                                  const char* usual = "") {
        QCommandLineOption made(
            QString::fromLatin1(name), QCoreApplication::translate("main", text),
            value == nullptr ? QString() : QString::fromLatin1(value), QString::fromLatin1(usual));
        parser.addOption(made);
        return made;
    };
    const auto demo = option("demo", "Open the demo lesson.");
    const auto store = option("store", "The record's file; else the usual place.", "file");
    const auto theme = option("theme", "light or dark; else as it was last.", "name");
    const auto text = option("text", "Size of the text in percent, 100 to 150.", "percent");
    const auto size = option("size", "Size of the window, such as 1280x800.", "size");
    const auto select = option("select", "Swing to show, from 1.", "number", "1");
    const auto at = option("at", "Moment to show, such as top or impact.", "moment");
    const auto run =
        option("run", "Commands to run before the picture, by id, with ; between.", "commands");
    const auto wait =
        option("wait", "Seconds between those commands and the picture.", "seconds", "0");
    const auto shot = option("shot", "Write a picture of the window and end.", "file");
    parser.process(app);

    // A picture is the same for everybody: it knows no settings and leaves none.
    const QTemporaryDir no_settings;
    if (parser.isSet(shot))
        QSettings::setPath(QSettings::IniFormat, QSettings::UserScope, no_settings.path());
    Theme& look = Theme::instance();
    look.read(QSettings());
    if (parser.isSet(theme))
        look.apply(parser.value(theme) == QLatin1String("dark") ? ThemeKind::Dark
                                                                : ThemeKind::Light);
    if (parser.isSet(text))
        look.set_text_scale(parser.value(text).toDouble() / 100.0);
    ShellWindow window;
    furnish_rooms(window, parser.isSet(shot) && !parser.isSet(store)
                              ? no_settings.filePath(QStringLiteral("record.db"))
                              : parser.value(store));
    const QStringList wanted = parser.value(size).split(QLatin1Char('x'));
    if (wanted.size() == 2)
        window.resize(wanted[0].toInt(), wanted[1].toInt());
    if (parser.isSet(shot))
        window.room<EyeRoom>()->set_seed(1);
    window.show();
    if (parser.isSet(demo))
        window.commands().run(QStringLiteral("bench.open-demo"));
    if (!parser.positionalArguments().isEmpty())
        window.open_paths(parser.positionalArguments());
    if (parser.isSet(shot))
        take_picture(window, parser.value(shot), parser.value(select).toInt() - 1, parser.value(at),
                     parser.value(run), static_cast<int>(1000.0 * parser.value(wait).toDouble()));
    else if (parser.isSet(select))
        window.room<BenchRoom>()->select(parser.value(select).toInt() - 1);
    return app.exec();
}
