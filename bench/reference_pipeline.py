#!/usr/bin/env python3
"""The same pipeline as kite-hinge-cli analyse, written plainly with NumPy and SciPy, as somebody
would write it: C3D in, moments, sequence with its uncertainty in three conventions, separation by two
methods, positions of trunk, hips, arms and head at every moment, transition, hinge path, wrist, speeds, legs,
delivery, takeaway and address out.
bench/whole_process.sh runs both on the same files. What is computed is done the usual way, with
whole-array operations wherever NumPy has them. Left out: pressure (the captures have no plates) and
the reading in words.

Usage: reference_pipeline.py FILE.c3d…    one JSON object a file, one a line
"""

import json
import struct
import sys

import numpy as np
from scipy.integrate import cumulative_trapezoid
from scipy.interpolate import CubicSpline
from scipy.signal import butter, filtfilt
from scipy.spatial.transform import Rotation
from scipy.stats import norm

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


def noise_of(raw, smoothed, cutoff, rate):
    """SD of white noise of the raw angle, from what the filter took away: median of squares."""
    off = (smoothed.inv() * raw).as_rotvec()
    grid = np.linspace(0.0, rate / 2.0, 400)
    h = 1.0 / (1.0 + (grid / (cutoff / TWO_PASS)) ** 4)
    return np.sqrt(np.median(off**2, axis=0) / 0.4549) / np.sqrt(np.mean((1.0 - h) ** 2))


def peak_of(curve, begin, end, rate, noise, cutoff, reaches=(0.03, 0.04, 0.05), degree=4):
    """Place of the greatest value by a local polynomial, and its standard uncertainty: the error of
    the slope that filter and derivative make of white noise, over the bend. The surest reach wins."""
    first, last = int(np.ceil(begin * rate)), int(np.floor(end * rate))
    rough = (first + int(np.argmax(curve[first : last + 1]))) / rate
    best, best_u = rough, np.inf
    for reach in reaches:
        peak = rough
        for _ in range(5):
            low = max(0, int(np.ceil((peak - reach) * rate)))
            high = min(len(curve) - 1, int(np.floor((peak + reach) * rate)))
            u = (np.arange(low, high + 1) / rate - peak) / reach
            fit = np.polynomial.polynomial.polyfit(u, curve[low : high + 1], degree)
            slope = np.polynomial.polynomial.polyder(fit)
            grid = np.linspace(max(u[0], (begin - peak) / reach), min(u[-1], (end - peak) / reach), 65)
            top = grid[int(np.argmax(np.polynomial.polynomial.polyval(grid, fit)))]
            for _ in range(6):
                bend = np.polynomial.polynomial.polyval(top, np.polynomial.polynomial.polyder(slope))
                if bend >= 0:
                    break
                top = np.clip(top - np.polynomial.polynomial.polyval(top, slope) / bend, grid[0], grid[-1])
            last_peak, peak = peak, peak + top * reach
            if abs(peak - last_peak) < 2e-5:
                break
        design = np.vander(u, degree + 1, increasing=True)
        powers = np.concatenate(([0.0], np.arange(1, degree + 1) * top ** np.arange(degree))) / reach
        weights = powers @ np.linalg.pinv(design)
        margin = int(np.ceil(5.0 * rate / cutoff))
        span = np.eye(len(u) + 2 * margin)
        passed = np.gradient(low_pass(span, cutoff, rate), axis=0) * rate
        slope_sd = noise * np.linalg.norm(weights @ passed[margin : margin + len(u)])
        parabola = np.polynomial.polynomial.polyfit(u, curve[low : high + 1], 2)
        sure = np.hypot(slope_sd / abs(2.0 * parabola[2] / reach**2), 0.1 / rate)
        if sure < best_u:
            best, best_u = peak, sure
    return best, best_u


