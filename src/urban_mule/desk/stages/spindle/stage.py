"""A stage of a drive that turns a tool: the anatomy of every stage, on the sheet of the spindle."""

from __future__ import annotations

from PyQt6.QtWidgets import QVBoxLayout

from urban_mule.desk.kit.text_field import TextField
from urban_mule.desk.stages.view import StageView


class SpindleStage(StageView):
    """Fields and results of one spindle; on Load and Motor the names too."""

    def build_fields(self, know: QVBoxLayout) -> None:
        super().build_fields(know)
        path = {"Load": ("name",), "Motor": ("motor", "name")}.get(self.spec.name)
        if path is not None:
            title = "Name" if path == ("name",) else "Motor"
            self.fields.add(TextField(self.session, self.session.axis_path(*path), "name", title, hint="its name"))
