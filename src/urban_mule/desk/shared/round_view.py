"""A round: the plan, then one instruction at a time in big digits and one box for the number; saved after every number."""

from __future__ import annotations

from typing import Any
from uuid import uuid4

from PyQt6.QtCore import QEvent, QObject, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import (
    QComboBox,
    QGridLayout,
    QHBoxLayout,
    QLineEdit,
    QProgressBar,
    QPushButton,
    QStackedLayout,
    QVBoxLayout,
    QWidget,
)

from urban_mule.bench.sessions.kinds import PLAN_KINDS, columns_of, steps_of
from urban_mule.bench.sessions.rounds import PlanAxis, Round, Step, doubt
from urban_mule.core.readings.gauge import Gauge
from urban_mule.core.readings.kinds import reading_kinds
from urban_mule.core.sheet import units
from urban_mule.core.sheet.given import BadValue, givens
from urban_mule.desk.kit.painting import Label, tip
from urban_mule.desk.kit.theme import font
from urban_mule.desk.model.axes_state import AxisState
from urban_mule.desk.model.session import Session
from urban_mule.desk.shared.listening import ListeningRow
from urban_mule.desk.shared.round_picture import RoundPicture
from urban_mule.desk.shared.setup import Drawn
from urban_mule.store.book import conditions_of
from urban_mule.store.document.project import GaugeModel
from urban_mule.store.document.readings import READING_MODELS
from urban_mule.store.file.project_file import now

GAUGE = {one.name: one for one in givens(Gauge)}
NO_GAUGE = "a gauge of which nothing is kept"
MINUTE = 60.0


def plan_axis(state: AxisState) -> PlanAxis:
    """What a plan is made for, from the state of an axis."""
    travel = state.axis.travel
    return PlanAxis(None if travel is None else float(travel), state.axis.motion == "linear", state.solution.get("top_speed"))


