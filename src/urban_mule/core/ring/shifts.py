"""Two records laid over each other: modes paired, and how each has shifted."""

from __future__ import annotations

from urban_mule.core.readings.acceleration import AccelerationReading
from urban_mule.core.ring.modes import Mode, modes
from urban_mule.core.ring.spectrum import Spectrum, spectrum, time_base
from urban_mule.core.sheet.quantity import NotKnown, quantity
from urban_mule.core.sheet.record import record

PAIRED_WITHIN = 0.2  # of the earlier frequency


@record(frozen=True, eq=False, repr=False)
class Earlier:
    """The record before the last one: its spectrum and its modes."""

    spectrum: Spectrum
    modes: tuple[Mode, ...]


@quantity("", symbol="f_m, ζ_m", source="the fit of the last record, made of the one before it", structure=True, slow=True,
          formula="as the modes of the last record")
def earlier_record(acceleration_readings: tuple[AccelerationReading, ...]) -> Earlier:
    """The record before the last one. Raises NotKnown where there is one only."""
    if len(acceleration_readings) < 2:
        raise NotKnown("one record is nothing to compare with; take another, before and after or at two places")
    base = time_base(acceleration_readings[-2])
    found = spectrum(base)
    return Earlier(found, modes(base, found))


def paired(before: tuple[Mode, ...], after: tuple[Mode, ...]) -> list[tuple[Mode, Mode]]:
    """Modes of two records one to one, the nearest first, within 20 % of the earlier frequency; by rising frequency."""
    near = sorted(((abs(one.frequency - other.frequency), n, m) for n, one in enumerate(before) for m, other in enumerate(after)
                   if abs(one.frequency - other.frequency) <= PAIRED_WITHIN * one.frequency))
    taken_before, taken_after, found = set[int](), set[int](), []
    for _, n, m in near:
        if n not in taken_before and m not in taken_after:
            taken_before.add(n)
            taken_after.add(m)
            found.append((before[n], after[m]))
    return sorted(found, key=lambda pair: pair[0].frequency)


@quantity("", symbol="f′/f, ζ′/ζ, h′/h", source="modes paired one to one, nearest first, within 20 % of the earlier frequency",
          formula="after ÷ before of frequency, damping and height")
def mode_shifts(earlier_record: Earlier, modes: tuple[Mode, ...]) -> list[dict[str, float]]:
    """How each mode has shifted: frequency (earlier) [Hz], frequency_ratio, damping_factor, amplitude_factor."""
    return [{"frequency": one.frequency, "frequency_ratio": other.frequency / one.frequency,
             "damping_factor": other.damping_ratio / one.damping_ratio, "amplitude_factor": other.height / one.height}
            for one, other in paired(earlier_record.modes, modes)]
