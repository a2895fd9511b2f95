"""Every hidden fault of a practice machine: what it is physically, how it is put right, what it changes in which reading."""

from __future__ import annotations

import dataclasses
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass

import numpy as np

from urban_mule.bench.simulated.axis import BUZZES, RACKS, Truth
from urban_mule.core.sheet.solution import Solution
from urban_mule.core.train.links import Belt, Rack

Signs = Mapping[str, str]  # by symptom: how it departs from a sound machine


@dataclass(frozen=True)
class Built:
    """A practice machine as it really is: what its parts and settings make of the sheet, and what no sheet says."""

    real: Solution
    truth: Truth


@dataclass(frozen=True)
class Fault:
    """A fault that may be hidden.

    said: what is wrong, with {size} in it where it has one; repair: what puts it right. suits: whether this axis can have it.
    draw: its size by a random source. afflict: the machine with it. signs: what departs, by symptom, but for those of the ladder,
    which are reckoned from the machine. hides: whether nothing that moves can be measured while it is there. setting: the given
    of the project that puts it right too, when it is set to what is really there. on_sheet: whether it changes what the sheet makes
    of the machine.
    """

    name: str
    said: str
    repair: str
    suits: Callable[[Solution], bool]
    draw: Callable[[np.random.Generator, Solution], float]
    afflict: Callable[[Built, float], Built]
    signs: Signs
    hides: bool = False
    setting: str = ""
    on_sheet: bool = False


def _linear(solution: Solution) -> bool:
    return "friction_force" in solution.sheet.inputs


def _stepper(solution: Solution) -> bool:
    return "step_angle" in solution.sheet.inputs


def _toothed(solution: Solution) -> bool:
    return any(isinstance(link, (Belt, Rack)) for link in solution.get("train") or ())


def _belted(solution: Solution) -> bool:
    return any(isinstance(link, Belt) for link in solution.get("train") or ())


def _with(truth: Callable[[Truth, float], Truth]) -> Callable[[Built, float], Built]:
    """What changes only the truth that no sheet says."""
    return lambda built, size: Built(built.real, truth(built.truth, size))


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


def _slack(truth: Truth, size: float) -> Truth:
    """With its slack side loose only one strand of a belt holds: half the stiffness, and a bight to be taken up."""
    first, *others = truth.modes
    slacker = dataclasses.replace(first, frequency=first.frequency / np.sqrt(2.2))
    return dataclasses.replace(truth, pretension=(truth.pretension or 0.0) * 0.3, compliance=truth.compliance * 2.2,
                               clearance=truth.clearance + size, modes=(slacker, *others))


def _dragged(truth: Truth, size: float) -> Truth:
    damped = tuple(dataclasses.replace(mode, damping_ratio=3.2 * mode.damping_ratio) for mode in truth.modes)
    return dataclasses.replace(truth, cable_lag=size, modes=damped)


def _uniform(low: float, high: float) -> Callable[[np.random.Generator, Solution], float]:
    return lambda random, _solution: float(random.uniform(low, high))


def _supply_tells(solution: Solution) -> bool:
    return _stepper(solution) and solution.get("supply_voltage") is not None


def _friction(solution: Solution, share: float) -> Solution:
    """A guide that binds by a share of what the motor gives at low speed."""
    curve, r = solution.get("torque_curve"), solution.get("travel_per_radian")
    if curve is None or r is None:
        return solution
    torque = float(np.asarray(curve(np.asarray([1.0]))).ravel()[0]) * float(solution.get("motor_count") or 1)
    return solution.changed(friction_force=float(solution["friction_force"]) + share * torque / float(r))


