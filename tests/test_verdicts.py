"""Every check at each of its levels: the level, the deciding number in the sentence, and a next step."""

from __future__ import annotations

import math
from fractions import Fraction
from typing import Any

import numpy as np
import pytest

from urban_mule.core.axis import axis_sheet
from urban_mule.core.links import Belt, Coupling, Screw
from urban_mule.core.profile import Move
from urban_mule.core.scale import TravelReading
from urban_mule.core.sheet import Solution
from urban_mule.core.slack import TwoWayReading
from urban_mule.core.spectrum import AccelerationReading
from urban_mule.core.verdict import Verdict, worst

CYCLE = (Move(distance=0.3, speed=0.3, acceleration=2.0, dwell=0.5), Move(distance=-0.3, speed=0.3, acceleration=2.0))
STEPPER: dict[str, Any] = {
    "moving_mass": 4.0, "friction_force": 5.0, "travel": 0.6, "unit": "mm", "cycle": CYCLE,
    "train": (Belt(pitch=0.003, teeth=20, inertia=1e-5),), "holding_torque": 1.6, "rated_current": 2.8, "rated_current_is": "rms",
    "phase_resistance": 0.8, "phase_inductance": 0.0025, "rotor_inertia": 1e-4, "step_angle": math.pi / 100,
    "thermal_resistance": 2.0, "supply_voltage": 48.0, "current_peak": 3.8, "microsteps": 16, "hold_fraction": 0.5,
    "max_pulse_rate": 1e5, "accuracy_wanted": 1e-4}
SERVO: dict[str, Any] = {
    **{k: STEPPER[k] for k in ("moving_mass", "friction_force", "travel", "unit", "cycle", "train", "supply_voltage")},
    "rated_torque": 0.6, "motor_peak_torque": 1.9, "rated_speed": 314.0, "max_speed": 471.0, "rated_voltage": 48.0,
    "counts_per_turn": 4000, "rotor_inertia": 5e-5}
UPRIGHT = {"incline": math.pi / 2, "train": (Screw(lead=0.01, diameter=0.012, length=0.4, efficiency=0.9),)}


def solve(motor: str = "stepper", **more: Any) -> Solution:
    return axis_sheet("linear", motor).solve(**{**(STEPPER if motor == "stepper" else SERVO), **more})


def verdict(name: str, solution: Solution) -> Verdict | None:
    return next((v for v in solution.verdicts() if v.check == name), None)


def two_way(gap: float, slope: float = 0.0, scatter: float = 1e-6, bow: float = 0.0) -> TwoWayReading:
    """Readings with a known gap between directions, slope over the travel, bow and scatter [m]."""
    targets, rng = np.linspace(0.05, 0.55, 6), np.random.default_rng(1)
    middle = slope * (targets - 0.3) + bow * (1 - ((targets - 0.3) / 0.25) ** 2)
    up, down = (middle + side * gap / 2 + scatter * rng.standard_normal((5, 6)) for side in (-1, 1))
    return TwoWayReading(targets, up, down)


def taps(*modes: tuple[float, float, float]) -> AccelerationReading:
    t = np.arange(6400) / 1600.0
    total = np.zeros_like(t)
    for f, zeta, size in modes:
        w = 2 * math.pi * f
        total += size * np.where(t > 0.2, np.exp(-zeta * w * (t - 0.2)) * np.sin(w * math.sqrt(1 - zeta**2) * (t - 0.2)), 0.0)
    return AccelerationReading(t, (total + 1e-3 * np.random.default_rng(3).standard_normal(t.size))[:, None])


