"""Sends swings to a bay, written apart from the program: OSC 1.0 packed by hand, a body whose rates
are sums of bell curves about known axes, sensors at 400 a second with clocks of their own, a plate,
random bytes between. Usage: bay_sender.py PORT SWINGS SEED [left]. Prints a JSON line a swing with
the true times of the peaks before impact (ms)."""

import json
import math
import random
import socket
import struct
import sys
import time

PARTS = ["pelvis", "torso", "lead_arm", "club"]
RATE = 400.0


def padded(text):
    data = text.encode() + b"\0"
    return data + b"\0" * (-len(data) % 4)


def message(address, types, *values):
    out = padded(address) + padded("," + types)
    for kind, value in zip(types, values):
        if kind == "s":
            out += padded(value)
        elif kind == "i":
            out += struct.pack(">i", value)
        else:
            out += struct.pack(">f", value)
    return out


def bundle(clock_s, *messages):
    seconds = int(clock_s)
    out = padded("#bundle") + struct.pack(">II", seconds, int((clock_s - seconds) * 2**32))
    for data in messages:
        out += struct.pack(">i", len(data)) + data
    return out


def bell(t, centre, width):
    return math.exp(-0.5 * ((t - centre) / width) ** 2)


class Swing:
    """Rates in °/s against impact: a slow bell back, a quick one down that peaks when told."""

    def __init__(self, impact_s, chance):
        self.impact_s = impact_s
        before = {"pelvis": 85.0, "torso": 60.0, "lead_arm": 38.0}
        self.before_ms = {part: ms + chance.uniform(-8.0, 8.0) for part, ms in before.items()}
        self.before_ms["club"] = 2.0
        speed = chance.uniform(0.85, 1.1)
        self.down = {"pelvis": 440 * speed, "torso": 700 * speed, "lead_arm": 980 * speed,
                     "club": 2050 * speed}
        self.width = {"pelvis": 0.10, "torso": 0.09, "lead_arm": 0.085, "club": 0.055}
        self.back_deg = {"pelvis": 45, "torso": 88, "lead_arm": 130, "club": 190}

    def rate(self, part, t):
        since = t - self.impact_s
        back = self.back_deg[part] / (0.2 * math.sqrt(2 * math.pi)) * bell(since, -0.95, 0.2)
        down = self.down[part] * bell(since, -self.before_ms[part] / 1000.0, self.width[part])
        if part == "club" and since > 0.0:
            down *= 0.8  # the ball takes a fifth
        return down - back


class Sensor:
    def __init__(self, part, chance):
        self.part = part
        self.name = part.replace("_", "-") + "-x"
        self.offset_s = chance.uniform(100.0, 90000.0)
        self.drift = chance.uniform(-150e-6, 150e-6)
        self.number = chance.randrange(2**31 - 3000, 2**31 - 1)  # wraps on the way
        self.bias = [chance.uniform(-1.5, 1.5) for _ in range(3)]
        self.turn = 0.0  # rad, about its axis
        self.battery = 0.9

    def clock(self, t):
        return self.offset_s + (1.0 + self.drift) * t

    def imu(self, rate_deg_s, shock_g, chance, left):
        hand = -1.0 if left else 1.0
        self.turn += math.radians(rate_deg_s) / RATE
        a = hand * self.turn
        if self.part in ("pelvis", "torso"):
            # About its own z axis, bent forward: up as the part has it turns the other way.
            bend = hand * math.radians(20 if self.part == "pelvis" else 35)
            gyro = [0.0, 0.0, hand * rate_deg_s]
            up = [math.sin(bend) * math.sin(a), math.sin(bend) * math.cos(a), math.cos(bend)]
        else:
            # In a plane that leans by so much from the vertical, about -y of the part.
            lean = hand * math.radians(-20 if self.part == "lead_arm" else -33)
            gyro = [0.0, -hand * rate_deg_s, 0.0]
            up = [math.cos(lean) * math.sin(a), math.sin(lean), math.cos(lean) * math.cos(a)]
        gyro = [g + b + chance.gauss(0.0, 0.2) for g, b in zip(gyro, self.bias)]
        force = [u + chance.gauss(0.0, 0.02) for u in up]
        omega = math.radians(rate_deg_s)
        force[2] += omega * omega * 0.12 / 9.80665 if self.part in ("lead_arm", "club") else 0.0
        force[0] += shock_g
        self.number = (self.number + 1) % 2**31
        return message("/kite/%s/imu" % self.name, "iffffff", self.number, *gyro, *force)

    def about(self):
        return message("/kite/%s/about" % self.name, "ssff", self.part, "hand made", RATE,
                       self.battery)


def main():
    port, swings, seed = int(sys.argv[1]), int(sys.argv[2]), int(sys.argv[3])
    left = len(sys.argv) > 4 and sys.argv[4] == "left"
    chance = random.Random(seed)
    out = socket.socket(socket.AF_INET, socket.SOCK_DGRAM)
    out.connect(("127.0.0.1", port))
    made = [Swing(5.0 + 5.0 * i, chance) for i in range(swings)]
    for swing in made:
        print(json.dumps({"impact_s": swing.impact_s, "before_ms": swing.before_ms}), flush=True)
    sensors = [Sensor(part, chance) for part in PARTS]
    end_s = 5.0 * swings + 2.5
    begun = time.monotonic()
    plate_number = 0
    step = 0
    while step / RATE < end_s:
        t = step / RATE
        wait = begun + t - time.monotonic()
        if wait > 0:
            time.sleep(wait)
        packets = []
        for sensor in sensors:
            rate = sum(swing.rate(sensor.part, t) for swing in made)
            # Between two swings everything goes back to where it began.
            for swing in made[:-1]:
                # Of the club's bell the half after impact is a fifth lower.
                kept = 0.9 if sensor.part == "club" else 1.0
                turned_deg = (kept * swing.down[sensor.part] * swing.width[sensor.part] *
                              math.sqrt(2 * math.pi) - swing.back_deg[sensor.part])
                rate -= turned_deg / (0.35 * math.sqrt(2 * math.pi)) * bell(
                    t, swing.impact_s + 1.9, 0.35)
            shock = 0.0
            if sensor.part == "club":
                for swing in made:
                    if 0.0 <= t - swing.impact_s < 0.004:
                        shock = 40.0 * (-1) ** step
            data = [sensor.imu(rate, shock, chance, left)]
            if step % 400 == 7:
                data.append(sensor.about())
            if chance.random() > 0.005:
                packets.append(bundle(sensor.clock(t), *data))
            if chance.random() < 0.003:
                packets.append(bundle(sensor.clock(t), *data))  # twice
        plate_number += 1
        packets.append(bundle(7.0 + t, message("/kite/board/plate", "iff", plate_number, 390.0,
                                               410.0)))
        if step % 400 == 3:
            packets.append(bundle(7.0 + t, message("/kite/board/about", "ssff", "plate",
                                                   "hand made", RATE, 1.0)))
        if chance.random() < 0.02:
            packets.append(bytes(chance.randrange(256) for _ in range(chance.randrange(1, 200))))
        chance.shuffle(packets)
        for packet in packets:
            try:
                out.send(packet)
            except ConnectionRefusedError:
                return  # it has heard enough
        step += 1


if __name__ == "__main__":
    main()
