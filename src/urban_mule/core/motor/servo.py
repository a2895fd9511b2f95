"""Servo: peak and continuous torque over speed, limited by the supply. Gives the names of stepper where they apply."""

from __future__ import annotations

from typing import NoReturn, Protocol

import numpy as np

from urban_mule.core.load.cycle import Pieces, begins, lift
from urban_mule.core.load.moments import CycleTorque
from urban_mule.core.motor.margin import TorqueCurve
from urban_mule.core.motor.printed import PrintedCurve, of_kind, only_as_printed
from urban_mule.core.motor.servo_winding import FIGURES_ARE, ServoWinding, WoundCurve
from urban_mule.core.sheet.doubt import SHEET_FIGURE, SHEET_INDUCTANCE, SHEET_TORQUE
from urban_mule.core.sheet.given import Reals, given
from urban_mule.core.sheet.quantity import NotKnown, quantity
from urban_mule.core.sheet.record import record


class ServoMotor:
    """What the data sheet of a servo says."""

    rated_torque: Reals = given("N·m", "T_n", "torque it may give all the time", above=0, doubt=SHEET_TORQUE)
    motor_peak_torque: Reals = given("N·m", "T_p", "torque it may give for a short time", above=0, label="Peak torque",
        doubt=SHEET_TORQUE)
    rated_speed: Reals = given("rad/s", "ω_n", "speed up to which the peak torque holds", above=0, shown="rpm")
    max_speed: Reals = given("rad/s", "ω_0", "speed at which the torque has gone", above=0, shown="rpm")
    rated_voltage: Reals = given("V", "V_n", "supply at which the speeds are stated", above=0)
    peak_time: Reals = given("s", "t_p", "how long the peak torque may last at a time", above=0)
    counts_per_turn: Reals = given("", "N_c", "encoder counts in one turn", whole=True, least=1, plural=True)
    torque_constant_rms: Reals = given("N·m/A", "K_t", "torque per ampere RMS", above=0, missing="the torque constant is not given",
        label="Torque per A RMS", doubt=SHEET_TORQUE)
    pole_pairs: Reals = given("", "p", "pole pairs of the rotor", whole=True, least=1, plural=True)
    phase_resistance: Reals = given("Ω", "R_s", "resistance of the winding at 20 °C, as the sheet says", above=0,
        doubt=SHEET_FIGURE)
    phase_inductance: Reals = given("H", "L_s", "inductance of the winding, as the sheet says", above=0, shown="mH",
        doubt=SHEET_INDUCTANCE)
    winding_figures_are: str | None = given(
        "", "", "whether the sheet means one phase or two in line for resistance and inductance", choices=FIGURES_ARE,
        label="R and L measured on")


class ServoDriver:
    """What is set on a servo driver: its electronic gear, encoder counts moved by a number of pulses."""

    electronic_gear_numerator: Reals = given("", "g_n", "encoder counts", default=1, whole=True, least=1,
        label="Gear numerator, counts")
    electronic_gear_denominator: Reals = given("", "g_d", "pulses that move them", default=1, whole=True, least=1,
        label="Gear denominator, pulses")


@record(frozen=True, eq=False, repr=False)
class ServoCurve:
    """Flat to the rated speed, then straight to zero at the maximum speed; call it with speeds [rad/s] on the last axis."""

    torque: Reals
    flat_to: Reals
    zero_at: Reals

    def __call__(self, speed: Reals) -> Reals:
        flat, zero = lift(self.flat_to), lift(self.zero_at)
        falls = zero > flat
        left = np.clip((zero - speed) / np.where(falls, zero - flat, 1.0), 0.0, 1.0)
        return lift(self.torque) * np.where(falls, left, speed <= flat)


@record(frozen=True, eq=False, repr=False)
class LesserCurve:
    """The lesser of what the winding and what the data sheet allow; call it with speeds [rad/s] on the last axis."""

    wound: WoundCurve
    stated: ServoCurve

    def __call__(self, speed: Reals) -> Reals:
        return np.minimum(self.wound(speed), self.stated(speed))


