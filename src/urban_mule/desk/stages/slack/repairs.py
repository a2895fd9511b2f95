"""Repairs: what may have play in this train, likeliest first; what was repaired books itself and asks for the next measurement."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QGridLayout, QPushButton, QScrollArea, QVBoxLayout, QWidget

from urban_mule.core.slack.repairs import Repair
from urban_mule.desk.kit.painting import Label
from urban_mule.desk.kit.picture import Picture
from urban_mule.desk.model.session import Session


class RepairsPicture(Picture):
    """A row for each cause: how it is told, what mends it, and the key that books it."""

    needs = frozenset({"slack_repairs"})

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(session, parent)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        self.listed = QScrollArea(widgetResizable=True)
        self.listed.setFrameShape(QScrollArea.Shape.NoFrame)
        self.listed.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        box.addWidget(self.listed, 1)
        self.said = Label(objectName="label", wordWrap=True)
        box.addWidget(self.said)
        self.buttons: dict[str, QPushButton] = {}
        session.book_changed.connect(self._anew)

    def redraw(self) -> None:
        repairs: tuple[Repair, ...] = self.state.solution.get("slack_repairs", ())
        inner = QWidget()
        grid = QGridLayout(inner)
        grid.setContentsMargins(12, 10, 12, 10)
        grid.setHorizontalSpacing(18)
        grid.setVerticalSpacing(10)
        self.buttons = {}
        for column, words in enumerate(("", "what it may be, likeliest first", "how to tell it", "what mends it")):
            grid.addWidget(Label(words, objectName="label"), 0, column)
        for row, one in enumerate(repairs, start=1):
            name = Label(one.part[:1].upper() + one.part[1:], objectName="heading", wordWrap=True)
            grid.addWidget(Label(str(row), objectName="label"), row, 0, Qt.AlignmentFlag.AlignTop)
            for column, label in enumerate((name, Label(one.tell, wordWrap=True), Label(one.mend, wordWrap=True)), start=1):
                grid.addWidget(label, row, column, Qt.AlignmentFlag.AlignTop)
            button = self.buttons[one.part] = QPushButton("Repaired")
            button.setAccessibleName(f"Repaired: {one.part}")
            button.clicked.connect(lambda _on, part=one.part: self.book(part))
            grid.addWidget(button, row, 4, Qt.AlignmentFlag.AlignTop)
        for column, share in ((1, 2), (2, 5), (3, 5)):
            grid.setColumnStretch(column, share)
        grid.setRowStretch(len(repairs) + 1, 1)
        self.listed.setWidget(inner)
        self._say()

    def book(self, part: str) -> None:
        """Write the repair into the log."""
        self.session.write(part, "repaired", self.state.axis.name)

    def _say(self) -> None:
        """The last repair, and whether the backlash was measured after it."""
        name = self.state.axis.name
        last = next((one for one in reversed(self.session.entries()) if one.kind == "repaired" and one.axis == name), None)
        if last is None:
            self.said.setText("Nothing is booked as repaired on this axis. Change one thing at a time, and measure after each.")
            return
        when, measured = f"{last.time:%-d %b %Y}", self.state.axis.last_reading("reversal")
        after = measured is not None and measured.taken and measured.taken >= last.time.isoformat()
        self.said.setText(f"Repaired on {when}: {last.text}. " + (
            "The backlash was measured after it." if after else "Now measure the backlash again: Take reversal, below."))
