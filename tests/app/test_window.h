#pragma once

#include "app/charts/body_strip.h"
#include "app/charts/kite_view.h"
#include "app/charts/separation_strip.h"
#include "app/charts/stair_chart.h"
#include "app/rooms/bench/bench_room.h"
#include "app/rooms/bench/bench_view.h"
#include "app/rooms/bench/difference_table.h"
#include "app/rooms/bench/import_assistant.h"
#include "app/rooms/bench/measure_bar.h"
#include "app/rooms/bench/measure_help.h"
#include "app/rooms/bench/moment_table.h"
#include "app/rooms/rooms.h"
#include "app/shell/commands.h"
#include "app/shell/shell_window.h"

namespace kite::app {

/// The real window with all its rooms, and short ways to what tests and benchmarks look at.
class TestWindow : public ShellWindow {
public:
    TestWindow() {
        furnish_rooms(*this);
        resize(1280, 800);
    }

    BenchRoom& bench_room() const { return *room<BenchRoom>(); }
    SwingListModel* model() const { return bench_room().lesson().swings(); }
    SwingEditor* editor() const { return bench_room().lesson().editor(); }
    ReferenceKeeper* reference() const { return bench_room().lesson().reference(); }
    FolderWatch* folder_watch() const { return bench_room().lesson().watch(); }
    ShownSwing* state() const { return &bench_room().shown(); }
    BenchView* bench() const { return findChild<BenchView*>(); }
    StairChart* stair() const { return bench()->findChild<StairChart*>(); }
    SeparationStrip* separation() const { return findChild<SeparationStrip*>(); }
    BodyStrip* body() const { return findChild<BodyStrip*>(); }
    KiteView* kite() const { return bench()->findChild<KiteView*>(); }
    MomentTable* table() const { return findChild<MomentTable*>(); }
    MeasureBar* measure_bar() const { return findChild<MeasureBar*>(); }
    DifferenceTable* differences() const { return findChild<DifferenceTable*>(); }
    MeasureHelp* measure_help() const { return findChild<MeasureHelp*>(); }
    ImportAssistant* assistant() const { return findChild<ImportAssistant*>(); }

    void open_demo() { commands().run(QStringLiteral("bench.open-demo")); }
    void select(int row) { bench_room().select(row); }
};

} // namespace kite::app
