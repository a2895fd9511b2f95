"""The practice machine: a look at a short move, what may be put right, what is believed, and the debrief."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QCheckBox, QHBoxLayout, QPushButton, QScrollArea, QVBoxLayout, QWidget

from urban_mule.desk.frame.evidence_drawn import EvidenceDrawn
from urban_mule.desk.kit.dialog import Dialog
from urban_mule.desk.kit.painting import Label
from urban_mule.desk.model.booked import book
from urban_mule.desk.model.session import Session
from urban_mule.practice.debrief import Debrief, debrief
from urban_mule.practice.faults import NAMED
from urban_mule.practice.hiding import could_be
from urban_mule.practice.lessons import LESSONS
from urban_mule.practice.machine import look
from urban_mule.store.document.practice import HiddenFaults
from urban_mule.store.file.project_file import now
from urban_mule.store.results import Result, keep_result
from urban_mule.store.text_files import BadFile

EVIDENCE = "The evidence there was"
ASKED = "Put right what you believe is wrong, measure again, and mark what it was. Wrong settings may also be mended in the fields."


class PracticeWindow(Dialog):
    """Beside the window, so that the rounds go on in it."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session = session
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.setWindowTitle("The practice machine")
        self.resize(760, 640)
        hidden = self.hidden
        box = QVBoxLayout(self)
        box.setContentsMargins(20, 16, 20, 16)
        lesson = next((one for one in LESSONS if one.number == hidden.lesson), None)
        count = len(hidden.faults)
        said = lesson.sentence if lesson else f"Axis {hidden.axis} has {count} hidden fault{'s' if count > 1 else ''}."
        box.addWidget(Label(said, objectName="headline", wordWrap=True))
        many = f"{count} faults are" if count > 1 else "One fault is"
        box.addWidget(Label(f"{many} hidden on axis {hidden.axis}. {ASKED}", wordWrap=True))
        row = QHBoxLayout()
        self.looking = QPushButton("Look at a short move")
        self.looking.clicked.connect(self.look)
        self.looked = Label(wordWrap=True)
        row.addWidget(self.looking)
        row.addWidget(self.looked, 1)
        box.addLayout(row)
        self.inner = QWidget()
        self.rows = QVBoxLayout(self.inner)
        self.rows.setSpacing(4)
        area = QScrollArea(widgetResizable=True)
        area.setFrameShape(QScrollArea.Shape.NoFrame)
        area.setWidget(self.inner)
        box.addWidget(area, 1)
        self.beliefs: dict[str, QCheckBox] = {}
        self.repairs: dict[str, QPushButton] = {}
        self.end = QPushButton("Show what was hidden", objectName="strong")
        self.end.clicked.connect(self.tell)
        self.note = Label(objectName="label", wordWrap=True)
        below = QHBoxLayout()
        below.addWidget(self.note, 1)
        below.addWidget(self.end)
        box.addLayout(below)
        self.debrief: Debrief | None = None
        self.end.setEnabled(False)
        if hidden.debriefed:
            self.work()
        else:
            self._think(hidden)

    def _think(self, hidden: HiddenFaults) -> None:
        """Look in the background for what could be wrong on the axis."""
        axis, project = self._axis(), self.session.project
        if axis is None:
            self.note.setText(f"Axis {hidden.axis} is gone; undo brings it back.")
            return
        self.note.setText("Thinking of what could be wrong here…")
        self.session.works.run(("what could be wrong", id(self)), self, lambda _progress: could_be(project, axis),
                          self._offer, self.note.setText)

    @property
    def hidden(self) -> HiddenFaults:
        found = self.session.project.hidden
        assert found is not None
        return found

    def _axis(self) -> Any:
        return next((one for one in self.session.project.axes if one.name == self.hidden.axis), None)

    def _offer(self, could: tuple[str, ...]) -> None:
        """A line for everything that could be wrong here: believed, and put right."""
        names = {*could, *(one.fault for one in self.hidden.faults if one.fault in NAMED)}
        for name in sorted(names):
            row = QHBoxLayout()
            believed = self.beliefs[name] = QCheckBox(name)
            believed.setChecked(name in self.hidden.believed)
            believed.toggled.connect(self._believe)
            repair = self.repairs[name] = QPushButton(NAMED[name].repair)
            repair.clicked.connect(lambda _on, name=name: self.put_right(name))
            row.addWidget(believed, 2)
            row.addWidget(repair, 3)
            self.rows.addLayout(row)
        self.rows.addStretch(1)
        self._stand()

    def _stand(self) -> None:
        hidden = self.hidden
        for name, button in self.repairs.items():
            done = name in hidden.repaired
            button.setEnabled(not done and not hidden.debriefed)
            button.setText(f"{NAMED[name].repair}{': done' if done else ''}")
        for box in self.beliefs.values():
            box.setEnabled(not hidden.debriefed)
        self.end.setEnabled(not hidden.debriefed and any(box.isChecked() for box in self.beliefs.values()))
        if not hidden.debriefed:
            self.note.setText("" if self.end.isEnabled() else "Mark what you believe; then the truth is told.")

    def _keep(self, label: str, **changed: Any) -> None:
        self.session.edit(("hidden",), self.hidden.model_copy(update=changed), label)

    def _believe(self, _on: bool) -> None:
        self._keep("what is believed of the practice machine", believed=tuple(
            name for name, box in self.beliefs.items() if box.isChecked()))
        self._stand()

    def put_right(self, name: str) -> None:
        """Put something right, whether it was wrong or not."""
        self._keep(f"practice machine: {NAMED[name].repair}", repaired=(*self.hidden.repaired, name))
        book(self.session, f"{NAMED[name].repair}, on the practice machine.", "repaired", getattr(self._axis(), "id", None))
        self._stand()

    def look(self) -> None:
        """Say what a short move shows."""
        axis = self._axis()
        if axis is not None:
            self.looked.setText(look(self.session.project, axis))

    def tell(self) -> None:
        """End the practice: the truth, in the background, since every reading is walked for it."""
        if not self.session.may_write():
            return
        self._keep("practice machine: the truth is told", debriefed=True)
        self._stand()
        self.work(True)

    def work(self, counts: bool = False) -> None:
        """Walk every reading in the background, then show the debrief; counts: it goes into one's record."""
        project, file = self.session.project, self.session.file
        first = file.project(1)
        self.note.setText("Walking every reading on this machine and on a sound one…")
        self.session.works.run(("the debrief", id(self)), self, lambda progress: debrief(project, first, progress),
                               lambda found: self._told(found, counts), self.note.setText)

    def _told(self, found: Debrief, counts: bool) -> None:
        self.debrief = found
        self.note.setText("")
        self._clear()
        for heading, lines in said_of(found):
            self.rows.addWidget(Label(heading, objectName="heading"))
            if heading == EVIDENCE:
                self.rows.addWidget(EvidenceDrawn(found.evidence))
                continue
            for line in lines:
                self.rows.addWidget(Label(line, wordWrap=True))
        self.rows.addStretch(1)
        if counts:
            hidden = self.hidden
            try:
                keep_result(Result(now().isoformat(), hidden.axis, int(hidden.lesson), len(found.truth), len(found.found),
                                   len(found.wrong), len(found.needless), found.readings, found.way.readings))
            except BadFile as why:
                self.note.setText(f"Not added to your record: {why}")

    def _clear(self) -> None:
        for widget in (*self.beliefs.values(), *self.repairs.values()):
            widget.hide()
            widget.deleteLater()
        self.beliefs, self.repairs = {}, {}
        while self.rows.count():
            self.rows.takeAt(0)


