#pragma once

#include <cstddef>

/// Joint positions of 01_01.bvh (Debian: assimp-testmodels) as Assimp reads them, made by
/// assimp_bvh.cpp; the file's axes and unit.
namespace kite::reference {

struct AssimpJoint {
    std::size_t frame;
    const char* joint;
    double position[3];
};

inline constexpr AssimpJoint kAssimpJoints[] = {
    {0, "Hips", {9.37220, 17.86930, -17.31980}},
    {0, "LeftUpLeg", {10.73526, 16.07467, -16.48051}},
    {0, "RightFoot", {7.28463, 1.15220, -16.48051}},
    {0, "Neck", {9.45719, 21.95374, -17.55593}},
    {0, "LeftForeArm", {17.78364, 22.72033, -17.86714}},
    {0, "RightHand", {-2.33243, 22.57075, -17.96058}},
    {0, "Head", {9.50709, 25.46134, -17.50788}},
    {700, "Hips", {8.82740, 17.86080, 26.66130}},
    {700, "LeftUpLeg", {10.03609, 15.96950, 27.52448}},
    {700, "RightFoot", {6.83423, 1.79473, 26.35724}},
    {700, "Neck", {8.86608, 21.78270, 27.81833}},
    {700, "LeftForeArm", {13.22150, 18.68091, 26.13928}},
    {700, "RightHand", {4.62964, 18.03435, 30.64639}},
    {700, "Head", {8.90238, 25.30173, 27.89934}},
    {2751, "Hips", {8.87870, 17.81240, 38.54260}},
    {2751, "LeftUpLeg", {9.59245, 15.94640, 39.88112}},
    {2751, "RightFoot", {8.30488, 1.67075, 37.67260}},
    {2751, "Neck", {8.95842, 21.88578, 38.91069}},
    {2751, "LeftForeArm", {12.86183, 18.30627, 40.33403}},
    {2751, "RightHand", {4.97868, 16.37847, 40.13415}},
    {2751, "Head", {8.99622, 25.40271, 38.89650}},
};

} // namespace kite::reference
