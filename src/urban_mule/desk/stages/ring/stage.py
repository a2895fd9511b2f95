"""The Ring stage: modes and shapers as rows beside the results."""

from __future__ import annotations

from typing import Any

from PyQt6.QtWidgets import QVBoxLayout

from urban_mule.desk.kit.table import Table
from urban_mule.desk.model.travel_units import drawn_in
from urban_mule.desk.stages.ring.causes import HumpCauses
from urban_mule.desk.stages.view import StageView

WITH_TABLE = ("spectrum", "shapers")


class RingStage(StageView):
    """Shapers as rows beneath the spectrum and the trade; the causes lead to their rounds."""

    def build_fields(self, know: QVBoxLayout) -> None:
        super().build_fields(know)
        self.table = Table("Shapers", ("shaper", "at", "survives", "worst mode", "allows", "costs", ""), 6, (1, 2, 3, 4, 5))
        self.table.setMinimumHeight(130)
        know.addWidget(self.table, 1)
        self._joined = False
        self.leaves.turned.connect(self._beside)

    def _beside(self, word: str) -> None:
        picture = self.leaves.picture
        if isinstance(picture, HumpCauses) and not self._joined:
            picture.round_wanted.connect(self.open_round)
            self._joined = True
        self._show_table(word)

    def _show_table(self, word: str) -> None:
        self.table.setVisible(word in WITH_TABLE and bool(self.table.source.rows))

    def refresh(self, names: object = None) -> None:
        super().refresh(names)
        get = self.session.solution.get
        tuned, chosen, two = get("tuned_shapers") or [], get("chosen_shaper"), get("two_mode_shaper")
        factor, unit = drawn_in(self.session.state, "[travel]/s²")
        names_ = [one["name"] for one in tuned]
        shown = [chosen if chosen is not None and one["name"] == chosen["name"] else one for one in tuned]
        rows = [(one["name"], f"{one['frequency']:.1f} Hz", f"{100 * one['surviving_share']:.1f} %", *_costs(one, factor, unit),
                 "set it" if one is chosen else "") for one in shown]
        if two is not None:
            rows.append(("for two modes", "", "", *_costs(two, factor, unit), "where the controller takes it"))
        self.table.source.show_rows(rows, names_.index(chosen["name"]) if chosen is not None else None)
        self._show_table(self.leaves.word)


def _costs(one: dict[str, Any], factor: float, unit: str) -> tuple[str, str, str]:
    """What a shaper leaves of the worst mode, allows, and costs in time."""
    return (f"{100 * one['residual']:.0f} %", f"{one['allowed_acceleration'] * factor:.3g} {unit}",
            f"{1000 * one['times'][-1]:.0f} ms")
