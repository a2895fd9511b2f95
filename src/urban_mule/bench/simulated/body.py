"""What an axis is in its motion: one motor with its share of the load, as numbers that an integration needs.

What the project does not say is usual of a small machine, so that anything can be practised on.
"""

from __future__ import annotations

import math
from dataclasses import astuple

import numpy as np

from urban_mule.core.motor.stepper import StepperWinding
from urban_mule.core.sheet.once import once
from urban_mule.core.sheet.quantity import NotKnown
from urban_mule.core.sheet.record import record
from urban_mule.core.sheet.solution import Solution
from urban_mule.core.train.fold import torque_into_train

NEEDS = ("torque_constant", "rotor_teeth", "winding_resistance", "winding_inductance", "current_peak", "available_voltage",
         "turning_inertia", "moved_inertia", "travel_per_radian", "motor_count", "train_stiffness")
USUAL_MOTOR = {"torque_constant": 0.35, "rotor_teeth": 50.0, "winding_resistance": 0.6, "winding_inductance": 2.4e-3,
               "current_peak": 4.0, "available_voltage": 46.0, "turning_inertia": 6e-5}
USUAL_RATIO, USUAL_RADIUS, USUAL_MODE = 3.0, 0.008, 60.0  # load to motor, as inertia; m for a radian; Hz, the motor held
FIRM = 3.0  # times its resonance with the motor held: how firmly a servo's loop holds the motor


@record(frozen=True)
class Mechanism:
    """One motor with its share of the axis, in SI.

    torque_constant [N·m/A of peak], turning_inertia [kg·m²], moved_inertia [kg or kg·m²], train_stiffness [effort/travel],
    clearance [travel] and what it grows by along the travel [1], friction and weight [effort], viscous [effort by travel/s],
    turning_friction of the train's own drag [N·m], drag_torque of the motor, which its iron makes as it turns [N·m]. cable_force:
    with which a cable drags at the far end [effort], from cable_from on, all of it at cable_over [travel]. rotor_damping: ratio of
    the rotor's swing about its field; train_damping: of the load on the train. loop_stiffness [N·m/rad], torque_limit [N·m]: of a
    servo, else 0. velocity_gain [N·m·s/rad], velocity_integral [s], position_gain [1/s], feedforward [1]: of a servo whose loops
    are known, with the time constants of its current loop and torque filter and the delay of its velocity loop [s]; its
    notch: middle [rad/s], 0 for none, width and depth.
    """

    torque_constant: float
    rotor_teeth: float
    winding_resistance: float
    winding_inductance: float
    current_peak: float
    available_voltage: float
    turning_inertia: float
    moved_inertia: float
    travel_per_radian: float
    train_stiffness: float
    drag_torque: float = 0.0
    clearance: float = 0.0
    clearance_growth: float = 0.0
    train_efficiency: float = 1.0
    back_efficiency: float = 1.0
    turning_friction: float = 0.0
    friction: float = 0.0
    viscous: float = 0.0
    weight: float = 0.0
    cable_force: float = 0.0
    cable_from: float = 0.0
    cable_over: float = 1.0
    rotor_damping: float = 0.06
    train_damping: float = 0.03
    frame_mass: float = 0.0
    frame_frequency: float = 0.0
    frame_damping: float = 0.04
    loop_stiffness: float = 0.0
    torque_limit: float = 0.0
    velocity_gain: float = 0.0
    velocity_integral: float = math.inf
    position_gain: float = 0.0
    feedforward: float = 0.0
    current_time: float = 0.0
    filter_time: float = 0.0
    loop_delay: float = 0.0
    notch_middle: float = 0.0
    notch_width: float = 0.5
    notch_depth: float = 0.1

    @once
    def numbers(self) -> tuple[float, ...]:
        """All of it in its order."""
        return astuple(self)

    @property
    def period(self) -> float:
        """Travel after which a stepper's field is as before [travel]."""
        return 2 * math.pi * self.travel_per_radian / self.rotor_teeth


