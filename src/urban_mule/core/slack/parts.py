"""A belt by its tone, a preload by its drag."""

from __future__ import annotations

from urban_mule.core.readings.drag import DragReading
from urban_mule.core.readings.tone import ToneReading
from urban_mule.core.sheet.quantity import quantity


def tension_of(reading: ToneReading) -> float:
    """Tension of a plucked span of belt [N]: 4·m′·L²·f² of its lowest tone."""
    return 4 * reading.linear_mass * reading.span**2 * reading.frequency**2


@quantity("N", symbol="T_b", source="lowest tone of a string", formula="4·m′·L²·f²", label="Belt tension by its tone")
def tone_tension(tone_reading: ToneReading) -> float:
    """Tension of a plucked span of belt [N]."""
    return tension_of(tone_reading)


@quantity("N·m", symbol="T_v", source="lever", formula="F·R", label="Preload drag torque")
def preload_torque(drag_reading: DragReading) -> float:
    """Torque that just turns a preloaded shaft [N·m]."""
    return drag_reading.force * drag_reading.radius
