"""A user who does anything in any order, and opens other projects: no exception, no word of Qt's, no long action, no growth."""

from __future__ import annotations

import gc
import os
import random
import sys
import time
from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import QEvent, QMessageLogContext, Qt, QtMsgType, qInstallMessageHandler
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QComboBox, QDialog, QLineEdit, QPlainTextEdit, QPushButton, QWidget

from urban_mule.core.sheet.stages import STAGES
from urban_mule.demo.kept import demo_at
from urban_mule.desk.app import Desk, application, give_back
from urban_mule.desk.frame.guide import PAGES
from urban_mule.desk.frame.window import Window
from urban_mule.desk.kit.field import Field

LONGEST, GROWTH, WARM_UP, ANOTHER = 1.0, 1.10, 60.0, 0.004  # s an action; memory at the end over that after the first
# minute [s]; how often another project is opened
TYPED = ("1", "12 mm", "0,5", "-3", "abc", "", "1e9", "1/8 in", "1,2,3", "±", "7 ± 5 %", "NaN", "9" * 80, "\u202e", "<b>x</b>", "0")
LISTED = ("X steps 40\nY steps 80", "§ x\n1 | steps | 44,4\n§ y\n1 | steps | 0x1F\n", "{axis}{number}{…}", "1" * 3000,
          "a = \u0660\n\0")
KEYS = (Qt.Key.Key_Tab, Qt.Key.Key_Return, Qt.Key.Key_Escape, Qt.Key.Key_Up, Qt.Key.Key_Down, Qt.Key.Key_Left, Qt.Key.Key_Right,
        Qt.Key.Key_Space, Qt.Key.Key_Backspace, Qt.Key.Key_F9, Qt.Key.Key_Home, Qt.Key.Key_Delete)
LEFT_ALONE = (  # what opens a dialog of files, a process, a port
    "Practice bench", "Import CSV…", "Print", "Report", "Save", "Write CSV", "Read CSV", "Write what", "Write it…", "Listen",
    "Connect", "Search", "Export",
    "Photograph", "Table as CSV", "Draw on")


def random_user(folder: Path, seconds: int, seed: int, longest: float = LONGEST) -> str:
    """Act so long. Raises AssertionError for an exception, a message of Qt's, an action that takes long, memory that grows."""
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    app, rng, faults = application(), random.Random(seed), list[str]()
    kept, sys.excepthook = sys.excepthook, lambda kind, error, _trace: faults.append(f"{kind.__name__}: {error}")
    heard = qInstallMessageHandler(lambda kind, where, said: _qt_says(faults, kind, where, said))
    desk, opened = Desk(), 1
    window = desk.show(demo_at(folder / "user.mule"))
    QTest.qWait(50)
    begun, slow, done, first, names = time.monotonic(), ("", 0.0), 0, 0.0, list(ACTIONS)
    try:
        while time.monotonic() - begun < seconds:
            name, other = rng.choice(names), None
            if rng.random() < ANOTHER:
                name, opened = "another project", opened + 1
                other = demo_at(folder / f"user{opened}.mule")
            at = time.monotonic()
            if other is not None:
                what = f"number {opened}"
                _close(window, rng)
                window = desk.show(other)
            else:
                what = ACTIONS[name](window, rng)
            app.processEvents()
            spent = time.monotonic() - at
            slow = max(slow, (name, spent), key=lambda one: one[1])
            assert spent < longest, (name, what, spent, done)
            assert not faults, (name, what, faults, done)
            done += 1
            if done % 200 == 0:
                gc.collect()
                app.sendPostedEvents(None, QEvent.Type.DeferredDelete.value)
                if not first and time.monotonic() - begun > WARM_UP:
                    first = _memory(window)
        last = _memory(window)
        assert not first or last < GROWTH * first, (first, last)
    finally:
        sys.excepthook = kept
        qInstallMessageHandler(heard)
        for dialog in window.findChildren(QDialog):
            dialog.close()
        window.close()
    grown = f"memory {first / 1e6:.0f} to {last / 1e6:.0f} MB"
    return f"{done} actions in {opened} projects, the slowest {slow[0]} {slow[1]:.2f} s, {grown}"


def _qt_says(faults: list[str], _kind: QtMsgType, _where: QMessageLogContext, said: str | None) -> None:
    if said and "This plugin does not support" not in said:  # what a platform without a screen always says
        faults.append(f"Qt: {said}")


def _memory(window: Window) -> float:
    """What the process holds in the same state every time: no dialog, no round, the first axis on its first stage."""
    _close(window, random.Random(0))
    window.stage.close_round()
    window.session.show_axis(0)
    window.show_stage("Brief")
    for _ in range(3):
        QApplication.processEvents()
        QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete.value)
        gc.collect()
    give_back()
    return float(Path("/proc/self/statm").read_text(encoding="ascii").split()[1]) * os.sysconf("SC_PAGE_SIZE")


