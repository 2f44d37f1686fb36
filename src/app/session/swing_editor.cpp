#include "app/session/swing_editor.h"

#include "app/theme/text.h"

#include <QUndoCommand>

#include <functional>
#include <map>
#include <memory>

namespace kite::app {

namespace {

using MovedMoments = std::map<Moment, double>;

/// All hand-put moments of one swing, before and after.
class MoveMoments : public QUndoCommand {
public:
    MoveMoments(SwingListModel* model, int swing, MovedMoments after, int gesture,
                std::function<void(int)> touched, const QString& text)
        : QUndoCommand(text), model_(model), swing_(swing), before_(model->moved_of(swing)),
          after_(std::move(after)), gesture_(gesture), touched_(std::move(touched)) {}

    int id() const override { return 1; }
    bool mergeWith(const QUndoCommand* other) override {
        const auto* next = static_cast<const MoveMoments*>(other);
        if (gesture_ < 0 || next->gesture_ != gesture_ || next->swing_ != swing_)
            return false;
        after_ = next->after_;
        return true;
    }
    void undo() override { put(before_); }
    void redo() override { put(after_); }

private:
    void put(const MovedMoments& moved) {
        model_->set_moved(swing_, moved);
        touched_(swing_);
    }
    SwingListModel* model_;
    int swing_;
    MovedMoments before_;
    MovedMoments after_;
    int gesture_;
    std::function<void(int)> touched_;
};

class MarkSwing : public QUndoCommand {
public:
    MarkSwing(SwingListModel* model, int swing, SwingMarks after, const QString& text)
        : QUndoCommand(text), model_(model), swing_(swing), before_(model->marks_of(swing)),
          after_(std::move(after)) {}
    void undo() override { model_->set_marks(swing_, before_); }
    void redo() override { model_->set_marks(swing_, after_); }

private:
    SwingListModel* model_;
    int swing_;
    SwingMarks before_;
    SwingMarks after_;
};

class RemoveSwing : public QUndoCommand {
public:
    RemoveSwing(SwingListModel* model, int swing, std::function<void(int)> touched,
                const QString& text)
        : QUndoCommand(text), model_(model), swing_(swing), touched_(std::move(touched)) {}
    void undo() override {
        if (removed_)
            model_->restore(*removed_);
        touched_(swing_);
    }
    void redo() override { removed_ = model_->remove(model_->row_of(swing_)); }

private:
    SwingListModel* model_;
    int swing_;
    std::function<void(int)> touched_;
    std::shared_ptr<const SwingListModel::Removed> removed_;
};

class SaySwing : public QUndoCommand {
public:
    SaySwing(SwingListModel* model, int swing, SwingSaid after, std::function<void(int)> touched,
             const QString& text)
        : QUndoCommand(text), model_(model), swing_(swing), before_(model->said_of(swing)),
          after_(std::move(after)), touched_(std::move(touched)) {}
    void undo() override { put(before_); }
    void redo() override { put(after_); }

private:
    void put(const SwingSaid& said) {
        model_->say(swing_, said);
        touched_(swing_);
    }
    SwingListModel* model_;
    int swing_;
    SwingSaid before_;
    SwingSaid after_;
    std::function<void(int)> touched_;
};

class ChooseOptions : public QUndoCommand {
public:
    ChooseOptions(SwingListModel* model, AnalysisOptions after, const QString& text)
        : QUndoCommand(text), model_(model), before_(model->options()), after_(std::move(after)) {}
    void undo() override { model_->set_options(before_); }
    void redo() override { model_->set_options(after_); }

private:
    SwingListModel* model_;
    AnalysisOptions before_;
    AnalysisOptions after_;
};

class ChooseRules : public QUndoCommand {
public:
    ChooseRules(SwingListModel* model, RulesInUse after, const QString& text)
        : QUndoCommand(text), model_(model), before_(model->rules()), after_(std::move(after)) {}
    void undo() override { model_->set_rules(before_); }
    void redo() override { model_->set_rules(after_); }

private:
    SwingListModel* model_;
    RulesInUse before_;
    RulesInUse after_;
};

} // namespace

SwingEditor::SwingEditor(SwingListModel* model, QObject* parent) : QObject(parent), model_(model) {}

void SwingEditor::move_moment(int row, Moment moment, std::optional<double> t_s, int gesture) {
    const int swing = model_->id_of(row);
    if (swing < 0)
        return;
    MovedMoments after = model_->moved_of(swing);
    const bool was_moved = after.count(moment) > 0;
    if (!t_s && !was_moved)
        return;
    if (t_s)
        after[moment] = *t_s;
    else
        after.erase(moment);
    const QString text = (t_s ? tr("move %1") : tr("reset %1")).arg(moment_name(moment));
    history_.push(new MoveMoments(
        model_, swing, std::move(after), gesture,
        [this](int id) { emit swing_touched(model_->row_of(id)); }, text));
}

void SwingEditor::reset_moments(int row) {
    const int swing = model_->id_of(row);
    if (swing < 0 || model_->moved_of(swing).empty())
        return;
    history_.push(new MoveMoments(
        model_, swing, {}, -1, [this](int id) { emit swing_touched(model_->row_of(id)); },
        tr("reset all moments")));
}

void SwingEditor::remove(int row) {
    const int swing = model_->id_of(row);
    if (swing >= 0)
        history_.push(new RemoveSwing(
            model_, swing, [this](int id) { emit swing_touched(model_->row_of(id)); },
            tr("take off the list")));
}

void SwingEditor::say(int row, const SwingSaid& said, const QString& what) {
    const int swing = model_->id_of(row);
    if (swing >= 0 && !(model_->said_of(swing) == said))
        history_.push(new SaySwing(
            model_, swing, said, [this](int id) { emit swing_touched(model_->row_of(id)); }, what));
}

void SwingEditor::set_marks(int row, const SwingMarks& marks, const QString& what) {
    const int swing = model_->id_of(row);
    if (swing >= 0 && !(model_->marks_of(swing) == marks))
        history_.push(new MarkSwing(model_, swing, marks, what));
}

void SwingEditor::set_options(const AnalysisOptions& options, const QString& what) {
    if (!(options == model_->options()))
        history_.push(new ChooseOptions(model_, options, what));
}

void SwingEditor::set_rules(const RulesInUse& rules, const QString& what) {
    if (rules != model_->rules())
        history_.push(new ChooseRules(model_, rules, what));
}

} // namespace kite::app