def order_certainty(times, sds):
    """P(t1 < t2 < …) of independent normal times, by quadrature on a common grid."""
    grid = np.linspace(min(times) - 8 * max(sds), max(times) + 8 * max(sds), 4000)
    before = norm.cdf(grid, times[0], sds[0])
    for t, sd in zip(times[1:], sds[1:]):
        before = cumulative_trapezoid(norm.pdf(grid, t, sd) * before, grid, initial=0.0)
    return float(before[-1])


def crossing(curve, rate, begin, end, rising, last):
    spline = CubicSpline(np.arange(len(curve)) / rate, curve)
    roots = spline.roots(extrapolate=False)
    slopes = spline(roots, 1)
    inside = (roots > begin) & (roots < end) & ((slopes > 0) if rising else (slopes < 0))
    roots = roots[inside]
    return (roots[-1] if last else roots[0]) if len(roots) else np.nan


def analyse(path_name):
    labels, points, rate = read_c3d(path_name)
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

    rotations, raw, cutoffs = {}, {}, {}
    for part, names, own in (("pelvis", ("LASI", "RASI", "LPSI", "RPSI"), pelvis_frame),
                             ("torso", ("C7", "T10", "CLAV", "STRN"), torso_frame)):
        cluster = np.stack([marker(name) for name in names], axis=1)
        raw[part] = follow(cluster, np.array([still(name) for name in names])) * own
        cutoffs[part] = best_cutoff(raw[part].as_quat()[around], rate, 7.0, 12.0)
        rotations[part] = smooth_rotations(raw[part], cutoffs[part], rate)
    rotations["lead_arm"] = smooth_rotations(arm, cut_arm, rate, impact)
    rotations["club"] = club_s
    raw.update(lead_arm=arm, club=club)
    cutoffs.update(lead_arm=cut_arm, club=cut_club)

    # The moments that the positions are wanted at.
    arm_s = rotations["lead_arm"]
    arm_up = -arm_s.apply([0.0, 0.0, 1.0])[:, 2]
    shaft_up = -club_s.apply([0.0, 0.0, 1.0])[:, 2]
    club_speed = np.linalg.norm(without_roll(angular_velocity(club_s, rate), club_s), axis=1)
    slow = np.nonzero(club_speed[int(through * rate) :] < 0.05 * club_speed.max())[0]
    events = {
        "address": 0.5 * (calm[0] + calm[1] - 1) / rate,
        "takeaway": takeaway,
        "shaft_level_back": crossing(shaft_up, rate, takeaway, top, True, False),
        "lead_arm_level_back": crossing(arm_up, rate, takeaway, top, True, True),
        "top": top,
        "lead_arm_level_down": crossing(arm_up, rate, top, impact, False, False),
        "shaft_level_down": level,
        "impact": impact,
        "shaft_level_through": through,
        "trail_arm_level_through": crossing(arm_up, rate, impact, t[-1], True, False),
        "finish": through + slow[0] / rate if len(slow) else t[-1],
    }

    # Sequence: rates in three conventions, peaks with their uncertainty, reversals, slow-down.
    noise = {part: noise_of(raw[part], rotations[part], cutoffs[part], rate) for part in rotations}
    end = min(impact + 0.05, t[-1])
    segments, orders, certainty = {}, {}, None
    for convention in ("axis", "resultant", "plane"):
        peaks = {}
        for part, rotation in rotations.items():
            omega = angular_velocity(rotation, rate)
            if part in ("pelvis", "torso"):
                axial = np.sum(omega * rotation.apply([0.0, 0.0, 1.0]), axis=1)
                curve = {"axis": axial, "resultant": np.copysign(np.linalg.norm(omega, axis=1), axial),
                         "plane": omega @ normal}[convention]
                reversing, sd = curve, noise[part][2]
            else:
                across = without_roll(omega, rotation)
                reversing = across @ normal
                sd = np.sqrt(np.mean(noise[part][:2] ** 2))
                curve = (omega @ normal if convention == "plane"
                         else np.copysign(np.linalg.norm(across, axis=1), reversing))
            curve = np.degrees(curve)
            if convention != "axis":
                first, last = int(takeaway * rate), int(end * rate)
                peaks[part] = first + int(np.argmax(curve[first : last + 1]))
                continue
            reaches = {"lead_arm": (0.04, 0.06), "club": (0.08, 0.10)}.get(part, (0.03, 0.04, 0.05))
            peak, u = peak_of(curve, takeaway, end, rate, np.degrees(sd), cutoffs[part], reaches)
            peaks[part] = peak
            reversal = crossing(reversing, rate, 0.0, peak, True, True)
            value = float(np.interp(peak, t, curve))
            at_impact = float(np.interp(impact, t, curve))
            rising = np.gradient(curve, 1.0 / rate)[int(reversal * rate) : int(peak * rate) + 1]
            segments[part] = {
                "reversal_t": reversal, "peak_t": peak, "peak_t_u": u, "peak_deg_s": value,
                "before_impact_ms": 1000.0 * (impact - peak), "at_impact_deg_s": at_impact,
                "slowdown_pct": 100.0 * (value - at_impact) / value,
                "max_accel_deg_s2": float(rising.max()) if len(rising) else np.nan}
        orders[convention] = sorted(peaks, key=lambda part: peaks[part])
    parts = ("pelvis", "torso", "lead_arm", "club")
    certainty = order_certainty([segments[p]["peak_t"] for p in parts],
                                [segments[p]["peak_t_u"] for p in parts])

    # Separation by both methods.
    angles = {p: np.degrees(np.unwrap(rotations[p].as_euler("ZYX"), axis=0)) for p in ("pelvis", "torso")}
    projected = angles["pelvis"][:, 0] - angles["torso"][:, 0]
    joint = -np.degrees(np.unwrap((rotations["pelvis"].inv() * rotations["torso"]).as_euler("ZYX")[:, 0]))
    down = slice(int(top * rate), int(impact * rate) + 1)
    torso_noise = np.degrees(np.hypot(noise["pelvis"][2], noise["torso"][2]))
    widest, widest_u = peak_of(projected, top, impact, rate, torso_noise, cutoffs["torso"])
    at_top, most = (float(np.interp(when, t, projected)) for when in (top, widest))
    separation = {
        "at_top_deg": at_top, "max_deg": most, "max_t": widest, "max_t_u": widest_u,
        "stretch_deg": most - at_top, "at_impact_deg": float(np.interp(impact, t, projected)),
        "closing_deg_s": float(-np.gradient(projected, 1.0 / rate)[int(widest * rate) : down.stop].min()),
        "methods_differ_deg": float(np.abs(projected - joint)[down].max())}

    # Pelvis and torso in space, hip joint centres, legs.
    origins = {}
    width = np.linalg.norm(still("LASI") - still("RASI"))
    depth = np.linalg.norm(back)
    side = 0.33 * width + 0.0073
    hip_local = np.array([0.0, 0.24 * depth + 0.0099, -0.30 * width - 0.0109])
    for part, names in (("pelvis", ("LASI", "RASI", "LPSI", "RPSI")), ("torso", ("C7", "T10", "CLAV", "STRN"))):
        shape = np.array([still(name) for name in names])
        own = pelvis_frame if part == "pelvis" else torso_frame
        local = (0.5 * (shape[0] + shape[1]) + own.apply(hip_local) if part == "pelvis"
                 else 0.5 * (shape[0] + shape[2]))
        turned = raw[part] * own.inv()
        centre = np.stack([marker(name) for name in names], axis=1).mean(axis=1)
        places = low_pass(centre + turned.apply(local - shape.mean(axis=0)), cutoffs[part], rate)
        origins[part] = places - places[calm[0] : calm[1]].mean(axis=0)
        if part == "pelvis":
            pelvis_place = places
    hips = {name: pelvis_place + rotations["pelvis"].apply([sign * side, 0.0, 0.0])
            for name, sign in (("lead", 1.0), ("trail", -1.0))}
    thigh = hips["lead"] - low_pass(marker("LKNE"), 10.0, rate)
    shank = low_pass(marker("LKNE") - marker("LANK"), 10.0, rate)
    knee = np.degrees(np.arccos(np.clip(np.sum(thigh * shank, axis=1) / np.linalg.norm(thigh, axis=1)
                                        / np.linalg.norm(shank, axis=1), -1.0, 1.0)))
    flexed = int(np.argmax(knee[down])) + down.start

    # Wrist hinge, speeds of hands and club head.
    grip = low_pass(wrist, cut_club, rate)
    head = low_pass(marker("CLB3"), cut_club, rate)
    hinge = np.degrees(np.arccos(np.clip(np.sum(arm_s.apply([0, 0, 1.0]) * club_s.apply([0, 0, 1.0]), axis=1),
                                         -1.0, 1.0)))
    hands = float(np.interp(impact, t, np.linalg.norm(np.gradient(grip, 1.0 / rate, axis=0), axis=1)))
    club_head = float(np.interp(impact, t, np.linalg.norm(np.gradient(head, 1.0 / rate, axis=0), axis=1)))
    released = np.nonzero(hinge[down] < hinge[down].max() - 15.0)[0]
    wrist_values = {"top_deg": float(np.interp(top, t, hinge)), "max_deg": float(hinge[: down.stop].max()),
                    "release_t": t[down.start + released[0]] if len(released) else np.nan,
                    "kept_pct": 100.0 * float(np.interp(level, t, hinge) / np.interp(top, t, hinge))}

    # Hinge path: the instantaneous centre of the pelvis seen from above.
    omega_z = angular_velocity(rotations["pelvis"], rate)[:, 2]
    velocity = np.gradient(pelvis_place, 1.0 / rate, axis=0)
    turning = np.abs(np.degrees(omega_z)) > 60.0
    safe = np.where(turning, omega_z, 1.0)
    off = np.column_stack((-velocity[:, 1], velocity[:, 0], np.zeros(len(t)))) / safe[:, None]
    own_axes = rotations["pelvis"].inv().apply(off)
    own_axes[~turning] = np.nan
    pelvis_turns = segments["pelvis"]["reversal_t"]
    path = {}
    for name, a, b in (("backswing", takeaway, pelvis_turns), ("downswing", pelvis_turns, impact)):
        inside = own_axes[int(a * rate) : int(b * rate) + 1]
        path[name] = {"along": float(np.nanmedian(inside[:, 0]) / side),
                      "behind_cm": float(100.0 * np.nanmedian(inside[:, 1]))}

    # Transition.
    sway = np.gradient(origins["pelvis"][:, 0], 1.0 / rate)
    drop = 100.0 * (hips["trail"][:, 2] - hips["lead"][:, 2])
    arm_level = int(events["lead_arm_level_down"] * rate)
    transition = {p + "_lead_ms": 1000.0 * (segments["club"]["reversal_t"] - segments[p]["reversal_t"])
                  for p in ("pelvis", "torso", "lead_arm")}
    transition["recentre_lead_ms"] = 1000.0 * (top - crossing(sway, rate, 0.0, level, True, True))
    transition["lead_hip_drop_top_cm"] = float(np.interp(top, t, drop))
    transition["lead_hip_drop_min_cm"] = float(drop[down.start : arm_level + 1].min())
    lift = 100.0 * origins["pelvis"][:, 2]
    transition["pelvis_drop_cm"] = float(lift[down.start : arm_level + 1].min() - np.interp(top, t, lift))

    # Delivery: shaft lean, which way the head goes at the ball, the low point of its arc.
    shaft = club_s.apply([0.0, 0.0, 1.0])
    lean = np.degrees(np.arctan2(shaft[:, 0], shaft[:, 2]))
    near = (t >= impact - 0.03) & (t <= impact)
    late, way = t[near] - impact, marker("CLB3")[near]
    last = late > -0.02
    going = np.array([np.polyfit(late[last], way[last, axis], 4)[3] for axis in range(3)])
    arc, arc_cov = np.polyfit(way[:, 0] - np.polyfit(late, way[:, 0], 2)[2], way[:, 2], 2, cov=True)
    delivery = {"shaft_lean_deg": float(np.interp(impact, t, lean)),
                "attack_deg": float(np.degrees(np.arctan2(going[2], np.hypot(going[0], going[1])))),
                "path_deg": float(np.degrees(np.arctan2(-going[1], going[0]))),
                "low_point_cm": float(-50.0 * arc[1] / arc[0]),
                "low_point_u_cm": float(100.0 * np.sqrt(arc_cov[1, 1]) / (2.0 * arc[0]))}

    # Who starts back first: the last moment at which a part is as good as still.
    starts = {}
    for part, rotation in rotations.items():
        turning_speed = np.linalg.norm(angular_velocity(rotation, rate), axis=1)
        swung = int(np.argmax(turning_speed[: int(top * rate)]))
        at_rest = np.nonzero(turning_speed[:swung] < 0.05 * turning_speed[swung])[0]
        starts[part] = float(t[at_rest[-1]]) if len(at_rest) else np.nan
    takeaway_values = {part + "_start_ms": 1000.0 * (starts["club"] - starts[part]) for part in parts[:3]}

    # Arms and head against the trunk, hips against address and ankles, spine and pelvis from the front.
    head_cluster = np.stack([marker(name) for name in ("LFHD", "RFHD", "LBHD", "RBHD")], axis=1)
    head_turn = smooth_rotations(follow(head_cluster, np.array([still(name) for name in
                                                                ("LFHD", "RFHD", "LBHD", "RBHD")])), 10.0, rate)
    head_place = low_pass(head_cluster.mean(axis=1), 10.0, rate)
    head_place = 100.0 * (head_place - head_place[calm[0] : calm[1]].mean(axis=0))
    upper_arm = low_pass(marker("LELB") - marker("LSHO"), cut_arm, rate)
    forearm = pointing(wrist - marker("LELB"))
    forearm_s = smooth_rotations(forearm, best_cutoff(forearm.as_quat()[around], rate, 8.0, 20.0), rate, impact)
    trail_wrist = 0.5 * (marker("RWRA") + marker("RWRB"))
    trail_arm = pointing(trail_wrist - marker("RSHO"))
    trail_arm_s = smooth_rotations(trail_arm, best_cutoff(trail_arm.as_quat()[around], rate, 8.0, 20.0), rate, impact)
    along_forearm = -forearm_s.apply([0.0, 0.0, 1.0])
    elbow = np.degrees(np.arccos(np.clip(np.sum(upper_arm * along_forearm, axis=1)
                                         / np.linalg.norm(upper_arm, axis=1), -1.0, 1.0)))
    in_torso = rotations["torso"].inv().apply(-arm_s.apply([0.0, 0.0, 1.0]))
    torso_place = low_pass(0.5 * (marker("CLAV") + marker("C7")), cutoffs["torso"], rate)
    trail_thigh = hips["trail"] - low_pass(marker("RKNE"), 10.0, rate)
    trail_shank = low_pass(marker("RKNE") - marker("RANK"), 10.0, rate)
    ankles = {"lead": low_pass(marker("LANK"), 10.0, rate), "trail": low_pass(marker("RANK"), 10.0, rate)}
    series = {
        "lead_elbow_flex_deg": elbow,
        "arm_across_deg": np.degrees(np.arctan2(-in_torso[:, 0], -in_torso[:, 1])),
        "hand_height_cm": 100.0 * (low_pass(wrist, cut_arm, rate)[:, 2] - torso_place[:, 2]),
        "head_sway_cm": head_place[:, 0], "head_lift_cm": head_place[:, 2],
        "head_turn_deg": np.degrees(np.unwrap(head_turn.as_euler("ZYX")[:, 0])),
        "trail_arm_up": -trail_arm_s.apply([0.0, 0.0, 1.0])[:, 2],
        "trail_knee_flex_deg": np.degrees(np.arccos(np.clip(
            np.sum(trail_thigh * trail_shank, axis=1) / np.linalg.norm(trail_thigh, axis=1)
            / np.linalg.norm(trail_shank, axis=1), -1.0, 1.0)))}
    for part, key in (("pelvis", "pelvis_lean_deg"), ("torso", "spine_lean_deg")):
        own_up = rotations[part].apply([0.0, 0.0, 1.0])
        series[key] = np.degrees(np.arctan2(own_up[:, 0], own_up[:, 2]))
    for name, place in hips.items():
        rest = place[calm[0] : calm[1]].mean(axis=0)
        series[name + "_hip_depth_cm"] = 100.0 * (place[:, 1] - rest[1])
        series[name + "_hip_lift_cm"] = 100.0 * (place[:, 2] - rest[2])
        sign = 1.0 if name == "lead" else -1.0
        series[name + "_hip_beyond_ankle_cm"] = 100.0 * sign * (place[:, 0] - ankles[name][:, 0])
    for part, rotation in rotations.items():
        omega = angular_velocity(rotation, rate)
        series[part + "_rate_deg_s"] = np.degrees(np.linalg.norm(
            omega if part in ("pelvis", "torso") else without_roll(omega, rotation), axis=1))
    feet = {name: place[calm[0] : calm[1]].mean(axis=0) for name, place in ankles.items()}
    ball = marker("CLB3")[calm[0] : calm[1], 0].mean()
    address = {"stance_cm": float(100.0 * np.linalg.norm(feet["lead"] - feet["trail"])),
               "ball_place": float((ball - feet["trail"][0]) / (feet["lead"][0] - feet["trail"][0]))}

    positions = {}
    for name, when in events.items():
        at_moment = {key: float(np.interp(when, t, values)) for key, values in series.items()}
        for p in ("pelvis", "torso"):
            for key, column in zip(("turn", "side_tilt", "forward_bend"), angles[p].T):
                at_moment[f"{p}_{key}_deg"] = float(np.interp(when, t, column))
            for key, column in zip(("sway", "depth", "lift"), 100.0 * origins[p].T):
                at_moment[f"{p}_{key}_cm"] = float(np.interp(when, t, column))
        for key, place in hips.items():
            at_moment[f"{key}_hip_cm"] = [float(100.0 * np.interp(when, t, place[:, axis])) for axis in range(3)]
        at_moment["hinge_deg"] = float(np.interp(when, t, hinge))
        at_moment["lead_knee_flex_deg"] = float(np.interp(when, t, knee))
        positions[name] = at_moment
    return {
        "file": path_name, "events": events,
        "sequence": {"order": orders["axis"], "orders": orders, "order_certainty": certainty,
                     "segments": segments},
        "transition": transition, "separation": separation, "positions": positions, "hinge_path": path,
        "legs": {"lead_knee_straightening_t": t[flexed]}, "wrist": wrist_values,
        "plane": {"inclination_deg": float(np.degrees(np.arccos(abs(normal[2]))))},
        "speed": {"hands_m_s": hands, "club_head_m_s": club_head, "ratio": hands / club_head},
        "delivery": delivery, "takeaway": takeaway_values, "address": address,
        "tempo": {"backswing_s": top - takeaway, "downswing_s": impact - top},
    }


def main():
    for path in sys.argv[1:]:
        print(json.dumps(analyse(path), default=float))


if __name__ == "__main__":
    main()
