"""Which gauge takes a round: those of the project, one's own from other projects, usual ones, another."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QPushButton, QWidget

from urban_mule.bench.sessions.kinds import PLAN_KINDS
from urban_mule.bench.sessions.rounds import PlanAxis
from urban_mule.core.readings.gauge import USUAL_GAUGES
from urban_mule.core.sheet import units
from urban_mule.desk.kit.painting import Label
from urban_mule.desk.model.scope import Scope
from urban_mule.desk.shared.gauge_dialog import GaugeDialog
from urban_mule.store.document.project import GaugeModel
from urban_mule.store.file.project_file import now
from urban_mule.store.library.gauges import keep_gauges, own_gauges
from urban_mule.store.text_files import BadFile

NO_GAUGE, ANOTHER = "no gauge chosen", "another gauge…"
Choice = GaugeModel | str | None


class GaugeRow(QWidget):
    """changed: another gauge is chosen."""

    changed = pyqtSignal()

    def __init__(self, session: Scope, axis: PlanAxis, kind: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session, self.axis, self._kind = session, axis, PLAN_KINDS[kind]
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(8)
        self.box = QComboBox(accessibleName="Gauge")
        self.box.activated.connect(lambda _place: self._chose())
        self.edit = QPushButton("Change it…", objectName="plain")
        self.edit.clicked.connect(lambda: self._describe(self.chosen))
        self.said = Label(objectName="label")
        row.addWidget(Label("Gauge", objectName="label"))
        for widget in (self.box, self.edit, self.said):
            row.addWidget(widget)
        row.addStretch(1)
        self._choices: list[Choice] = []
        self._fill()

    def _fill(self, chosen: str = "") -> None:
        """All that can be chosen: of the project first, then one's own, then usual ones that fit what is measured."""
        of_project = self.session.project.gauges or ()
        names = {one.name for one in of_project}
        try:
            own = [one for one in own_gauges() if one.name not in names and self._fits(one)]
        except BadFile:
            own = []
        usual = [GaugeModel.model_validate({"name": one.name, "unit": one.unit, **one.values}) for one in USUAL_GAUGES
                 if one.name not in names]
        usual = [one for one in usual if self.axis.linear and self._kind.unit == "[travel]"]
        self._choices = ["", *of_project, *own, *usual, None]
        self.box.clear()
        for one in self._choices:
            if isinstance(one, GaugeModel):
                self.box.addItem(one.name if one in of_project else f"{one.name} ({'usual' if one in usual else 'your own'})")
            else:
                self.box.addItem(NO_GAUGE if one == "" else ANOTHER)
        names_of = [getattr(one, "name", one) for one in self._choices]
        first = 1 if of_project else 0
        self.box.setCurrentIndex(names_of.index(chosen) if chosen and chosen in names_of else first)
        self._say()

    def _fits(self, one: GaugeModel) -> bool:
        return not one.unit or one.unit in units.DIMENSIONS.get(self._kind.si_unit(self.axis), ())

    @property
    def chosen(self) -> GaugeModel | None:
        """The gauge that is chosen, of the project or not; None for none."""
        one = self._choices[max(0, self.box.currentIndex())]
        return one if isinstance(one, GaugeModel) else None

    def _chose(self) -> None:
        if self._choices[self.box.currentIndex()] is None:
            self._describe(None)
        self._say()
        self.changed.emit()

    def _describe(self, begin: GaugeModel | None) -> None:
        """Have a gauge described; it takes the place of one of its name."""
        dialog = GaugeDialog(self.axis.linear, self.axis.system, begin, self)
        dialog.made.connect(self.take)
        dialog.open()

    def take(self, gauge: GaugeModel, keep: bool) -> None:
        """Take a gauge that was described into the project, and for other projects where that is wanted."""
        others = tuple(one for one in self.session.project.gauges or () if one.name != gauge.name)
        self.session.edit(("gauges",), (*others, gauge), f"gauge {gauge.name}")
        if keep:
            try:
                keep_gauges([gauge])
            except BadFile as why:
                self.session.told.emit(str(why))
        self._fill(gauge.name)
        self.changed.emit()

    def kept(self) -> str:
        """Who the chosen gauge is, put into the project where it is not there yet; nothing for none."""
        one = self.chosen
        if one is None:
            return ""
        there = next((kept for kept in self.session.project.gauges or () if kept.name == one.name), None)
        if there is None:
            self.session.edit(("gauges",), (*(self.session.project.gauges or ()), one), f"gauge {one.name}")
            there = next(kept for kept in self.session.project.gauges or () if kept.name == one.name)
        return str(there.id)

    def _say(self) -> None:
        """How far the gauge reaches and how well it sees, and whether its calibration still holds."""
        one = self.chosen
        self.edit.setVisible(one is not None)
        self.said.setText("" if one is None else told(one, self.axis))


def told(gauge: Any, axis: PlanAxis) -> str:
    """A gauge in a line: its reach, its smallest step, how sure it is, until when its calibration holds."""
    si, small = ("m", "µm") if axis.linear else ("rad", "°")

    def said(value: float, unit: str) -> str:
        return f"{units.number_text(value / units.factor(unit, si), 3)} {unit}"

    parts = [] if gauge.reach is None else [f"reaches {said(gauge.reach, axis.place_unit)}"]
    parts += [] if gauge.resolution is None else [f"shows {said(gauge.resolution, small)}"]
    parts += [] if gauge.gauge_uncertainty is None else [f"sure to ± {said(2 * gauge.gauge_uncertainty, small)}"]
    if gauge.due is not None:
        over = gauge.due.replace(tzinfo=None) < now().replace(tzinfo=None)
        parts.append(f"calibration {'was due' if over else 'holds until'} {gauge.due.day} {gauge.due:%B %Y}")
    return ", ".join(parts)
