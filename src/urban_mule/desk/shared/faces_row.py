"""What is asked of a step gauge or a row of blocks: how sure each face is, and a table of their lengths."""

from __future__ import annotations

import csv
import io
from pathlib import Path

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QFileDialog, QHBoxLayout, QLineEdit, QPushButton, QWidget

from urban_mule.bench.sessions.plain import plain_number
from urban_mule.desk.kit.painting import Label
from urban_mule.store.text_files import BadFile, from_file, recognised_delimiter, utf8

LARGEST, MOST = 1e6, 500  # bytes of a table, and lengths in it
MILLIMETRE = 1e-3


class FacesRow(QWidget):
    """changed: another uncertainty is typed. lengths(list): lengths came from a table [m]."""

    changed = pyqtSignal()
    lengths = pyqtSignal(list)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.addWidget(Label("Targets are the lengths of the faces; a wrung stack as 50+1.005. Each is sure to (standard), µm",
                            objectName="label", wordWrap=True), 3)
        self.each = QLineEdit(accessibleName="Standard uncertainty of each block or face in µm", placeholderText="0.3")
        self.each.textEdited.connect(lambda _text: self.changed.emit())
        row.addWidget(self.each, 1)
        button = QPushButton("Lengths from CSV…")
        button.clicked.connect(self._choose)
        row.addWidget(button)
        self.said = Label(objectName="wrong", wordWrap=True)
        row.addWidget(self.said, 2)
        self.hide()

    def _choose(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, "Lengths of the faces", "", "Tables (*.csv *.txt);;All files (*)")
        if name:
            self.take(Path(name))

    def take(self, path: Path) -> None:
        """Take the lengths of a table, or say what is wrong with it."""
        try:
            found = from_file(path, LARGEST, lengths_in)
        except BadFile as why:
            self.said.setText(str(why))
            return
        self.said.setText("")
        self.lengths.emit(found)


def lengths_in(raw: bytes) -> list[float]:
    """The lengths [m] of a table: the first number of each row, in mm; rows without one are passed over. Raises BadFile."""
    text = utf8(raw)
    found = []
    for row in csv.reader(io.StringIO(text), delimiter=recognised_delimiter(text)):
        for cell in row:
            try:
                found.append(plain_number(cell.strip()) * MILLIMETRE)
            except ValueError:
                continue
            break
    if len(found) < 2:
        raise BadFile("it holds fewer than two lengths; a row for each face is needed, its length in mm first.")
    return found[:MOST]
