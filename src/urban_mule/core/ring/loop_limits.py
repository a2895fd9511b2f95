"""How far the gains of a servo go before its loops sing, by the axis with its spring and delay; and the rules of thumb beside.

Sources: G. Ellis, Control System Design Guide (maximum sensitivity as the margin); C. Kessler, Das symmetrische Optimum, 1958.
"""

from __future__ import annotations

import math
from dataclasses import replace
from functools import lru_cache
from typing import Any

import numpy as np

from urban_mule.core.ring.loop_plant import SOURCE, LoopPlant
from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.once import once
from urban_mule.core.sheet.quantity import NotKnown, quantity
from urban_mule.core.sheet.record import record

FROM, STEPS, HIGHEST = 0.1, 200, 1e4  # Hz or 1/s; steps a decade; Hz: the gains that are tried
MOST_SENSITIVE, POSITION_SENSITIVE, POSITION_PEAK = 2.0, 1.5, 1.05
INTEGRAL = 4.0  # T_n = 4/ω_x
COARSE = 5  # steps that are tried at first: what dips below the bound between two of them dips at one, at a frequency beside
ROWS = 40  # gains that are tried at once
THIN, MOST_THIN = 200.0, 4  # frequencies that may be left out at first, for a damping ratio of one; at most
RULE = 0.2  # of 2πf_a: position gain by the rule of thumb


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
    return math.inf if abs(around[-1]) > math.pi else float(np.abs(1 / (1 + opened)).max())


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
    for begin in range(0, last, COARSE * ROWS):
        rough = _tried(begin, min(begin + COARSE * ROWS, last), COARSE)
        good = kept(rough, thin)
        if good.all():
            continue
        first = begin + COARSE * int(np.argmin(good))
        if first == 0:
            raise NotKnown("at no gain is the velocity loop stable with a margin: its delay is too long for this train")
        fine = _tried(first - COARSE + 1, first + 1)
        return float(_tried(first - COARSE, first)[int(np.argmin(kept(fine)))])
    return HIGHEST


@lru_cache(maxsize=32)
def position_limit_of(loop: VelocityLoop) -> float:
    """The greatest k_v [1/s] such that for it and all lower ones max |1/(1 + L)| ≤ 1.5 and max |L/(1 + L)| ≤ 1.05: at each
    frequency both are squares of k_v, whose least roots are taken.
    """
    if not math.isfinite(loop.sensitivity):
        raise NotKnown("the velocity loop sings: no position loop holds around it", "velocity_gain")
    w = loop.closed / (2j * math.pi * loop.plant.frequency)
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


@quantity("Hz", symbol="f_x", source=f"{SOURCE}: the margin as the greatest sensitivity, from below",
          formula="greatest ω_x/2π with max |1/(1 + L_v)| ≤ 2 for it and all lower ones, T_n = 4/ω_x", sought=True,
          label="Velocity loop, limit")
def velocity_bandwidth_limit(loop_plant: LoopPlant) -> float:
    """How fast the velocity loop may cross [Hz]. Raises NotKnown where it is stable at no gain."""
    return velocity_limit(loop_plant)


@quantity("", symbol="", source="the velocity loop at its limit", structure=True, formula="ω_x = 2πf_x, T_n = 4/ω_x", sought=True)
def velocity_loop_limit(loop_plant: LoopPlant, velocity_bandwidth_limit: float) -> VelocityLoop:
    """The velocity loop with the gain at its limit."""
    crossing = 2 * math.pi * velocity_bandwidth_limit
    return VelocityLoop(loop_plant, crossing, INTEGRAL / crossing)


@quantity("N·m·s/rad", symbol="K_p", source=SOURCE, formula="2π·f_x·J", sought=True, label="Velocity gain, limit")
def velocity_gain_limit(velocity_bandwidth_limit: float, loop_inertia: Reals) -> Reals:
    """Torque for a speed error of one at the limit."""
    return 2 * math.pi * velocity_bandwidth_limit * loop_inertia


@quantity("s", symbol="T_n", source=SOURCE, formula="4 ÷ ω_x", sought=True, shown="ms", label="Integral time, at the limit")
def velocity_integral_time(velocity_loop_limit: VelocityLoop) -> float:
    """Time of the integral of the velocity loop [s]."""
    return velocity_loop_limit.integral


@quantity("N·m·s/rad", symbol="K_p", source="C. Kessler, Das symmetrische Optimum, 1958; it knows no spring", formula="J ÷ (2·T_σ)",
          label="Velocity gain, by the rule")
def velocity_gain_rule(loop_inertia: Reals, small_time_constant: Reals) -> Reals:
    """Velocity gain by the symmetrical optimum, whose integral time is 4·T_σ."""
    return loop_inertia / (2 * small_time_constant)


@quantity("1/s", symbol="k_v", source=f"{SOURCE}: sensitivity 1.5, peak 1.05", sought=True, label="Position gain, limit",
          formula="greatest k_v with max |1/(1 + L)| ≤ 1.5 and max |L/(1 + L)| ≤ 1.05, L = k_v/s·L_v/(1 + L_v)")
def position_gain_limit(velocity_loop_limit: VelocityLoop) -> float:
    """How much speed the position loop may ask for an error of one, the velocity loop at its limit."""
    return position_limit_of(velocity_loop_limit)


@quantity("1/s", symbol="k_v", source="a rule of thumb: a fifth of where the load swings, the motor held", formula="0.2·2π·f_a",
          label="Position gain, by the rule")
def position_gain_rule(first_axial_mode: Reals) -> Reals:
    """Position gain above which the load rings on its train; first_axial_mode [Hz]."""
    return RULE * 2 * math.pi * first_axial_mode


@quantity("[travel]", symbol="e_f", source="a position loop follows by its gain", formula="v·(1 − k_ff) ÷ k_v", sought=True,
          label="Following error at speed", shown=("µm", ""))
def following_error(top_speed: Reals, velocity_feedforward: Reals, position_gain_limit: float) -> Reals:
    """How far the motor is behind at the top speed, position_gain_limit [1/s]."""
    return top_speed * (1 - velocity_feedforward) / position_gain_limit


@quantity("s", symbol="t_p", source="what follows dies away with the position gain", formula="ln(e_f ÷ τ) ÷ k_v, not below 0",
          sought=True, label="Settling of the position loop", shown="ms")
def position_settle_time(following_error: float, settled_within: float, position_gain_limit: float) -> float:
    """How long after a move until it is within what counts as settled [s]."""
    return max(0.0, math.log(following_error / settled_within) / position_gain_limit) if following_error > 0 else 0.0


@quantity("", symbol="", source="the limit of the same axis without its spring", sought=True,
          formula="1 − f_x ÷ f_x without spring, not below 0", shown="%", label="Bandwidth that the train costs")
def bandwidth_lost(loop_plant: LoopPlant, velocity_bandwidth_limit: float) -> float:
    """What the spring of the train costs of the velocity loop. Raises NotKnown for an axis whose stiffness is not known."""
    if loop_plant.dip is None:
        raise NotKnown("the stiffness of the train is not known", "train")
    rigid = velocity_limit(replace(loop_plant, dip=None, peak=None))
    return max(0.0, 1 - velocity_bandwidth_limit / rigid)
