"""What is to be set on the machine: each value computed now, measured, and on the machine, and why they differ."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import replace
from typing import Any, Protocol

from urban_mule.core.brief.settings_room import BREAKS
from urban_mule.core.drive.current import way_of_entry
from urban_mule.core.moves.ends import ANYWHERE
from urban_mule.core.readings.shapers import NONE
from urban_mule.core.ring.gains import integral_as, position_gain_as, velocity_gain_as
from urban_mule.core.sheet import units
from urban_mule.core.sheet.alike import within
from urban_mule.core.sheet.record import record
from urban_mule.core.sheet.shown import value_text
from urban_mule.core.sheet.solution import Solution
from urban_mule.store.document.project import Axis, from_practice
from urban_mule.store.file.project_file import Applied


class Settable(Protocol):
    """An axis with its numbers and with what is on its hardware."""

    @property
    def axis(self) -> Axis: ...
    @property
    def solution(self) -> Solution: ...
    @property
    def applied(self) -> Mapping[str, Applied]: ...
    @property
    def stored(self) -> Mapping[str, Applied]: ...
    @property
    def system(self) -> str: ...


class Follows(Settable, Protocol):
    """The second motor of an axis, and the numbers of its leader."""

    @property
    def leading(self) -> Solution | None: ...


SAME = 5e-4  # share of a value that a settings field rounds away
NOT_STORED = ""  # what is stored while only what runs is known
LISTING = "listing"  # stands in place of what a value was computed from where it was read from a controller's listing
BY_HAND = frozenset({"switches", "reference_voltage"})  # set by a hand on the driver itself, so that no reset loses them


@record(frozen=True)
class BankShown:
    """A bank of switches or jumpers to draw: how it must look, and how it stands on the machine, as far as that is known."""

    name: str
    kind: str
    positions: str
    on_machine: str = ""

    @property
    def in_words(self) -> str:
        """The positions for whoever reads or hears them."""
        signs = {"switches": {"1": "on", "0": "off"}, "jumpers": {"1": "fitted", "0": "open"}}[self.kind]
        return ", ".join(f"{place} {signs.get(sign, 'not said')}" for place, sign in enumerate(self.positions, start=1))


@record(frozen=True)
class SettingRow:
    """One value to set. lines: (number, unit); measured, on_machine, reason: text, empty where there is nothing.

    beneath: the same in other words. leader: of a follower that is set differently, what its leader has. at_reset: what a reset
    makes of it. banks: to be drawn.
    """

    name: str
    title: str
    value: Any
    lines: tuple[tuple[str, str], ...]
    measured: str = ""
    on_machine: str = ""
    reason: str = ""
    differs: bool = False
    beneath: str = ""
    leader: str = ""
    at_reset: str = ""
    banks: tuple[BankShown, ...] = ()

    @property
    def to_do(self) -> bool:
        """Whether something of it is still to be put on the machine, or stored there."""
        return self.differs or bool(self.at_reset)

    @property
    def practice(self) -> bool:
        """Whether it rests on readings that were made up for practice."""
        return self.measured.startswith("practice") and self.name != "steps_per_unit"


def settings_of(of: Settable) -> list[SettingRow]:
    """The rows of an axis, in the order in which they are set."""
    rows = [_current(of), switches_of(of), _gear(of), *(_plain(of, name) for name in (
        "microsteps", "steps_per_unit")), _top_speed(of), _acceleration(of), *(_plain(of, name) for name in (
        "hold_fraction", "changeover_ticks", "bus_address")), _backlash(of), _shaper(of), *_gains(of), *_ends(of), _stall(of),
        _direction(of)]
    return [against_machine(of, row) for row in rows if row is not None]


def follower_settings(of: Follows) -> list[SettingRow]:
    """The rows of the second motor of an axis: what its own driver is set by, each with what its leader has where that differs."""
    rows = [_current(of), switches_of(of), *(_plain(of, name) for name in ("microsteps", "hold_fraction", "bus_address"))]
    return [_beside_leader(of, against_machine(of, row)) for row in rows if row is not None]


def _beside_leader(of: Follows, row: SettingRow) -> SettingRow:
    leading = of.leading
    name = "current_peak" if row.name in BY_ENTRY else row.name
    if leading is None or name in ("switches", "bus_address"):
        return row
    theirs, ours = leading.get(name), of.solution.get(name)
    if theirs is None or within(theirs, ours, SAME):
        return row
    shown = value_text(leading.sheet, name, theirs, of.system, 3)
    return replace(row, leader=f"the leader has {shown}{' peak' if name == 'current_peak' else ''}")


GAINS = {  # name on the tag: title, unit where nobody has said how the drive takes it, what is computed
    "velocity_gain_to_set": ("Velocity gain", "N·m·s/rad", "velocity_gain_limit"),
    "velocity_integral_to_set": ("Integral", "ms", "velocity_integral_time"),
    "position_gain_to_set": ("Position gain", "1/s", "position_gain_limit")}
BY_ENTRY = {"current_entry_value": "Number to type", "reference_voltage": "Trimmer", "current_register": "Register step"}


def _current(of: Settable) -> SettingRow | None:
    """The set current in the language that the driver takes, RMS and peak beneath; of a bank the switches say it."""
    solution = of.solution
    peak = solution.get("current_peak")
    if peak is None or _by_switches(solution):
        return None
    both = both_ways(solution.get("current_peak_real") or peak)
    for name, title in BY_ENTRY.items():
        value = solution.get(name)
        if value is not None:
            unit = {"current_entry_value": f"A {'RMS' if solution.get('entry_is') == 'rms' else 'peak'}",
                    "reference_voltage": "V", "current_register": ""}[name]
            return SettingRow(name, title, float(value), ((_as_typed(float(value)), unit),), beneath=both)
    return SettingRow("current_peak", "Current", peak, (
        (units.number_text(peak / math.sqrt(2), 3), "A RMS"), (units.number_text(peak, 3), "A peak")))


def both_ways(peak: float) -> str:
    """A current [A] as peak and as RMS."""
    return f"{units.number_text(peak, 3)} A peak, {units.number_text(peak / math.sqrt(2), 3)} A RMS"


def _by_switches(solution: Solution) -> bool:
    """Whether the switches say the current."""
    if "current_entry" not in solution.sheet.inputs or solution.get("current_peak_real") is None:
        return False
    return way_of_entry(solution.get("current_entry"), solution.get("switch_banks")) == "switches"


def switches_of(of: Settable) -> SettingRow | None:
    """The banks of the driver as they must look; those on the machine beside them."""
    settings = of.solution.get("bank_settings")
    if not settings:
        return None
    said = " ".join(one.positions for one in settings)
    there = of.applied.get("switches")
    stand = str(there.value).split(" ") if there is not None else []
    stand = stand if [len(one) for one in stand] == [len(one.positions) for one in settings] else [""] * len(settings)
    banks = tuple(BankShown(one.bank.name, one.bank.kind, one.positions, on) for one, on in zip(settings, stand, strict=True))
    real = of.solution.get("current_peak_real")
    beneath = both_ways(real) if real is not None and _by_switches(of.solution) else ""
    return SettingRow("switches", "Switches", said, (), beneath=beneath, banks=banks)


def _gear(of: Settable) -> SettingRow | None:
    """The electronic gear of a servo driver, once somebody has decided on one."""
    if of.axis.motor_kind != "servo":
        return None
    counts, pulses = (of.solution.get(f"electronic_gear_{part}") for part in ("numerator", "denominator"))
    if counts is None or (counts, pulses) == (1, 1):
        return None
    return SettingRow("electronic_gear", "Gear", f"{counts:g} to {pulses:g}",
                      ((f"{counts:g}", "counts"), (f"{pulses:g}", "pulses")))


def _plain(of: Settable, name: str, instead: float | None = None) -> SettingRow | None:
    """A row of a value that is set as it is; instead: what is to be set in its place."""
    value = of.solution.get(name) if instead is None else instead
    if value is None or (name in of.solution.sheet.inputs and getattr(of.axis.driver, name, None) is None):
        return None  # a default is nothing that somebody decided to set
    if name == "bus_address" and of.axis.driver is not None and of.axis.driver.interface_mode not in ("bus", "single wire"):
        return None
    shown = value_text(of.solution.sheet, name, value, of.system, 4, of.axis.unit)
    titles = {"hold_fraction": "Current while idle", "top_speed": "Top speed", "top_acceleration": "Acceleration",
              "homing_speed_limit": "Home at most at"}
    title = f"Steps per {of.axis.unit}" if name == "steps_per_unit" else titles.get(name, of.solution.sheet.label(name))
    measured = ""
    corrected = of.solution.get("steps_per_unit_to_set") if name == "steps_per_unit" else None
    if corrected is not None and abs(corrected / value - 1) > 1e-5:
        measured = f"{_measured(of, 'travel')}: {units.number_text(corrected, 6)}"
    unit = "" if name == "steps_per_unit" else shown.unit
    return SettingRow(name, title, float(value), ((shown.number, unit),), measured)


def _backlash(of: Settable) -> SettingRow | None:
    """What the controller is told to make up for: the least reversal along the travel, never more than there is anywhere."""
    value = of.solution.get("backlash_compensation")
    if value is None:
        return None
    shown = units.show(value, of.solution.sheet.unit("backlash_compensation"), of.system, 3)
    return SettingRow("backlash", "Backlash compensation", round(value, 7), ((shown.number, shown.unit),),
                      _measured(of, "reversal"))


def _top_speed(of: Settable) -> SettingRow | None:
    """The speed of the cycle, and what it breaks where that is too fast."""
    row, limits = _plain(of, "top_speed"), of.solution.get("fastest_settings")
    if row is None or not limits:
        return row
    broken = [f"{BREAKS[name]} beyond {_as_shown(of, row, limit)}" for name, limit in limits.items()
              if limit < row.value * (1 - 1e-9)]
    return replace(row, beneath=f"too fast: {'; '.join(broken)}") if broken else row


def _acceleration(of: Settable) -> SettingRow | None:
    """The one acceleration to set, what binds it where that is not the cycle, and the goal beside it."""
    bound = of.solution.get("acceleration_bound")
    row = None if bound is None else _plain(of, "top_acceleration", bound.value)
    if row is None or bound is None:
        return row
    asked, wanted = of.solution.get("top_acceleration"), of.solution.get("acceleration_wanted")
    said = [] if bound.given == "cycle" else [f"limited by {bound.stage}, the cycle asks {_as_shown(of, row, float(asked))}"]
    said += [] if wanted is None else [f"wanted {_as_shown(of, row, float(wanted))}"]
    of_speed = of.solution.get("fastest_settings") or ()  # those stand beneath the speed
    broken = [BREAKS[name] for name in _broken(of) if name not in of_speed]
    said = [f"even so, at the top speed: {' and '.join(broken)}", *said] if broken else said
    return replace(row, beneath="; ".join(said))


def gain_unit(of: Settable, name: str) -> str:
    """The unit in which the drive takes a gain of its loops; that of the sheet while the inertia that it takes is not known."""
    if name == "velocity_gain_to_set" and of.solution.get("loop_inertia") is None:
        return GAINS[name][1]
    return str(of.solution.get(name.replace("_to_set", "_unit")) or GAINS[name][1])


def gain_typed(of: Settable, name: str, value: float) -> float:
    """A gain of a servo's loops as it is typed into its drive."""
    unit = gain_unit(of, name)
    if name == "velocity_gain_to_set":
        return velocity_gain_as(unit, value, float(of.solution.get("loop_inertia") or 1.0))
    return integral_as(unit, value) if name == "velocity_integral_to_set" else position_gain_as(unit, value)


