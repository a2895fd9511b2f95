"""Torque that the cycle asks of one motor: inertia, forces, peak, RMS, power, energy.

Two motors on one beam have a train each and carry an equal share; every figure here is for one of them.
"""

from __future__ import annotations

import numpy as np

from urban_mule.core.load.cycle import Pieces, by_move, lift
from urban_mule.core.load.fellow import Fellow, of_both
from urban_mule.core.load.moments import CycleTorque, cut, edges_of_signs, greatest, work_given
from urban_mule.core.sheet.given import Reals, given
from urban_mule.core.sheet.quantity import quantity
from urban_mule.core.train.fold import torque_into_train
from urban_mule.core.train.link import Link

GAUSS = ((0.5 - np.sqrt(0.15), 5 / 18), (0.5, 8 / 18), (0.5 + np.sqrt(0.15), 5 / 18))  # places and weights, exact to degree 5
FOLD = "power balance link by link from the load back to the motor"


class AnyLoad:
    """What the user knows of every axis, linear or rotary."""

    travel: Reals = given("[travel]", "L", "from end to end", above=0)
    motor_count: Reals = given("", "n", "motors that share this load", default=1, whole=True, least=1, label="Motors on this axis",
        plural=True)


@quantity("kg·m²", symbol="J_L", source="kinetic energy referred to the motor shaft",
          formula="J_t + m·r² ÷ n; of a pair J_t + (m_x + m_y)·r² ÷ 4")
def load_inertia_at_motor(
    train_inertia: Reals, moved_inertia: Reals, motor_count: Reals, travel_per_radian: Reals, fellow: Fellow | None = None
) -> Reals:
    """Everything that turns or moves with one motor, as its shaft sees it; the rotor is not in it. Of a pair that of a diagonal,
    the other motor held.

    train_inertia [kg·m²], moved_inertia [kg or kg·m²], travel_per_radian [travel/rad]; scalars or arrays.
    """
    if fellow is not None:
        return train_inertia + (moved_inertia + fellow.known("moved_inertia")[0]) / 4 * travel_per_radian**2
    return axial_inertia_at_motor(train_inertia, moved_inertia, motor_count, travel_per_radian)


@quantity("kg·m²", symbol="J_a", source="kinetic energy referred to the motor shaft", formula="J_t + m·r² ÷ n",
          label="Inertia along the axis, at the motor")
def axial_inertia_at_motor(train_inertia: Reals, moved_inertia: Reals, motor_count: Reals, travel_per_radian: Reals) -> Reals:
    """The same where only this axis moves, as it falls or swings along itself."""
    return train_inertia + moved_inertia / motor_count * travel_per_radian**2


@quantity("", symbol="J_L/J_m", source="definition, one motor and its share of the load")
def inertia_ratio(load_inertia_at_motor: Reals, shaft_inertia: Reals) -> Reals:
    """Load as the shaft sees it over the motor's own, rotor and brake; both [kg·m²]."""
    return load_inertia_at_motor / shaft_inertia


def motor_torque(
    train: tuple[Link, ...], acceleration: Reals, direction: Reals, effort: Reals,
    travel_per_radian: Reals, shaft_inertia: Reals,
) -> Reals:
    """Torque of one motor [N·m] for an effort at the load and an acceleration of the load.

    acceleration [travel/s²], direction ±1, effort [N or N·m] already with the part that accelerates the load.
    """
    turning = acceleration / travel_per_radian
    return torque_into_train(train, effort, direction, turning) + shaft_inertia * turning


@quantity("", symbol="T(t)", source=FOLD, structure=True,
          formula="the fold of (inertia·a + friction + process + gravity)/n through the train, + J_m·θ̈")
def cycle_torque(
    train: tuple[Link, ...], cycle_pieces: Pieces, cycle_loads: Reals, shaft_inertia: Reals, travel_per_radian: Reals,
    dwell_torque: Reals,
) -> CycleTorque:
    """Torque and shaft speed at both ends of every piece of the cycle."""
    return torque_over(train, cycle_pieces, cycle_loads, shaft_inertia, travel_per_radian, dwell_torque)


