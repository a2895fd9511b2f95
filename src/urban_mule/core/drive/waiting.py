"""What is said, everywhere in the same way, to whoever is about to reach in: wait, look, measure."""

from __future__ import annotations

from urban_mule.core.drive.together import LEAST_WAIT, SpindleTogether
from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.wording import at_least

CHARGE = "Supplies keep their charge for minutes: measure below 5 V before touching."


def waiting_words(wait_before_reaching_in: Reals, spindles_together: tuple[SpindleTogether, ...] = ()) -> str:
    """How long to wait at least [s], what turns on without power, and that the charge is measured; without a full stop."""
    turns = [f"{one.name} coasts {'for an unknown time' if one.coast_time is None else f'{at_least(one.coast_time, 2)} s'}"
             for one in spindles_together]
    minutes = at_least(max(LEAST_WAIT, float(wait_before_reaching_in or 0.0)) / 60, 2)
    told = f" ({', '.join(turns)})" if turns else ""
    return (f"wait {minutes} minutes at least, see that nothing turns{told},"
            " and measure below 5 V: supplies keep their charge for minutes")
