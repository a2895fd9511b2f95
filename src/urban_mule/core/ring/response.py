"""What a response shows: overshoot, settling, ringing, how far it follows.

Source: Urban Mule physics notes, section 23; the ringing as a peak of the periodogram (A. Schuster, 1898).
"""

from __future__ import annotations

import numpy as np

from urban_mule.core.readings.median import median
from urban_mule.core.readings.response import ResponseReading
from urban_mule.core.readings.straight_line import straight_line
from urban_mule.core.sheet.quantity import NotKnown, quantity
from urban_mule.core.sheet.record import record

BAND = 0.02  # of the change: within which it has settled
LEAST_SAMPLES, LEAST_CROSSINGS, LEAST_SWING = 16, 5, 0.01  # of the change
PADDED, LOWEST, OVER_NOISE = 16, 2.0, 30.0  # times its length; turns in it; times the median power
AT_SPEED, LEAST_AT_SPEED = 0.01, 5  # of the greatest; samples
SOURCE = "definition"


@record(frozen=True, eq=False, repr=False)
class Answer:
    """A response as it is looked at. change: last command less the first; rest: place of the first sample from which on the command
    stays.
    """

    reading: ResponseReading
    change: float
    rest: int

    @property
    def error(self) -> np.ndarray:
        """How far it is from its last command, signed along the change."""
        away = self.reading.actual - self.reading.commanded[-1]
        return np.asarray(away * np.sign(self.change))


def rings_at(time: np.ndarray, left: np.ndarray, scale: float) -> float | None:
    """The frequency at which what is left over even times rings [Hz]; None for what does not, is too small beside a scale, or is
    noise.
    """
    left = left - straight_line(time, left).at(time)
    crossings = int(np.count_nonzero(np.diff(np.signbit(left))))
    if crossings < LEAST_CROSSINGS or np.abs(left).max() < LEAST_SWING * scale:
        return None
    size = PADDED * left.size
    power = np.abs(np.fft.rfft(left, size)) ** 2
    frequency = np.fft.rfftfreq(size, float(time[1] - time[0]))
    peak = int(np.argmax(np.where(frequency > LOWEST / float(time[-1] - time[0]), power, 0.0)))
    return float(frequency[peak]) if power[peak] >= OVER_NOISE * median(power) else None


@quantity("", symbol="", source="the last response", structure=True, formula="change = last − first; rest: the command stays")
def response_answer(response_reading: ResponseReading) -> Answer:
    """The last response."""
    commanded = response_reading.commanded
    moving = np.flatnonzero(commanded != commanded[-1])
    return Answer(response_reading, float(commanded[-1] - commanded[0]), int(moving[-1]) + 1 if moving.size else 0)


def _stepped(answer: Answer) -> None:
    if answer.change == 0:
        raise NotKnown("the command ends where it began: no share of a change can be told", "response_reading")


@quantity("", symbol="o", source=SOURCE, formula="greatest actual beyond the last command ÷ change, not below 0", shown="%",
          label="Overshoot")
def response_overshoot(response_answer: Answer) -> float:
    """How far it goes beyond its last command, as a share of the change. Raises NotKnown without a change."""
    _stepped(response_answer)
    return max(0.0, float(response_answer.error.max()) / abs(response_answer.change))


@quantity("s", symbol="t_2", source=SOURCE, formula="last time outside ± 2 % of the change, less the time of rest", shown="ms",
          label="Settling of the response")
def response_settling_time(response_answer: Answer) -> float:
    """How long after its command rests until it stays within 2 % of the change. Raises NotKnown where the record ends before."""
    _stepped(response_answer)
    one = response_answer
    outside = np.flatnonzero(np.abs(one.error) > BAND * abs(one.change))
    if outside.size and outside[-1] == one.error.size - 1:
        raise NotKnown("the record ends before it has settled: record longer", "response_reading")
    if one.rest >= one.error.size - 1:
        raise NotKnown("the command never rests in this record: record on after the move", "response_reading")
    if not outside.size or outside[-1] < one.rest:
        return 0.0
    return float(one.reading.time[outside[-1]] - one.reading.time[one.rest])


@quantity("Hz", symbol="f_s", source="A. Schuster, 1898: the periodogram of the error after rest",
          formula="largest peak above 2 turns in it, at least 30 times the median power", label="Ringing of the response")
def response_ringing(response_answer: Answer) -> float:
    """Frequency at which it rings after its command rests. Raises NotKnown for what is no ringing, or too short to tell."""
    one = response_answer
    time, error = one.reading.time[one.rest:], one.error[one.rest:]
    if time.size < LEAST_SAMPLES:
        raise NotKnown(f"the command rests for {time.size} samples; {LEAST_SAMPLES} at least are needed", "response_reading")
    even = np.linspace(time[0], time[-1], time.size)
    found = rings_at(even, np.interp(even, time, error), abs(one.change))
    if found is None:
        raise NotKnown("it does not ring, or what is left is noise", "response_reading")
    return found


@quantity("", symbol="e_r", source=SOURCE, label="Following error, as recorded",
          formula="median |commanded − actual| where the command runs within 1 % of its greatest speed")
def response_following(response_answer: Answer) -> float:
    """How far it is behind at speed, in the unit of the response. Raises NotKnown with too few such samples."""
    one = response_answer.reading
    speed = np.abs(one.commanded if one.of == "speed" else np.append(0.0, np.diff(one.commanded) / np.diff(one.time)))
    top = float(speed.max())
    there = speed >= (1 - AT_SPEED) * top if top > 0 else np.zeros(speed.size, dtype=bool)
    if int(there.sum()) < LEAST_AT_SPEED:
        raise NotKnown("the command runs at its greatest speed for fewer than five samples", "response_reading")
    return median(np.abs(one.commanded - one.actual)[there])
