"""Causes: what may make several humps or a smear in this very train, each with the test that tells; tests are rounds."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QVBoxLayout, QWidget

from urban_mule.core.ring.causes import RingCause
from urban_mule.desk.kit.picture import Picture
from urban_mule.desk.kit.ranked import Ranked, RankedRow
from urban_mule.desk.model.scope import Scope
from urban_mule.desk.shared.on_train import OnTrain, Suspected
from urban_mule.desk.shared.suspicion import likeliest_first, pointed_at, why

BEGIN = {"acceleration": "Record again", "push": "Push it", "tone": "Pluck it"}


class HumpCauses(Picture):
    """The likeliest first. round_wanted(kind): a test is to be begun."""

    round_wanted = pyqtSignal(str)
    needs = frozenset({"ring_causes"})

    def __init__(self, session: Scope, parent: QWidget | None = None) -> None:
        super().__init__(session, parent)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 6, 0, 6)
        self.drawn = OnTrain(session, "What may make these humps, likeliest first.")
        self.listed = Ranked(("it may be", "since", "what tells it apart"), (2, 3, 5))
        self.listed.pressed.connect(self._begin)
        box.addWidget(self.drawn, 5)
        box.addWidget(self.listed, 5)
        self._kinds: dict[str, str] = {}
        self._pointed: dict[str, str] = {}
        session.taught.connect(self._anew)

    def redraw(self) -> None:
        found, solution = self._causes(), self.state.solution
        self.drawn.show_suspected([Suspected(one.name, one.place) for one in found or ()])
        self.listed.setVisible(bool(found))
        self._kinds = {one.name: one.reading for one in found or ()}
        told = {one.name: f"{why(one.place, self._pointed, solution)}{one.why}" for one in found or ()}
        self.listed.show_rows([RankedRow(one.name, (told[one.name], one.test), (BEGIN[one.reading],)) for one in found or ()])
        self.said_anew.emit()

    def _causes(self) -> list[RingCause] | None:
        """What may make the humps, first that to which the readings point; None without a record."""
        solution = self.state.solution
        found = solution.get("ring_causes")
        if found is None:
            return None
        self._pointed = pointed_at(self.session.teaching if self.of is None and found else None, solution)
        return likeliest_first(found, lambda one: one.place, self._pointed)

    def says(self) -> tuple[str, str] | None:
        """What is likeliest, where there is anything to explain."""
        found = self._causes()
        if found is None:
            return "There is nothing to explain without a record of the vibration.", "Take one: Measure vibration, below."
        if not found:
            return "One clear mode rings: nothing to explain.", ""
        return f"Likeliest a {found[0].name}: {found[0].why}.", "Change one thing at a time, and record after each."

    def _begin(self, name: str, _words: str) -> None:
        self.round_wanted.emit(self._kinds[name])
