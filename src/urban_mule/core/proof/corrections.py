"""What each correction would buy, from the readings of one run, and the correction table."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np

from urban_mule.core.proof.positioning import ISO, Bands, accuracy_of
from urban_mule.core.readings.straight_line import StraightLine, slopes, straight_line
from urban_mule.core.readings.two_way import SPREAD, TwoWayReading, counts
from urban_mule.core.sheet.quantity import NotKnown, quantity

WORTH = 2.0  # standard uncertainties of a mean below which correcting it would correct scatter


Means = tuple[np.ndarray, np.ndarray]  # of both ways at each target [travel]


def line_through(targets: np.ndarray, middle: np.ndarray) -> StraightLine:
    """The line through the mean of both ways over the targets [travel]. Raises NotKnown for one target."""
    _several(targets)
    return straight_line(targets, middle)


def _several(targets: np.ndarray) -> None:
    if not np.ptp(targets):
        raise NotKnown("one target shows no slope; take two or more", "positioning_reading")


def _on_the_line(targets: np.ndarray, middle: np.ndarray) -> np.ndarray:
    """The slope of the line through a mean, or each of several, at the targets [travel]. Raises NotKnown for one target."""
    _several(targets)
    return np.asarray(slopes(targets - targets.mean(), middle)[..., None] * targets)


CORRECTIONS: dict[str, tuple[Callable[[np.ndarray, np.ndarray], np.ndarray], bool]] = {  # from targets and the mean of both ways
    "scale": (_on_the_line, False),  # what is taken off both, and whether half the mean
    "backlash": (lambda _x, middle: np.zeros_like(middle), True),  # reversal is taken off each
    "table": (lambda _x, middle: middle, False), "all": (lambda _x, middle: middle, True)}


def correction_of(name: str, targets: np.ndarray, means: Means) -> Means:
    """What a correction takes off each way at each target [travel], from the means of both ways. Raises NotKnown.

    Means of several sets, one a row, give what is taken off by each.
    """
    up, down = means
    both, with_reversal = CORRECTIONS[name]
    half = (up - down).mean(axis=-1, keepdims=True) / 2 if with_reversal else 0.0
    off = both(targets, (up + down) / 2)
    return off + half, off - half


def _accuracy_with(name: str, bands: Bands) -> float:
    """Accuracy A that is left after a correction [travel]. Raises NotKnown."""
    up, down = correction_of(name, bands.targets, (bands.mean_up, bands.mean_down))
    return accuracy_of(bands.mean_up - up, bands.mean_down - down, bands)


@quantity("[travel]", symbol="A_s", source=ISO, formula="A of x̄_i − b·x_i, b the slope by least squares",
          label="Accuracy with the scale corrected", shown=("µm", ""))
def accuracy_with_scale(positioning_bands: Bands) -> float:
    """Accuracy when steps per unit take up the straight line."""
    return _accuracy_with("scale", positioning_bands)


@quantity("[travel]", symbol="A_b", source=ISO, formula="A of x̄_i↑ − B̄/2 and x̄_i↓ + B̄/2",
          label="Accuracy with backlash compensated",
          shown=("µm", ""))
def accuracy_with_backlash(positioning_bands: Bands) -> float:
    """Accuracy when the mean reversal is compensated."""
    return _accuracy_with("backlash", positioning_bands)


@quantity("[travel]", symbol="A_t", source=ISO, formula="A of x̄_i↑ and x̄_i↓ less the mean of both at each target",
          label="Accuracy with a table", shown=("µm", ""))
def accuracy_with_table(positioning_bands: Bands) -> float:
    """Accuracy when a table takes up the mean at every target."""
    return _accuracy_with("table", positioning_bands)


@quantity("[travel]", symbol="A_a", source=ISO, formula="A of what is left of both ways after table and mean reversal",
          label="Accuracy with table and backlash", shown=("µm", ""))
def accuracy_with_all(positioning_bands: Bands) -> float:
    """Accuracy when table and backlash are both compensated."""
    return _accuracy_with("all", positioning_bands)


@quantity("[travel]", symbol="A_0", source=ISO, formula="4·max s", label="Limit set by scatter", shown=("µm", ""))
def accuracy_floor(positioning_bands: Bands) -> float:
    """Accuracy of the scatter alone: no correction goes below."""
    return float(SPREAD * np.max(positioning_bands.scatter()))


@quantity("", symbol="", source="a mean below twice its uncertainty is scatter, and is not corrected", structure=True,
          formula="u² = (s↑²/n↑ + s↓²/n↓) ÷ 4")
def means_uncertainty(positioning_bands: Bands, positioning_reading: TwoWayReading) -> np.ndarray:
    """Standard uncertainty of the mean of both ways at each target [travel]. Raises NotKnown with single repeats."""
    s_up, s_down = positioning_bands.scatter()
    return np.asarray(np.sqrt(s_up**2 / counts(positioning_reading.up) + s_down**2 / counts(positioning_reading.down)) / 2)


@quantity("", symbol="−x̄_i", source="what is commanded in addition so that the mean of both ways stands on the target",
          formula="−x̄_i with the scale untouched; b·x_i − x̄_i after the slope went into it")
def correction_table(positioning_bands: Bands) -> list[dict[str, float]]:
    """By rising target [travel]: target, correction, correction_after_scale. Raises NotKnown with single repeats."""
    positioning_bands.scatter()
    middle, slope = positioning_bands.middle, line_through(positioning_bands.targets, positioning_bands.middle).slope
    order = np.argsort(positioning_bands.targets)
    return [{"target": float(positioning_bands.targets[n]), "correction": float(-middle[n]),
             "correction_after_scale": float(slope * positioning_bands.targets[n] - middle[n])} for n in order]


@quantity("", symbol="", source="the table, its differences from point to point, and what is not worth correcting", structure=True,
          formula="|x̄_i| < 2·u(x̄_i) is left alone")
def correction_points(
    correction_table: list[dict[str, float]], means_uncertainty: np.ndarray, positioning_bands: Bands
) -> list[dict[str, Any]]:
    """The table with increments from the point before, the uncertainty of each mean, and whether it is worth it."""
    order, found, before = np.argsort(positioning_bands.targets), [], None
    for row, u in zip(correction_table, means_uncertainty[order], strict=True):
        increment = 0.0 if before is None else row["correction"] - before
        before = row["correction"]
        found.append({**row, "increment": increment, "uncertainty": float(u), "worth": abs(row["correction"]) >= WORTH * float(u)})
    return found
