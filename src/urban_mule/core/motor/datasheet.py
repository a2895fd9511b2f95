"""Is a data sheet plausible? Figures of real motors hang together by scaling; a slipped unit or decimal point does not.

The limits are wide: an unusual motor passes, a figure that is ten or a thousand times off does not.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from typing import Any

from urban_mule.core.motor.servo import ServoMotor
from urban_mule.core.motor.servo_winding import servo_winding
from urban_mule.core.motor.shaft import AnyMotor
from urban_mule.core.motor.stepper import StepperMotor, rated_current_peak
from urban_mule.core.parts.figures import PartFigures
from urban_mule.core.sheet.given import Given, givens, words
from urban_mule.core.sheet.record import record
from urban_mule.core.sheet.units import show
from urban_mule.core.sheet.wording import size

SLIPS = (1e-3, 1e3, 0.1, 10.0, 1e-4, 1e4, 1 / 141.612, 141.612)  # prefix, decimal point, g·cm² or kg·cm², ozf·in
USUAL_STEPS = (0.36, 0.45, 0.72, 0.9, 1.2, 1.8, 3.6, 3.75, 7.5, 15.0, 18.0)  # degrees
LEAST = 1e-300  # a figure that a logarithm takes
DECLARED: dict[str, Given] = {
    one.name: one for record in (AnyMotor, StepperMotor, ServoMotor, PartFigures) for one in givens(record)}


@record(frozen=True, eq=False, repr=False)
class Relation:
    """One figure made of others, and where it lies for real parts; `suspect` is the given that is likeliest wrong."""

    name: str
    unit: str
    low: float
    high: float
    suspect: str
    needs: tuple[str, ...]
    figure: Callable[[Mapping[str, Any]], float]

    def of(self, values: Mapping[str, Any]) -> float:
        """The figure of these givens; without end where they are so small that it would be divided by nothing."""
        try:
            return float(self.figure(values))
        except (ZeroDivisionError, OverflowError):
            return math.inf


@record(frozen=True, eq=False, repr=False)
class Doubt:
    """A given that does not fit the others: what is odd, and a value that would fit, when one slip explains it."""

    name: str
    sentence: str
    suggestion: float | None = None


def _power(v: Mapping[str, Any]) -> float:
    peak = rated_current_peak(v["rated_current"], v.get("rated_current_is") or "rms")
    return float(peak**2 * v["phase_resistance"])


STEPPER = (
    Relation("time constant L/R", "s", 0.3e-3, 40e-3, "phase_inductance", ("phase_inductance", "phase_resistance"),
             lambda v: v["phase_inductance"] / v["phase_resistance"]),
    Relation("heat at the rated current", "W", 1.5, 300.0, "rated_current", ("rated_current", "phase_resistance"), _power),
    Relation("voltage at the rated current", "V", 0.3, 20.0, "phase_resistance", ("rated_current", "phase_resistance"),
             lambda v: v["rated_current"] * v["phase_resistance"]),
    Relation("holding torque against rotor inertia", "rad/s²", 3e3, 3e5, "rotor_inertia", ("holding_torque", "rotor_inertia"),
             lambda v: v["holding_torque"] / v["rotor_inertia"]),
    Relation("torque² per watt against rotor inertia", "1/s", 300.0, 4e4, "holding_torque",
             ("holding_torque", "rotor_inertia", "rated_current", "phase_resistance"),
             lambda v: v["holding_torque"] ** 2 / _power(v) / v["rotor_inertia"]),
    Relation("drag against holding torque", "", 1e-3, 0.2, "drag_torque", ("drag_torque", "holding_torque"),
             lambda v: v["drag_torque"] / v["holding_torque"] if v["drag_torque"] else 0.01),
    Relation("holding torque against mass", "N·m/kg", 0.3, 8.0, "mass", ("holding_torque", "mass"),
             lambda v: v["holding_torque"] / v["mass"]),
)
SERVO = (
    Relation("peak against rated torque", "", 1.2, 6.0, "motor_peak_torque", ("motor_peak_torque", "rated_torque"),
             lambda v: v["motor_peak_torque"] / v["rated_torque"]),
    Relation("rated power", "W", 5.0, 2e4, "rated_speed", ("rated_torque", "rated_speed"),
             lambda v: v["rated_torque"] * v["rated_speed"]),
    Relation("rated torque against rotor inertia", "rad/s²", 3e2, 1.5e5, "rotor_inertia", ("rated_torque", "rotor_inertia"),
             lambda v: v["rated_torque"] / v["rotor_inertia"]),
    Relation("maximum against rated speed", "", 1.01, 4.0, "max_speed", ("max_speed", "rated_speed"),
             lambda v: v["max_speed"] / v["rated_speed"]),
    Relation("rated torque against mass", "N·m/kg", 0.1, 6.0, "mass", ("rated_torque", "mass"),
             lambda v: v["rated_torque"] / v["mass"]),
    Relation("time constant L/R", "s", 0.2e-3, 40e-3, "phase_inductance", ("phase_inductance", "phase_resistance"),
             lambda v: v["phase_inductance"] / v["phase_resistance"]),
    Relation("current at the rated torque", "A", 0.2, 150.0, "torque_constant_rms", ("rated_torque", "torque_constant_rms"),
             lambda v: v["rated_torque"] / v["torque_constant_rms"]),
    Relation("no-load speed at the rated voltage against the maximum speed", "", 0.7, 3.0, "torque_constant_rms",
             ("torque_constant_rms", "rated_voltage", "max_speed"),
             lambda v: servo_winding(v["torque_constant_rms"], 1, 1.0, 1.0, v["rated_voltage"]).no_load_speed / v["max_speed"]),
    Relation("voltage at the rated torque against the rated voltage", "", 2e-3, 0.4, "phase_resistance",
             ("rated_torque", "torque_constant_rms", "phase_resistance", "rated_voltage"),
             lambda v: v["rated_torque"] / v["torque_constant_rms"] * v["phase_resistance"] / v["rated_voltage"]),
)
RELATIONS = {"stepper": STEPPER, "servo": SERVO}


def doubts(kind: str, values: Mapping[str, Any]) -> tuple[Doubt, ...]:
    """What does not fit together in a data sheet; kind: stepper or servo; values: its givens in SI, None where not known.

    Each given is named once, with the value that would fit everything when one usual slip explains it.
    """
    broken = [relation for relation in RELATIONS.get(kind, ()) if _broken(relation, values)]
    found: dict[str, Doubt] = {}
    for relation in broken:
        name, mended = _explained(relation, broken, values)
        if name not in found:
            found[name] = Doubt(name, _sentence(name, relation, values, mended), mended)
        if mended is not None and not any(_broken(other, {**values, name: mended}) for other in broken):
            break  # this one slip explains all of it
    step = values.get("step_angle")
    if kind == "stepper" and step is not None:
        degrees = math.degrees(step)
        if not any(math.isclose(degrees, usual, rel_tol=2e-3) for usual in USUAL_STEPS):
            said = f"A step angle of {size(degrees)}° is unusual; 1.8° and 0.9° are usual."
            found["step_angle"] = Doubt("step_angle", said, math.radians(1.8))
    return tuple(found.values())


def _broken(relation: Relation, values: Mapping[str, Any]) -> bool:
    if any(values.get(name) is None for name in relation.needs):
        return False
    return not relation.low <= relation.of(values) <= relation.high


def _explained(relation: Relation, broken: list[Relation], values: Mapping[str, Any]) -> tuple[str, float | None]:
    """Which given a single slip of a usual size explains best, with its mended value; else the likeliest, unmended.

    The mending that leaves the fewest relations broken wins; among equals the suspect, then the most ordinary motor.
    """
    relations = STEPPER if relation in STEPPER else SERVO
    mended = []
    for name in relation.needs:
        for slip in SLIPS:
            tried = {**values, name: values[name] * slip}
            left = sum(_broken(one, tried) for one in relations)
            if left < len(broken) and not _broken(relation, tried):
                mended.append((left, name != relation.suspect, _oddness(relations, tried), name, float(tried[name])))
    if not mended:
        return relation.suspect, None
    *_, name, value = min(mended)
    return name, value


def _oddness(relations: tuple[Relation, ...], values: Mapping[str, Any]) -> float:
    """How far the figures lie from the middle of what real parts have, on a logarithmic scale."""
    known = [one for one in relations if all(values.get(name) is not None for name in one.needs)]
    return sum(abs(math.log(max(one.of(values), LEAST) / math.sqrt(one.low * one.high)) / math.log(one.high / one.low))
               for one in known)


def _sentence(name: str, relation: Relation, values: Mapping[str, Any], mended: float | None) -> str:
    figure = relation.of(values)
    side = "low" if figure < relation.low else "high"
    much = size(figure) if math.isfinite(figure) else "beyond all measure,"
    said = f"{words(name)} looks wrong: {relation.name} is {much} {relation.unit}".rstrip()
    one = DECLARED[name]
    fits = "" if mended is None else f"; {show(mended, one.unit, digits=3, own=one.shown)} would fit: a slip of unit or point?"
    return f"{said}, too {side} for a real motor{fits or '.'}"

