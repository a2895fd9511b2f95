"""Random axes of every kind: what is said of them is said in plain numbers, and doing what is advised never makes it worse.

URBAN_MULE_AXES in the environment asks for more of them than a run of all tests has time for; `make campaign` takes 2,000.
"""

from __future__ import annotations

import dataclasses
import math
import os
import re
from collections.abc import Callable
from functools import cache
from typing import Any

import numpy as np
import pytest

from urban_mule.core.load.cycle import Move
from urban_mule.core.sheet.advice import advised
from urban_mule.core.sheet.solution import Solution
from urban_mule.core.sheet.verdict import Verdict
from urban_mule.core.subjects import axis_sheet
from urban_mule.core.train.link import Link
from urban_mule.core.train.links import Belt, Coupling, Direct, Rack, Reduction, Screw, Worm

COUNT = int(os.environ.get("URBAN_MULE_AXES", "25"))
EXPONENT = re.compile(r"\d[eE][+\-]?\d")
Values = dict[str, Any]


def some(rng: np.random.Generator, low: float, high: float) -> float:
    return float(np.exp(rng.uniform(math.log(low), math.log(high))))


def random_train(rng: np.random.Generator, motion: str) -> tuple[Link, ...]:
    efficiency = float(rng.uniform(0.3, 1))
    geared = {"ratio": float(rng.uniform(1.5, 30)), "efficiency": efficiency, "inertia_in": some(rng, 1e-6, 1e-4),
              "rated_torque": some(rng, 1, 100), "drag_torque": float(rng.choice([0.0, 0.02]))}
    front: tuple[Link, ...] = ((), (Coupling(inertia=1e-6, rated_torque=some(rng, 0.3, 20)),), (Reduction(**geared),),
                                (Worm(**geared),))[rng.integers(4)]
    if motion == "rotary":
        return (*front, Direct())
    last: Link = (
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
        "voltage_limit": float(rng.choice([50, 80])) if rng.random() < 0.5 else None,
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
                   "current_peak": current * float(rng.uniform(0.2, 1.7)),
                   "current_limit": current * float(rng.uniform(0.8, 2.5)) if rng.random() < 0.5 else None,
                   "microsteps": int(rng.choice([1, 8, 16, 64, 256])),
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


@cache
def told(number: int) -> tuple[Verdict, ...]:
    """What is said of an axis, its advice tried."""
    return solved(*AXES[number]).verdicts()


def judged(solution: Solution) -> list[Verdict]:
    """What is said of an axis, before the advice is tried: level and sentence are the same."""
    return [verdict for verdict in solution.judged().values() if verdict is not None]


def test_nothing_is_said_with_an_exponent_and_every_judgement_can_be_read() -> None:
    for number in range(COUNT):
        for verdict in told(number):
            said = " ".join(part for part in (verdict.sentence, verdict.next, verdict.school) if part)
            assert not EXPONENT.search(said), (number, said)
            assert "nan" not in said.split() and "inf" not in said.split() and ".." not in said and "  " not in said, (number, said)
            assert verdict.headroom is None or 0 <= verdict.headroom <= 1, (number, verdict.check, verdict.headroom)


def test_what_is_not_known_makes_nothing_good() -> None:
    """Leaving out a given that is no wish and no limit turns no verdict that was tight or short into a good one."""
    rng = np.random.default_rng(5)
    for number, (motion, motor, values) in enumerate(AXES):
        before = {v.check: v.level for v in judged(solved(motion, motor, values))}
        gone = str(rng.choice(sorted(name for name in values if values[name] is not None and name not in (
            "unit", "friction_force", "friction_coefficient", "friction_torque", "process_force", "counterbalance_force", "incline",
            "motor_count", "hold_fraction", "rated_current_is", "brake_torque", "brake_delay", "peak_time"))))
        for verdict in judged(solved(motion, motor, {**values, gone: None})):
            if verdict.level == "good" and before.get(verdict.check, "good") in ("tight", "short"):
                endless = motion == "rotary" and (verdict.check, gone) == ("cycle", "travel")  # a table may be without ends
                assert endless or (verdict.check, gone) in RELAXED, (number, gone, verdict.check, verdict.sentence)


RELAXED = {("goals", "speed_wanted"), ("reachable speed", "speed_wanted"), ("cycle", "speed_wanted"),
           ("goals", "accuracy_wanted")}  # each is the wish itself, without which nothing is asked


def test_what_was_assumed_makes_nothing_good_that_its_usual_worst_would_not() -> None:
    """Losses that nobody has said: what is good then is good at the unfavourable end of what is usual; what is not names them."""
    named = 0
    for number, (motion, motor, values) in enumerate(AXES):
        train = tuple(dataclasses.replace(link, efficiency=1.0) if hasattr(link, "efficiency") else link
                      for link in values["train"])
        losses = {name: 0.0 for name in ("friction_force", "friction_coefficient", "friction_torque") if name in values}
        assumed = ("friction", *(f"train[{place}].efficiency" for place, link in enumerate(train) if hasattr(link, "efficiency")))
        ideal = {**values, **losses, "train": train}
        solution = solved(motion, motor, {**ideal, "assumed": assumed})
        worst = {v.check: v for v in judged(solved(motion, motor, {**ideal, **solution["assumed_at_worst"].changes}))}
        bare = {v.check: v.level for v in judged(solved(motion, motor, ideal))}
        for verdict in judged(solution):
            at_worst = worst.get(verdict.check)
            if verdict.level == "good" and at_worst is not None:
                assert at_worst.level in ("good", "unknown"), (number, verdict.check, at_worst.sentence)
            elif verdict.level == "tight" and bare.get(verdict.check) == "good":
                assert "which nobody has said" in verdict.sentence and ("friction" in verdict.sentence
                                                                        or "efficiency" in verdict.sentence), verdict.sentence
                named += 1
    assert named > COUNT // 3


def scaled(values: Values, **factors: float) -> Values:
    return {**values, **{name: values[name] * factor for name, factor in factors.items()}}


def moved(values: Values, **factors: float) -> Values:
    """The same with every move's speed or acceleration changed."""
    cycle = tuple(Move(**{**vars(move), **{name: getattr(move, name) * factor for name, factor in factors.items()}})
                  for move in values["cycle"])
    return {**values, "cycle": cycle}


def linked(values: Values, kind: type[Link], **changed: Any) -> Values:
    return {**values, "train": tuple(dataclasses.replace(link, **changed) if isinstance(link, kind) else link
                                     for link in values["train"])}


def reduced(values: Values, ratio: float) -> Values:
    return {**values, "train": (Reduction(ratio=ratio, efficiency=0.97), *values["train"])}


def stronger(values: Values) -> Values:
    """One size up by similarity: the torque with the cube of the size, the inertia with its fifth power."""
    torques = ("holding_torque",) if "holding_torque" in values else ("rated_torque", "motor_peak_torque")
    return scaled(values, **dict.fromkeys(torques, 1.5), rotor_inertia=1.5 ** (5 / 3))


def fastened(values: Values, solution: Solution) -> Values:
    """Every move at the speed and acceleration that the Brief asks for."""
    wanted = {"speed": values.get("speed_wanted") or 0.0}
    return {**values, "cycle": tuple(Move(**{**vars(move), "speed": max(move.speed, wanted["speed"])}) for move in values["cycle"])}


def number_in(found: re.Match[str]) -> float:
    return float(found[1].replace(" ", ""))


N = r"([\d.]+(?: \d{3})*)"
ADVICE: dict[str, Callable[[Values, re.Match[str], Solution], Values]] = {  # words of a next step, and doing just that
    "[Aa]ccelerate more gently": lambda v, _f, _s: moved(v, acceleration=0.8),
    "[Rr]un the cycle slower": lambda v, _f, _s: moved(v, speed=0.8),
    f"[Rr]aise the supply to {N} V": lambda v, f, _s: {**v, "supply_voltage": number_in(f)},
    "[Rr]aise the supply(?! to)": lambda v, _f, _s: scaled(v, supply_voltage=1.5),
    f"[Ss]et more of its current, up to {N} A": lambda v, f, _s: {**v, "current_peak": number_in(f)},
    "[Ll]ower the current": lambda v, _f, _s: scaled(v, current_peak=0.8),
    "[Cc]ut the idle current": lambda v, _f, _s: scaled(v, hold_fraction=0.8),
    f"[Hh]old with {N} %": lambda v, f, _s: {**v, "hold_fraction": number_in(f) / 100},
    f"[Ff]it a reduction, {N}:1 say": lambda v, f, _s: reduced(v, number_in(f)),
    f"A reduction of {N}:1 more": lambda v, f, _s: reduced(v, number_in(f)),
    "[Tt]ake a stronger motor": lambda v, _f, _s: stronger(v),
    f"[Tt]ension the belt to {N} N": lambda v, f, _s: linked(v, Belt, pretension=number_in(f)),
    f"[Ff]it a brake of at least {N} N·m": lambda v, f, _s: {**v, "brake_torque": number_in(f)},
    "[Rr]aise the speed of its moves": lambda v, _f, s: fastened(v, s),
    "[Aa]dd a counterbalance|[Ll]ower the counterbalance": lambda v, _f, s: {
        **v, "counterbalance_force": v["counterbalance_force"] + s["gravity_load"] / 2},
    "fewer microsteps": lambda v, _f, _s: {**v, "microsteps": v["microsteps"] // 2 or 1},
}
LIMITS = {"supply_voltage": "voltage_limit", "current_peak": "current_limit"}  # nothing beyond them is asked for
OPPOSITE = (("[Rr]aise the supply", "[Ll]ower the supply"),
            ("[Ss]et more", "[Ll]ower the current|[Ss]et less|[Ss]et a little less|[Ss]et [0-9.]+ A"),
            ("[Hh]old with", "[Cc]ut the idle current"), ("[Rr]un the cycle slower", "[Rr]aise the speed"),
            ("[Aa]ccelerate more gently", "[Rr]aise the acceleration"), ("[Aa]dd a counter", "[Ll]ower the counter"),
            ("[Tt]ake a stronger motor", "[Aa] smaller motor"))
DECIDES = {"torque margin": "working_margin", "continuous torque": "continuous_margin", "margin by speed": "working_margin"}


def level_of(verdict: Verdict | None) -> int:
    return ("good", "unknown", "tight", "short").index("good" if verdict is None else verdict.level)


def test_advice_that_is_done_helps_and_spoils_nothing_else() -> None:
    """Each next step, done as it is said: its verdict is not worse and its number has risen, no other verdict becomes short."""
    tried: dict[str, int] = {}
    for number, (motion, motor, values) in enumerate(AXES):
        solution = solved(motion, motor, values)
        before = {v.check: v for v in told(number)}
        for verdict in before.values():
            for words, done in ADVICE.items():
                found = re.search(words, verdict.next) if verdict.level in ("tight", "short") else None
                if found is None:
                    continue
                tried[words] = tried.get(words, 0) + 1
                changed = done(values, found, solution)
                for name, limit in LIMITS.items():
                    assert values.get(limit) is None or changed.get(name, 0) <= max(values[limit], values[name]) * (1 + 1e-9), (
                        number, verdict.next)
                after_solution = solved(motion, motor, changed)
                after = {v.check: v for v in judged(after_solution)}
                own = after.get(verdict.check)
                assert level_of(own) <= level_of(verdict), (number, words, verdict.sentence, own and own.sentence)
                if own is not None and own.level == verdict.level and None not in (verdict.measure, own.measure):
                    assert own.measure > verdict.measure, (number, words, verdict.sentence, own.sentence)
                if verdict.check in DECIDES:
                    assert after_solution[DECIDES[verdict.check]] > solution[DECIDES[verdict.check]] * (1 - 1e-9) or (
                        level_of(own) < level_of(verdict)), (number, words, verdict.sentence)
                for name, other in after.items():
                    if name != verdict.check and other.level == "short":
                        assert before.get(name) is not None and before[name].level == "short", (number, words, verdict.check, name)
                if words.startswith("A reduction"):
                    assert after_solution["inertia_ratio"] <= 5.0, (number, verdict.next)
                if words.startswith("[Ff]it a brake"):
                    assert own is None or "Fit a brake" not in advised(after_solution, own).next, number
                if words.startswith("[Tt]ension"):
                    assert own is None or "hangs loose" not in own.sentence, (number, own and own.sentence)
    assert len(tried) >= len(ADVICE) - 3, tried


def test_no_two_verdicts_of_an_axis_advise_opposite_things() -> None:
    for number in range(COUNT):
        said = [v.next for v in told(number)]
        for one, other in OPPOSITE:
            assert not (any(re.search(one, text) for text in said) and any(re.search(other, text) for text in said)), (
                number, one, other, [text for text in said if re.search(f"{one}|{other}", text)])


def test_a_missed_goal_is_short_and_its_number_has_its_own_reason() -> None:
    """What is reached, as the limits say it: below the goal the verdict is short and names the least limit with its own value."""
    missed = 0
    for number, (motion, motor, values) in enumerate(AXES):
        solution = solved(motion, motor, values)
        goals = next(v for v in judged(solution) if v.check == "goals")
        reached, wanted = solution.get("speed_reached"), values["speed_wanted"]
        if reached is None:
            continue
        missed_it = reached.value < wanted * (1 - 1e-9)
        assert (goals.level == "short") == missed_it or "accuracy" in goals.sentence, (number, goals.sentence)
        if goals.level == "short" and "speed" in goals.sentence:
            missed += 1
            least = min(solution["speed_limits"], key=lambda one: one.value)
            assert reached.value == least.value and least.why in goals.sentence, number
        margin = solution.get("working_margin")
        if margin is not None and margin >= 1.5 and reached.stage == "Motor":
            assert "stalls" not in goals.sentence or "on the way back" in goals.sentence, (number, margin, goals.sentence)
        speed = next((v for v in judged(solution) if v.check == "reachable speed"), None)
        if speed is not None and margin is not None and margin < 1:
            assert speed.level == "short", (number, speed.sentence)
    assert missed > COUNT // 4


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
