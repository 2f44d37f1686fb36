#pragma once

#include "app/rooms/film/facts_panel.h"
#include "app/session/desk.h"
#include "app/shell/room.h"

#include <QFutureWatcher>
#include <QPointer>
#include <QTimer>

#include <array>
#include <memory>
#include <set>
#include <vector>

class QAction;
class QHBoxLayout;
class QLabel;
class QStackedWidget;
class QToolButton;

namespace kite::app {

class ElidedLabel;
class FilmPlayer;
class FilmView;
class FrameStrip;
class KiteView;
class StairChart;

/// Film of a swing from one to three sides: marked by clicks and by following, measured as it is
/// marked, shown in step with stair and kite.
class FilmRoom : public Room {
    Q_OBJECT
public:
    FilmRoom(Shell& shell, std::shared_ptr<Desk> desk);
    ~FilmRoom() override;

    QString id() const override { return QStringLiteral("film"); }
    QString name() const override { return tr("Film"); }
    QWidget* view() override { return page_; }
    void add_commands(Commands& commands) override;
    QUndoStack* history() override { return marking_.history(); }
    bool open(const QStringList& paths) override;
    void entered() override;
    void read_settings(const QSettings& settings) override;
    void write_settings(QSettings& settings) const override;

    Marking& marking() { return marking_; }
    ShownSwing& shown() { return shown_; }
    /// The marks' file; empty: nothing is open.
    const QString& path() const { return path_; }
    std::size_t active() const { return active_; }
    std::size_t picture() const; ///< of the film that is worked on
    std::optional<film::Point> asked() const { return asked_; }
    bool is_busy() const;

    void go_to(std::size_t picture);
    void follow(bool forwards);
    void propose();
    void accept(bool all);

signals:
    void measured();
    void films_opened();

private:
    void add_file_commands(Commands& commands);
    void add_picture_commands(Commands& commands);
    void add_moment_commands(Commands& commands);
    void add_point_commands(Commands& commands);
    void add_cross_commands(Commands& commands);
    void add_choices(Commands& commands);
    struct Pane {
        QWidget* widget = nullptr;
        ElidedLabel* head = nullptr;
        FilmView* view = nullptr;
        FrameStrip* strip = nullptr;
        std::unique_ptr<FilmPlayer> player;
        std::map<std::size_t, film::FollowedPoints> found; ///< while following …
        bool forwards = true;
        std::array<bool, film::kPoints> wanted{}; ///< … and for which points
    };

    void make_page();
    void make_empty_page();
    QLayout* make_right(QWidget* work); ///< facts, reading, stair and kite
    void begin(film::Marks marks, const QString& path);
    void make_panes();
    void connect_pane(std::size_t index);
    void open_films();
    void report_job(); ///< what goes on in the background, to the window
    void choose_files();
    void open_demo();
    QString marks_looked_at() const; ///< of the swing that is looked at; empty: it has none
    void activate(std::size_t index);
    void restyle();

    // Where the films stand.
    void show_at(double t_s); ///< on the first view's clock
    double offset_s(std::size_t index) const;
    void step(int pictures);
    void shift_film(int pictures); ///< against the other films, which stay where they are
    void step_planned(int direction);
    void set_playing(bool playing);
    void play_on();

    // What is to be done next.
    void show_next();
    std::optional<film::Point> next_point() const;
    QString next_words() const;
    void skip();
    void take_back();
    void put_moment(Moment moment);
    void take_line(const film::Line& line);

    // Measuring and keeping.
    void marks_changed();
    void measure();
    void take_measured();
    void save_soon();
    std::optional<film::Marks> marks_to_save() const; ///< empty: nothing is new
    void save_aside();
    bool save_now();
    bool say_saved(const std::vector<Finding>& findings);
    void to_bench();
    QImage still(); ///< of the film worked on; null: it must not be shown
    void save_still();
    void report_still();
    /// A swing that was kept, if it is film of the plan's drill: marked with drill and rung,
    /// counted.
    void join_drill(int list_id, const QString& swing);
    /// False: the golfer said no.
    bool may_keep_film_of(const QString& name) const;
    void keep_film(int list_id, const QString& swing); ///< with the record

    std::optional<film::Pixel> step_before(std::size_t picture, film::Point point,
                                           int direction) const;
    void follow_on(); ///< where it waited for a point, the same way
    void take_followed(std::size_t index, std::size_t last);

    Shell& shell_;
    std::shared_ptr<Desk> desk_;
    Marking marking_;
    ShownSwing shown_;
    QPointer<QWidget> page_;
    QStackedWidget* pages_ = nullptr;
    QHBoxLayout* films_ = nullptr;
    std::vector<Pane> panes_;
    QLabel* title_ = nullptr;
    QLabel* next_ = nullptr;
    QLabel* reading_ = nullptr;
    FactsPanel* facts_ = nullptr;
    StairChart* stair_ = nullptr;
    KiteView* kite_ = nullptr;
    QWidget* charts_ = nullptr;
    QWidget* empty_ = nullptr;
    QString path_;
    QString looked_at_; ///< marks of the swing that was looked at when the room was last entered
    std::size_t active_ = 0;
    double at_s_ = 0.0;
    std::optional<film::Point> asked_;
    std::set<std::tuple<std::size_t, std::size_t, int>> skipped_; ///< view, picture, point
    std::optional<FactsPanel::LineKind> line_;
    bool moving_ = false; ///< the charts' cursor is being set
    bool dirty_ = false;
    bool fresh_ = false; ///< nothing was done since it was opened
    bool face_covered_ = false;
    bool film_in_record_ = false; ///< a copy of it, as the user chose
    QAction* in_record_action_ = nullptr;
    QAction* of_drill_action_ = nullptr; ///< checked: this is film of the plan's drill
    /// Following stopped at this picture of the view worked on for a point that was lost; it goes
    /// on when that is marked.
    std::optional<std::size_t> waits_at_;
    QString lost_words_; ///< what following lost, and where
    QTimer measure_soon_;
    QTimer save_timer_;
    QTimer play_;
    QFutureWatcher<std::shared_ptr<const LoadedSwing>> watcher_;
    QFutureWatcher<std::vector<Finding>> saver_;
    bool measure_again_ = false;
};

} // namespace kite::app
