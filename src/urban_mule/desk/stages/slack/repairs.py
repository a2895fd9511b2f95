"""Repairs: what may have play in this train, likeliest first; what was repaired books itself and asks for the next measurement."""

from __future__ import annotations

from PyQt6.QtWidgets import QVBoxLayout, QWidget

from urban_mule.core.slack.repairs import Repair
from urban_mule.desk.kit.picture import Picture
from urban_mule.desk.kit.ranked import Ranked, RankedRow
from urban_mule.desk.model.booked import book
from urban_mule.desk.model.scope import Scope
from urban_mule.desk.shared.on_train import OnTrain, Suspected
from urban_mule.desk.shared.suspicion import likeliest_first, pointed_at, why


class RepairsPicture(Picture):
    """The train with what may have play; a row for each: how it is told, what mends it, and the key that books it."""

    needs = frozenset({"slack_repairs"})

    def __init__(self, session: Scope, parent: QWidget | None = None) -> None:
        super().__init__(session, parent)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(4)
        self.drawn = OnTrain(session, "What may have play in this train, likeliest first.")
        box.addWidget(self.drawn, 4)
        self.listed = Ranked(("what it may be, likeliest first", "how to tell it", "what mends it"), (2, 5, 5))
        self.listed.pressed.connect(self.book)
        box.addWidget(self.listed, 5)
        session.book_changed.connect(self._anew)
        session.taught.connect(self._anew)
        self._pointed: dict[str, str] = {}

    def redraw(self) -> None:
        repairs, solution = self._repairs(), self.state.solution
        told = {one.part: f"{why(one.place, self._pointed, solution)}{one.tell}" for one in repairs}
        self.listed.show_rows([RankedRow(one.part, (told[one.part], one.mend), ("Repaired",)) for one in repairs])
        self.drawn.show_suspected([Suspected(one.part, one.place) for one in repairs])
        self.said_anew.emit()

    def _repairs(self) -> list[Repair]:
        """What may have play, first that to which the readings point."""
        solution = self.state.solution
        self._pointed = pointed_at(self.session.teaching if self.of is None else None, solution)
        return likeliest_first(solution.get("slack_repairs", ()), lambda one: one.place, self._pointed)

    def book(self, part: str, _words: str = "") -> None:
        """Write the repair into the log."""
        book(self.session, part, "repaired", self.state.id)

    def says(self) -> tuple[str, str] | None:
        """What is likeliest, and what was repaired last."""
        repairs = self._repairs()
        if not repairs:
            return "What may have play is told by the train: build it on Load.", ""
        return f"Play comes likeliest from the {repairs[0].part}; {len(repairs)} places are worth a look.", self._last()

    def _last(self) -> str:
        """The last repair, and whether the backlash was measured after it."""
        who = self.state.id
        last = next((one for one in reversed(self.session.entries()) if one.kind == "repaired" and one.subject == who), None)
        if last is None:
            return "Nothing is booked as repaired on this axis. Change one thing at a time, and measure after each."
        when, measured = f"{last.time:%-d %b %Y}", self.state.axis.last_reading("reversal")
        after = measured is not None and measured.taken and measured.taken >= last.time.isoformat()
        return f"Repaired on {when}: {last.text.rstrip('.')}. " + (
            "The backlash was measured after it." if after else "Now measure the backlash again: Measure backlash, below.")