def said_of(found: Debrief) -> Iterable[tuple[str, list[str]]]:
    """The debrief in words: headings with their lines."""
    yield "What was hidden", [_sentence(one) for one in found.truth]
    yield "The machine otherwise", [_sentence(one) for one in found.made]
    believed = [f"Found: {', '.join(found.found)}."] if found.found else []
    believed += [f"Missed: {', '.join(found.missed)}."] if found.missed else []
    believed += [f"Believed, and sound: {', '.join(found.wrong)}."] if found.wrong else []
    yield "What you believed", believed
    yield EVIDENCE, [
        _sentence(f"{one.reading}{' (taken)' if one.taken else ' (not taken)'}: {'; '.join(one.words)}") for one in found.evidence]
    if found.needless:
        yield "Changed without need", [_sentence(one) for one in found.needless]
    way = []
    for leg in found.way.legs:
        readings = ", then ".join(sort.name for sort in leg.readings)
        names = " and ".join(leg.sure)
        sure = f"; that alone makes certain: {names}" if names else ""
        way.append(_sentence(f"{readings}{sure}"))
    if len(way) > 1:
        way.insert(1, "Put that right, and go on:")
    if found.way.alike:
        others = " or ".join(" with ".join(names) for names in found.way.alike)
        way.append(f"No reading here tells this from {others}; they have to be tried in turn.")
    sets = "one set of readings" if found.way.readings == 1 else f"{found.way.readings} sets of readings"
    yield "The shortest way", [*way, f"You took {found.readings}; {sets} would have done."]


def _sentence(text: str) -> str:
    return f"{text[:1].upper()}{text[1:]}."
