"""Compare: the last two records laid over each other, their modes paired, their shifts in words."""

from __future__ import annotations

import numpy as np
from PyQt6.QtWidgets import QHBoxLayout, QWidget

from urban_mule.core.ring.modes import Mode
from urban_mule.core.ring.shifts import paired
from urban_mule.desk.kit.chart import Chart
from urban_mule.desk.kit.picture import Picture
from urban_mule.desk.kit.ranked import Ranked, RankedRow
from urban_mule.desk.model.scope import Scope


class ComparePicture(Picture):
    """Both spectra on the left; on the right what became of each mode."""

    needs = frozenset({"modes", "spectrum", "earlier_record", "mode_shifts"})

    def __init__(self, session: Scope, parent: QWidget | None = None) -> None:
        super().__init__(session, parent)
        self.chart = Chart("frequency, Hz", "amplitude, of the greater peak", "Two records laid over each other")
        self.listed = Ranked(("mode", "what became of it"), (2, 4))
        box = QHBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.addWidget(self.chart, 3)
        box.addWidget(self.listed, 2)

    def says(self) -> tuple[str, str] | None:
        """What became of the strongest mode, and how many came and went."""
        earlier, modes = self.state.solution.get("earlier_record"), self.state.solution.get("modes")
        if earlier is None or not modes:
            return "Two records are laid over each other here: take a second one.", ""
        pairs = paired(earlier.modes, modes)
        gone, new = len(earlier.modes) - len(pairs), len(modes) - len(pairs)
        first = f"{pairs[0][0].frequency:.1f} Hz {_shift(*pairs[0]).split(';')[0]}" if pairs else "No mode is found again"
        more = [f"{count} {words}" for count, words in ((gone, "gone"), (new, "new")) if count]
        return f"{'; '.join([first, *more])}.", ""

    def redraw(self) -> None:
        solution, chart = self.state.solution, self.chart
        earlier, spectrum, modes = (solution.get(name) for name in ("earlier_record", "spectrum", "modes"))
        self.said_anew.emit()
        if earlier is None or spectrum is None or modes is None:
            chart.empty("Two records are laid over each other here: before and after, or from two places of the sensor. Take a"
                        " second one.")
            self.listed.show_rows([])
            return
        chart.restart()
        both = ((earlier.spectrum, "muted", "the one before"), (spectrum, "accent", "the last one"))
        high = 2.2 * max(mode.frequency for mode in (*earlier.modes, *modes))
        peak = max(float(np.sqrt(one.summed).max()) for one, _, _ in both)
        chart.frame((0, high), (0, 1.15))
        for one, color, words in both:
            seen = (one.frequency >= 2) & (one.frequency <= high)
            frequency, level = one.frequency[seen], np.sqrt(one.summed[seen]) / peak
            chart.line(frequency, level, color, 2.0)
            top = int(np.argmax(level))
            chart.text(float(frequency[top]), float(level[top]), f" {words}", color, (0, 1), 13)
        pairs = paired(earlier.modes, modes)
        self.listed.show_rows([*(RankedRow(f"{one.frequency:.1f} Hz", (_shift(one, other),)) for one, other in pairs),
                               *(RankedRow(f"{one.frequency:.1f} Hz", ("is gone",)) for one in earlier.modes
                                 if all(one is not pair[0] for pair in pairs)),
                               *(RankedRow(f"{other.frequency:.1f} Hz", ("is new",)) for other in modes
                                 if all(other is not pair[1] for pair in pairs))])


def _shift(one: Mode, other: Mode) -> str:
    """How a mode has shifted, in words."""
    def ratio(name: str) -> float:
        return float(getattr(other, name) / getattr(one, name))

    moved = 100 * (ratio("frequency") - 1)
    way = "up" if moved > 0 else "down"
    where = "stayed" if abs(moved) < 1 else f"went {way} by {abs(moved):.0f} % to {other.frequency:.1f} Hz"
    damped = f"damping times {ratio('damping_ratio'):.2f}"
    return f"{where}; {damped}; height times {ratio('height'):.2f}"
