"""Revisions: any two side by side in words, names for those that matter; all of one, or a single value, is restored, undoable."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QLineEdit, QListWidget, QListWidgetItem, QPushButton, QVBoxLayout, QWidget

from urban_mule.core.sheet.given import BadValue
from urban_mule.core.sheet.progress import Progress
from urban_mule.desk.kit.painting import Label
from urban_mule.desk.kit.picture import Picture
from urban_mule.desk.kit.ranked import Ranked, RankedRow
from urban_mule.desk.kit.theme import font
from urban_mule.desk.model.booked import book, one_step
from urban_mule.desk.model.scope import Whole
from urban_mule.desk.stages.log.revision_line import RevisionLine
from urban_mule.store.document.project import Project
from urban_mule.store.file.project_file import Entry, Revision
from urban_mule.store.history import Difference, differences_in_words
from urban_mule.store.text_files import BadFile

BESIDE = 300  # of the newest revisions, and those with a name, that another may be set beside
LISTED = 2000  # of the newest revisions that are listed


class RevisionsPicture(Picture):
    """On the left the revisions, newest first; on the right what the chosen one has otherwise than now, or than another."""

    session: Whole

    needs = frozenset({"the revisions"})

    def __init__(self, session: Whole, parent: QWidget | None = None) -> None:
        super().__init__(session, parent)
        outer, row, right = QVBoxLayout(self), QHBoxLayout(), QVBoxLayout()
        outer.setContentsMargins(0, 0, 0, 0)
        outer.setSpacing(6)
        row.setContentsMargins(12, 0, 12, 6)
        row.setSpacing(14)
        self.listed = QListWidget(accessibleName="Revisions, newest first")
        self.listed.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.listed.currentRowChanged.connect(self._compare)
        self._words = ""
        self.line = RevisionLine()
        self.line.chosen.connect(self.listed.setCurrentRow)
        self.changes = Ranked(("what differs", "then", "now"), (4, 2, 2))
        self.changes.pressed.connect(lambda name, _words: self.restore_value(name))
        self.all = QPushButton("Restore all of it", autoDefault=False)
        self.all.clicked.connect(self.restore_all)
        self.against = QComboBox(accessibleName="Revision to compare with")
        self.against.activated.connect(lambda _index: self._compare(self.listed.currentRow()))
        self.name = QLineEdit(placeholderText="a name for this revision", accessibleName="A name for the chosen revision")
        self.name.returnPressed.connect(self.give_name)
        beside = QHBoxLayout()
        beside.addWidget(Label("beside", objectName="label"))
        beside.addWidget(self.against, 1)
        right.addLayout(beside)
        right.addWidget(self.changes, 1)
        lower = QHBoxLayout()
        lower.addWidget(self.all)
        lower.addWidget(self.name, 1)
        right.addLayout(lower)
        row.addWidget(self.listed, 2)
        row.addLayout(right, 5)
        outer.addWidget(self.line, 2)
        outer.addLayout(row, 5)
        self.revisions: list[Revision] = []
        self.then: Project | None = None
        self.found: dict[str, Difference] = {}
        self._sought = ""
        self._book: list[Entry] = []
        self._seen, self._names = 0, dict[int, str]()
        session.saved.connect(self._saved)

    def redraw(self) -> None:
        try:
            self.revisions = self.session.saving.file.newest_revisions(LISTED)
        except BadFile as why:
            self._tell(str(why))
            return
        names = self._names_now()
        self.listed.blockSignals(True)
        self.listed.clear()
        self.against.clear()
        self.against.addItem("what holds now", None)
        for place, one in enumerate(self.revisions):
            words = self._words_of(one, names.get(one.id, ""))
            item = QListWidgetItem(words)
            if one.id in names:
                item.setFont(font(12, bold=True))
            self.listed.addItem(item)
            if place < BESIDE or one.id in names:
                self.against.addItem(words, one.id)
        self.line.show_revisions([self._words_of(one, names.get(one.id, "")) for one in self.revisions],
                                 frozenset(place for place, one in enumerate(self.revisions) if one.id in names))
        self.listed.blockSignals(False)
        self.look_for(self._sought)
        self.listed.setCurrentRow(0)

    def _saved(self, _revision: Revision) -> None:
        self._anew()

    def _names_now(self) -> dict[int, str]:
        """The names of revisions, by the book; lines that were looked at are not looked at again."""
        book = self.session.entries()
        if book is not self._book:
            self._book, self._seen, self._names = book, 0, {}
        self._names |= {entry.revision: entry.text for entry in book[self._seen:] if entry.revision is not None}
        self._seen = len(book)
        return self._names

    @staticmethod
    def _words_of(one: Revision, name: str) -> str:
        local = one.time.astimezone()
        return f"{local.day} {local:%b %H:%M}  {f'“{name}”  ' if name else ''}{one.label}"

    def look_for(self, text: str) -> None:
        """List only the revisions that hold these words."""
        self._sought = text
        for row in range(self.listed.count()):
            item = self.listed.item(row)
            if item is not None:
                item.setHidden(text.lower() not in item.text().lower())

    def give_name(self) -> None:
        """Call the chosen revision by the name that is typed; it stands in the book too."""
        row, name = self.listed.currentRow(), " ".join(self.name.text().replace("”", '"').split())[:80]
        if name and 0 <= row < len(self.revisions):
            self.name.clear()
            book(self.session, name, revision=self.revisions[row].id)
            self._anew()

    def _compare(self, row: int) -> None:
        """Read the chosen revision beside the window, and what it has otherwise."""
        self.then, self.found = None, {}
        self.all.setEnabled(False)
        self.line.choose(row)
        if not 0 <= row < len(self.revisions):
            return
        file, chosen, now_ = self.session.saving.file, self.revisions[row], self.session.project
        other: int | None = self.against.currentData()

        def compared(_progress: Progress) -> tuple[Project, list[Difference]]:
            then = file.project(chosen.id)
            return then, differences_in_words(then, now_ if other is None else file.project(other))

        self.session.works.run(("revisions", id(self)), self, compared, lambda found: self._show(chosen, other, *found),
                               self._tell)

    def _show(self, chosen: Revision, other: int | None, then: Project, found: list[Difference]) -> None:
        self.then = then
        rows = []
        for one in found:
            where, _, values = one.words.partition(": ")
            self.found[where] = one
            before, _, after = values.partition(" → ")
            rows.append(RankedRow(where, (before, after), ("Restore",) if other is None else ()))
        local = chosen.time.astimezone()
        many = f"{len(found)} {'value was' if len(found) == 1 else 'values were'} otherwise."
        self._tell(f"{local.day} {local:%B %Y, %H:%M}, {chosen.label}: "
                   + (many if found else "as it is now." if other is None else "the same as the other."))
        self.changes.show_rows(rows)
        self.all.setEnabled(bool(found) or other is not None)

    def says(self) -> tuple[str, str] | None:
        """What the chosen revision has otherwise."""
        return self._words, ""

    def _tell(self, words: str) -> None:
        self._words = words
        self.said_anew.emit()

    def restore_value(self, where: str) -> None:
        """Take one value back, undoable."""
        one = self.found.get(where)
        if one is None:  # of the revision before, while another one is read
            return
        try:
            with one_step(self.session, f"restored: {where}"):
                self.session.edit(one.path, one.before, f"restored: {where}")
                book(self.session, f"Restored one value: {one.words.split(' → ')[0]}.", "set")
        except BadValue as why:
            self.session.told.emit(f"{why}.")

    def restore_all(self) -> None:
        """Take the whole of that revision, undoable; what was measured since stays with the axes that are there in both."""
        if self.then is None:
            return
        measured = {(axis.name, axis.motion): axis.readings for axis in self.session.project.axes}
        axes = tuple(axis.model_copy(update={"readings": measured.get((axis.name, axis.motion), axis.readings)})
                     for axis in self.then.axes)
        row = self.listed.currentRow()
        label = self.revisions[row].label if 0 <= row < len(self.revisions) else ""
        with one_step(self.session, f"restored: {label}"):
            self.session.replace(self.then.model_copy(update={"axes": axes}), f"restored: {label}")
            book(self.session, f"Restored the project as it was: {label}.", "set")
