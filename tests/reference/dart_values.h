#pragma once

#include <cstddef>

/// Points of squat.c3d (Debian: dart-doc) as DART's loader reads them, made by dart_c3d.cpp:
/// metres, with its silent swap of axes.
namespace kite::reference {

struct DartPoint {
    std::size_t frame;
    std::size_t point;
    double position[3];
};

inline constexpr DartPoint kDartPoints[] = {
    {0, 0, {1.759229, -0.059993, 0.032588}},     {0, 10, {1.383733, -0.084451, 0.252741}},
    {0, 30, {0.985581, -0.023059, 0.187311}},    {0, 52, {0.082909, 0.080109, -0.200605}},
    {1000, 0, {1.771765, -0.125490, 0.012926}},  {1000, 10, {1.410533, -0.164483, 0.219519}},
    {1000, 30, {0.993420, -0.048874, 0.196161}}, {1000, 52, {0.083126, 0.080022, -0.200187}},
    {2538, 0, {1.746229, -0.055337, 0.045303}},  {2538, 10, {1.392271, -0.055418, 0.276009}},
    {2538, 30, {0.989622, -0.026639, 0.220760}}, {2538, 52, {0.082548, 0.081946, -0.201074}},
};

} // namespace kite::reference
