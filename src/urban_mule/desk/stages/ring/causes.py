"""Causes: what may make several humps or a smear in this very train, each with the test that tells; tests are rounds."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QVBoxLayout, QWidget

from urban_mule.desk.kit.painting import Label
from urban_mule.desk.kit.picture import Picture
from urban_mule.desk.kit.ranked import Ranked, RankedRow
from urban_mule.desk.model.scope import Scope

BEGIN = {"acceleration": "Record again", "push": "Push it", "tone": "Pluck it"}


class HumpCauses(Picture):
    """The likeliest first. round_wanted(kind): a test is to be begun."""

    round_wanted = pyqtSignal(str)
    needs = frozenset({"ring_causes"})

    def __init__(self, session: Scope, parent: QWidget | None = None) -> None:
        super().__init__(session, parent)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 6, 0, 6)
        self.said = Label(objectName="heading", wordWrap=True)
        self.said.setContentsMargins(12, 0, 12, 0)
        self.listed = Ranked(("it may be", "since", "what tells it apart"), (2, 3, 5))
        self.listed.pressed.connect(self._begin)
        box.addWidget(self.said)
        box.addWidget(self.listed, 1)
        self._kinds: dict[str, str] = {}

    def redraw(self) -> None:
        found = self.state.solution.get("ring_causes")
        if found is None:
            self.said.setText(f"Nothing to explain yet: {self.state.reason_unknown('ring_causes')}.")
        elif not found:
            self.said.setText("One clear mode rings: nothing to explain.")
        else:
            self.said.setText("Change one thing at a time, and record after each.")
        self._kinds = {one.name: one.reading for one in found or ()}
        self.listed.show_rows([RankedRow(one.name, (one.why, one.test), (BEGIN[one.reading],)) for one in found or ()])

    def _begin(self, name: str, _words: str) -> None:
        self.round_wanted.emit(self._kinds[name])
