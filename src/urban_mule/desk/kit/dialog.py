"""A dialog in which Enter presses the button that has the keys, whichever Enter presses else."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QApplication, QDialog, QPushButton


class Dialog(QDialog):
    """Of a button that is not to be the default one Qt has Enter press the default instead, which may take and close everything."""

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        button = QApplication.focusWidget()
        pressed = event is not None and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter)
        if pressed and isinstance(button, QPushButton) and button.window() is self:
            button.click()
        else:
            super().keyPressEvent(event)
