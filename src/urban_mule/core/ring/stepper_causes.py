"""Causes of several humps for a stepper."""

from __future__ import annotations

from urban_mule.core.readings.acceleration import AccelerationReading
from urban_mule.core.readings.warming import STATES
from urban_mule.core.ring.causes import RANKED, SOURCE, RingCause, causes_of
from urban_mule.core.ring.modes import Mode
from urban_mule.core.ring.sensor import SensorFaults
from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.quantity import NotKnown, quantity
from urban_mule.core.train.link import Link


@quantity("Hz", symbol="f_c", source="the motor's field a spring, as stiff as the current of the record makes it",
          formula="f_1 moving, or idle", label="Resonance to compare")
def resonance_to_compare(
    acceleration_reading: AccelerationReading, axis_modes: list[Reals], axis_modes_idle: list[Reals] | None = None
) -> Reals:
    """The computed resonance that the last record is held against [Hz]. Raises NotKnown while idle modes are asked and unknown."""
    if acceleration_reading.state != STATES[1]:
        return axis_modes[0]
    if axis_modes_idle is None:
        raise NotKnown("the current while idle is not given", "hold_fraction")
    return axis_modes_idle[0]


@quantity("", symbol="", source=SOURCE, structure=True, formula=RANKED)
def ring_causes(
    modes: tuple[Mode, ...], train: tuple[Link, ...], axis_modes: list[Reals] | None = None,
    sensor_faults: SensorFaults | None = None, free_play: Reals = None, tone_tension: Reals = None,
) -> tuple[RingCause, ...]:
    """What may make several humps or a smear, the likeliest first; nothing where one clear mode rings."""
    return causes_of(modes, train, sensor_faults, free_play, tone_tension, None if axis_modes is None else axis_modes[0])
