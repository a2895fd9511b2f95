"""A tour of the demo in ten stops: where to look, what it shows, what a person does there."""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QWidget

from urban_mule.core.sheet.record import record
from urban_mule.core.sheet.stages import StageName
from urban_mule.desk.kit.painting import Label


@record(frozen=True)
class Stop:
    """A place of the window: axis or spindle by name, stage, leaf; and what is said there."""

    of: str
    stage: StageName
    leaf: str
    said: str


STOPS: tuple[Stop, ...] = (
    Stop("X", "Brief", "goals",
         "Every axis has goals. The bar is what it really reaches, the stroke what is wanted, and beneath it stands what"
         " holds it: on X the path of the shaper. The trail on top climbs where little is left."),
    Stop("X", "Load", "chain",
         "The train as a chain from motor to load. Click a link for its fields. Beneath it: where the torque goes."),
    Stop("X", "Motor", "torque",
         "What the motor can give, and the cycle walked through it. Press Enter on a number to the right: its formula"
         " opens, and every input opens in turn. The beam weighs load against rotor."),
    Stop("Z", "Drive", "current",
         "One current in five languages. On Z the settings assumed another sense resistor: what was meant and what flows"
         " differ. The tag on the right still shows what is on the machine."),
    Stop("Y", "Scale", "all axes",
         "Two motors on one beam. The follower's switches are still as delivered: as it is set now they go apart, and the"
         " walk says what to set, drivers first."),
    Stop("X", "Moves", "ladder",
         "Steps of speed and acceleration until the motor lost steps. What the motor really gives was taken over: Motor calculates"
         " with it since."),
    Stop("X", "Slack", "reversal",
         "Readings from both sides before and after the preload was set. The gap is backlash; the tag holds what is left"
         " to compensate."),
    Stop("X", "Ring", "shapers",
         "Vibration left against acceleration allowed. Drag the point, or move it by the arrow keys: every shaper says"
         " what it leaves of the whole record."),
    Stop("S", "Motor", "curve",
         "A drive that turns a tool has a plate of its own: the cut on the motor's curve, where the mains ends the speed,"
         " and what is left without the fan."),
    Stop("X", "Log", "book",
         "What was set, measured and repaired, what is due, every revision in words. Change something now: it is saved,"
         " the tag says what differs, and Ctrl+Z takes it back. The tour ends here."))


class Tour(QWidget):
    """The line of the tour beneath the stage. go(stop): somebody comes to a stop. left: the tour is over."""

    go = pyqtSignal(object)
    left = pyqtSignal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent, objectName="waiting")
        self.at = 0
        row = QHBoxLayout(self)
        row.setContentsMargins(16, 4, 16, 6)
        self.count, self.said = Label(objectName="heading"), Label(wordWrap=True)
        self.back, self.next, self.end = (QPushButton(word, autoDefault=False) for word in ("Back", "Next stop", "End the tour"))
        self.next.setObjectName("strong")
        self.back.clicked.connect(lambda: self.come_to(self.at - 1))
        self.next.clicked.connect(lambda: self.come_to(self.at + 1))
        self.end.clicked.connect(self.left)
        for widget, share in ((self.count, 0), (self.said, 1), (self.back, 0), (self.next, 0), (self.end, 0)):
            row.addWidget(widget, share, Qt.AlignmentFlag.AlignVCenter)
        self.hide()

    def begin(self) -> None:
        """Come to the first stop."""
        self.show()
        self.come_to(0)
        self.next.setFocus()

    def come_to(self, place: int) -> None:
        """Come to a stop; behind the last one the tour is over."""
        if place >= len(STOPS):
            self.left.emit()
            return
        self.at = max(0, place)
        self.go.emit(STOPS[self.at])
        self.count.setText(f"{self.at + 1} of {len(STOPS)}")
        self.said.setText(STOPS[self.at].said)
        self.back.setEnabled(self.at > 0)
        self.next.setText("Next stop" if self.at + 1 < len(STOPS) else "Done")

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() == Qt.Key.Key_Escape:
            self.left.emit()
        else:
            super().keyPressEvent(event)
