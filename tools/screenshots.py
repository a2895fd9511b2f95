"""Refreshes docs/screenshots from the demo: one picture of each main view at 1280x800."""

from __future__ import annotations

import shutil
import tempfile
from pathlib import Path

from PyQt6.QtCore import QItemSelectionModel
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QWidget

from urban_mule.core.sheet.stages import STAGES
from urban_mule.demo.courtyard import build_demo
from urban_mule.desk.app import application
from urban_mule.desk.frame.new_axis import NewAxis
from urban_mule.desk.frame.window import USUAL, Window
from urban_mule.desk.model.session import Session
from urban_mule.desk.stages.motor.search_window import SearchWindow
from urban_mule.desk.walk import settle

SHOTS = Path(__file__).parent.parent / "docs" / "screenshots"


LEAVES = (("Load", "cycle"), ("Motor", "winding"), ("Motor", "spread"), ("Drive", "switches"), ("Drive", "supply"))


def keep(window: Window, name: str, widget: QWidget | None = None) -> None:
    """Save a picture of the window, or of a dialog over it, once everything has come to rest."""
    window.stage.finish()
    settle(window.session)
    QTest.qWait(60)
    settle(window.session)
    (widget or window).grab().save(str(SHOTS / f"{name}.png"))


def main() -> None:
    app = application()
    folder = Path(tempfile.mkdtemp())
    window = Window(Session(build_demo(folder / "courtyard.mule")))
    window.resize(*USUAL)
    window.show()
    settle(window.session)
    for stage in STAGES:
        window.show_stage(stage)
        keep(window, stage.lower())
    for stage, leaf in LEAVES:
        window.show_stage(stage)
        window.stage.leaves.turn(leaf)
        keep(window, f"{stage.lower()}-{leaf}")
        window.stage.leaves.turn(window.stage.leaves.all_words[0])
    window.show_stage("Motor")
    window.stage.open_working("cycle_temperature_rise")
    keep(window, "working")
    window.stage.slip.close_slip()
    search = SearchWindow(window.session, window)
    search.show()
    search.begin()
    settle(window.session)
    for row in range(1, 4):
        search.selection.select(search.model.index(row, 0), QItemSelectionModel.SelectionFlag.Select
                                | QItemSelectionModel.SelectionFlag.Rows)
    keep(window, "search", search)
    search.close()
    window.session.show_axis(1)
    window.show_stage("Load")
    window.other_light()
    keep(window, "night")
    window.other_light()
    dialog = NewAxis(window.session, window)
    dialog.show()
    keep(window, "new-axis", dialog)
    dialog.close()
    window.close()
    shutil.rmtree(folder)
    app.quit()


if __name__ == "__main__":
    main()
