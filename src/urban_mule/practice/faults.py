"""Every hidden fault of a practice machine: what it is physically, and how it is put right. What it shows follows from it."""

from __future__ import annotations

import dataclasses
from collections.abc import Callable, Iterable
from typing import Any

import numpy as np

from urban_mule.bench.simulated.truth import ASKEW, BUZZES, CROSSES, EXCHANGED, MOVES, RACKS, Truth
from urban_mule.core.sheet.record import record
from urban_mule.core.sheet.solution import Solution
from urban_mule.core.train.links import Belt, Rack


@record(frozen=True)
class Built:
    """A practice machine as it really is: what its parts and settings make of the sheet, and what no sheet says."""

    real: Solution
    truth: Truth


@record(frozen=True)
class Fault:
    """A fault that may be hidden.

    said: what is wrong, with {size} in it where it has one; repair: what puts it right. suits: whether this axis can have it.
    draw: its size by a random source. afflict: the machine with it. felt_in: the kinds of readings that it can change at all.
    hides: whether nothing that moves can be measured while it is there. setting: the given of the project that puts it right too,
    when it is set to what is really there. both: whether it shows on both axes of a pair.
    """

    name: str
    said: str
    repair: str
    suits: Callable[[Solution], bool]
    draw: Callable[[np.random.Generator, Solution], float]
    afflict: Callable[[Built, float], Built]
    felt_in: tuple[str, ...]
    hides: bool = False
    setting: str = ""
    both: bool = False


def _linear(solution: Solution) -> bool:
    return "friction_force" in solution.sheet.inputs


def _stepper(solution: Solution) -> bool:
    return "step_angle" in solution.sheet.inputs


def _toothed(solution: Solution) -> bool:
    return any(isinstance(link, (Belt, Rack)) for link in solution.get("train") or ())


def _belted(solution: Solution) -> bool:
    return any(isinstance(link, Belt) for link in solution.get("train") or ())


def _given(change: Callable[[Solution, float], Solution]) -> Callable[[Built, float], Built]:
    """What changes a given of the machine, and with it all that follows from it."""
    return lambda built, size: Built(change(built.real, size), built.truth)


def _teeth(solution: Solution, count: float) -> Solution:
    train = list(solution["train"])
    at = max(n for n, link in enumerate(train) if isinstance(link, (Belt, Rack)))
    train[at] = dataclasses.replace(train[at], teeth=count)
    return solution.changed(train=tuple(train))


def _fewer_teeth(random: np.random.Generator, solution: Solution) -> float:
    teeth = next(link.teeth for link in reversed(solution["train"]) if isinstance(link, (Belt, Rack)))
    return float(teeth - random.integers(2, 5))


def _slack(solution: Solution, share: float) -> Solution:
    """Its strands hang through, and give way until they are taut: a third of the stiffness around the place where it stands."""
    def slack(belt: Belt) -> Belt:
        softer = {name: share * float(value) for name in ("specific_stiffness", "pretension")
                  if (value := getattr(belt, name)) is not None}
        return dataclasses.replace(belt, **softer)  # type: ignore[arg-type]

    train = tuple(slack(link) if isinstance(link, Belt) else link for link in solution["train"])
    return solution.changed(train=train, measured_stiffness=None)


def _shows(look: str) -> Callable[[Built, float], Built]:
    """What a short move shows, unless another fault shows first."""
    return _truth(shows=lambda truth, _size: look if truth.shows == MOVES else truth.shows)


def _uniform(low: float, high: float) -> Callable[[np.random.Generator, Solution], float]:
    return lambda random, _solution: float(random.uniform(low, high))


def _supply_tells(solution: Solution) -> bool:
    return _stepper(solution) and solution.get("supply_voltage") is not None


def _binding(solution: Solution, share: float) -> Solution:
    """A guide that binds by a share of what the motor gives at low speed."""
    curve, r = solution.get("torque_curve"), solution.get("travel_per_radian")
    if curve is None or r is None:
        return solution
    torque = float(np.asarray(curve(np.asarray([1.0]))).ravel()[0]) * float(solution.get("motor_count") or 1)
    return solution.changed(friction_force=float(solution["friction_force"]) + share * torque / float(r))


def _truth(**given: Callable[[Truth, float], Any]) -> Callable[[Built, float], Built]:
    """What changes the truth that no sheet says."""
    return lambda built, size: Built(built.real, dataclasses.replace(
        built.truth, **{name: change(built.truth, size) for name, change in given.items()}))


