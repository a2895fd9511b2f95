"""Revisions: any two side by side in words; all of one, or a single value, is restored, undoable."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QHBoxLayout, QListWidget, QListWidgetItem, QPushButton, QVBoxLayout, QWidget

from urban_mule.core.sheet.given import BadValue
from urban_mule.desk.kit.painting import Label
from urban_mule.desk.kit.picture import Picture
from urban_mule.desk.kit.ranked import Ranked, RankedRow
from urban_mule.desk.model.session import Session
from urban_mule.store.document.project import Project
from urban_mule.store.file.project_file import Revision
from urban_mule.store.history import Difference, differences_in_words
from urban_mule.store.text_files import BadFile

LISTED = 2000  # of the newest revisions that are listed


class RevisionsPicture(Picture):
    """On the left the revisions, newest first; on the right what the chosen one has otherwise than now."""

    needs = frozenset({"the revisions"})

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(session, parent)
        row, right = QHBoxLayout(self), QVBoxLayout()
        row.setContentsMargins(12, 8, 12, 8)
        row.setSpacing(14)
        self.listed = QListWidget(accessibleName="Revisions, newest first")
        self.listed.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.listed.currentRowChanged.connect(self._compare)
        self.said = Label(objectName="heading", wordWrap=True)
        self.changes = Ranked(("what was otherwise then", "then", "now"), (4, 2, 2))
        self.changes.pressed.connect(lambda name, _words: self.restore_value(name))
        self.all = QPushButton("Restore all of it", autoDefault=False)
        self.all.clicked.connect(self.restore_all)
        right.addWidget(self.said)
        right.addWidget(self.changes, 1)
        right.addWidget(self.all, alignment=Qt.AlignmentFlag.AlignLeft)
        row.addWidget(self.listed, 2)
        row.addLayout(right, 5)
        self.revisions: list[Revision] = []
        self.then: Project | None = None
        self.found: dict[str, Difference] = {}
        session.saved.connect(lambda _revision: self._anew())

    def redraw(self) -> None:
        try:
            self.revisions = self.session.file.revisions()[::-1][:LISTED]
        except BadFile as why:
            self.said.setText(str(why))
            return
        self.listed.blockSignals(True)
        self.listed.clear()
        for one in self.revisions:
            local = one.time.astimezone()
            self.listed.addItem(QListWidgetItem(f"{local.day} {local:%b %H:%M}  {one.label}"))
        self.listed.blockSignals(False)
        self.listed.setCurrentRow(0)

    def _compare(self, row: int) -> None:
        """Read the chosen revision in the background, and say what it has otherwise."""
        if not 0 <= row < len(self.revisions):
            return
        file, chosen = self.session.file, self.revisions[row]
        try:
            then = file.project(chosen.id)
        except BadFile as why:
            self.said.setText(str(why))
            return
        found = differences_in_words(then, self.session.project)
        self.then, self.found = then, {}
        rows = []
        for one in found:
            where, _, values = one.words.partition(": ")
            self.found[where] = one
            before, _, after = values.partition(" → ")
            rows.append(RankedRow(where, (before, after), ("Restore",)))
        local = chosen.time.astimezone()
        self.said.setText(f"{local.day} {local:%B %Y, %H:%M}, {chosen.label}: "
                          + (f"{len(found)} values were otherwise." if found else "as it is now."))
        self.changes.show_rows(rows)
        self.all.setEnabled(bool(found))

    def restore_value(self, where: str) -> None:
        """Take one value back, undoable."""
        one = self.found[where]
        try:
            self.session.edit(one.path, one.before, f"restored: {where}")
        except BadValue as why:
            self.session.told.emit(f"{why}.")

    def restore_all(self) -> None:
        """Take the whole of that revision, undoable; readings that came since stay."""
        if self.then is None:
            return
        row = self.listed.currentRow()
        label = self.revisions[row].label if 0 <= row < len(self.revisions) else ""
        self.session.replace(self.then, f"restored: {label}")
        self.session.write(f"Restored the project as it was: {label}.", "set")
