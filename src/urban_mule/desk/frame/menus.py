"""The menus: every action of the window, each with its key."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING, Any

from PyQt6.QtGui import QAction, QKeySequence
from PyQt6.QtWidgets import QMainWindow, QMenu

from urban_mule.core.sheet.stages import STAGES
from urban_mule.desk.model import memory

if TYPE_CHECKING:
    from urban_mule.desk.frame.window import Window


class HistoryAction(QAction):
    """Undo or redo, saying what. The actions that a stack makes itself are deleted twice when their window goes."""

    def __init__(self, window: QMainWindow, word: str, key: QKeySequence.StandardKey, go: Callable[[], object],
                 text: Callable[[], str], able: Callable[[], bool], text_changed: Any, able_changed: Any) -> None:
        super().__init__(word, window)
        self._word = word
        self.setShortcut(QKeySequence(key))
        self.triggered.connect(go)
        text_changed.connect(self._say)
        able_changed.connect(self.setEnabled)
        self._say(text())
        self.setEnabled(able())

    def _say(self, what: str) -> None:
        self.setText(f"{self._word} {what}".strip())


def fill_menus(window: Window) -> None:
    """Put every action into its menu."""
    bar = window.menuBar()
    assert bar is not None
    for name, fill in (("&File", _file_menu), ("&Edit", _edit_menu), ("&View", _view_menu),
                       ("&Help", _help_menu)):
        menu = bar.addMenu(name)
        assert menu is not None
        fill(window, menu)


def _file_menu(window: Window, file: QMenu) -> None:
    _action(window, file, "&New project…", "Ctrl+N", window.files.new_project)
    _action(window, file, "&Open…", "Ctrl+O", window.files.open_project)
    recent = file.addMenu("Open recen&t")
    assert recent is not None
    window.recent = recent
    _action(window, file, "Demo: the mosaic la&yer", "", window.files.open_demo)
    _action(window, file, "A second demo: the glazing &brush, whose two motors move both axes", "", window.files.open_brush)
    _action(window, file, "Save a &copy…", "Ctrl+Shift+S", window.files.save_copy)
    _action(window, file, "Practice on t&his machine", "Ctrl+Shift+P", window.files.practise)
    _action(window, file, "Practice with hidden &faults…", "Ctrl+H", window.files.practise_hidden)
    _action(window, file, "The practice &machine…", "Ctrl+M", window.files.show_practice)
    file.addSeparator()
    _action(window, file, "&Import JSON or CSV…", "Ctrl+I", window.files.import_files)
    _action(window, file, "&Export JSON…", "Ctrl+E", window.files.export_json)
    _action(window, file, "Export readings as CS&V…", "Ctrl+Shift+E", window.files.export_readings)
    file.addSeparator()
    _action(window, file, "Import p&arts…", "Ctrl+Shift+I", window.files.choose_parts)
    _action(window, file, "Export my &parts…", "", window.files.save_parts)
    file.addSeparator()
    _action(window, file, "Temp&lates…", "Ctrl+T", window.files.show_templates)
    _action(window, file, "Read a controller's &settings…", "Ctrl+G", window.files.show_listing)
    _action(window, file, "&Report as PDF and HTML…", "Ctrl+R", window.files.write_report)
    _action(window, file, "Print the ta&gs…", "Ctrl+P", window.files.print_tags)
    _action(window, file, "Print the machine card for the &wall…", "Ctrl+Shift+W", window.files.print_wall_card)
    file.addSeparator()
    _action(window, file, "&Quit", "Ctrl+Q", window.close)
    window.recent.aboutToShow.connect(lambda: _list_recent(window))


def _edit_menu(window: Window, edit: QMenu) -> None:
    stack = window.session.undo_stack
    edit.addAction(HistoryAction(window, "Undo", QKeySequence.StandardKey.Undo, stack.undo, stack.undoText, stack.canUndo,
                                 stack.undoTextChanged, stack.canUndoChanged))
    edit.addAction(HistoryAction(window, "Redo", QKeySequence.StandardKey.Redo, stack.redo, stack.redoText, stack.canRedo,
                                 stack.redoTextChanged, stack.canRedoChanged))
    edit.addSeparator()
    _action(window, edit, "Copy &picture", "Ctrl+Shift+C", window.files.copy_picture)
    _action(window, edit, "Save picture as SVG or P&NG…", "", window.files.save_picture)
    _action(window, edit, "Copy &results as CSV", "", window.files.copy_results)
    edit.addSeparator()
    _action(window, edit, "&Add an axis…", "", window.add_axis)
    _action(window, edit, "Add a &spindle", "", window.add_spindle)
    _action(window, edit, "&Duplicate this axis", "Ctrl+Shift+D", window.duplicate_axis)
    _action(window, edit, "Re&move this axis or spindle", "", window.remove_axis)


def _view_menu(window: Window, view: QMenu) -> None:
    for index, stage in enumerate(STAGES):
        _action(window, view, stage, f"Ctrl+{(index + 1) % 10}", lambda stage=stage: window.show_stage(stage))
    view.addSeparator()
    _action(window, view, "Next axis or spindle", "Ctrl+Down", lambda: window.step_axis(1))
    _action(window, view, "Former axis or spindle", "Ctrl+Up", lambda: window.step_axis(-1))
    view.addSeparator()
    _action(window, view, "Next leaf of the stage", "Ctrl+PgDown", lambda: window.turn_leaf(1))
    _action(window, view, "Former leaf of the stage", "Ctrl+PgUp", lambda: window.turn_leaf(-1))
    view.addSeparator()
    _action(window, view, "&Readings of this axis…", "Ctrl+L", window.show_readings)
    view.addSeparator()
    _action(window, view, "Metric or inch", "Ctrl+U", window.other_units)
    _action(window, view, "Day or night", "Ctrl+D", window.other_light)
    sizes = view.addMenu("Text and pictures as large as")
    assert sizes is not None
    for size in memory.SIZES:
        _action(window, sizes, f"{size} %", "", lambda size=size: window.take_text_size(size))


def _help_menu(window: Window, help_: QMenu) -> None:
    _action(window, help_, "The page of this stage", "F1", lambda: window.show_guide(window.trail.stage.lower()))
    _action(window, help_, "Measuring, step by step", "", lambda: window.show_guide("measuring"))
    _action(window, help_, "Keys and words", "Ctrl+F1", lambda: window.show_guide("keys"))
    help_.addSeparator()
    _action(window, help_, "A &tour of the demo", "", window.files.open_tour)
    help_.addSeparator()
    _action(window, help_, "About and licences", "", window.show_about)


def _list_recent(window: Window) -> None:
    """Fill the list of recent projects when somebody looks at it."""
    window.recent.clear()
    for path in memory.recent_projects():
        _action(window, window.recent, f"{path.stem}   {path.parent}", "", lambda path=path: window.opened.emit(("open", path)))
    if window.recent.isEmpty():
        none = window.recent.addAction("None yet")
        assert none is not None
        none.setEnabled(False)


def _action(window: Window, menu: QMenu, text: str, keys: str, call: Callable[[], object]) -> None:
    action = QAction(text, window)
    if keys:
        action.setShortcut(QKeySequence(keys))
    action.triggered.connect(lambda _checked: call())
    menu.addAction(action)
