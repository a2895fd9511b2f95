"""Homing onto a switch: how fast it may be approached, and how well it comes back to the same place."""

from __future__ import annotations

import math

import numpy as np

from urban_mule.core.readings.homing import HomingReading
from urban_mule.core.sheet.given import Reals, given
from urban_mule.core.sheet.quantity import NotKnown, quantity


class Homing:
    """What the user knows of the end that the axis is homed onto."""

    switch_overtravel: Reals = given("[travel]", "d_s", "from where the switch answers to the hard end", above=0,
        label="Overtravel behind the switch")
    reaction_time: Reals = given("s", "t_r", "from the switch until the axis begins to slow down", default=0.0, least=0, most=10,
        shown="ms")
    homing_acceleration: Reals = given("[travel]/s²", "a_h", "with which it slows down while homing; the cycle's top when empty",
        above=0)


@quantity("[travel]/s", symbol="v_h", source="the way through the reaction time and the slowing down fits behind the switch",
          formula="−a·t_r + √(a²·t_r² + 2·a·d_s)", label="Highest homing speed")
def homing_speed_limit(
    switch_overtravel: Reals, reaction_time: Reals, homing_acceleration: Reals = None, top_acceleration: Reals = None
) -> Reals:
    """Fastest approach that still stops before the hard end; lengths [travel], accelerations [travel/s²].

    Raises NotKnown where neither acceleration is.
    """
    a = homing_acceleration if homing_acceleration is not None else top_acceleration
    if a is None:
        raise NotKnown("neither a homing acceleration is given nor a cycle", "homing_acceleration", "cycle")
    return -a * reaction_time + np.sqrt((a * reaction_time) ** 2 + 2 * a * switch_overtravel)


def _several(reading: HomingReading) -> np.ndarray:
    if reading.places.size < 2:
        raise NotKnown("one homing shows no scatter; home again")
    return reading.places


@quantity("[travel]", symbol="s_h", source="standard deviation over the homings", formula="√(∑(x − x̄)² ÷ (m − 1))",
          label="Homing scatter", shown=("µm", ""))
def homing_scatter(homing_reading: HomingReading) -> float:
    """Standard deviation of where it stands after homing. Raises NotKnown below two."""
    return float(np.std(_several(homing_reading), ddof=1))


def scatter_share(reading: HomingReading) -> float:
    """How sure a scatter over these homings is, as a share of it (JCGM 100, E.4.3: of normal readings 1 ÷ √(2·(m − 1)))."""
    return 1 / math.sqrt(2 * (_several(reading).size - 1))


@quantity("[travel]", symbol="u_sh", source="JCGM 100, E.4.3: the standard deviation of a standard deviation",
          formula="s_h ÷ √(2·(m − 1))", label="Standard uncertainty of the homing scatter", shown=("µm", ""))
def homing_scatter_uncertainty(homing_scatter: float, homing_reading: HomingReading) -> float:
    """Standard uncertainty of the scatter over so few homings [travel]."""
    return homing_scatter * scatter_share(homing_reading)


@quantity("[travel]", symbol="Δ_h", source="greatest difference from one homing to the next", formula="max |x_{i+1} − x_i|",
          label="Largest step between homings", shown=("µm", ""))
def homing_greatest_step(homing_reading: HomingReading) -> float:
    """Greatest difference from one homing to the next. Raises NotKnown below two."""
    return float(np.max(np.abs(np.diff(_several(homing_reading)))))
