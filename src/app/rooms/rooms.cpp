#include "app/rooms/rooms.h"

#include "app/rooms/bay/bay_room.h"
#include "app/rooms/bench/bench_room.h"
#include "app/rooms/compare/compare_room.h"
#include "app/rooms/eye/eye_room.h"
#include "app/rooms/film/film_room.h"
#include "app/rooms/golfer/golfer_room.h"
#include "app/rooms/lesson/lesson_room.h"
#include "app/rooms/practice/practice_room.h"
#include "app/rooms/references/references_room.h"
#include "app/rooms/report/report_room.h"
#include "app/rooms/why/why_room.h"
#include "app/session/desk.h"
#include "app/shell/shell_window.h"

namespace kite::app {

void furnish_rooms(ShellWindow& window, const QString& record) {
    const auto desk = std::make_shared<Desk>();
    if (!record.isEmpty())
        desk->set_own_record(record);
    window.add_room(std::make_unique<BenchRoom>(window, desk));
    window.add_room(std::make_unique<WhyRoom>(window, desk));
    window.add_room(std::make_unique<PracticeRoom>(window, desk));
    window.add_room(std::make_unique<ReferencesRoom>(window, desk));
    window.add_room(std::make_unique<LessonRoom>(window, desk));
    window.add_room(std::make_unique<CompareRoom>(window, desk));
    window.add_room(std::make_unique<GolferRoom>(window, desk));
    window.add_room(std::make_unique<ReportRoom>(window, desk));
    window.add_room(std::make_unique<FilmRoom>(window, desk));
    window.add_room(std::make_unique<EyeRoom>(window));
    window.add_room(std::make_unique<BayRoom>(window, desk));
    window.furnish();
}

} // namespace kite::app
