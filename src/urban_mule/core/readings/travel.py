"""One travel, commanded and measured."""

from __future__ import annotations

import numpy as np

from urban_mule.core.readings.kind import ReadingKind, column
from urban_mule.core.sheet.record import record


@record(frozen=True, eq=False, repr=False)
class TravelReading:
    """A travel measured against a gauge, several times over."""

    commanded: float = column("[travel]", "travel commanded", nonzero=True)
    measured: np.ndarray = column("[travel]", "travel measured, of each repeat", "list")
    gauge_uncertainty: float | None = column("[travel]", "standard uncertainty of the gauge", needed=False, least=0)


TRAVEL = ReadingKind(name="travel", stage="Scale", words="a measured travel", record=TravelReading)
