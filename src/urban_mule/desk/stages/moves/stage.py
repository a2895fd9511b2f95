"""The Moves stage: the cycle as rows of moves; the ends and the ladder behind it."""

from __future__ import annotations

from collections import Counter

from PyQt6.QtWidgets import QVBoxLayout

from urban_mule.core.sheet.verdict import Verdict
from urban_mule.desk.model.scope import Whole
from urban_mule.desk.shared.cycle_editor import CycleEditor
from urban_mule.desk.stages.view import StageView
from urban_mule.store.commissioning import station_stands

CHECKS = {"directions": ("direction",), "ends": ("way of homing", "switch", "soft limits", "homing"), "ladder": ("ladder",)}
OPEN = (("due again", "due again"), ("otherwise", "seen otherwise"), ("not done", "not done"), ("open", "open"))


class MovesStage(StageView):
    """The cycle as rows of moves, and fields behind the other leaves."""

    session: Whole

    shares = (15, 7)

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
        self.know_heading.setText("The cycle: one row a move" if word == "cycle" else "What you know")

    def verdicts_here(self) -> tuple[Verdict, ...]:
        """Those that belong to the leaf on top; all of them where it has none of its own."""
        found, names = super().verdicts_here(), CHECKS.get(self.leaves.word, ())
        return tuple(one for one in found if one.check in names) or found

    def words(self, deciding: Verdict | None) -> tuple[str, str]:
        if self.leaves.word != "first power":
            return super().words(deciding)
        axis = self.session.axis
        stands = station_stands(self.session.project, axis, self.session.solution)
        counted = Counter(one.state for one in stands)
        others = [f"{counted[state]} {words}" for state, words in OPEN if counted[state]]
        waiting = sum(not one.put_back for one in axis.for_now or ())
        said = f"{counted['done']} of {len(stands)} stations are done{''.join(f', {one}' for one in others)}."
        return said, f"{waiting} {'thing is' if waiting == 1 else 'things are'} set only for now." if waiting else ""

    def begin_here(self) -> None:
        """The cursor into the first move."""
        self.leaves.turn("cycle")
        self.cycle.begin()
