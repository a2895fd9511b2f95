"""Both sides of the wire: what each driver and the controller must be set to, what stands there, how the axis moves meanwhile."""

from __future__ import annotations

from collections.abc import Sequence

from urban_mule.core.drive.banks import said_by_switches, set_by_banks
from urban_mule.core.scale.steps import moves_by
from urban_mule.core.sheet.record import record
from urban_mule.store.settings import Follows, Settable, SettingRow, follower_settings, settings_of

DRIVER_SIDE = ("switches", "microsteps", "electronic_gear")  # what of a driver makes its steps


@record(frozen=True)
class Side:
    """One thing to set: where, the row of the tag that says it, whether it belongs to the second motor."""

    where: str
    row: SettingRow
    follower: bool = False

    @property
    def old(self) -> str:
        """What stands on the machine, as far as that is known."""
        return self.row.on_machine.removeprefix("on the machine: ")


@record(frozen=True)
class BothSides:
    """The sides of one axis in the order in which they are set, and how it moves as it is set now: 1 is right, None not known."""

    axis: str
    drivers: tuple[Side, ...]
    controller: Side | None
    moves: float | None
    apart: bool

    @property
    def all(self) -> tuple[Side, ...]:
        return (*self.drivers, *((self.controller,) if self.controller else ()))

    @property
    def due(self) -> tuple[Side, ...]:
        """What is still to be set."""
        return tuple(side for side in self.all if side.row.differs)


def both_sides(of: Settable, follower: Follows | None) -> BothSides:
    """The sides of an axis. apart: its two motors would go apart as they are set now."""
    own = settings_of(of)
    drivers = _driver_side(of.axis.name, of, own, False)
    if follower is not None:
        drivers += _driver_side(f"{of.axis.name} follower", follower, follower_settings(follower), True)
    controller = next((Side("controller", row) for row in own if row.name == "steps_per_unit"), None)
    set_alike = controller is not None and not any(side.row.differs for side in (*drivers, controller))
    leads = 1.0 if set_alike and of.axis.motor_kind == "servo" else _moves(of, of)
    follows = leads if follower is None else _moves(of, follower)
    return BothSides(of.axis.name, drivers, controller, leads, leads is not None and follows is not None and leads != follows)


def _driver_side(where: str, of: Settable, rows: Sequence[SettingRow], follower: bool) -> tuple[Side, ...]:
    """What of a driver makes its steps: the switches where they say the microsteps, else the number that is typed."""
    other = "microsteps" if set_by_banks(of.solution.get("switch_banks"), "microsteps") else "switches"
    return tuple(Side(where, row, follower) for row in rows if row.name in DRIVER_SIDE and row.name != other)


def _moves(of: Settable, motor: Settable) -> float | None:
    """How far the axis moves for what is commanded with what stands on this motor and on the controller."""
    needed, meant = of.solution.get("steps_per_unit"), of.solution.get("microsteps")
    steps, microsteps = of.applied.get("steps_per_unit"), _microsteps(motor)
    if needed is None or steps is None or meant is None or microsteps is None:
        return None
    try:
        return round(moves_by(float(steps.value), microsteps, float(needed), float(meant)), 4)
    except (TypeError, ValueError, ZeroDivisionError):
        return None


def _microsteps(motor: Settable) -> float | None:
    """The microsteps on a motor's driver as it stands: by its switches where they say them, else as typed."""
    banks, switches = motor.solution.get("switch_banks") or (), motor.applied.get("switches")
    stand = said_by_switches(banks, str(switches.value).split(" "), "microsteps") if switches is not None else None
    typed = motor.applied.get("microsteps")
    value = stand if stand is not None or typed is None else typed.value
    return float(value) if isinstance(value, (int, float)) else None
