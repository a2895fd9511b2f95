"""Taking readings from the window: a bar with the caution, start, progress and cancel."""

from __future__ import annotations

import zlib
from pathlib import Path
from typing import Any

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QFileDialog, QHBoxLayout, QMessageBox, QProgressBar, QPushButton, QWidget

from urban_mule.bench.sessions.plan import PLANS
from urban_mule.bench.simulated.axis import SimulatedAxis, invented_truth
from urban_mule.core.readings.kinds import reading_kinds
from urban_mule.desk.kit.painting import Label, tip
from urban_mule.desk.model.axes_state import AxisState
from urban_mule.desk.model.session import Session
from urban_mule.desk.model.works import Job
from urban_mule.store.document.readings import READING_MODELS, SIMULATED
from urban_mule.store.exchange.csv_readings import read_csv
from urban_mule.store.file.project_file import now

PRACTISE = ("No device is connected. The simulated axis that ships with this program can make readings up for practice. They are"
            " kept with axis {} and marked as practice wherever they show; they say nothing of your machine. To take in real"
            " readings, import them as CSV.")
PACE = 0.012  # s of real time a simulated move takes, so that progress can be seen and cancelled


class MeasureBar(QWidget):
    """Take readings on the simulated axis or import them; one session at a time."""

    taken = pyqtSignal(str)

    def __init__(self, session: Session, kind: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session, self.kind = session, kind
        self._job: Job | None = None
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(8)
        self.start = QPushButton(f"Take {reading_kinds()[kind].words}")
        tip(self.start, "For practice: on the simulated axis that ships with this program")
        self.start.clicked.connect(self.ask)
        self.file = QPushButton("Import CSV…")
        self.file.clicked.connect(self.choose_file)
        self.bar = QProgressBar(textVisible=False)
        self.bar.setAccessibleName("Progress of the session")
        self.cancel = QPushButton("Cancel")
        self.cancel.clicked.connect(self.stop)
        self.note = Label(objectName="label", wordWrap=True)
        for widget in (self.start, self.file, self.cancel):
            row.addWidget(widget)
        row.addWidget(self.bar, 1)
        row.addWidget(self.note, 3)
        self._running(False)

    def _running(self, running: bool) -> None:
        self.start.setVisible(not running)
        self.file.setVisible(not running)
        self.cancel.setVisible(running)
        self.bar.setVisible(running)

    def ask(self) -> None:
        """Say what would be written into this project, each time, before it is."""
        box = QMessageBox(QMessageBox.Icon.NoIcon, "Practice readings", PRACTISE.format(self.session.axis.name),
                          QMessageBox.StandardButton.NoButton, self)
        box.setTextFormat(Qt.TextFormat.PlainText)
        box.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        box.addButton("Leave it", QMessageBox.ButtonRole.RejectRole)
        yes = box.addButton("Practise", QMessageBox.ButtonRole.AcceptRole)
        box.buttonClicked.connect(lambda button: self.begin() if button is yes else None)
        box.open()

    def begin(self) -> None:
        """Run the session on the simulated axis."""
        axis, begun = self.session.axis, self.session.state
        if axis.travel is None:
            self.note.setText("Give the travel of the axis first (on the Brief).")
            return
        seed = zlib.crc32(f"{self.session.project.name} {axis.name}".encode())
        solution = self.session.solution.own()
        machine = SimulatedAxis(solution, invented_truth(seed, len(axis.readings)), PACE)
        plan, travel, count = PLANS[self.kind], axis.travel, len(axis.readings)
        self.note.setText("Keep a hand on the stop.")
        self._running(True)
        self._job = self.session.works.run(
            ("taking readings", id(self)), self,
            lambda progress: self._reading(axis.name, plan(machine, travel, seed + count, progress)),
            lambda reading: self._finished(begun, reading), self._failed, self._moved)

    def _moved(self, done: int, total: int) -> None:
        self.bar.setRange(0, total if done or total > 1 else 0)
        self.bar.setValue(done)

    def _reading(self, axis: str, data: dict[str, Any]) -> Any:
        reading = READING_MODELS[self.kind].model_validate({
            "kind": self.kind, **data, "taken": now().isoformat(timespec="seconds"), "device": SIMULATED, "source": "practice"})
        return self.session.kept(reading, axis)

    def _finished(self, begun: AxisState, reading: Any) -> None:
        self._running(False)
        if not self.session.add_reading(reading, begun):
            return
        self.note.setText("Practice readings, made up by the simulated axis; saved with the project and marked so.")
        self.taken.emit(self.kind)

    def _failed(self, why: str) -> None:
        self._running(False)
        self.note.setText(f"Stopped: {why}." if why else "Cancelled; nothing was kept.")

    def stop(self) -> None:
        """Cancel the running session."""
        if self._job is not None:
            self._job.cancel()

    def choose_file(self) -> None:
        words = reading_kinds()[self.kind].words
        name, _ = QFileDialog.getOpenFileName(self, f"Import {words}", "", "CSV (*.csv *.txt);;All files (*)")
        if name:
            self.take_file(Path(name))

    def take_file(self, path: Path) -> None:
        """Import a CSV in the background; a fault is one sentence and changes nothing."""
        kind, begun = self.kind, self.session.state
        self.session.works.run(
            ("reading", path.name), self, lambda _progress: self.session.kept(read_csv(path, kind), begun.axis.name),
            lambda reading: self._imported(path, begun, reading), self.note.setText)

    def _imported(self, path: Path, begun: AxisState, reading: Any) -> None:
        if not self.session.add_reading(reading, begun):
            return
        self.note.setText(f"{path.name}: {reading.kind} readings taken in.")
        self.taken.emit(reading.kind)
