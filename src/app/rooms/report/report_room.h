#pragma once

#include "app/session/desk.h"
#include "app/shell/room.h"
#include "report/report.h"

#include <QPointer>

#include <memory>

class QCheckBox;
class QComboBox;
class QFormLayout;
class QLabel;
class QLineEdit;
class QScrollArea;
class QVBoxLayout;

namespace kite::app {

/// What is handed out: which swings, compared with which, in whose name; the pages as they come
/// out of the printer; saved as PDF or HTML, or printed.
class ReportRoom : public Room {
    Q_OBJECT
public:
    ReportRoom(Shell& shell, std::shared_ptr<Desk> desk);
    ~ReportRoom() override;

    QString id() const override { return QStringLiteral("report"); }
    QString name() const override { return tr("Report"); }
    QWidget* view() override { return page_; }
    void add_commands(Commands& commands) override;
    void entered() override;
    void read_settings(const QSettings& settings) override;
    void write_settings(QSettings& settings) const override;

    /// What is on screen; no pages: there is nothing to report on.
    const report::Report& report() const { return report_; }

signals:
    void made();

private:
    using Swings = std::vector<std::shared_ptr<const LoadedSwing>>;

    void make_left(QVBoxLayout* layout);
    QLineEdit* add_field(QFormLayout* form, const char* name, const QString& words);
    void restyle();
    void show_stills();
    void list_sets();
    void gather();
    void make(const Swings& swings, const Swings& before, const QString& before_name);
    void show_pages();
    Swings on_bench(bool good_alone) const;
    /// Swings of a choice, at once or when the record has measured them.
    void swings_of(const QString& choice, const std::function<void(const Swings&)>& then);
    QString subtitle(const Swings& swings) const;
    const Row* lesson_chosen() const;
    /// The lesson whose words go with the choice: the one chosen, else the one looked at if the
    /// swings on the Bench are of its golfer. nullptr: none.
    const Row* lesson_meant() const;
    QString golfer_of_report() const; ///< by name; empty: nobody said
    bool plan_is_of(const QString& golfer) const;
    void fill_words();
    void save(const QString& kinds, const std::function<std::string()>& bytes);
    void print();

    Shell& shell_;
    std::shared_ptr<Desk> desk_;
    QPointer<QWidget> page_;
    QComboBox* which_ = nullptr;
    QComboBox* against_ = nullptr;
    QLineEdit* title_ = nullptr;
    QLineEdit* colour_ = nullptr;
    QLabel* colour_words_ = nullptr;
    QLineEdit* one_thing_ = nullptr;
    QLineEdit* homework_ = nullptr;
    QLineEdit* note_ = nullptr;
    QCheckBox* with_plan_ = nullptr;
    QCheckBox* with_stills_ = nullptr;
    QLabel* hint_ = nullptr;
    QScrollArea* scroll_ = nullptr;
    QVBoxLayout* sheets_ = nullptr;
    report::Report report_;
    QString filled_for_; ///< the choice whose words stand in the fields
    bool had_plan_ = false;
    int asked_ = 0; ///< the newest wish counts
    bool filling_ = false;
};

} // namespace kite::app
