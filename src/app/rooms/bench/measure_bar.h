#pragma once

#include "app/session/shown_swing.h"
#include "core/measures/options.h"

#include <QWidget>

#include <functional>

class QGridLayout;
class QLabel;
class QMenu;
class QPushButton;
class QToolButton;

namespace kite::app {

/// How the swing is measured, always in sight and changeable: which rotation speed, which
/// separation, whose reversal is the top, the filter's cut-offs. Says where the choice of rotation
/// speed changes the order.
class MeasureBar : public QWidget {
    Q_OBJECT
public:
    explicit MeasureBar(ShownSwing* state, QWidget* parent = nullptr);

    void set_options(const AnalysisOptions& options);

signals:
    /// `what` names the step for undo.
    void options_chosen(const kite::AnalysisOptions& options, const QString& what);

private:
    template <class Value>
    void add_choice(const char* object, const QString& caption, const QString& tip,
                    Value AnalysisOptions::*field,
                    const std::vector<std::pair<Value, QString>>& choices);
    void add_cutoffs();
    void add_units();
    /// Captions give way where there is no room, then one row becomes two.
    void fit();
    void resizeEvent(QResizeEvent* event) override;
    void show_swing();
    void show_orders();
    static std::vector<std::pair<RateConvention, QString>> rate_choices();
    void restyle();

    ShownSwing* state_;
    AnalysisOptions options_;
    std::vector<QToolButton*> buttons_;
    std::vector<std::function<void()>> show_;
    QGridLayout* rows_ = nullptr;
    QToolButton* cutoffs_ = nullptr;
    QToolButton* units_ = nullptr;
    QLabel* note_ = nullptr;
    QPushButton* depends_ = nullptr; ///< where the order hangs on the rates: opens what each gives
};

} // namespace kite::app
