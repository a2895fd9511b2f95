"""The Motor stage: the data sheet's figures, and three ways to come by a motor: search, library, data sheet."""

from __future__ import annotations

from typing import Any

from PyQt6.QtWidgets import QPushButton, QVBoxLayout, QWidget

from urban_mule.core.motor.printed import CURVES
from urban_mule.core.sheet.verdict import Verdict
from urban_mule.desk.kit.field import Field
from urban_mule.desk.kit.flow import Flow
from urban_mule.desk.kit.text_field import TextField
from urban_mule.desk.model.scope import Whole
from urban_mule.desk.shared.photograph import MEDIA_TYPE
from urban_mule.desk.stages.sharing import KNOWN
from urban_mule.desk.stages.view import StageView

FIND = "find a drive"
FIRST_FIGURES = ("holding_torque", "rated_torque", "motor_peak_torque", "rated_current", "rotor_inertia")
WITH_FIELDS = ("torque", "winding")
WINDING_OF_A_STEPPER = ("phase_inductance",)  # stands beside the torque only


class MotorStage(StageView):
    """Fields of the motor, or of its winding and heat behind that leaf, and the buttons that find another one."""

    session: Whole

    def build_fields(self, know: QVBoxLayout) -> None:
        super().build_fields(know)
        self.others_that_do, self.library, self.sheet, self.printed = (QPushButton(text, objectName="plain") for text in (
            "Find a drive…", "Library…", "Data sheet…", "Printed curve…"))
        buttons = (self.others_that_do, self.library, self.sheet, self.printed)
        for button, action in zip(buttons, (self.search, self.pick, self.enter, self.enter_curve), strict=True):
            button.clicked.connect(action)
        self.tools = Flow.of(buttons)
        self.head.addWidget(self.tools)
        self.leaves.turned.connect(self._offer)

    def _offer(self, word: str) -> None:
        self.tools.setVisible(word in WITH_FIELDS)

    def tools_here(self) -> tuple[QWidget, ...]:
        return (self.tools,)

    def fields_of(self, key: str) -> tuple[tuple[str, str], ...]:
        servo, behind = self.session.axis.motor_kind == "servo", self.spec.behind["winding"].fields
        if key == "winding":
            return tuple(one for one in behind if servo or one[1] not in WINDING_OF_A_STEPPER)
        if key:
            return super().fields_of(key)
        self._ways = self._wired()
        beside_torque = [one for one in self.spec.fields if not (servo and one in behind)]
        return tuple(one for one in beside_torque if one[1] not in ("wiring", "figures_for") or self._ways)

    def _wired(self) -> bool:
        """Whether the motor can be wired in several ways, or somebody has said how it is."""
        motor = self.session.axis.motor
        return motor is not None and motor.kind == "stepper" and (
            (motor.leads or 4) > 4 or motor.wiring is not None or motor.figures_for is not None)

    def results_of(self, key: str) -> tuple[tuple[str, str], ...]:
        pulses = (("pulse_rate", "pulse rate"),) if self.session.axis.motor_kind == "servo" and not key else ()
        return (*super().results_of(key), *pulses)

    def show_field(self, name: str, part: str = "") -> Field | TextField | None:
        """The field of a given; what only a motor of more leads has leads to the leads of one that has not said so."""
        unsaid = name in ("wiring", "figures_for") and not self._ways
        return super().show_field("leads" if unsaid else name, part)

    def _next_one(self, ahead: Verdict, name: str) -> tuple[str, str] | None:
        """A motor as a whole, where none of its figures is known and all that it has to move is."""
        if not self._lacks_motor(name):
            return super()._next_one(ahead, name)
        return f"Next: a motor for {self.session.axis.name}", (
            "Find a drive tries every motor of the library with driver and supply on this axis; or take yours from the library"
            " or a data sheet.")

    def _lacks_motor(self, name: str) -> bool:
        """Whether the first thing missing is the first figure of a motor of which none is known."""
        motor, sheet = self.session.axis.motor, self.session.sheet
        known = () if motor is None else (key for key, value in motor if key in sheet.inputs and value is not None)
        return name in FIRST_FIGURES and not any(True for _ in known)

    def _say(self) -> Verdict | None:
        found = super()._say()
        links = self.missing.links
        if links and self._lacks_motor(links[0][0]):
            self.missing.show_links(((FIND, "Find a drive…"), *links))
        return found

    def follow_link(self, name: str) -> None:
        if name == FIND:
            self.search()
        elif name == CURVES:
            self.enter_curve()
        else:
            super().follow_link(name)

    def search(self) -> None:
        """Open the search for drives that would do."""
        from urban_mule.desk.stages.motor.search_window import open_search  # its tables are made only when somebody searches

        open_search(self.session, self.window())

    def pick(self) -> None:
        """Take a motor of the same kind from the library."""
        from urban_mule.desk.shared.pick_part import pick_motor  # the library is read when somebody looks into it

        self.after(pick_motor(self.session, self.session.axis.motor_kind, self))

    def enter(self) -> None:
        """Enter a motor from its data sheet."""
        from urban_mule.desk.stages.motor.data_sheet import DataSheet

        sheet = DataSheet(self.session, self)
        self.after(sheet)
        sheet.open()

    def enter_curve(self) -> None:
        """Enter the curves that the motor's data sheet prints, or change those there are."""
        from urban_mule.desk.stages.motor.printed_curve import PrintedCurves

        session = self.session

        def take(curves: Any, pictures: Any) -> None:
            for name, data in pictures.items():
                session.saving.attach(name, MEDIA_TYPE, data)
            session.edit(session.axis_path("motor", CURVES), curves or None, f"{session.axis.name}: printed curve")

        dialog = PrintedCurves(session, session.axis.motor_kind, session.solution.get(CURVES) or (), session.solution, take, self)
        self.after(dialog)
        dialog.open()

    def refresh(self, names: object = None) -> None:
        super().refresh(names)
        if self._ways != self._wired():
            self.refill()
        motor = self.session.axis.motor
        name = motor.name if motor is not None else ""
        self.know_heading.setText(name or KNOWN)
        self.lay()
