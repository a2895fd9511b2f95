"""The Log stage: the book with its photographs, a line to write more, and one to find things again."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

from PyQt6.QtCore import QModelIndex, Qt
from PyQt6.QtGui import QDragEnterEvent, QDropEvent
from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QLineEdit, QPushButton, QVBoxLayout, QWidget

from urban_mule.core.sheet.given import BadValue
from urban_mule.core.sheet.units import parse
from urban_mule.desk.kit.painting import Label
from urban_mule.desk.kit.table import Table
from urban_mule.desk.model.booked import book, strike
from urban_mule.desk.model.scope import Whole
from urban_mule.desk.shared.photograph import Photograph
from urban_mule.desk.stages.view import StageView
from urban_mule.store.file.project_file import ENTRY_KINDS, Entry

PICTURES = (".jpg", ".jpeg", ".png")


class LogStage(StageView):
    """What was done, and a line to write more. Pictures are dropped on it."""

    session: Whole

    def build_fields(self, know: QVBoxLayout) -> None:
        self.setAcceptDrops(True)
        row = QHBoxLayout()
        self.kind = QComboBox(accessibleName="Kind of entry")
        self.kind.addItems(list(ENTRY_KINDS))
        self.kind.setCurrentText("note")
        self.line = QLineEdit(placeholderText="what was done, what it showed, what is next", accessibleName="Log entry")
        self.cost = QLineEdit(placeholderText="cost", accessibleName="What it cost")
        self.cost.setMaximumWidth(80)
        for edit in (self.line, self.cost):
            edit.returnPressed.connect(self._write)
        button = QPushButton("Write")
        button.clicked.connect(self._write)
        self.photograph = Photograph(self.session, "log")
        self.photograph.taken.connect(self._photographed)
        self.sought = QLineEdit(placeholderText="find", accessibleName="Find in the log", clearButtonEnabled=True)
        self.sought.setMaximumWidth(160)
        self.sought.textChanged.connect(self._find)
        for widget, share in ((self.kind, 0), (self.line, 1), (self.cost, 0), (button, 0), (self.photograph, 0), (self.sought, 0)):
            row.addWidget(widget, share)
        know.addLayout(row)
        self.book = Table("The book, newest entry first", ("day", "axis", "kind", "what"), 3)
        self.book.setMinimumHeight(96)
        self.book.setMaximumHeight(190)
        self.book.order.setFilterKeyColumn(-1)
        self.book.order.setFilterCaseSensitivity(Qt.CaseSensitivity.CaseInsensitive)
        self.book.setSortingEnabled(True)
        self.book.sortByColumn(0, Qt.SortOrder.DescendingOrder)
        know.addWidget(self.book, 100)  # before the room that is left over
        self.chosen_part = QWidget()
        self.chosen_part.setLayout(self._chosen_row())
        know.addWidget(self.chosen_part)
        selection = self.book.selectionModel()
        assert selection is not None
        selection.currentRowChanged.connect(self._row_chosen)  # by a lambda the stage would stay for ever
        self.leaves.turned.connect(self._beside)
        self._read: list[Entry] = []
        self._named: dict[str, str] = {}
        self._row = -1
        self.session.book_changed.connect(self._read_on)
        self._read_on()

    def _beside(self, word: str) -> None:
        """The book stands beneath its own leaf; the line to write into it, and the one to find things, beneath all."""
        self._find(self.sought.text())
        for part in (self.book, self.chosen_part):
            part.setVisible(word == "book")

    def _chosen_row(self) -> QHBoxLayout:
        """The chosen entry in full, with what strikes it out and its photograph."""
        chosen = QHBoxLayout()
        chosen.setContentsMargins(0, 0, 0, 0)
        self.whole = Label(wordWrap=True)
        self.whole.setAccessibleName("The chosen entry")
        self.shown = Photograph(self.session, "of the chosen entry")
        self.shown.hide()
        self.why = QLineEdit(accessibleName="Why the chosen entry is struck out", placeholderText="why it is wrong")
        self.why.returnPressed.connect(self._strike)
        self.out = QPushButton("Strike it out", objectName="plain", autoDefault=False)
        self.out.clicked.connect(self._strike)
        chosen.addWidget(self.whole, 1)
        for widget in (self.why, self.out):
            chosen.addWidget(widget)
            widget.hide()
        chosen.addWidget(self.shown)
        return chosen

    def _row_chosen(self, now: QModelIndex, _before: QModelIndex) -> None:
        self._row = self.book.order.mapToSource(now).row()
        for widget in (self.why, self.out):
            widget.setVisible(self._row >= 0)
        entries = self.session.entries()
        self._chosen(entries[self._row] if 0 <= self._row < len(entries) else None)

    def _strike(self) -> None:
        """Take the chosen entry out of the book; a note with the reason takes its place."""
        reason, entries = " ".join(self.why.text().split()), self.session.entries()
        if not reason:
            self.session.told.emit("Say why it is wrong: the entry goes, a note with it and the reason stays.")
            self.why.setFocus()
        elif 0 <= self._row < len(entries):
            self.why.clear()
            strike(self.session, entries[self._row], reason)

    def _chosen(self, entry: Entry | None) -> None:
        name = "" if entry is None else entry.photograph
        self.whole.setText("" if entry is None else replace(entry, photograph="").said)  # it stands beside it
        self.shown.setVisible(bool(name))
        if name:
            self.shown.show_photograph(name)

    def _find(self, text: str) -> None:
        """Show only what holds these words: in the book, and in the list of the leaf on top where it has one."""
        self.book.order.setFilterFixedString(text)
        finds = getattr(self.leaves.picture, "look_for", None)
        if finds is not None:
            finds(text)

    def _read_on(self) -> None:
        """Take over what was written since; the book is read anew only when it is another one."""
        entries, names = self.session.entries(), self.session.saving.names
        if self._read is not entries or self._named is not names:
            self.book.source.show_rows([])
        new = entries[len(self.book.source.rows):]
        self._read, self._named = entries, names
        self.book.source.add([((f"{e.time.day} {e.time:%b %Y}", e.time.isoformat()), names.get(e.subject, "–"), e.kind, e.said)
                              for e in new])
        if self.isVisible():
            self.refresh()

    def _write(self) -> None:
        text, cost = self.line.text().strip(), self.cost.text().strip()
        if not text:
            return
        try:
            paid = parse(cost, "", "")[0] if cost else None
        except BadValue as why:
            self.session.told.emit(f"Cost: {why}.")
            return
        kind = self.kind.currentText()
        tasks = {one.task: one.id for one in self.session.axis.maintenance or ()}
        book(self.session, text, kind, cost=paid, task=tasks.get(text, "") if kind == "maintained" else "")
        self.line.clear()
        self.cost.clear()

    def _photographed(self, name: str) -> None:
        """Write the photograph into the book, with the words that stand in the line."""
        said = self.line.text().strip() or "Photograph"
        book(self.session, said, self.kind.currentText(), photograph=name)
        self.line.clear()
        self.photograph.show_photograph("")

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        data = None if event is None else event.mimeData()
        if event is not None and data is not None and any(url.toLocalFile().lower().endswith(PICTURES) for url in data.urls()):
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent | None) -> None:
        data = None if event is None else event.mimeData()
        for url in [] if data is None else data.urls():
            if url.toLocalFile().lower().endswith(PICTURES):
                self.photograph.take(Path(url.toLocalFile()))
