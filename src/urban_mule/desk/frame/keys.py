"""The keys of the window: where Tab goes, and what Enter presses."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QEvent, QPoint, Qt
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QAbstractButton, QApplication, QMainWindow, QScrollArea, QWidget

ROW = 12  # px: what lies no further apart stands in one row


def tab_order(window: Any) -> list[QWidget]:
    """Everything of the window that takes the keys by Tab, in the order in which a hand wants it: what is typed first, then what
    follows, the picture, what measures; the tag and the plates last. window: with trail, stack, tag and plates.
    """
    stage = window.stack.currentWidget()  # as far as it is built: Qt asks, too, when what has the keys is hidden meanwhile
    know = getattr(stage, "know", None)
    regions = [window.trail, getattr(stage, "round", None), getattr(stage, "fields", None),
               None if know is None else know.parentWidget(),
               *(getattr(stage, name, None) for name in ("follows", "leaves", "measure")), stage, window.tag, window.plates]
    found: list[QWidget] = []
    one: QWidget | None = window.nextInFocusChain()
    while one is not None and one is not window:
        if one.focusPolicy() & Qt.FocusPolicy.TabFocus and one.isVisible() and one.isEnabled() and one.focusProxy() is None:
            found.append(one)
        one = one.nextInFocusChain()

    def place(widget: QWidget) -> tuple[int, ...]:
        region = next((n for n, part in enumerate(regions) if part is not None and (part is widget or part.isAncestorOf(widget))),
                      len(regions))
        area = widget.parentWidget()
        while area is not None and not isinstance(area, QScrollArea):
            area = area.parentWidget()
        inner = None if area is None else area.widget()
        whole = widget if area is None or inner is None or inner is widget else area  # what is scrolled keeps its order
        at = whole.mapTo(window, QPoint(0, 0))
        within = QPoint(0, 0) if whole is widget or inner is None else widget.mapTo(inner, QPoint(0, 0))
        return region, at.y() // ROW, at.x(), within.y() // ROW, within.x()

    return sorted((one for one in found if one.window() is window), key=place)


def give_keys(widget: QWidget, reason: Qt.FocusReason) -> None:
    """Put the keys on a widget, and have it seen."""
    widget.setFocus(reason)
    around = widget.parentWidget()
    while around is not None:
        if isinstance(around, QScrollArea):
            around.ensureWidgetVisible(widget)
        around = around.parentWidget()


class KeyedWindow(QMainWindow):
    """A window whose Tab goes by regions and whose Enter presses the button that has the keys."""

    _meant: QWidget | None = None

    def focusNextPrevChild(self, onward: bool) -> bool:
        """Tab and its way back go by regions, not by what was built first."""
        order, now = tab_order(self), QApplication.focusWidget()
        if not order:
            return super().focusNextPrevChild(onward)
        step = 1 if onward else -1
        at = order.index(now) + step if now in order else 0
        reason = Qt.FocusReason.TabFocusReason if onward else Qt.FocusReason.BacktabFocusReason
        give_keys(order[at % len(order)], reason)
        return True

    def event(self, event: QEvent | None) -> bool:
        """Before a key press comes to anybody it is asked whether it is a shortcut: whoever has the keys then is meant by it."""
        if event is not None and event.type() == QEvent.Type.ShortcutOverride:
            self._meant = QApplication.focusWidget()
        return super().event(event)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Enter presses a button that has the keys, as Space does; not one to which this very press has moved them."""
        button = QApplication.focusWidget()
        pressed = event is not None and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter)
        if pressed and isinstance(button, QAbstractButton) and button is self._meant and button.window() is self:
            button.click()
            return
        super().keyPressEvent(event)
