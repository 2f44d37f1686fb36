#include "app/theme/units.h"

namespace kite::app {

Units& Units::instance() {
    static Units units;
    return units;
}

void Units::set(Length length, Speed speed) {
    if (length == length_ && speed == speed_)
        return;
    length_ = length;
    speed_ = speed;
    emit changed();
}

Units::Shown Units::of(std::string_view si_unit) const {
    // The inch is 2.54 cm and the mile 1609.344 m by definition (International Yard and Pound
    // Agreement, 1959).
    if (si_unit == "m")
        return length_ == Length::Inches ? Shown{1.0 / 0.0254, QStringLiteral("in")}
                                         : Shown{100.0, QStringLiteral("cm")};
    if (si_unit == "m/s") {
        if (speed_ == Speed::MilesPerHour)
            return {3600.0 / 1609.344, QStringLiteral("mph")};
        if (speed_ == Speed::KilometresPerHour)
            return {3.6, QStringLiteral("km/h")};
    }
    return {1.0, QString::fromUtf8(si_unit.data(), static_cast<qsizetype>(si_unit.size()))};
}

} // namespace kite::app
