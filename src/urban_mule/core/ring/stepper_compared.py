"""The train's resonance, computed with the motor's field and heard."""

from __future__ import annotations

from urban_mule.core.readings.acceleration import AccelerationReading
from urban_mule.core.ring.modes import Mode
from urban_mule.core.ring.train_hump import FORMULA, READING, heard
from urban_mule.core.sheet.pair import Measured, pair


@pair("first resonance", stage="Ring", computes="resonance_to_compare", before="first_resonance", without=("measured_stiffness",),
      model=FORMULA, shown_as="first_resonance", **READING)
def first_mode(
    computed: float, modes: tuple[Mode, ...], acceleration_reading: AccelerationReading,
    other_modes: tuple[float, ...] | None = None,
) -> Measured | None:
    """The mode of the last record that is the train's [Hz]."""
    return heard(modes, computed, acceleration_reading.train_mode, other_modes)
