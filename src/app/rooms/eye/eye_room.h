#pragma once

#include "app/session/desk.h"
#include "app/shell/room.h"
#include "core/practice/eye.h"

#include <QFutureWatcher>
#include <QPointer>
#include <QTimer>

#include <array>
#include <memory>
#include <random>

class QComboBox;
class QDoubleSpinBox;
class QLabel;
class QPushButton;
class QStackedWidget;
class QTableWidget;

namespace kite::app {

class FigureView;

/// A short game that trains the instructor's eye: a made-up figure is shown for a moment, its turn,
/// separation or order estimated, the truth shown; bias and scatter by angle and side, over weeks.
class EyeRoom : public Room {
    Q_OBJECT
public:
    explicit EyeRoom(Shell& shell);
    ~EyeRoom() override;

    QString id() const override { return QStringLiteral("eye"); }
    QString name() const override { return tr("Eye"); }
    QWidget* view() override { return page_; }
    void add_commands(Commands& commands) override;
    void entered() override;

    /// The same figures again and again, for tests.
    void set_seed(std::uint32_t seed) { random_.seed(seed); }
    void set_day(const Date& day) { day_ = day; }
    const std::vector<EyeGuess>& guesses() const { return guesses_; }
    /// What is asked and what is true; meaningful while a figure is up.
    const EyeGuess& question() const { return question_; }
    bool is_asking() const { return stage_ == Stage::Asked; }
    void next();
    void answer();

signals:
    void asked();

private:
    enum class Stage { Nothing, Making, Shown, Asked, Answered };

    void make_page();
    void restyle();
    void ask(const std::shared_ptr<const LoadedSwing>& swing);
    void hide_figure();
    void show_stage();
    void show_scores();
    void read();
    static QString file();

    Shell& shell_;
    ShownSwing shown_;
    QPointer<QWidget> page_;
    std::array<FigureView*, 2> figures_{};
    QStackedWidget* pictures_ = nullptr;
    QLabel* title_ = nullptr;
    QLabel* words_ = nullptr;
    QDoubleSpinBox* degrees_ = nullptr;
    QComboBox* order_ = nullptr;
    QPushButton* go_ = nullptr;
    QTableWidget* scores_ = nullptr;
    QTableWidget* weeks_ = nullptr;
    QLabel* orders_ = nullptr;
    QTimer showing_;
    std::mt19937 random_{std::random_device{}()};
    std::optional<Date> day_; ///< empty: today
    Stage stage_ = Stage::Nothing;
    EyeGuess question_;
    std::vector<EyeGuess> guesses_;
    bool read_ = false;
    bool keeps_ = true; ///< false: the file is damaged and must not be written over
    QFutureWatcher<std::shared_ptr<const LoadedSwing>> maker_;
};

} // namespace kite::app
