"""The row of a round that has a machine on a wire carry out a step: its port, the press for exactly that move, the caution."""

from __future__ import annotations

import sys
import time
from collections.abc import Callable
from typing import TYPE_CHECKING, Any

from PyQt6 import sip
from PyQt6.QtCore import QProcess, QTimer, pyqtSignal
from PyQt6.QtGui import QHideEvent
from PyQt6.QtWidgets import QCheckBox, QComboBox, QHBoxLayout, QLineEdit, QPushButton, QVBoxLayout, QWidget

from urban_mule.bench.devices import RESTING, DeviceError
from urban_mule.bench.sessions.carried import carry_out
from urban_mule.bench.sessions.rounds import PlanAxis, Step
from urban_mule.bench.wire.client import WireMachine
from urban_mule.bench.wire.ports import open_port
from urban_mule.desk.kit.painting import Label, tip
from urban_mule.desk.model import memory
from urban_mule.desk.model.scope import Scope
from urban_mule.desk.shared.plan_page import minutes
from urban_mule.store.document.edit import edited
from urban_mule.store.exchange.open_json import export_project

if TYPE_CHECKING:
    from urban_mule.core.sheet.progress import Progress
    from urban_mule.desk.model.works import Job

PORT = "bench_port"
CAUTION = ("It moves at this press: nobody and nothing in its way, a hand on the stop that removes the power. Stop here only asks"
           " the machine to stop.")
MADE_UP = "The practice bench moves nothing and makes its numbers up; they are marked as practice wherever they show."
SAID_FROM = 5.0  # s that a record takes to come, from which on it is said
GONE_WITHIN = 500  # ms that a killed process may take to be gone; it takes a few
PACES = {"a move in 0.25 s": "0.25", "a move at once": "0", "a move in 1 s": "1", "a move in 4 s": "4"}
PRACTICE_BENCH = ("-m", "urban_mule", "practice-bench", "-")


