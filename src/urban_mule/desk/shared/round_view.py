"""A round: the plan, then one instruction at a time in big digits and one box for the number; saved after every number."""

from __future__ import annotations

from dataclasses import replace
from datetime import datetime
from typing import Any
from uuid import uuid4

from PyQt6.QtCore import QEvent, QObject, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import (
    QMessageBox,
    QStackedLayout,
    QWidget,
)

from urban_mule.bench.sessions.by_stand import SENSED, beside
from urban_mule.bench.sessions.by_two import other_of
from urban_mule.bench.sessions.kinds import (
    PLAN_KINDS,
    SMALL,
    expected_of,
    left_of,
    small_move,
    steps_of,
)
from urban_mule.bench.sessions.pace import left_in, pace
from urban_mule.bench.sessions.record import MOVING
from urban_mule.bench.sessions.rounds import PlanAxis, Round, Step, plan_of
from urban_mule.core.readings.gauge import Gauge
from urban_mule.core.sheet.given import BadValue, givens
from urban_mule.core.sheet.wording import counted
from urban_mule.desk.model.booked import give_up
from urban_mule.desk.model.scope import Scope
from urban_mule.desk.shared.plan_page import PlanPage, minutes
from urban_mule.desk.shared.round_page import RoundPage
from urban_mule.desk.shared.round_reading import pair_reading_of, reading_of
from urban_mule.desk.shared.round_said import closing_said, known_to
from urban_mule.desk.shared.round_typed import TypedIn
from urban_mule.store.document.faults import first_fault
from urban_mule.store.document.project import Project
from urban_mule.store.file.project_file import now
from urban_mule.store.state.axis_state import AxisState

GAUGE = {one.name: one for one in givens(Gauge)}
SEEN = "seen"  # what a round keeps of its small move


def plan_axis(state: AxisState, project: Project | None = None) -> PlanAxis:
    """What a plan is made for, from the state of an axis and the axes beside it."""
    axes: tuple[Any, ...] = () if project is None else project.axes
    others = tuple((one.name, None if one.travel is None else float(one.travel)) for one in axes
                   if one.motion == "linear" and one.name != state.axis.name)
    return replace(plan_of(state.axis, state.solution, state.system), others=others)


