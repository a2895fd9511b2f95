"""Several lengths, commanded and measured against a gauge, several times over."""

from __future__ import annotations

import numpy as np

from urban_mule.core.readings.kind import ReadingKind, column
from urban_mule.core.sheet.record import record


@record(frozen=True, eq=False, repr=False)
class LengthsReading:
    """Places measured at commanded ones: repeats × targets; what the gauge can see, how warm it was."""

    commanded: np.ndarray = column("[travel]", "where it was sent", "list")
    measured: np.ndarray = column("[travel]", "where the gauge says it stands", "rows")
    gauge_uncertainty: float | None = column("[travel]", "standard uncertainty of the gauge", needed=False, least=0)
    temperature: float | None = column("°C", "temperature of axis and gauge", needed=False, least=-273.15)
    gauge_expansion: float | None = column("1/K", "thermal expansion of the gauge", needed=False)
    temperature_uncertainty: float | None = column("K", "standard uncertainty of the temperature: axis and gauge, and between them",
                                                   needed=False, least=0)


def fits(reading: LengthsReading) -> None:
    """A column for every target, and two different ones at least. Raises ValueError."""
    if reading.measured.shape[1] != reading.commanded.size:
        raise ValueError(f"measured has {reading.measured.shape[1]} columns for {reading.commanded.size} commanded")
    if len(set(reading.commanded.tolist())) < 2:
        raise ValueError("commanded holds fewer than two different places; a line needs two")


LENGTHS = ReadingKind(name="lengths", stage="Scale", words="lengths", record=LengthsReading, fits=fits, item="commanded",
                      cell="measured")
