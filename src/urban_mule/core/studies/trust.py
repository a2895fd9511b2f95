"""What was computed against what was measured, each with its uncertainty; what of the model is likeliest wrong; what to adopt."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from typing import Any

from urban_mule.core.moves.ladder import scatters
from urban_mule.core.sheet.given import givens
from urban_mule.core.sheet.quantity import NotKnown
from urban_mule.core.sheet.record import record
from urban_mule.core.sheet.solution import Solution
from urban_mule.core.studies.tolerance import swings_of

AGREE_WITHIN = 2.0  # times the combined standard uncertainty
ASSUMED = {  # half widths, as shares, where nobody has said one
    "efficiency": 0.05, "friction_coefficient": 0.5, "friction_force": 0.5, "friction_torque": 0.5, "specific_stiffness": 0.25,
    "torsional_stiffness": 0.25, "mesh_stiffness": 0.3, "nut_stiffness": 0.25, "bearing_stiffness": 0.3, "clearance": 0.5,
    "moving_mass": 0.05, "load_inertia": 0.1, "pretension": 0.2}
OTHERS = 0.02
EVEN = math.sqrt(3)  # of a half width, to the standard deviation of what is evenly likely within it
MODE_READ, SHEET_TORQUE, TEETH, SHEET_HEAT, CASE_READ = 0.02, 0.1, 2e-4, 0.15, 0.05  # standard uncertainties as shares
NAMED = 2  # inputs that are named as likeliest wrong


@record(frozen=True)
class Adoption:
    """What may be taken over: of which part (axis, motor or driver), which given, its value in SI."""

    part: str
    given: str
    value: float


NEXT_RUN, NOT_ON_RECORD = "accuracy of the next run", "what was corrected is not on record"


@record(frozen=True, eq=False, repr=False)
class Prediction:
    """One prediction beside its measured fellow, both in SI with standard uncertainties.

    quantity: whose unit and way of showing it has. agrees: within twice the combined uncertainty; None while one is not known.
    likeliest: labels of the inputs that move it most. adopt: what may be taken over.
    """

    words: str
    quantity: str
    computed: float | None
    computed_uncertainty: float
    measured: float | None
    measured_uncertainty: float
    likeliest: tuple[str, ...] = ()
    adopt: Adoption | None = None
    lower_bound: bool = False

    @property
    def agrees(self) -> bool | None:
        if self.computed is None or self.measured is None:
            return None
        apart = self.measured - self.computed
        room = AGREE_WITHIN * math.hypot(self.computed_uncertainty, self.measured_uncertainty)
        return bool(apart <= room if self.lower_bound else abs(apart) <= room)


def predictions(
    solution: Solution, tolerances: Mapping[str, float], corrected: frozenset[str] | None = None
) -> tuple[Prediction, ...]:
    """Every prediction of an axis that has a measured fellow on its sheet.

    tolerances: by label, what somebody has said. corrected: which of scale, backlash and table were set on the machine between the
    last two positioning runs, None where nothing says so. tolerances: [1].
    """
    found = [*(make(solution, tolerances) for make in MAKERS), _next_run(solution, corrected)]
    return tuple(one for one in found if one is not None)


def _inputs_of(solution: Solution, name: str, said: Mapping[str, float]) -> dict[str, float]:
    """The inputs that a quantity depends on, by label, each with its half width as a share."""
    sheet, found = solution.sheet, {}
    for label, one in sheet.inputs.items():
        if not one.structure and not one.choices and name in sheet.dependents[label]:
            found[label] = said.get(label, ASSUMED.get(label, OTHERS))
    for place, link in enumerate(solution.get("train") or ()):
        for one in givens(type(link)):
            if not one.choices and not one.whole and isinstance(getattr(link, one.name), (int, float)):
                label = f"train[{place}].{one.name}"
                found[label] = said.get(label, ASSUMED.get(one.name, OTHERS))
    return found


def _computed(solution: Solution, name: str, said: Mapping[str, float]) -> tuple[float | None, float, tuple[str, ...]]:
    """A computed value, its standard uncertainty by what its inputs may be, and which of them move it most."""
    value = solution.get(name)
    if value is None:
        return None, 0.0, ()
    try:
        swings = swings_of(solution, name, _inputs_of(solution, name, said))
    except NotKnown:
        return float(value), 0.0, ()
    total = math.sqrt(sum((one.width / 2 / EVEN) ** 2 for one in swings if math.isfinite(one.width)))
    return float(value), total, tuple(one.name for one in swings[:NAMED] if one.width > 0)


def _first_mode(solution: Solution, said: Mapping[str, float]) -> Prediction | None:
    modes = [mode for mode in solution.get("modes") or () if mode.strength >= 0.1]
    plain = solution.changed(measured_stiffness=None)
    computed, u, likeliest = _computed(plain, "first_axial_mode", said)
    if computed is None and not modes:
        return None
    measured = min((mode.frequency for mode in modes), default=None)
    inertia, motors = solution.get("moved_inertia"), solution.get("motor_count")
    adopt = None
    if measured is not None and inertia and motors:
        adopt = Adoption("axis", "measured_stiffness", float((2 * math.pi * measured) ** 2 * inertia / motors))
    return Prediction("first mode", "first_axial_mode", computed, u, measured, MODE_READ * (measured or 0.0), likeliest, adopt)


def _lost_motion(solution: Solution, said: Mapping[str, float]) -> Prediction | None:
    measured, lag = solution.get("backlash"), float(solution.get("reversal_lag") or 0.0)
    computed, u, likeliest = _computed(solution, "predicted_lost_motion", said)
    if measured is None and computed is None:
        return None
    stiffness, friction, adopt = solution.get("train_stiffness"), solution.get("friction_force"), None
    if measured is not None and stiffness and friction is not None:
        wound = measured - lag - float(solution.get("train_clearance") or 0.0)
        rest = float(solution["friction_load"]) - float(friction)  # what weight and coefficient make of it
        force = wound * float(stiffness) * float(solution["motor_count"]) / 2 - rest
        adopt = Adoption("axis", "friction_force", float(force)) if force > 0 else None
    return Prediction("lost motion", "backlash", None if computed is None else computed + lag, u, measured,
                      float(solution.get("backlash_uncertainty") or 0.0), likeliest, adopt)


def _scale(solution: Solution, _said: Mapping[str, float]) -> Prediction | None:
    measured = solution.get("scale_ratio")
    if measured is None:
        return None
    u = float(solution.get("length_slope_uncertainty") or TEETH)
    return Prediction("scale", "scale_ratio", 1.0, TEETH, float(measured), u, ("what the detective on Scale names",))


def _torque(solution: Solution, _said: Mapping[str, float]) -> Prediction | None:
    low, high = solution.get("torque_factor_least"), solution.get("torque_factor_most")
    if low is None or high is None or scatters(low, high):
        return None
    low, high = min(low, high), max(low, high)
    middle = (low + high) / 2
    return Prediction("torque of the motor", "torque_factor", 1.0, SHEET_TORQUE, middle, (high - low) / 2 / EVEN,
                      ("current_peak", "holding_torque"), Adoption("motor", "torque_factor", round(middle, 3)))


def _heat(solution: Solution, _said: Mapping[str, float]) -> Prediction | None:
    measured, computed = solution.get("measured_thermal_resistance"), solution.get("thermal_resistance")
    if measured is None:
        return None
    return Prediction(
        "thermal resistance, at least", "thermal_resistance", computed, SHEET_HEAT * float(computed or 0.0), measured,
        CASE_READ * measured, ("thermal_resistance", "current_peak"),
        Adoption("motor", "thermal_resistance", float(measured)), lower_bound=True)


def _driver_heat(solution: Solution, _said: Mapping[str, float]) -> Prediction | None:
    measured, computed = solution.get("measured_cooled_resistance"), solution.get("cooled_resistance")
    if measured is None:
        return None
    way = solution.get("cooling")
    held = "driver_thermal_resistance" if way is None else f"thermal_resistance_{way}"
    return Prediction(
        "thermal resistance of the driver, at least", "cooled_resistance", computed, SHEET_HEAT * float(computed or 0.0), measured,
        CASE_READ * measured, (held, "bridge_resistance"), Adoption("driver", held, float(measured)), lower_bound=True)


def _next_run(solution: Solution, corrected: frozenset[str] | None) -> Prediction | None:
    """What the run before promised of what was then set, whatever the run after it came to."""
    before, measured = solution.get("promised_before"), solution.get("positioning_accuracy")
    if before is None or measured is None:
        return None
    ways = {frozenset(): ("as it was", before.as_it_was), frozenset({"scale"}): ("with the scale", before.scale),
            frozenset({"backlash"}): ("with backlash", before.backlash), frozenset({"table"}): ("with a table", before.table),
            frozenset({"scale", "table"}): ("with a table", before.table)}
    u = float(solution.get("positioning_accuracy_uncertainty") or 0.0)
    if corrected is None:
        return Prediction(f"{NEXT_RUN}, {NOT_ON_RECORD}", "positioning_accuracy", None, u, float(measured), u)
    if {"table", "backlash"} <= corrected:
        words, value = "with all", before.all
    elif corrected == {"scale", "backlash"}:
        words, value = "with scale and backlash", None  # a run promises each alone, and both only with a table
    else:
        words, value = ways[corrected]
    return Prediction(f"{NEXT_RUN}, {words}", "positioning_accuracy", value, u, float(measured), u)


MAKERS: tuple[Callable[[Solution, Mapping[str, float]], Any], ...] = (
    _first_mode, _lost_motion, _scale, _torque, _heat, _driver_heat)
