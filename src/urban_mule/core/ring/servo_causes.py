"""Causes of several humps for a servo."""

from __future__ import annotations

from urban_mule.core.ring.causes import RANKED, SOURCE, RingCause, causes_of
from urban_mule.core.ring.modes import Mode
from urban_mule.core.ring.sensor import SensorFaults
from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.quantity import quantity
from urban_mule.core.train.link import Link


@quantity("Hz", symbol="f_c", source="the motor held by its loop", formula="f_1", label="Resonance to compare")
def resonance_to_compare(first_axial_mode: Reals) -> Reals:
    """The computed resonance that a record is held against [Hz]."""
    return first_axial_mode


@quantity("", symbol="", source=SOURCE, structure=True, formula=RANKED)
def ring_causes(
    modes: tuple[Mode, ...], train: tuple[Link, ...], sensor_faults: SensorFaults | None = None,
    free_play: Reals = None, tone_tension: Reals = None,
) -> tuple[RingCause, ...]:
    """What may make several humps or a smear, the likeliest first; nothing where one clear mode rings."""
    return causes_of(modes, train, sensor_faults, free_play, tone_tension)
