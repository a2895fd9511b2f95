"""The fastest move of a cycle as the tag has it, through the shaper that is set: of it a record tells what is really left."""

from __future__ import annotations

from urban_mule.core.readings.shapers import KINDS
from urban_mule.core.ring.set_shaper import impulses_of
from urban_mule.core.sheet.record import record
from urban_mule.core.sheet.solution import Solution
from urban_mule.core.sheet.units import number_text


@record(frozen=True)
class SetMove:
    """speed [travel/s], acceleration [travel/s²]; the shaper by name and frequency [Hz], its impulses as times [s] and shares."""

    speed: float
    acceleration: float
    shaper: str
    frequency: float | None
    impulses: tuple[tuple[float, float], ...]

    @property
    def delay(self) -> float:
        """How much longer the shaper makes the move [s]."""
        return self.impulses[-1][0]

    @property
    def called(self) -> str:
        """The shaper as a person sets it."""
        return f"{self.shaper} at {number_text(self.frequency, 4)} Hz" if self.shaper in KINDS and self.frequency else self.shaper


def set_move_of(solution: Solution) -> SetMove | None:
    """That move of an axis; None while its settings are not known."""
    one = solution.get("settings_as_set") if "settings_as_set" in solution.sheet.quantities else None
    if one is None:
        return None
    made = impulses_of(one["shaper"], one["frequency"], solution["swinging_mode"], solution.get("two_mode_shaper"))
    impulses = tuple((round(time, 6), round(share, 6)) for time, share in zip(made.times.tolist(), made.amplitudes.tolist(),
                                                                              strict=True))
    steep = min(one["acceleration"], float(solution.get("acceleration_to_set", one["acceleration"])))
    return SetMove(one["speed"], steep, one["shaper"], one["frequency"], impulses)
