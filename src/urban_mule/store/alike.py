"""What differs between motors that must be alike: of a leader and its follower, of the two axes of a pair."""

from __future__ import annotations

from collections.abc import Container
from functools import reduce
from typing import Any

from urban_mule.core.drive.banks import bank_settings
from urban_mule.core.sheet.given import Given, words
from urban_mule.core.sheet.units import show
from urban_mule.core.subjects import UNITS
from urban_mule.core.train.followers import Unlike
from urban_mule.store.document.project import Axis


def follower_differences(axis: Axis) -> tuple[Unlike, ...] | None:
    """Every value in which the follower of an axis differs from its leader; None where nothing is said of a follower."""
    follower = axis.follower
    if follower is None:
        return None
    found = [*_unlike(axis.motion, axis.motor, follower.motor), *_unlike(axis.motion, axis.driver, follower.driver)]
    if follower.train is not None:
        leading = [stage.kind for stage in axis.train or ()]
        following = [stage.kind for stage in follower.train]
        if leading != following:
            found.append(Unlike("the train", ", ".join(leading), ", ".join(following)))
        else:
            for one, other in zip(axis.train or (), follower.train, strict=True):
                found += _unlike(axis.motion, one, other, f"{one.kind} ")
    return tuple(found)


MEANT = ("current_peak", "microsteps", "hold_fraction", "chopping", "interface_mode")
OF_A_PAIR: dict[str, frozenset[str]] = {
    "motor": frozenset({"holding_torque", "rated_current", "rated_current_is", "phase_resistance", "phase_inductance", "step_angle",
                        "rotor_inertia", "wiring", "torque_constant", "rated_torque", "peak_torque", "counts_per_turn"}),
    "driver": frozenset({*MEANT, "supply_voltage", "electronic_gear_numerator", "electronic_gear_denominator"}),
    "train": frozenset({"pitch", "teeth", "ratio", "specific_stiffness", "pretension"})}


def pair_differences(axis: Axis, other: Axis) -> tuple[Unlike, ...]:
    """Every value of motor, driver and belt in which the other axis of a pair differs from this one."""
    found = [*_unlike(axis.motion, axis.motor, other.motor, only=OF_A_PAIR["motor"]),
             *_unlike(axis.motion, axis.driver, other.driver, only=OF_A_PAIR["driver"])]
    for one, their in zip(axis.train or (), other.train or (), strict=False):
        found += _unlike(axis.motion, one, their, f"{one.kind} ", OF_A_PAIR["train"])
    found += _unlike_switches(axis, other)
    return tuple(found)


def _unlike_switches(axis: Axis, other: Axis) -> list[Unlike]:
    """The switches of both drivers as each must stand, where both are described and do not stand alike."""
    one, their = (_positions(one) for one in (axis, other))
    return [Unlike("switches", one, their)] if one and their and one != their else []


def _positions(axis: Axis) -> str:
    driver = axis.driver if axis.motor_kind == "stepper" else None
    banks = () if driver is None else driver.core_banks
    meant = {name: getattr(driver, name, None) for name in MEANT}
    return " ".join(f"{one.bank.name} {one.positions}" for one in bank_settings(banks, **meant))


def _unlike(motion: str, leader: Any, follower: Any, of: str = "",
            only: Container[str] | None = None) -> list[Unlike]:
    """Givens that the follower's part says and that are not the leader's; only: of these keys, and said by both."""
    found = []
    for key, one in () if follower is None else type(follower).givens.items():
        theirs, ours = getattr(follower, key), getattr(leader, key, None)
        if only is not None and (key not in only or ours is None):
            continue
        if theirs is not None and theirs != ours:
            found.append(Unlike(of + words(key).lower(), _told(motion, one, ours), _told(motion, one, theirs)))
    if follower is not None and leader is not None and getattr(follower, "kind", "") != getattr(leader, "kind", ""):
        found.insert(0, Unlike(f"{of}kind", leader.kind, follower.kind))
    return found


def _told(motion: str, one: Given, value: Any) -> str:
    """A value as people read it."""
    unit = reduce(lambda text, pair: text.replace(*pair), UNITS[motion].items(), one.unit)
    return "not known" if value is None else str(value) if isinstance(value, str) else str(show(value, unit, own=one.shown))
