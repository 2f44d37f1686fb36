#pragma once

#include "report/report.h"

#include <QPainter>

#include <functional>
#include <memory>
#include <vector>

class QPagedPaintDevice;

namespace kite::paper {

/// A report laid out on sheets of A4, ready to be painted. Needs a QGuiApplication; belongs to one
/// thread.
class Pages {
public:
    explicit Pages(report::Report report);
    ~Pages();
    Pages(const Pages&) = delete;
    Pages& operator=(const Pages&) = delete;

    static constexpr double kWidth_mm = 210.0;
    static constexpr double kHeight_mm = 297.0;

    int count() const;
    /// One sheet from the painter's origin; `per_mm`: the painter's units a millimetre.
    void paint(QPainter& painter, int page, double per_mm) const;
    /// All sheets onto a printer or into a file. False: it could not be painted on.
    bool print(QPagedPaintDevice& device) const;

private:
    struct Laid;
    std::unique_ptr<Laid> laid_;
};

/// The report as a PDF, its text searchable, its pictures lines; empty: it could not be painted.
std::string pdf_of(const report::Report& report);

} // namespace kite::paper
