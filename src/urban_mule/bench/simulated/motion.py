"""One axis with a stepper, integrated in time: what it does follows from what it is, and nothing is planted.

Two phases under a limited voltage turn the rotor on its field; a spring with play carries the load, which friction holds.
Compiled by numba where that is installed (the extra `fast`): a compiler that comes as a package needs no tool chain on the user's
machine, as an extension of our own would. Without it the same loop runs as plain Python, a hundred times slower.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from urban_mule.core.sheet.quantity import NotKnown
from urban_mule.core.sheet.solution import Solution

try:
    from numba import njit
    _compiled: Callable[..., Any] = njit(cache=True, fastmath=True)
except ImportError:
    def _compiled(plain: Callable[..., Any]) -> Callable[..., Any]:
        return plain

STEP = 2e-5  # s
TRACKING = 2 * math.pi * 1200  # 1/s: how fast the driver brings a current to where it is commanded
RINGS = 0.004  # damping ratio with which modes are looked at
SETTLES = 0.4  # s that it is left alone after a move
FALLEN = 0.95  # share of its speed below which a motor has fallen out
SLIPPED = 2.0  # full steps between field and rotor from which steps are lost
NEEDS = ("torque_constant", "rotor_teeth", "winding_resistance", "winding_inductance", "current_peak", "available_voltage",
         "turning_inertia", "moved_inertia", "travel_per_radian", "motor_count", "train_stiffness")


@dataclass(frozen=True)
class Mechanism:
    """One motor with its share of the axis, in SI.

    torque_constant [N·m/A of peak], turning_inertia [kg·m²], moved_inertia [kg or kg·m²], train_stiffness [effort/travel],
    clearance [travel], friction and weight [effort]. rotor_damping: ratio of the rotor's swing about its field; train_damping: of
    the load on the train.
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
    train_efficiency: float = 1.0
    friction: float = 0.0
    weight: float = 0.0
    rotor_damping: float = 0.06
    train_damping: float = 0.03


@dataclass(frozen=True)
class Swing:
    """What an axis did: times [s], where its load was [travel], how fast [travel/s], and the steps it lost, in full steps."""

    time: np.ndarray
    position: np.ndarray
    speed: np.ndarray
    lost_steps: int


def mechanism_of(solution: Solution, rotor_damping: float = 0.06, train_damping: float = 0.03) -> Mechanism:
    """The axis of a solution. Raises NotKnown for what it does not know."""
    known = {name: solution.get(name) for name in NEEDS}
    missing = next((name for name, value in known.items() if value is None), None)
    if missing is not None:
        raise NotKnown(f"{solution.sheet.label(missing)} is not known", missing)
    count = float(known.pop("motor_count"))
    values = {name: float(value) for name, value in known.items()}
    values["moved_inertia"] /= count
    return Mechanism(
        **values, drag_torque=_or(solution, "drag_torque", 0.0), clearance=_or(solution, "train_clearance", 0.0),
        train_efficiency=_or(solution, "train_efficiency", 1.0), friction=_or(solution, "friction_load", 0.0) / count,
        weight=_or(solution, "gravity_load", 0.0) / count, rotor_damping=rotor_damping, train_damping=train_damping)


def _or(solution: Solution, name: str, otherwise: float) -> float:
    return float(solution.get(name) or otherwise)


def moved(mechanism: Mechanism, distance: float, speed: float, acceleration: float) -> Swing:
    """A move without limited jerk from rest to rest, and what comes after it.

    distance [travel], speed [travel]/s, acceleration [travel]/s².
    """
    ramp = min(speed / acceleration, math.sqrt(abs(distance) / acceleration))
    duration = abs(distance) / (acceleration * ramp) + ramp + SETTLES
    return _integrated(mechanism, duration, distance=distance, speed=speed, acceleration=acceleration)


def loses_steps_on(mechanism: Mechanism, distance: float, speed: float, acceleration: float) -> bool:
    """Whether a move out, or the same one back, loses steps."""
    return any(moved(mechanism, way * distance, speed, acceleration).lost_steps != 0 for way in (1.0, -1.0))


def kicked(mechanism: Mechanism, duration: float = 1.5) -> Swing:
    """The axis standing at its set current, its load struck and its rotor too: both of its modes ring. Friction is left out, since
    what sticks does not ring."""
    free = replace(mechanism, friction=0.0, drag_torque=0.0, weight=0.0, clearance=0.0, train_efficiency=1.0,
                   rotor_damping=RINGS, train_damping=RINGS)
    return _integrated(free, duration, kick=1e-3 * mechanism.travel_per_radian)


def pulled_out(mechanism: Mechanism, motor_speed: float, seconds: float = 1.5) -> float:
    """The torque [N·m] at which a motor that runs at this speed [rad/s] falls out, a load growing slowly; its drag taken off."""
    r, most = mechanism.travel_per_radian, 1.2 * mechanism.torque_constant * mechanism.current_peak
    light = mechanism.turning_inertia / r**2  # so that it falls out when it cannot hold, not when its momentum is used up
    bare = replace(mechanism, friction=0.0, weight=0.0, clearance=0.0, train_efficiency=1.0, moved_inertia=light)
    gentle = motor_speed * r / 0.6
    held = 1.0 + seconds
    swing = _integrated(bare, held, distance=motor_speed * r * (held + 10), speed=motor_speed * r, acceleration=gentle,
                        push=most / r / seconds, push_at=1.0)
    behind = np.flatnonzero(swing.speed < FALLEN * motor_speed * r)
    fell = behind[swing.time[behind] > 1.0]
    return float(most / seconds * (swing.time[fell[0]] - 1.0)) if fell.size else math.nan


