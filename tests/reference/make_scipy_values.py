#!/usr/bin/env python3
"""Prints tests/reference/scipy_values.h: expected values from SciPy."""
import numpy as np
import scipy
from scipy.signal import butter, filtfilt
from scipy.spatial.transform import Rotation


def row(values):
    return ", ".join(f"{v:.12g}" for v in np.ravel(values))


def array(name, values):
    values = np.ravel(values)
    print(f"inline constexpr std::array<double, {len(values)}> {name}{{{row(values)}}};")


print("// Made by make_scipy_values.py with SciPy", scipy.__version__)
print("#pragma once\n\n#include <array>\n\nnamespace kite::reference {\n")

b, a = butter(2, 0.2)
array("butter_cutoff_0_1_b", b)
array("butter_cutoff_0_1_a", a)

factor = (np.sqrt(2) - 1) ** 0.25
b, a = butter(2, 2 * (10 / factor) / 240)
array("butter_10_hz_at_240_b", b)
array("butter_10_hz_at_240_a", a)

# A short signal with a trend, a wave and fixed "noise", filtered forwards and backwards.
n = np.arange(60)
x = 0.02 * n + np.sin(2 * np.pi * n / 37.0) + 0.1 * np.sin(17.0 * n * n)
# The C++ code continues a signal by max(9, 2 periods) frames.
padlen = int(np.ceil(2 * 240 / 10))
array("filtfilt_in", x)
array("filtfilt_out", filtfilt(b, a, x, padtype="odd", padlen=padlen))

q = Rotation.from_euler("ZYX", [-90, -20, 35], degrees=True).as_quat()  # x, y, z, w
array("quat_turn_m90_tilt_20_bend_35_wxyz", np.roll(q, 1))

pelvis = Rotation.from_euler("ZYX", [-45, 5, 15], degrees=True)
torso = Rotation.from_euler("ZYX", [-92, -12, 38], degrees=True)
array("joint_separation_deg", [-(pelvis.inv() * torso).as_euler("ZYX", degrees=True)[0]])

# Five markers, turned, moved and disturbed; the best rotation and its residual.
reference = np.array([[0.10, 0.00, 0.02], [-0.11, 0.01, 0.00], [0.04, 0.15, -0.01], [-0.05, 0.14, 0.03], [0.01, 0.06, 0.09]])
turned = Rotation.from_euler("ZYX", [37, -12, 25], degrees=True).apply(reference) + np.array([0.3, -0.2, 0.9])
disturbed = turned + 0.004 * np.array([[1, -1, 0.5], [-0.3, 0.2, 1], [0.1, 0.9, -0.7], [-0.8, 0.4, 0.2], [0.5, -0.6, -0.9]])
best, rssd = Rotation.align_vectors(disturbed - disturbed.mean(0), reference - reference.mean(0))[:2]
array("cluster_reference", reference)
array("cluster_now", disturbed)
array("cluster_quat_wxyz", np.roll(best.as_quat(), 1))
array("cluster_rms", [rssd / np.sqrt(5)])

# P(t1 < t2 < t3 < t4) for independent normal times, by many random draws.
rng = np.random.default_rng(7)
draws = rng.normal([0.0, 0.010, 0.015, 0.040], [0.006, 0.005, 0.004, 0.003], size=(4_000_000, 4))
array("order_certainty", [np.mean((np.diff(draws, axis=1) > 0).all(axis=1))])

# Welch: change of the mean with its 95 % interval, degrees of freedom and p.
from scipy import stats
before = np.array([451.0, 447.5, 455.2, 449.1, 452.3])
after = np.array([458.4, 470.1, 462.2, 449.0, 471.7, 466.3, 455.5])
t = stats.ttest_ind(after, before, equal_var=False)
a, b = before.var(ddof=1) / len(before), after.var(ddof=1) / len(after)
dof = (a + b) ** 2 / (a**2 / (len(before) - 1) + b**2 / (len(after) - 1))
difference = after.mean() - before.mean()
half = stats.t.ppf(0.975, dof) * np.sqrt(a + b)
array("welch_before", before)
array("welch_after", after)
array("welch_difference_low_high_dof_p", [difference, difference - half, difference + half, dof, t.pvalue])

print("\n} // namespace kite::reference")
