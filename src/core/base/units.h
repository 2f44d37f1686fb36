#pragma once

/// Unit conversions, all in one place. Inside the core: SI and radians; at its public edge degrees,
/// centimetres and milliseconds, always said in the name. Exact factors: NIST SP 811.
namespace kite {

inline constexpr double kPi = 3.14159265358979323846;

constexpr double deg_from_rad(double rad) {
    return rad * (180.0 / kPi);
}
constexpr double rad_from_deg(double deg) {
    return deg * (kPi / 180.0);
}

constexpr double cm_from_m(double m) {
    return m * 100.0;
}
constexpr double m_from_mm(double mm) {
    return mm * 0.001;
}
constexpr double mm_from_m(double m) {
    return m * 1000.0;
}
constexpr double ms_from_s(double s) {
    return s * 1000.0;
}

constexpr double m_from_in(double in) {
    return in * 0.0254;
}
constexpr double in_from_m(double m) {
    return m / 0.0254;
}
constexpr double m_s_from_mph(double mph) {
    return mph * 0.44704;
}
constexpr double mph_from_m_s(double m_s) {
    return m_s / 0.44704;
}
constexpr double km_h_from_m_s(double m_s) {
    return m_s * 3.6;
}
constexpr double m_from_yd(double yd) {
    return yd * 0.9144;
}

} // namespace kite
