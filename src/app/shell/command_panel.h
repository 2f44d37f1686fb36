#pragma once

#include "app/widgets/search_sheet.h"

#include <QList>

class QAction;

namespace kite::app {

/// Every command with its keys, as a sheet over the window: typing narrows it down, Enter runs.
class CommandPanel : public SearchSheet {
    Q_OBJECT
public:
    CommandPanel(QList<QAction*> actions, QWidget* parent);

    void open();

private:
    void fill(const QString& wanted) override;
    void take() override;
    void restyle();

    QList<QAction*> actions_;
};

} // namespace kite::app
