#pragma once

#include <string>

namespace kite {

/// Numbers in sentences and files: with a full stop, whatever the locale of the process is.
/// "12.30"; nought never has a minus. Empty where the value is not finite.
std::string fixed(double value, int decimals);
/// So many digits that count: "239.8", "1e-05".
std::string digits(double value, int count);

} // namespace kite
