#pragma once

#include "app/rooms/film/marking.h"

#include <QWidget>

class QComboBox;
class QDoubleSpinBox;
class QFormLayout;
class QHBoxLayout;
class QLabel;

namespace kite::app {

/// What is said of the swing and of one of its films: golfer, club, lengths, how it was filmed,
/// where the phone stood; what the phone should do better, and what the film will tell.
class FactsPanel : public QWidget {
    Q_OBJECT
public:
    explicit FactsPanel(Marking* marking, QWidget* parent = nullptr);

    enum class LineKind { Plumb, Target, Scale };

    void show_view(std::size_t index); ///< whose film is spoken of
    /// What measuring said of these marks, in sentences; may be empty. `measured`: it could be
    /// done.
    void set_findings(const QStringList& findings, bool measured);

signals:
    void line_asked(kite::app::FactsPanel::LineKind kind);

private:
    QDoubleSpinBox* add_number(QFormLayout* form, const char* name, const QString& words,
                               double most, int decimals, const QString& unit,
                               const std::function<void(double)>& to);
    void add_swing(QFormLayout* form);
    void add_film(QFormLayout* form);
    void add_lines(QHBoxLayout* layout);
    void show_all();
    void show_advice();

    Marking* marking_;
    std::size_t index_ = 0;
    QStringList findings_;
    bool measured_ = false;
    bool showing_ = false;
    QComboBox* handed_ = nullptr;
    QComboBox* club_ = nullptr;
    QComboBox* side_ = nullptr;
    QDoubleSpinBox* belt_cm_ = nullptr;
    QDoubleSpinBox* shoulder_cm_ = nullptr;
    QDoubleSpinBox* arm_cm_ = nullptr;
    QDoubleSpinBox* club_cm_ = nullptr;
    QDoubleSpinBox* rate_hz_ = nullptr;
    QDoubleSpinBox* distance_m_ = nullptr;
    QDoubleSpinBox* height_m_ = nullptr;
    QDoubleSpinBox* scale_m_ = nullptr;
    QLabel* rate_words_ = nullptr;
    QLabel* advice_ = nullptr;
};

} // namespace kite::app