class RoundView(QWidget):
    """Takes the place of a stage's picture and fields while a round is planned or under way.

    Signals: done(kind): a reading was made of it; left: it was paused, or given up; to_print(plan): its sheet is wanted.
    """

    done = pyqtSignal(str)
    left = pyqtSignal()
    to_print = pyqtSignal(object)

    def __init__(self, session: Session, kind: str, under_way: Round | None = None, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session, self.kind = session, kind
        self.plan_kind, self.begun = PLAN_KINDS[kind], session.state
        self.axis = plan_axis(self.begun)
        self.round: Round | None = None
        self.steps: tuple[Step, ...] = ()
        self._asked = self._from_device = ""
        self._pages = QStackedLayout(self)
        self._pages.addWidget(self._plan_page())
        self._pages.addWidget(self._round_page())
        if under_way is not None:
            self._go_on_with(under_way)

    # The plan

    def _plan_page(self) -> QWidget:
        page = QWidget()
        box = QVBoxLayout(page)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(8)
        box.addWidget(Label(f"The plan: {reading_kinds()[self.kind].words} on {self.begun.axis.name}", objectName="heading"))
        box.addWidget(Label(f"{self.plan_kind.where} It tells {self.plan_kind.tells}.", wordWrap=True))
        grid = QGridLayout()
        grid.setHorizontalSpacing(16)
        self.fields: dict[str, QLineEdit] = {}
        try:
            usual = self.plan_kind.settings(self.axis)
        except BadValue:
            usual = {}
        for row, given in enumerate(self.plan_kind.givens):
            line = QLineEdit(str(usual.get(given.name, "")), accessibleName=f"{given.label}: {given.doc}")
            line.textEdited.connect(lambda _text: self.look())
            tip(line, given.doc)
            self.fields[given.name] = line
            grid.addWidget(Label(given.label, objectName="label"), row, 0)
            grid.addWidget(line, row, 1)
            grid.addWidget(Label(given.unit or given.doc, objectName="label"), row, 2)
        grid.setColumnStretch(1, 3)
        grid.setColumnStretch(2, 2)
        box.addLayout(grid)
        box.addLayout(self._gauge_row())
        self.preview = Label(objectName="heading", wordWrap=True)
        self.fault = Label(objectName="wrong", wordWrap=True)
        box.addWidget(self.preview)
        box.addWidget(self.fault)
        row_ = QHBoxLayout()
        self.start = QPushButton("Begin the round", objectName="strong")
        self.start.clicked.connect(self.begin)
        row_.addWidget(self.start)
        for words, action in (("Print the plan…", self._print), ("Leave", self.left.emit)):
            button = QPushButton(words, objectName="plain")
            button.clicked.connect(action)
            row_.addWidget(button)
        row_.addStretch(1)
        box.addLayout(row_)
        box.addWidget(Drawn(self.plan_kind.setup), 1)
        self.look()
        return page

    def _gauge_row(self) -> QHBoxLayout:
        """Which gauge, and what is asked once of a new one."""
        row = QHBoxLayout()
        row.setSpacing(8)
        self.gauge = QComboBox(accessibleName="Gauge")
        self.gauge.addItem(NO_GAUGE, "")
        for gauge in self.session.project.gauges or ():
            self.gauge.addItem(gauge.name, gauge.name)
        self.gauge.addItem("another gauge…", None)
        self.gauge.setCurrentIndex(1 if self.session.project.gauges else 0)
        self.gauge.activated.connect(lambda _place: self.look())
        row.addWidget(Label("Gauge", objectName="label"))
        row.addWidget(self.gauge)
        self.new_gauge = QWidget()
        inner = QHBoxLayout(self.new_gauge)
        inner.setContentsMargins(0, 0, 0, 0)
        self.gauge_lines = {name: QLineEdit(placeholderText=hint, accessibleName=name) for name, hint in (
            ("name", "its name"), ("unit", f"reads in {self.reads}"), ("resolution", "shows 1 µm"),
            ("gauge_uncertainty", "sure to 2 µm"))}
        for line in self.gauge_lines.values():
            inner.addWidget(line)
        self.sign = QComboBox(accessibleName="Which way its number grows")
        for choice, words in (("plus", "grows to plus"), ("minus", "grows to minus")):
            self.sign.addItem(words, choice)
        inner.addWidget(self.sign)
        row.addWidget(self.new_gauge)
        row.addStretch(1)
        return row

    @property
    def reads(self) -> str:
        """The unit in which such numbers are usually read."""
        return self.plan_kind.reads[0 if self.axis.linear else 1]

    @property
    def si_unit(self) -> str:
        return self.plan_kind.unit.replace("[travel]", "m" if self.axis.linear else "rad")

    @property
    def settings(self) -> dict[str, Any]:
        """The plan as it is typed."""
        return {name: _whole(line.text()) if name == "repeats" else line.text().strip() for name, line in self.fields.items()}

    def look(self) -> None:
        """Say how many numbers the plan takes and how long, or what is wrong with it."""
        self.new_gauge.setVisible(self.gauge.currentData() is None)
        try:
            steps = steps_of(self.kind, self.axis, self.settings)
        except BadValue as why:
            self.fault.setText(f"{str(why)[:1].upper()}{str(why)[1:]}.")
            self.preview.setText("")
            self.start.setEnabled(False)
            return
        self.fault.setText("")
        self.preview.setText(summary(steps))
        self.start.setEnabled(True)

    def _print(self) -> None:
        if self.start.isEnabled():
            self.to_print.emit((self.kind, self.begun.axis.name, steps_of(self.kind, self.axis, self.settings), self.reads))

    def _kept_gauge(self) -> str:
        """The name of the gauge chosen; a new one is kept in the project. Raises BadValue."""
        if self.gauge.currentData() is not None:
            return str(self.gauge.currentData())
        typed = {name: line.text().strip() for name, line in self.gauge_lines.items()}
        values: dict[str, Any] = {"name": typed["name"], "unit": typed["unit"], "sign": self.sign.currentData()}
        if typed["unit"]:
            units.factor(typed["unit"], self.si_unit)
        for name in ("resolution", "gauge_uncertainty"):
            if typed[name]:
                values[name] = GAUGE[name].check(units.parse(typed[name], "m" if self.axis.linear else "rad", self.reads)[0])
        if not typed["name"]:
            raise BadValue("the gauge has no name; type one, or choose one that is kept")
        gauges = self.session.project.gauges or ()
        try:
            made = GaugeModel.model_validate({name: value for name, value in values.items() if value != ""})
        except ValueError:
            raise BadValue("the gauge cannot be taken so") from None
        self.session.edit(("gauges",), (*gauges, made), f"gauge {made.name}")
        return str(made.name)

    def begin(self) -> None:
        """Begin the round as planned."""
        try:
            gauge = self._kept_gauge()
        except BadValue as why:
            self.fault.setText(f"{str(why)[:1].upper()}{str(why)[1:]}.")
            return
        made = Round(uuid4().hex, self.kind, self.begun.axis.name, self.settings, gauge=gauge)
        self.session.save_round(made)
        self._go_on_with(made)

    # The round

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
        row.addWidget(Label("Enter takes it; Up goes one back; Esc pauses", objectName="label"))
        row.addStretch(1)
        box.addLayout(row)
        self.listening = ListeningRow(self.session)
        self.listening.heard.connect(self._sent)
        self.listening.shown.connect(self._stands)
        box.addWidget(self.listening)
        self.question = Label(objectName="question", wordWrap=True)
        self.following = Label(objectName="label", wordWrap=True)
        box.addWidget(self.question)
        box.addWidget(self.following)
        self.picture = RoundPicture()
        box.addWidget(self.picture, 1)
        row_ = QHBoxLayout()
        self.buttons = {words: QPushButton(words, objectName="plain") for words in (
            "One back", "Pause", "End here", "Give it up")}
        for button, action in zip(self.buttons.values(), (self.back, self.pause, self.finish, self.give_up), strict=True):
            button.clicked.connect(action)
            row_.addWidget(button)
        row_.addStretch(1)
        box.addLayout(row_)
        return page

    def _go_on_with(self, under_way: Round) -> None:
        """Go on where the round stands. A plan that no longer makes sense says so and stays."""
        self.round = under_way
        try:
            self.steps = steps_of(under_way.kind, self.axis, under_way.settings)
        except BadValue as why:
            self.fault.setText(f"The round that was begun cannot go on: {why}. Its numbers are kept.")
            return
        self._pages.setCurrentIndex(1)
        self._ask()

    @property
    def step(self) -> Step | None:
        """The number that is to come, or None when all are taken."""
        values = self.round.values if self.round is not None else {}
        return next((step for step in self.steps if step.place not in values), None)

    @property
    def chosen_gauge(self) -> Any:
        """The gauge of the round, as the project keeps it, or None."""
        name = self.round.gauge if self.round is not None else ""
        return next((gauge for gauge in self.session.project.gauges or () if gauge.name == name), None)

    @property
    def reading_unit(self) -> str:
        """The unit of what is typed: the gauge's where it says one that fits."""
        unit = "" if self.chosen_gauge is None else self.chosen_gauge.unit
        return unit if unit in units.DIMENSIONS.get(self.si_unit, ()) else self.reads

    def _ask(self) -> None:
        """Show the step that is to come; after the last one the reading is made."""
        assert self.round is not None
        step, values = self.step, self.round.values
        self.question.setText("")
        self._asked = ""
        factor = units.factor(self.reading_unit, self.si_unit)
        self.picture.show_round(self.steps, values, "" if step is None else step.place, factor, self.reading_unit)
        self.bar.setRange(0, len(self.steps))
        self.bar.setValue(len(values))
        if step is None:
            self.finish()
            return
        ahead = [one for one in self.steps if one.place not in values]
        self.count.setText(f"{len(values) + 1} of {len(self.steps)}; {minutes(sum(one.seconds for one in ahead))} left")
        self.instruction.setText(step.instruction)
        self.following.setText(f"Then: {ahead[1].instruction}" if len(ahead) > 1 else "It is the last one.")
        self.unit.setText(self.reading_unit)
        self.editor.clear()
        self.editor.setFocus()

    def take(self) -> None:
        """Take the number that is typed, or ask about it where it is odd; typed again it is taken as it is."""
        step, text = self.step, self.editor.text().strip()
        if step is None or self.round is None or not text:
            return
        try:
            value = units.parse(text, self.si_unit, self.reading_unit)[0]
        except BadValue as why:
            self.question.setText(f"{why}.")
            return
        gauge = self.chosen_gauge
        if self.plan_kind.deviations and gauge is not None and gauge.sign == "minus":
            value = -value
        resolution = 0.0 if gauge is None or gauge.resolution is None else float(gauge.resolution)
        odd = doubt(self.round.values, step.place, value, resolution)
        if odd and self._asked != text:
            self._asked = text
            self.question.setText(f"{text} {self.reading_unit} is {odd}. Enter once more keeps it; else type it anew.")
            self.editor.selectAll()
            return
        source = "device" if text == self._from_device else "typed"
        self.round.taken.append({"place": step.place, "value": value, "typed": text, "source": source,
                                 "time": now().isoformat(timespec="seconds"), **({"kept": odd} if odd else {})})
        self.session.save_round(self.round)
        self._ask()

    def _stands(self, number: str) -> None:
        """A number that the indicator sends by itself stands in the box until Enter; what a person types there stays."""
        if self.editor.text().strip() in ("", self._from_device):
            self._from_device = number
            self.editor.setText(number)

    def _sent(self, number: str) -> None:
        """A number for which somebody pressed the indicator's key: taken as Enter takes it."""
        typed = self.editor.text().strip()
        self._stands(number)
        if self.editor.text() == number:
            self.take()
        else:
            self.question.setText(f"The indicator sent {number} while {typed} stands in the box; take that first, or clear it.")

    def back(self) -> None:
        """One step back: the last number is given back to be typed anew."""
        if self.round is not None and self.round.taken:
            last = self.round.taken.pop()
            self.session.save_round(self.round)
            self._ask()
            self.editor.setText(str(last["typed"]))
            self.editor.selectAll()

    def pause(self) -> None:
        """Leave it for later; what was taken is kept."""
        self.left.emit()

    def give_up(self) -> None:
        """End it without a reading; the numbers stay in the file, but nothing goes on with them."""
        if self.round is not None:
            self.session.save_round(self.round, ended=True)
        self.left.emit()

    def finish(self) -> None:
        """Make a reading of what was taken whole."""
        assert self.round is not None
        try:
            data = columns_of(self.kind, self.axis, self.round.settings, self.round.values)
            reading = READING_MODELS[self.kind].model_validate({"kind": self.kind, **data, **self._told()})
        except (BadValue, ValueError) as why:
            self.question.setText(f"It cannot end here: {str(why).splitlines()[0]}.")
            return
        if self.session.add_reading(reading, self.begun):
            self.session.save_round(self.round, ended=True)
            self.done.emit(self.kind)

    def _told(self) -> dict[str, Any]:
        """What the reading says of itself: when, by which gauge, under which conditions."""
        assert self.round is not None
        gauge = self.chosen_gauge
        by_place = {str(one["place"]): str(one["source"]) for one in self.round.taken}
        most = max(sorted(set(by_place.values()), reverse=True), key=list(by_place.values()).count)
        others = {place: source for place, source in by_place.items() if source != most and "[" in place}
        told: dict[str, Any] = {"taken": str(self.round.taken[-1]["time"]), "source": most, "gauge": self.round.gauge,
                                "sources": others or None,
                                "conditions": conditions_of(self.begun.solution)}
        columns = {one.name for one in reading_kinds()[self.kind].columns}
        for name in ("gauge_uncertainty", "gauge_expansion"):
            if gauge is not None and name in columns and getattr(gauge, name) is not None:
                told[name] = getattr(gauge, name)
        if "temperature" in columns and self.session.project.ambient_temperature is not None:
            told["temperature"] = self.session.project.ambient_temperature
        return told

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress:
            if event.key() == Qt.Key.Key_Up:
                self.back()
                return True
            if event.key() == Qt.Key.Key_Escape:
                self.pause()
                return True
        return super().eventFilter(watched, event)


def summary(steps: tuple[Step, ...]) -> str:
    """How much a plan asks for."""
    return f"{len(steps)} {'number' if len(steps) == 1 else 'numbers'}, {minutes(sum(step.seconds for step in steps))}."


def minutes(seconds: float) -> str:
    """A time as people say it."""
    if seconds < 1.5 * MINUTE:
        return f"about {max(5, 5 * round(seconds / 5)):.0f} seconds"
    if seconds < 100 * MINUTE:
        return f"about {seconds / MINUTE:.0f} minutes"
    return f"about {seconds / MINUTE / 60:.1f} hours"


def _whole(text: str) -> Any:
    return int(text) if text.strip().isdigit() else text
