#pragma once

#include "app/session/swing_loader.h"

#include <QFutureWatcher>
#include <QObject>

#include <atomic>
#include <functional>
#include <map>
#include <memory>

namespace kite::app {

/// Reads and measures swings on worker threads, one piece of work a swing at a time. Swings go by
/// numbers that their owner gives.
class SwingReader : public QObject {
    Q_OBJECT
public:
    using Swing = std::shared_ptr<const LoadedSwing>;

    explicit SwingReader(QObject* parent = nullptr) : QObject(parent) {}
    ~SwingReader() override; ///< waits for what runs

    /// A file to be read.
    void read(int id, const SwingRequest& request, const formats::ReadOptions& read_options,
              const AnalysisOptions& options, const RulesInUse& rules);
    /// What was read, to be measured in another way.
    void measure(int id, const Swing& swing, const AnalysisOptions& options,
                 const RulesInUse& rules);
    bool is_busy() const { return !watchers_.empty(); }
    bool is_busy(int id) const { return watchers_.count(id) > 0; }
    /// What is not being read yet is not read any more; it comes back empty.
    void give_up();

signals:
    void done(int id, std::shared_ptr<const kite::app::LoadedSwing> swing);
    /// Of what was asked for since nothing was left to do.
    void progress_changed(int done, int wanted);
    void all_done();

private:
    using Watcher = QFutureWatcher<Swing>;

    void start(int id, std::function<Swing()> work);
    void finish(int id, const Swing& swing);

    std::map<int, std::unique_ptr<Watcher>> watchers_;
    int done_ = 0;
    int wanted_ = 0;
    /// Set when what is queued is no longer wanted; every batch has its own.
    std::shared_ptr<std::atomic<bool>> unwanted_ = std::make_shared<std::atomic<bool>>(false);
};

} // namespace kite::app
