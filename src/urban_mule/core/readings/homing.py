"""Where an axis stands after homing, time after time."""

from __future__ import annotations

import numpy as np

from urban_mule.core.readings.kind import ReadingKind, column
from urban_mule.core.sheet.record import record


@record(frozen=True, eq=False, repr=False)
class HomingReading:
    """Places read after homing and going to the same place, in the order in which they were taken."""

    places: np.ndarray = column("[travel]", "where it stands after each homing", "list")


HOMING = ReadingKind(name="homing", stage="Moves", words="homing again and again", record=HomingReading)