@quantity("", symbol="k_V", source="speed limits scale with the voltage there is, at most 1",
          formula="min(1, (supply − drop) ÷ rated voltage)")
def voltage_share(available_voltage: Reals, rated_voltage: Reals) -> Reals:
    """Share of the stated speeds that this supply allows; both [V]."""
    return np.minimum(1.0, available_voltage / rated_voltage)


@quantity("", symbol="ω_n·k_V, ω_0·k_V", source="data sheet limits at this supply", structure=True,
          formula="rated and maximum speed × k_V; as the sheet says where neither voltage is given")
def stated_speeds(
    rated_speed: Reals, max_speed: Reals, voltage_share: Reals = None, rated_voltage: Reals = None, supply_voltage: Reals = None
) -> tuple[Reals, Reals]:
    """Speed to which the torque is flat and speed at which it has gone [rad/s]; voltages [V]. Raises NotKnown with one of them."""
    if voltage_share is None:
        for name, volts, other in (("supply", supply_voltage, rated_voltage), ("rated", rated_voltage, supply_voltage)):
            if volts is None and other is not None:
                raise NotKnown(f"{name} voltage is not given", f"{name}_voltage")
        if supply_voltage is not None:
            raise NotKnown("the voltage drop leaves nothing of the supply")
        voltage_share = 1.0
    return rated_speed * voltage_share, max_speed * voltage_share


def _say_what_is_missing(rated_voltage: Reals, supply_voltage: Reals, rated_speed: Reals, max_speed: Reals) -> NoReturn:
    """Raises NotKnown with just those of the stated figures that are not given."""
    if supply_voltage is None and rated_voltage is not None:
        raise NotKnown("supply voltage is not given", "supply_voltage")
    stated = {"rated_speed": rated_speed, "max_speed": max_speed, "rated_voltage": rated_voltage}
    lacking = [name for name, value in stated.items() if value is None]
    if len(lacking) < len(stated):
        named = " and ".join(name.replace("_", " ") for name in lacking)
        raise NotKnown(f"{named} {'is' if len(lacking) == 1 else 'are'} not given", *lacking)
    raise NotKnown("neither rated and maximum speed at a rated voltage nor the winding is given", *stated)


class Printed(Protocol):
    """Curves of a data sheet with the winding that they belong to."""

    @property
    def fits(self) -> bool: ...

    @property
    def curves(self) -> tuple[PrintedCurve, ...]: ...

    def curve(self, shows: str, winding: ServoWinding) -> WoundCurve | None: ...


def curve(
    shows: str, torque: Reals, winding: ServoWinding | None, printed: Printed | None, stated_speeds: tuple[Reals, Reals] | None,
    rated_voltage: Reals, supply_voltage: Reals, speeds: tuple[Reals, Reals],
) -> TorqueCurve:
    """A torque limit [N·m] over speed at this supply: as it is printed where it is, else by the winding, by the stated speeds, the
    lesser where both are known.

    Raises NotKnown when none is known, or the maximum speed is below the rated one.
    """
    itself = None if printed is None else of_kind(printed.curves, shows)
    if itself is not None and printed is not None:
        made = None if winding is None else printed.curve(shows, winding)
        return only_as_printed(itself, supply_voltage) if made is None else made
    wound = None if winding is None else WoundCurve(winding, torque)
    if stated_speeds is None or (printed is not None and printed.fits):
        if wound is None:
            _say_what_is_missing(rated_voltage, supply_voltage, *speeds)
        return wound
    flat_to, zero_at = stated_speeds
    if np.any(np.asarray(zero_at) < flat_to):
        raise NotKnown("the maximum speed is below the rated speed")
    stated = ServoCurve(torque, flat_to, zero_at)
    return stated if wound is None else LesserCurve(wound, stated)


