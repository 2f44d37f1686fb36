#pragma once

#include "app/widgets/search_sheet.h"

class QLabel;

namespace kite::app {

class MeasureSketch;

/// "What is this?": every measure with its definition, sign, picture and source, as a sheet over
/// the window. Typing narrows the list down, Esc closes.
class MeasureHelp : public SearchSheet {
    Q_OBJECT
public:
    explicit MeasureHelp(QWidget* parent);

    /// Opens at a measure; an unknown key opens at the first.
    void open(const QString& key);
    QString shown() const; ///< key of the measure shown

private:
    void fill(const QString& wanted) override;
    void take() override {} // choosing one already shows it
    void show_current();
    void restyle();

    QLabel* name_ = nullptr;
    QLabel* definition_ = nullptr;
    QLabel* sign_ = nullptr;
    QLabel* source_ = nullptr;
    MeasureSketch* sketch_ = nullptr;
};

} // namespace kite::app