def torque_over(
    train: tuple[Link, ...], pieces: Pieces, loads: Reals, shaft_inertia: Reals, travel_per_radian: Reals, dwell_torque: Reals
) -> CycleTorque:
    """Torque and shaft speed of one motor at both ends of these pieces; loads [N or N·m] of one train at both ends.

    shaft_inertia [kg·m²], travel_per_radian [travel/rad], dwell_torque [N·m].
    """
    r = lift(travel_per_radian)
    over_pieces, shaft = lifted(train), lift(shaft_inertia)
    bent = bool(np.any(pieces.acceleration_start != pieces.acceleration_end))
    if bent:
        pieces, loads = cut(pieces, loads, edges_of_signs(over_pieces, pieces, loads, r, shaft))
    moving = pieces.direction != 0

    def at(acceleration: Reals, effort: Reals) -> Reals:
        driven = motor_torque(over_pieces, acceleration, pieces.direction, effort, r, shaft)
        return np.where(moving, driven, lift(dwell_torque))

    bend = (pieces.acceleration_start - pieces.acceleration_end) * pieces.duration / 8
    return CycleTorque(at(pieces.acceleration_start, loads[0]), at(pieces.acceleration_end, loads[1]),
                       pieces.speed_start / r, pieces.speed_end / r, bend / r, moving, pieces, bent)


def lifted(train: tuple[Link, ...]) -> tuple[Link, ...]:
    """The train with an axis for the pieces behind every field that is an array over builds."""
    if not any(isinstance(value, np.ndarray) for link in train for value in vars(link).values()):
        return train
    return tuple(
        type(link)(**{
            name: lift(value) if isinstance(value, np.ndarray) else value for name, value in vars(link).items()
        })
        for link in train
    )


@quantity("[effort]", symbol="F_max", source="equation of motion of the load, one motor's share",
          formula="max |(m·a + friction + process + gravity)/n| over the moving pieces")
def peak_load(cycle_loads: Reals) -> Reals:
    """Greatest force or torque that one train puts on the load; cycle_loads [N or N·m] with the pieces last."""
    return np.max(np.abs(cycle_loads), axis=(0, -1))


@quantity("[effort]", symbol="F_m", source="ISO 3408-5: cubic mean, weighted by the travel of each piece",
          formula="∛(∑ |F|³·Δx ÷ ∑ Δx)")
def cubic_mean_load(cycle_loads: Reals, cycle_pieces: Pieces) -> Reals:
    """Mean load that wears a screw as the cycle does; cycle_loads [N or N·m] with the pieces last."""
    p, total = cycle_pieces, 0.0
    for share, weight in GAUSS:  # the load is linear in time and the speed quadratic: their product is of the fifth degree
        bend = (p.acceleration_end - p.acceleration_start) * share**2 / 2
        speed = p.speed_start + p.duration * (p.acceleration_start * share + bend)
        load = cycle_loads[0] + (cycle_loads[1] - cycle_loads[0]) * share
        total = total + weight * np.abs(load) ** 3 * np.abs(speed) * p.time_spent
    return np.cbrt(np.sum(total, axis=-1) / np.sum(np.abs(p.distance) * p.times, axis=-1))


@quantity("", symbol="F(t)", source="equation of motion of the load", structure=True,
          formula="(m·a + s·(friction + process) + gravity)/n at both ends of each piece")
def cycle_loads(
    cycle_pieces: Pieces, moved_inertia: Reals, gravity_load: Reals, friction_load: Reals, process_load: Reals,
    motor_count: Reals,
) -> Reals:
    """What one train puts on the load, at the start and the end of each piece (first axis); 0 friction in a dwell."""
    s = cycle_pieces.direction
    work = np.where(np.isnan(cycle_pieces.process_load), lift(process_load), cycle_pieces.process_load)
    resisting = s * (lift(friction_load) + work) + lift(gravity_load)
    ends = (cycle_pieces.acceleration_start, cycle_pieces.acceleration_end)
    return np.stack([(lift(moved_inertia) * a + resisting) / lift(motor_count) for a in ends])


@quantity("N·m", symbol="T_dw", source="statics through the back efficiencies, no friction counted on")
def dwell_torque(
    gravity_load: Reals, motor_count: Reals, travel_per_radian: Reals, rest_back_efficiency: Reals
) -> Reals:
    """Torque one motor holds in a dwell, with its sign; gravity_load [N or N·m], travel_per_radian [travel/rad]."""
    return gravity_load / motor_count * travel_per_radian * rest_back_efficiency


@quantity("N·m", symbol="T_0", source="statics through the back efficiencies, no friction counted on", label="Static torque")
def static_torque(dwell_torque: Reals) -> Reals:
    """What one motor or its brake must hold at standstill; dwell_torque [N·m]."""
    return np.abs(dwell_torque)


@quantity("N·m", symbol="T_0f", source="statics without any friction", label="Torque that the brake must hold")
def frictionless_static_torque(gravity_load: Reals, motor_count: Reals, travel_per_radian: Reals) -> Reals:
    """What a brake must hold if no friction helps; gravity_load [N or N·m], travel_per_radian [travel/rad]."""
    return np.abs(gravity_load / motor_count * travel_per_radian)


