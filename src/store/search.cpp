#include "store/search.h"

#include "store/rows.h"

#include <QRegularExpression>

namespace kite::store {

std::string Search::create_statement() {
    return "CREATE VIRTUAL TABLE swing_words USING fts5(swing_id UNINDEXED, words, "
           "tokenize = 'unicode61 remove_diacritics 2', prefix = '2 3')";
}

// Row numbers change when the file is made compact, so swings are found by their key.
void Search::put(const std::string& swing_id, const std::string& words, bool known) {
    if (known)
        remove(swing_id);
    connection_.run("INSERT INTO swing_words (swing_id, words) VALUES (?, ?)",
                    {text(swing_id), text(words)});
}

void Search::remove(const std::string& swing_id) {
    connection_.run("DELETE FROM swing_words WHERE swing_id = ?", {text(swing_id)});
}

void Search::forget_removed() {
    connection_.run("INSERT INTO swing_words (swing_words) VALUES ('optimize')");
}

Search::Condition Search::condition(const std::string& words) {
    // Signs between words part them as they do in the index.
    static const QRegularExpression kBetween(QStringLiteral("[^\\p{L}\\p{N}\\p{M}]+"));
    QStringList parts;
    for (const QString& word : text(words).split(kBetween, Qt::SkipEmptyParts))
        parts.push_back(QLatin1Char('"') + word + QStringLiteral("\"*"));
    if (parts.isEmpty())
        return {"1 = ?", words.find_first_not_of(" \t") == std::string::npos ? 1 : 0};
    return {"swing.id IN (SELECT swing_id FROM swing_words WHERE words MATCH ?)",
            parts.join(QLatin1Char(' '))};
}

} // namespace kite::store