CASES: list[tuple[str, str, str, dict[str, Any], str]] = [
    # check, level, words of the sentence, what differs, words of the next step
    ("goals", "unknown", "No goal is set", {"accuracy_wanted": None}, "Write down"),
    ("goals", "unknown", "0 of 1 goals", {}, "Go on along the trail"),
    ("goals", "good", "2 of 2 goals", {"speed_wanted": 0.3, "positioning_reading": two_way(5e-6)}, ""),
    ("goals", "tight", "1 of 2 goals", {"speed_wanted": 0.3, "acceleration_wanted": 9.0, "accuracy_wanted": None}, "Follow"),
    ("train", "good", "60 mm", {}, ""),
    ("train", "unknown", "no stage of the train turns", {"train": (Coupling(),)}, "Fill in"),
    ("torque margin", "good", "times the torque needed", {}, ""),
    ("torque margin", "tight", "only 1.", {"moving_mass": 52.0}, "Lower the acceleration"),
    ("torque margin", "short", "it will stall", {"moving_mass": 120.0}, "stronger motor"),
    ("torque margin", "unknown", "no cycle", {"cycle": None}, "Fill in"),
    ("reachable speed", "short", "no torque left",
     {"supply_voltage": 5.0, "drag_torque": 0.1, "cycle": (Move(distance=0.5, speed=2.5, acceleration=30.0),)},
     "Raise the supply"),
    ("reachable speed", "tight", "60 % of the speed", {"speed_wanted": 0.5}, "Raise the speed"),
    ("inertia ratio", "good", "comfortable", {}, ""),
    ("inertia ratio", "tight", "usable", {"moving_mass": 8.0}, "gently"),
    ("inertia ratio", "tight", "careful", {"moving_mass": 40.0}, "A reduction of about"),
    ("supply voltage", "good", "the supply gives 48 V", {}, "only heat"),
    ("supply voltage", "tight", "the supply gives 9 V", {"supply_voltage": 9.0, "moving_mass": 20.0}, "Raise the supply"),
    ("supply voltage", "short", "takes 36 V at most", {"voltage_limit": 36.0}, "braking raises"),
    ("winding temperature", "good", "The winding warms by", {}, ""),
    ("winding temperature", "tight", "", {"thermal_resistance": 4.8}, "idle current"),
    ("winding temperature", "short", "", {"thermal_resistance": 8.0}, "do not touch"),
    ("winding temperature", "unknown", "thermal runaway", {"thermal_resistance": 60.0}, ""),
    ("kind of rated current", "tight", "taken as RMS", {"rated_current_is": None}, "data sheet"),
    ("wiring", "tight", "but not both", {"wiring": "series"}, "say both"),
    ("set current", "good", "2.69 A RMS", {}, ""),
    ("set current", "tight", "half of the torque", {"current_peak": 1.5}, "Set more"),
    ("set current", "tight", "103 % of the rating", {"current_peak": 4.07}, "a little less"),
    ("set current", "short", "peak taken for RMS?", {"current_peak": 5.6}, "peak or RMS"),
    ("set current", "short", "gives 3 A peak as cooled", {"current_limit": 3.0}, "Cool the driver"),
    ("microsteps", "good", "of the 16 microsteps", {}, ""),
    ("microsteps", "tight", "place no better", {"microsteps": 128, "friction_force": 8.0}, "smoothness"),
    ("microsteps", "short", "friction takes most", {"friction_force": 160.0}, "what binds"),
    ("pulse rate", "good", "16 kHz of pulses, 16 %", {}, ""),
    ("pulse rate", "tight", "of what the controller takes", {"max_pulse_rate": 17_000.0}, "a fifth in hand"),
    ("pulse rate", "short", "of what the driver takes", {"minimum_pulse_width": 4e-5}, "fewer microsteps"),
    ("vertical axis", "short", "none is given", UPRIGHT, "Block the axis"),
    ("vertical axis", "tight", "The brake holds 1.", {**UPRIGHT, "brake_torque": 0.1}, "Fit a brake of at least"),
    ("vertical axis", "short", "The brake holds 0.", {**UPRIGHT, "brake_torque": 0.03}, "Block the axis"),
    ("vertical axis", "good", "without friction", {**UPRIGHT, "brake_torque": 0.4}, "Block the axis"),
    ("vertical axis", "tight", "locks itself",
     {**UPRIGHT, "train": (Screw(lead=0.002, inertia=1e-6, efficiency=0.3),)}, "Do not count on it"),
    ("standstill", "good", "times the weight", UPRIGHT, ""),
    ("standstill", "short", "drops when it rests", {**UPRIGHT, "hold_fraction": 0.02}, "idle current"),
    ("coupling", "good", "more than the motor can give", {"train": (Coupling(rated_torque=5.0), Belt(pitch=0.003, teeth=20))}, ""),
    ("coupling", "tight", "in a stall", {"train": (Coupling(rated_torque=1.0), Belt(pitch=0.003, teeth=20))}, "larger coupling"),
    ("coupling", "short", "the cycle asks",
     {"train": (Coupling(rated_torque=0.05), Belt(pitch=0.003, teeth=20))}, "larger coupling"),
    ("screw whirling", "good", "of the speed it may",
     {"train": (Screw(lead=0.01, diameter=0.016, length=0.4, end_support="fixed-fixed"),)}, ""),
    ("screw whirling", "short", "of the speed it may",
     {"train": (Screw(lead=0.005, diameter=0.008, length=1.2, end_support="fixed-free"),)}, "thicker or better held"),
    ("screw buckling", "short", "half of buckling",
     {"moving_mass": 90.0, "train": (Screw(lead=0.005, diameter=0.005, length=0.9, end_support="fixed-free"),)}, "shorter"),
    ("screw life", "good", "hours of this cycle",
     {"train": (Screw(lead=0.01, diameter=0.016, length=0.4, dynamic_load_rating=5000.0),)}, ""),
    ("screw life", "tight", "hours of this cycle",
     {"train": (Screw(lead=0.01, diameter=0.016, length=0.4, dynamic_load_rating=30.0),)}, "larger screw"),
    ("cycle", "good", "0.3 m/s", {}, ""),
    ("cycle", "tight", "below the acceleration", {"acceleration_wanted": 5.0}, "Raise the move"),
    ("scale", "unknown", "no travel readings", {}, "Fill in"),
    ("scale", "good", "within what the gauge can see",
     {"travel_reading": TravelReading(0.4, np.array([0.40001, 0.4]), 1e-5)}, "Leave"),
    ("scale", "tight", "0.2 % less", {"travel_reading": TravelReading(0.4, np.array([0.3992, 0.3992]), 1e-5)}, "53.4402 steps"),
    ("scale", "unknown", "what the gauge can see is not given",
     {"travel_reading": TravelReading(0.4, np.array([0.3992]), None)}, "gauge"),
    ("scale", "short", "near 2", {"travel_reading": TravelReading(0.4, np.array([0.8]), 1e-5)}, "do not correct it away"),
    ("scale", "short", "too much for", {"travel_reading": TravelReading(0.4, np.array([0.437]), 1e-5)}, "wrong tooth count"),
    ("backlash", "good", "Backlash is 12", {"reversal_reading": two_way(12e-6)}, "watch the trend"),
    ("backlash", "tight", "% of the accuracy wanted", {"reversal_reading": two_way(60e-6)}, "preload"),
    ("backlash", "short", "1.8 times the accuracy wanted", {"reversal_reading": two_way(180e-6)}, "Find the play"),
    ("resonance", "good", "One clear mode at 31.0 Hz", {"acceleration_reading": taps((31.0, 0.03, 5.0))}, "shaper"),
    ("resonance", "tight", "2 modes share", {"acceleration_reading": taps((31.0, 0.03, 5.0), (52.0, 0.03, 4.0))}, "loose rail"),
    ("acceleration", "tight", "of it", {"acceleration_reading": taps((12.0, 0.03, 5.0))}, "path tolerance"),
    ("acceleration", "good", "stays true up to", {"acceleration_reading": taps((60.0, 0.03, 5.0))}, "Set this shaper"),
    ("time base", "good", "came evenly at 1 600 Hz", {"acceleration_reading": taps((31.0, 0.03, 5.0))}, ""),
    ("accuracy", "good", "of what the Brief asks for", {"positioning_reading": two_way(20e-6)}, "Proven"),
    ("accuracy", "tight", "", {"positioning_reading": two_way(85e-6)}, "reversal"),
    ("accuracy", "short", "", {"positioning_reading": two_way(10e-6, slope=4e-4)}, "straight line"),
    ("accuracy", "short", "", {"positioning_reading": two_way(10e-6, bow=150e-6)}, "correction table"),
    ("accuracy", "short", "", {"positioning_reading": two_way(4e-6, scatter=40e-6)}, "scatter"),
]


