#pragma once

#include "app/session/lesson.h"
#include "app/session/plan_keeper.h"
#include "app/session/plan_link.h"
#include "app/session/record_keeper.h"
#include "app/session/record_link.h"
#include "app/session/school_shelf.h"
#include "app/session/shown_swing.h"
#include "report/report.h"

#include <QTemporaryDir>

#include <memory>

namespace kite::app {

/// What all rooms work on: the lesson, the swing that is looked at, and the rules it is read by.
class Desk : public QObject {
    Q_OBJECT
public:
    explicit Desk(QObject* parent = nullptr);

    Lesson& lesson() { return lesson_; }
    ShownSwing& shown() { return shown_; }
    const RulesInUse& rules() const { return lesson_.swings()->rules(); }
    SchoolShelf& schools() { return schools_; }
    RecordKeeper& record() { return record_; }
    RecordLink& link() { return link_; }
    PlanKeeper& plan() { return plan_; }
    PlanLink& plan_link() { return plan_link_; }
    /// The school in force, as read_by takes it.
    QString school() const { return QString::fromStdString(rules()->school_source); }

    /// Reads all swings by another school (an id or a file) and habit of the club face. `what`
    /// names the step that can be undone; empty: as it was last, nothing to undo. Comes back with
    /// what stands in the way; the rules in force stay then.
    std::vector<Finding> read_by(const QString& school, FaceHabit face, const QString& what);

    /// What the golfer wants most.
    void set_goal(Goal goal, const QString& what);

    /// What is known of a golfer of the record counts from here on: face habit and goal for the
    /// readings, what must be spared for the plans. What is not said changes nothing.
    void know_golfer(const store::Row& golfer);
    const std::vector<std::string>& limits_of_golfer() const { return limits_; }

    /// Which swing is looked at, in words: golfer, number, note.
    const QString& caption() const { return caption_; }
    const QString& golfer() const { return golfer_; } ///< empty: nobody said
    /// The golfer who is meant: as the swing says, else the one chosen in the record.
    QString golfer_meant() const;
    void set_caption(const QString& golfer, const QString& caption);

    /// The id in the record of the swing that is looked at; empty: it is not kept.
    QString shown_in_record() const;
    /// Its file; empty: there is none.
    QString shown_file() const;

    /// Somebody wants to see why a fault was found.
    void ask_why(const QString& fault) { emit why_asked(fault); }

    /// Goes on with the user's own record, or with that of the demo, which never mix: what of the
    /// one is on the list, in the plan or on the undo stack goes with it.
    void use_own_record();
    void use_demo_record();
    void set_own_record(const QString& path) { own_record_ = path; }
    const QString& own_record() const { return own_record_; }
    /// Goes on with a copy of a record, to look at; gone when another is used. `then` is told why
    /// not; empty: it is.
    void use_copy_of(const QString& path, const std::function<void(const QString&)>& then);
    /// Stills of film that the report shows: of whose film, by the name that the swing says.
    void add_still(report::Photo still);
    void forget_stills();
    std::vector<report::Photo> stills_of(const QString& golfer) const;
    std::size_t stills() const { return stills_.size(); }
    /// Two sets of swings of the record are to be compared; they come onto the list.
    void compare(const std::vector<SwingRequest>& first, const std::vector<SwingRequest>& second);
    /// Swings of the record onto the list; those that are on it already are not put there twice.
    void look_at(const std::vector<SwingRequest>& requests);
    enum class Whose { Own, Demo, Copy };
    Whose whose_record() const {
        return record_.path() == own_record_ ? Whose::Own : copy_ ? Whose::Copy : Whose::Demo;
    }

signals:
    void caption_changed();
    void stills_changed();
    void why_asked(const QString& fault);
    void look_asked(int row);
    void plan_not_usable(const QString& why);
    /// Rows of the list, by set.
    void compare_asked(const std::vector<int>& first, const std::vector<int>& second);

private:
    int shown_row() const; ///< -1: none
    std::vector<int> rows_of(const std::vector<SwingRequest>& requests);
    void keep_earlier();
    void use_record(const QString& path);
    void leave_copy();

    Lesson lesson_;
    ShownSwing shown_;
    RecordKeeper record_;
    RecordLink link_{lesson_.swings(), &record_};
    PlanKeeper plan_;
    PlanLink plan_link_{&plan_, &record_};
    SchoolShelf schools_;
    QString golfer_;
    QString caption_;
    std::vector<std::pair<QString, report::Photo>> stills_; ///< golfer and picture
    std::vector<std::string> limits_;     ///< of the golfer who is known, keys of the drill book
    std::shared_ptr<QTemporaryDir> copy_; ///< of a record that is looked into
    QString own_record_ = QString::fromStdString(store::Record::usual_place().string());
};

} // namespace kite::app
