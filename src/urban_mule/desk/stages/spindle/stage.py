"""A stage of a drive that turns a tool: the anatomy of every stage, on the sheet of the spindle."""

from __future__ import annotations

from PyQt6.QtWidgets import QVBoxLayout

from urban_mule.core.sheet.verdict import Verdict
from urban_mule.desk.kit.text_field import TextField
from urban_mule.desk.stages.view import StageView


class SpindleStage(StageView):
    """Fields and results of one spindle; on Load and Motor the names too."""

    def build_fields(self, know: QVBoxLayout) -> None:
        super().build_fields(know)
        self.know_heading.setVisible(bool(self.spec.fields))
        path = {"Load": ("name",), "Motor": ("motor", "name")}.get(self.spec.name)
        if path is not None:
            title = "Name" if path == ("name",) else "Motor"
            self.fields.add(TextField(self.session, self.session.axis_path(*path), "name", title, hint="its name"))

    def words(self, deciding: Verdict | None) -> tuple[str, str]:
        if deciding is None:
            nothing = {"Drive": "Nothing is judged yet: give pulses and gear, or what stops the tool.",
                       "Load": "Nothing is judged yet: give what turns, and the rotor on Motor.",
                       "Proof": "No table of commands was measured yet."}.get(self.spec.name, "Nothing is judged yet.")
            asks = "Take the round: it asks for a voltage, and the speed that came of it."
            return nothing, asks if self.spec.name == "Proof" else ""
        return super().words(deciding)
