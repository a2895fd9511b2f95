"""Refreshes docs/screenshots from the demo: one picture of each main view at 1280x800."""

from __future__ import annotations

import os
import shutil
import sys
import tempfile
from pathlib import Path

from PyQt6.QtCore import QItemSelectionModel
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QWidget

from urban_mule.core.sheet.stages import STAGES
from urban_mule.demo import BRUSH
from urban_mule.demo.courtyard import demo_project
from urban_mule.demo.kept import demo_at
from urban_mule.desk.app import application, blank_project
from urban_mule.desk.frame.listing_window import ListingWindow
from urban_mule.desk.frame.practice_window import PracticeWindow
from urban_mule.desk.frame.window import USUAL, Window
from urban_mule.desk.model.session import Session
from urban_mule.desk.stages.motor.search_window import SearchWindow
from urban_mule.desk.walk import settle, settle_sure
from urban_mule.practice.hiding import lesson_project
from urban_mule.practice.lessons import LESSONS
from urban_mule.store.file.project_file import ProjectFile

SHOTS = Path(__file__).parent.parent / "docs" / "screenshots"
TO = Path(sys.argv[1]) if len(sys.argv) > 1 else SHOTS


LEAVES = (("Brief", "decisions"), ("Moves", "all axes"))
LISTED = """table of the board by the door
 row | drive | what          |   value
  01 |   x   | microsteps    |      16
  02 |   x   | steps per mm  | 40.0000
  03 |   y   | microsteps    |      16
  04 |   y   | steps per mm  | 69.4494
  05 |   z   | microsteps    |      16
  06 |   z   | steps per mm  |     320
"""


def keep(window: Window, name: str, widget: QWidget | None = None) -> None:
    """Save a picture of the window, or of a dialog over it, once everything has come to rest."""
    window.stage.finish()
    settle_sure(window.session)
    QTest.qWait(60)
    settle_sure(window.session)
    (widget or window).grab().save(str(TO / f"{name}.png"))


def listing(window: Window) -> None:
    """A controller's listing, taught by two numbers."""
    beside = ListingWindow(window.session, LISTED, "board.log", window)
    beside.name.setText("the board by the door")
    beside.show()
    for line, at, setting in ((2, 36, "microsteps"), (3, 36, "steps_per_unit")):
        document, cursor = beside.text.document(), beside.text.textCursor()
        assert document is not None
        cursor.setPosition(document.findBlockByNumber(line).position() + at)
        beside.text.setTextCursor(cursor)
        beside.setting.setCurrentIndex(beside.setting.findData(setting))
        beside.setting.activated.emit(beside.setting.currentIndex())
        beside.learn()
        settle_sure(window.session)
    keep(window, "listing", beside)
    beside.close()


def practice(folder: Path) -> None:
    """The debrief of a lesson, with one fault found and one missed."""
    lesson = Window(Session(ProjectFile.create(folder / "lesson.mule", lesson_project(LESSONS[9], demo_project()))))
    lesson.show()
    settle(lesson.session)
    beside = PracticeWindow(lesson.session, lesson)
    beside.show()
    settle(lesson.session)
    beside.beliefs["binding guide"].setChecked(True)
    beside.put_right("heat growth")
    lesson.session.edit(("hidden", "debriefed"), True)
    beside.work()
    settle(lesson.session)
    keep(lesson, "practice", beside)
    beside.close()
    lesson.close()


def beginning(folder: Path) -> None:
    """An empty project, with its three ways to begin."""
    empty = Window(Session(ProjectFile.create(folder / "lantern-rail.mule", blank_project("Lantern rail"))))
    empty.resize(*USUAL)
    empty.show()
    keep(empty, "begin")
    empty.close()


def by_night(folder: Path) -> None:
    """Two motors that move two axes, in the dark colours."""
    brush = Window(Session(demo_at(folder / "brush.mule", BRUSH)))
    brush.resize(*USUAL)
    brush.show()
    settle(brush.session)
    brush.show_stage("Load")
    brush.stage.leaves.turn("both axes")
    brush.other_light()
    keep(brush, "night")
    brush.other_light()
    brush.close()


def main() -> None:
    folder = Path(tempfile.mkdtemp())
    os.environ["XDG_DATA_HOME"] = str(folder)  # what is taught here is nobody's
    app = application()
    window = Window(Session(demo_at(folder / "courtyard.mule")))
    window.resize(*USUAL)
    window.show()
    settle_sure(window.session)
    for stage in STAGES:
        window.show_stage(stage)
        keep(window, stage.lower())
    for stage, leaf in LEAVES:
        window.show_stage(stage)
        window.stage.leaves.turn(leaf)
        keep(window, f"{stage.lower()}-{leaf.replace(' ', '-')}")
        window.stage.leaves.turn(window.stage.leaves.all_words[0])
    window.show_stage("Motor")
    window.stage.open_working("cycle_temperature_rise")
    keep(window, "working")
    window.stage.slip.close_slip()
    search = SearchWindow(window.session, window)
    search.show()
    search.begin()
    settle_sure(window.session)
    for row in range(1, 4):
        search.selection.select(search.model.index(row, 0), QItemSelectionModel.SelectionFlag.Select
                                | QItemSelectionModel.SelectionFlag.Rows)
    keep(window, "search", search)
    search.close()
    listing(window)
    window.show_other(0)
    window.show_stage("Motor")
    keep(window, "spindle")
    window.close()
    practice(folder)
    beginning(folder)
    by_night(folder)
    shutil.rmtree(folder)
    app.quit()


if __name__ == "__main__":
    main()
