"""Taking readings from the window: a bar that begins a round, goes on with one, takes files in, and opens the list."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QPushButton, QWidget

from urban_mule.bench.sessions.kinds import PLAN_KINDS, possible, words_of
from urban_mule.bench.sessions.rounds import Round
from urban_mule.desk.kit.flow import Flow
from urban_mule.desk.kit.painting import Label, tip
from urban_mule.desk.model.scope import Scope
from urban_mule.desk.shared.setup_view import parts_of


class MeasureBar(QWidget):
    """Begin a round, go on with one, import readings.

    round_wanted(kind, round or None): a round is to be planned, or gone on with. list_wanted: all readings of the axis are to be
    looked at. import_wanted(kind): files with readings are to be taken in.
    """

    round_wanted = pyqtSignal(str, object)
    list_wanted = pyqtSignal()
    import_wanted = pyqtSignal(str)

    def __init__(self, session: Scope, kinds: tuple[str, ...], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session, self.kinds = session, kinds
        row = Flow(self, 6)
        self.rounds = {kind: QPushButton() for kind in kinds}
        for kind, button in self.rounds.items():
            tip(button, f"{words_of(kind)}, step by step: {PLAN_KINDS[kind].tells}")
            button.clicked.connect(lambda _checked, kind=kind: self.begin(kind))
        self.file = QPushButton("Import CSV…")
        self.file.clicked.connect(lambda: self.import_wanted.emit(self.kind))
        self.list = QPushButton("Readings…")
        tip(self.list, "All readings of this axis: look, strike out, set aside, compare (Ctrl+L)")
        self.list.clicked.connect(self.list_wanted)
        for widget in (*self.rounds.values(), self.file, self.list):
            row.addWidget(widget)
        self.note = Label(objectName="label")
        self.note.hide()
        row.addWidget(self.note)
        for widget in (self.file, self.list) if session.key != "axes" else ():
            widget.hide()  # a spindle has one table, and no book of readings
        session.book_changed.connect(self.refresh)  # a round that was given up may come back
        self.refresh()

    def tell(self, sentence: str) -> None:
        """Say what became of a file."""
        self.note.setText(sentence)
        tip(self.note, sentence)
        self.note.setVisible(bool(sentence))

    def possible(self) -> tuple[str, ...]:
        """The kinds that the shown axis can have."""
        return possible(self.kinds, parts_of(self.session.axis))

    @property
    def kind(self) -> str:
        """The kind that stands first here."""
        return self.kinds[0]

    def begin_here(self) -> None:
        """Put the cursor on what takes readings here."""
        self.rounds[self.kind].setFocus()

    def begin(self, kind: str) -> None:
        """Plan a round of a kind, or go on with the one that is under way."""
        self.round_wanted.emit(kind, self._under_way(kind))

    def _under_way(self, kind: str) -> Round | None:
        """The round of a kind that was begun on the shown axis and not ended."""
        who = self.session.axis.id
        return next((one for one in self.session.rounds if one.kind == kind and one.subject == who), None)

    def refresh(self) -> None:
        """Say which rounds are under way on the shown axis."""
        here = self.possible()
        for kind, button in self.rounds.items():
            button.setVisible(kind in here)
            under_way, called = self._under_way(kind), PLAN_KINDS[kind].called or kind
            take = "Measure " if kind == self.kind else ""
            button.setText(f"{take}{called}…" if under_way is None else f"Go on: {called}, {len(under_way.taken)} taken")
