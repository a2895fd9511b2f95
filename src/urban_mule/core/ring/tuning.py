"""The gains that follow from raising them one after another."""

from __future__ import annotations

from urban_mule.core.readings.tuning import TuningReading, tuned
from urban_mule.core.sheet.quantity import NotKnown, quantity

SOURCE = "practice: up until it sings, then half"


def _told(value: float | None, what: str) -> float:
    if value is None:
        raise NotKnown(f"the {what} was not tried yet", "tuning_reading")
    return value


@quantity("N·m·s/rad", symbol="K_p", source=SOURCE, formula="half of √(the last that held × the first that sang)",
          label="Velocity gain, by hand")
def tuned_velocity_gain(tuning_reading: TuningReading) -> float:
    """The velocity gain that follows from the last tuning by hand."""
    return _told(tuned(tuning_reading).velocity_gain, "velocity gain")


@quantity("s", symbol="T_n", source=SOURCE, formula="the last that held", label="Integral time, by hand", shown="ms")
def tuned_velocity_integral(tuning_reading: TuningReading) -> float:
    """The integral time that follows from it [s]."""
    return _told(tuned(tuning_reading).velocity_integral, "integral time")


@quantity("1/s", symbol="k_v", source=SOURCE, formula="the last that held", label="Position gain, by hand")
def tuned_position_gain(tuning_reading: TuningReading) -> float:
    """The position gain that follows from it [1/s]."""
    return _told(tuned(tuning_reading).position_gain, "position gain")
