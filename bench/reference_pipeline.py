#!/usr/bin/env python3
"""The same pipeline as kite-hinge-cli analyse, written plainly with NumPy and SciPy, as somebody
would write it in an afternoon: C3D in, kinematic sequence and separation out. bench/speed.sh runs
both on the same files. It leaves much out (uncertainty, hinge path, legs, pressure, reading); what
it has is done the usual way, with whole-array operations wherever NumPy has them.

Usage: reference_pipeline.py FILE.c3d…    one JSON object a file, one a line
"""

import json
import struct
import sys

import numpy as np
from scipy.interpolate import CubicSpline
from scipy.signal import butter, filtfilt
from scipy.spatial.transform import Rotation

TWO_PASS = (np.sqrt(2.0) - 1.0) ** 0.25


def read_c3d(path):
    """Labels, points (frames × markers × 3, metres, NaN where hidden), rate. Intel, float."""
    with open(path, "rb") as file:
        data = file.read()
    parameter_block = data[0]
    first, last = struct.unpack_from("<HH", data, 6)
    markers = struct.unpack_from("<H", data, 2)[0]
    analog = struct.unpack_from("<H", data, 4)[0]
    scale, data_block = struct.unpack_from("<fH", data, 12)
    rate = struct.unpack_from("<f", data, 20)[0]
    frames = last - first + 1
    groups, values = {}, {}
    at = (parameter_block - 1) * 512 + 4
    while True:
        length, number = struct.unpack_from("<bb", data, at)
        length = abs(length)
        if length == 0:
            break
        name = data[at + 2 : at + 2 + length].decode("latin-1")
        at += 2 + length
        offset = struct.unpack_from("<h", data, at)[0]
        if number < 0:
            groups[-number] = name
        else:
            kind, count = struct.unpack_from("<bB", data, at + 2)
            dims = list(data[at + 4 : at + 4 + count])
            start = at + 4 + count
            size = int(np.prod(dims)) if dims else 1
            raw = data[start : start + size * abs(kind)]
            values[(number, name)] = (kind, dims, raw)
        if offset == 0:
            break
        at += offset

    def parameter(group, name):
        for (number, own), value in values.items():
            if groups.get(number) == group and own == name:
                return value
        return None

    labels = []
    for name in ("LABELS", "LABELS2"):
        found = parameter("POINT", name)
        if found is not None:
            width = found[1][0]
            text = found[2].decode("latin-1")
            labels += [text[i : i + width].strip() for i in range(0, len(text), width)]
    units = parameter("POINT", "UNITS")
    metres = 0.001 if units is not None and units[2].decode("latin-1").strip() == "mm" else 1.0
    words = np.frombuffer(data, "<f4", count=frames * (4 * markers + analog),
                          offset=(data_block - 1) * 512)
    points = words.reshape(frames, 4 * markers + analog)[:, : 4 * markers]
    points = points.reshape(frames, markers, 4).astype(float)
    out = points[:, :, :3] * metres
    out[points[:, :, 3] < 0] = np.nan
    return labels, out, rate


def low_pass(x, cutoff, rate):
    b, a = butter(2, cutoff / TWO_PASS / (rate / 2.0))
    return filtfilt(b, a, x, axis=0, padtype="odd", padlen=int(np.ceil(2.0 * rate / cutoff)))


def best_cutoff(x, rate, low, high):
    """Residual analysis: signal lost and noise left together smallest."""
    highest = 0.95 * TWO_PASS * rate / 2.0
    line = np.linspace(0.6 * highest, 0.95 * highest, 5)
    cutoffs = low * (high / low) ** np.linspace(0.0, 1.0, int(np.ceil(np.log(high / low) / 0.1)) + 1)

    def residual(f):
        return np.mean(np.sum((x - low_pass(x, f, rate)) ** 2, axis=1))

    def gains(f):
        grid = np.linspace(0.0, rate / 2.0, 400)
        h = 1.0 / (1.0 + (grid / (f / TWO_PASS)) ** 4)
        return np.mean(h**2), np.mean((1.0 - h) ** 2)

    kept = np.array([gains(f)[1] for f in line])
    rest = np.array([residual(f) for f in line])
    noise = np.sum(rest * kept) / np.sum(kept**2)
    error = [residual(f) + noise * (gains(f)[0] - gains(f)[1]) for f in cutoffs]
    return cutoffs[int(np.argmin(error))]


