"""Ripple on a test piece, by ruler: frequency and damping without a sensor."""

from __future__ import annotations

import math

import numpy as np

from urban_mule.core.readings.ripple import RippleReading
from urban_mule.core.readings.straight_line import straight_line
from urban_mule.core.sheet.quantity import NotKnown, quantity

DECREMENT = "logarithmic decrement: W. T. Thomson, Theory of Vibration with Applications"


@quantity("Hz", symbol="f_d", source="the piece is a record over the way", formula="v ÷ spacing", label="Ripple frequency")
def ripple_frequency(ripple_reading: RippleReading) -> float:
    """Frequency of the ripple, the damped one [Hz]."""
    return float(ripple_reading.speed / ripple_reading.spacing)


@quantity("", symbol="ζ_d", source=DECREMENT, formula="δ ÷ √(4π² + δ²), δ = −slope of ln height over the crests",
          shown="%", label="Damping of the ripple")
def ripple_damping_ratio(ripple_reading: RippleReading) -> float:
    """Damping ratio from successive crests. Raises NotKnown for one crest, and for crests that grow."""
    heights = ripple_reading.heights
    if heights is None or heights.size < 2:
        raise NotKnown("one crest does not tell how it dies away; read two or more", "ripple_reading")
    decrement = -straight_line(np.arange(heights.size), np.log(heights)).slope
    if decrement < 0:
        raise NotKnown("the crests grow along the piece; count them from the corner", "ripple_reading")
    return decrement / math.hypot(2 * math.pi, decrement)
