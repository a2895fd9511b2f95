"""A servo's loops as numbers: what they act on, how far their gains go, by spring and delay.

Sources: G. Ellis, Control System Design Guide (the greatest sensitivity as the margin); H. Nyquist, Regeneration Theory, 1932.
"""

from __future__ import annotations

import math
from functools import lru_cache
from typing import Any

import numpy as np

from urban_mule.core.sheet.once import once
from urban_mule.core.sheet.quantity import NotKnown
from urban_mule.core.sheet.record import record

LOWEST, A_DECADE = 0.01, 2000  # Hz; frequencies a decade at which a loop is looked at
FROM, STEPS, HIGHEST = 0.1, 200, 1e4  # Hz or 1/s; steps a decade; Hz: the gains that are tried
MOST_SENSITIVE, POSITION_SENSITIVE, POSITION_PEAK = 2.0, 1.5, 1.05
INTEGRAL = 4.0  # T_n = 4/ω_x
SAFE = 0.002  # Hz of each rad/s at which spring and delay begin: a loop so slow meets neither, and has its margin
COARSE = 5  # steps that are tried at first: what dips below the bound between two of them dips at one, at a frequency beside
LOOKED_AT = 1e-5  # Hz of each rad/s of crossing: from where on a position loop is looked at
ROWS = 40  # gains that are tried at once
THIN, MOST_THIN = 200.0, 4  # frequencies that may be left out at first, for a damping ratio of one; at most


@record(frozen=True, eq=False, repr=False)
class LoopPlant:
    """From the torque commanded to the speed of the motor.

    inertia [kg·m²]: of rotor, train and load at the motor; dip, peak [rad/s]: where the load swings with the motor held and both
    against each other, None for a rigid train; damping: ratio at the dip; current, filter, delay [s]; notch: middle [rad/s], width
    and depth, None without; top [Hz]: up to where it is looked at.
    """

    inertia: float
    dip: float | None
    peak: float | None
    damping: float
    current: float
    filter: float
    delay: float
    notch: tuple[float, float, float] | None
    top: float

    @once
    def frequency(self) -> np.ndarray:
        """Where it is looked at [Hz]."""
        return np.geomspace(LOWEST, self.top, int(A_DECADE * math.log10(self.top / LOWEST)) + 1)

    def per_gain(self, frequency: np.ndarray) -> np.ndarray:
        """Speed of the motor for a torque of ω_x·J: what a velocity loop of gain ω_x opens with; frequency [Hz]."""
        s = 2j * math.pi * frequency
        found = np.exp(-self.delay * s) / (s * (1 + s * self.current) * (1 + s * self.filter))
        if self.dip is not None and self.peak is not None:
            more = self.damping * self.peak / self.dip
            found *= (((s / self.dip) ** 2 + 2 * self.damping * s / self.dip + 1)
                      / ((s / self.peak) ** 2 + 2 * more * s / self.peak + 1))
        if self.notch is not None:
            middle, width, depth = self.notch
            found *= (s**2 + width * depth * middle * s + middle**2) / (s**2 + width * middle * s + middle**2)
        return np.asarray(found)

    @once
    def opened(self) -> np.ndarray:
        """The same at all its frequencies."""
        return self.per_gain(self.frequency)


@record(frozen=True, eq=False, repr=False)
class VelocityLoop:
    """A velocity loop that is closed. crossing [rad/s]: ω_x = K_p/J; integral [s]; plant: what it acts on."""

    plant: LoopPlant
    crossing: float
    integral: float

    def opened(self, frequency: np.ndarray) -> np.ndarray:
        """L_v; frequency [Hz]."""
        return self._with(self.plant.per_gain(frequency), frequency)

    def _with(self, per_gain: np.ndarray, frequency: np.ndarray) -> np.ndarray:
        return self.crossing * per_gain * (1 + 1 / (2j * math.pi * frequency * self.integral))

    @once
    def closed(self) -> np.ndarray:
        """Speed for speed commanded, at the frequencies of the plant."""
        opened = self._with(self.plant.opened, self.plant.frequency)
        return np.asarray(opened / (1 + opened))

    @once
    def sensitivity(self) -> float:
        """max |1/(1 + L_v)|; infinite where it is unstable."""
        return sensitivity(self._with(self.plant.opened, self.plant.frequency))


def sensitivity(opened: np.ndarray) -> float:
    """max |1/(1 + L)|; infinite for a loop that is unstable: 1 + L over rising frequencies then ends whole turns from where it
    should (H. Nyquist, Regeneration Theory, 1932).
    """
    around = np.unwrap(np.angle(1 + opened))
    end = around[-1] - (2 * math.pi if around[0] > 0 else 0.0)  # it begins at −π, which counts as π where it is just beyond
    return math.inf if abs(end) > math.pi else float(np.abs(1 / (1 + opened)).max())


