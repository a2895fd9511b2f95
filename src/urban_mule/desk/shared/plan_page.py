"""The plan of a round before it begins: its settings, its gauge, how many numbers it takes and how long."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QComboBox, QGridLayout, QHBoxLayout, QLineEdit, QPushButton, QVBoxLayout, QWidget

from urban_mule.bench.sessions.gauged import GAUGE, REFERENCE, STEP_GAUGE, PlanGauge, stacked
from urban_mule.bench.sessions.kinds import BLOCKS, PLAN_KINDS, expected_of, givens_of, steps_of, sure_to, words_of
from urban_mule.bench.sessions.promised import good_for
from urban_mule.bench.sessions.rounds import FREE_TRAVEL, PlanAxis, Step, as_typed, on_its_travel
from urban_mule.core.readings.two_way import SPREAD
from urban_mule.core.sheet import units
from urban_mule.core.sheet.given import BadValue, Given
from urban_mule.core.sheet.units import number_text
from urban_mule.desk.kit.painting import Label, tip
from urban_mule.desk.model.scope import Scope
from urban_mule.desk.shared.faces_row import FacesRow
from urban_mule.desk.shared.gauge_row import GaugeRow
from urban_mule.desk.shared.setup import Drawn

MINUTE, MICRON = 60.0, 1e-6
FACED = ("reversal", "positioning")  # plans that a dial can take from face to face of a step gauge


class PlanPage(QWidget):
    """Signals: begun(settings, gauge): the round is to begin; left: it is not; to_print(plan): its sheet is wanted;
    to_program(plan): its moves are; wanted(given): a field that it lacks is to be shown.
    """

    begun = pyqtSignal(dict, str)
    left = pyqtSignal()
    to_print = pyqtSignal(object)
    to_program = pyqtSignal(object)
    wanted = pyqtSignal(str)

    def __init__(self, session: Scope, kind: str, axis: PlanAxis, name: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session, self.kind, self.axis, self.name, self.plan_kind = session, kind, axis, name, PLAN_KINDS[kind]
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(8)
        box.addWidget(Label(f"The plan: {words_of(kind)} on {name}", objectName="heading"))
        box.addWidget(Label(f"{self.plan_kind.where} It tells {self.plan_kind.tells}.", wordWrap=True))
        self.gauges = GaugeRow(session, axis, kind)
        self.gauges.changed.connect(self._by_gauge)
        self.gauge = self.gauges.box
        box.addWidget(self.gauges)
        if self.plan_kind.key != "axes":  # a table of commands names none
            self.gauges.hide()
        self.offered = QWidget()
        box.addWidget(self.offered)
        self._offers = QHBoxLayout(self.offered)
        self._offers.setContentsMargins(0, 0, 0, 0)
        self.presets: dict[str, QPushButton] = {}
        self.fields: dict[str, QLineEdit | QComboBox] = {}
        box.addLayout(self._settings_grid())
        self.faces = FacesRow()
        self.faces.changed.connect(self.look)
        self.faces.lengths.connect(self._lengths_came)
        box.addWidget(self.faces)
        self.preview = Label(objectName="heading", wordWrap=True)
        self.promise = Label(objectName="label", wordWrap=True)
        self.fault = Label(objectName="wrong", wordWrap=True)
        box.addWidget(self.preview)
        box.addWidget(self.promise)
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
        self._usual = {name: _text_of(line) for name, line in self.fields.items()}
        self._by_gauge()

    def _by_gauge(self) -> None:
        """Lay the plan out by the gauge: what it offers, and what of its settings nobody has changed."""
        self.axis = replace(self.axis, gauge=PlanGauge.of(self.gauges.chosen))
        presets = () if self.plan_kind.presets is None else self.plan_kind.presets(self.axis)
        while self._offers.count():
            item = self._offers.takeAt(0)
            if item is not None and (widget := item.widget()) is not None:
                widget.hide()
                widget.deleteLater()
        self.presets = {}
        for one in presets:
            button = self.presets[one.name] = QPushButton(one.name, checkable=True)
            why_not = self._why_not(one.settings)
            button.setEnabled(not why_not)
            tip(button, f"It tells {one.tells}." if not why_not else f"Not with this gauge: {why_not}.")
            button.clicked.connect(lambda _on, one=one: self._fill(one.settings))
            self._offers.addWidget(button)
        self._offers.addStretch(1)
        self.offered.setVisible(bool(presets))
        self.faces.setVisible(self.axis.gauge is not None and self.axis.gauge.kind == STEP_GAUGE and "targets" in self.fields
                              and self.plan_kind.kind in FACED)
        chosen = next((one for one in presets if one.next), presets[0] if presets else None)
        self._fill(self._usual_settings() if chosen is None else chosen.settings, untouched=True)

    def _why_not(self, settings: dict[str, Any]) -> str:
        """Why a plan cannot be done with this gauge; empty where it can."""
        try:
            expected_of(self.kind, self.axis, {**self.plan_kind.usual(self.axis), **settings, **self._gauge_said})
        except BadValue as why:
            return str(why)
        return ""

    def _lengths_came(self, metres: list[float]) -> None:
        """Lengths of faces from a table, as the places of the plan."""
        line = self.fields.get("targets")
        if isinstance(line, QLineEdit):
            line.setText(as_typed(self.axis, metres))
            self.look()

    def _usual_settings(self) -> dict[str, Any]:
        try:
            return self.plan_kind.settings(self.axis)
        except BadValue:
            return {}

    def _fill(self, settings: dict[str, Any], untouched: bool = False) -> None:
        """Put settings in; untouched: only where nobody has typed anything else."""
        for name, value in settings.items():
            line = self.fields.get(name)
            if line is None or (untouched and _text_of(line) not in ("", self._usual.get(name, ""))):
                continue
            if isinstance(line, QComboBox):
                line.setCurrentText(str(value))
            else:
                line.setText(str(value))
            self._usual[name] = str(value)
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
        for words, action in (("Print the plan…", self._print), ("Moves as a program…", self._program), ("Close", self.left.emit)):
            button = QPushButton(words, objectName="plain")
            button.clicked.connect(action)
            row.addWidget(button)
            if action == self._program and not (self.plan_kind.moves and self.plan_kind.key == "axes"):
                button.hide()
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
        texts = {name: _text_of(line) for name, line in self.fields.items()}
        typed = {name: _whole(text) if name == "repeats" else text for name, text in texts.items()}
        return typed | self._faces(typed) | self.axis.said_in | self._gauge_said

    @property
    def _gauge_said(self) -> dict[str, Any]:
        """The gauge as the settings of a round keep it."""
        return {} if self.axis.gauge is None else {GAUGE: self.axis.gauge.plain()}

    def _faces(self, typed: dict[str, Any]) -> dict[str, Any]:
        """The lengths of a step gauge, or of stacks of blocks, as places, and what their certificates leave open together."""
        if self.axis.gauge is None or self.axis.gauge.kind != STEP_GAUGE or "targets" not in typed:
            return {}
        said = {BLOCKS: self.faces.each.text().strip()}
        try:
            places, most = stacked(typed["targets"])
            each = sure_to(said, BLOCKS)
        except BadValue:
            return said
        return said | {"targets": places} | ({} if each is None else {REFERENCE: each * MICRON * most**0.5})

    def look(self) -> None:
        """Say how many numbers the plan takes and how long, or what is wrong with it."""
        settings = self.settings
        for name, button in self.presets.items():
            button.setChecked(self._is(name, settings))
        try:
            steps = expected_of(self.kind, self.axis, settings)
        except BadValue as why:
            self.fault.setText(f"{str(why)[:1].upper()}{str(why)[1:]}.")
            self.preview.setText("")
            self.promise.setText("")
            self.start.setEnabled(False)
            return
        self.fault.setText("")
        self.preview.setText(summary(steps, self.plan_kind.records))
        self.promise.setText(self._good_for(steps))
        self.start.setEnabled(True)

    def _is(self, preset: str, settings: dict[str, Any]) -> bool:
        """Whether the plan is as one of those that are offered."""
        made = self.plan_kind.presets
        found = next(one for one in made(self.axis) if one.name == preset) if made is not None else None
        return found is not None and all(str(settings.get(name)) == str(value) for name, value in found.settings.items())

    def _good_for(self, steps: tuple[Step, ...]) -> str:
        """To what the plan makes its number known, by the gauge and by how the axis scatters."""
        known = self.session.solution.get("accuracy_floor") if self.plan_kind.key == "axes" else None  # R has the reversal in it
        scatter = None if known is None else float(known) / SPREAD
        found = good_for(self.kind, steps, self.axis.gauge, scatter, {})
        if found is None:
            return ""
        share = self.kind in ("travel", "lengths")
        unit = "ppm" if share else units.unit_shown("m" if self.axis.linear else "rad", self.axis.system, ("µm", ""))
        said = number_text(found * 1e6 if share else found / units.factor(unit, "m" if self.axis.linear else "rad"), 2)
        what = "the scale" if share else "the reversal"
        by = "the gauge and the scatter so far" if scatter is not None else "the gauge and a usual scatter of 2 µm"
        return f"It will make {what} known to ± {said} {unit}, by {by}."

    def _print(self) -> None:
        if self.start.isEnabled():
            steps = steps_of(self.kind, self.axis, self.settings)
            self.to_print.emit((self.kind, self.name, steps, self.plan_kind.usual_unit(self.axis),
                                self.plan_kind.caution_on(self.axis)))

    def _program(self) -> None:
        if self.start.isEnabled():
            self.to_program.emit((self.kind, self.axis, self.name, steps_of(self.kind, self.axis, self.settings),
                                  self.plan_kind.caution_on(self.axis)))

    def begin(self) -> None:
        """Begin the round as planned."""
        self.begun.emit(self.settings, self.gauges.kept())


def _text_of(line: QLineEdit | QComboBox) -> str:
    return line.text().strip() if isinstance(line, QLineEdit) else line.currentText()


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
