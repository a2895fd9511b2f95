"""The Moves stage: the cycle as rows of moves; the ends and the ladder behind it."""

from __future__ import annotations

from PyQt6.QtWidgets import QVBoxLayout

from urban_mule.desk.model.scope import Whole
from urban_mule.desk.shared.cycle_editor import CycleEditor
from urban_mule.desk.stages.sharing import KNOWN
from urban_mule.desk.stages.view import StageView

CYCLE = 560  # px that the rows of moves need


class MovesStage(StageView):
    """The cycle as rows of moves, and fields behind the other leaves."""

    session: Whole

    def build_fields(self, know: QVBoxLayout) -> None:
        super().build_fields(know)
        self.cycle = CycleEditor(self.session)
        self.cycle.wanted.connect(self.wanted)
        know.addWidget(self.cycle, 1)
        self.leaves.turned.connect(self._beside)
        self._beside(self.leaves.word)

    def _beside(self, word: str) -> None:
        """The rows of the cycle stand beside the cycle only."""
        self.cycle.setVisible(word == "cycle")
        self.least_left = CYCLE if word == "cycle" else 0
        self.know_heading.setText("The cycle: one row a move" if word == "cycle" else KNOWN)
        self.lay()

    def begin_here(self) -> None:
        """The cursor into the first move."""
        self.leaves.turn("cycle")
        self.cycle.begin()
