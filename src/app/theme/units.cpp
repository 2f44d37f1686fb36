#include "app/theme/units.h"

#include "core/base/units.h"

#include <QSettings>

#include <algorithm>

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

void Units::set_next() {
    const auto now = std::find(pairs().begin(), pairs().end(), std::pair(length_, speed_));
    const auto next = now == pairs().end() || now + 1 == pairs().end() ? pairs().begin() : now + 1;
    set(next->first, next->second);
}

namespace {
const QString kLengthKey = QStringLiteral("units/length");
const QString kSpeedKey = QStringLiteral("units/speed");
} // namespace

void Units::read(const QSettings& settings) {
    set(static_cast<Length>(std::clamp(settings.value(kLengthKey, 0).toInt(), 0, 1)),
        static_cast<Speed>(std::clamp(settings.value(kSpeedKey, 0).toInt(), 0, 2)));
}

void Units::write(QSettings& settings) const {
    settings.setValue(kLengthKey, static_cast<int>(length_));
    settings.setValue(kSpeedKey, static_cast<int>(speed_));
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

Units::Shown Units::of_flight(std::string_view si_unit) const {
    if (si_unit != "m")
        return of(si_unit);
    return length_ == Length::Inches ? Shown{1.0 / m_from_yd(1.0), QStringLiteral("yd")}
                                     : Shown{1.0, QStringLiteral("m")};
}

} // namespace kite::app
