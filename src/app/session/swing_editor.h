#pragma once

#include "app/session/swing_list_model.h"

#include <QUndoStack>

#include <optional>

namespace kite::app {

/// What the user changes of how swings are measured: moments put by hand, and the choices that hold
/// for all swings. Every change is one step that can be undone; the model then analyses again.
class SwingEditor : public QObject {
    Q_OBJECT
public:
    explicit SwingEditor(SwingListModel* model, QObject* parent = nullptr);

    QUndoStack* history() { return &history_; }

    /// Puts a moment; nothing: back where it was found. Steps of one gesture (a drag, a run of
    /// nudges) become one.
    void move_moment(int row, Moment moment, std::optional<double> t_s, int gesture);
    /// All moments of a swing back where they were found.
    void reset_moments(int row);
    /// Takes a swing off the list; its file stays.
    void remove(int row);
    /// Hand, club, or which swing of the take.
    void say(int row, const SwingSaid& said, const QString& what);
    /// Good, left out, note.
    void set_marks(int row, const SwingMarks& marks, const QString& what);
    void set_options(const AnalysisOptions& options, const QString& what);
    void set_rules(const RulesInUse& rules, const QString& what);

signals:
    /// A step was undone or redone that belongs to this swing: it should be seen.
    void swing_touched(int row);

private:
    SwingListModel* model_;
    QUndoStack history_;
};

} // namespace kite::app
