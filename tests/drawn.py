"""Reads a chart as a person does: what is drawn, by the units that stand at its axes, in SI."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np

from urban_mule.core.sheet import units


@dataclass(frozen=True)
class Drawn:
    """Curves and points as (x, y), areas as (x, low, high), all in SI by the units at the axes; words as they stand."""

    curves: tuple[tuple[np.ndarray, np.ndarray], ...]
    points: tuple[tuple[np.ndarray, np.ndarray], ...]
    bands: tuple[tuple[np.ndarray, np.ndarray, np.ndarray], ...]
    words: str


def size_of(label: str) -> float:
    """What one of the unit at the end of a label is in SI, as a library of units would have it, and not as the drawing has."""
    unit = label.rpartition(", ")[2]
    plain = next((si for si in ("m", "rad", "s", "Hz", "N", "N·m", "m/s²", "rad/s", "m/N") if _fits(unit, si)), None)
    return 1.0 if plain is None else units.factor(unit, plain)


def _fits(unit: str, si: str) -> bool:
    try:
        units.factor(unit, si)
    except ValueError:
        return False
    return True


def drawn(chart: Any) -> Drawn:
    """What a chart shows now."""
    across, up = (size_of(label) * axis.scale * axis.autoSIPrefixScale  # as the numbers at the axes are written
                  for label, axis in zip(chart._labels, (chart.axes["bottom"], chart.axes["left"]), strict=True))

    def shown(kind: str) -> list[Any]:
        return chart._pool.get(kind, [])[:chart._used.get(kind, 0)]

    curves = [item.getData() for kind in ("curve", "filled") for item in shown(kind)]
    bands = []
    for item in shown("band"):
        outline = np.array([(point.x(), point.y()) for point in item.polygon()])
        half = len(outline) // 2
        bands.append((outline[:half, 0] * across, outline[:half, 1] * up, outline[half:2 * half][::-1, 1] * up))
    return Drawn(tuple((np.asarray(x) * across, np.asarray(y) * up) for x, y in curves),
                 tuple((item._x * across, item._y * up) for item in shown("dots")), tuple(bands),
                 " ".join(item.toPlainText() for item in shown("text")))
