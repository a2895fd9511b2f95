"""Refreshes docs/screenshots from the demo: one picture of each main view at 1280x800."""

from __future__ import annotations

import shutil
import tempfile
from pathlib import Path

from PyQt6.QtWidgets import QApplication

from urban_mule.demo.courtyard import build_demo
from urban_mule.desk.app import application
from urban_mule.desk.new_axis import NewAxis
from urban_mule.desk.session import STAGES, Session
from urban_mule.desk.walk import settle
from urban_mule.desk.window import Window

SHOTS = Path(__file__).parent.parent / "docs" / "screenshots"


def main() -> None:
    app = application()
    folder = Path(tempfile.mkdtemp())
    window = Window(Session(build_demo(folder / "courtyard.mule")))
    window.show()
    settle(window.session)
    for stage in STAGES:
        window.show_stage(stage)
        settle(window.session)
        window.grab().save(str(SHOTS / f"{stage.lower()}.png"))
    window.show_stage("Motor")
    window.stage.open_working("temperature_rise")
    QApplication.processEvents()
    window.grab().save(str(SHOTS / "working.png"))
    window.stage.slip.close_slip()
    window.session.show_axis(2)
    window.show_stage("Load")
    window.other_light()
    settle(window.session)
    window.grab().save(str(SHOTS / "night.png"))
    window.other_light()
    dialog = NewAxis(window.session, window)
    dialog.show()
    QApplication.processEvents()
    dialog.grab().save(str(SHOTS / "new-axis.png"))
    dialog.close()
    window.close()
    shutil.rmtree(folder)
    app.quit()


if __name__ == "__main__":
    main()
