"""The Motor stage: the data sheet's figures, and three ways to come by a motor: search, library, data sheet."""

from __future__ import annotations

from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout

from urban_mule.desk.kit.field import Field
from urban_mule.desk.kit.results import ResultList
from urban_mule.desk.stages.view import Fields, StageView

WINDING_RESULTS = (("cycle_temperature_rise", "cycle heat"), ("warm_up_time", ""), ("temperature_rise", "winding temperature"),
                   ("rated_temperature_rise", ""), ("holding_temperature_rise", ""), ("cycle_copper_loss", ""),
                   ("copper_loss", ""), ("rated_copper_loss", ""))


class MotorStage(StageView):
    """Fields of the motor, or of its winding and heat behind that leaf, and the buttons that find another one."""

    def build_fields(self, know: QVBoxLayout) -> None:
        self.of_winding = False
        self._hidden: tuple[Fields, ResultList] | None = None  # what stands behind the other leaf, kept for the next turn
        self.refill_fields()
        self.leaves.turned.connect(lambda _word: self._turned())
        self.ahead.append(self._make_hidden)
        row = QHBoxLayout()
        row.setSpacing(2)
        self.others_that_do, self.library, self.sheet = (QPushButton(text, objectName="plain") for text in (
            "Find others…", "From the library…", "From a data sheet…"))
        for button, action in ((self.others_that_do, self.search), (self.library, self.pick), (self.sheet, self.enter)):
            button.clicked.connect(action)
            row.addWidget(button)
        row.addStretch(1)
        know.addLayout(row)

    def refill_fields(self) -> None:
        self.fill(self.fields, self.of_winding)

    def fill(self, fields: Fields, of_winding: bool) -> None:
        """Put the fields of the motor in, or those of its winding."""
        kind = self.session.axis.motor_kind
        behind = self.spec.further[kind]
        self._ways = self._wired()
        beside_torque = [one for one in self.spec.fields if kind == "stepper" or one not in behind]
        for part, name in behind if of_winding else beside_torque:
            if name not in ("wiring", "figures_for") or self._ways:
                self.add_field(part, name, fields)

    def _wired(self) -> bool:
        """Whether the motor can be wired in several ways, or somebody has said how it is."""
        motor = self.session.axis.motor
        return motor is not None and motor.kind == "stepper" and (
            (motor.leads or 4) > 4 or motor.wiring is not None or motor.figures_for is not None)

    @property
    def result_rows(self) -> tuple[tuple[str, str], ...]:
        return self.rows_of(self.of_winding)

    def rows_of(self, winding: bool) -> tuple[tuple[str, str], ...]:
        """What follows, on the leaf of the winding or on the others."""
        pulses = (("pulse_rate", "pulse rate"),) if self.session.axis.motor_kind == "servo" else ()
        return WINDING_RESULTS if winding else (*self.spec.results, *pulses)

    def rebuild(self) -> None:
        if self._hidden is not None:
            fields, results = self._hidden
            fields.empty()
            fields.deleteLater()
            results.deleteLater()
            self._hidden = None
        super().rebuild()

    def _make_hidden(self) -> tuple[Fields, ResultList]:
        """Fields and results of the other leaf; made once, since each of them costs."""
        if self._hidden is None:
            fields, results = Fields(self.field_columns), self.result_list(self.rows_of(not self.of_winding))
            self.fill(fields, not self.of_winding)
            fields.hide()
            self.know.insertWidget(self.know.indexOf(self.fields) + 1, fields)
            self._hidden = fields, results
        return self._hidden

    def _turned(self) -> None:
        if self.of_winding == (self.leaves.word == "winding"):
            return
        fields, results = self._make_hidden()
        self._hidden = self.fields, self.results
        self.of_winding = not self.of_winding
        self.fields.hide()
        self.results_area.takeWidget()
        self.fields, self.results = fields, results
        self.results_area.setWidget(results)
        fields.show()

    def show_field(self, name: str) -> Field | None:
        """The field of a given; what only a motor of more leads has leads to the leads of one that has not said so."""
        unsaid = name in ("wiring", "figures_for") and not self._ways
        return super().show_field("leads" if unsaid else name)

    def search(self) -> None:
        """Open the search for drives that would do."""
        from urban_mule.desk.stages.motor.search_window import SearchWindow  # its tables are made only when somebody searches

        SearchWindow(self.session, self.window()).show()

    def pick(self) -> None:
        """Take a motor of the same kind from the library."""
        from urban_mule.desk.shared.pick_part import pick_motor  # the library is read when somebody looks into it

        pick_motor(self.session, self.session.axis.motor_kind, self)

    def enter(self) -> None:
        """Enter a motor from its data sheet."""
        from urban_mule.desk.stages.motor.data_sheet import DataSheet

        DataSheet(self.session, self).open()

    def refresh(self, names: object = None) -> None:
        super().refresh(names)
        if self._ways != self._wired() and not self.of_winding:
            self.fields.empty()
            self.refill_fields()
        motor = self.session.axis.motor
        name = motor.name if motor is not None else ""
        self.know_heading.setText(f"What you know: {name}" if name else "What you know")