ROUNDING = 1e-12  # of a cycle: a piece so short is none
BY_WINDING = "the winding's voltage limit and the data sheet's, straight between its speeds; the lesser where both are known"


@quantity("", symbol="T_p(ω)", source=BY_WINDING, structure=True,
          formula="peak torque to where V ends it, and to ω_n·k_V, straight to 0 at ω_0·k_V; the lesser")
def torque_curve(
    motor_peak_torque: Reals, running_winding: ServoWinding | None = None, printed_fit: Printed | None = None,
    stated_speeds: tuple[Reals, Reals] | None = None, rated_voltage: Reals = None, supply_voltage: Reals = None,
    rated_speed: Reals = None, max_speed: Reals = None,
) -> TorqueCurve:
    """What the servo can give for a short time [N·m]; voltages [V] and speeds [rad/s] only say what is missing."""
    return curve("peak", motor_peak_torque, running_winding, printed_fit, stated_speeds, rated_voltage, supply_voltage,
                 (rated_speed, max_speed))


@quantity("", symbol="T_n(ω)", source=BY_WINDING, structure=True,
          formula="rated torque to where V ends it, and to ω_n·k_V, straight to 0 at ω_0·k_V; the lesser")
def continuous_curve(
    rated_torque: Reals, running_winding: ServoWinding | None = None, printed_fit: Printed | None = None,
    stated_speeds: tuple[Reals, Reals] | None = None, rated_voltage: Reals = None, supply_voltage: Reals = None,
    rated_speed: Reals = None, max_speed: Reals = None,
) -> TorqueCurve:
    """What the servo can give all the time [N·m]; voltages [V] and speeds [rad/s] only say what is missing."""
    return curve("continuous", rated_torque, running_winding, printed_fit, stated_speeds, rated_voltage, supply_voltage,
                 (rated_speed, max_speed))


@quantity("N·m", symbol="T_st", source="data sheet limit")
def stall_torque(motor_peak_torque: Reals) -> Reals:
    """What the motor could put into the train when it stalls; motor_peak_torque [N·m]."""
    return motor_peak_torque


@quantity("rad/s", symbol="ω_m", source="time mean over the whole cycle, dwells included", formula="∑ |Δθ| ÷ T", shown="rpm")
def mean_speed(cycle_pieces: Pieces, cycle_duration: Reals, travel_per_radian: Reals) -> Reals:
    """Mean shaft speed of the cycle, where its RMS torque is held against what the servo may give all the time."""
    way = np.sum(np.abs(cycle_pieces.distance) * cycle_pieces.times, axis=-1)
    return way / travel_per_radian / cycle_duration


@quantity("", symbol="m_c", source="continuous limit at the mean speed over RMS torque", formula="T_n(ω_m) ÷ T_rms")
def continuous_margin(continuous_curve: TorqueCurve, rms_torque: Reals, mean_speed: Reals) -> Reals:
    """How many times the RMS torque [N·m] the servo may give all the time at the mean speed [rad/s] of the cycle."""
    return continuous_curve(lift(mean_speed))[..., 0] / rms_torque


@quantity("[travel]", symbol="s", source="kinematics: one pulse moves as many counts as the electronic gear says",
          label="Travel of one pulse", shown=("µm", ""))
def step_length(
    travel_per_turn: Reals, counts_per_turn: Reals, electronic_gear_numerator: Reals, electronic_gear_denominator: Reals
) -> Reals:
    """Travel for one pulse; travel_per_turn [travel]."""
    return travel_per_turn * electronic_gear_numerator / (counts_per_turn * electronic_gear_denominator)


@quantity("rad/s", symbol="ω_lim", source="back-EMF equal to the supply, else data sheet limit scaled with the voltage there is",
          formula="V/K, at most ω_0, and ω_0·k_V; the lesser", shown="rpm")