FAULTS: tuple[Fault, ...] = (
    Fault("wrong tooth count", "{size:.0f} teeth are really on the pulley or pinion", "Fit the pulley or pinion that is written"
                                                                                      " down",
          _toothed, _fewer_teeth, _given(_teeth), ("travel", "reversal", "ladder", "push", "acceleration", "drag"),
          setting="teeth"),
    Fault("two microsteps", "the driver is set to {size:.0f} microsteps, the controller calculates with another number",
          "Set the driver to the microsteps that are written down", lambda s: _stepper(s) and bool(s.get("microsteps")),
          lambda _random, s: 2 * float(s["microsteps"]), _given(lambda s, size: s.changed(microsteps=int(size))),
          ("travel", "reversal", "ladder"), setting="microsteps"),
    Fault("loose pinion", "the set screw of pulley or pinion leaves {size:.0f} µm of play", "Tighten pulley or pinion on its flat",
          _toothed, _uniform(180, 400), _truth(looseness=lambda t, size: t.looseness + size * 1e-6),
          ("reversal", "push", "acceleration", "ladder")),
    Fault("slack belt", "the belt pulls {size:.0%} of what it should", "Tension the belt", _belted, _uniform(0.16, 0.22),
          _given(_slack), ("reversal", "push", "tone", "acceleration", "ladder")),
    Fault("dragging cable", "a cable drags with {size:.0f} N over the plus half of the travel", "Route the cable anew", _linear,
          _uniform(24, 32), _truth(cable_force=lambda _t, size: size), ("reversal", "acceleration")),
    Fault("crossed pair", "two leads of the motor are crossed", "Swap the crossed leads at the plug", _stepper, _uniform(1, 1),
          _truth(shows=lambda _t, _size: BUZZES), (), hides=True),
    Fault("wrong sense resistor", "only {size:.0%} of the current that is set really flows",
          "Fit or enter the right sense resistor", _stepper, _uniform(0.56, 0.62),
          _given(lambda s, size: s.changed(current_peak=size * float(s["current_peak"]))),
          ("reversal", "push", "acceleration", "ladder", "warming")),
    Fault("weak supply", "the supply sags to {size:.0%} of its voltage under load", "Replace the supply", _supply_tells,
          _uniform(0.38, 0.42),
          _given(lambda s, size: s.changed(supply_voltage=size * float(s["supply_voltage"]))), ("ladder",)),
    Fault("binding guide", "a guide binds over the whole travel", "Align the guides", lambda s: _linear(s) and _stepper(s),
          _uniform(0.25, 0.3), _given(_binding), ("reversal", "push", "drag", "acceleration", "ladder")),
    Fault("heat growth", "the frame grows by {size:.0f} µm over the travel as it warms", "Let it warm before it works, or cool it",
          _linear, _uniform(170, 260), _truth(warm_growth=lambda t, size: t.warm_growth + size * 1e-6), ("drift",)),
    Fault("mis-set follower", "the second motor counts other microsteps than the first", "Set the follower as the leader",
          lambda s: float(s.get("motor_count") or 1) > 1 and s.get("fellow") is None, _uniform(1, 1),
          _truth(shows=lambda t, _size: t.shows if t.shows == BUZZES else RACKS), (), hides=True),
    Fault("lost samples", "the accelerometer loses {size:.0f} samples of a record", "Fix the sensor's wire and clock",
          lambda _s: True, lambda random, _s: float(random.integers(40, 120)),
          _truth(lost_samples=lambda _t, size: int(size)), ("acceleration",)),
    Fault("indicator sign", "the indicator counts the other way", "Turn the sign of the indicator round", lambda _s: True,
          _uniform(1, 1), _truth(indicator_sign=lambda _t, _size: -1.0), ("push",)),
    *(Fault(name, said, repair, lambda s: s.get("fellow") is not None, _uniform(1, 1), _shows(look), (), hides=True, both=True)
      for name, said, repair, look in (
        ("exchanged plugs", "the plugs of both motors are exchanged", "Exchange the plugs at the drivers", EXCHANGED),
        ("turned motor", "motor B turns the wrong way round", "Turn the direction of B round, in one place", CROSSES),
        ("unlike microsteps", "the two motors of the pair count unlike microsteps", "Set both drivers alike", ASKEW))),
)
NAMED = {one.name: one for one in FAULTS}


@record(frozen=True)
class Hidden:
    """A fault with its size."""

    fault: Fault
    size: float

    @property
    def said(self) -> str:
        """What is wrong, with its size."""
        return self.fault.said.format(size=self.size)


def afflicted(built: Built, hidden: Iterable[Hidden]) -> Built:
    """The machine with these faults."""
    for one in hidden:
        built = one.fault.afflict(built, one.size)
    return built


def possible(solution: Solution, seed: int) -> tuple[Hidden, ...]:
    """Every fault that suits an axis, with the size that it would have by this seed."""
    random = np.random.default_rng(seed)
    return tuple(Hidden(one, one.draw(random, solution)) for one in FAULTS if one.suits(solution))
