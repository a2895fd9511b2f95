"""Two simulated axes on one table, out of square as machines are: what a bar, a scale or an edge shows of both."""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from urban_mule.bench.devices import DeviceError
from urban_mule.bench.simulated.axis import SimulatedAxis

OUT_OF_SQUARE = 1.2e-4  # rad: standard deviation of how far two axes of a made machine are out of square
BAR_NOISE, BAR_STEP = 0.6e-6, 1e-6  # m of a bar or a dial, and its smallest step
SCALE_NOISE, SCALE_STEP = 20e-6, 10e-6  # m of a scale between two marks
BENT = 6e-6  # m: by how much an axis bows sideways


class SimulatedPair:
    """A machine of two axes: the first is what everything else is asked of. out_of_square [rad]: positive where the plus ways
    enclose less than a right angle. askew: of two axes that two motors move together, by what share of its lag an axis pulls the
    other one along: (k_B − k_A) ÷ (k_A + k_B) of both belts.
    """

    practice = True

    def __init__(self, first: SimulatedAxis, other: SimulatedAxis, seed: int, askew: float = 0.0) -> None:
        self.first, self.other, self.askew = first, other, askew
        self._random = np.random.default_rng((seed, 31))
        self.out_of_square = OUT_OF_SQUARE * float(self._random.standard_normal())
        self._bend = BENT * float(self._random.uniform(-1.0, 1.0))
        self._marks: dict[tuple[float, float], tuple[float, float]] = {}

    def __getattr__(self, name: str) -> Any:
        return getattr(self.first, name)

    def enable(self) -> None:
        """Power both motors."""
        self.first.enable()
        self.other.enable()

    def disable(self) -> None:
        self.first.disable()
        self.other.disable()

    def second(self, position: float) -> None:
        """Move the other axis [m]; where both then stand a point is marked. Raises DeviceError."""
        self.other.move(position)
        self._marks[round(self.first.position(), 6), round(position, 6)] = self._really()

    def _really(self) -> tuple[float, float]:
        """Where the carriage really is [m]."""
        x = self.first._stands() + self.askew * self.other.lag
        y = self.other._stands() + self.askew * self.first.lag
        along = 2 * self.first.position() / self.first.travel - 1
        return x + y * math.sin(self.out_of_square), y * math.cos(self.out_of_square) + self._bend * (1 - along**2)

    def gauge(self, what: str, *values: float) -> float:
        """As `Machine.gauge` says. Raises DeviceError."""
        x, y = self._really()
        match what, values:
            case "circle", (cx, cy, radius):
                cx, cy = cx + cy * math.sin(self.out_of_square), cy * math.cos(self.out_of_square)
                return self._shown(math.hypot(x - cx, y - cy) - radius, BAR_NOISE, BAR_STEP)
            case "distance", (x0, y0, x1, y1):
                one, other = (self._marks.get((round(a, 6), round(b, 6))) for a, b in ((x0, y0), (x1, y1)))
                if one is None or other is None:
                    raise DeviceError("one of these corners is not marked yet")
                return self._shown(math.dist(one, other), SCALE_NOISE, SCALE_STEP)
            case "square", (_place, _first):
                return self._shown(x - self.first._stands(), BAR_NOISE, BAR_STEP)
            case "straightness", (_place, _first):
                return self._shown(y - self.other._stands(), BAR_NOISE, BAR_STEP)
        raise DeviceError(f"{what[:20]} with {len(values)} numbers is nothing a gauge shows here")

    def _shown(self, value: float, noise: float, step: float) -> float:
        return float(round((value + noise * float(self._random.standard_normal())) / step) * step)
