"""The first ten minutes by keyboard alone: from an empty window to a sized motor, for each kind of train, every key counted."""

from __future__ import annotations

import re
from pathlib import Path
from typing import Any

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication, QLineEdit, QRadioButton, QTableView, QWidget

from urban_mule.desk.app import application, blank_project
from urban_mule.desk.frame.new_axis import COLUMNS, NewAxis
from urban_mule.desk.frame.window import Window
from urban_mule.desk.model.session import Session
from urban_mule.desk.stages.motor.search_window import SearchWindow
from urban_mule.store.beginning import KINDS_OF_AXIS
from urban_mule.store.file.project_file import ProjectFile

ROOT = Path(__file__).parents[2]
QUESTIONS = {  # what moves, travel, speed, acceleration; then what makes the train whole
    "screw": (("6", "400", "0.2", "2"), ("10", "16", "500")), "toothed belt": (("5", "800", "0.3", "2"), ("3", "20")),
    "rack and pinion": (("10", "1500", "0.4", "2"), ("1.5", "20")), "feed roller": (("0.5", "1000", "0.1", "1"), ("12",)),
    "table, geared": (("0.05", "360", "90", "360"), ("10",)), "table, worm": (("0.08", "360", "30", "90"), ("20",)),
    "table, direct": (("0.0004", "360", "90", "360"), ())}
COUNTED = re.compile(r"^\| (?P<kind>[^|]+) \| (?P<numbers>\d+) \| (?P<keys>\d+) \|$", re.MULTILINE)


class Hands:
    """What is typed and pressed, counted."""

    def __init__(self, qtbot: Any) -> None:
        self.qtbot, self.numbers, self.keys = qtbot, 0, 0

    @property
    def here(self) -> QWidget:
        found = QApplication.focusWidget()
        assert found is not None
        return found

    def press(self, key: Qt.Key) -> None:
        self.keys += 1
        self.qtbot.keyClick(self.here, key)

    def type(self, text: str) -> None:
        assert isinstance(self.here, QLineEdit), self.here
        self.numbers += 1
        self.qtbot.keyClicks(self.here, text)


def dialog(window: Window, kind: type) -> Any:
    return next((one for one in window.findChildren(kind) if one.isVisible()), None)


@pytest.mark.parametrize("kind", [pytest.param(one.words, marks=[pytest.mark.long] if n % 3 else []) for n, one in enumerate(
    KINDS_OF_AXIS)])
def test_from_an_empty_window_to_a_sized_motor_by_keys_alone(qtbot: Any, tmp_path: Path, kind: str) -> None:
    application()
    window = Window(Session(ProjectFile.create(tmp_path / "first.mule", blank_project("Lantern rail"))))
    qtbot.addWidget(window)
    window.show()
    window.activateWindow()
    hands = Hands(qtbot)
    qtbot.waitUntil(lambda: QApplication.focusWidget() is not None and "three questions" in getattr(hands.here, "text", str)())
    hands.press(Qt.Key.Key_Return)
    qtbot.waitUntil(lambda: isinstance(QApplication.focusWidget(), QRadioButton))
    down, right = divmod([one.words for one in KINDS_OF_AXIS].index(kind), COLUMNS)
    for key in [Qt.Key.Key_Right] * right + [Qt.Key.Key_Down] * down:
        hands.press(key)
    assert hands.here.text() == kind  # type: ignore[attr-defined]
    asked, sizes = QUESTIONS[kind]
    while not isinstance(hands.here, QLineEdit):
        hands.press(Qt.Key.Key_Tab)
    for number, text in enumerate(asked):
        if number:
            hands.press(Qt.Key.Key_Tab)
        hands.type(text)
    hands.press(Qt.Key.Key_Return)
    for number, text in enumerate(sizes):
        if number:
            hands.press(Qt.Key.Key_Tab)
        hands.type(text)
    if sizes:
        hands.press(Qt.Key.Key_Return)
    assert dialog(window, NewAxis) is None
    found = dialog(window, SearchWindow)
    qtbot.waitUntil(lambda: found.found is not None and isinstance(QApplication.focusWidget(), QTableView), timeout=30_000)
    assert found.model.rows, (kind, found.headline.text())
    hands.press(Qt.Key.Key_Return)
    qtbot.waitUntil(lambda: dialog(window, SearchWindow) is None)
    axis, solution = window.session.axis, window.session.solution
    assert [one.name for one in window.session.project.axes] == ["X"] and window.trail.stage == "Motor"
    assert solution["working_margin"] >= 1.5 and axis.motor.name and axis.driver.name and window.session.project.supply_voltage
    assert window.session.project.supply_power > 0, "motor, driver and supply in one step"
    short = [v.sentence for v in window.session.verdicts("Drive") if v.level == "short"]
    assert not short, "what was taken together works together"
    counted = {one["kind"]: (int(one["numbers"]), int(one["keys"])) for one in COUNTED.finditer((ROOT / "README.md").read_text())}
    assert hands.numbers <= counted[kind][0] and hands.keys <= counted[kind][1], (kind, hands.numbers, hands.keys)
    window.session.undo_stack.undo()
    assert not window.session.axis.motor.name and window.session.axis.driver is None
    window.close()
