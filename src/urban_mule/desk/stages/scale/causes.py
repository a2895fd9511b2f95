"""Causes: what on this very axis may be set or built otherwise than entered, and how each is told from the others."""

from __future__ import annotations

from PyQt6.QtWidgets import QVBoxLayout, QWidget

from urban_mule.core.scale.checks import NO_RATIO
from urban_mule.core.scale.detective import Suspect, plain_ratio
from urban_mule.core.sheet.wording import size
from urban_mule.desk.kit.painting import Label
from urban_mule.desk.kit.picture import Picture
from urban_mule.desk.kit.ranked import Ranked, RankedRow
from urban_mule.desk.model.scope import Scope
from urban_mule.desk.stages.scale.ratio_ladder import RatioLadder

FIRST = ("Commanding one turn of the motor and watching a mark on its shaft halves the search: what is wrong lies before the shaft"
         " (settings) or behind it (parts). One thing is changed at a time, then the travel measured again.")


class CausesPicture(Picture):
    """The suspects, likeliest first."""

    needs = frozenset({"scale_suspects", "scale_ratio"})

    def __init__(self, session: Scope, parent: QWidget | None = None) -> None:
        super().__init__(session, parent)
        box = QVBoxLayout(self)
        box.setContentsMargins(12, 8, 12, 8)
        self.drawn = RatioLadder(session)
        self.first = Label(FIRST, objectName="label", wordWrap=True)
        self.listed = Ranked(("what may be wrong", "entered", "really", "moves", "where to look", "what tells it apart"),
                             (3, 2, 2, 1, 6, 6))
        box.setSpacing(4)
        box.addWidget(self.drawn, 6)
        box.addWidget(self.first)
        box.addWidget(self.listed, 5)

    def redraw(self) -> None:
        solution = self.state.solution
        suspects: tuple[Suspect, ...] = solution.get("scale_suspects", ())
        for widget in (self.first, self.listed):
            widget.setVisible(bool(suspects))
        self.listed.show_rows([RankedRow(one.setting, (one.entered, one.really, f"× {size(one.ratio, 4)}", one.look, one.test))
                               for one in suspects])
        self.said_anew.emit()

    def says(self) -> tuple[str, str] | None:
        """What the measured ratio gives away."""
        solution = self.state.solution
        ratio, doubt = solution.get("scale_ratio"), solution.get("scale_doubt")
        if doubt:
            return f"{NO_RATIO[doubt][0]}.", NO_RATIO[doubt][1]
        if ratio is None:
            return "No travel is measured yet.", "What a wrong setting or part of this axis would make of it stands on the ladder."
        return self._sentence(ratio, len(solution.get("scale_suspects", ()))), ""

    @staticmethod
    def _sentence(ratio: float, count: int) -> str:
        moved = f"It moved {size(ratio, 5)} times what was commanded"
        if count:
            return f"{moved}, near {plain_ratio(ratio)}. On this axis that would be:"
        if abs(ratio - 1) > 0.01:
            return (f"{moved}. No single setting or part of this axis explains that. Compare the controller's number with the tag,"
                    " then measure a longer travel, and each motor by itself.")
        return (f"It moved as far as commanded, within {size(100 * abs(ratio - 1), 2)} %: no setting is wrong. What is left is the"
                " true scale, or the temperature.")
