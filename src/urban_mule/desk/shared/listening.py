"""The row of a round that takes numbers from an indicator on a wire: its port, whether it listens, what it last said."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import QTimer, pyqtSignal
from PyQt6.QtGui import QHideEvent
from PyQt6.QtWidgets import QHBoxLayout, QLineEdit, QPushButton, QWidget

from urban_mule.bench.wire.listener import Heard, listen
from urban_mule.bench.wire.ports import Port, open_port
from urban_mule.desk.kit.painting import Label, tip
from urban_mule.desk.model import memory
from urban_mule.desk.model.scope import Scope

if TYPE_CHECKING:
    from urban_mule.desk.model.works import Job

PORT = "port"
BY_ITSELF = 0.6  # s between two numbers below which nobody pressed a key for each
LOOKS = 40  # ms between two looks at what came
OPENING = "Opening the port…"


class ListeningRow(QWidget):
    """heard(number): a person pressed the indicator's key. shown(number): it sends by itself; Enter takes what stands there."""

    heard = pyqtSignal(str)
    shown = pyqtSignal(str)

    def __init__(self, session: Scope, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session, self._job, self._heard = session, None, Heard(BY_ITSELF)
        self._looks = QTimer(self, interval=LOOKS)
        self._looks.timeout.connect(self._look)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        self.port = QLineEdit(accessibleName="Port of the indicator", placeholderText="/dev/ttyUSB0 or socket://127.0.0.1:4000")
        kept = memory.recalled().get(PORT)
        self.port.setText(kept if isinstance(kept, str) else "")
        self.port.setMaximumWidth(280)
        self.button = QPushButton("Listen", autoDefault=False)
        tip(self.button, "Take the numbers that an indicator sends, one a line, as if they were typed")
        self.button.clicked.connect(self.turn)
        self.port.returnPressed.connect(self.turn)
        self.said = Label(objectName="label", wordWrap=True)
        row.addWidget(Label("or from an indicator that sends its number", objectName="label"))
        row.addWidget(self.port)
        row.addWidget(self.button)
        row.addWidget(self.said, 1)

    _job: Job | None

    def turn(self) -> None:
        """Begin to listen, or stop."""
        if self._job is not None:
            self.stop()
            return
        address = self.port.text().strip()
        memory.keep(**{PORT: address})
        heard = self._heard = Heard(BY_ITSELF)

        def work(progress: object) -> None:
            port: Port = open_port(address)
            heard.open = True
            listen(port, heard.number, heard.spoilt, lambda: bool(progress(0, 0)))  # type: ignore[operator]

        self.button.setText("Stop listening")
        self.port.setEnabled(False)
        self.said.setText(OPENING)
        self._looks.start()
        self._job = self.session.works.run(("listening", id(self)), self, work, lambda _none: self._ended(""), self._ended)

    def stop(self) -> None:
        """Listen no more."""
        if self._job is not None:
            self._job.cancel()

    def hideEvent(self, event: QHideEvent | None) -> None:
        """Nobody sees what would be taken: it listens no more."""
        self.stop()
        super().hideEvent(event)

    def _look(self) -> None:
        """Take over what came since; a device that sends faster than this is looked at no oftener."""
        if self._heard.open and self.said.text() == OPENING:  # what was sent before is lost, so that nobody may be told earlier
            self.said.setText("Listening; press the key of the indicator for each number.")
        numbers, spoilt = self._heard.taken()
        for number in numbers:
            if self._job is None or self._job.cancelled:
                return
            if self._heard.streams:
                self.said.setText("It sends by itself; Enter takes what stands there.")
                self.shown.emit(number)
            else:
                self.said.setText(f"It sent {number}.")
                self.heard.emit(number)
        if spoilt is not None:
            self.said.setText(f"It sent {spoilt}, which is no number; nothing was taken.")

    def _ended(self, why: str) -> None:
        """It was stopped, or the device is gone: the round waits, nothing is lost."""
        self._look()
        self._looks.stop()
        self._job = None
        self.button.setText("Listen")
        self.port.setEnabled(True)
        self.said.setText(f"{why[:1].upper()}{why[1:]}. The round waits: type, or plug it in and listen again." if why else "")