def _top(window: Window) -> QWidget:
    """The dialog on top, else the window."""
    dialogs = [one for one in window.findChildren(QDialog) if one.isVisible()]
    return dialogs[-1] if dialogs else window


def _stage(window: Window, rng: random.Random) -> None:
    window.show_stage(rng.choice(STAGES))


def _axis(window: Window, rng: random.Random) -> None:
    window.show_axis(rng.randrange(len(window.session.project.axes)))


def _spindle(window: Window, rng: random.Random) -> None:
    """A drive that turns a tool: another one, one more, one less."""
    there = len(window.session.project.spindles or ())
    if not there or (there < 3 and rng.random() < 0.1):
        window.add_spindle()
    else:
        window.show_other(rng.randrange(there))
        if rng.random() < 0.1:
            window.remove_axis()


def _beside(window: Window, rng: random.Random) -> None:
    """A window beside the window, or the next stop of the tour."""
    rng.choice((lambda: window.show_guide(rng.choice([*PAGES])), window.begin_tour, window.files.show_templates,
                lambda: window.files.show_listing(rng.choice(LISTED)), window.show_readings))()


def _text(window: Window, rng: random.Random) -> None:
    texts = [one for one in _top(window).findChildren(QPlainTextEdit) if one.isVisible() and not one.isReadOnly()]
    for text in texts[:1]:
        text.setPlainText(rng.choice((*TYPED, *LISTED)))
        cursor = text.textCursor()
        cursor.setPosition(rng.randrange(len(text.toPlainText()) + 1))
        text.setTextCursor(cursor)


def _leaf(window: Window, rng: random.Random) -> None:
    window.stage.leaves.turn(rng.choice(window.stage.leaves.all_words))


def _type(window: Window, rng: random.Random) -> None:
    fields = [one for one in window.stage.findChildren(Field) if isinstance(one.editor, QLineEdit) and one.isVisible()]
    if fields:
        field = rng.choice(fields)
        field.editor.setText(rng.choice(TYPED))
        field.editor.setModified(True)
        QTest.keyClick(field.editor, rng.choice(KEYS))


def _line(window: Window, rng: random.Random) -> None:
    lines = [one for one in _top(window).findChildren(QLineEdit) if one.isVisible() and one.isEnabled()]
    if lines:
        line = rng.choice(lines)
        line.setText(rng.choice(TYPED))
        QTest.keyClick(line, rng.choice((Qt.Key.Key_Return, Qt.Key.Key_Tab)))


def _choose(window: Window, rng: random.Random) -> None:
    boxes = [one for one in _top(window).findChildren(QComboBox) if one.isVisible() and one.count() and one.isEnabled()]
    if boxes:
        box = rng.choice(boxes)
        box.setCurrentIndex(rng.randrange(box.count()))
        box.activated.emit(box.currentIndex())


def _press(window: Window, rng: random.Random) -> str:
    buttons = [one for one in _top(window).findChildren(QPushButton) if one.isVisible() and one.isEnabled()
               and not one.text().startswith(LEFT_ALONE)]
    if not buttons:
        return ""
    button = rng.choice(buttons)
    said = button.text() or button.accessibleName()
    button.click()
    return said


def _key(window: Window, rng: random.Random) -> None:
    target = QApplication.focusWidget() or window
    QTest.keyClick(target, rng.choice(KEYS))


def _undo(window: Window, rng: random.Random) -> None:
    stack = window.session.undo_stack
    stack.redo() if rng.random() < 0.3 else stack.undo()


def _round(window: Window, rng: random.Random) -> None:
    measure = window.stage.measure
    if window.stage.round is None and measure is not None:
        window.stage.open_round(rng.choice(measure.kinds))
    elif window.stage.round is not None and rng.random() < 0.2:
        window.stage.close_round()


def _close(window: Window, _rng: random.Random) -> None:
    for dialog in window.findChildren(QDialog):
        dialog.close()


def _clean(window: Window, _rng: random.Random) -> None:
    """Axes do not pile up for ever: back to where it began."""
    if len(window.session.project.axes) > 8:
        window.session.undo_stack.setIndex(0)


ACTIONS: dict[str, Callable[[Window, random.Random], str | None]] = {
    "stage": _stage, "axis": _axis, "leaf": _leaf, "type": _type, "line": _line, "choose": _choose, "press": _press, "key": _key,
    "undo": _undo, "round": _round, "close": _close, "clean": _clean, "type again": _type, "press again": _press,
    "spindle": _spindle, "beside": _beside, "text": _text}
