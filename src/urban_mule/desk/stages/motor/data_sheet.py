"""Entering a motor from its data sheet: the figures, the two questions that matter, and what does not fit together."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QButtonGroup,
    QCheckBox,
    QGridLayout,
    QHBoxLayout,
    QLineEdit,
    QPushButton,
    QRadioButton,
    QVBoxLayout,
    QWidget,
)

from urban_mule.core.motor.datasheet import Doubt, doubts
from urban_mule.core.motor.printed import CURVES
from urban_mule.core.motor.stepper import WIRINGS
from urban_mule.core.sheet import units
from urban_mule.core.sheet.given import BadValue, Given
from urban_mule.core.subjects import axis_sheet
from urban_mule.desk.kit.dialog import Dialog
from urban_mule.desk.kit.painting import Label
from urban_mule.desk.model.scope import Scope
from urban_mule.desk.model.words import label
from urban_mule.desk.shared.part_pictures import keep_pictures
from urban_mule.desk.shared.photograph import MEDIA_TYPE
from urban_mule.desk.shared.pick_part import OTHER_KIND, motor_from
from urban_mule.store.document.printed import PrintedCurveModel
from urban_mule.store.library.parts import GIVENS, Part, add_parts, part_of
from urban_mule.store.text_files import BadFile

FIGURES = {
    "stepper": ("holding_torque", "rated_current", "phase_resistance", "phase_inductance", "rotor_inertia", "step_angle",
                "drag_torque", "thermal_resistance", "thermal_time_constant", "frame", "length", "mass"),
    "servo": ("rated_torque", "motor_peak_torque", "rated_speed", "max_speed", "rated_voltage", "rotor_inertia", "peak_time",
              "counts_per_turn", "torque_constant_rms", "pole_pairs", "phase_resistance", "phase_inductance", "frame", "mass",
              "price"),
}
RATING = {"RMS-like: both phases on, the usual": "rms", "a peak value, of a sine": "peak", "the sheet does not say": None}
LEADS = {"4 leads: one wiring only": (4, None), **{f"8 leads, {way}": (8, way) for way in WIRINGS},
         "6 leads, half coil": (6, "half coil"), "6 leads, series (full coil)": (6, "series")}
BETWEEN = {"of one phase": "one phase", "line to line: two phases in line": "line to line", "the sheet gives none": None}
MOST_DOUBTS = 3
CURVE_TOO = "It prints a torque curve…"


class DataSheet(Dialog):
    """A data sheet, field by field. What looks wrong is said at once, with the value that would fit; nothing is refused."""

    def __init__(self, session: Scope, parent: QWidget | None = None, kind: str = "") -> None:
        super().__init__(parent)
        self.session, self.kind = session, kind or session.axis.motor_kind
        self.setWindowTitle(f"A {self.kind} from its data sheet")
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.setMinimumWidth(720)
        box = QVBoxLayout(self)
        box.setContentsMargins(24, 18, 24, 18)
        box.setSpacing(8)
        head, other = QHBoxLayout(), OTHER_KIND[self.kind]
        head.addWidget(Label(f"A {self.kind} from its data sheet", objectName="heading"), 1)
        self.instead = QPushButton(f"It is a {other}", objectName="plain", autoDefault=False)
        self.instead.clicked.connect(lambda: self._instead(other))
        head.addWidget(self.instead)
        box.addLayout(head)
        self.name = QLineEdit(placeholderText=f"what to call it, such as 57 mm {self.kind}", accessibleName="Name of the motor")
        box.addWidget(self.name)
        self.lines: dict[str, QLineEdit] = {}
        box.addLayout(self._figures())
        self.rating = self.leads = self.between = None
        if self.kind == "stepper":
            self.rating = self._question(box, "Is the rated current RMS-like or a peak value? It is a factor of 1.41.", RATING)
            self.leads = self._question(box, "For which wiring are these figures?", LEADS)
        else:
            self.between = self._question(box, "What are resistance and inductance? It is a factor of 2.", BETWEEN)
        self.doubts_box = QVBoxLayout()
        self.doubts_box.setSpacing(2)
        box.addLayout(self.doubts_box)
        self.fault = Label(objectName="wrong", wordWrap=True)
        box.addWidget(self.fault)
        row = QHBoxLayout()
        self.keep = QCheckBox("Keep it in my library")
        self.curves: tuple[Mapping[str, Any], ...] = ()
        self.printed = QPushButton(CURVE_TOO, objectName="plain", autoDefault=False)
        self.printed.clicked.connect(self._enter_curve)
        no, yes = QPushButton("Cancel"), QPushButton("Take this motor", objectName="strong", default=True)
        no.clicked.connect(self.reject)
        yes.clicked.connect(self.accept)
        row.addWidget(self.printed)
        row.addWidget(self.keep)
        row.addStretch(1)
        row.addWidget(no)
        row.addWidget(yes)
        box.addLayout(row)

    def _instead(self, kind: str) -> None:
        """Ask for the figures of the other kind of motor."""
        beside = DataSheet(self.session, self.parentWidget(), kind)
        beside.name.setText(self.name.text())
        self.reject()
        beside.open()

    def _enter_curve(self) -> None:
        """Enter the curves that the sheet prints; without resistance and inductance the torque at speed is known by them."""
        from urban_mule.desk.stages.motor.printed_curve import PrintedCurves

        sheet = axis_sheet(self.session.axis.motion, self.kind)
        try:
            typed = {name: value for name, value in self.values().items() if name in sheet.inputs}
            base = sheet.solve(**{**typed, "supply_voltage": self.session.solution.get("supply_voltage")})
        except BadValue as why:
            self.fault.setText(f"{why}.")
            return
        curves = tuple(PrintedCurveModel.model_validate(one).core for one in self.curves)

        def taken(found: tuple[Mapping[str, Any], ...], pictures: Mapping[str, bytes]) -> None:
            for name, data in pictures.items():
                self.session.saving.attach(name, MEDIA_TYPE, data)
            self.curves = found
            self.printed.setText("Its printed curve ✓" if found else CURVE_TOO)

        PrintedCurves(self.session, self.kind, curves, base, taken, self).open()

    def _figures(self) -> QGridLayout:
        grid = QGridLayout()
        grid.setHorizontalSpacing(14)
        grid.setVerticalSpacing(4)
        for number, name in enumerate(FIGURES[self.kind]):
            given, line = GIVENS[self.kind][name], QLineEdit(placeholderText="?")
            line.setAccessibleName(f"{label(name)}: {given.doc}")
            line.editingFinished.connect(self.look)
            self.lines[name] = line
            row, column = divmod(number, 3)
            unit = self._unit(given)
            grid.addWidget(Label(f"{label(name)}{f', {unit}' if unit else ''}", objectName="label"), 2 * row, column)
            grid.addWidget(line, 2 * row + 1, column)
        return grid

    def _unit(self, given: Given) -> str:
        return "g·cm²" if given.unit == "kg·m²" else units.unit_shown(given.unit, self.session.system, given.shown)

    def _question(self, box: QVBoxLayout, text: str, answers: dict[str, Any]) -> QButtonGroup:
        box.addWidget(Label(text, objectName="heading"))
        group, grid = QButtonGroup(self), QGridLayout()
        for number, answer in enumerate(answers):
            button = QRadioButton(answer)
            group.addButton(button, number)
            grid.addWidget(button, *divmod(number, 3))
        group.buttonClicked.connect(lambda _button: self.look())
        box.addLayout(grid)
        return group

    def values(self) -> dict[str, Any]:
        """What is typed, in SI; what is empty is left out. Raises BadValue naming the figure."""
        found: dict[str, Any] = {}
        for name, line in self.lines.items():
            text = line.text().strip()
            if text:
                given = GIVENS[self.kind][name]
                try:
                    value = units.parse(text, given.unit, self._unit(given))[0]
                except BadValue as why:
                    raise BadValue(f"{label(name)}: {why}") from None
                found[name] = given.check(value)
        if self.rating is not None and self.rating.checkedButton() is not None:
            found["rated_current_is"] = RATING[self.rating.checkedButton().text()]  # type: ignore[union-attr]
        if self.leads is not None and self.leads.checkedButton() is not None:
            found["leads"], found["figures_for"] = LEADS[self.leads.checkedButton().text()]  # type: ignore[union-attr]
        if self.between is not None and self.between.checkedButton() is not None:
            found["winding_figures_are"] = BETWEEN[self.between.checkedButton().text()]  # type: ignore[union-attr]
        return {name: value for name, value in found.items() if value is not None}

    def look(self) -> None:
        """Say what does not fit together so far."""
        self.fault.setText("")
        try:
            found = doubts(self.kind, self.values())
        except BadValue as why:
            self.fault.setText(str(why))
            found = ()
        while self.doubts_box.count():
            item = self.doubts_box.takeAt(0)
            widget = item.widget() if item else None
            if widget is not None:
                widget.deleteLater()
        for doubt in found[:MOST_DOUBTS]:
            self.doubts_box.addWidget(self._doubt(doubt))

    def _doubt(self, doubt: Doubt) -> QWidget:
        row = QWidget()
        line = QHBoxLayout(row)
        line.setContentsMargins(0, 0, 0, 0)
        said = Label(doubt.sentence, objectName="caution", wordWrap=True)
        line.addWidget(said, 1)
        if doubt.suggestion is not None and doubt.name in self.lines:
            given = GIVENS[self.kind][doubt.name]
            text = str(units.show(doubt.suggestion, given.unit, digits=3, unit=self._unit(given)))
            take = QPushButton(f"Take {text}", objectName="plain")
            take.clicked.connect(lambda: self._mend(doubt.name, text))
            line.addWidget(take)
        return row

    def _mend(self, name: str, text: str) -> None:
        self.lines[name].setText(text)
        self.look()

    def accept(self) -> None:
        """Take the values over, or say what is wrong with them and stay."""
        try:
            values = self.values()
            if self.rating is not None and self.rating.checkedButton() is None:
                raise BadValue("Say what the rated current is; the sheet or its torque curve tells")
            if self.leads is not None and self.leads.checkedButton() is None:
                raise BadValue("Say for which wiring the figures are")
            if self.between is not None and self.between.checkedButton() is None and "phase_resistance" in values:
                raise BadValue("Say whether resistance and inductance are those of one phase or line to line")
            curves = {CURVES: list(self.curves)} if self.curves else {}
            part = part_of({"kind": self.kind, "name": self.name.text().strip() or f"{self.kind} from a data sheet", **values,
                            **curves})
            self.session.edit(self.session.axis_path("motor"), motor_from(part, self.session.axis.motor),
                              f"{self.session.axis.name}: motor from its data sheet")
            if self.keep.isChecked():
                self._keep(part)
        except BadValue as why:
            self.fault.setText(f"{why}.")
            return
        super().accept()

    def _keep(self, part: Part) -> None:
        try:
            keep_pictures(self.session, (part,))
            add_parts((part,))
        except BadFile as why:
            self.session.failed.emit(str(why))
