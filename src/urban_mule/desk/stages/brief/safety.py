"""Safety: what is asked of stop, earth, noise and mains; the user's answers stand here, and nothing of it is a certificate."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QComboBox, QGridLayout, QHBoxLayout, QLineEdit, QListWidget, QScrollArea, QVBoxLayout, QWidget

from urban_mule.core.brief.safety import ANSWERS, QUESTIONS, TOPICS, Question, late_by
from urban_mule.core.sheet.units import show
from urban_mule.desk.kit.painting import Label
from urban_mule.desk.kit.picture import Picture
from urban_mule.desk.model.booked import book, one_step
from urban_mule.desk.model.scope import Whole
from urban_mule.store.deciding import open_questions
from urban_mule.store.document.brief import SafetyAnswer
from urban_mule.store.file.project_file import now


class SafetyPicture(Picture):
    """Topics on the left; on the right their questions, each with its caution, an answer and a note."""

    session: Whole

    def __init__(self, session: Whole, parent: QWidget | None = None) -> None:
        super().__init__(session, parent)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(12, 6, 12, 4)
        row, right = QHBoxLayout(), QVBoxLayout()
        row.setSpacing(16)
        self.topics = QListWidget(accessibleName="What is asked about")
        self.topics.setFixedWidth(180)
        self.topics.addItems([topic.name for topic in TOPICS])
        self.topics.currentRowChanged.connect(lambda _row: self._lay_out())
        self.schools, self.late = Label(wordWrap=True), Label(wordWrap=True, objectName="label")
        self.area = QScrollArea(widgetResizable=True)
        self.area.setFrameShape(QScrollArea.Shape.NoFrame)
        self.area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.answers: dict[str, QComboBox] = {}
        self.notes: dict[str, QLineEdit] = {}
        for widget, share in ((self.schools, 0), (self.area, 1), (self.late, 0)):
            right.addWidget(widget, share)
        row.addWidget(self.topics)
        row.addLayout(right, 1)
        outer.addLayout(row, 1)

    def _held(self) -> dict[str, SafetyAnswer]:
        return {one.question: one for one in self.session.project.safety or ()}

    def says(self) -> tuple[str, str] | None:
        """How many questions are open."""
        waits = len(open_questions(self.session.project.safety or ()))
        said = f"{waits} of {len(QUESTIONS)} questions of safety are open." if waits else "Every question is answered."
        return said, "The answers are yours. They are no certificate."

    def redraw(self) -> None:
        left = set(open_questions(self.session.project.safety or ()))
        for place, topic in enumerate(TOPICS):
            item = self.topics.item(place)
            waits = sum(1 for question in topic.questions if question.name in left)
            if item is not None:
                item.setText(f"{topic.name}: {f'{waits} open' if waits else 'answered'}")
        if self.topics.currentRow() < 0:
            self.topics.setCurrentRow(0)
        self._fill()
        self.said_anew.emit()

    def _lay_out(self) -> None:
        """The questions of the chosen topic."""
        topic = TOPICS[max(0, self.topics.currentRow())]
        inner, self.answers, self.notes = QWidget(), {}, {}
        grid = QGridLayout(inner)
        grid.setContentsMargins(0, 4, 8, 4)
        grid.setVerticalSpacing(3)
        grid.setColumnStretch(0, 1)
        for place, question in enumerate(topic.questions):
            self._ask(grid, 2 * place, question)
        grid.setRowStretch(2 * len(topic.questions), 1)
        self.schools.setText(topic.schools)
        self.area.setWidget(inner)
        self._fill()

    def _ask(self, grid: QGridLayout, row: int, question: Question) -> None:
        choice = self.answers[question.name] = QComboBox(accessibleName=question.asked)
        choice.addItem("not answered", "")
        for answer in ANSWERS:
            choice.addItem(answer, answer)
        choice.activated.connect(lambda _index, name=question.name: self.answer(name))
        note = self.notes[question.name] = QLineEdit(accessibleName=f"Note: {question.asked}", placeholderText="how, where")
        note.setMaximumWidth(220)
        note.editingFinished.connect(lambda name=question.name: self.note(name))
        grid.addWidget(Label(question.asked, wordWrap=True), row, 0)
        grid.addWidget(choice, row, 1)
        grid.addWidget(note, row, 2)
        grid.addWidget(Label(question.caution, objectName="label", wordWrap=True), row + 1, 0, 1, 3)

    def _fill(self) -> None:
        held = self._held()
        for name, choice in self.answers.items():
            one = held.get(name)
            choice.setCurrentIndex(max(0, choice.findData("" if one is None else one.answer)))
            if not self.notes[name].hasFocus():
                self.notes[name].setText("" if one is None else one.note)
        self.late.setText(self._lateness() if TOPICS[max(0, self.topics.currentRow())].name == "noise" else "")
        self.late.setVisible(bool(self.late.text()))

    def _lateness(self) -> str:
        """The way that each axis runs on while its input waits, against the room behind the switch."""
        debounce = getattr(self.session.project, "debounce_time", None)
        if debounce is None:
            return "Give the time that the inputs wait below: it says how far each axis runs on while they do."
        said = []
        for axis in self.session.project.axes:
            get, sheet = self.session.solution_of(axis).get, self.session.solution_of(axis).sheet
            speed, room = get("homing_speed") or get("top_speed"), get("switch_overtravel")
            if speed is None:
                continue
            way = late_by(float(speed), debounce)
            shown = show(way, sheet.unit("switch_overtravel"), self.session.system, 2)
            beyond = "" if room is None else ", more than the room behind its switch" if way > room else ", within its room"
            said.append(f"{axis.name} {shown}{beyond}")
        return f"While an input waits its time an axis runs on: {'; '.join(said)}." if said else ""

    def answer(self, name: str) -> None:
        """Keep the answer that was chosen; the empty one takes it back."""
        self._keep(name, {"answer": self.answers[name].currentData()})

    def note(self, name: str) -> None:
        """Keep the note, once there is an answer that it belongs to."""
        held, text = self._held().get(name), self.notes[name].text().strip()
        if held is not None and held.note != text:
            self._keep(name, {"answer": held.answer, "note": text})

    def _keep(self, name: str, said: dict[str, Any]) -> None:
        before = self._held().get(name)
        others = tuple(one for one in self.session.project.safety or () if one.question != name)
        if not said["answer"]:
            self.session.edit(("safety",), others or None, f"safety, no answer any more: {name}")
            return
        note = said.get("note", "" if before is None else before.note)
        made = SafetyAnswer.model_validate({"question": name, "answer": said["answer"], "note": note, "taken": now().isoformat()})
        with one_step(self.session, f"safety: {name}"):
            self.session.edit(("safety",), (*others, made), f"safety: {name}, {said['answer']}")
            book(self.session, f"Asked of safety, {name}: {said['answer']}{f'; {note}' if note else ''}.")
