"""Random axes of every kind: what is said of them is said in plain numbers, and doing what is advised never makes it worse.

URBAN_MULE_AXES in the environment asks for more of them than a run of all tests has time for; ten thousand were walked.
"""

from __future__ import annotations

import dataclasses
import math
import os
import re
from collections.abc import Callable
from typing import Any

import numpy as np
import pytest

from urban_mule.core.assembly import axis_sheet
from urban_mule.core.load.cycle import Move
from urban_mule.core.sheet.solution import Solution
from urban_mule.core.sheet.verdict import LEVELS, Verdict
from urban_mule.core.train.links import Belt, Coupling, Direct, Rack, Reduction, Screw, Stage, Worm

COUNT = int(os.environ.get("URBAN_MULE_AXES", "150"))
EXPONENT = re.compile(r"\d[eE][+\-]?\d")
Values = dict[str, Any]


def some(rng: np.random.Generator, low: float, high: float) -> float:
    return float(np.exp(rng.uniform(math.log(low), math.log(high))))


def random_train(rng: np.random.Generator, motion: str) -> tuple[Stage, ...]:
    efficiency = float(rng.uniform(0.3, 1))
    geared = {"ratio": float(rng.uniform(1.5, 30)), "efficiency": efficiency, "inertia_in": some(rng, 1e-6, 1e-4),
              "rated_torque": some(rng, 1, 100), "drag_torque": float(rng.choice([0.0, 0.02]))}
    front: tuple[Stage, ...] = ((), (Coupling(inertia=1e-6, rated_torque=some(rng, 0.3, 20)),), (Reduction(**geared),),
                                (Worm(**geared),))[rng.integers(4)]
    if motion == "rotary":
        return (*front, Direct())
    last: Stage = (
        Belt(pitch=0.005, teeth=int(rng.integers(10, 60)), inertia=1e-5, efficiency=float(rng.uniform(0.8, 1)),
             span=some(rng, 0.3, 3), specific_stiffness=some(rng, 1e4, 1e6), pretension=some(rng, 5, 200),
             rated_force=some(rng, 50, 1000)),
        Screw(lead=float(rng.choice([0.002, 0.005, 0.01, 0.02])), diameter=some(rng, 0.008, 0.04), length=some(rng, 0.2, 2),
              efficiency=efficiency, end_support=str(rng.choice(["fixed-fixed", "fixed-supported", "fixed-free"])),
              dynamic_load_rating=some(rng, 500, 20000), clearance=float(rng.choice([0.0, 2e-5]))),
        Rack(module=0.001, teeth=int(rng.integers(12, 40)), inertia=1e-5, efficiency=0.95, rated_force=some(rng, 50, 2000)),
    )[rng.integers(3)]
    return (*front, last)


def random_givens(rng: np.random.Generator) -> tuple[str, str, Values]:
    """Motion, kind of motor and what is given of a random axis: both signs of gravity, with and without jerk, work and brakes."""
    motion, motor = str(rng.choice(["linear", "linear", "rotary"])), str(rng.choice(["stepper", "servo"]))
    scale = 1.0 if motion == "linear" else 6.0
    moves = tuple(Move(
        distance=float(rng.choice([-1, 1])) * some(rng, 0.01, 1) * scale, speed=some(rng, 0.02, 2) * scale,
        acceleration=some(rng, 0.2, 20) * scale, jerk=some(rng, 5, 500) * scale if rng.random() < 0.5 else None,
        dwell=float(rng.choice([0.0, 0.2, 3.0])), repeat=int(rng.integers(1, 4))) for _ in range(rng.integers(1, 4)))
    values: Values = {
        "unit": "mm" if motion == "linear" else "deg", "train": random_train(rng, motion), "cycle": moves,
        "motor_count": int(rng.choice([1, 1, 2])), "travel": some(rng, 0.1, 3) * scale,
        "supply_voltage": float(rng.choice([24, 48, 72])),
        "max_pulse_rate": some(rng, 2e3, 1e6), "accuracy_wanted": some(rng, 1e-5, 1e-3) * scale,
        "speed_wanted": some(rng, 0.02, 2) * scale,
        "rotor_inertia": some(rng, 5e-6, 1e-3)}
    if motion == "linear":
        values |= {"moving_mass": some(rng, 0.2, 200), "incline": float(rng.choice([0, 0, math.pi / 2, -math.pi / 2, 0.5])),
                   "friction_force": float(rng.choice([0, 5, 60])), "friction_coefficient": float(rng.choice([0, 0.01, 0.1])),
                   "process_force": float(rng.choice([0, 50])), "counterbalance_force": float(rng.choice([0, 0, 30])),
                   "brake_torque": some(rng, 0.1, 10) if rng.random() < 0.5 else None, "brake_delay": 0.05}
    else:
        values |= {"load_inertia": some(rng, 1e-5, 5), "friction_torque": float(rng.choice([0, 0.1, 2]))}
    if motor == "stepper":
        current = some(rng, 0.5, 8)
        values |= {"holding_torque": some(rng, 0.1, 12), "rated_current": current, "rated_current_is": "rms",
                   "phase_resistance": some(rng, 0.1, 5), "phase_inductance": some(rng, 3e-4, 2e-2), "step_angle": math.pi / 100,
                   "current_peak": current * float(rng.uniform(0.2, 1.7)), "microsteps": int(rng.choice([1, 8, 16, 64, 256])),
                   "hold_fraction": float(rng.uniform(0.1, 1)), "thermal_resistance": some(rng, 0.5, 8)}
    else:
        torque = some(rng, 0.1, 10)
        values |= {"rated_torque": torque, "motor_peak_torque": 3 * torque, "rated_speed": 314.0, "max_speed": 471.0,
                   "rated_voltage": 48.0, "counts_per_turn": 4000, "peak_time": 0.5}
    return motion, motor, values