def _integrated(one: Mechanism, duration: float, distance: float = 0.0, speed: float = 1.0, acceleration: float = 1.0,
                kick: float = 0.0, push: float = 0.0, push_at: float = 0.0, every: int = 20) -> Swing:
    steps = int(duration / STEP)
    out = np.empty((steps // every, 2))
    field = one.rotor_teeth * one.torque_constant * one.current_peak
    around = one.turning_inertia + one.moved_inertia * one.travel_per_radian**2
    rotor = 2 * one.rotor_damping * math.sqrt(field * around)
    train = 2 * one.train_damping * math.sqrt(one.train_stiffness * one.moved_inertia)
    slipped = _loop(
        steps, STEP, every, one.torque_constant, one.rotor_teeth, one.winding_resistance, one.winding_inductance,
        one.current_peak, one.available_voltage, TRACKING, one.turning_inertia, one.drag_torque, rotor, one.travel_per_radian,
        one.train_stiffness, train, one.clearance, one.train_efficiency, one.moved_inertia, one.friction, one.weight,
        float(distance), float(speed), float(acceleration), float(kick), float(push), float(push_at), out)
    full_steps = slipped * 2 / math.pi
    lost = 0 if abs(full_steps) < SLIPPED else int(4 * round(full_steps / 4))
    return Swing(np.arange(1, len(out) + 1) * STEP * every, out[:, 0], out[:, 1], lost)


@_compiled
def _commanded(t, far, acceleration, ramp):  # type: ignore[no-untyped-def]
    """Where a move of this length is commanded to be after a time, and how fast: up, even, down."""
    top = acceleration * ramp
    brakes = far / top if top > 0.0 else 0.0
    if far == 0.0 or t >= brakes + ramp:
        return far, 0.0
    if t < ramp:
        return acceleration * t * t / 2, acceleration * t
    if t < brakes:
        return acceleration * ramp * ramp / 2 + top * (t - ramp), top
    left = brakes + ramp - t
    return far - acceleration * left * left / 2, acceleration * left


@_compiled
def _slowed(speed, pull, friction, mass, dt):  # type: ignore[no-untyped-def]
    """The speed after a step under a pull and dry friction, which holds whatever it can."""
    if speed == 0.0 and abs(pull) <= friction:
        return 0.0
    held = friction if speed > 0 or (speed == 0.0 and pull > 0) else -friction
    after = speed + dt * (pull - held) / mass
    return 0.0 if after * speed < 0 and abs(pull) <= friction else after


@_compiled
def _loop(  # type: ignore[no-untyped-def]
    steps, dt, every, k_t, teeth, resistance, inductance, current, voltage, tracking, inertia, drag, rotor_damping, r, stiffness,
    train_damping, clearance, efficiency, mass, friction, weight, distance, speed, acceleration, kick, push, push_at, out,
):
    """The whole of it by fixed steps, speeds before places; gives the electrical angle of the field ahead of the rotor [rad]."""
    way = 1.0 if distance >= 0 else -1.0
    far = abs(distance)
    ramp = min(speed / acceleration, math.sqrt(far / acceleration))
    half, decays = clearance / 2, resistance * dt / (2 * inductance)
    angle, turning, moving = 0.0, kick / r, -0.1 * kick  # against each other, so that both modes ring
    place = -weight / stiffness - math.copysign(half, weight) if weight != 0.0 else 0.0  # it hangs on one side of its play
    i_a, i_b, field_angle = current, 0.0, 0.0
    for n in range(steps):
        t = (n + 0.5) * dt  # voltages and currents are taken in the middle of a step: at speed a field turns by 0.2 rad in one
        commanded, pace = _commanded(t, far, acceleration, ramp)
        field_angle = teeth * way * commanded / r
        paced = teeth * way * pace / r
        c_f, s_f = math.cos(field_angle), math.sin(field_angle)
        rotor = teeth * (angle + turning * dt / 2)
        c_r, s_r = math.cos(rotor), math.sin(rotor)
        e_a, e_b = -k_t * turning * s_r, k_t * turning * c_r
        v_a = resistance * current * c_f - inductance * current * paced * s_f + e_a + inductance * tracking * (current * c_f - i_a)
        v_b = resistance * current * s_f + inductance * current * paced * c_f + e_b + inductance * tracking * (current * s_f - i_b)
        size = math.sqrt(v_a * v_a + v_b * v_b)
        if size > voltage:
            v_a, v_b = v_a * voltage / size, v_b * voltage / size
        was_a, was_b = i_a, i_b
        i_a = (i_a * (1 - decays) + dt * (v_a - e_a) / inductance) / (1 + decays)
        i_b = (i_b * (1 - decays) + dt * (v_b - e_b) / inductance) / (1 + decays)
        torque = k_t * ((i_b + was_b) * c_r - (i_a + was_a) * s_r) / 2 - rotor_damping * (turning - paced / teeth)
        apart = r * angle - place
        if apart > half:
            force = max(stiffness * (apart - half) + train_damping * (r * turning - moving), 0.0)
        elif apart < -half:
            force = min(stiffness * (apart + half) + train_damping * (r * turning - moving), 0.0)
        else:
            force = 0.0
        felt = force * r / efficiency if force * turning > 0 else force * r * efficiency
        turning = _slowed(turning, torque - felt, drag, inertia, dt)
        angle += dt * turning
        pushed = push * (t - push_at) if t > push_at else 0.0
        moving = _slowed(moving, force - weight - pushed, friction, mass, dt)
        place += dt * moving
        if (n + 1) % every == 0 and (n + 1) // every <= len(out):
            out[(n + 1) // every - 1, 0] = place
            out[(n + 1) // every - 1, 1] = moving
    return field_angle - teeth * angle
