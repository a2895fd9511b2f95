"""Judgements on what every driver needs: pulses."""

from __future__ import annotations

from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.verdict import Verdict, check
from urban_mule.core.sheet.wording import size


@check("pulse rate", stage="Drive")
def pulse_rate_reachable(
    pulse_rate: float, max_pulse_rate: float, minimum_pulse_width: Reals = None, microsteps: Reals = None
) -> Verdict:
    """Pulses at top speed against what the controller makes and the driver sees."""
    limit, who = max_pulse_rate, "controller"
    if minimum_pulse_width is not None and 0.5 / minimum_pulse_width < limit:
        limit, who = 0.5 / minimum_pulse_width, "driver"
    share = pulse_rate / limit
    fewer = "Let the electronic gear move more counts a pulse" if microsteps is None else (
        "Use fewer microsteps" if microsteps > 1 else "Move slower")
    said = f"Top speed needs {size(pulse_rate / 1e3)} kHz of pulses, {size(100 * share)} % of what the {who} takes"
    if share > 1:
        return Verdict("short", f"{said}.", f"{fewer}, or take a {who} that counts faster.", headroom=0.0)
    if share > 0.8:
        return Verdict("tight", f"{said}.", f"{fewer} to have a fifth in hand.", headroom=(1 - share) * 1.5)
    return Verdict("good", f"{said}.", "Nothing to do.", headroom=min(1.0, 1 - share + 0.2))