def random_axes() -> list[tuple[str, str, Values]]:
    rng = np.random.default_rng(2026)
    return [random_givens(rng) for _ in range(COUNT)]


AXES = random_axes()


def solved(motion: str, motor: str, values: Values) -> Solution:
    return axis_sheet(motion, motor).solve(**values)


def test_nothing_is_said_with_an_exponent_and_every_judgement_can_be_read() -> None:
    for number, axis in enumerate(AXES):
        for verdict in solved(*axis).verdicts():
            said = " ".join(part for part in (verdict.sentence, verdict.next, verdict.school) if part)
            assert not EXPONENT.search(said), (number, said)
            assert "nan" not in said.split() and "inf" not in said.split() and ".." not in said and "  " not in said, (number, said)
            assert verdict.headroom is None or 0 <= verdict.headroom <= 1, (number, verdict.check, verdict.headroom)


def test_what_is_not_known_makes_nothing_good() -> None:
    """Leaving out a given that is no wish and no limit turns no verdict that was tight or short into a good one."""
    rng = np.random.default_rng(5)
    for number, (motion, motor, values) in enumerate(AXES):
        before = {v.check: v.level for v in solved(motion, motor, values).verdicts()}
        gone = str(rng.choice(sorted(name for name in values if values[name] is not None and name not in (
            "unit", "friction_force", "friction_coefficient", "friction_torque", "process_force", "counterbalance_force", "incline",
            "motor_count", "hold_fraction", "rated_current_is", "brake_torque", "brake_delay", "peak_time"))))
        for verdict in solved(motion, motor, {**values, gone: None}).verdicts():
            if verdict.level == "good" and before.get(verdict.check, "good") in ("tight", "short"):
                assert (verdict.check, gone) in RELAXED, (number, gone, verdict.check, verdict.sentence)


RELAXED = {("cycle", "travel"), ("cycle", "speed_wanted"), ("goals", "speed_wanted"), ("reachable speed", "speed_wanted"),
           ("vertical axis", "travel"), ("goals", "max_pulse_rate"), ("goals", "accuracy_wanted")}  # each is the limit itself


def scaled(values: Values, **factors: float) -> Values:
    return {**values, **{name: values[name] * factor for name, factor in factors.items()}}


def moved(values: Values, **factors: float) -> Values:
    """The same with every move's speed or acceleration changed."""
    cycle = tuple(Move(**{**vars(move), **{name: getattr(move, name) * factor for name, factor in factors.items()}})
                  for move in values["cycle"])
    return {**values, "cycle": cycle}


def reduced(values: Values, verdict: Verdict) -> Values:
    ratio = float(re.search(r"about ([\d.]+):1 more", verdict.next)[1])  # type: ignore[index]
    return {**values, "train": (Reduction(ratio=1 + (ratio - 1) / 10), *values["train"])}


def tensioned(values: Values, verdict: Verdict) -> Values:
    pull = float(re.search(r"to ([\d ,.]+) N in each", verdict.next)[1].replace(" ", "").replace(",", ""))  # type: ignore[index]
    return {**values, "train": tuple(
        Belt(**{**vars(link), "pretension": pull}) if isinstance(link, Belt) else link for link in values["train"])}


