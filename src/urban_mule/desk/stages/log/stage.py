"""The Log stage: the book, and a line to write more."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QLineEdit, QPushButton, QVBoxLayout

from urban_mule.core.sheet.verdict import Verdict
from urban_mule.desk.kit.painting import Label
from urban_mule.desk.kit.table import Table
from urban_mule.desk.stages.view import StageView
from urban_mule.store.file.project_file import ENTRY_KINDS, Entry


class LogStage(StageView):
    """What was done, and a line to write more."""

    _told: tuple[tuple[int, int, str], tuple[str, str]] = (0, 0, ""), ("", "")

    def build_fields(self, know: QVBoxLayout) -> None:
        self.know_heading.setText("Write it down")
        row = QHBoxLayout()
        self.kind = QComboBox(accessibleName="Kind of entry")
        self.kind.addItems(list(ENTRY_KINDS))
        self.kind.setCurrentText("note")
        self.line = QLineEdit(placeholderText="what was done, what it showed, what is next", accessibleName="Log entry")
        self.line.returnPressed.connect(self._write)
        button = QPushButton("Write")
        button.clicked.connect(self._write)
        row.addWidget(self.kind)
        row.addWidget(self.line, 1)
        row.addWidget(button)
        know.addLayout(row)
        self.book = Table("The book, newest entry first", ("day", "axis", "kind", "what"), 3)
        self.book.setMinimumHeight(150)
        self.book.setSortingEnabled(True)
        self.book.sortByColumn(0, Qt.SortOrder.DescendingOrder)
        know.addWidget(self.book, 1)
        self.whole = Label(wordWrap=True)
        self.whole.setAccessibleName("The chosen entry")
        know.addWidget(self.whole)
        selection = self.book.selectionModel()
        assert selection is not None
        selection.currentRowChanged.connect(lambda now, _before: self.whole.setText(str(now.siblingAtColumn(3).data() or "")))
        self._read: list[Entry] = []
        self.session.book_changed.connect(self._read_on)
        self._read_on()

    def _read_on(self) -> None:
        """Take over what was written since; the book is read anew only when it is another one."""
        entries = self.session.entries()
        if self._read is not entries:
            self.book.source.show_rows([])
        new = entries[len(self.book.source.rows):]
        self._read = entries
        self.book.source.add([((f"{e.time.day} {e.time:%b %Y}", e.time.isoformat()), e.axis, e.kind, e.text) for e in new])
        if self.isVisible():
            self.refresh()

    def _write(self) -> None:
        text = self.line.text().strip()
        if text:
            self.session.write(text, self.kind.currentText())
            self.line.clear()

    def words(self, deciding: Verdict | None) -> tuple[str, str]:
        book = self.session.entries()
        asked = (id(book), len(book), self.session.axis.name)
        if asked != self._told[0]:  # an edit that writes nothing into the book does not read it
            entries = [e for e in book if e.axis == self.session.axis.name]
            due = [e for e in entries if e.kind == "due"]
            said = f"{len(entries)} entries for {self.session.axis.name}; {f'{len(due)} due' if due else 'nothing is due'}."
            self._told = asked, (said, f"Due: {due[-1].text}" if due else "")
        return self._told[1]
