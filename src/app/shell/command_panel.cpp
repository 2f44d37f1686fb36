#include "app/shell/command_panel.h"

#include "app/theme/theme.h"

#include <QAction>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QTimer>
#include <QVBoxLayout>

#include <algorithm>
#include <utility>
#include <vector>

namespace kite::app {

namespace {

QString plain_text(const QAction* action) {
    QString text = action->text();
    return text.remove(QLatin1Char('&'));
}

QString keys_of(const QAction* action) {
    QStringList keys;
    for (const QKeySequence& key : action->shortcuts())
        keys << key.toString(QKeySequence::NativeText);
    return keys.join(QStringLiteral(", "));
}

/// How well a command fits, 0 best: begins so, holds it, has its letters in this order; -1: not.
int fit_of(const QString& text, const QString& wanted) {
    if (text.startsWith(wanted, Qt::CaseInsensitive))
        return 0;
    if (text.contains(wanted, Qt::CaseInsensitive))
        return 1;
    int at = 0;
    for (const QChar letter : wanted) {
        if (letter.isSpace())
            continue;
        at = static_cast<int>(text.indexOf(letter, at, Qt::CaseInsensitive)) + 1;
        if (at == 0)
            return -1;
    }
    return 2;
}

} // namespace

CommandPanel::CommandPanel(QList<QAction*> actions, QWidget* parent)
    : SearchSheet(parent), actions_(std::move(actions)) {
    setAccessibleName(tr("Commands and keys"));
    line()->setObjectName(QStringLiteral("command_line"));
    line()->setPlaceholderText(tr("What do you want to do?"));
    line()->setAccessibleName(tr("Search commands"));
    list()->setObjectName(QStringLiteral("command_list"));
    auto* layout = new QVBoxLayout(this);
    layout->addWidget(line());
    layout->addWidget(list());
    connect(&Theme::instance(), &Theme::changed, this, &CommandPanel::restyle);
    restyle();
}

void CommandPanel::restyle() {
    line()->setFont(Theme::instance().font(15));
    list()->setFont(Theme::instance().font(13));
}

void CommandPanel::open() {
    open_over_window(560, 620);
}

void CommandPanel::fill(const QString& wanted) {
    list()->clear();
    std::vector<std::pair<int, QAction*>> found;
    for (QAction* action : actions_) {
        // Those of other rooms could not be done here.
        const int fit = action->isVisible() ? fit_of(plain_text(action), wanted) : -1;
        if (fit >= 0)
            found.emplace_back(fit, action);
    }
    std::stable_sort(found.begin(), found.end(),
                     [](const auto& a, const auto& b) { return a.first < b.first; });
    for (const auto& [fit, action] : found) {
        const QString text = plain_text(action);
        const QString keys = keys_of(action);
        auto* item = new QListWidgetItem(list());
        item->setData(Qt::UserRole, QVariant::fromValue(action));
        auto* row = new QWidget(list());
        row->setAttribute(Qt::WA_TransparentForMouseEvents);
        auto* layout = new QHBoxLayout(row);
        layout->setContentsMargins(8, 3, 12, 3);
        layout->addWidget(new QLabel(text, row), 1);
        auto* key = new QLabel(keys, row);
        key->setObjectName(QStringLiteral("soft"));
        layout->addWidget(key);
        item->setSizeHint(row->sizeHint());
        item->setData(Qt::AccessibleTextRole,
                      keys.isEmpty() ? text : text + QStringLiteral(", ") + keys);
        list()->setItemWidget(item, row);
    }
    list()->setCurrentRow(0);
}

void CommandPanel::take() {
    const QListWidgetItem* item = list()->currentItem();
    hide();
    if (item == nullptr)
        return;
    auto* action = item->data(Qt::UserRole).value<QAction*>();
    // After this panel has given the focus back.
    QTimer::singleShot(0, action, &QAction::trigger);
}

} // namespace kite::app
