"""The plan of a round before it begins: its settings, its gauge, how many numbers it takes and how long."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QComboBox, QGridLayout, QHBoxLayout, QLineEdit, QPushButton, QVBoxLayout, QWidget

from urban_mule.bench.sessions.kinds import PLAN_KINDS, expected_of, givens_of, steps_of, words_of
from urban_mule.bench.sessions.rounds import FREE_TRAVEL, PlanAxis, Step, on_its_travel
from urban_mule.core.readings.gauge import Gauge
from urban_mule.core.sheet import units
from urban_mule.core.sheet.given import BadValue, Given, givens
from urban_mule.desk.kit.painting import Label, tip
from urban_mule.desk.model.scope import Scope
from urban_mule.desk.shared.setup import Drawn
from urban_mule.store.document.project import GaugeModel

GAUGE = {one.name: one for one in givens(Gauge)}
NO_GAUGE = "no gauge chosen"
MINUTE = 60.0


class PlanPage(QWidget):
    """Signals: begun(settings, gauge): the round is to begin; left: it is not; to_print(plan): its sheet is wanted;
    wanted(given): a field that it lacks is to be shown.
    """

    begun = pyqtSignal(dict, str)
    left = pyqtSignal()
    to_print = pyqtSignal(object)
    wanted = pyqtSignal(str)

    def __init__(self, session: Scope, kind: str, axis: PlanAxis, name: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session, self.kind, self.axis, self.name, self.plan_kind = session, kind, axis, name, PLAN_KINDS[kind]
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(8)
        box.addWidget(Label(f"The plan: {words_of(kind)} on {name}", objectName="heading"))
        box.addWidget(Label(f"{self.plan_kind.where} It tells {self.plan_kind.tells}.", wordWrap=True))
        self.fields: dict[str, QLineEdit | QComboBox] = {}
        box.addLayout(self._settings_grid())
        row_of_gauge = QWidget()
        row_of_gauge.setLayout(self._gauge_row())
        box.addWidget(row_of_gauge)
        if self.plan_kind.key != "axes":  # a table of commands names none
            row_of_gauge.hide()
        self.preview = Label(objectName="heading", wordWrap=True)
        self.fault = Label(objectName="wrong", wordWrap=True)
        box.addWidget(self.preview)
        box.addWidget(self.fault)
        lacking, words = self.plan_kind.lacks
        self.lacks = QPushButton(words, objectName="plain")
        self.lacks.clicked.connect(lambda: self.wanted.emit(lacking))
        box.addWidget(self.lacks, 0, Qt.AlignmentFlag.AlignLeft)
        if not self.plan_kind.lacks_on(axis):
            self.lacks.hide()
        caution = self.plan_kind.caution_on(axis)
        if caution:
            box.addWidget(Label(caution, objectName="caution", wordWrap=True))
        box.addLayout(self._buttons())
        if self.plan_kind.setup:
            box.addWidget(Drawn(self.plan_kind.setup), 1)
        else:
            box.addStretch(1)
        self._usual = {name: line.text() for name, line in self.fields.items() if isinstance(line, QLineEdit)}
        self.look()

    def _settings_grid(self) -> QGridLayout:
        """A line for each setting of the plan, filled with what is usual for the axis."""
        grid = QGridLayout()
        grid.setHorizontalSpacing(16)
        try:
            usual = self.plan_kind.settings(self.axis)
        except BadValue:
            usual = {}
        for row, given in enumerate(givens_of(self.kind, self.axis)):
            line = self.fields[given.name] = self._setting(given, str(usual.get(given.name, "")))
            line.setAccessibleName(f"{given.label}: {given.doc}")
            tip(line, given.doc)
            grid.addWidget(Label(given.label, objectName="label"), row, 0)
            grid.addWidget(line, row, 1)
            grid.addWidget(Label(given.unit or given.doc, objectName="label"), row, 2)
        grid.setColumnStretch(1, 3)
        grid.setColumnStretch(2, 2)
        return grid

    def _setting(self, given: Given, usual: str) -> QLineEdit | QComboBox:
        """What is typed, or chosen where there are only a few answers."""
        if given.choices:
            box = QComboBox()
            box.addItems([str(one) for one in given.choices])
            box.setCurrentText(usual)
            box.activated.connect(lambda _place: self.look())
            return box
        line = QLineEdit(usual)
        line.textEdited.connect(lambda _text: self._typed(given.name))
        return line

    def _buttons(self) -> QHBoxLayout:
        row = QHBoxLayout()
        self.start = QPushButton("Begin the round", objectName="strong")
        self.start.clicked.connect(self.begin)
        row.addWidget(self.start)
        for words, action in (("Print the plan…", self._print), ("Close", self.left.emit)):
            button = QPushButton(words, objectName="plain")
            button.clicked.connect(action)
            row.addWidget(button)
        row.addStretch(1)
        return row

    def _gauge_row(self) -> QHBoxLayout:
        """Which gauge, and what is asked once of a new one."""
        row = QHBoxLayout()
        row.setSpacing(8)
        self.gauge = QComboBox(accessibleName="Gauge")
        self.gauge.addItem(NO_GAUGE, "")
        for gauge in self.session.project.gauges or ():
            self.gauge.addItem(gauge.name, gauge.id)
        self.gauge.addItem("another gauge…", None)
        self.gauge.setCurrentIndex(1 if self.session.project.gauges else 0)
        self.gauge.activated.connect(lambda _place: self.look())
        row.addWidget(Label("Gauge", objectName="label"))
        row.addWidget(self.gauge)
        self.new_gauge = QWidget()
        inner = QHBoxLayout(self.new_gauge)
        inner.setContentsMargins(0, 0, 0, 0)
        self.gauge_lines = {name: QLineEdit(placeholderText=hint, accessibleName=f"{what} of the gauge") for name, what, hint in (
            ("name", "Name", "its name"), ("unit", "Unit", f"reads in {self.plan_kind.usual_unit(self.axis)}"),
            ("resolution", "Resolution", "shows 1 µm"), ("gauge_uncertainty", "Uncertainty", "sure to 2 µm"),
            ("gauge_hysteresis", "Hysteresis", "± 1 µm by side"))}
        for line in self.gauge_lines.values():
            inner.addWidget(line)
        self.sign = QComboBox(accessibleName="Which way its number grows")
        for choice, words in (("plus", "grows to plus"), ("minus", "grows to minus")):
            self.sign.addItem(words, choice)
        inner.addWidget(self.sign)
        row.addWidget(self.new_gauge)
        row.addStretch(1)
        return row

    def _typed(self, name: str) -> None:
        """Look at the plan anew; once it is said how far an axis may go, what is still empty takes its usual value."""
        if name == FREE_TRAVEL:
            try:
                usual = self.plan_kind.settings(on_its_travel(self.axis, self.settings))
            except BadValue:
                usual = {}
            for other, line in self.fields.items():
                if other in usual and isinstance(line, QLineEdit) and line.text().strip() in ("", self._usual.get(other)):
                    line.setText(str(usual[other]))
            self._usual = {other: str(value) for other, value in usual.items()}
        self.look()

    @property
    def settings(self) -> dict[str, Any]:
        """The plan as it is typed."""
        texts = {name: line.text().strip() if isinstance(line, QLineEdit) else line.currentText()
                 for name, line in self.fields.items()}
        typed = {name: _whole(text) if name == "repeats" else text for name, text in texts.items()}
        return typed | self.axis.said_in

    def look(self) -> None:
        """Say how many numbers the plan takes and how long, or what is wrong with it."""
        self.new_gauge.setVisible(self.gauge.currentData() is None)
        try:
            steps = expected_of(self.kind, self.axis, self.settings)
        except BadValue as why:
            self.fault.setText(f"{str(why)[:1].upper()}{str(why)[1:]}.")
            self.preview.setText("")
            self.start.setEnabled(False)
            return
        self.fault.setText("")
        self.preview.setText(summary(steps, self.plan_kind.records))
        self.start.setEnabled(True)

    def _print(self) -> None:
        if self.start.isEnabled():
            steps = steps_of(self.kind, self.axis, self.settings)
            self.to_print.emit((self.kind, self.name, steps, self.plan_kind.usual_unit(self.axis),
                                self.plan_kind.caution_on(self.axis)))

    def _kept_gauge(self) -> str:
        """Who the gauge chosen is; a new one is kept in the project. Raises BadValue."""
        if self.gauge.currentData() is not None:
            return str(self.gauge.currentData())
        typed = {name: line.text().strip() for name, line in self.gauge_lines.items()}
        values: dict[str, Any] = {"name": typed["name"], "unit": typed["unit"], "sign": self.sign.currentData()}
        if typed["unit"]:
            units.factor(typed["unit"], self.plan_kind.si_unit(self.axis))
        for name in ("resolution", "gauge_uncertainty", "gauge_hysteresis"):
            if typed[name]:
                value = units.parse(typed[name], "m" if self.axis.linear else "rad", self.plan_kind.usual_unit(self.axis))[0]
                values[name] = GAUGE[name].check(value)
        if not typed["name"]:
            raise BadValue("the gauge has no name; type one, or choose one that is kept")
        gauges = self.session.project.gauges or ()
        try:
            made = GaugeModel.model_validate({name: value for name, value in values.items() if value != ""})
        except ValueError:
            raise BadValue("the gauge cannot be taken so") from None
        self.session.edit(("gauges",), (*gauges, made), f"gauge {made.name}")
        return str(made.id)

    def begin(self) -> None:
        """Begin the round as planned."""
        try:
            gauge = self._kept_gauge()
        except BadValue as why:
            self.fault.setText(f"{str(why)[:1].upper()}{str(why)[1:]}.")
            return
        self.begun.emit(self.settings, gauge)


def summary(steps: tuple[Step, ...], records: bool = False) -> str:
    """How much a plan asks for; records: it takes one record of many samples."""
    if records:
        return f"One record of thousands of samples, {minutes(sum(step.seconds for step in steps))}."
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
