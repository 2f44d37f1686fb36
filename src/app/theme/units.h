#pragma once

#include <QObject>
#include <QString>

#include <string_view>
#include <utility>
#include <vector>

class QSettings;

namespace kite::app {

/// The units that lengths and speeds are shown in; the core is SI throughout. One for the
/// application.
class Units : public QObject {
    Q_OBJECT
public:
    enum class Length { Centimetres, Inches };
    enum class Speed { MetresPerSecond, KilometresPerHour, MilesPerHour };

    static Units& instance();

    Length length() const { return length_; }
    Speed speed() const { return speed_; }
    void set(Length length, Speed speed);
    void set_next(); ///< of the pairs
    void read(const QSettings& settings);
    void write(QSettings& settings) const;

    /// The pairs to choose from, and how one is called: "cm, m/s".
    static const std::vector<std::pair<Length, Speed>>& pairs();
    static QString name_of(Length length, Speed speed);

    struct Shown {
        double factor = 1.0; ///< shown unit per SI unit
        QString name;
    };
    /// How a quantity in an SI unit is shown: "m", "cm" and "m/s" as chosen, anything else as it
    /// is.
    Shown of(std::string_view si_unit) const;
    /// The same of what a ball does: "m" in metres or yards.
    Shown of_flight(std::string_view si_unit) const;

signals:
    void changed();

private:
    Length length_ = Length::Centimetres;
    Speed speed_ = Speed::MetresPerSecond;
};

} // namespace kite::app
