"""How hard a shaft drags."""

from __future__ import annotations

from urban_mule.core.readings.kind import ReadingKind, column
from urban_mule.core.sheet.record import record


@record(frozen=True, eq=False, repr=False)
class DragReading:
    """The force at a radius that just turns a preloaded shaft, and the range wanted."""

    force: float = column("N", "force that just turns it", least=0)
    radius: float = column("m", "lever arm of the force", above=0)
    lowest: float | None = column("N·m", "least torque that the preload should drag with", needed=False, least=0)
    highest: float | None = column("N·m", "most torque that the preload should drag with", needed=False, least=0)


def fits(reading: DragReading) -> None:
    """The range is one. Raises ValueError."""
    if reading.lowest is not None and reading.highest is not None and reading.lowest > reading.highest:
        raise ValueError(f"lowest is {reading.lowest:g}, above highest, {reading.highest:g}")


DRAG = ReadingKind(name="drag", stage="Slack", words="the drag of the preload", record=DragReading, fits=fits)
