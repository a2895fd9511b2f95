"""The Ring stage: modes and shapers as rows beside the results."""

from __future__ import annotations

from PyQt6.QtWidgets import QVBoxLayout

from urban_mule.core.sheet.units import FACTORS
from urban_mule.desk.kit.table import Table
from urban_mule.desk.stages.view import StageView


class RingStage(StageView):
    """Modes and shapers as rows beside the results."""

    def build_fields(self, know: QVBoxLayout) -> None:
        super().build_fields(know)
        self.table = Table("Shapers", ("shaper", "leaves", "worst mode", "allows", "adds", ""), 5, (1, 2, 3, 4))
        self.table.setMinimumHeight(130)
        know.addWidget(self.table, 1)

    def refresh(self, names: object = None) -> None:
        super().refresh(names)
        solution = self.session.solution
        shapers, chosen = solution.get("shapers"), solution.get("chosen_shaper")
        self.table.setVisible(bool(shapers))
        if not shapers:
            return
        linear = self.session.axis.motion == "linear"
        factor, unit = (1.0, "m/s²") if linear else (1 / FACTORS["°"], "°/s²")
        survives = solution["surviving_shares"]
        self.table.source.show_rows([(
            s["name"], f"{100 * survives[s['name']]:.0f} %", f"{100 * s['residual']:.0f} %",
            f"{s['allowed_acceleration'] * factor:.3g} {unit}", f"{1000 * s['times'][-1]:.0f} ms", "set it" if s is chosen else "")
            for s in shapers], shapers.index(chosen) if chosen in shapers else None)