@pytest.mark.parametrize(("check", "level", "said", "more", "nxt"), CASES, ids=lambda v: v if isinstance(v, str) else "")
def test_each_check_at_each_level(check: str, level: str, said: str, more: dict[str, Any], nxt: str) -> None:
    found = verdict(check, solve(**more))
    assert found is not None
    assert found.level == level, found.sentence
    assert said in found.sentence, found.sentence
    assert nxt in found.next, found.next
    assert found.sentence.endswith((".", "?")) and "!" not in found.sentence + found.next
    assert found.headroom is None or 0 <= found.headroom <= 1
    silent = ("locks", "not both", "no torque")
    assert level == "unknown" or any(sign.isdigit() for sign in found.sentence) or any(word in said for word in silent)


def test_checks_that_have_nothing_to_say_are_silent() -> None:
    silent = {"vertical axis", "standstill", "coupling", "screw whirling", "screw buckling", "screw life", "wiring",
              "kind of rated current"}
    assert silent.isdisjoint({v.check for v in solve().verdicts()})


def test_a_servo_is_judged_by_its_rms_torque_and_its_peak() -> None:
    good = verdict("continuous torque", solve("servo"))
    assert good is not None and good.level == "good"
    hot = verdict("continuous torque", solve("servo", cycle=(Move(distance=0.3, speed=0.5, acceleration=24.0),), moving_mass=14.0))
    assert hot is not None and hot.level == "short" and "overheats" in hot.sentence
    assert verdict("winding temperature", solve("servo")) is None and verdict("torque margin", solve("servo")) is not None


