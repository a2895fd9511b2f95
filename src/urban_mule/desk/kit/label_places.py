"""Where labels of a chart go so that they keep clear of lines and of each other: as near to where they belong as there is room."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

CELL = 4.0  # px of the grid on which lines and labels are laid out
UP = tuple(side * far for far in (0.0, 0.5, 1.0, 1.6, 2.3, 3.2, 4.4, 6.0, 8.0) for side in (1, -1))  # heights it may be moved by
ACROSS = (0.0, 0.3, -0.3, 0.6, -0.6, 1.05, -1.05, 1.6, -1.6)  # and widths of it
ON_A_LINE, ASIDE = 6.0, 0.35  # what a cell on a line costs, in heights of a label; a width, in heights
ACROSS_BY, UP_BY = np.array(sorted(  # the nearest first: of two places as good it is the one
    ((across, up) for across in ACROSS for up in UP), key=lambda one: abs(one[1]) + 3 * ASIDE * abs(one[0]))).T

Box = tuple[float, float, float, float]  # left, top, width, height [px]


def _cells_of(line: np.ndarray, shape: tuple[int, int]) -> tuple[np.ndarray, np.ndarray]:
    """The cells that a polyline (points a row, px) runs through."""
    line = line[np.all(np.isfinite(line), axis=1)]
    far = np.array([shape[1], shape[0]]) * CELL
    line = np.clip(line, -far, 2 * far)
    if len(line) < 2:
        return np.empty(0, int), np.empty(0, int)
    steps = np.maximum(1, np.ceil(np.max(np.abs(np.diff(line, axis=0)), axis=1) / CELL)).astype(int)
    at = np.repeat(np.arange(len(steps)), steps)
    share = (np.arange(len(at)) - np.repeat(np.cumsum(steps) - steps, steps)) / steps[at]
    points = line[at] + share[:, None] * (line[at + 1] - line[at])
    column, row = (np.concatenate([points, line[-1:]]) // CELL).astype(int).T
    inside = (column >= 0) & (row >= 0) & (column < shape[1]) & (row < shape[0])
    return row[inside], column[inside]


def _sums(grid: np.ndarray) -> np.ndarray:
    """Sums over all cells above and to the left, by which those of a box come from its corners."""
    return np.pad(np.cumsum(np.cumsum(grid, axis=0), axis=1), ((1, 0), (1, 0)))


def _cells(low: np.ndarray, size: float, most: int) -> tuple[np.ndarray, np.ndarray]:
    """From which cell to which (not with it) something of a size reaches that begins there [px]."""
    return (low // CELL).astype(int), np.minimum(most, -(-(low + size) // CELL).astype(int))


def label_moves(labels: Sequence[Box], lines: Sequence[np.ndarray], width: float, height: float) -> list[tuple[float, float]]:
    """How far each label is moved [px], the first one first, so that it lies on no other label and, where it can, on no line.

    labels: where they would be; lines: points a row [px]; width, height: of the chart, which no label leaves.
    """
    shape = (max(1, int(np.ceil(height / CELL))), max(1, int(np.ceil(width / CELL))))
    drawn = np.zeros(shape)
    for line in lines:
        drawn[_cells_of(line, shape)] = 1.0
    of_lines, taken = _sums(drawn), list[tuple[int, int, int, int]]()
    found: list[tuple[float, float]] = []
    for left, top, wide, high in labels:
        if not (np.isfinite([left, top, wide, high]).all() and high > 0):
            found.append((0.0, 0.0))
            continue
        x = np.clip(left + ACROSS_BY * wide, 0.0, max(0.0, width - wide))
        y = np.clip(top + UP_BY * high, 0.0, max(0.0, height - high))
        (a, c), (b, d) = _cells(x, wide, shape[1]), _cells(y, high, shape[0])
        crossed = of_lines[d, c] - of_lines[b, c] - of_lines[d, a] + of_lines[b, a]
        others = np.zeros(x.size)
        for a0, c0, b0, d0 in taken:
            others += np.maximum(np.minimum(c, c0) - np.maximum(a, a0), 0) * np.maximum(np.minimum(d, d0) - np.maximum(b, b0), 0)
        moved = np.abs(y - top) / high + ASIDE * np.abs(x - left) / high
        best = int(np.argmin(1e3 * others + ON_A_LINE * np.minimum(crossed, 8) / 4 + moved))
        taken.append((int(a[best]), int(c[best]), int(b[best]), int(d[best])))
        found.append((float(x[best]) - left, float(y[best]) - top))
    return found
