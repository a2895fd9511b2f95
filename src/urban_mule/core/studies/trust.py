"""What was computed against what was measured, each with its uncertainty; what of the model is likeliest wrong; what to adopt."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from typing import Any

from urban_mule.core.motor.stepper_modes import train_stiffness_of
from urban_mule.core.readings.warming import STATES
from urban_mule.core.ring.train_hump import FORMULA, READ_TO, departure, is_unassigned, train_hump
from urban_mule.core.sheet.quantity import NotKnown
from urban_mule.core.sheet.record import record
from urban_mule.core.sheet.solution import Solution
from urban_mule.core.studies.doubts import EVEN, Doubts, doubts_of, uncertain_inputs

AGREE_WITHIN = 2.0  # times the combined standard uncertainty
SHEET_TORQUE, TEETH, SHEET_HEAT, CASE_READ = 0.1, 2e-4, 0.15, 0.05  # standard uncertainties as shares
NAMED = 2  # inputs that are named as likeliest wrong


@record(frozen=True)
class Adoption:
    """What may be taken over: of which part (axis, motor or driver), which given, its value in SI."""

    part: str
    given: str
    value: float


UNASSIGNED = "none of these humps can be told to be the train's"
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
    solution: Solution, tolerances: Mapping[str, float], said: frozenset[str], corrected: frozenset[str] | None = None
) -> tuple[Prediction, ...]:
    """Every prediction of an axis that has a measured fellow on its sheet.

    tolerances: by label, what somebody has typed [1]; said: the labels of what somebody has given. corrected: which of scale,
    backlash and table were set on the machine between the last two positioning runs, None where nothing says so.
    """
    plain = solution.changed(measured_stiffness=None)
    doubts = doubts_of(plain, uncertain_inputs(plain, tolerances, said))
    found = [*(make(solution, doubts) for make in MAKERS), _next_run(solution, corrected)]
    return tuple(one for one in found if one is not None)


def _computed(solution: Solution, name: str, doubts: Doubts) -> tuple[float | None, float, tuple[str, ...]]:
    """A computed value, its standard uncertainty by what its inputs may be, and which of them move it most."""
    value = doubts.values.get(name, solution.get(name))
    if value is None or name not in doubts.moved:
        return None if value is None else float(value), 0.0, ()
    return float(value), doubts.standard(name), tuple(label for label, _ in doubts.named(name)[:NAMED])


def _first_mode(solution: Solution, doubts: Doubts) -> Prediction | None:
    modes = solution.get("modes") or ()
    name = "resonance_to_compare" if modes else "first_resonance"
    computed, u, likeliest = _computed(solution, name, doubts)
    if computed is None:
        return None
    if not modes:
        return Prediction("first mode", "first_resonance", computed, math.hypot(u, FORMULA * computed), None, 0.0, likeliest)
    hump = train_hump(modes, computed, solution["acceleration_reading"].train_mode, solution.get("other_modes") or ())
    whole = math.hypot(u, FORMULA * computed)
    if is_unassigned(hump, departure(hump.frequency, computed, u)):
        return Prediction(f"first mode, {UNASSIGNED}", "first_resonance", computed, whole, None, 0.0)
    return Prediction("first mode", "first_resonance", computed, whole, hump.frequency, READ_TO * hump.frequency, likeliest,
                      _stiffness_for(solution, hump.frequency))


def _stiffness_for(solution: Solution, frequency: float) -> Adoption | None:
    """The stiffness of a train that makes the mode which was measured, the motor's field taken out; None where there is none."""
    inertia, motors = solution.get("moved_inertia"), solution.get("motor_count")
    if not inertia or not motors:
        return None
    if not solution.sheet.has("set_torque"):
        return Adoption("axis", "measured_stiffness", float((2 * math.pi * frequency) ** 2 * inertia / motors))
    holding = solution["acceleration_reading"].state == STATES[1]
    field = solution.get("rotor_teeth"), solution.get("set_torque"), solution.get("hold_fraction") if holding else 1.0
    around = solution.get("turning_inertia"), solution.get("travel_per_radian")
    if any(one is None for one in (*field, *around)):
        return None
    try:
        stiffness = train_stiffness_of(frequency, math.prod(field), around[0], inertia, motors, around[1])
    except NotKnown:
        return None
    return Adoption("axis", "measured_stiffness", float(stiffness))


def _lost_motion(solution: Solution, doubts: Doubts) -> Prediction | None:
    measured, lag = solution.get("backlash"), float(solution.get("reversal_lag") or 0.0)
    computed, u, likeliest = _computed(solution, "expected_lost_motion", doubts)
    if measured is None and computed is None:
        return None
    stiffness, friction, stays, adopt = (
        solution.get("train_stiffness"), solution.get("friction_force"), solution.get("windup_share"), None)
    if measured is not None and stiffness and friction is not None and stays:
        wound = (measured - lag - float(solution.get("play_at_reversal") or 0.0)) / float(stays)
        rest = float(solution["friction_load"]) - float(friction)  # what weight and coefficient make of it
        force = wound * float(stiffness) * float(solution["motor_count"]) / 2 - rest
        adopt = Adoption("axis", "friction_force", float(force)) if force > 0 else None
    return Prediction("lost motion", "backlash", computed, u, measured,
                      float(solution.get("backlash_uncertainty") or 0.0), likeliest, adopt)


def _scale(solution: Solution, _doubts: Doubts) -> Prediction | None:
    measured = solution.get("scale_ratio")
    if measured is None:
        return None
    u = float(solution.get("length_slope_uncertainty") or TEETH)
    return Prediction("scale", "scale_ratio", 1.0, TEETH, float(measured), u, ("what the detective on Scale names",))


def _torque(solution: Solution, _doubts: Doubts) -> Prediction | None:
    bounds = solution.get("torque_bounds")
    if bounds is None:
        return None
    low, high = bounds
    middle = (low + high) / 2
    return Prediction("torque of the motor", "torque_factor", 1.0, SHEET_TORQUE, middle, (high - low) / 2 / EVEN,
                      ("current_peak", "holding_torque"), Adoption("motor", "torque_factor", round(middle, 3)))


def _heat(solution: Solution, _doubts: Doubts) -> Prediction | None:
    measured, computed = solution.get("measured_thermal_resistance"), solution.get("thermal_resistance")
    if measured is None:
        return None
    return Prediction(
        "thermal resistance, at least", "thermal_resistance", computed, SHEET_HEAT * float(computed or 0.0), measured,
        CASE_READ * measured, ("thermal_resistance", "current_peak"),
        Adoption("motor", "thermal_resistance", float(measured)), lower_bound=True)


def _driver_heat(solution: Solution, _doubts: Doubts) -> Prediction | None:
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


MAKERS: tuple[Callable[[Solution, Doubts], Any], ...] = (
    _first_mode, _lost_motion, _scale, _torque, _heat, _driver_heat)