def _gains(of: Settable) -> list[SettingRow]:
    """Velocity gain, integral and position gain as they are typed into the drive: computed, or chosen with the computed beneath."""
    if "loops_to_set" not in of.solution.sheet.quantities:
        return []
    rows = []
    for name, (title, _, computed) in GAINS.items():
        value, limit = of.solution.get(name), of.solution.get(computed)
        if value is None:
            continue
        typed, unit = gain_typed(of, name, float(value)), gain_unit(of, name)
        chosen = of.solution.get(name.removesuffix("_to_set")) is not None
        beside = f"chosen; computed {units.number_text(gain_typed(of, name, float(limit)), 3)} {unit}" if chosen and limit else ""
        rows.append(SettingRow(name, title, typed, ((_as_typed(typed), unit),), beneath=beside))
    return rows


def _broken(of: Settable) -> list[str]:
    """The limits that the set of the tag breaks. They are looked at where one leaves no acceleration at all, or heat may be one."""
    none_left = any(one.value <= 0 for one in of.solution.get("acceleration_limits") or ())
    servo = of.axis.motor_kind == "servo"
    rms, rated = (of.solution.get(name) for name in ("rms_torque", "rated_torque")) if servo else (None, None)
    hot = rms is not None and rated is not None and rms > rated
    return list(of.solution.get("breaks_on_tag") or ()) if none_left or hot else []


