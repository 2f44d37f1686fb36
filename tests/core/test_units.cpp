#include "core/base/units.h"

#include <gtest/gtest.h>

using namespace kite;

// Source: NIST SP 811, exact factors.
TEST(Units, AreTheExactFactors) {
    EXPECT_DOUBLE_EQ(m_from_in(1.0), 0.0254);
    EXPECT_DOUBLE_EQ(m_s_from_mph(1.0), 0.44704);
    EXPECT_DOUBLE_EQ(m_from_yd(1.0), 0.9144);
    EXPECT_DOUBLE_EQ(in_from_m(0.0254), 1.0);
    EXPECT_DOUBLE_EQ(mph_from_m_s(0.44704), 1.0);
    EXPECT_DOUBLE_EQ(km_h_from_m_s(1.0), 3.6);
    EXPECT_DOUBLE_EQ(deg_from_rad(kPi), 180.0);
    EXPECT_DOUBLE_EQ(rad_from_deg(180.0), kPi);
}
