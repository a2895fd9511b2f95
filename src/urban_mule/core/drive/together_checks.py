"""Judgements on all axes together: the supply, the bus after a stop, the circuit, shared pulses, bus addresses."""

from __future__ import annotations

from urban_mule.core.drive.checks import fewer_pulses
from urban_mule.core.drive.pulses import SharedPulses
from urban_mule.core.drive.together import Axes, AxisTogether, SpindleTogether, balance_of, least_limit, on_supply
from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.verdict import Verdict, check, listed, listed_names
from urban_mule.core.sheet.wording import at_least, size

SCHOOLS = ("Two approaches: two thirds of the phase currents at the supply voltage, or what the shafts give and the windings heat."
           " The greater is taken.")
LOCAL_CODE = "Local electrical code and a licensed electrician decide."


def names(axes: Axes) -> str:
    return listed_names([axis.name for axis in axes])


@check("supply power", stage="Drive", main=True)
def supply_is_enough(
    supply_power_needed: float, supply_headroom: float, supply_power: float, axes_together: Axes, driver_efficiency: float,
    supply_voltage: Reals = None,
) -> Verdict:
    """The supply's power against the greater of both schools; what of the axes is not known leaves it open."""
    bare = supply_power_needed / supply_headroom
    said = (f"The axes together draw {size(bare)} W, {size(supply_power_needed)} W with headroom;"
            f" the supply gives {size(supply_power)} W")
    room, buy = supply_power / supply_power_needed, f"Take a supply of {at_least(supply_power_needed)} W or more."
    silent = [axis.name for axis in on_supply(axes_together, supply_voltage) if balance_of(axis, driver_efficiency) is None]
    draws = "it draws" if len(silent) == 1 else "they draw"
    left_out = f" {listed_names(silent)} left out: what {draws} is not known." if silent else ""
    if supply_power < bare:
        return Verdict("short", f"{said}.{left_out}", buy, SCHOOLS, 0.0)
    if room < 1 - 1e-9:
        return Verdict("tight", f"{said}.{left_out}", f"It runs at its limit when all axes work at once. {buy}", SCHOOLS,
                       0.3 * room)
    if silent:
        return Verdict("unknown", f"{said}.{left_out}", "Give motor, driver and cycle of every axis.", SCHOOLS)
    return Verdict("good", f"{said}.", "Nothing to do.", SCHOOLS, min(1.0, 0.4 + (room - 1) / 2))


@check("bus after a stop", stage="Drive")
def bus_stays_below(
    axes_together: Axes, supply_voltage: float, stopping_energy_together: float, bus_voltage_after_stop: float, supply_kind: str,
    braking_capacitance_needed: Reals = None, braking_power: Reals = None,
) -> Verdict:
    """How far the bus rises when all axes stop at once, against the weakest driver."""
    weakest = least_limit(on_supply(axes_together, supply_voltage))
    limit = weakest.voltage_limit or 0.0
    said = (f"When all axes stop at once {size(stopping_energy_together)} J come back and the bus rises to"
            f" {size(bus_voltage_after_stop)} V; the driver of {weakest.name} takes {size(limit)} V")
    if bus_voltage_after_stop > limit:
        capacitor = "" if braking_capacitance_needed is None else (
            f"{at_least(braking_capacitance_needed * 1e3)} mF of capacitor in all, or ")
        resistor = "a brake resistor" if braking_power is None else f"a brake resistor for {at_least(braking_power)} W"
        return Verdict("short", f"{said}.", f"Fit {capacitor}{resistor}, or brake more slowly.", headroom=0.0)
    room = (limit - bus_voltage_after_stop) / max(limit - supply_voltage, 1e-9)
    silent = [axis.name for axis in on_supply(axes_together, supply_voltage)
              if axis.stopping_energy is None or axis.voltage_limit is None]
    if silent:
        return Verdict("unknown", f"{said}. {listed_names(silent)} left out: what comes back, or what the driver takes, is not"
                       " known.",
                       "Give motor, driver and cycle of every axis.")
    if supply_kind == "switching" and bus_voltage_after_stop > 1.02 * supply_voltage:
        return Verdict("tight", f"{said}.", "A switching supply takes nothing back and may switch off: let a diode keep the rise"
                       " from it, with the capacitor behind it.", headroom=0.4 * room)
    return Verdict("good" if room > 0.2 else "tight", f"{said}.",
                   "Nothing to do." if room > 0.2 else "A larger capacitor gives room.", headroom=room)