FAULTS: tuple[Fault, ...] = (
    Fault("wrong tooth count", "{size:.0f} teeth are really on the pulley or pinion", "Fit the pulley or pinion that is written"
                                                                                      " down",
          _toothed, _fewer_teeth, _given(_teeth), {"scale": "off by a tooth"}, setting="teeth", on_sheet=True),
    Fault("two microsteps", "the driver is set to {size:.0f} microsteps, the controller calculates with another number",
          "Set the driver to the microsteps that are written down", lambda s: _stepper(s) and bool(s.get("microsteps")),
          lambda _random, s: 2 * float(s["microsteps"]), _given(lambda s, size: s.changed(microsteps=int(size))),
          {"scale": "off by a power of two"}, setting="microsteps", on_sheet=True),
    Fault("loose pinion", "the set screw of pulley or pinion leaves {size:.0f} µm of play", "Tighten pulley or pinion on its flat",
          _toothed, _uniform(180, 400), _with(lambda t, size: dataclasses.replace(t, clearance=t.clearance + size * 1e-6)),
          {"lost motion": "much", "clearance": "much"}),
    Fault("slack belt", "the belt pulls less than a third of what it should", "Tension the belt", _belted, _uniform(90, 150),
          _with(lambda t, size: _slack(t, size * 1e-6)),
          {"lost motion": "much", "clearance": "much", "spring": "soft", "tension": "little", "first mode": "low"}),
    Fault("dragging cable", "a cable drags over the plus half of the travel", "Route the cable anew", _linear, _uniform(180, 260),
          _with(lambda t, size: _dragged(t, size * 1e-6)), {"along the travel": "grows to plus", "damping": "high"}),
    Fault("crossed pair", "two leads of the motor are crossed", "Swap the crossed leads at the plug", _stepper, _uniform(1, 1),
          _with(lambda t, _size: dataclasses.replace(t, shows=BUZZES)), {"a short move": "buzzes, and does not turn"}, hides=True),
    Fault("wrong sense resistor", "only {size:.0%} of the current that is set really flows",
          "Fit or enter the right sense resistor", _stepper, _uniform(0.5, 0.6),
          _given(lambda s, size: s.changed(current_peak=size * float(s["current_peak"]))), {}, on_sheet=True),
    Fault("weak supply", "the supply sags to {size:.0%} of its voltage under load", "Replace the supply", _supply_tells,
          _uniform(0.38, 0.42),
          _given(lambda s, size: s.changed(supply_voltage=size * float(s["supply_voltage"]))), {}, on_sheet=True),
    Fault("binding guide", "a guide binds over the whole travel", "Align the guides", lambda s: _linear(s) and _stepper(s),
          _uniform(0.35, 0.45), _given(_friction), {"drag": "much"}, on_sheet=True),
    Fault("heat growth", "the frame grows by {size:.0f} µm over the travel as it warms", "Let it warm before it works, or cool it",
          _linear, _uniform(170, 260), _with(lambda t, size: dataclasses.replace(t, warm_growth=t.warm_growth + size * 1e-6)),
          {"drift": "much"}),
    Fault("mis-set follower", "the second motor counts other microsteps than the first", "Set the follower as the leader",
          lambda s: float(s.get("motor_count") or 1) > 1, _uniform(1, 1),
          _with(lambda t, _size: t if t.shows == BUZZES else dataclasses.replace(t, shows=RACKS)),
          {"a short move": "one side runs ahead, and the beam jams"}, hides=True),
    Fault("lost samples", "the accelerometer loses {size:.0f} samples of a record", "Fix the sensor's wire and clock",
          lambda _s: True, lambda random, _s: float(random.integers(40, 120)),
          _with(lambda t, size: dataclasses.replace(t, lost_samples=int(size))), {"time base": "with gaps"}),
    Fault("indicator sign", "the indicator counts the other way", "Turn the sign of the indicator round", lambda _s: True,
          _uniform(1, 1), _with(lambda t, _size: dataclasses.replace(t, indicator_sign=-1.0)),
          {"sign of a push": "against the hand"}),
)
NAMED = {one.name: one for one in FAULTS}


@dataclass(frozen=True)
class Hidden:
    """A fault with its size."""

    fault: Fault
    size: float

    @property
    def said(self) -> str:
        """What is wrong, with its size."""
        return self.fault.said.format(size=self.size)


def sound_truth(seed: int, pretension: float | None = None) -> Truth:
    """A machine with nothing wrong: what no machine is free of stays small. pretension: [N]."""
    random = np.random.default_rng(seed)
    truth = Truth()
    first = float(random.uniform(26, 40))
    mode, *others = truth.modes
    return dataclasses.replace(
        truth, seed=seed, clearance=float(random.uniform(8e-6, 25e-6)), clearance_wear=float(random.uniform(0, 8e-6)),
        scale_error=float(random.uniform(-4e-5, 4e-5)), compliance=float(random.uniform(0.8e-7, 2.2e-7)),
        preload_torque=float(random.uniform(0.02, 0.04)), warm_growth=float(random.uniform(5e-6, 20e-6)),
        torque_factor=float(random.uniform(0.94, 1.05)), pretension=pretension,
        modes=(dataclasses.replace(mode, frequency=first, damping_ratio=float(random.uniform(0.025, 0.035))), *others))


def afflicted(solution: Solution, truth: Truth, hidden: Iterable[Hidden]) -> Built:
    """The machine with these faults."""
    built = Built(solution, truth)
    for one in hidden:
        built = one.fault.afflict(built, one.size)
    return built


def possible(solution: Solution, seed: int) -> tuple[Hidden, ...]:
    """Every fault that suits an axis, with the size that it would have by this seed."""
    random = np.random.default_rng(seed)
    return tuple(Hidden(one, one.draw(random, solution)) for one in FAULTS if one.suits(solution))
