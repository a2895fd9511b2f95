"""What corrections really promise: judged with the scatter that they have themselves, and at places between the targets.

Source: the jackknife (B. Efron, The Jackknife, the Bootstrap and Other Resampling Plans); ISO 230-2 for A.
"""

from __future__ import annotations

import numpy as np

from urban_mule.core.proof.corrections import CORRECTIONS, Means, correction_of
from urban_mule.core.proof.positioning import ISO, accuracy_by, positioning_bands
from urban_mule.core.readings.straight_line import straight_line
from urban_mule.core.readings.two_way import TwoWayReading
from urban_mule.core.sheet.quantity import NotKnown, quantity

FEWEST, FEWEST_BETWEEN = 3, 5  # targets that show what a correction is worth at them, and between them


def _by_place(reading: TwoWayReading, fewest: int) -> TwoWayReading:
    """The readings by rising place, a repeat a row. Raises NotKnown where they are not as many each way, or the targets too few."""
    order = np.argsort(reading.targets, kind="stable")
    targets = reading.targets[order]
    if len(targets) < fewest or np.any(np.diff(targets) <= 0):
        raise NotKnown(f"{fewest} targets or more, no two alike, tell what a correction is worth", "positioning_reading")
    up, down = (one[~np.isnan(one).all(axis=1)][:, order] for one in (reading.up, reading.down))
    if up.shape != down.shape or len(up) < 2 or np.isnan(up).any() or np.isnan(down).any():
        raise NotKnown("as many repeats up as down at every target, two or more, tell what a correction is worth",
                       "positioning_reading")
    return TwoWayReading(targets, up, down)


def one_left_out(table: np.ndarray) -> np.ndarray:
    """The means at each target of all repeats but one, each left out in turn; table: repeats × targets [travel]."""
    return np.asarray((table.sum(axis=0) - table) / (len(table) - 1))


def own_scatter(name: str, targets: np.ndarray, left_out: Means) -> Means:
    """The standard uncertainty that a correction has itself, each way at each target [travel]; left_out: by `one_left_out`."""
    without = np.stack(correction_of(name, targets, left_out))
    n = without.shape[1]
    off = without - without.sum(axis=1, keepdims=True) / n
    u_up, u_down = np.sqrt((n - 1) / n * (off * off).sum(axis=1))
    return u_up, u_down


@quantity("[travel]", symbol="A'", source=f"{ISO}; each correction with the scatter that it has itself, by the jackknife",
          formula="A of x̄_i − c with √(s² + u_c²)", label="Accuracy promised", shown=("µm", ""))
def accuracy_promised(positioning_reading: TwoWayReading) -> dict[str, float]:
    """Accuracy A that the next run may be held against, with each correction [travel]. Raises NotKnown."""
    reading = _by_place(positioning_reading, FEWEST)
    bands = positioning_bands(reading)
    s_up, s_down = bands.scatter()
    left_out = one_left_out(reading.up), one_left_out(reading.down)
    found = {}
    for name in CORRECTIONS:
        off_up, off_down = correction_of(name, bands.targets, (bands.mean_up, bands.mean_down))
        u_up, u_down = own_scatter(name, bands.targets, left_out)
        found[name] = accuracy_by(bands.mean_up - off_up, bands.mean_down - off_down,
                                  np.hypot(s_up, u_up), np.hypot(s_down, u_down))
    return found


@quantity("[travel]", symbol="A''", source=f"{ISO}; what the other targets say of each, as a line or between its neighbours",
          formula="A of x̄_i less what a line, or a table, of the others says of it", label="Accuracy between the targets",
          shown=("µm", ""))
def accuracy_between(positioning_reading: TwoWayReading) -> dict[str, float]:
    """Accuracy A that a place between the targets gets, with backlash and a line or a table [travel]. Raises NotKnown."""
    bands = positioning_bands(_by_place(positioning_reading, FEWEST_BETWEEN))
    x, middle, half = bands.targets, bands.middle, float(bands.reversal.mean()) / 2
    line = straight_line(x, middle)
    own_part = 1 / x.size + (x - line.middle) ** 2 / line.spread  # of what a target says, in what the line says there
    by_line = (middle - (middle - line.at(x)) / (1 - own_part))[1:-1]  # the line through the others
    by_table = middle[:-2] + (x[1:-1] - x[:-2]) * (middle[2:] - middle[:-2]) / (x[2:] - x[:-2])
    s_up, s_down = (one[1:-1] for one in bands.scatter())
    return {name: accuracy_by((bands.mean_up - half)[1:-1] - said, (bands.mean_down + half)[1:-1] - said, s_up, s_down)
            for name, said in (("line", by_line), ("table", by_table))}
