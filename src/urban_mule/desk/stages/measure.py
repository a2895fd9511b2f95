"""Taking readings from the window: a bar with the caution, start, progress and cancel."""

from __future__ import annotations

import zlib
from typing import Any

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QMessageBox, QProgressBar, QPushButton, QWidget

from urban_mule.bench.sessions.kinds import PLAN_KINDS
from urban_mule.bench.sessions.plan import PLANS
from urban_mule.bench.sessions.rounds import Round
from urban_mule.bench.simulated.axis import SimulatedAxis, invented_truth
from urban_mule.core.readings.kinds import reading_kinds
from urban_mule.desk.kit.painting import Label, tip
from urban_mule.desk.model.axes_state import AxisState
from urban_mule.desk.model.session import Session
from urban_mule.desk.model.works import Job
from urban_mule.store.document.readings import READING_MODELS, SIMULATED
from urban_mule.store.file.project_file import now

PRACTISE = ("This is a practice project: the simulated axis that ships with this program makes the readings up. They are marked as"
            " practice wherever they show; they say nothing of a machine.")
PACE = 0.012  # s of real time a simulated move takes, so that progress can be seen and cancelled


class MeasureBar(QWidget):
    """Begin a round, go on with one, import readings; in a practice project have them made up. One session at a time.

    taken(kind): readings came in. round_wanted(kind, round or None): a round is to be planned, or gone on with.
    list_wanted: all readings of the axis are to be looked at. import_wanted(kind): files with readings are to be taken in.
    """

    taken = pyqtSignal(str)
    round_wanted = pyqtSignal(str, object)
    list_wanted = pyqtSignal()
    import_wanted = pyqtSignal(str)

    def __init__(self, session: Session, kinds: tuple[str, ...], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session, self.kinds = session, kinds
        self._job: Job | None = None
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(6)
        self.rounds = {kind: QPushButton() for kind in kinds if kind in PLAN_KINDS}
        for kind, button in self.rounds.items():
            tip(button, f"{reading_kinds()[kind].words}, by hand, step by step: {PLAN_KINDS[kind].tells}")
            button.clicked.connect(lambda _checked, kind=kind: self.round_wanted.emit(kind, self._under_way(kind)))
        self.start = QPushButton("Practise")
        tip(self.start, "Have the simulated axis that ships with this program make readings up")
        self.start.clicked.connect(self.ask)
        self.file = QPushButton("Import CSV…")
        self.file.clicked.connect(lambda: self.import_wanted.emit(self.kind))
        self.bar = QProgressBar(textVisible=False)
        self.bar.setAccessibleName("Progress of the session")
        self.cancel = QPushButton("Cancel")
        self.cancel.clicked.connect(self.stop)
        self.note = Label(objectName="label", wordWrap=True)
        self.list = QPushButton("Readings…")
        tip(self.list, "All readings of this axis: look, strike out, set aside, compare (Ctrl+L)")
        self.list.clicked.connect(self.list_wanted)
        for widget in (*self.rounds.values(), self.start, self.file, self.list, self.cancel):
            row.addWidget(widget)
        row.addWidget(self.bar, 1)
        row.addWidget(self.note, 3)
        self._running(False)

    @property
    def kind(self) -> str:
        """The kind that stands first here, and that the simulated axis makes up."""
        return self.kinds[0]

    def begin_here(self) -> None:
        """Put the cursor on what takes readings here."""
        first = next((button for button in (*self.rounds.values(), self.start, self.file) if not button.isHidden()), self.file)
        first.setFocus()

    def _under_way(self, kind: str) -> Round | None:
        """The round of a kind that was begun on the shown axis and not ended."""
        name = self.session.axis.name
        return next((one for one in self.session.rounds if one.kind == kind and one.axis == name), None)

    def refresh(self) -> None:
        """Say which rounds are under way on the shown axis."""
        for kind, button in self.rounds.items():
            under_way = self._under_way(kind)
            take = "Take " if kind == next(iter(self.rounds)) else ""
            button.setText(f"{take}{kind}…" if under_way is None else f"Go on: {kind}, {len(under_way.taken)} taken")
        self.start.setVisible(bool(self.session.project.practice) and self.kind in PLANS and self._job is None)

    def _running(self, running: bool) -> None:
        for button in (*self.rounds.values(), self.file, self.list):
            button.setVisible(not running)
        self.cancel.setVisible(running)
        self.bar.setVisible(running)
        if not running:
            self._job = None
        self.refresh()
        if running:
            self.start.hide()

    def ask(self) -> None:
        """Say what would be written into this project, each time, before it is."""
        box = QMessageBox(QMessageBox.Icon.NoIcon, "Practice readings", PRACTISE, QMessageBox.StandardButton.NoButton, self)
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