@check("circuit", stage="Drive")
def circuit_bears_it(
    circuit_share: float, mains_current: float, circuit_rating: float, continuous_share: float, axes_together: Axes,
    driver_efficiency: float, spindles_together: tuple[SpindleTogether, ...] = (), supply_voltage: Reals = None,
) -> Verdict:
    """What supply and spindles draw from the wall against what the circuit gives for hours, and what of them is not known."""
    silent = tuple(one for one in spindles_together if one.current is None)
    counted = len(spindles_together) > len(silent)
    draws = "Supply and spindles together draw" if counted else "The supply draws"
    said = f"{draws} {size(mains_current)} A, {size(100 * circuit_share)} % of the circuit of {size(circuit_rating)} A"
    least = mains_current + sum(one.least_current or 0.0 for one in silent)
    left_out = [f"{one.name} ({listed(list(one.lacking))} {'is' if len(one.lacking) == 1 else 'are'} not given)" for one in silent]
    left_out += [axis.name for axis in on_supply(axes_together, supply_voltage) if balance_of(axis, driver_efficiency) is None]
    if silent and any(one.least_current for one in silent):
        share = least / circuit_rating
        said += f"; with {listed_names([one.name for one in silent])} at least {at_least(least)} A, {size(100 * share)} %"
    if least > continuous_share * circuit_rating:
        return Verdict("short", f"{said}; {size(100 * continuous_share)} % may be drawn for hours.",
                       f"Give it a circuit of its own or a larger one. {LOCAL_CODE}", headroom=0.0)
    if left_out:
        return Verdict("unknown", f"{said}. Left out, since it is not known: {listed_names(left_out)}.",
                       f"Give that, then this can be judged. {LOCAL_CODE}")
    room = 1 - circuit_share / continuous_share
    return Verdict("tight" if room < 0.2 else "good", f"{said}.", f"Count what else hangs on it. {LOCAL_CODE}", headroom=room)


@check("axes on the supply", stage="Drive")
def all_axes_are_counted(axes_together: Axes, driver_efficiency: float, supply_voltage: Reals = None) -> Verdict:
    """Which axes hang on another supply, and which leave the sums incomplete."""
    here = on_supply(axes_together, supply_voltage)
    elsewhere = tuple(axis for axis in axes_together if axis not in here)
    silent = tuple(axis for axis in here if balance_of(axis, driver_efficiency) is None)
    cool = tuple(axis for axis in here if not axis.stepper and axis.copper_loss is None and axis not in silent)
    apart = "" if not elsewhere else f" {names(elsewhere)} {'hangs' if len(elsewhere) == 1 else 'hang'} on another supply."
    if silent:
        draws = "draws" if len(silent) == 1 else "draw"
        return Verdict("unknown", f"What {names(silent)} {draws} is not known and left out.{apart}",
                       "Give motor, driver and cycle of every axis.")
    if cool:
        return Verdict("tight", f"Of {names(cool)} the heat in the winding is not known and taken as none.{apart}",
                       "Give the winding figures of the servo.", headroom=0.5)
    count = len(here)
    return Verdict("good", f"{count} {'axis hangs' if count == 1 else 'axes hang'} on this supply.{apart}", "Nothing to do.",
                   headroom=0.9)


@check("pulses together", stage="Drive")
def pulses_together(
    axes_together: Axes, total_pulse_rate: float, total_pulse_rate_limit: Reals = None
) -> Verdict | None:
    """Pulses of all axes at once against what a small controller makes in all."""
    if total_pulse_rate_limit is None:
        return None
    most = max(axes_together, key=lambda axis: axis.pulse_rate or 0.0)
    share = total_pulse_rate / total_pulse_rate_limit
    said = (f"All axes at top speed need {size(total_pulse_rate / 1e3)} kHz of pulses, {size(100 * share)} % of what the controller"
            f" makes in all; {most.name} takes most of it, {size((most.pulse_rate or 0.0) / 1e3)} kHz")
    return _pulses(share, said, most)


@check("shared pulses", stage="Drive")
def shared_pulses_fit(
    axes_together: Axes, slowest_timing: SharedPulses | None = None, shared_pulse_width: Reals = None,
    shared_pulse_gap: Reals = None,
) -> Verdict | None:
    """The timing of the slowest driver against every axis on the generator."""
    known = [axis for axis in axes_together if axis.pulse_rate is not None]
    if slowest_timing is None or not known:
        return None
    if shared_pulse_width is None or shared_pulse_gap is None:
        return Verdict("unknown", "The axes share one pulse generator; no driver says the shortest pulse that it sees.",
                       "Give it for the slowest driver at least.")
    first = max(known, key=lambda axis: axis.pulse_rate or 0.0)
    slow = max(axes_together, key=lambda axis: max((timing[0] or 0.0 for timing in axis.timing), default=0.0))
    limit = 1 / (shared_pulse_width + shared_pulse_gap)
    share = (first.pulse_rate or 0.0) / limit
    said = (f"The driver of {slow.name} makes every pulse {size(shared_pulse_width * 1e6)} µs long:"
            f" {size(limit / 1e3)} kHz at most."
            f" {first.name} reaches it first, at {size(100 * share)} %")
    return _pulses(share, said, first)


def _pulses(share: float, said: str, axis: AxisTogether) -> Verdict:
    if share > 1:
        return Verdict("short", f"{said}.", f"{fewer_pulses(axis.microsteps)} on {axis.name}, or another form of signal.",
                       headroom=0.0)
    if share > 0.8:
        return Verdict("tight", f"{said}.", f"{fewer_pulses(axis.microsteps)} on {axis.name} to have a reserve of a fifth.",
                       headroom=(1 - share) * 1.5)
    return Verdict("good", f"{said}.", "Nothing to do.", headroom=min(1.0, 1.2 - share))
