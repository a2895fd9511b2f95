"""One size up or not: what the larger motor buys and what it costs, by the same formulas."""

from __future__ import annotations

from PyQt6.QtWidgets import QVBoxLayout, QWidget

from urban_mule.core.sheet.shown import value_text
from urban_mule.core.spindle.size import SIZE_UP, one_size_up
from urban_mule.desk.kit.picture import Picture
from urban_mule.desk.kit.ranked import Ranked, RankedRow
from urban_mule.desk.model.scope import Scope

COMPARED = (("spindle_power_share", "less leaves more reserve"), ("spindle_torque_share", "less leaves more reserve"),
            ("spindle_inertia_ratio", "less holds angle better"), ("spin_up_time", ""), ("spindle_stop_time", ""),
            ("spindle_input_current", "what the mains has to give at its rated power"))
ENOUGH = 0.8  # share of the cut up to which this size does


class SizePicture(Picture):
    """A row for each number that a size changes."""

    def __init__(self, session: Scope, parent: QWidget | None = None) -> None:
        super().__init__(session, parent)
        box = QVBoxLayout(self)
        box.setContentsMargins(12, 8, 12, 8)
        self._words = ""
        self.listed = Ranked(("", "this one", f"{SIZE_UP:g} times the torque", ""), (3, 2, 2, 4))
        box.addWidget(self.listed, 1)

    def redraw(self) -> None:
        here = self.state.solution
        larger = here.changed(**one_size_up(here.inputs))
        rows = [RankedRow(here.sheet.label(name), (*(str(value_text(one.sheet, name, one.get(name), self.state.system))
                                                     for one in (here, larger)), why))
                for name, why in COMPARED if here.get(name) is not None]
        self.listed.show_rows(rows)
        shares = [float(share) for name in ("spindle_power_share", "spindle_torque_share") if (share := here.get(name)) is not None]
        if not shares:
            self._words = "Give the cut and the motor: then both sizes can be compared."
        elif max(shares) > 1:
            self._words = "This size does not pull the cut continuously: take the larger one, or cut less at a time."
        elif max(shares) > ENOUGH:
            self._words = "The reserve is small: a size up is right where the work will grow, and mains and frame allow it."
        else:
            self._words = "This size does. A larger one costs and weighs more; it spins up and stops as below."
        self.said_anew.emit()

    def says(self) -> tuple[str, str] | None:
        """Which size does."""
        return self._words, ""