def _stall(of: Settable) -> SettingRow | None:
    """The threshold of a homing without a switch, once it was found or is used."""
    value = of.solution.get("stall_threshold")
    return None if value is None else SettingRow("stall_threshold", "Stall threshold", float(value), ((f"{value:g}", ""),))


def _ends(of: Settable) -> tuple[SettingRow | None, ...]:
    """Which end it homes to and by what, how fast, where zero lies from there, and the soft limits."""
    get, sheet = of.solution.get, of.solution.sheet
    by, end = get("home_by"), get("home_end")
    if by == ANYWHERE:
        return (SettingRow("home_end", "Homing method", by, ((by, ""),)),)
    rows = [_plain(of, "homing_speed_limit") if get("homing_speed") is None else _decided(of, "homing_speed", "Homing speed")]
    if end is not None:
        whole, beneath = (f"{end}, {by}", f"by {by}") if by else (end, "")
        rows.insert(0, SettingRow("home_end", "Home end", whole, ((end, ""),), beneath=beneath))
        rows.append(_decided(of, "zero_offset", "Zero offset"))
    low, high = get("soft_limit_low"), get("soft_limit_high")
    if low is not None and high is not None:
        both = [units.show(float(one), sheet.unit("soft_limit_low"), of.system, 4) for one in (low, high)]
        rows.append(SettingRow("soft_limits", "Soft limits", " to ".join(map(str, both)),
                               tuple((one.number, one.unit) for one in both)))
    return tuple(rows)