def speed_limit(
    running_winding: ServoWinding | None = None, printed_fit: Printed | None = None,
    stated_speeds: tuple[Reals, Reals] | None = None, rated_voltage: Reals = None, supply_voltage: Reals = None,
    rated_speed: Reals = None, max_speed: Reals = None,
) -> Reals:
    """Shaft speed at which this supply leaves no torque; voltages [V] and speeds [rad/s] only say what is missing."""
    found = [] if running_winding is None else [running_winding.no_load_speed]
    if printed_fit is not None and printed_fit.fits:
        stated_speeds = None  # straight lines between two figures know less than what is printed
    found += [] if stated_speeds is None else [stated_speeds[1]]
    if not found:
        _say_what_is_missing(rated_voltage, supply_voltage, rated_speed, max_speed)
    return found[0] if len(found) == 1 else np.minimum(*found)


@record(frozen=True, eq=False, repr=False)
class Stretch:
    """How a stretch of time lies above a limit [s]: its length, the run it begins with, that it ends with, the longest in it."""

    duration: float
    head: float
    tail: float
    longest: float

    def then(self, after: Stretch) -> Stretch:
        """This stretch and the one after it."""
        head = self.duration + after.head if self.head >= self.duration else self.head
        tail = after.duration + self.tail if after.tail >= after.duration else after.tail
        return Stretch(self.duration + after.duration, head, tail, max(self.longest, after.longest, self.tail + after.head))

    def repeated(self, times: float) -> Stretch:
        """So many in a row; what happens at the joints is the same from the second on."""
        if self.head >= self.duration:
            return Stretch(*[self.duration * times] * 4)
        inside = max(self.longest, self.tail + self.head) if times > 1 else self.longest
        return Stretch(self.duration * times, self.head, self.tail, inside)


def above(start: float, end: float, limit: float, duration: float) -> Stretch:
    """A piece in which the torque goes straight from start to end; |torque| is above the limit up to two stretches of it.

    Torques [N·m], times [s].
    """
    low, high = sorted((start, end))
    if low == high:
        run = duration if abs(low) > limit else 0.0
        return Stretch(duration, run, run, run)
    crossing = [(min(max(edge, low), high) - start) / (end - start) * duration for edge in (-limit, limit)]
    first, last = sorted(crossing)
    head = first if abs(start) > limit else 0.0
    tail = duration - last if abs(end) > limit else 0.0
    if min(abs(start), abs(end)) > limit and start * end > 0:
        head = tail = duration
    return Stretch(duration, head, tail, max(head, tail))


@quantity("s", symbol="t_>", source="longest run above the rated torque, also through repeats and round the cycle",
          formula="longest time with |T| > T_n")
def time_above_rated(cycle_torque: CycleTorque, rated_torque: float) -> float:
    """Longest time at a stretch in which the cycle asks more than the rated torque [N·m], for a single build.

    The whole cycle where it never asks less.
    """
    c, limit, whole = cycle_torque, rated_torque * (1 + 1e-9), Stretch(0.0, 0.0, 0.0, 0.0)
    lasting = c.pieces.duration > ROUNDING * float(c.pieces.duration.sum())  # else a cruise of a rounding would end a run
    for own in np.split(np.arange(lasting.size), begins(c.pieces)[1:]):
        own = own[lasting[own]]
        if not own.size:
            continue
        once = Stretch(0.0, 0.0, 0.0, 0.0)
        for piece in own:
            once = once.then(above(float(c.start[piece]), float(c.end[piece]), limit, float(c.pieces.duration[piece])))
        whole = whole.then(once.repeated(float(c.pieces.times[own[0]])))
    return whole.repeated(2).longest if whole.head < whole.duration else whole.duration


@quantity("W", symbol="N_x", source="a proxy of this house: torque worked with times shaft speed; it only ranks")
def noise_proxy(rms_torque: Reals, peak_speed: Reals) -> Reals:
    """How loud a motor is likely to be beside another on the same axis; rms_torque [N·m], peak_speed [rad/s]."""
    return rms_torque * peak_speed
