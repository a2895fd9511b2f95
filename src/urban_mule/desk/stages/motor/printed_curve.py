"""Taking a curve off a data sheet: points typed, pasted, read from CSV or clicked on a picture, with the winding that they fit."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from pathlib import Path
from typing import Any

import numpy as np
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QButtonGroup,
    QComboBox,
    QFileDialog,
    QGridLayout,
    QHBoxLayout,
    QLineEdit,
    QPlainTextEdit,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from urban_mule.core.motor.printed import PrintedCurve, PrintedFigures, in_order
from urban_mule.core.sheet.given import BadValue, givens
from urban_mule.core.sheet.solution import Solution
from urban_mule.core.sheet.units import FACTORS, RPM, parse
from urban_mule.core.sheet.wording import size, typed
from urban_mule.desk.kit.chart import DASH, Chart, ceiling
from urban_mule.desk.kit.dialog import Dialog
from urban_mule.desk.kit.painting import Label
from urban_mule.desk.model.scope import Scope
from urban_mule.desk.shared.photograph import LARGEST, as_kept
from urban_mule.desk.stages.motor.scan_panel import MARKS, OneCurve, ScanPanel
from urban_mule.store.document.printed import plain_curve
from urban_mule.store.exchange.curve_text import points_in, read_curve, text_of
from urban_mule.store.file.project_file import now
from urban_mule.store.text_files import BadFile, from_file, safe_name

GIVENS = {one.name: one for one in givens(PrintedFigures)}
CURVES_OF = {"stepper": ("pull-out",), "servo": ("peak", "continuous")}
TORQUES = ("N·m", "N·cm", "ozf·in", "lbf·in")
RIGHT = 400  # px of the points and what they fit
Taken = Callable[[tuple[Mapping[str, Any], ...], Mapping[str, bytes]], None]


class PrintedCurves(Dialog):
    """The curves of one motor. taken: what to do with them, as the document writes them, and with new pictures by their name."""

    def __init__(self, session: Scope, kind: str, curves: Iterable[PrintedCurve], base: Solution, taken: Taken,
                 parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session, self.kind, self.base, self.taken = session, kind, base, taken
        self.setWindowTitle("The curve that the data sheet prints")
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.resize(1120, 720)
        self.curves = {shows: OneCurve() for shows in CURVES_OF[kind]}
        self.shows = CURVES_OF[kind][0]
        box = QVBoxLayout(self)
        box.setContentsMargins(20, 14, 20, 14)
        box.setSpacing(8)
        box.addLayout(self._head())
        body = QHBoxLayout()
        body.setSpacing(16)
        self.panel = ScanPanel()
        self.panel.asked.connect(self._choose)
        self.panel.dropped.connect(self.take_picture)
        self.panel.changed.connect(self.look)
        self.panel.pointed.connect(self._add)
        body.addWidget(self.panel, 1)
        right = QWidget()
        right.setLayout(self._right())
        right.setFixedWidth(RIGHT)
        body.addWidget(right)
        box.addLayout(body, 1)
        self.fault = Label(objectName="wrong", wordWrap=True)
        box.addWidget(self.fault)
        box.addLayout(self._foot())
        self._begin_with(curves)

    def _head(self) -> QHBoxLayout:
        row = QHBoxLayout()
        row.addWidget(Label("The curve that the data sheet prints", objectName="heading"), 1)
        self.switch = QButtonGroup(self)
        for shows in CURVES_OF[self.kind] if len(self.curves) > 1 else ():
            button = QPushButton(shows, checkable=True, checked=shows == self.shows, autoDefault=False, objectName="leaf")
            self.switch.addButton(button)
            button.clicked.connect(lambda _on, shows=shows: self.show_curve(shows))
            row.addWidget(button)
        return row

    def _right(self) -> QVBoxLayout:
        column, grid = QVBoxLayout(), QGridLayout()
        column.setContentsMargins(0, 0, 0, 0)
        grid.setVerticalSpacing(3)
        self.volts, self.amperes = QLineEdit(), QLineEdit()
        stepper = self.kind == "stepper"
        asked = [("printed_voltage", "Supply, V", self.volts)]
        asked += [("printed_current", "Current, A (empty: rated)", self.amperes)] if stepper else []
        for column_of, (name, said, line) in enumerate(asked):
            line.setAccessibleName(f"{GIVENS[name].label}: {GIVENS[name].doc}")
            line.textEdited.connect(lambda _text: self.look())
            grid.addWidget(Label(said, objectName="label"), 0, column_of)
            grid.addWidget(line, 1, column_of)
        self.speed_unit, self.torque_unit = QComboBox(accessibleName="Unit of the speeds"), QComboBox(
            accessibleName="Unit of the torques")
        for said, unit in self._speed_units():
            self.speed_unit.addItem(said, unit)
        for said in TORQUES:
            self.torque_unit.addItem(said, FACTORS[said])
        for place, (said, combo) in enumerate((("Speeds in", self.speed_unit), ("Torques in", self.torque_unit))):
            combo.activated.connect(lambda _index: self.look())
            grid.addWidget(Label(said, objectName="label"), 2, place)
            grid.addWidget(combo, 3, place)
        for half in range(2):
            grid.setColumnStretch(half, 1)
        column.addLayout(grid)
        column.addWidget(Label("Points, one a line: speed, then torque. Type or paste them.", objectName="label"))
        self.points = QPlainTextEdit(accessibleName="Points of the curve, one a line: speed, then torque", tabChangesFocus=True)
        self.points.setFixedHeight(150)
        self.points.textChanged.connect(self.look)
        column.addWidget(self.points)
        row = QHBoxLayout()
        self.from_csv, self.picture = (QPushButton(text, autoDefault=False) for text in ("From CSV…", "Another picture…"))
        self.from_csv.clicked.connect(self._choose_csv)
        self.picture.clicked.connect(self._choose)
        row.addWidget(self.from_csv)
        row.addWidget(self.picture)
        row.addStretch(1)
        column.addLayout(row)
        self.chart = Chart("motor speed, rpm", "torque, N·m", "The points, and the curve of the winding that they fit")
        self.chart.setMinimumHeight(170)
        column.addWidget(self.chart, 1)
        self.said = Label(wordWrap=True)
        self.said.setMinimumHeight(54)
        column.addWidget(self.said)
        return column

    def _foot(self) -> QHBoxLayout:
        row = QHBoxLayout()
        row.addStretch(1)
        no, yes = QPushButton("Cancel", autoDefault=False), QPushButton("Take this curve", objectName="strong", default=True)
        no.clicked.connect(self.reject)
        yes.clicked.connect(self.accept)
        row.addWidget(no)
        row.addWidget(yes)
        return row

    def _speed_units(self) -> list[tuple[str, float]]:
        step = self.base.get("step_angle") or 0.0
        steps = [("full steps a second", step), ("half steps a second", step / 2)] if step else []
        return [("rpm", RPM), ("turns a second", 60 * RPM), ("rad/s", 1.0), *steps]

    def _begin_with(self, curves: Iterable[PrintedCurve]) -> None:
        """Show what is known already: the curves there are, else the supply of the axis."""
        for one in curves:
            if one.shows in self.curves:
                self.curves[one.shows] = OneCurve(
                    text_of(one.points, RPM, 1.0), typed(one.printed_voltage),
                    "" if one.printed_current is None else typed(one.printed_current), one.picture, self._kept(one.picture))
        self.show_curve(self.shows)

    def _kept(self, name: str) -> bytes | None:
        try:
            return self.session.saving.file.attachment(name) if name else None
        except BadFile:
            return None

    @property
    def one(self) -> OneCurve:
        """The curve that is shown."""
        return self.curves[self.shows]

    def show_curve(self, shows: str) -> None:
        """Show the curve of this name; what was entered of the other stays."""
        self.shows = shows
        one = self.one
        self.points.blockSignals(True)
        self.points.setPlainText(one.text)
        self.points.blockSignals(False)
        self.volts.setText(one.volts)
        self.amperes.setText(one.amperes)
        self.picture.setVisible(self.panel.show_curve(one))
        self.look()

    def _choose(self) -> None:
        chosen, _ = QFileDialog.getOpenFileName(self, "A photograph or scan", "", "Pictures (*.jpg *.jpeg *.png)")
        if chosen:
            self.take_picture(Path(chosen))

    def take_picture(self, path: Path) -> None:
        """Show the picture of a file to click on; it is read and made smaller in the background."""
        def read(_progress: Any) -> bytes | BadFile:
            try:
                return from_file(path, LARGEST, as_kept)
            except BadFile as why:
                return why

        def shown(found: bytes | BadFile) -> None:
            if isinstance(found, BadFile):
                self.fault.setText(str(found))
                return
            self.fault.setText("")
            self.one.data, self.one.places = found, [None] * len(MARKS)
            self.one.picture = f"{now():%Y%m%d-%H%M%S-%f} {safe_name(self.shows)} curve"
            self.picture.setVisible(self.panel.show_curve(self.one))
            self.look()
            self.panel.scan.setFocus()

        self.session.works.run(("a picture of a curve", str(path)), self, read, shown)

    def _choose_csv(self) -> None:
        chosen, _ = QFileDialog.getOpenFileName(self, "Points of the curve", "", "Tables (*.csv *.txt *.tsv)")
        if chosen:
            self.take_csv(Path(chosen))

    def take_csv(self, path: Path) -> None:
        """Take the points of a file in place of those there are."""
        try:
            self.points.setPlainText(read_curve(path).strip())
        except BadFile as why:
            self.fault.setText(str(why))

    def _add(self, speed: float, torque: float) -> None:
        """One more point that was clicked, in the units of the axes."""
        line, text = f"{typed(max(speed, 0.0))}\t{typed(max(torque, 0.0))}", self.points.toPlainText().rstrip()
        self.points.setPlainText(f"{text}\n{line}" if text else line)

    def _entered(self, shows: str) -> PrintedCurve | None:
        """A curve as it is entered; None where it has no points. Raises BadValue."""
        one = self.curves[shows]
        points = points_in(one.text, self.speed_unit.currentData(), self.torque_unit.currentData())
        if not points:
            return None
        if not one.volts.strip():
            raise BadValue("type the supply for which the curve is printed")
        current = self._given("printed_current", one.amperes) if one.amperes.strip() else None
        return PrintedCurve(shows, self._given("printed_voltage", one.volts), in_order(points), current, one.picture)

    @staticmethod
    def _given(name: str, text: str) -> float:
        one = GIVENS[name]
        try:
            return float(one.check(parse(text, one.unit, one.unit)[0]))
        except BadValue as why:
            raise BadValue(f"{one.label}: {why.fault}") from None

    def entered(self) -> tuple[PrintedCurve, ...]:
        """The curves as they are entered. Raises BadValue."""
        return tuple(curve for shows in self.curves if (curve := self._entered(shows)) is not None)

    def look(self) -> None:
        """Draw what is entered so far, and say how it fits."""
        one = self.one
        one.text, one.volts, one.amperes = self.points.toPlainText(), self.volts.text(), self.amperes.text()
        self.fault.setText("")
        self.said.setText("")
        speed, torque = self.speed_unit.currentData(), self.torque_unit.currentData()
        try:
            self.panel.show_points([(x / speed, y / torque) for x, y in points_in(one.text, speed, torque)])
            curves = self.entered()
        except BadValue as why:
            self.chart.empty(f"{why}.")
            return
        shown = next((curve for curve in curves if curve.shows == self.shows), None)
        if shown is None:
            self.chart.empty("No points yet.")
            return
        self._draw(shown, self.base.changed(printed_curves=curves))

    def _draw(self, curve: PrintedCurve, solution: Solution) -> None:
        chart, fit = self.chart, solution.get("printed_fit")
        chart.restart()
        end, high = ceiling(1.05 * float(curve.speeds.max()) / RPM), ceiling(1.15 * float(curve.torques.max()))
        chart.frame((0, end), (0, high))
        speeds = np.linspace(0, end * RPM, 80)
        made = None if fit is None else fit.as_fitted(self.shows)
        if made is not None:
            chart.line(speeds / RPM, made(speeds), "blue", 2.2, *(() if fit.fits else (DASH,)))
        chart.dots(curve.speeds / RPM, curve.torques, "accent", 7)
        verdict = solution.verdict("printed curve")
        if verdict is not None and verdict.level != "unknown":
            self.said.setText(f"{verdict.sentence} {verdict.next}" if verdict.level != "good" else verdict.sentence)
        elif fit is not None:
            self.said.setText(f"The points lie {size(100 * float(fit.found.deviation), 2)} % off the winding that fits best.")
        else:
            self.said.setText(f"No winding is fitted yet: {solution.find('printed_fit').reason}.")

    def accept(self) -> None:
        """Take the curves over, or say what is wrong with them and stay."""
        try:
            curves = self.entered()
            data = {one.picture: one.data for one in self.curves.values() if one.data is not None}
            self.taken(tuple(plain_curve(one) for one in curves), {
                one.picture: data[one.picture] for one in curves if one.picture in data and self._kept(one.picture) is None})
        except BadValue as why:
            self.fault.setText(f"{why}.")
            return
        super().accept()