def test_a_rotary_axis_speaks_in_degrees() -> None:
    from urban_mule.core.links import Direct, Reduction

    solution = axis_sheet("rotary", "stepper").solve(**{
        **{k: v for k, v in STEPPER.items() if k not in ("moving_mass", "friction_force")}, "unit": "deg", "load_inertia": 0.002,
        "friction_torque": 0.1, "train": (Reduction(ratio=5.0), Direct()), "accuracy_wanted": math.radians(0.1),
        "cycle": (Move(distance=math.pi, speed=math.pi, acceleration=20.0),),
        "reversal_reading": two_way(math.radians(0.02), scatter=1e-6)})
    assert "72°" in next(v.sentence for v in solution.verdicts() if v.check == "train")
    assert "180 °/s" in next(v.sentence for v in solution.verdicts() if v.check == "cycle")
    assert "Backlash is 0.02° ±" in next(v.sentence for v in solution.verdicts() if v.check == "backlash")
    assert solution["steps_fraction"].fraction == Fraction(200 * 16 * 5, 360)


def test_the_deciding_verdict_is_the_worst_with_the_least_room() -> None:
    given = tuple(Verdict(level, level, headroom=room) for level, room in (  # type: ignore[arg-type]
        ("good", 0.1), ("tight", 0.4), ("tight", 0.2), ("unknown", None), ("good", 0.9)))
    assert worst(given) is given[2]
    assert worst(given[:1] + given[3:]) is given[3]
    assert worst(()) is None
