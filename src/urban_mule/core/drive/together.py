"""All axes on one supply and one controller: power by two schools, the bus after a stop, the mains, pulses together.

What an axis does not know is left out of a sum; a check names it.
"""

from __future__ import annotations

import math
from collections.abc import Callable

import numpy as np

from urban_mule.core.drive.pulses import PulseTimes, SharedPulses, slowest_of
from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.quantity import NotKnown, quantity
from urban_mule.core.sheet.record import record

BOTH_SCHOOLS = "two approaches in practice: phase currents, or the balance of shaft power and heat"
DEAD = 5.0  # V: below it the logic of a driver has stopped
LEAST_WAIT = 300.0  # s: what is written on drives and supplies; large ones want more


@record(frozen=True, eq=False, repr=False)
class MadeMove:
    """One move of an axis: how long it takes with its shaper and until it has settled [s]; at both ends of its pieces the time from
    its beginning [s] and the shaft power of all its motors [W]; times: how often it is made before the next.
    """

    lasts: float
    time: np.ndarray
    power: np.ndarray
    times: int = 1

    def power_at(self, time: np.ndarray) -> np.ndarray:
        """What it takes at these times [s] from its beginning [W]; braking takes nothing."""
        if not self.time.size:
            return np.zeros_like(time)
        piece = np.searchsorted(self.time[1::2], time, side="right")
        inside, at = (time >= 0) & (piece < self.time.size // 2), np.clip(piece, 0, self.time.size // 2 - 1)
        first, last = self.time[::2][at], self.time[1::2][at]
        share = np.clip((time - first) / np.where(last > first, last - first, 1.0), 0.0, 1.0)
        value = self.power[::2][at] + (self.power[1::2][at] - self.power[::2][at]) * share
        return np.where(inside, np.maximum(0.0, value), 0.0)


@record(frozen=True, kw_only=True, eq=False, repr=False)
class AxisTogether:
    """What a project takes of one axis; None for what the axis does not know.

    own_supply: the voltage that it names itself [V]. copper_loss: the set current's of a stepper, the cycle's of a servo [W].
    motor_count: motors that share its power and energy; windings: those that are its own, for currents and their heat.
    timing: pulse width, gap and direction set-up of each of its drivers [s]. microsteps: None on a servo. moves: of its own cycle,
    in order, none while they are not known.
    """

    name: str
    stepper: bool
    motor_count: float
    own_supply: float | None
    current_rms: float | None
    peak_power: float | None
    copper_loss: float | None
    stopping_energy: float | None
    regenerated_energy: float | None
    cycle_duration: float | None
    voltage_limit: float | None
    pulse_rate: float | None
    microsteps: float | None
    timing: tuple[PulseTimes, ...] = ()
    windings: float = 1.0
    moves: tuple[MadeMove, ...] = ()


Axes = tuple[AxisTogether, ...]


@record(frozen=True, eq=False, repr=False)
class SpindleTogether:
    """What a project takes of a drive that turns a tool; None where it is not known.

    current: what it draws from the mains [A]; least_current: what it draws at least, with what is not given at its best.
    coast_time: how long it turns on without power [s]. lacking: the labels of what the current lacks.
    """

    name: str
    current: float | None
    least_current: float | None
    coast_time: float | None
    lacking: tuple[str, ...] = ()


def on_supply(axes_together: Axes, supply_voltage: Reals) -> Axes:
    """The axes that hang on the project's supply: all that name no other voltage [V]."""
    return tuple(axis for axis in axes_together if supply_voltage is None or axis.own_supply in (None, supply_voltage))


def balance_of(axis: AxisTogether, driver_efficiency: float) -> float | None:
    """What an axis draws by the balance [W]; the windings of a servo that says nothing of them are left out of it."""
    if axis.peak_power is None or (axis.stepper and axis.copper_loss is None):
        return None
    return axis.motor_count * max(0.0, axis.peak_power) / driver_efficiency + heat_of(axis)


def heat_of(axis: AxisTogether) -> float:
    """What its windings heat all the time [W]; nothing where that is not known."""
    return axis.windings * (axis.copper_loss or 0.0)


def phases_of(axis: AxisTogether) -> float | None:
    """RMS current of one phase of every motor of a stepper axis together [A]; None for a servo."""
    return axis.windings * axis.current_rms if axis.stepper and axis.current_rms is not None else None


def back_in_one_stop(axis: AxisTogether) -> float | None:
    """Energy that an axis gives back in its worst move [J]."""
    return None if axis.stopping_energy is None else axis.motor_count * axis.stopping_energy


def total(axes: Axes, of: Callable[[AxisTogether], float | None], what: str) -> float:
    """The sum over the axes that know their part. Raises NotKnown when none does."""
    known = [part for axis in axes if (part := of(axis)) is not None]
    if not known:
        raise NotKnown(f"no axis on this supply knows {what}")
    return float(sum(known))


def least_limit(axes: Axes) -> AxisTogether:
    """The axis whose driver takes the least voltage. Raises NotKnown where none says."""
    known = [axis for axis in axes if axis.voltage_limit is not None]
    if not known:
        raise NotKnown("no driver on this supply says what voltage it takes")
    return min(known, key=lambda axis: axis.voltage_limit or math.inf)


@quantity("A", symbol="I_A", source=BOTH_SCHOOLS, formula="f_ph·∑ n·I_rms, one phase of each motor", label="Current, by phases")
def supply_current_by_phases(axes_together: Axes, phase_current_factor: Reals, supply_voltage: Reals = None) -> Reals:
    """What the supply gives by the first school: a share of the phase currents of all steppers, both phases never full at once."""
    return phase_current_factor * total(on_supply(axes_together, supply_voltage), phases_of, "the current of a stepper")


@quantity("W", symbol="P_A", source=BOTH_SCHOOLS, label="Power, by phases")
def supply_power_by_phases(supply_current_by_phases: Reals, supply_voltage: Reals) -> Reals:
    """Power by the first school; current [A], supply_voltage [V]."""
    return supply_current_by_phases * supply_voltage


@quantity("W", symbol="P_B", source=BOTH_SCHOOLS, label="Power, by balance",
          formula="∑ n·(max(0, P_max)/η_d + P_Cu) + P_st; where it is said which axes move at once, the greatest of that")
def supply_power_by_balance(
    axes_together: Axes, driver_efficiency: Reals, standing_load: Reals, supply_voltage: Reals = None,
    machine_peak_power: Reals = None,
) -> Reals:
    """Power by the second school: what the shafts give at most and the windings heat; standing_load [W]."""
    axes = on_supply(axes_together, supply_voltage)
    if machine_peak_power is not None and len(axes) == len(axes_together):
        return machine_peak_power
    return total(axes, lambda axis: balance_of(axis, driver_efficiency), "its power") + standing_load


@quantity("W", symbol="P_n", source=BOTH_SCHOOLS, formula="f_h·max(P_A, P_B)", label="Recommended supply power")
def supply_power_needed(
    supply_headroom: Reals, supply_power_by_phases: Reals = None, supply_power_by_balance: Reals = None
) -> Reals:
    """The greater of both schools with headroom; powers [W]. Raises NotKnown with neither."""
    known = [power for power in (supply_power_by_phases, supply_power_by_balance) if power is not None]
    if not known:
        raise NotKnown("no axis on this supply knows its power")
    return supply_headroom * max(known)


@quantity("J", symbol="E_a", source="all axes stop at once, each out of its worst move", formula="∑ n·E_s",
          label="Energy returned by all axes")
def stopping_energy_together(axes_together: Axes, supply_voltage: Reals = None) -> Reals:
    """Energy that comes back when all axes on this supply stop at once; winding and friction take some, not counted on."""
    return total(on_supply(axes_together, supply_voltage), back_in_one_stop, "what it gives back")


@quantity("V", symbol="V_b", source="energy of a capacitor", formula="√(V² + 2·E_a/C)", label="Bus voltage after a stop")
def bus_voltage_after_stop(supply_voltage: Reals, stopping_energy_together: Reals, supply_capacitance: Reals) -> Reals:
    """How far the bus rises when all axes stop at once; voltage [V], energy [J], capacitance [F]."""
    return math.sqrt(supply_voltage**2 + 2 * stopping_energy_together / supply_capacitance)


@quantity("F", symbol="C_n", source="energy of a capacitor", formula="2·E_a ÷ (V_lim² − V²), V_lim of the weakest driver",
          shown="mF", label="Capacitor needed")
def braking_capacitance_needed(axes_together: Axes, supply_voltage: Reals, stopping_energy_together: Reals) -> Reals:
    """Capacitance that keeps the bus below what the weakest driver takes. Raises NotKnown when the supply is at that already."""
    limit = least_limit(on_supply(axes_together, supply_voltage)).voltage_limit
    assert limit is not None
    if limit <= supply_voltage:
        raise NotKnown("the supply is already at what the weakest driver takes")
    return 2 * stopping_energy_together / (limit**2 - supply_voltage**2)


@quantity("W", symbol="P_br", source="energy given back over the time of the cycle", formula="∑ n·E_b/t_c",
          label="Brake resistor power")
def braking_power(axes_together: Axes, supply_voltage: Reals = None) -> Reals:
    """Mean power that a brake resistor would take."""
    def of(axis: AxisTogether) -> float | None:
        if axis.regenerated_energy is None or axis.cycle_duration is None:
            return None
        return axis.motor_count * axis.regenerated_energy / axis.cycle_duration

    return total(on_supply(axes_together, supply_voltage), of, "what it gives back")


@quantity("s", symbol="t_dis", source="energy of a capacitor, taken out by the standing load", formula="C·(V² − 5²) ÷ (2·P_st)",
          label="Discharge time, standing load alone")
def discharge_time(supply_capacitance: Reals, supply_voltage: Reals, standing_load: Reals) -> Reals:
    """How long the supply stays above 5 V after it is off, while the whole standing load goes on drawing. Raises NotKnown.

    What stands behind the contactor draws nothing then, so nobody waits by this number alone: see `wait_before_reaching_in`.
    """
    if standing_load == 0:
        raise NotKnown("nothing is said to draw on it while it is off", "standing_load")
    return max(0.0, supply_capacitance * (supply_voltage**2 - DEAD**2) / (2 * standing_load))


@quantity("s", symbol="t_w", source="a supply keeps its charge for minutes, a tool turns on until friction has stopped it",
          formula="max(5 min, t_dis, t_co of the spindles)", shown="min", label="Waiting time before reaching in")
def wait_before_reaching_in(spindles_together: tuple[SpindleTogether, ...] = (), discharge_time: Reals = None) -> float:
    """How long at least to wait after the power is off before anybody reaches in; times [s].

    What is not known may take longer: charge is measured and what turns is looked at, whatever this says.
    """
    return max(LEAST_WAIT, discharge_time or 0.0, *(one.coast_time or 0.0 for one in spindles_together))


@quantity("A", symbol="I_m1", source="power over efficiency, power factor and voltage; spindles draw their own",
          formula="max(P_A, P_B) ÷ (η_s·λ·V_m) + ∑ I_m of the spindles", label="Mains current")
def mains_current(
    supply_efficiency: Reals, power_factor: Reals, mains_voltage: Reals, supply_power_by_phases: Reals = None,
    supply_power_by_balance: Reals = None, spindles_together: tuple[SpindleTogether, ...] = (),
) -> Reals:
    """What supply and spindles draw from the wall, by the greater school, without headroom; powers [W]. Raises NotKnown.

    A spindle of which it is not known is left out; the verdict on the circuit names it.
    """
    power = supply_power_needed(1.0, supply_power_by_phases, supply_power_by_balance)
    own = sum(one.current or 0.0 for one in spindles_together)
    return own + power / (supply_efficiency * power_factor * mains_voltage)


@quantity("", symbol="s_m", source="current over the rating of the circuit", shown="%", label="Share of the circuit")
def circuit_share(mains_current: Reals, circuit_rating: Reals) -> Reals:
    """How much of the circuit is taken; both [A]. Local code decides what is allowed."""
    return mains_current / circuit_rating


@quantity("Hz", symbol="f_Σ", source="one pulse train an axis, however many motors", formula="∑ f_p", shown="kHz",
          label="Step rate of all axes")
def total_pulse_rate(axes_together: Axes) -> Reals:
    """Pulses of all axes at top speed together, on whatever supply. Raises NotKnown where no axis knows its own."""
    known = [axis.pulse_rate for axis in axes_together if axis.pulse_rate is not None]
    if not known:
        raise NotKnown("no axis knows its pulse rate")
    return float(sum(known))


def no_shared_pulses(shared_pulses: bool | None) -> str:
    """Why nothing is to be said of shared pulses."""
    return "" if shared_pulses else "the axes share no pulse generator"


@quantity("", symbol="", source="the slowest driver rules", structure=True, formula="the greatest of all drivers",
          unless=no_shared_pulses)
def slowest_timing(axes_together: Axes) -> SharedPulses:
    """Timing that drivers on one generator share."""
    return slowest_of(timing for axis in axes_together for timing in axis.timing)


def _shared(value: float | None) -> float:
    if value is None:
        raise NotKnown("no driver says its timing")
    return value


@quantity("s", symbol="t_hs", source="the slowest driver rules", shown="µs", formula="max t_h", unless=no_shared_pulses)
def shared_pulse_width(slowest_timing: SharedPulses) -> Reals:
    """Pulse width that every driver on the generator sees. Raises NotKnown where none says."""
    return _shared(slowest_timing.width)


@quantity("s", symbol="t_ls", source="the slowest driver rules", shown="µs", formula="max t_l", unless=no_shared_pulses)
def shared_pulse_gap(slowest_timing: SharedPulses) -> Reals:
    """Pause between pulses that every driver on the generator sees. Raises NotKnown where none says."""
    return _shared(slowest_timing.gap)


@quantity("s", symbol="t_ds", source="the slowest driver rules", shown="µs", formula="max t_dir", unless=no_shared_pulses)
def shared_direction_setup(slowest_timing: SharedPulses) -> Reals:
    """How long ahead the direction must stand for every driver on the generator. Raises NotKnown where none says."""
    return _shared(slowest_timing.direction_setup)
