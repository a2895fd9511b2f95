"""What a person does to the window and sees in it, for the journeys."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QComboBox, QLineEdit

from urban_mule.core.sheet.stages import StageName
from urban_mule.desk.frame.window import Window
from urban_mule.desk.kit.field import Field
from urban_mule.desk.model.session import Session
from urban_mule.store.file.project_file import ProjectFile


def type_in(qtbot: Any, field: Field | None, text: str) -> None:
    """What a person does: click, select all, type, Tab."""
    assert field is not None and isinstance(field.editor, QLineEdit)
    field.editor.setFocus()
    field.editor.selectAll()
    qtbot.keyClicks(field.editor, text) if text else qtbot.keyClick(field.editor, Qt.Key.Key_Delete)
    qtbot.keyClick(field.editor, Qt.Key.Key_Return)


def choose(field: Field | None, value: str) -> None:
    assert field is not None and isinstance(field.editor, QComboBox)
    field.editor.setCurrentIndex(field.editor.findData(value))
    field.editor.activated.emit(field.editor.currentIndex())


def shown(window: Window, name: str) -> str:
    return next(row.shown() for row in window.stage.results.rows if row.name == name)


def level(window: Window, check: str) -> str:
    return next(v.level for v in window.session.verdicts() if v.check == check)


def set_all(window: Window, stored: bool = True) -> None:
    """Set it, and say whether it survives a reset where that is asked."""
    window.tag.set_all.click()
    if not window.tag.survives.isHidden():
        (window.tag.survives.stored if stored else window.tag.survives.running).click()


def leaf_of(demo: Path, qtbot: Any, stage: StageName, word: str, axis: int = 0) -> tuple[Window, Any]:
    """The demo's window with a leaf of a stage on top, and the picture on it."""
    window = Window(Session(ProjectFile.open(demo)))
    qtbot.addWidget(window)
    window.resize(1280, 800)
    window.show()
    window.session.show_axis(axis)
    window.show_stage(stage)
    window.stage.leaves.turn(word)
    picture = window.stage.leaves.picture
    picture.bring_up_to_date()
    return window, picture


def practise(window: Window, qtbot: Any, kind: str, **typed: str) -> None:
    """A whole round of a kind on the practice bench, by itself; what it asks about is kept. typed: into fields of its plan."""
    window.stage.open_round(kind)
    view = window.stage.round
    assert view is not None
    for name, text in typed.items():
        view.plan.fields[name].setText(text)
        view.plan.look()
    qtbot.mouseClick(view.plan.start, Qt.MouseButton.LeftButton)
    qtbot.mouseClick(view.machine.practise, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(lambda: view.machine.machine is not None, timeout=20_000)
    view.machine.by_itself.setChecked(True)
    qtbot.mouseClick(view.machine.press, Qt.MouseButton.LeftButton)

    def through() -> bool:
        if window.stage.round is not None and view.question.text():
            qtbot.keyClick(view.editor, Qt.Key.Key_Return)
        return window.stage.round is None

    qtbot.waitUntil(through, timeout=60_000)
