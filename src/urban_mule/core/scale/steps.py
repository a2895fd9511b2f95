"""Steps per unit: exact, against what was measured, and what a measured ratio gives away."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING

import numpy as np

from urban_mule.core.load.fellow import Fellow, of_both
from urban_mule.core.sheet.given import Reals, given
from urban_mule.core.sheet.quantity import quantity
from urban_mule.core.sheet.record import record
from urban_mule.core.sheet.units import FACTORS, LINEAR_UNITS, ROTARY_UNITS, SPELLINGS
from urban_mule.core.train.known import exact
from urban_mule.core.train.link import Link

if TYPE_CHECKING:
    from fractions import Fraction

UNIT_SIZE = {unit: FACTORS[SPELLINGS.get(unit, unit)] for unit in (*LINEAR_UNITS, *ROTARY_UNITS)}
MOST_PARTS = 10_000  # of a pulse per turn: an electronic gear of 1 to 3 gives thirds, and no gear is finer than this


class Controller:
    """What the user knows of the controller."""

    nominal_steps_per_unit: Reals = given(
        "", "S_0", "steps per unit to begin with, where the train cannot be computed; readings correct it", above=0,
        label="Nominal steps", plural=True)
    max_pulse_rate: Reals = given("Hz", "f_lim", "most pulses a second it makes", above=0, label="Controller's highest step rate",
        shown="kHz")


@record(frozen=True, eq=False, repr=False)
class StepsFraction:
    """Steps per unit as an exact fraction, times π to a power (a rack's or a radian's)."""

    fraction: Fraction
    pi_power: int

    def __str__(self) -> str:
        pi = {0: "", 1: "·π", -1: "/π"}.get(self.pi_power, f"·π^{self.pi_power}")
        return f"{self.fraction}{pi}"

    def __float__(self) -> float:
        return float(self.fraction) * math.pi**self.pi_power


@quantity("", symbol="u", source="definition of the unit", structure=True, formula="size of the unit in m or rad")
def unit_size(unit: str) -> float:
    """Size of the controller's unit in m or rad."""
    return UNIT_SIZE[unit]


@quantity("1/unit", symbol="S", source="kinematics", instead="nominal_steps_per_unit")
def steps_per_unit(unit_size: float, step_length: Reals) -> Reals:
    """Pulses for one unit of the controller; unit_size [travel], step_length [travel]."""
    return unit_size / step_length


def moves_by(steps_set: float, microsteps_set: float, steps_needed: float, microsteps_meant: float) -> float:
    """Moved over commanded while driver and controller do not fit: steps_needed [1/unit] are those for microsteps_meant."""
    return steps_set / steps_needed * microsteps_meant / microsteps_set


@quantity("Hz", symbol="f_p", source="kinematics", shown="kHz")
def pulse_rate(
    top_speed: Reals, step_length: Reals, travel_per_radian: Reals = None, pair_peak_speed: Reals = None,
    fellow: Fellow | None = None,
) -> Reals:
    """Pulses a second at the top speed of the cycle, of a pair at those of both axes at once; top_speed [travel/s], step_length
    [travel], travel_per_radian [travel/rad], pair_peak_speed [rad/s]. Raises NotKnown.
    """
    both = None if pair_peak_speed is None or travel_per_radian is None else pair_peak_speed * travel_per_radian
    return of_both(top_speed, both, fellow) / step_length


@quantity("1/unit", symbol="S", source="the same product in whole numbers", structure=True,
          formula="steps · microsteps · ratios ÷ travel per turn")
def steps_fraction(train: tuple[Link, ...], unit: str, pulses_per_turn: Reals) -> StepsFraction:
    """Steps per unit as an exact fraction. Raises NotKnown when a link is not exact, or not given."""
    from fractions import Fraction

    steps, pi = Fraction(float(pulses_per_turn)).limit_denominator(MOST_PARTS), 0
    for link in train:
        turn = link.exact_turn()
        steps, pi = steps / turn.fraction, pi - turn.pi_power
    if unit in LINEAR_UNITS:
        return StepsFraction(steps * exact(UNIT_SIZE[unit]), pi)
    parts, power = {"deg": (360, 0), "turn": (1, 0), "rad": (2, -1)}[unit]
    return StepsFraction(steps / parts, pi + power)


@quantity("", symbol="N_t", source="definition")
def pulses_per_turn(travel_per_turn: Reals, step_length: Reals) -> Reals:
    """Pulses for one turn of the motor; both [travel]."""
    return np.round(travel_per_turn / step_length, 9)
