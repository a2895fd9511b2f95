"""How fast pulses may come: what the controller makes, what the driver sees, and what drivers on one generator share."""

from __future__ import annotations

from collections.abc import Iterable

from urban_mule.core.sheet.given import Reals, given
from urban_mule.core.sheet.quantity import NotKnown, quantity
from urban_mule.core.sheet.record import record

PulseTimes = tuple[Reals, Reals, Reals]  # width, gap and direction set-up [s]


class PulseTiming:
    """What a driver asks of the pulses that it is sent."""

    minimum_pulse_width: Reals = given("s", "t_h", "shortest step pulse the driver sees", above=0,
        label="Shortest step pulse accepted", shown="µs")
    minimum_pulse_gap: Reals = given("s", "t_l", "shortest pause between two pulses; as long as the pulse when empty", least=0,
        label="Shortest gap between step pulses", shown="µs")
    direction_setup: Reals = given("s", "t_dir", "how long the direction must stand before a pulse", least=0,
        label="Direction setup time", shown="µs")


@record(frozen=True, eq=False, repr=False)
class SharedPulses:
    """Timing [s] that all drivers on one pulse generator get: that of the slowest; None where no driver says."""

    width: float | None
    gap: float | None
    direction_setup: float | None


@record(frozen=True, eq=False, repr=False)
class PulseLimit:
    """A limit of the pulse rate [Hz] and who sets it, as a sentence begins: `the driver sees`."""

    rate: float
    who: str


def gap_after(minimum_pulse_width: Reals, minimum_pulse_gap: Reals) -> Reals:
    """Pause after a pulse [s]: the driver's own, else as long as its pulse [s]; None where neither is known."""
    return minimum_pulse_width if minimum_pulse_gap is None else minimum_pulse_gap


def slowest_of(timings: Iterable[PulseTimes]) -> SharedPulses:
    """What drivers on one generator share; timings: width, gap and direction set-up of each [s], None where not known."""
    rows = [(width, gap_after(width, gap), setup) for width, gap, setup in timings]
    greatest = [max((row[place] for row in rows if row[place] is not None), default=None) for place in range(3)]
    return SharedPulses(*greatest)


def pulse_limits(
    max_pulse_rate: Reals = None, minimum_pulse_width: Reals = None, minimum_pulse_gap: Reals = None,
    pulses_shared: SharedPulses | None = None,
) -> list[PulseLimit]:
    """Every limit that is known; a shared generator's timing [s] takes the place of the driver's own."""
    own = (minimum_pulse_width, gap_after(minimum_pulse_width, minimum_pulse_gap), "the driver sees")
    width, gap, who = own if pulses_shared is None else (
        pulses_shared.width, pulses_shared.gap, "the slowest driver on the shared pulses sees")
    made = [] if max_pulse_rate is None else [PulseLimit(max_pulse_rate, "the controller makes")]
    return made if width is None or gap is None else [*made, PulseLimit(1 / (width + gap), who)]


@quantity("Hz", symbol="f_max", source="a pulse takes its width and its gap", formula="min(f_lim, 1 ÷ (t_h + t_l))", shown="kHz",
          label="Highest step rate accepted")
def pulse_rate_limit(
    max_pulse_rate: Reals = None, minimum_pulse_width: Reals = None, minimum_pulse_gap: Reals = None,
    pulses_shared: SharedPulses | None = None,
) -> Reals:
    """Most pulses a second on this axis; times [s]. Raises NotKnown when neither controller nor driver says."""
    limits = pulse_limits(max_pulse_rate, minimum_pulse_width, minimum_pulse_gap, pulses_shared)
    if not limits:
        raise NotKnown("neither what the controller makes nor what the driver sees is given", "max_pulse_rate",
                       "minimum_pulse_width")
    return min(limit.rate for limit in limits)