class RoundView(RoundPage):
    """Takes the place of a stage's picture and fields while a round is planned or under way.

    Signals: done(kind): a reading was made of it; left: it was paused, or given up; to_print(plan): its sheet is wanted;
    wanted(given): a field that the plan lacks is to be shown.
    """

    done = pyqtSignal(str)
    left = pyqtSignal()
    to_print = pyqtSignal(object)
    wanted = pyqtSignal(str)

    def __init__(self, session: Scope, kind: str, under_way: Round | None = None, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session, self.kind = session, kind
        self.plan_kind, self.begun = PLAN_KINDS[kind], session.state
        self.axis = plan_axis(self.begun, session.project)
        self.round: Round | None = None
        self.steps: tuple[Step, ...] = ()
        self._asked = self._from_device = self._device_source = ""
        self._records: dict[str, Any] = {}  # of this sitting: a round of records that is left begins anew
        self._small: Step | None = None
        self._again = 0  # how many steps back the number stands that is typed anew
        self._pages = QStackedLayout(self)
        self.plan = PlanPage(session, kind, self.axis, self.begun.axis.name)
        self.plan.begun.connect(self.begin)
        self.plan.left.connect(self.left)
        self.plan.to_print.connect(self.to_print)
        self.plan.wanted.connect(self.wanted)
        self._pages.addWidget(self.plan)
        self._pages.addWidget(self._round_page())
        if under_way is not None:
            self._go_on_with(under_way)

    def begin(self, settings: dict[str, Any], gauge: str) -> None:
        """Begin the round as planned, where its numbers can be kept."""
        if not self.session.may_write():
            return
        made = Round(uuid4().hex, self.kind, self.begun.id, settings, gauge=gauge, begun=_now())
        self.session.save_round(made)
        self._go_on_with(made)

    def _first_of_its_axis(self) -> bool:
        """Whether this round moves an axis of which nothing was measured yet: then a small move comes first, and is looked at.

        A practice machine has nothing to look at.
        """
        assert self.round is not None
        moves = self.plan_kind.moves or self.round.settings.get("by") in MOVING
        known = any(PLAN_KINDS[one.kind].moves for one in self.begun.axis.readings)
        return moves and not known and not self.round.taken and not self.session.project.practice and (
            self.round.settings.get(SMALL) != SEEN)

    def _small_move_seen(self) -> None:
        """It came out right: from here on the round goes its way."""
        assert self.round is not None
        self.round.settings[SMALL], self._small = SEEN, None
        self.session.save_round(self.round)
        self._ask()

    def _small_move_wrong(self) -> None:
        """It did not: nothing goes to the ends before it is known why."""
        if self.round is not None:
            self.session.save_round(self.round, ended=True)
        self.session.told.emit("The round was not begun: nothing goes to the ends before a small move comes out right. The wrong"
                               " way: Moves, directions. Too far or not far enough: Scale. Not at all: Moves, coils.")
        self.left.emit()

    def _go_on_with(self, under_way: Round) -> None:
        """Go on where the round stands. A plan that no longer makes sense says so and stays."""
        self.round = under_way
        if self.plan_kind.records:
            self.round.taken.clear()  # no record of a sitting that was left is kept
        self.axis = self.axis.typed_in(under_way.settings)
        try:
            self.steps = steps_of(under_way.kind, self.axis, under_way.settings)
        except BadValue as why:
            self.plan.fault.setText(f"The round that was begun cannot go on: {why}. Its numbers are kept.")
            return
        if self.plan_kind.pair:
            self.machine.second = other_of(self.axis, under_way.settings)[0]
        self._small = small_move(self.axis) if self._first_of_its_axis() else None
        self._pages.setCurrentIndex(1)
        self._ask()

    def take_focus(self) -> None:
        """The cursor to where the hand goes on: the box for the number, what the machine waits for, or the beginning of a plan."""
        boxes = (self.editor, self.is_done, self.it_did, self.machine.press) if self.round is not None else (self.plan.start,)
        next((box for box in boxes if box.isVisible() and box.isEnabled()), self).setFocus()

    @property
    def step(self) -> Step | None:
        """The number that is to come, one that is typed anew, or the small move before the first; None when all are taken."""
        if self._small is not None:
            return self._small
        if self._again and self.round is not None:
            place = self.round.taken[-self._again]["place"]
            return next((step for step in self.steps if step.place == place), None)
        return None if self._why_ended() else next(iter(self._left()), None)

    def _left(self) -> tuple[Step, ...]:
        """What is still to come, as far as that is known."""
        return () if self.round is None else left_of(self.kind, self.axis, self.round.settings, self.steps, self.round.values)

    def _why_ended(self) -> str:
        """Why the plan asks for no more although there is more of it, or nothing."""
        ends = self.plan_kind.ends
        return "" if ends is None or self.round is None else ends(self.axis, self.round.settings, self.round.values)

    @property
    def chosen_gauge(self) -> Any:
        """The gauge of the round, as the project keeps it, or None."""
        who = self.round.gauge if self.round is not None else ""
        return next((gauge for gauge in self.session.project.gauges or () if gauge.id == who), None)

    @property
    def typed(self) -> TypedIn:
        """What a number that is typed means."""
        assert self.round is not None
        return TypedIn(self.axis, self.round, self.steps, self.chosen_gauge)

    def _ask(self) -> None:
        """Show the step that is to come; after the last one the reading is made."""
        assert self.round is not None
        step, values = self.step, self.round.values
        self.question.setText("")
        self._asked = ""
        typed = self.typed
        drawn = tuple(one for one in self.steps if not beside(one.place))
        numbers = {place: value for place, value in values.items() if not beside(place)}
        self.picture.show_round(drawn, numbers, "" if step is None or beside(step.place) else step.place, typed.factor, typed.unit)
        led, left = self.plan_kind.led is not None, self._left()
        most = len(expected_of(self.kind, self.axis, self.round.settings)) if led else len(self.steps)
        self.bar.setRange(0, max(most, len(values) + len(left)))
        self.bar.setValue(len(values))
        if step is None:
            self.finish(self._why_ended())
            return
        ahead = [*([step] if self._small is not None or self._again else []),
                 *left]
        number = len(self.round.taken) - self._again + 1
        more = max(most - len(values) - len(left), 0) * step.seconds if led else 0.0
        by = pace(self.steps, self.round.taken, self.round.begun)
        to_go = f"; {minutes(more + left_in(ahead, by))} left"
        again = ", to be typed anew: what was taken stays until Enter; Down goes on"
        self.count.setText(f"{number} of {'about ' if led else ''}{max(most, number)}{again if self._again else to_go}")
        self.instruction.setText(step.instruction)
        self.following.setText(f"Then: {ahead[1].instruction}" if len(ahead) > 1 else "What comes then goes by what this one says."
                               if led else "It is the last one.")
        self.unit.setText(typed.counts_in)
        self.editor.setText(str(self.round.taken[-self._again]["typed"]) if self._again else "")
        self.editor.selectAll()
        asks_done = step.asks == "done"
        for widget in (self.editor, self.unit, self.keys):
            widget.setVisible(not self.plan_kind.records and self._small is None and not asks_done)
        self.done_row.setVisible(asks_done and self._small is None)
        self.known_to.setText(known_to(self.begun, self.axis, self.round, self.steps))
        self.answers.setVisible(self._small is not None)
        self.listening.setHidden(self.plan_kind.records or self._small is not None or asks_done
                                 or self.machine.machine is not None)
        self.machine.show_step(step, self._due_in(step))
        self.take_focus()

    def _due_in(self, step: Step) -> float:
        """Seconds from now until a number is due that is taken at a time, counted from the one before it."""
        wait = next((act[1] for act in step.does if act[0] == "wait"), 0.0)
        if self.round is None or not self.round.taken or not wait:
            return 0.0
        return float(wait - (now() - datetime.fromisoformat(str(self.round.taken[-1]["time"]))).total_seconds())

    def take(self) -> None:
        """Take the number that is typed, or ask about it where it is odd; typed again it is taken as it is."""
        step, text = self.step, self.editor.text().strip()
        if step is None or step is self._small or self.round is None or not text:
            return
        if self.plan_kind.records:
            self.question.setText("A record comes from a machine on the wire, or as CSV; no number is typed for it.")
            return
        if step.asks == "done":
            self.say_done()
            return
        typed = self.typed
        try:
            value = typed.read(step, text)
            odd = typed.odd(step.place, value, text)
        except BadValue as why:
            self.question.setText(f"{why}.")
            return
        if odd and self._asked != text:
            self._asked = text
            self.question.setText(f"{text} {typed.counts_in} is {odd}. Enter once more keeps it; else type it anew.")
            self.editor.selectAll()
            return
        self._take(step, value, text, odd)

    def say_done(self) -> None:
        """What had to be done is done: the stand is where it belongs."""
        step = self.step
        if step is not None and step.asks == "done":
            self._take(step, 1.0, "done", "")

    def _take(self, step: Step, value: float, text: str, odd: str) -> None:
        """Put a number into the round, and ask for the next."""
        assert self.round is not None
        source = self._device_source if text == self._from_device else "typed"
        made = {"place": step.place, "value": value, "typed": text, "source": source, "time": _now(),
                **({"kept": odd} if odd else {})}
        if self._again:
            former = self.round.taken[-self._again]
            self.round.taken[-self._again] = {**made, "time": former["time"], "was": [*former.get("was", ()), former["typed"]]}
            self._again -= 1
        else:
            self.round.taken.append(made)
        self.session.save_round(self.round)
        self._ask()

    def _stands(self, number: str) -> None:
        """A number that the indicator sends by itself stands in the box until Enter; what a person types there stays."""
        if self.editor.text().strip() in ("", self._from_device):
            self._from_device, self._device_source = number, "device"
            self.editor.setText(number)

    def _sent(self, number: str) -> None:
        """A number for which somebody pressed the indicator's key: taken as Enter takes it."""
        typed = self.editor.text().strip()
        self._stands(number)
        if self.editor.text() == number:
            self.take()
        else:
            self.question.setText(f"The indicator sent {number} while {typed} stands in the box; take that first, or clear it.")

    def _measured(self, found: Any, practice: bool) -> None:
        """What a machine on the wire gave for the step: a number, taken as Enter takes it, or a record, which ends the round."""
        source = "practice" if practice else "device"
        if self._small is not None:
            self.question.setText("Did it go about so far, towards plus? Look before you press.")
            return
        if isinstance(found, dict):
            assert self.round is not None and self.step is not None
            place = self.step.place
            self._records[place] = found
            self.round.taken.append({"place": place, "value": 0.0, "typed": "", "source": source, "time": _now()})
            if len(self._records) < len(self.steps):
                self._ask()
            else:
                self.finish()
            return
        step = self.step
        if step is not None and step.asks == "done":
            self.say_done()
            return
        typed, sensing = self.typed, step is not None and step.place.startswith(SENSED)
        self._from_device, self._device_source = f"{(1.0 if sensing else typed.sign) * found / typed.factor:.7g}", source
        self.editor.setText(self._from_device)
        self.take()

    def back(self) -> None:
        """One step back: a number that was taken stands there to be typed anew, and stays until it is."""
        if self.round is not None and self._small is None and self._again < len(self.round.taken) and not self.plan_kind.records:
            self._again += 1
            self._ask()

    def onward(self) -> None:
        """One step on again, towards the number that is to come."""
        if self._again:
            self._again -= 1
            self._ask()

    def pause(self) -> None:
        """Leave it for later; what was taken is kept."""
        self.left.emit()

    def ask_to_discard(self) -> None:
        """Ask before numbers go; a round without any goes at once."""
        if self.round is None or not self.round.taken:
            self.discard()
            return
        said = f"{counted(len(self.round.taken), 'number')} of this round will make no reading. Ctrl+Z brings the round back."
        asked = QMessageBox(QMessageBox.Icon.NoIcon, "Discard the round", said, parent=self)
        away = asked.addButton("Discard the round", QMessageBox.ButtonRole.AcceptRole)
        asked.addButton("Keep it", QMessageBox.ButtonRole.RejectRole)
        asked.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        asked.buttonClicked.connect(lambda button: self.discard() if button is away else None)
        asked.open()

    def discard(self) -> None:
        """End it without a reading; undoing it lets it go on."""
        if self.round is not None:
            give_up(self.session, self.round)
            self.session.noted.emit("The round is discarded. Ctrl+Z brings it back with all its numbers.")
        self.left.emit()

    def finish(self, said: str = "") -> None:
        """Make a reading of what was taken whole; said: why it ends before its plan does, if it does."""
        assert self.round is not None
        gauge, practice = self.chosen_gauge, bool(self.session.project.practice)
        try:
            if self.plan_kind.pair:
                self._finish_pair(pair_reading_of(self.axis, self.round, self.begun, gauge, practice))
                return
            reading = reading_of(self.axis, self.round, self._records, self.begun, gauge)
        except (BadValue, ValueError) as why:
            self.question.setText(f"It cannot end here: {first_fault(why)}.")
            return
        if self.session.add_reading(reading, self.begun):
            self.session.save_round(self.round, ended=True)
            said = " ".join(part for part in (said, closing_said(self.axis, self.round, self.steps)) if part)
            if said:
                self.session.told.emit(said)
            self.done.emit(self.kind)

    def _finish_pair(self, made: Any) -> None:
        """Put what was read of two axes into the project. Raises BadValue, ValueError."""
        assert self.round is not None
        self.session.edit(("readings",), (*(self.session.project.readings or ()), made), f"{self.kind} of two axes")
        words = self.plan_kind.words
        self.session.write(f"{words[:1].upper()}{words[1:]} taken: {' and '.join(made.axes)}.", "measured", self.begun.id)
        self.session.save_round(self.round, ended=True)
        self.done.emit(self.kind)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """F9, wherever the cursor stands in the round, is the press for the machine's step."""
        if event is not None and event.key() == Qt.Key.Key_F9 and self.machine.presses.isVisible():
            self.machine.press.click()
            return
        super().keyPressEvent(event)

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress:
            if event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down):
                (self.back if event.key() == Qt.Key.Key_Up else self.onward)()
                return True
            if event.key() == Qt.Key.Key_Escape:
                if self.machine.running:
                    self.machine.stop()
                else:
                    self.pause()
                return True
        return super().eventFilter(watched, event)


def _now() -> str:
    return now().isoformat(timespec="seconds")
