"""A new axis by three questions: what moves, through what, how fast."""

from __future__ import annotations

import math
from typing import Any

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QButtonGroup,
    QDialog,
    QGridLayout,
    QHBoxLayout,
    QLineEdit,
    QPushButton,
    QRadioButton,
    QVBoxLayout,
    QWidget,
)

from urban_mule.core.sheet import units
from urban_mule.core.sheet.given import BadValue
from urban_mule.desk.kit.painting import Label
from urban_mule.desk.model.session import Session
from urban_mule.store.document.edit import edited

WHAT = {
    "a carriage, level": ("linear", 0.0),
    "a carriage, up and down": ("linear", math.pi / 2),
    "a table that turns": ("rotary", 0.0),
}
THROUGH: dict[str, tuple[str, list[dict[str, Any]], tuple[tuple[str, str], ...]]] = {
    "screw": ("linear", [{"kind": "screw"}], (("lead", "m"),)),
    "toothed belt": ("linear", [{"kind": "belt"}], (("pitch", "m"), ("teeth", ""))),
    "rack and pinion": ("linear", [{"kind": "rack"}], (("module", "m"), ("teeth", ""))),
    "feed roller": ("linear", [{"kind": "feed roller"}], (("diameter", "m"),)),
    "reduction": ("rotary", [{"kind": "reduction"}, {"kind": "direct"}], (("ratio", ""),)),
    "straight from the motor": ("rotary", [{"kind": "direct"}], ()),
}
MOST = {"linear": (30.0, 10.0, 200.0), "rotary": (1e4, 1e3, 1e5)}  # travel, speed, acceleration beyond which another unit is meant
LETTERS = "XYZABCUVW"


