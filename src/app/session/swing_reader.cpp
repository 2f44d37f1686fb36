#include "app/session/swing_reader.h"

#include "app/session/workers.h"

#include <QtConcurrent>

#include <utility>

namespace kite::app {

SwingReader::~SwingReader() {
    *unwanted_ = true;
    for (auto& [id, watcher] : watchers_) {
        watcher->disconnect(this);
        watcher->waitForFinished();
    }
}

void SwingReader::read(int id, const SwingRequest& request,
                       const formats::ReadOptions& read_options, const AnalysisOptions& options,
                       const RulesInUse& rules) {
    start(id, [request, read_options, options, rules, unwanted = unwanted_]() -> Swing {
        return *unwanted ? nullptr : load_swing(request, read_options, options, rules);
    });
}

void SwingReader::measure(int id, const Swing& swing, const AnalysisOptions& options,
                          const RulesInUse& rules) {
    start(id, [swing, options, rules] { return analyse_again(swing, options, rules); });
}

void SwingReader::start(int id, std::function<Swing()> work) {
    auto watcher = std::make_unique<Watcher>();
    connect(watcher.get(), &Watcher::finished, this,
            [this, id, raw = watcher.get()] { finish(id, raw->result()); });
    watcher->setFuture(QtConcurrent::run(&workers(), std::move(work)));
    watchers_[id] = std::move(watcher);
    emit progress_changed(done_, ++wanted_);
}

void SwingReader::finish(int id, const Swing& swing) {
    // The watcher is still on the stack above us.
    if (const auto watcher = watchers_.find(id); watcher != watchers_.end()) {
        watcher->second.release()->deleteLater();
        watchers_.erase(watcher);
    }
    ++done_;
    emit done(id, swing); // may ask for the next piece of work
    emit progress_changed(done_, wanted_);
    if (watchers_.empty()) {
        done_ = wanted_ = 0;
        emit all_done();
    }
}

void SwingReader::give_up() {
    *unwanted_ = true;
    unwanted_ = std::make_shared<std::atomic<bool>>(false);
}

} // namespace kite::app