def smooth_rotations(rotations, cutoff, rate, impact=None):
    q = rotations.as_quat()
    flips = np.cumprod(np.concatenate(([1.0], np.sign(np.sum(q[1:] * q[:-1], axis=1)))))
    q = q * flips[:, None]
    if impact is None:
        q = low_pass(q, cutoff, rate)
    else:
        cut = int(np.floor(impact * rate)) + 1
        q = np.concatenate((low_pass(q[:cut], cutoff, rate), low_pass(q[cut:], cutoff, rate)))
    return Rotation.from_quat(q)


def angular_velocity(rotations, rate):
    step = (rotations[1:] * rotations[:-1].inv()).as_rotvec() * rate
    return np.concatenate((step[:1], 0.5 * (step[1:] + step[:-1]), step[-1:]))


def follow(cluster, reference):
    """Rotation of a marker cluster against its reference shape, frame by frame (SVD)."""
    a = reference - reference.mean(axis=0)
    b = cluster - cluster.mean(axis=1, keepdims=True)
    u, _, vt = np.linalg.svd(np.einsum("fmi,mj->fij", b, a))
    sign = np.sign(np.linalg.det(u @ vt))
    u[:, :, 2] *= sign[:, None]
    return Rotation.from_matrix(u @ vt)


def pointing(direction):
    """Shortest turn from -z to a direction."""
    d = direction / np.linalg.norm(direction, axis=1, keepdims=True)
    axis = np.cross(np.array([0.0, 0.0, -1.0]), d)
    q = np.column_stack((axis, 1.0 - d[:, 2]))
    weak = np.linalg.norm(q, axis=1) < 1e-9
    q[weak] = [1.0, 0.0, 0.0, 0.0]
    return Rotation.from_quat(q)


def without_roll(omega, rotations):
    axis = rotations.apply([0.0, 0.0, 1.0])
    return omega - np.sum(omega * axis, axis=1, keepdims=True) * axis


def frame(x, y, z):
    return Rotation.from_matrix(np.column_stack((x, y, z)))


def unit(v):
    return v / np.linalg.norm(v)


def peak_of(curve, begin, end, rate):
    first, last = int(np.ceil(begin * rate)), int(np.floor(end * rate))
    i = first + int(np.argmax(curve[first : last + 1]))
    if first < i < last:
        left, mid, right = curve[i - 1 : i + 2]
        return (i + 0.5 * (left - right) / (left - 2 * mid + right)) / rate
    return i / rate


def crossing(curve, rate, begin, end, rising, last):
    spline = CubicSpline(np.arange(len(curve)) / rate, curve)
    roots = spline.roots(extrapolate=False)
    slopes = spline(roots, 1)
    inside = (roots > begin) & (roots < end) & ((slopes > 0) if rising else (slopes < 0))
    roots = roots[inside]
    return (roots[-1] if last else roots[0]) if len(roots) else np.nan


