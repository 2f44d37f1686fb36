#pragma once

#include "core/practice/drill.h"

#include <QScrollArea>

#include <string>

namespace kite::app {

class DrillFigureView;

/// One drill in full: drawing, steps, what to feel and check, bands, cautions.
class DrillSheet : public QScrollArea {
    Q_OBJECT
public:
    explicit DrillSheet(const DrillBook* book, QWidget* parent = nullptr);

    /// `fault`: what it is done against, by which its swings are counted; empty: by the drill's own
    /// measure.
    void show_drill(const std::string& id, const std::string& fault = {});
    const std::string& shown() const { return id_; }

private:
    void rebuild();

    const DrillBook* book_;
    std::string id_;
    std::string fault_;
};

/// A drill as it is printed: with its drawing as the image "drill:<id>".
QString html_of(const Drill& drill, const DrillBook& book);

} // namespace kite::app
