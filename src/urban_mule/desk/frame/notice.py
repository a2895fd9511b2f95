"""A line at the foot of the window for what is good to know and needs no answer; it goes by itself."""

from __future__ import annotations

from PyQt6.QtCore import QTimer, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QWidget

from urban_mule.desk.kit.painting import Label

STAYS = 15_000  # ms


class Notice(QWidget):
    """One sentence, and where it leads. followed(stage): somebody wants to see it."""

    followed = pyqtSignal(str)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent, objectName="waiting")
        row = QHBoxLayout(self)
        row.setContentsMargins(16, 2, 16, 4)
        self.said = Label(objectName="label", wordWrap=True)
        self.show_it, self.close_it = (QPushButton(text, objectName="plain") for text in ("Show it", "Close"))
        self.show_it.clicked.connect(self._follow)
        self.close_it.clicked.connect(self.hide)
        for widget, share in ((self.said, 1), (self.show_it, 0), (self.close_it, 0)):
            row.addWidget(widget, share)
        self._stage = ""
        self._gone = QTimer(self, singleShot=True, interval=STAYS)
        self._gone.timeout.connect(self.hide)
        self.hide()

    def say(self, sentence: str, stage: str = "") -> None:
        """Say this; stage: where it is seen, if anywhere."""
        self._stage = stage
        self.said.setText(sentence)
        self.setAccessibleName(sentence)
        self.show_it.setVisible(bool(stage))
        self.show()
        self._gone.start()

    def _follow(self) -> None:
        self.hide()
        self.followed.emit(self._stage)