@quantity("N·m", symbol="T_max", source="greatest |T| of the cycle, dwells included", formula="max |T|",
          label="Peak torque required")
def peak_torque(cycle_torque: CycleTorque, pair_peak_torque: Reals = None, fellow: Fellow | None = None) -> Reals:
    """Greatest torque that the cycle asks of one motor; of a pair with both at their hardest at once [N·m]. Raises NotKnown."""
    c = cycle_torque
    return of_both(np.max(np.maximum(np.abs(c.start), np.abs(c.end)) * c.happens, axis=-1), pair_peak_torque, fellow)


@quantity("N·m", symbol="T_rms", source="equivalent heating over the whole cycle; T linear within a piece",
          formula="√(∑ (T₀² + T₀·T₁ + T₁²)·t/3 ÷ ∑ t)")
def rms_torque(
    cycle_torque: CycleTorque, cycle_duration: Reals, pair_rms_torque: Reals = None, fellow: Fellow | None = None
) -> Reals:
    """Root mean square torque of one motor over the cycle, of a pair over both; cycle_duration [s], pair_rms_torque [N·m].

    Raises NotKnown.
    """
    return of_both(rms_of(cycle_torque, cycle_duration), pair_rms_torque, fellow)


def rms_of(cycle_torque: CycleTorque, cycle_duration: Reals) -> Reals:
    """Root mean square torque of one motor that one cycle asks for [N·m]; cycle_duration [s]."""
    first, last = cycle_torque.start, cycle_torque.end
    squared = (first**2 + first * last + last**2) / 3 * cycle_torque.pieces.time_spent
    return np.sqrt(np.sum(squared, axis=-1) / cycle_duration)


@quantity("W", symbol="P_max", source="shaft power; while the acceleration changes a cubic in time, looked for inside",
          formula="max (T·ω)")
def peak_power(cycle_torque: CycleTorque) -> Reals:
    """Greatest power that one motor gives to the train."""
    c = cycle_torque
    giving = CycleTorque(**{**vars(c), "moving": c.moving & ((c.start + c.end) * c.pieces.direction > 0)})
    return np.maximum(greatest(giving, lambda speed, torque: speed * torque)[0], 0.0)


@quantity("J", symbol="E_b", source="time integral of negative shaft power over one cycle, exact between changes of sign",
          formula="−∑ min(0, ∫T·ω·dt)", label="Energy given back")
def regenerated_energy(cycle_torque: CycleTorque) -> Reals:
    """Energy that one motor takes out of the load in a cycle."""
    return np.sum(np.maximum(-work_given(cycle_torque), 0.0) * cycle_torque.pieces.times, axis=-1)


@quantity("J", symbol="E_s", source="time integral of shaft power over a whole move; what it takes is not set against it",
          formula="max over the moves of −∑ min(0, ∫T·ω·dt)", label="Energy returned by one stop")
def stopping_energy(cycle_torque: CycleTorque) -> Reals:
    """Most energy that one motor takes out of the load in a single move of the cycle."""
    return np.max(by_move(cycle_torque.pieces, np.maximum(-work_given(cycle_torque), 0.0)), axis=-1)


def creep(direction: int, train: tuple[Link, ...], gravity: Reals, friction: Reals, count: Reals) -> Reals:
    """Torque of one motor creeping in a direction, without process force [N·m]; gravity, friction [N or N·m]."""
    return torque_into_train(train, (direction * friction + gravity) / count, float(direction), 0.0)


@quantity("N·m", symbol="T₊", source=FOLD, formula="the fold at no acceleration, towards plus")
def creep_torque_plus(
    train: tuple[Link, ...], gravity_load: Reals, friction_load: Reals, motor_count: Reals, travel_per_radian: Reals
) -> Reals:
    """Torque of one motor creeping to plus without process force; loads [N or N·m]; travel_per_radian: that it moves the load."""
    return creep(1, train, gravity_load, friction_load, motor_count)


@quantity("N·m", symbol="T₋", source=FOLD, formula="the fold at no acceleration, towards minus")
def creep_torque_minus(
    train: tuple[Link, ...], gravity_load: Reals, friction_load: Reals, motor_count: Reals, travel_per_radian: Reals
) -> Reals:
    """Torque of one motor creeping to minus without process force; loads [N or N·m]; travel_per_radian: that it moves the load."""
    return creep(-1, train, gravity_load, friction_load, motor_count)