def mechanism_of(solution: Solution, **more: float) -> Mechanism:
    """The axis of a solution. more: what no sheet says. Raises NotKnown for what it does not know."""
    known = {**{name: solution.get(name) for name in NEEDS}, **_printed(solution)}
    missing = next((name for name, value in known.items() if value is None), None)
    if missing is not None:
        raise NotKnown(f"{solution.sheet.label(missing)} is not known", missing)
    return _made(solution, {name: float(value) for name, value in known.items() if value is not None}, more)


def practised(solution: Solution, **more: float) -> Mechanism:
    """As `mechanism_of`, of any axis: what is not known of it is as usual, and a servo is held by its loop."""
    servo = "step_angle" not in solution.sheet.inputs
    known = {name: float(value) for name in NEEDS if (value := solution.get(name)) is not None} | _printed(solution)
    values = {**USUAL_MOTOR, "motor_count": 1.0, "travel_per_radian": USUAL_RADIUS, **known}
    inertia, r = values["turning_inertia"], values["travel_per_radian"]
    values["moved_inertia"] = values.get("moved_inertia") or USUAL_RATIO * inertia / r**2 * values["motor_count"]
    values.setdefault("train_stiffness", values["moved_inertia"] / values["motor_count"] * (2 * math.pi * USUAL_MODE) ** 2)
    if servo:
        held = math.sqrt(values["train_stiffness"] * values["motor_count"] / values["moved_inertia"])
        more = {"loop_stiffness": (FIRM * held) ** 2 * inertia, "torque_limit": _limit(solution), **_loops(solution), **more}
    return _made(solution, values, more)


def _loops(solution: Solution) -> dict[str, float]:
    """The loops of a servo as they are set, where it is known what its drive is like."""
    loops = solution.get("loops_to_set") if "loops_to_set" in solution.sheet.quantities else None
    if loops is None:
        return {}
    plant = loops.velocity.plant
    return {"velocity_gain": loops.velocity.crossing * plant.inertia, "velocity_integral": loops.velocity.integral,
            "position_gain": loops.position_gain, "feedforward": float(solution["velocity_feedforward"]),
            "current_time": plant.current, "filter_time": plant.filter, "loop_delay": plant.delay,
            **({} if plant.notch is None else dict(zip(("notch_middle", "notch_width", "notch_depth"), plant.notch, strict=True)))}


def _printed(solution: Solution) -> dict[str, float]:
    """The winding of a stepper by its printed curve, where that fits one."""
    found = solution.get("running_winding") if solution.get("printed_curves") is not None else None
    if not isinstance(found, StepperWinding):
        return {}
    return {"torque_constant": float(found.torque_constant), "winding_resistance": float(found.resistance),
            "winding_inductance": float(found.inductance)}


def _made(solution: Solution, values: dict[str, float], more: dict[str, float]) -> Mechanism:
    count = values.pop("motor_count")
    values["moved_inertia"] /= count
    return Mechanism(**{
        **values, "drag_torque": _or(solution, "drag_torque", 0.0), "clearance": _or(solution, "train_clearance", 0.0),
        "train_efficiency": _or(solution, "train_efficiency", 1.0), "back_efficiency": _or(solution, "rest_back_efficiency", 1.0),
        "turning_friction": _own_drag(solution), "friction": _or(solution, "friction_load", 0.0) / count,
        "weight": _or(solution, "gravity_load", 0.0) / count, **more})


def _own_drag(solution: Solution) -> float:
    """What the train drags by itself, at the motor [N·m]."""
    try:
        return float(torque_into_train(solution.get("train") or (), 0.0, 1.0, 0.0))
    except NotKnown:
        return 0.0


def _limit(solution: Solution) -> float:
    """The most torque a servo gives [N·m]; without limit where nobody said it."""
    curve = solution.get("torque_curve")
    return float(np.asarray(curve(np.zeros(1)))[0]) if curve is not None else math.inf


def _or(solution: Solution, name: str, otherwise: float) -> float:
    return float(solution.get(name, otherwise))
