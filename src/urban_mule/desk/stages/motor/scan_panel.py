"""The picture of a printed curve with its four marks: from a click to a speed and a torque."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, field
from pathlib import Path

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QButtonGroup, QCheckBox, QGridLayout, QLineEdit, QPushButton, QVBoxLayout, QWidget

from urban_mule.core.motor.scan import AxisMarks, PictureScale, Place, picture_scale
from urban_mule.core.sheet.given import BadValue
from urban_mule.desk.kit.painting import Label
from urban_mule.desk.stages.motor.scan import ScanView

MARKS = (("speed", "a speed"), ("speed", "another speed"), ("torque", "a torque"), ("torque", "another torque"))
ALONG = len(MARKS)  # the last of the things to click: points of the curve
CLICK = (*(f"Click a place on the {axis} axis where a {axis} is printed, then type {'it' if n % 2 == 0 else 'this other one'}."
           for n, (axis, _) in enumerate(MARKS)), "Click along the curve; a line taken out of the list takes its point away.")


@dataclass
class OneCurve:
    """What has been entered of one curve: text, supply, current, picture, and the marks on it."""

    text: str = ""
    volts: str = ""
    amperes: str = ""
    picture: str = ""
    data: bytes | None = None
    places: list[Place | None] = field(default_factory=lambda: [None] * len(MARKS))
    values: list[str] = field(default_factory=lambda: [""] * len(MARKS))


class ScanPanel(QWidget):
    """asked: a picture is to be chosen; dropped(path): one was; changed: marks or what stands at them; pointed(speed, torque): a
    point of the curve, in the units of the axes.
    """

    asked = pyqtSignal()
    dropped = pyqtSignal(Path)
    changed = pyqtSignal()
    pointed = pyqtSignal(float, float)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.one = OneCurve()
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        self.what = Label(objectName="label", wordWrap=True)
        self.scan = ScanView()
        self.scan.asked.connect(self.asked)
        self.scan.dropped.connect(lambda name: self.dropped.emit(Path(name)))
        self.scan.clicked.connect(self._clicked)
        column.addWidget(self.what)
        column.addWidget(self.scan, 1)
        self.marks, self.values = QButtonGroup(self), []
        grid = QGridLayout()
        for number, (axis, said) in enumerate((*MARKS, ("", "the curve"))):
            button = QPushButton(f"{number + 1}  {said}", checkable=True, autoDefault=False, objectName="leaf")
            self.marks.addButton(button, number)
            grid.addWidget(button, 0, number)
            if axis:
                line = QLineEdit(placeholderText=f"{axis} there", accessibleName=f"The {axis} at mark {number + 1}")
                line.textEdited.connect(lambda text, number=number: self._valued(number, text))
                self.values.append(line)
                grid.addWidget(line, 1, number)
        self.marks.idClicked.connect(self._say_what)
        self.logarithmic = QCheckBox("logarithmic speeds")
        self.logarithmic.toggled.connect(lambda _on: self.changed.emit())
        grid.addWidget(self.logarithmic, 1, ALONG)
        self.clicking = QWidget()
        self.clicking.setLayout(grid)
        grid.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.clicking)

    def show_curve(self, one: OneCurve) -> bool:
        """Show the picture and the marks of a curve; whether it has a picture."""
        self.one = one
        for line, text in zip(self.values, one.values, strict=True):
            line.setText(text)
        there = self.scan.show_picture(one.data)
        self.clicking.setVisible(there)
        self._go_to(next((number for number, place in enumerate(one.places) if place is None), ALONG))
        return there

    def show_points(self, points: Sequence[tuple[float, float]]) -> None:
        """Show the marks, and these points in the units of the axes, on the picture."""
        marks = [(place, str(number + 1)) for number, place in enumerate(self.one.places) if place is not None]
        try:
            scale = self.scale()
        except BadValue:
            self.scan.show_marks(marks, ())
            return
        self.scan.show_marks(marks, [place for point in points if all(map(math.isfinite, place := scale.place_of(*point)))])

    def _go_to(self, number: int) -> None:
        button = self.marks.button(number)
        assert button is not None
        button.setChecked(True)
        self._say_what(number)

    def _say_what(self, number: int) -> None:
        self.what.setText(CLICK[number] if self.one.data is not None else "Most data sheets print torque over speed as a curve.")

    def _clicked(self, x: float, y: float) -> None:
        number = self.marks.checkedId()
        if number < ALONG:
            self.one.places[number] = (x, y)
            self.values[number].setFocus()
            self.values[number].selectAll()
            self._go_to(next((n for n in (*range(number + 1, ALONG), *range(number)) if self.one.places[n] is None), ALONG))
            self.changed.emit()
            return
        try:
            scale = self.scale()
        except BadValue as why:
            self.what.setText(f"{why}.")
            return
        self.pointed.emit(*scale.at((x, y)))

    def _valued(self, number: int, text: str) -> None:
        self.one.values[number] = text
        self.changed.emit()

    def scale(self) -> PictureScale:
        """The scale that the marks set. Raises BadValue."""
        at, marks = self.one.places, []
        for number, (_axis, said) in enumerate(MARKS):
            if at[number] is None:
                raise BadValue(f"mark {number + 1}, {said}, is not set yet")
        for first, axis in ((0, "speed"), (2, "torque")):
            one, other = (self._value(number) for number in (first, first + 1))
            marks.append(AxisMarks(axis, at[first], at[first + 1], one, other,  # type: ignore[arg-type]
                                   axis == "speed" and self.logarithmic.isChecked()))
        return picture_scale(*marks)

    def _value(self, number: int) -> float:
        text = self.one.values[number].strip().replace(",", ".")
        try:
            value = float(text)
        except ValueError:
            value = math.nan
        if not math.isfinite(value):
            raise BadValue(f"type the {MARKS[number][0]} that is printed at mark {number + 1}, as a number")
        return value