MASS = {"linear": "moving_mass", "rotary": "load_inertia"}
ADVICE: dict[str, Callable[[str, Values, Verdict], Values | None]] = {  # words of a next step, and doing it by a tenth
    r"[Ll]ower the acceleration|more gently|Accelerate gently": lambda _m, v, _w: moved(v, acceleration=0.9),
    r"[Ss]low down|[Mm]ove slower|lower the speed|slow the cycle|a slower": lambda _m, v, _w: moved(v, speed=0.9),
    r"[Rr]aise the supply|a higher supply": lambda _m, v, _w: scaled(v, supply_voltage=1.1),
    r"[Ss]et more (of its )?current|[Rr]aise the current|^Set more if": lambda _m, v, _w: scaled(v, current_peak=1.1),
    r"[Ll]ower the current|set less|Set a little less": lambda _m, v, _w: scaled(v, current_peak=0.9),
    r"Raise the idle current": lambda _m, v, _w: scaled(v, hold_fraction=1.1) if v["hold_fraction"] < 0.9 else None,
    r"Cut the idle current": lambda _m, v, _w: scaled(v, hold_fraction=0.9),
    r"fewer microsteps": lambda _m, v, _w: {**v, "microsteps": v["microsteps"] // 2 or 1},
    r"a lighter load|a load of less inertia": lambda m, v, _w: scaled(v, **{MASS[m]: 0.9}),
    r"[Ss]top?r?o?n?ger motor|one size up|larger one": lambda _m, v, _w: (
        scaled(v, holding_torque=1.1) if "holding_torque" in v else scaled(v, rated_torque=1.1, motor_peak_torque=1.1)),
    r"A reduction of about": lambda _m, v, w: reduced(v, w),
    r"Tension the belt": lambda _m, v, w: tensioned(v, w),
    r"brake of at least": lambda _m, v, _w: None if v.get("brake_torque") is None else scaled(v, brake_torque=1.1),
}


def test_no_advice_makes_its_own_number_worse() -> None:
    """Each next step done by a tenth: the check that gave it is never at a worse level, nor with less room at the same."""
    tried: dict[str, int] = {}
    for number, (motion, motor, values) in enumerate(AXES):
        for verdict in solved(motion, motor, values).verdicts():
            if verdict.level not in ("tight", "short"):
                continue
            for words, done in ADVICE.items():
                after = done(motion, values, verdict) if re.search(words, verdict.next) else None
                if after is None:
                    continue
                now = next((v for v in solved(motion, motor, after).verdicts() if v.check == verdict.check), None)
                if now is None:
                    continue
                tried[words] = tried.get(words, 0) + 1
                worse = LEVELS.index(now.level) > LEVELS.index(verdict.level) or (
                    now.level == verdict.level and (now.headroom or 0) < (verdict.headroom or 0) - 1e-9)
                assert not worse, (number, words, verdict.sentence, verdict.next, now.sentence)
    assert len(tried) >= len(ADVICE) - 3, tried


@pytest.mark.parametrize("mirrored", [False, True])
def test_stopping_takes_the_way_that_a_walk_takes(mirrored: bool) -> None:
    """Braking walked in time, move by move: from the top speed of a move to standstill."""
    for number, (motion, motor, values) in enumerate(AXES[:COUNT // 3]):
        if mirrored:
            values = {**values, "cycle": tuple(Move(**{**vars(m), "distance": -m.distance}) for m in values["cycle"])}
        solution = solved(motion, motor, values)
        pieces, longest = solution["cycle_pieces"], 0.0
        for place in np.unique(pieces.move):
            own = (pieces.move == place) & (pieces.direction != 0)
            speed = way = top = 0.0
            rows = zip(pieces.duration[own], pieces.acceleration_start[own], pieces.acceleration_end[own], strict=True)
            for duration, a0, a1 in rows:
                for share in (np.arange(200) + 0.5) / 200:
                    a = a0 + (a1 - a0) * share
                    speed += a * duration / 200
                    if abs(speed) >= top:
                        top, way = abs(speed), 0.0
                    elif abs(speed) < top * (1 - 1e-12):
                        way += abs(speed - a * duration / 400) * duration / 200
            longest = max(longest, way)
        assert solution["braking_distance"] == pytest.approx(longest, rel=0.02), number


def test_what_is_reached_leaves_what_is_wanted_in_hand_and_no_more() -> None:
    """A cycle at the speed or acceleration that the motor allows has the safety factor in hand; a little beyond it has less."""
    def margin(of: tuple[str, str, Values], move: Move, far: float) -> float:
        """The margin of such a move there and back over a way on which it reaches its speed."""
        moves = tuple(Move(distance=way * far, speed=move.speed, acceleration=move.acceleration) for way in (1, -1))
        return float(solved(of[0], of[1], {**of[2], "cycle": moves}).get("working_margin", math.nan))

    looked = 0
    for number, (motion, motor, values) in enumerate(AXES):
        plain = tuple(Move(distance=move.distance * 1e4, speed=move.speed, acceleration=move.acceleration)
                      for move in values["cycle"][:1])  # so far that it reaches its speed
        values = {**values, "cycle": plain} | ({"process_force": 0.0} if motion == "linear" else {})
        before = solved(motion, motor, values)
        for limits, factor in (("speed_limits", "speed"), ("acceleration_limits", "acceleration")):
            found = [one for one in before.get(limits, ()) if one.stage == "Motor" and "is left" in one.why]
            if not found or found[0].value <= 1e-3 or found[0].value > 1e3 * getattr(plain[0], factor):
                continue
            far = found[0].value**2 * 50 / plain[0].acceleration + 100
            near, beyond = (margin((motion, motor, values), dataclasses.replace(plain[0], **{factor: found[0].value * share}), far)
                            for share in (0.998, 1.02))
            if not math.isnan(near):
                looked += 1
                assert near >= 1.5 * 0.995 and (math.isnan(beyond) or beyond < 1.5 * 1.001), (number, factor, near, beyond)
    assert looked > COUNT // 3
