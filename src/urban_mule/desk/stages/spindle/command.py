"""Analog command: a round that asks for a voltage and the speed that came of it; the table, its line, and what it departs by."""

from __future__ import annotations

from typing import Any

import numpy as np
from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QLineEdit, QPushButton, QVBoxLayout, QWidget

from urban_mule.core.sheet.given import BadValue
from urban_mule.core.sheet.units import number_text, parse
from urban_mule.desk.kit.chart import DASH, Chart, ceiling
from urban_mule.desk.kit.painting import Label
from urban_mule.desk.kit.picture import Picture
from urban_mule.desk.model.session import Session

RPM = 30 / np.pi
USUAL, MOST = "0 to 10 V in 6", 40  # the usual plan; steps that a round may have
GENTLE, PASSED = 0.25, 0.02  # of the greatest command: the first step at most; share by which a speed may be passed
FAR = 0.25  # of the greatest speed: a reading so far off the line of the others is asked about


def planned(text: str) -> list[float]:
    """`0 to 10 V in 6` as six voltages [V]. Raises BadValue."""
    words = text.replace(",", ".").replace("V", " ").split()
    try:
        low, high, count = float(words[0]), float(words[2]), int(words[4])
    except (IndexError, ValueError):
        raise BadValue(f"“{text[:40]}” is no plan; type it as {USUAL}") from None
    if not 2 <= count <= MOST or not low < high or max(abs(low), abs(high)) > 1000:
        raise BadValue(f"allowed are 2 to {MOST} rising steps, such as {USUAL}")
    return [float(one) for one in np.round(np.linspace(low, high, count), 4)]