def _decided(of: Settable, name: str, title: str) -> SettingRow:
    """A given that is set as it is given."""
    value = float(of.solution[name])
    shown = units.show(value, of.solution.sheet.unit(name), of.system, 4)
    return SettingRow(name, title, value, ((shown.number, shown.unit),))


def _direction(of: Settable) -> SettingRow | None:
    """Where the direction is turned round, once that is on record."""
    where = of.solution.get("direction_turned_in")
    return None if where is None else SettingRow("direction_turned_in", "Direction reversed at", where, ((where, ""),))


def _shaper(of: Settable) -> SettingRow | None:
    chosen = of.solution.get("chosen_shaper")
    if chosen is None:
        return SettingRow("shaper", "Shaper", NONE, ((NONE, ""),)) if of.solution.get("shaper_kind") == NONE else None
    frequency = chosen["frequency"]
    return SettingRow("shaper", "Shaper", f"{chosen['name']} {frequency:.1f} Hz", ((chosen["name"], f"{frequency:.1f} Hz"),),
                      _measured(of, "acceleration"))


def _measured(of: Settable, kind: str) -> str:
    """Where a value comes from that readings gave: the machine, or practice, which corrects no machine."""
    return "practice, made up" if from_practice(of.axis, kind) else "measured"


def against_machine(of: Settable, row: SettingRow) -> SettingRow:
    """The row with what is on the machine, and the reason where it differs."""
    applied = of.applied.get(row.name)
    if applied is None:
        return replace(row, on_machine="not set yet", differs=True)
    row = replace(row, at_reset=_at_reset(of, row, applied))
    if is_same(row, applied.value):
        return row
    return replace(row, on_machine=f"on the machine: {_as_shown(of, row, applied.value)}", reason=_reason(of, row, applied),
                   differs=True)


def _at_reset(of: Settable, row: SettingRow, applied: Applied) -> str:
    """What a reset makes of a value that runs, where that is known to be another one."""
    stored = None if row.name in BY_HAND else of.stored.get(row.name)
    if stored is None or within(stored.value, applied.value, SAME):
        return ""
    return "not stored: a reset loses it" if stored.value == NOT_STORED else (
        f"stored is {_as_shown(of, row, stored.value)}: a reset brings it back")


def _as_typed(value: Any) -> str:
    """A current as the tag shows it, which is what people type."""
    return units.number_text(float(value), 3) if isinstance(value, (int, float)) else ""


def is_same(row: SettingRow, value: Any, than: Any = None) -> bool:
    """Whether a value is what a row says, or what was recorded, `than`, as far as a settings field shows it."""
    said = row.value if than is None else than
    return within(said, value, SAME) or ((row.name in BY_ENTRY or row.name in GAINS) and _as_typed(value) == _as_typed(said))


def _as_shown(of: Settable, row: SettingRow, value: Any) -> str:
    if isinstance(value, str):
        return value
    if row.name in GAINS:
        return f"{_as_typed(value)} {gain_unit(of, row.name)}"
    if row.name == "backlash":
        return str(units.show(value, of.solution.sheet.unit("backlash"), of.system, 3))
    shown = value_text(of.solution.sheet, row.name, value, of.system, 4, of.axis.unit)
    return shown.number if row.name == "steps_per_unit" else str(shown)


def _reason(of: Settable, row: SettingRow, applied: Applied) -> str:
    """Which given has changed since the value was set, when it was set, or that only the value itself changed."""
    day = f"{applied.time.day} {applied.time:%B}"
    if LISTING in applied.computed_from:
        return f"read {day} from {applied.computed_from[LISTING]}"
    for name, then in applied.computed_from.items():
        now = of.solution.get(name)
        if name != row.name and now is not None and not within(now, then, SAME):
            shown = [str(value_text(of.solution.sheet, name, v, of.system, 4)) if not isinstance(v, str) else v
                     for v in (then, now)]
            return f"set {day}; {of.solution.sheet.label(name).lower()} was {shown[0]}, is {shown[1]}"
    return f"set {day}"
