#pragma once

#include "app/session/desk.h"
#include "core/reading/why.h"

#include <QScrollArea>

#include <string>

class QVBoxLayout;

namespace kite::app {

/// One fault from its verdict down to the measures, and what would change it. A step leads to its
/// moment.
class WhyPanel : public QScrollArea {
    Q_OBJECT
public:
    explicit WhyPanel(Desk* desk, QWidget* parent = nullptr);

    void show_fault(const std::string& id);

signals:
    void fault_asked(const QString& id);
    void moment_asked(double t_s, const QString& fault);

private:
    void rebuild();
    void add_fault(QVBoxLayout* layout, const Fault& fault);
    void add_steps(QVBoxLayout* layout, const Why& why);
    void add_overruling(QVBoxLayout* layout, const Fault& fault);
    void add_links(QVBoxLayout* layout, const QString& head,
                   const std::vector<const Fault*>& faults);

    Desk* desk_;
    std::string id_;
};

} // namespace kite::app