class NewAxis(QDialog):
    """Three questions; what is left empty is not known, and the trail says what is missing."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session = session
        self.setWindowTitle("New axis")
        self.setMinimumWidth(560)
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        box = QVBoxLayout(self)
        box.setContentsMargins(24, 20, 24, 20)
        box.setSpacing(10)
        taken = {axis.name for axis in session.project.axes}
        self._kept = ""
        self.name = self._line("Name of the axis", next((c for c in LETTERS if c not in taken), ""))
        box.addWidget(Label("What moves?", objectName="heading"))
        self.what = self._radios(box, list(WHAT))
        self.mass = self._line("mass or inertia of what moves", "")
        self.mass_label = Label(objectName="label")
        row = QHBoxLayout()
        for widget, share in ((Label("name", objectName="label"), 0), (self.name, 1), (self.mass_label, 0), (self.mass, 1)):
            row.addWidget(widget, share)
        box.addLayout(row)
        box.addWidget(Label("Through what?", objectName="heading"))
        self.through = self._radios(box, list(THROUGH))
        self.sizes = [self._line(f"size {i}", "") for i in (1, 2)]
        self.size_labels = [Label(objectName="label") for _ in self.sizes]
        box.addLayout(self._side_by_side(self.size_labels, self.sizes))
        box.addWidget(Label("How fast?", objectName="heading"))
        self.travel, self.speed, self.acceleration = (self._line(t, "") for t in ("travel", "speed", "acceleration"))
        self.fast_labels = [Label(objectName="label") for _ in range(3)]
        box.addLayout(self._side_by_side(self.fast_labels, [self.travel, self.speed, self.acceleration]))
        self.fault = Label(objectName="wrong", wordWrap=True)
        box.addWidget(self.fault)
        buttons = QHBoxLayout()
        make = QPushButton("Add the axis", objectName="strong", default=True)
        make.clicked.connect(self.accept)
        no = QPushButton("Cancel")
        no.clicked.connect(self.reject)
        buttons.addStretch(1)
        buttons.addWidget(no)
        buttons.addWidget(make)
        box.addLayout(buttons)
        for group in (self.what, self.through):
            group.buttonToggled.connect(lambda *_: self._fit())
        self._fit()

    @staticmethod
    def _side_by_side(labels: list[Label], lines: list[QLineEdit]) -> QHBoxLayout:
        row = QHBoxLayout()
        for label, line in zip(labels, lines, strict=True):
            row.addWidget(label)
            row.addWidget(line, 1)
        return row

    @staticmethod
    def _line(name: str, text: str) -> QLineEdit:
        return QLineEdit(text, accessibleName=name, placeholderText="?")

    @staticmethod
    def _radios(box: QVBoxLayout, names: list[str]) -> QButtonGroup:
        group, grid = QButtonGroup(box), QGridLayout()
        for index, name in enumerate(names):
            button = QRadioButton(name)
            button.setChecked(index == 0)
            group.addButton(button, index)
            grid.addWidget(button, index // 3, index % 3)
        box.addLayout(grid)
        return group

    def _chosen(self) -> tuple[str, float, str]:
        what, through = self.what.checkedButton(), self.through.checkedButton()
        assert what is not None and through is not None
        return (*WHAT[what.text()], through.text())

    def _fit(self) -> None:
        """Only the trains that fit what moves can be chosen, with their own sizes."""
        motion, _, through = self._chosen()
        for button in self.through.buttons():
            button.setEnabled(THROUGH[button.text()][0] == motion)
        if THROUGH[through][0] != motion:
            next(b for b in self.through.buttons() if b.isEnabled()).setChecked(True)
            return
        sizes = THROUGH[through][2]
        for index, (label, line) in enumerate(zip(self.size_labels, self.sizes, strict=True)):
            there = index < len(sizes)
            label.setVisible(there)
            line.setVisible(there)
            if there:
                unit = self._unit(sizes[index][1])
                label.setText(f"{sizes[index][0]}{f', {unit}' if unit else ''}")
                line.setAccessibleName(label.text())
        weighs = "mass" if motion == "linear" else "inertia"
        self.mass_label.setText(f"{weighs}, {self._unit('kg' if motion == 'linear' else 'kg·m²')}")
        self.mass.setAccessibleName(self.mass_label.text())
        length = "m" if motion == "linear" else "rad"
        for label, line, (word, unit) in zip(self.fast_labels, (self.travel, self.speed, self.acceleration), (
                ("travel", length), ("speed", f"{length}/s"), ("acceleration", f"{length}/s²")), strict=True):
            label.setText(f"{word}, {self._unit(unit)}")
            line.setAccessibleName(label.text())

    def _unit(self, si: str) -> str:
        """The unit in which a number without one is read here, which is that of the project's fields."""
        return units.unit_shown(si, self.session.system) if si else ""

    def axis(self) -> dict[str, Any]:
        """The new axis as the document takes it. Raises BadValue."""
        motion, incline, through = self._chosen()
        _, train, sizes = THROUGH[through]
        unit = "m" if motion == "linear" else "rad"
        made: dict[str, Any] = {"name": self.name.text().strip(), "motion": motion, "train": [dict(stage) for stage in train]}
        if motion == "linear":
            made |= {"incline": incline or None, "moving_mass": _read(self.mass, "kg", self._unit("kg"))}
        else:
            made |= {"load_inertia": _read(self.mass, "kg·m²", self._unit("kg·m²"))}
        for (name, si), line in zip(sizes, self.sizes, strict=False):
            value = _read(line, si, self._unit(si))
            made["train"][0][name] = int(value) if name == "teeth" and value and value == int(value) else value
        travel = _read(self.travel, unit, self._unit(unit))
        speed = _read(self.speed, f"{unit}/s", self._unit(f"{unit}/s"))
        acceleration = _read(self.acceleration, f"{unit}/s²", self._unit(f"{unit}/s²"))
        self._ask_where_far_off(motion, (self.travel, travel), (self.speed, speed), (self.acceleration, acceleration))
        made |= {"travel": travel, "speed_wanted": speed, "acceleration_wanted": acceleration}
        if travel and speed and acceleration:
            made["cycle"] = [{"distance": sign * 0.6 * travel, "speed": speed, "acceleration": acceleration, "dwell": 0.5}
                             for sign in (1, -1)]
        made["motor"] = {"kind": "stepper"}
        return made

    def _ask_where_far_off(self, motion: str, *typed: tuple[QLineEdit, float | None]) -> None:
        """Ask once about what is far beyond what such machines do: another unit was meant. Raises BadValue, which asks."""
        asked = " ".join(line.text() for line, _ in typed)
        for (line, value), most, per in zip(typed, MOST[motion], ("", "/s", "/s²"), strict=True):
            if value is None or value <= most or self._kept == asked:
                continue
            self._kept = asked
            si = f"{'m' if motion == 'linear' else 'rad'}{per}"
            unit, plain = self._unit(si), line.text().strip().split(" ")[0]
            meant = f" Is {plain} mm{per} meant? Then type the unit with it." if motion == "linear" else ""
            raise BadValue(f"{units.number_text(value / units.factor(unit, si), 4)} {unit} is far beyond what such an axis"
                           f" does.{meant} Add the axis once more keeps it")

    def accept(self) -> None:
        from urban_mule.store.document.project import Axis

        try:
            made = self.axis()
            project = edited(self.session.project, ("axes",), (*self.session.project.axes, _valid(Axis, made)))
        except BadValue as why:
            self.fault.setText(f"{str(why)[:1].upper()}{str(why)[1:].rstrip('.')}.")
            return
        self.session.replace(project, f"axis {made['name']} added")
        self.session.show_axis(len(project.axes) - 1)
        super().accept()


def _valid(model: Any, data: dict[str, Any]) -> Any:
    from pydantic import ValidationError

    from urban_mule.store.document.faults import sentence

    try:
        return model.model_validate(data)
    except ValidationError as error:
        raise BadValue(sentence(error)) from None


def _read(line: QLineEdit, si_unit: str, shown: str) -> float | None:
    text = line.text().strip()
    if not text:
        return None
    try:
        return units.parse(text, si_unit, shown)[0]
    except BadValue as why:
        raise BadValue(f"{line.accessibleName()}: {why}") from None