class CommandPicture(Picture):
    """The chart; beneath it the plan, or the step that is to come with one box for the reading.

    go(given): a field that the round lacks is to be shown.
    """

    go = pyqtSignal(str)

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(session, parent)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 4)
        self.chart = Chart("command, V", "speed of the tool, turns a minute", "Speed over command")
        self.step, self.said = Label(objectName="headline", wordWrap=True), Label(objectName="label", wordWrap=True)
        self.plan = QLineEdit(USUAL, accessibleName="Plan of the round of commands")
        self.begin = QPushButton("Begin the round", objectName="strong", autoDefault=False)
        self.reading = QLineEdit(accessibleName="Speed that came of it, turns a minute", placeholderText="speed, turns a minute")
        self.back, self.leave = QPushButton("One step back", autoDefault=False), QPushButton("Give it up", autoDefault=False)
        self.begin.clicked.connect(self.start)
        self.plan.returnPressed.connect(self.start)
        self.reading.returnPressed.connect(self.take)
        self.back.clicked.connect(self.step_back)
        self.leave.clicked.connect(lambda: self._put(None, "round of commands given up"))
        row = QHBoxLayout()
        row.setContentsMargins(12, 0, 12, 0)
        for widget, share in ((self.plan, 1), (self.begin, 0), (self.reading, 2), (self.back, 0), (self.leave, 0)):
            row.addWidget(widget, share)
        for line in (self.step, self.said):
            line.setContentsMargins(12, 0, 12, 0)
        self.lacks = QPushButton("How fast may the tool turn? Give its highest speed first", objectName="plain", autoDefault=False)
        self.lacks.clicked.connect(lambda: self.go.emit("highest_speed"))
        box.addWidget(self.chart, 1)
        box.addWidget(self.lacks, 0, Qt.AlignmentFlag.AlignLeft)
        box.addWidget(self.step)
        box.addLayout(row)
        box.addWidget(self.said)
        self._asked = ""

    @property
    def _spindle(self) -> Any:
        return self.session.value(self.session.axis_path())

    @property
    def _round(self) -> tuple[list[float], list[float]] | None:
        """Commands and speeds of the round under way, or None."""
        kept = None if self._spindle is None else self._spindle.command_round
        return None if kept is None else (kept.command.tolist(), [] if kept.speed is None else kept.speed.tolist())

    @property
    def _highest(self) -> float | None:
        """The highest speed of the tool [rad/s], which no step may pass; None where nobody has said it."""
        found = self.state.solution.get("highest_speed")
        return None if found is None else float(found)

    def redraw(self) -> None:
        under_way = self._round
        self.begin.setEnabled(self._highest is not None)
        self.lacks.setVisible(self._highest is None and under_way is None)
        for widget in (self.plan, self.begin):
            widget.setVisible(under_way is None)
        for widget in (self.step, self.reading, self.back, self.leave):
            widget.setVisible(under_way is not None)
        if under_way is not None:
            commands, speeds = under_way
            self.step.setText(f"Command {number_text(commands[len(speeds)])} V, wait until it is steady, and read the speed."
                              f"  {len(speeds) + 1} of {len(commands)}")
            self.back.setEnabled(bool(speeds))
        self._draw(under_way)

    def _draw(self, under_way: tuple[list[float], list[float]] | None) -> None:
        table, chart = self.state.solution.get("speed_table"), self.chart
        taken = (np.array(under_way[0][:len(under_way[1])]), np.array(under_way[1])) if under_way else None
        command, speed = taken or ((table.command, table.speed) if table is not None else (np.array([]), np.array([])))
        if not len(command):
            chart.empty("Nothing is measured yet: a voltage is not a speed until somebody has looked.")
            return
        chart.restart()
        low, high = float(min(0.0, command.min())), float(max(command.max(), (under_way or ([0.0],))[0][-1]))
        chart.frame((low, ceiling(high * 1.05)), (0.0, ceiling(1.15 * max(float(speed.max()) * RPM, 1.0))))
        if len(command) > 1:
            line = np.polynomial.Polynomial.fit(command, speed, 1)
            ends = np.array([low, high])
            chart.line(ends, line(ends) * RPM, "muted", 1.4, DASH)
            chart.line(command, speed * RPM, "blue", 2.0)
        chart.dots(command, speed * RPM, "accent", 9)
        wanted, at = self.state.solution.get("command_for_speed"), self.state.solution.get("cut_speed")
        if wanted is not None and at is not None and under_way is None:
            chart.dots([float(wanted)], [float(at) * RPM], "violet", 13, "d")
            chart.text(float(wanted), float(at) * RPM, f"the cut: {number_text(float(wanted), 3)} V", "violet", (0, 1), 13, True)

    def start(self) -> None:
        """Begin the round that is planned."""
        try:
            commands = planned(self.plan.text())
            if self._highest is None:
                raise BadValue("how fast the tool may turn is not given; give its highest speed on Load first")
            first = next((one for one in commands if one), 0.0)
            if abs(first) > GENTLE * max(map(abs, commands)):
                raise BadValue(f"the first step goes to {number_text(first)} V at once; take steps so small that the first is at"
                               f" most {number_text(GENTLE * max(map(abs, commands)))} V")
            self._put({"command": commands}, "round of commands begun")
        except BadValue as why:
            self._tell(f"{why}.")

    def take(self) -> None:
        """Take the speed that was read, and go on; one that does not fit is asked about, and taken when it is entered again."""
        if self._round is None:
            return
        (commands, speeds), text = self._round, self.reading.text()
        try:
            value = parse(text, "rad/s", "rpm")[0]
            doubt = _doubt(commands, speeds, value)
        except BadValue as why:
            self._tell(f"{str(why).rstrip('.')}.")
            return
        if doubt and self._asked != text:
            self._asked = text
            self._tell(f"{doubt} Enter takes it all the same.")
            return
        self._asked = ""
        self.reading.clear()
        taken, said = [*speeds, value], ""
        try:
            if len(taken) < len(commands):
                said = self._too_fast(commands, taken)
                if not said:
                    self._put({"command": commands, "speed": taken}, "speed taken")
                    return
                commands = commands[:len(taken)]
                if len(taken) < 2:
                    self._put(None, "round of commands ended")
                    self._tell(f"{said} Nothing is left of the plan; take smaller steps.")
                    return
            path = self.session.axis_path
            self.session.edit_all([(path("speed_table"), {"command": commands, "speed": taken}), (path("command_round"), None)],
                                  "table of commands measured")
            self.session.write(f"Measured the command: {len(taken)} voltages from {number_text(commands[0])} to"
                               f" {number_text(commands[-1])} V.", "measured")
            self._tell(said)
        except BadValue as why:
            self._tell(f"{str(why).rstrip('.')}. One step back, and read that one again.")

    def _too_fast(self, commands: list[float], taken: list[float]) -> str:
        """Why the next command is not asked for, or nothing: its speed, carried on, would pass the highest."""
        after, highest = carried_on(commands, taken), self._highest
        if highest is None or after <= highest * (1 + PASSED):
            return ""
        return (f"{number_text(commands[len(taken)])} V would lead to about {number_text(after * RPM, 3)} turns a minute, beyond"
                f" the highest speed of {number_text(highest * RPM, 4)}: the round ends here.")

    def step_back(self) -> None:
        """Take the last speed back."""
        if self._round is not None and self._round[1]:
            commands, speeds = self._round
            self._put({"command": commands, "speed": speeds[:-1] or None}, "one step back")

    def _put(self, kept: Any, label: str) -> None:
        self.said.setText("")
        self.session.edit(self.session.axis_path("command_round"), kept, label)
        self.bring_up_to_date()
        self.reading.setFocus()

    def _tell(self, sentence: str) -> None:
        self.said.setText(f"{sentence[:1].upper()}{sentence[1:]}")


def carried_on(commands: list[float], speeds: list[float]) -> float:
    """The speed [rad/s] to expect at the next command [V], by the steeper of the last step and of all of them."""
    at = len(speeds)
    steps = [(commands[0], speeds[0]), *([(commands[at - 2], speeds[at - 2])] if at > 1 else [])]
    slopes = [(speeds[-1] - speed) / (commands[at - 1] - command) for command, speed in steps if commands[at - 1] != command]
    if not slopes and commands[at - 1]:
        slopes = [speeds[-1] / commands[at - 1]]
    return speeds[-1] + max([0.0, *slopes]) * (commands[at] - commands[at - 1])


def _doubt(commands: list[float], speeds: list[float], value: float) -> str:
    """What is odd about a speed beside those taken before it, or nothing."""
    if value < 0:
        raise BadValue("a speed below nothing: which way it turns is set elsewhere")
    if speeds and value <= speeds[-1]:
        return "It is not faster than the step before."
    if len(speeds) < 2:
        return ""
    line = np.polynomial.Polynomial.fit(commands[:len(speeds)], speeds, 1)
    expected = float(line(commands[len(speeds)]))
    if abs(value - expected) > FAR * max(abs(expected), *speeds):
        return f"The others lead to about {number_text(expected * RPM, 3)} turns a minute here."
    return ""
