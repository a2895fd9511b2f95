"""The Ring stage: the causes lead to their rounds."""

from __future__ import annotations

from PyQt6.QtWidgets import QVBoxLayout

from urban_mule.desk.stages.ring.naming import Naming
from urban_mule.desk.stages.view import StageView


class RingStage(StageView):
    """The anatomy of every stage, and what is asked beside the spectrum."""

    def build_fields(self, know: QVBoxLayout) -> None:
        super().build_fields(know)
        self.naming = Naming(self.session)
        self.naming.hide()
        know.addWidget(self.naming)

    def refresh(self, names: object = None) -> None:
        self.naming.refresh()
        self.naming.setVisible(self.naming.isVisibleTo(self) and self.leaves.word == "spectrum")
        super().refresh(names)

    def _leaf_turned(self, word: str) -> None:
        super()._leaf_turned(word)
        if not self._steps:
            self.refresh()
