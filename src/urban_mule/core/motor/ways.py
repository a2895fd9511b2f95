"""Ways to more torque, less heat or another speed, as advice that can be tried: what each would change."""

from __future__ import annotations

from typing import Any

from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.verdict import Way
from urban_mule.core.sheet.wording import rounded_down, rounded_up, size
from urban_mule.core.train.link import Link
from urban_mule.core.train.links import Reduction

GEARED = (1.25, 1.5, 2.0, 3.0, 5.0)  # reductions that are tried in front of a train
ONE_PAIR = 0.97  # efficiency of one pair of gears (G. Niemann, Machine Elements)
STRONGER = 1.5  # times the torque: one size up
INERTIA_POWER = 5 / 3  # of similar motors: torque grows with the cube of the size, inertia with its fifth power
FIND_A_DRIVE = "no single change of current, voltage, reduction or speed mends it: Find a drive on Motor searches them together"


def geared(train: tuple[Link, ...]) -> tuple[Way, ...]:
    """A reduction in front of the train: the smallest that helps."""
    return tuple(Way(f"fit a reduction, {size(ratio)}:1 say", {"train": (Reduction(ratio=ratio, efficiency=ONE_PAIR), *train)})
                 for ratio in GEARED)


def more_volts(supply_voltage: Reals, voltage_limit: Reals, wanted: Reals = None) -> tuple[Way, ...]:
    """A higher supply: what is wanted, else a half more, never above what the driver takes; none where it has that already.

    All in V.
    """
    if supply_voltage is None:
        return ()
    volts = rounded_up(float(wanted)) if wanted is not None else 1.5 * supply_voltage
    if voltage_limit is not None:
        if wanted is not None and volts > voltage_limit:
            return ()
        volts = min(volts, float(voltage_limit))
    if volts <= supply_voltage * (1 + 1e-9):
        return ()
    return (Way(f"raise the supply{f' to {size(volts)} V' if wanted is not None or voltage_limit is not None else ''}",
                {"supply_voltage": volts}),)


def more_current(current_peak: Reals, rated_current_peak: Reals, current_limit: Reals) -> tuple[Way, ...]:
    """More of the motor's rated current, as far as the driver gives it; none where that flows already. All in A peak."""
    if current_peak is None or rated_current_peak is None:
        return ()
    most = rounded_down(float(rated_current_peak) if current_limit is None else min(rated_current_peak, current_limit))
    if most <= current_peak * 1.005:
        return ()
    return (Way(f"set more of its current, up to {size(most)} A peak", {"current_peak": most}),)


def stronger(rotor_inertia: Reals, **torques: Reals) -> tuple[Way, ...]:
    """One size up by geometric similarity; torques: what the sheet says of them, by their names. rotor_inertia: [kg·m²]."""
    if rotor_inertia is None or any(value is None for value in torques.values()):
        return ()
    changes: dict[str, Any] = {name: value * STRONGER for name, value in torques.items()}
    return (Way("take a stronger motor", {**changes, "rotor_inertia": rotor_inertia * STRONGER**INERTIA_POWER}),)


def parallel(wiring: str | None, figures_for: str | None, current_peak: Reals, current_limit: Reals) -> tuple[Way, ...]:
    """The coils in parallel where another wiring is used, with the current that they then take, if the driver gives it.

    Currents in A peak.
    """
    if figures_for is None or wiring not in ("series", "half coil") or current_peak is None:
        return ()
    more = rounded_down(float(current_peak) * (2.0 if wiring == "series" else 2.0**0.5))
    if current_limit is not None and more > current_limit:
        return ()
    return (Way(f"wire the coils in parallel and set {size(more)} A peak", {"wiring": "parallel", "current_peak": more}),)