def _tried(first: int, last: int, step: int = 1) -> np.ndarray:
    return np.asarray(FROM * 10.0 ** (np.arange(first, last, step) / STEPS))


def velocity_limit(plant: LoopPlant) -> float:
    """The greatest crossing frequency [Hz] such that for it and every lower one max |1/(1 + L_v)| ≤ 2. Raises NotKnown.

    |1 + L_v|² is a polynomial in ω_x at each frequency, so that many gains are tried at once without complex numbers.
    """
    return _velocity_limit(*vars_of(plant))


def vars_of(plant: LoopPlant) -> tuple[object, ...]:
    """What a velocity limit rests on: all but the inertia."""
    return (plant.dip, plant.peak, plant.damping, plant.current, plant.filter, plant.delay, plant.notch, plant.top)


@lru_cache(maxsize=64)  # an edit of anything else asks for the same one
def _velocity_limit(*of: Any) -> float:
    plant = LoopPlant(1.0, *of)
    p = plant.opened
    q = p / (4 * 2j * math.pi * plant.frequency)  # of 1/(T_n s) = ω_x/(4 s)
    terms = [np.ascontiguousarray(one) for one in (
        np.abs(q) ** 2, 2 * (p * q.conj()).real, np.abs(p) ** 2 + 2 * q.real, 2 * p.real)]
    bound = 1 / MOST_SENSITIVE**2

    def kept(crossings: np.ndarray, every: int = 1) -> np.ndarray:
        w = 2 * math.pi * crossings[:, None]
        total = terms[0][::every] * w
        for one in (one[::every] for one in terms[1:]):
            total += one
            total *= w
        total += 1.0
        return np.asarray(total.min(axis=1) >= bound)

    narrowest = plant.damping if plant.dip is not None else 1.0
    thin = max(1, min(MOST_THIN, int(THIN * narrowest)))  # so that a peak has as many frequencies as its half width needs
    last = round(STEPS * math.log10(HIGHEST / FROM)) + 1
    quiet = max(FROM, SAFE * min(one for one in (plant.dip, 1 / (plant.delay + plant.current + plant.filter)) if one))
    below = max(0, math.floor(STEPS * math.log10(quiet / FROM) / COARSE) * COARSE)
    if not kept(_tried(below, below + 1))[0]:
        below = 0
    for begin in range(below, last, COARSE * ROWS):
        rough = _tried(begin, min(begin + COARSE * ROWS, last), COARSE)
        good = kept(rough, thin)
        if good.all():
            continue
        first = begin + COARSE * int(np.argmin(good))
        if first == 0:  # a plant so slow that nothing lies below
            raise NotKnown("at no gain is the velocity loop stable with a margin: its delay is too long for this train")
        fine = _tried(first - COARSE + 1, first + 1)
        return float(_tried(first - COARSE, first)[int(np.argmin(kept(fine)))])
    return HIGHEST


@lru_cache(maxsize=32)
def position_limit_of(loop: VelocityLoop) -> float:
    """The greatest k_v [1/s] such that for it and all lower ones max |1/(1 + L)| ≤ 1.5 and max |L/(1 + L)| ≤ 1.05: at each
    frequency both are squares of k_v, whose least roots are taken. Raises NotKnown around a loop that sings, or at no gain.
    """
    if not math.isfinite(loop.sensitivity):
        raise NotKnown("the velocity loop sings: no position loop holds around it", "velocity_gain")
    frequency = loop.plant.frequency
    seen = frequency > LOOKED_AT * loop.crossing  # below, both loops are ideal
    w = loop.closed[seen] / (2j * math.pi * frequency[seen])
    size, along = np.abs(w) ** 2, 2 * w.real
    least = math.inf
    # 1 + k·along + k²·size ≥ 1/S²; and (T² − 1)·k²·size + T²·(1 + k·along) ≥ 0
    t = POSITION_PEAK**2
    for a, b, c in ((size, along, 1 - 1 / POSITION_SENSITIVE**2), ((t - 1) * size, t * along, t)):
        inside = b**2 - 4 * a * c
        with np.errstate(invalid="ignore", divide="ignore"):
            roots = (-b - np.sqrt(inside)) / (2 * a)
        there = (inside > 0) & (roots > 0)
        least = min(least, float(roots[there].min()) if there.any() else math.inf)
    if least < FROM:
        raise NotKnown("at no position gain is the loop stable with a margin")
    steps = math.floor(STEPS * math.log10(min(least, HIGHEST) / FROM) + 1e-9)
    return float(FROM * 10.0 ** (steps / STEPS))
