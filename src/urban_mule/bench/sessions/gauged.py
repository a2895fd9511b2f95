"""What the gauge of a round makes of its plan: how far it reaches, what can be measured with it, and what else could."""

from __future__ import annotations

from typing import Any

from urban_mule.bench.sessions.plain import plain_number
from urban_mule.core.readings.gauge import PRESSED
from urban_mule.core.sheet.given import BadValue
from urban_mule.core.sheet.record import record

STEP_GAUGE = "step gauge"  # or a row of gauge blocks: what the dial is held against
REFERENCE = "reference_uncertainty"  # the setting, and the condition of a reading, that says how sure what it goes by is [m or rad]
GAUGE = "gauge"  # the setting in which a plan keeps what its gauge was when it began
OVERRUNS = 0.4  # of its reach: how far a place is passed before it, at most
HALF = 0.5  # of its reach: how far a plunger is pressed in where it is set to zero
SURE_REACH = 0.95  # of a reach that is used
SENSE = 0.4  # of its reach: the small move by which the sense is told, and whether it leans
READS_PLACES = ("caliper", "scale", "ruler")  # that show where the axis stands, rather than how far it is off
TURN = 100.0  # divisions of a dial for one turn of its hand
NO_DIAL = "is no reading of a dial; allowed are divisions, 25.5, or turns and divisions, 2 25.5"
LONGEST_SENSE = 5e-3  # m (or rad)


@record(frozen=True)
class PlanGauge:
    """A gauge as a plan looks at it: lengths in m (or rad), None where nothing is said; name: as its sentences call it."""

    name: str = "gauge"
    kind: str = ""
    reach: float | None = None
    resolution: float = 0.0
    repeatability: float = 0.0
    uncertainty: float = 0.0
    hysteresis: float = 0.0

    @property
    def pressed(self) -> bool:
        """Whether it has a plunger or a lever that can be crushed."""
        return self.kind in PRESSED

    @property
    def reads_places(self) -> bool:
        """Whether it shows where the axis stands, rather than how far it is off."""
        return self.kind in READS_PLACES

    def plain(self) -> dict[str, Any]:
        """The gauge as the settings of a round keep it."""
        return {name: value for name, value in vars(self).items() if value not in (None, 0.0, "")}

    @classmethod
    def of(cls, gauge: Any) -> PlanGauge | None:
        """A gauge of the project as a plan looks at it; None for none."""
        if gauge is None:
            return None
        return cls(str(gauge.name), str(gauge.gauge_kind or ""), gauge.reach, float(gauge.resolution or 0.0),
                   float(gauge.repeatability_of_gauge or 0.0), float(gauge.gauge_uncertainty or 0.0),
                   float(gauge.gauge_hysteresis or 0.0))

    def needs(self, far: float, said: str, name: str, instead: str) -> None:
        """Raises BadValue where it does not reach so far [m or rad]. said: that way in words; instead: what could be done."""
        if self.reach is not None and far > self.reach * (1 + 1e-9):
            raise BadValue(f"the {self.name} does not reach {said}; {instead}", name)


def gauge_of(settings: dict[str, Any]) -> PlanGauge | None:
    """The gauge that a plan was made for; None where none was chosen. Raises BadValue for settings that hold none."""
    said = settings.get(GAUGE)
    if said is None:
        return None
    try:
        return PlanGauge(**said)
    except TypeError:
        raise BadValue("what the round keeps of its gauge cannot be read", GAUGE) from None


def divisions(text: str, gauge: Any) -> float | None:
    """Divisions of a dial as its hand shows them, `25.5`, or turns and divisions, `2 25.5`, in SI; None where it is read otherwise.

    Raises BadValue for what is neither.
    """
    if gauge.read_as != "divisions" or not gauge.resolution or any(one.isalpha() for one in text):
        return None
    parts = text.split()
    try:
        found = [plain_number(part) for part in parts]
    except ValueError:
        raise BadValue(f"“{text[:20]}” {NO_DIAL}") from None
    if not 1 <= len(found) <= 2:
        raise BadValue(f"“{text[:20]}” {NO_DIAL}")
    sign = -1.0 if text.lstrip().startswith(("-", "−")) else 1.0
    whole = found[-1] if len(found) == 1 else sign * (TURN * abs(found[0]) + abs(found[1]))
    return float(whole * gauge.resolution)


def stacked(text: str) -> tuple[str, int]:
    """Lengths of faces as they are typed, stacks that are wrung together as sums, `50+1.005`: the lengths, and of how many blocks
    the greatest stack is. Raises BadValue.
    """
    found, most = [], 1
    for word in str(text).replace(";", " ").split():
        parts = word.split("+") if not word.startswith("+") else [word]
        try:
            total = sum(plain_number(part) for part in parts)
        except ValueError:
            raise BadValue(f"“{word[:20]}” is no length; a stack is typed as 50+1.005", "targets") from None
        found.append(f"{total:.9g}")
        most = max(most, len(parts))
    return " ".join(found), most
