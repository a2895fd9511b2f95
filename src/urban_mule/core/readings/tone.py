"""The tone of a plucked belt span."""

from __future__ import annotations

from urban_mule.core.readings.kind import ReadingKind, column
from urban_mule.core.sheet.record import record


@record(frozen=True, eq=False, repr=False)
class ToneReading:
    """The lowest tone of a free span of belt."""

    frequency: float = column("Hz", "lowest tone of the span", above=0)
    span: float = column("m", "free length of belt that sounds", above=0)
    linear_mass: float = column("kg/m", "mass of a metre of this belt, in its width", above=0)


TONE = ReadingKind(name="tone", stage="Slack", words="the tone of a belt", record=ToneReading)
