"""Judgements on what every driver needs: pulses."""

from __future__ import annotations

from urban_mule.core.drive.pulses import SharedPulses, pulse_limits
from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.verdict import Verdict, Way, check
from urban_mule.core.sheet.wording import size


@check("pulse rate", stage="Drive")
def pulse_rate_reachable(
    pulse_rate: float, pulse_rate_limit: float, max_pulse_rate: Reals = None, minimum_pulse_width: Reals = None,
    minimum_pulse_gap: Reals = None, pulses_shared: SharedPulses | None = None, microsteps: Reals = None,
) -> Verdict:
    """Pulses at top speed against what the controller makes and the driver sees."""
    limits = pulse_limits(max_pulse_rate, minimum_pulse_width, minimum_pulse_gap, pulses_shared)
    who = min(limits, key=lambda limit: limit.rate).who
    share = pulse_rate / pulse_rate_limit
    fewer, ways = fewer_pulses(microsteps), (() if microsteps is None or microsteps < 2 else (
        Way("use fewer microsteps", {"microsteps": microsteps // 2}),))
    said = f"Top speed needs {size(pulse_rate / 1e3)} kHz of pulses, {size(100 * share)} % of what {who}"
    if share > 1:
        other = f"Take a {'controller' if 'controller' in who else 'driver'} that counts faster, or another form of signal."
        return Verdict("short", f"{said}.", other if ways else f"{fewer}. {other}", headroom=0.0, measure=-share, ways=ways)
    if share > 0.8:
        return Verdict("tight", f"{said}.", "A fifth in reserve is usual." if ways else f"{fewer} to have a fifth in reserve.",
                       headroom=(1 - share) * 1.5, measure=-share, ways=ways)
    return Verdict("good", f"{said}.", "Nothing to do.", headroom=min(1.0, 1 - share + 0.2))


def fewer_pulses(microsteps: Reals) -> str:
    """What makes fewer pulses do for the same speed; microsteps: None on a servo."""
    if microsteps is None:
        return "Let the electronic gear move more counts a pulse"
    return "Use fewer microsteps" if microsteps > 1 else "Move slower"