class MachineRow(QWidget):
    """got(number or record, practice): what came of a step. joined: whether a machine is connected now. doubtful: asked before a
    step is begun by itself.
    """

    got = pyqtSignal(object, bool)
    joined = pyqtSignal(bool)

    def __init__(self, session: Scope, axis: Any, plan_axis: PlanAxis, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session, self.axis, self.plan_axis = session, axis, plan_axis
        self.machine: WireMachine | None = None
        self.doubtful: Callable[[], bool] = lambda: False
        self.second = ""  # name of the other axis of a round of two
        self._job: Job | None = None
        self._bench: QProcess | None = None
        self._step: Step | None = None
        self._powered, self._due = False, 0.0
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(4)
        box.addLayout(self._port_row())
        box.addWidget(self._press_row())
        self._stand()

    def _port_row(self) -> QHBoxLayout:
        row = QHBoxLayout()
        self.port = QLineEdit(accessibleName="Port of the machine bench", placeholderText="/dev/ttyACM0 or socket://127.0.0.1:4000")
        kept = memory.recalled().get(PORT)
        self.port.setText(kept if isinstance(kept, str) else "")
        self.port.setMaximumWidth(280)
        self.port.returnPressed.connect(self.connect_or_leave)
        self.join = QPushButton("Connect", autoDefault=False)
        tip(self.join, "A machine that speaks the bench protocol, see docs/bench-protocol.md")
        self.join.clicked.connect(self.connect_or_leave)
        self.practise = QPushButton("Practice bench", autoDefault=False)
        tip(self.practise, "Start the simulated axis that ships with this program, as a process of its own")
        self.practise.clicked.connect(self.start_practice)
        self.pace = QComboBox(accessibleName="How long a move of the practice bench takes before your eyes")
        self.pace.addItems(PACES)
        if not self.session.project.practice:
            self.practise.hide()
            self.pace.hide()
        self.said = Label(objectName="label", wordWrap=True)
        for widget in (Label("or by a machine on a wire", objectName="label"), self.port, self.join, self.practise, self.pace):
            row.addWidget(widget)
        row.addWidget(self.said, 1)
        return row

    def _press_row(self) -> QWidget:
        self.presses = QWidget()
        both = QVBoxLayout(self.presses)
        both.setContentsMargins(0, 0, 0, 0)
        both.setSpacing(4)
        row = QHBoxLayout()
        both.addLayout(row)
        self.press = QPushButton(objectName="strong", autoDefault=False)
        self.press.clicked.connect(self.go)
        self.halt = QPushButton("Stop (Esc)", autoDefault=False)
        self.halt.clicked.connect(self.stop)
        self.by_itself = QCheckBox("All of it by itself")
        tip(self.by_itself, "Only the practice bench goes on without a press for each move")
        self.caution = Label(objectName="caution", wordWrap=True)
        falls = self.plan_axis.without_power
        self.off = QPushButton(f"Take the power off: it {falls}" if falls else "Take the power off", autoDefault=False)
        tip(self.off, "Only a bench that says that it can; it replaces no stop that removes the power")
        self.off.clicked.connect(self.power_off)
        for widget in (self.press, self.halt, self.off, self.by_itself):
            row.addWidget(widget)
        self.off.hide()
        row.addStretch(1)
        both.addWidget(self.caution)
        self.presses.hide()
        return self.presses

    @property
    def running(self) -> bool:
        """Whether the machine is at work."""
        return self._job is not None

    def _stand(self) -> None:
        """Show what can be done now."""
        there, running = self.machine is not None, self.running
        if self.presses.isHidden() is there:
            self.presses.setVisible(there)
            self.joined.emit(there)
        self.port.setEnabled(not there and not running)
        self.join.setText("Leave it" if there else "Stop connecting" if running else "Connect")
        self.join.setEnabled(not running or not there)
        for widget in (self.practise, self.pace):
            widget.setEnabled(not there and not running and self._bench is None)
        self.press.setEnabled(not running and self._waits <= 0)
        self.halt.setEnabled(running)
        if self.machine is not None:
            self.by_itself.setVisible(self.machine.practice)
            self.off.setVisible(self._powered and "off" in self.machine.introduction.has)
            self.off.setEnabled(not running)
            self.caution.setText(f"{MADE_UP if self.machine.practice else CAUTION}{self._then_comes()}")
            said = self._says() if self._powered else "Power the motor"
            waits = self._waits
            self.press.setText(f"{said}, in {waits // 60:.0f} min {waits % 60:.0f} s" if waits > 0 else f"{said} (F9)")
            if waits > 0:
                QTimer.singleShot(1000, self._stand)

    @property
    def _waits(self) -> float:
        """Seconds until the shown step is due; nothing moves by itself when they are over. A practice bench waits by itself."""
        if self.machine is None or self.machine.practice or not self._powered:
            return 0.0
        return max(0.0, self._due - time.monotonic())

    def _says(self) -> str:
        """What the press does, exactly."""
        if self._step is None:
            return "Nothing is left"
        if self._step.does[:1] and self._step.does[0][0] == "creep":
            return f"Move {self.plan_axis.said(self._step.does[0][1])} towards plus"
        acts = [act for act in self._step.does if act[0] in ("move", "run", "home")]
        if any(act[0] == "second" for act in self._step.does):
            return self._says_of_two()
        if acts and self._step.asks == "done":
            return f"Move to {', then '.join(self.plan_axis.said(act[1]) for act in acts)}, and stand there"
        if acts:
            words = ["home it" if act[0] == "home" else f"move to {self.plan_axis.said(act[1])}" for act in acts[:2]]
            more = f", {len(acts) // 2} times" if len(acts) > 2 else ""  # of a ladder: out and back, again and again
            said = ", then ".join(words).replace("then move to ", "then ") if acts[0][0] != "home" else ", then ".join(words)
            return f"{said[:1].upper()}{said[1:]}{more}, and read"
        if any(act[0] in ("record", "listen") for act in self._step.does):
            shakes = self._step.does[0][0] == "record"
            return "Shake and record" if shakes else "Record"
        return "Read"

    def _says_of_two(self) -> str:
        """Every move of both axes, in this order."""
        assert self._step is not None
        first, other = self.axis.name, self.second or "the other axis"
        moves = [f"{first if act[0] == 'move' else other} to {self.plan_axis.said(act[1])}" for act in self._step.does
                 if act[0] in ("move", "second")]
        return f"Move {', then '.join(moves)}, and {'stand there' if self._step.asks == 'done' else 'read'}"

    def _then_comes(self) -> str:
        """How long a record takes to come over the wire, where that is long and known: said before it begins."""
        lengths = [float(act[-1]) for act in (self._step.does if self._step is not None else ()) if act[0] in ("record", "listen")]
        if self.machine is None or not lengths:
            return ""
        takes = self.machine.coming((lengths[0] + 2 * RESTING) * self.machine.introduction.rate)
        return f" The record then takes {minutes(takes)} to come over this wire." if takes > SAID_FROM else ""

    def show_step(self, step: Step, due_in: float = 0.0) -> None:
        """The step that is to come, and in how many seconds; a practice bench that goes by itself begins it."""
        self._step, self._due = step, time.monotonic() + due_in
        self._stand()
        if self.machine is not None and self.machine.practice and self._powered and self.by_itself.isChecked():
            QTimer.singleShot(0, self._go_by_itself)

    def _go_by_itself(self) -> None:
        if self.isVisible() and not self.doubtful():
            self.go()

    def connect_or_leave(self) -> None:
        """Connect to the port that is typed, stop connecting, or leave the machine that is connected."""
        if self.machine is not None or self.running:
            self._leave("")
            return
        memory.keep(**{PORT: self.port.text().strip()})
        self._connect(self.port.text().strip())

    def start_practice(self) -> None:
        """Start the practice bench for this axis as a process of its own, and connect to it."""
        self._bench = bench = QProcess(self)
        lean = self.session.project
        for n in range(len(lean.axes)):
            lean = edited(lean, ("axes", n, "readings"), ())
        bench.readyReadStandardOutput.connect(self._bench_said)
        bench.finished.connect(lambda *_: self._bench_ended(bench))
        bench.errorOccurred.connect(lambda fault: self._bench_failed(fault, bench))
        self.said.setText("Starting the practice bench…")
        bench.start(sys.executable, [*PRACTICE_BENCH, "--axis", self.axis.name, "--session", str(len(self.axis.readings)),
                                     "--pace", PACES[self.pace.currentText()],
                                     *(("--second", self.second) if self.second else ())])
        bench.write(export_project(lean).encode())
        bench.closeWriteChannel()
        self._stand()

    def _bench_said(self) -> None:
        if self._bench is not None:
            self._connect(bytes(self._bench.readAllStandardOutput().data()).decode().strip())

    def _bench_failed(self, fault: QProcess.ProcessError, bench: QProcess) -> None:
        if self._bench is bench and fault == QProcess.ProcessError.FailedToStart:
            self._bench = None
            self._leave(f"The practice bench does not start: {bench.errorString()}.")

    def _bench_ended(self, bench: QProcess) -> None:
        if self._bench is bench and not sip.isdeleted(bench):  # it also ends since the window goes, with everything in it
            why = bytes(bench.readAllStandardError().data()).decode(errors="replace").strip().splitlines()
            self._bench = None
            self._leave(f"The practice bench ended{f': {why[-1][:200]}' if why else ''}. The round waits.")

    def _connect(self, address: str) -> None:
        """Connect in a thread; what it says of itself must fit this axis and this project."""
        def work(progress: Progress) -> WireMachine:
            machine = WireMachine(open_port(address))
            machine.go_on = lambda: progress(0, 0)
            try:
                self._fits(machine)
            except BaseException:
                machine.close()
                raise
            return machine

        self.said.setText("Connecting…")
        self._work(work, self._connected)

    def _fits(self, machine: WireMachine) -> None:
        """Raises DeviceError for a bench that is not one of this axis."""
        there = machine.hello()
        unit = "m" if self.plan_axis.linear else "rad"
        if there.unit != unit:
            raise DeviceError(f"the bench counts in {there.unit}, this axis in {unit}; it is another axis")
        if self.second and not there.second:
            raise DeviceError(f"this bench moves one axis; this round moves {self.second} too: by hand, or by a bench that"
                              " announces second=")
        if there.practice and not self.session.project.practice:
            raise DeviceError("this is a practice bench, and its numbers are made up; File > Practice on this machine makes a"
                              " project for them")
        if not there.practice and self.session.project.practice:
            raise DeviceError("this project is for practice; a machine is measured in a project of its own")

    def _connected(self, machine: WireMachine) -> None:
        self.machine, self._powered = machine, False
        self.said.setText(f"{machine.introduction.name} answers; travel {self.plan_axis.said(machine.introduction.travel)}.")
        self._stand()

    def go(self) -> None:
        """The press: power the motor, then carry out the step that is shown, and nothing else."""
        machine, step = self.machine, self._step
        if machine is None or step is None or self.running:
            return
        if not self._powered:
            self._work(lambda progress: self._with(machine, progress, machine.enable), lambda _none: self._on())
            return
        self._work(lambda progress: self._with(machine, progress, lambda: carry_out(step, machine)), self._got)

    @staticmethod
    def _with(machine: WireMachine, progress: Progress, act: Callable[[], Any]) -> Any:
        machine.go_on = lambda: progress(0, 0)
        return machine.carry(act)

    def power_off(self) -> None:
        """Take the power off the motor, at this press."""
        machine = self.machine
        if machine is not None and not self.running:
            self._work(lambda progress: self._with(machine, progress, machine.disable), lambda _none: self._off())

    def _off(self) -> None:
        self._powered = False
        self.by_itself.setChecked(False)
        self.said.setText("The power is off the motor: it does not hold.")
        self._stand()

    def _on(self) -> None:
        self._powered = True
        self.said.setText("The motor is powered and holds.")
        if self._step is not None:
            self.show_step(self._step)

    def _got(self, found: Any) -> None:
        self._stand()
        if self.machine is not None:
            self.got.emit(found, self.machine.practice)

    def _work(self, work: Callable[[Progress], Any], done: Callable[[Any], object]) -> None:
        def ended(found: Any) -> None:
            self._job = None
            done(found)

        self._job = self.session.works.run(("the machine on the wire", id(self)), self, work, ended, self._failed)
        self._stand()

    def _failed(self, why: str) -> None:
        """It was stopped, or something is wrong with the machine or the wire: the round waits, nothing is lost."""
        self._job = None
        self.by_itself.setChecked(False)
        self.said.setText(f"{why[:1].upper()}{why[1:]}. The round waits." if why else "Stopped; the round waits.")
        if self.machine is not None and self.machine.lost:
            self._leave(self.said.text())
        self._stand()

    def stop(self) -> None:
        """Ask the machine to stop."""
        if self._job is not None:
            self._job.cancel()

    def _leave(self, said: str) -> None:
        gone, self.machine = self.machine, None
        if gone is not None:
            gone.leave()  # a machine that moves is told to stop first; its port is closed by whoever tells it
        self.stop()
        bench, self._bench = self._bench, None
        if bench is not None:
            bench.kill()
            bench.waitForFinished(GONE_WITHIN)
        self.said.setText(said)
        self._stand()

    def hideEvent(self, event: QHideEvent | None) -> None:
        """Nobody sees what it does: the machine is left."""
        if event is not None and not event.spontaneous():
            self._leave("")
        super().hideEvent(event)
