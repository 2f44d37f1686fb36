#include "app/rooms/lesson/arrivals.h"

#include "app/session/desk.h"
#include "app/shell/room.h"

namespace kite::app {

Arrivals::Arrivals(Shell& shell, Desk& desk, QObject* parent)
    : QObject(parent), shell_(shell), desk_(desk) {
    connect(&desk_.link(), &RecordLink::unkept_changed, this, &Arrivals::say_unkept);
    connect(&desk_.plan_link(), &PlanLink::unkept_changed, this, [this] {
        shell_.show_caution(QStringLiteral("plan"), desk_.plan_link().is_unkept()
                                                        ? tr("The plan is not in the record yet")
                                                        : QString());
    });
    connect(&desk_.record(), &RecordKeeper::kept_in_other_lesson, this,
            &Arrivals::say_other_lesson);
    connect(&desk_.record(), &RecordKeeper::whose_changed, this, [this] { said_lesson_.clear(); });
    connect(&desk_.link(), &RecordLink::nobody_to_keep_for, this, [this] {
        // Whoever has no golfers does not keep a record.
        if (!desk_.record().view().golfers.empty())
            shell_.show_message(tr("These swings are not kept"),
                                tr("No golfer is chosen. Choose one in Lesson, and they can be "
                                   "kept in today's lesson."),
                                tr("Choose a golfer"),
                                [this] { shell_.enter(QStringLiteral("lesson")); });
    });
    connect(&desk_.link(), &RecordLink::of_another_golfer, this, [this](const QString& golfer) {
        shell_.show_message(tr("Swings of %1 are not kept here").arg(golfer),
                            tr("The lesson is another golfer's. Choose %1 in Lesson and open them "
                               "again to keep them.")
                                .arg(golfer));
    });
}

void Arrivals::offer_nobodys() {
    const int count = desk_.link().nobodys();
    const Row* golfer = desk_.record().golfer(desk_.record().whose());
    if (count == 0 || golfer == nullptr)
        return;
    shell_.show_message(count == 1 ? tr("One swing on the Bench is not kept")
                                   : tr("%1 swings on the Bench are not kept").arg(count),
                        tr("They were opened while nobody was chosen."),
                        tr("Keep in today's lesson of %1").arg(text_in(*golfer, "name")),
                        [this] { desk_.link().keep_nobodys(); });
}

void Arrivals::say_unkept() {
    const int count = desk_.link().unkept();
    shell_.show_caution(QStringLiteral("unkept"),
                        count == 0   ? QString()
                        : count == 1 ? tr("1 swing is not in the record yet")
                                     : tr("%1 swings are not in the record yet").arg(count));
    if (count > 0 && !said_unkept_)
        shell_.show_message(
            tr("Swings could not be kept"),
            tr("%1 It is tried again every ten seconds.").arg(desk_.link().why_not()),
            tr("Try now"), [this] { desk_.link().try_again(); });
    if (count == 0 && said_unkept_)
        shell_.show_message(tr("All swings are in the record now"), QString());
    said_unkept_ = count > 0;
}

void Arrivals::say_other_lesson(const QString& lesson, bool began_it) {
    RecordKeeper& record = desk_.record();
    if (began_it)
        emit lesson_begun(lesson);
    // Nothing was looked at: what arrives is.
    if (record.lesson().isEmpty()) {
        record.go_on_with(lesson);
        const Row* golfer = record.golfer(record.whose());
        if (began_it && golfer != nullptr)
            shell_.show_message(
                tr("A lesson of today was begun for %1").arg(text_in(*golfer, "name")),
                tr("What is opened now is kept in it."));
        said_lesson_ = lesson;
        return;
    }
    if (lesson == said_lesson_)
        return;
    said_lesson_ = lesson;
    shell_.show_message(tr("Kept in today's lesson"),
                        tr("The one you look at is of before; it stays as it is."),
                        tr("Go to today's"), [&record, lesson] { record.go_on_with(lesson); });
}

} // namespace kite::app
