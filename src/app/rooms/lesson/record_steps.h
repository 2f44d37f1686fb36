#pragma once

#include "app/session/record_keeper.h"

#include <QUndoCommand>

namespace kite::app {

/// Columns of a row before and after.
class EditStep : public QUndoCommand {
public:
    EditStep(RecordKeeper* keeper, QString kind, QString id, Row before, Row after,
             const QString& what)
        : QUndoCommand(what), keeper_(keeper), kind_(std::move(kind)), id_(std::move(id)),
          before_(std::move(before)), after_(std::move(after)) {}
    void undo() override { keeper_->change(kind_, id_, before_); }
    void redo() override { keeper_->change(kind_, id_, after_); }

private:
    RecordKeeper* keeper_;
    QString kind_;
    QString id_;
    Row before_;
    Row after_;
};

/// Something that goes into the bin, or that came out of nothing.
class BinStep : public QUndoCommand {
public:
    enum class Done { Binned, Made };
    BinStep(RecordKeeper* keeper, QStringList ids, Done done, const QString& what)
        : QUndoCommand(what), keeper_(keeper), ids_(std::move(ids)), done_(done),
          first_(done == Done::Made) {}
    void undo() override { put(done_ == Done::Made); }
    void redo() override {
        // What was just made is there.
        if (!first_)
            put(done_ == Done::Binned);
        first_ = false;
    }

private:
    void put(bool in_bin) {
        if (in_bin)
            keeper_->bin(ids_);
        else
            keeper_->restore(ids_);
    }
    RecordKeeper* keeper_;
    QStringList ids_;
    Done done_;
    bool first_;
};

} // namespace kite::app