def analyse(path):
    labels, points, rate = read_c3d(path)
    at = {label: i for i, label in enumerate(labels)}
    marker = lambda name: points[:, at[name]]
    t = np.arange(len(points)) / rate
    for i in range(points.shape[1]):
        seen = np.isfinite(points[:, i, 0])
        if not seen.all() and seen.any():
            points[:, i] = CubicSpline(t[seen], points[seen, i])(t)

    wrist = 0.5 * (marker("LWRA") + marker("LWRB"))
    arm = pointing(wrist - marker("LSHO"))
    club = pointing(marker("CLB2") - marker("CLB1"))
    around = slice(max(0, int((t[-1] - 1.9) * rate)), len(t))
    cut_club = best_cutoff(club.as_quat()[around], rate, 15.0, 40.0)
    cut_arm = best_cutoff(arm.as_quat()[around], rate, 8.0, 20.0)
    speed = np.linalg.norm(
        without_roll(angular_velocity(smooth_rotations(club, cut_club, rate), rate), club), axis=1)
    impact = t[int(np.argmax(speed))]

    def moments(impact):
        club_s = smooth_rotations(club, cut_club, rate, impact)
        omega = without_roll(angular_velocity(club_s, rate), club_s)
        up = -club_s.apply([0.0, 0.0, 1.0])[:, 2]
        level = crossing(up, rate, 0.0, impact, False, True)
        through = crossing(up, rate, impact, t[-1], True, False)
        head = marker("CLB3")[int(level * rate) : int(through * rate) + 1]
        _, _, vt = np.linalg.svd(head - head.mean(axis=0))
        normal = vt[2]
        if np.dot(omega[int(impact * rate)], normal) < 0:
            normal = -normal
        along = omega @ normal
        top = crossing(along, rate, 0.0, impact, True, True)
        back = np.linalg.norm(omega, axis=1)
        fastest = int(np.argmax(back[: int(top * rate)]))
        still = np.nonzero(back[:fastest] < 0.05 * back[fastest])[0]
        takeaway = t[still[-1]] if len(still) else 0.0
        width = int(0.1 * rate) + 1
        energy = np.convolve(back[: int(takeaway * rate) + 1] ** 2, np.ones(width), "valid")
        calm = int(np.argmin(energy)) if len(energy) else 0
        x = marker("CLB3")[:, 0]
        contact = crossing(x - x[calm : calm + width].mean(), rate, level, impact + 0.05, True, False)
        return contact, top, takeaway, (calm, calm + width), normal, club_s, level, through

    for _ in range(2):
        impact, top, takeaway, calm, normal, club_s, level, through = moments(impact)

    still = lambda name: marker(name)[calm[0] : calm[1]].mean(axis=0)
    x = unit(still("LASI") - still("RASI"))
    back = 0.5 * (still("LPSI") + still("RPSI")) - 0.5 * (still("LASI") + still("RASI"))
    y = unit(back - np.dot(back, x) * x)
    pelvis_frame = frame(x, y, np.cross(x, y))
    upper = 0.5 * (still("CLAV") + still("C7"))
    lower = 0.5 * (still("STRN") + still("T10"))
    z = unit(upper - lower)
    normal_x = unit(np.cross(still("C7") - lower, upper - lower))
    normal_x = normal_x if np.dot(normal_x, x) > 0 else -normal_x
    torso_frame = frame(normal_x, np.cross(z, normal_x), z)

    rotations = {}
    for part, names, own in (("pelvis", ("LASI", "RASI", "LPSI", "RPSI"), pelvis_frame),
                             ("torso", ("C7", "T10", "CLAV", "STRN"), torso_frame)):
        cluster = np.stack([marker(name) for name in names], axis=1)
        raw = follow(cluster, np.array([still(name) for name in names])) * own
        cutoff = best_cutoff(raw.as_quat()[around], rate, 7.0, 12.0)
        rotations[part] = smooth_rotations(raw, cutoff, rate)
    rotations["lead_arm"] = smooth_rotations(arm, cut_arm, rate, impact)
    rotations["club"] = club_s

    segments = {}
    for part, rotation in rotations.items():
        omega = angular_velocity(rotation, rate)
        if part in ("pelvis", "torso"):
            curve = np.sum(omega * rotation.apply([0.0, 0.0, 1.0]), axis=1)
            reversing = curve
        else:
            across = without_roll(omega, rotation)
            reversing = across @ normal
            curve = np.copysign(np.linalg.norm(across, axis=1), reversing)
        curve = np.degrees(curve)
        peak = peak_of(curve, takeaway, min(impact + 0.05, t[-1]), rate)
        at_impact = np.interp(impact, t, curve)
        segments[part] = {
            "reversal_t": crossing(reversing, rate, 0.0, peak, True, True),
            "peak_t": peak,
            "peak_deg_s": float(np.interp(peak, t, curve)),
            "at_impact_deg_s": float(at_impact),
        }
    turn = {p: np.degrees(np.unwrap(rotations[p].as_euler("ZYX")[:, 0])) for p in ("pelvis", "torso")}
    separation = turn["pelvis"] - turn["torso"]
    positions = {}
    for name, when in (("top", top), ("impact", impact), ("shaft_level_down", level)):
        positions[name] = {
            p: [float(np.interp(when, t, column))
                for column in np.degrees(rotations[p].as_euler("ZYX")).T]
            for p in ("pelvis", "torso")}
    return {
        "file": path,
        "events": {"takeaway": takeaway, "top": top, "shaft_level_down": level, "impact": impact,
                   "shaft_level_through": through},
        "sequence": {"order": sorted(segments, key=lambda p: segments[p]["peak_t"]),
                     "segments": segments},
        "separation": {"at_top_deg": float(np.interp(top, t, separation)),
                       "at_impact_deg": float(np.interp(impact, t, separation))},
        "positions": positions,
        "tempo": {"backswing_s": top - takeaway, "downswing_s": impact - top},
    }


def main():
    for path in sys.argv[1:]:
        print(json.dumps(analyse(path), default=float))


if __name__ == "__main__":
    main()
