#pragma once

#include "app/rooms/bay/across_view.h"
#include "app/rooms/bay/bay_sounds.h"
#include "app/session/bay_ear.h"
#include "app/session/bay_stand_in.h"
#include "app/session/desk.h"
#include "app/shell/room.h"

#include <QPointer>
#include <QTimer>

#include <map>
#include <memory>

class QCheckBox;
class QComboBox;
class QDoubleSpinBox;
class QLabel;
class QLineEdit;
class QPushButton;
class QSpinBox;
class QVBoxLayout;

namespace kite::app {

class DevicePanel;
class WrappedText;

/// The live bay: swings arrive by themselves, the reading follows in a breath. In the lesson
/// nothing need be touched between swings.
class BayRoom : public Room {
    Q_OBJECT
public:
    BayRoom(Shell& shell, std::shared_ptr<Desk> desk);
    ~BayRoom() override;

    QString id() const override { return QStringLiteral("bay"); }
    QString name() const override { return tr("Bay"); }
    QWidget* view() override { return page_; }
    void add_commands(Commands& commands) override;
    void entered() override;
    void read_settings(const QSettings& settings) override;
    void write_settings(QSettings& settings) const override;

    BayEar& ear() { return ear_; }
    const BayState& state() const { return state_; }
    const AcrossPicture& picture() const { return across_->picture(); }
    void set_place(const BayPlace& place);
    void listen();
    void offer_to_clear();
    void stop();
    void start_stand_in(const simulate::BayPlan& plan);

signals:
    void read(int number);     ///< a reading stands on the screen
    void kept(int row);        ///< a swing has come onto the list
    void heard(live::Cue cue); ///< while moving

private:
    /// A swing between being caught and being on the list.
    struct Waiting {
        BayCatch caught;
        std::shared_ptr<const std::string> capture;
        std::optional<LaunchNumbers> launch;
        std::shared_ptr<const LoadedSwing> swing;
        QString drill_tag; ///< of the drill that was being done
        QString golfer;    ///< chosen when it was made
    };

    void make_page();
    QWidget* make_side();
    void make_place(QVBoxLayout* column, QWidget* inner);
    void make_devices(QVBoxLayout* column, QWidget* inner);
    void make_golfer(QVBoxLayout* column, QWidget* inner);
    void make_drill(QVBoxLayout* column, QWidget* inner);
    void make_feedback(QVBoxLayout* column, QWidget* inner);
    void restyle();
    void show_state();
    QString state_words() const;
    bool is_heard() const; ///< somebody is, just now
    QString advice() const;
    QString mounting_words() const;

    void take_state(const BayState& state);
    void take_caught(const BayCatch& caught);
    void take_reading(int number, const std::shared_ptr<const LoadedSwing>& swing);
    void take_shot(int number, const LaunchNumbers& numbers);
    void keep_if_whole(int number, bool wait_for_launch);
    void keep(int number);
    void take_cue(live::Cue cue);
    void tag_kept(int list_id, const QString& swing);

    const Drill* drill() const; ///< that is being done; nullptr: none
    void set_drill(bool on);
    void count_for_drill(const LoadedSwing& swing, bool practice);
    void set_feedback();
    void tell_ear(); ///< hand, drill, feedback
    QString folder() const;
    void say(const std::vector<Finding>& findings, const QString& title);
    void record_session();
    void replay_session();
    void open_across();

    Shell& shell_;
    std::shared_ptr<Desk> desk_;
    BayEar ear_;
    BayStandIn stand_in_;
    BaySounds sounds_;
    BayState state_;
    BayPlace place_;
    std::map<int, Waiting> waiting_;
    std::deque<BayGlyph> last_;
    std::shared_ptr<const LoadedSwing> shown_;
    BayCatch shown_caught_;
    QString launch_words_;
    Measured drill_value_;
    std::optional<bool> drill_passed_;
    std::vector<PlanCheck> checks_;   ///< of the rung that is being done
    std::map<QString, QString> tags_; ///< of swings on their way into the record, by file
    int swings_ = 0;
    int practices_ = 0;
    int reading_ = 0; ///< being measured; 0: none
    bool in_drill_ = false;

    QPointer<QWidget> page_;
    AcrossView* across_ = nullptr;
    QWidget* side_ = nullptr;
    DevicePanel* devices_ = nullptr;
    QLabel* where_ = nullptr;
    WrappedText* open_warning_ = nullptr;
    WrappedText* sound_words_ = nullptr;
    QPushButton* listen_ = nullptr;
    QPushButton* stand_in_button_ = nullptr;
    QPushButton* mount_ = nullptr;
    QLineEdit* address_ = nullptr;
    QSpinBox* port_ = nullptr;
    QCheckBox* drill_box_ = nullptr;
    QComboBox* feedback_ = nullptr;
    QComboBox* voice_ = nullptr;
    QDoubleSpinBox* from_ = nullptr;
    QDoubleSpinBox* to_ = nullptr;
    QComboBox* hand_ = nullptr;
    QComboBox* club_ = nullptr;
    QTimer idle_; ///< nothing was heard for a while
};

} // namespace kite::app
