"""Which hump of a record is the train's: frame, tool and table ring too, and the lowest hump is mostly theirs."""

from __future__ import annotations

import math
from typing import Any

from urban_mule.core.ring.modes import Mode
from urban_mule.core.sheet.pair import Measured
from urban_mule.core.sheet.record import record

STRONG_HEIGHT = 0.1  # of the highest peak, from which a mode counts
NAMED_WITHIN = 0.05  # share within which a mode is the one that somebody named
READ_TO, FORMULA = 0.02, 0.04  # shares: how well a mode is read, and what two masses and two springs leave out
READING: dict[str, Any] = {"readings": ("acceleration",), "minutes": 10.0, "gauge": 0.02}
USUAL = 0.08  # share that a computed resonance is usually sure to: stiffness 15 %, field 8 %, mass 3 %
AGREES, CONTRADICTS = 2.0, 3.0  # departures in standard uncertainties
OTHER_LOAD = ("Record again with a known weight more on the carriage: the hump that moves as far as a heavier load makes it is the"
              " train's. Then say which it is, in the spectrum.")
OTHER_CURRENT = ("Record again with the current lower by a third: the hump that moves is the train's. Then say which it is, in the"
                 " spectrum.")


@record(frozen=True, eq=False, repr=False)
class TrainHump:
    """The mode that is held against the computed one; named: somebody said that it is the train's; there: such a mode is in the
    record, where it was named.
    """

    frequency: float
    named: bool
    there: bool


def train_hump(
    modes: tuple[Mode, ...], computed: float, train_mode: float | None = None, other_modes: tuple[float, ...] = ()
) -> TrainHump:
    """The train's mode of a record: the one that was named, strong or not; else of the strong ones the nearest to the computed.

    computed, train_mode, other_modes [Hz]: what was named as something else's is left out while anything else is strong.
    Where the named one is not there, the strong mode nearest to the computed one, marked as such.
    """
    def apart(mode: Mode, frequency: float) -> float:
        return abs(math.log(mode.frequency / frequency))

    highest = max(mode.height for mode in modes)
    strong = [mode for mode in modes if mode.height >= STRONG_HEIGHT * highest]
    free = [mode for mode in strong if all(abs(mode.frequency / one - 1) > NAMED_WITHIN for one in other_modes)]
    nearest = min(free or strong, key=lambda mode: apart(mode, computed))
    if train_mode is None:
        return TrainHump(nearest.frequency, False, True)
    near = [mode for mode in modes if abs(mode.frequency / train_mode - 1) <= NAMED_WITHIN]
    if not near:
        return TrainHump(nearest.frequency, True, False)
    return TrainHump(min(near, key=lambda mode: apart(mode, train_mode)).frequency, True, True)


def heard(
    modes: tuple[Mode, ...], computed: float, train_mode: float | None, other_modes: tuple[float, ...] | None
) -> Measured | None:
    """The train's mode of a record as something measured [Hz]; None where no mode was found."""
    if not modes:
        return None
    hump = train_hump(modes, computed, train_mode, other_modes or ())
    return Measured(hump.frequency, READ_TO * hump.frequency,
                    whose="none" if not hump.there else "its own" if hump.named else "nearest")


def departure(measured: float, computed: float, computed_standard: float) -> float:
    """How far a measured mode departs from the computed one, in standard uncertainties; frequencies [Hz]."""
    return (measured - computed) / math.sqrt(computed_standard**2 + (READ_TO * measured) ** 2 + (FORMULA * computed) ** 2)


def is_unassigned(hump: TrainHump, measured_departure: float) -> bool:
    """Whether none of the humps can be told to be the train's."""
    return not hump.there if hump.named else abs(measured_departure) > CONTRADICTS
