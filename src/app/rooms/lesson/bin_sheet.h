#pragma once

#include "app/session/record_keeper.h"

#include <QDialog>

class QListWidget;
class QPushButton;

namespace kite::app {

/// What lies in the bin, newest first; put back one by one, or deleted for good all at once.
class BinSheet : public QDialog {
    Q_OBJECT
public:
    BinSheet(RecordKeeper* keeper, QWidget* parent);

signals:
    void empty_wanted();

private:
    void show_bin();
    void put_back();

    RecordKeeper* keeper_;
    QListWidget* list_;
    QPushButton* back_;
    QPushButton* empty_;
};

} // namespace kite::app
