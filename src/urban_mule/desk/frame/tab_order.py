"""Where Tab goes: what is typed first, then what follows, what measures, the picture; the tag and the plates last."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtWidgets import QScrollArea, QWidget

if TYPE_CHECKING:
    from urban_mule.desk.frame.window import Window

ROW = 12  # px: what lies no further apart stands in one row


def tab_order(window: Window) -> list[QWidget]:
    """Everything of the window that takes the keys by Tab, in the order in which a hand wants it."""
    stage = window.stack.currentWidget()  # as far as it is built: Qt asks, too, when what has the keys is hidden meanwhile
    know = getattr(stage, "know", None)
    regions = [window.trail, getattr(stage, "round", None), None if know is None else know.parentWidget(),
               *(getattr(stage, name, None) for name in ("follows", "measure", "leaves")), stage, window.tag, window.plates]
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
