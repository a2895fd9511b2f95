"""Practice with hidden faults: how many, on which axis, or which lesson; and one's own record."""

from __future__ import annotations

import secrets
from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from urban_mule.core.sheet.wording import counted
from urban_mule.demo import COURTYARD
from urban_mule.demo.kept import machine_project
from urban_mule.desk.kit.dialog import Dialog
from urban_mule.desk.kit.painting import Label
from urban_mule.desk.kit.ranked import Ranked, RankedRow
from urban_mule.desk.model.session import Session
from urban_mule.practice.hiding import lesson_project, with_hidden
from urban_mule.practice.lessons import LESSONS, Lesson
from urban_mule.store.document.project import Project
from urban_mule.store.file.project_file import ProjectFile
from urban_mule.store.places import free_project, practice_projects
from urban_mule.store.results import Result, own_results
from urban_mule.store.text_files import BadFile

WHAT = ("A machine is made up with faults that nobody tells. Measure it with the rounds, set and put right what you believe is"
        " wrong, then let the truth be told. Nothing of it reaches a real machine. Its project is kept in the folder “Urban Mule"
        " practice” of your documents.")
SEEDS = 2**31


class PracticeBegin(Dialog):
    """Choose what to practise; begun(path): a practice project was made there."""

    def __init__(self, session: Session, begun: Callable[[Path], object], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session, self.begun = session, begun
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.setWindowTitle("Practice with hidden faults")
        self.resize(820, 620)
        box = QVBoxLayout(self)
        box.setContentsMargins(20, 16, 20, 16)
        box.addWidget(Label(WHAT, wordWrap=True))
        row = QHBoxLayout()
        self.axis = QComboBox(accessibleName="Axis on which faults are hidden")
        self.axis.addItems([axis.name for axis in session.project.axes])
        self.axis.setCurrentIndex(session.index)
        self.count = QComboBox(accessibleName="How many faults")
        self.count.addItems(["1 fault", "2 faults", "3 faults"])
        draw = QPushButton("Draw on a copy of this machine", objectName="strong")
        draw.clicked.connect(self.draw)
        row.addWidget(Label("This machine", objectName="heading"))
        for widget in (self.axis, self.count, draw):
            row.addWidget(widget)
        row.addStretch(1)
        box.addLayout(row)
        self.said = Label(objectName="caution", wordWrap=True)
        self.said.hide()
        box.addWidget(self.said)
        self.lessons = Ranked(("lesson, on a demo machine", "axis", "so far"), (8, 1, 3))
        self.lessons.pressed.connect(lambda name, _words: self.take_lesson(name))
        box.addWidget(self.lessons, 1)
        self.record = Label(objectName="label", wordWrap=True)
        box.addWidget(self.record)
        self._show_record()

    def _show_record(self) -> None:
        try:
            results = own_results()
        except BadFile as why:
            results = ()
            self._say(str(why))
        best = {one.number: [r for r in results if r.lesson == one.number] for one in LESSONS}
        self.lessons.show_rows([RankedRow(one.sentence, (_where(one), _so_far(best[one.number])), ("Begin",)) for one in LESSONS])
        solved = sum(one.solved for one in results)
        taken, shortest = (sum(getattr(one, name) for one in results if one.solved) for name in ("readings", "shortest"))
        self.record.setText("No practice ended yet." if not results else f"Your record: {solved} of {len(results)} solved"
                            + (f", with {counted(taken, 'set')} of readings where {shortest} would have done." if solved else "."))

    def draw(self) -> None:
        """Hide faults on a copy of the project that is open."""
        name, count = self.axis.currentText(), self.count.currentIndex() + 1
        project = self.session.project
        bare = project.model_copy(update={"axes": tuple(one.model_copy(update={"readings": ()}) for one in project.axes)})
        self._make(f"{self.session.path.stem} practice", lambda: with_hidden(bare, name, count, secrets.randbelow(SEEDS)))

    def take_lesson(self, sentence: str) -> None:
        """Begin a lesson on its demo machine."""
        lesson = next(one for one in LESSONS if one.sentence == sentence)
        self._make(f"lesson {lesson.number}", lambda: lesson_project(lesson, machine_project(lesson.machine)))

    def _make(self, stem: str, project: Callable[[], Project]) -> None:
        """Begin at once: a practice is worth no question about files."""
        try:
            path = free_project(practice_projects(), stem)
        except BadFile as why:
            self._say(str(why))
            return
        self.make(path, project)

    def make(self, path: Path, project: Callable[[], Project]) -> None:
        """Make the practice project and open it."""
        def made(found: Project) -> None:
            try:
                ProjectFile.create(path, found).close()
            except BadFile as why:
                self._say(str(why))
                return
            self.close()
            self.begun(path)

        self.session.works.run(("making up a machine", id(self)), self, lambda _progress: project(), made, self._say)

    def _say(self, why: str) -> None:
        self.said.setText(f"{why[:1].upper()}{why[1:]}")
        self.said.show()


def _where(lesson: Lesson) -> str:
    """The axis of a lesson, and its machine where it is not the first one."""
    return lesson.axis if lesson.machine == COURTYARD else f"{lesson.axis}, {lesson.machine}"


def _so_far(results: list[Result]) -> str:
    """What came of a lesson so far."""
    if not results:
        return "not tried"
    solved = [one for one in results if one.solved]
    if not solved:
        return f"tried {len(results)} times" if len(results) > 1 else "tried once"
    best = min(solved, key=lambda one: (one.needless, one.readings))
    return f"solved with {best.readings} sets; {best.shortest} would do"
