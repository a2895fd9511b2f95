"""What a round looks like while it is under way: the instruction, the box for the number, what listens, the ways out."""

from __future__ import annotations

from typing import Any

from PyQt6.QtWidgets import QHBoxLayout, QLineEdit, QProgressBar, QPushButton, QVBoxLayout, QWidget

from urban_mule.bench.sessions.rounds import PlanAxis, PlanKind
from urban_mule.desk.kit.painting import Label
from urban_mule.desk.kit.theme import font
from urban_mule.desk.model.scope import Scope
from urban_mule.desk.shared.listening import ListeningRow
from urban_mule.desk.shared.machine_row import MachineRow
from urban_mule.desk.shared.round_picture import RoundPicture
from urban_mule.store.state.axis_state import AxisState


class RoundPage(QWidget):
    """A round as far as it is looked at; what is done with what comes is done by who inherits it."""

    session: Scope
    plan_kind: PlanKind
    axis: PlanAxis
    begun: AxisState
    _asked: str

    def take(self) -> None:
        """Take the number that is typed."""
        raise NotImplementedError

    def back(self) -> None:
        """One number back."""
        raise NotImplementedError

    def pause(self) -> None:
        """Leave, to go on later."""
        raise NotImplementedError

    def finish(self, said: str = "") -> None:
        """End here, with what was taken."""
        raise NotImplementedError

    def ask_to_discard(self) -> None:
        """End here, with nothing."""
        raise NotImplementedError

    def _sent(self, number: str) -> None:
        raise NotImplementedError

    def _stands(self, number: str) -> None:
        raise NotImplementedError

    def _measured(self, found: Any, practice: bool) -> None:
        raise NotImplementedError

    def say_done(self) -> None:
        """A step that is done rather than read is done."""
        raise NotImplementedError

    def _done(self) -> None:
        self.say_done()

    def _small_move_seen(self) -> None:
        raise NotImplementedError

    def _small_move_wrong(self) -> None:
        raise NotImplementedError

    def _round_page(self) -> QWidget:
        page = QWidget()
        box = QVBoxLayout(page)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(4)
        self.count = Label(objectName="label")
        self.bar = QProgressBar(textVisible=False, accessibleName="Progress of the round")
        self.bar.setFixedHeight(8)
        self.instruction = Label(wordWrap=True)
        self.instruction.setFont(font(30, bold=True))
        box.addWidget(self.count)
        box.addWidget(self.bar)
        box.addWidget(self.instruction)
        self.caution = Label(self.plan_kind.caution_on(self.axis), objectName="caution", wordWrap=True)
        if not self.caution.text():
            self.caution.hide()  # shown before it has its place it would be a window for a moment, and take the keys
        box.addWidget(self.caution)
        box.addLayout(self._reading_row())
        box.addWidget(self._answer_row())
        box.addWidget(self._done_row())
        self.listening = ListeningRow(self.session)
        self.listening.heard.connect(self._sent)
        self.listening.shown.connect(self._stands)
        box.addWidget(self.listening)
        box.addWidget(self._machine_row())
        self.question = Label(objectName="question", wordWrap=True)
        self.known_to = Label(objectName="label", wordWrap=True)
        self.following = Label(objectName="label", wordWrap=True)
        box.addWidget(self.question)
        box.addWidget(self.known_to)
        box.addWidget(self.following)
        self.picture = RoundPicture()
        box.addWidget(self.picture, 1)
        row_ = QHBoxLayout()
        self.buttons = {words: QPushButton(words, objectName="plain") for words in (
            "Back one reading", "Pause", "Finish with what there is", "Discard the round…")}
        for button, action in zip(self.buttons.values(), (self.back, self.pause, self.finish, self.ask_to_discard), strict=True):
            button.clicked.connect(lambda _checked, action=action: action())
            row_.addWidget(button)
        row_.addStretch(1)
        box.addLayout(row_)
        return page

    def _reading_row(self) -> QHBoxLayout:
        """The one box for the number, in big digits."""
        row = QHBoxLayout()
        self.editor = QLineEdit(accessibleName="The reading")
        self.editor.setFont(font(30, bold=True))
        self.editor.setFixedWidth(260)
        self.editor.setStyleSheet("font-size: 30px; min-height: 44px;")
        self.editor.returnPressed.connect(self.take)
        self.editor.installEventFilter(self)
        self.unit = Label()
        self.unit.setFont(font(22))
        row.addWidget(self.editor)
        row.addWidget(self.unit)
        self.keys = Label("Enter takes it; Up shows the one before; Esc pauses", objectName="label")
        row.addWidget(self.keys)
        row.addStretch(1)
        return row

    def _answer_row(self) -> QWidget:
        """What was seen of the small move that comes before the first round of an axis."""
        self.answers = QWidget()
        row = QHBoxLayout(self.answers)
        row.setContentsMargins(0, 0, 0, 0)
        self.it_did, self.it_did_not = (QPushButton(words, autoDefault=False) for words in (
            "It went about so far, towards plus", "It did not: stop here"))
        self.it_did.setObjectName("strong")
        self.it_did.clicked.connect(self._small_move_seen)
        self.it_did_not.clicked.connect(self._small_move_wrong)
        for button in (self.it_did, self.it_did_not):
            row.addWidget(button)
        row.addStretch(1)
        self.answers.hide()
        return self.answers

    def _done_row(self) -> QWidget:
        """What a person says of a step that is done rather than read."""
        self.done_row = QWidget()
        row = QHBoxLayout(self.done_row)
        row.setContentsMargins(0, 0, 0, 0)
        self.is_done = QPushButton("Done: it stands there, set to zero", autoDefault=False, objectName="strong")
        self.is_done.clicked.connect(self._done)
        row.addWidget(self.is_done)
        row.addStretch(1)
        self.done_row.hide()
        return self.done_row

    def _machine_row(self) -> MachineRow:
        """What has a machine on a wire carry the step out."""
        self.machine = MachineRow(self.session, self.begun.axis, self.axis)
        self.machine.got.connect(self._measured)
        self.machine.joined.connect(lambda joined: self.listening.setHidden(joined or self.plan_kind.records))
        self.machine.doubtful = lambda: bool(self._asked)
        if self.plan_kind.key != "axes":  # no bench turns a spindle
            self.machine.hide()
        return self.machine
