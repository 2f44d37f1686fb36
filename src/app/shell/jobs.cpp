#include "app/shell/jobs.h"

#include <QStringList>

namespace kite::app {

void Jobs::report(const QString& owner, const QString& words, int done, int wanted) {
    jobs_[owner] = {words, done, wanted};
    emit changed();
}

void Jobs::end(const QString& owner) {
    if (jobs_.remove(owner) == 0)
        return;
    emit changed();
    if (is_idle())
        emit all_ended();
}

QString Jobs::words_but(const QString& owner) const {
    QStringList out;
    for (auto job = jobs_.begin(); job != jobs_.end(); ++job)
        if (job.key() != owner)
            out << tr("%1 %2 of %3").arg(job->words).arg(job->done).arg(job->wanted);
    return out.join(QStringLiteral("  ·  "));
}

} // namespace kite::app
