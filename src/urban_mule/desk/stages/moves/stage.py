"""The Moves stage: the cycle as rows of moves."""

from __future__ import annotations

from PyQt6.QtWidgets import QVBoxLayout

from urban_mule.desk.shared.cycle_editor import CycleEditor
from urban_mule.desk.stages.view import StageView


class MovesStage(StageView):
    """The cycle as rows of moves."""

    shares = (15, 7)

    def build_fields(self, know: QVBoxLayout) -> None:
        self.know_heading.setText("The cycle: one row a move")
        self.cycle = CycleEditor(self.session)
        self.cycle.wanted.connect(self.wanted)
        know.addWidget(self.cycle, 1)

    def begin_here(self) -> None:
        """The cursor into the first move."""
        self.cycle.begin()
