"""What stands on an empty Brief: three ways to begin."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from urban_mule.desk.kit.painting import Label
from urban_mule.store.beginning import is_blank
from urban_mule.store.document.project import Project

WAYS = {  # what is begun: what it is called, and what comes of it
    "axis": ("A new axis in three questions", "What kind, what moves, how far and fast; then the drives that would do are found."),
    "demo": ("The demo machine", "A gantry that lays tiles, with a history: every stage has something to show."),
    "tour": ("A tour of the demo", "Ten places in the demo, two sentences each.")}


def nothing_begun(project: Project) -> bool:
    """Whether nothing has been decided of any axis, and there is nothing else."""
    return all(map(is_blank, project.axes)) and not project.others


class Ways(QWidget):
    """Three buttons, each with a line of what comes of it. begun(way): one was taken."""

    begun = pyqtSignal(str)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        box = QVBoxLayout(self)
        box.setContentsMargins(32, 24, 32, 24)
        box.setSpacing(18)
        box.addStretch(1)
        self.buttons: dict[str, QPushButton] = {}
        for way, (words, what) in WAYS.items():
            button = self.buttons[way] = QPushButton(words, objectName="strong" if way == "axis" else "")
            button.setFixedWidth(290)
            button.setAccessibleDescription(what)
            button.clicked.connect(lambda _checked, way=way: self.begun.emit(way))
            row = QHBoxLayout()
            row.setSpacing(20)
            row.addWidget(button)
            row.addWidget(Label(what, wordWrap=True), 1)
            box.addLayout(row)
        box.addStretch(2)
