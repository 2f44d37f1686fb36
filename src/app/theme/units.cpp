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

namespace {

// The inch is 2.54 cm and the mile 1609.344 m by definition (International Yard and Pound
// Agreement, 1959).
Units::Shown shown(Units::Length length) {
    return length == Units::Length::Inches ? Units::Shown{1.0 / 0.0254, QStringLiteral("in")}
                                           : Units::Shown{100.0, QStringLiteral("cm")};
}
Units::Shown shown(Units::Speed speed) {
    if (speed == Units::Speed::MilesPerHour)
        return {3600.0 / 1609.344, QStringLiteral("mph")};
    if (speed == Units::Speed::KilometresPerHour)
        return {3.6, QStringLiteral("km/h")};
    return {1.0, QStringLiteral("m/s")};
}

} // namespace

const std::vector<std::pair<Units::Length, Units::Speed>>& Units::pairs() {
    static const std::vector<std::pair<Length, Speed>> kPairs{
        {Length::Centimetres, Speed::MetresPerSecond},
        {Length::Centimetres, Speed::KilometresPerHour},
        {Length::Centimetres, Speed::MilesPerHour},
        {Length::Inches, Speed::MilesPerHour}};
    return kPairs;
}

QString Units::name_of(Length length, Speed speed) {
    return shown(length).name + QStringLiteral(", ") + shown(speed).name;
}

Units::Shown Units::of(std::string_view si_unit) const {
    if (si_unit == "m")
        return shown(length_);
    if (si_unit == "cm") { // as files have lengths
        Shown out = shown(length_);
        out.factor /= 100.0;
        return out;
    }
    if (si_unit == "m/s")
        return shown(speed_);
    return {1.0, QString::fromUtf8(si_unit.data(), static_cast<qsizetype>(si_unit.size()))};
}

} // namespace kite::app
