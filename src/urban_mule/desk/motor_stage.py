"""The Motor stage: the data sheet's figures, and three ways to come by a motor: search, library, data sheet."""

from __future__ import annotations

from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout

from urban_mule.desk.stage_view import StageView

WINDING_RESULTS = (("cycle_temperature_rise", "cycle heat"), ("warm_up_time", ""), ("temperature_rise", "winding temperature"),
                   ("rated_temperature_rise", ""), ("holding_temperature_rise", ""), ("cycle_copper_loss", ""),
                   ("copper_loss", ""), ("rated_copper_loss", ""))


class MotorStage(StageView):
    """Fields of the motor, or of its winding and heat behind that leaf, and the buttons that find another one."""

    def build_fields(self, know: QVBoxLayout) -> None:
        self.refill_fields()
        self.leaves.turned.connect(lambda _word: self._turned())
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
        self.of_winding = self.leaves.word == "winding"
        kind = self.session.axis.motor_kind
        behind = self.spec.further[kind]
        beside_torque = [one for one in self.spec.fields if kind == "stepper" or one not in behind]
        for part, name in behind if self.of_winding else beside_torque:
            self.add_field(part, name)

    @property
    def result_rows(self) -> tuple[tuple[str, str], ...]:
        pulses = (("pulse_rate", "pulse rate"),) if self.session.axis.motor_kind == "servo" else ()
        return WINDING_RESULTS if self.of_winding else (*self.spec.results, *pulses)

    def _turned(self) -> None:
        if self.of_winding == (self.leaves.word == "winding"):
            return
        self.fields.empty()
        self.refill_fields()
        self.results = self._results()

    def search(self) -> None:
        """Open the search for drives that would do."""
        from urban_mule.desk.search_window import SearchWindow  # its tables are made only when somebody searches

        SearchWindow(self.session, self.window()).show()

    def pick(self) -> None:
        """Take a motor of the same kind from the library."""
        from urban_mule.desk.pick_part import pick_motor  # the library is read when somebody looks into it

        pick_motor(self.session, self.session.axis.motor_kind, self)

    def enter(self) -> None:
        """Enter a motor from its data sheet."""
        from urban_mule.desk.data_sheet import DataSheet

        DataSheet(self.session, self).open()

    def refresh(self, names: object = None) -> None:
        super().refresh(names)
        motor = self.session.axis.motor
        name = motor.name if motor is not None else ""
        self.know_heading.setText(f"What you know: {name}" if name else "What you know")
