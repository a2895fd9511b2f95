"""A gauge of one's own: what it is, how far it reaches, what it shows, how well, when it was calibrated."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QCheckBox, QComboBox, QGridLayout, QHBoxLayout, QLineEdit, QPushButton, QVBoxLayout, QWidget

from urban_mule.core.readings.gauge import Gauge, UsualGauge
from urban_mule.core.sheet import units
from urban_mule.core.sheet.given import BadValue, givens
from urban_mule.desk.kit.asked import Asked
from urban_mule.desk.kit.dialog import Dialog
from urban_mule.desk.kit.painting import Label
from urban_mule.store.document.faults import first_fault
from urban_mule.store.document.project import GaugeModel

GIVEN = {one.name: one for one in givens(Gauge)}
ASKED = ("reach", "resolution", "repeatability_of_gauge", "gauge_uncertainty", "gauge_hysteresis", "gauge_expansion")
CHOSEN = ("gauge_kind", "contact", "read_as", "sign")
MONTH = 30.4375 * 86_400.0
HOW = ("What its certificate or its box says. Reach left empty: it measures over the whole travel. The uncertainty is the standard"
       " one; of an expanded one with k = 2 it is half.")


class GaugeDialog(Dialog):
    """made(gauge, keep): a gauge is described; keep: it is to be offered in other projects too."""

    made = pyqtSignal(object, bool)

    def __init__(
        self, linear: bool, system: str, begin: GaugeModel | UsualGauge | None = None, parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent)
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.setWindowTitle("A gauge")
        self.resize(620, 420)
        box = QVBoxLayout(self)
        box.setContentsMargins(20, 16, 20, 16)
        box.addWidget(Label(HOW, objectName="label", wordWrap=True))
        grid = QGridLayout()
        grid.setHorizontalSpacing(14)
        self.name, self.unit = Asked("Name"), Asked("Reads in", "the unit of its scale: mm, µm, in, °")
        self.lines: dict[str, Asked] = {}
        self.boxes: dict[str, QComboBox] = {}
        places: list[QWidget] = [self.name, self.unit]
        for name in CHOSEN[:1]:
            places.append(self._choice(name))
        for name in ASKED:
            line = self.lines[name] = Asked(GIVEN[name].label, GIVEN[name].doc)
            si = GIVEN[name].unit.replace("[travel]", "m" if linear else "rad")
            line.ask(GIVEN[name].label, si, system, GIVEN[name])
            places.append(line)
        places += [self._choice(name) for name in CHOSEN[1:]]
        self.calibrated = Asked("Calibrated on", "as 2026-03-12")
        self.months = Asked("Calibration holds, months")
        places += [self.calibrated, self.months]
        for n, widget in enumerate(places):
            grid.addWidget(widget, n // 3, n % 3)
        box.addLayout(grid)
        self.keep = QCheckBox("Offer it in other projects too")
        self.keep.setChecked(True)
        box.addWidget(self.keep)
        self.said = Label(objectName="wrong", wordWrap=True)
        box.addWidget(self.said)
        box.addStretch(1)
        keys = QHBoxLayout()
        keys.addStretch(1)
        take = QPushButton("Take it", objectName="strong")
        take.clicked.connect(self.take)
        keys.addWidget(take)
        box.addLayout(keys)
        self._known = begin
        if begin is not None:
            self._begin(begin)

    def _choice(self, name: str) -> QWidget:
        given, holder = GIVEN[name], QWidget()
        box = self.boxes[name] = QComboBox(accessibleName=given.label)
        box.addItem("?", None)
        for one in given.choices:
            box.addItem(str(one), one)
        column = QVBoxLayout(holder)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(2)
        column.addWidget(Label(given.label, objectName="label"))
        column.addWidget(box)
        return holder

    def _begin(self, one: GaugeModel | UsualGauge) -> None:
        """Fill in what is known of a gauge, to be typed over."""
        values: dict[str, Any] = dict(one.values) if isinstance(one, UsualGauge) else {
            name: getattr(one, name) for name in GIVEN if getattr(one, name) is not None}
        self.name.line.setText(one.name)
        self.name.line.setCursorPosition(0)
        self.unit.line.setText(one.unit)
        for name, line in self.lines.items():
            if name in values:
                line.line.setText(line.text_of(float(values[name])))
        for name, box in self.boxes.items():
            box.setCurrentIndex(max(0, box.findData(values.get(name))))
        if isinstance(one, GaugeModel):
            self.calibrated.line.setText(one.calibrated)
            if one.calibration_interval is not None:
                self.months.line.setText(units.number_text(float(one.calibration_interval) / MONTH, 4))

    def take(self) -> None:
        """Hand the gauge on, or say what cannot be taken."""
        try:
            self.made.emit(self._gauge(), self.keep.isChecked())
        except (BadValue, ValueError) as why:
            text = first_fault(why)
            self.said.setText(f"{text[:1].upper()}{text[1:]}.")
            return
        self.close()

    def _gauge(self) -> GaugeModel:
        name, unit = self.name.line.text().strip(), self.unit.line.text().strip()
        if not name:
            raise BadValue("the gauge has no name; type one")
        unit = units.SPELLINGS.get(unit, unit)
        if unit and unit not in units.FACTORS:
            raise BadValue(f"“{unit[:20]}” is no unit that a gauge reads in; allowed are the like of mm, µm, in, °")
        values: dict[str, Any] = {"name": name, "unit": unit}
        if isinstance(self._known, GaugeModel) and self._known.name == name:
            values["id"] = self._known.id  # the same gauge, of which rounds under way know
        values |= {key: value for key, line in self.lines.items() if (value := line.value()) is not None}
        values |= {key: box.currentData() for key, box in self.boxes.items() if box.currentData() is not None}
        day, months = self.calibrated.line.text().strip(), self.months.line.text().strip()
        if day:
            try:
                values["calibrated"] = datetime.fromisoformat(day).date().isoformat()
            except ValueError:
                raise BadValue(f"“{day[:20]}” is no day; type it as 2026-03-12") from None
        if months:
            values["calibration_interval"] = _number(self.months.line) * MONTH
        return GaugeModel.model_validate(values)


def _number(line: QLineEdit) -> float:
    return float(units.parse(line.text().strip(), "", "")[0])
