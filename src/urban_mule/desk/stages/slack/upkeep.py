"""Upkeep: what is looked after on this axis, by date or by distance run, when it was done last and when it is due."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Any

from PyQt6.QtWidgets import QHBoxLayout, QLineEdit, QPushButton, QVBoxLayout, QWidget

from urban_mule.core.sheet import units
from urban_mule.core.sheet.given import BadValue
from urban_mule.core.sheet.wording import size
from urban_mule.core.slack.upkeep import due_day
from urban_mule.desk.kit.painting import Label
from urban_mule.desk.kit.picture import Picture
from urban_mule.desk.kit.ranked import Ranked, RankedRow
from urban_mule.desk.model.session import Session
from urban_mule.store.document.project import UpkeepModel
from urban_mule.store.file.project_file import Entry, now
from urban_mule.store.solve import SECONDS_A_DAY

HEADS = ("what is looked after", "every", "done last", "due")
NOTHING = "Nothing is looked after yet: grease, belt tension, preload, bolts. Type a task and how often, such as 90 d or 40 km."
FAR = 1000.0  # m: from here on a way is said in kilometres


class UpkeepPicture(Picture):
    """A row for each task, with the keys that book it done or take it off the list. Tasks stand on no sheet: every edit counts."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(session, parent)
        self._book: list[Entry] = []
        self._seen, self._booked = 0, dict[tuple[str, str], float]()
        box = QVBoxLayout(self)
        box.setContentsMargins(12, 8, 12, 8)
        self.said = Label(objectName="label", wordWrap=True)
        self.listed = Ranked(HEADS, (4, 3, 3, 4))
        self.listed.pressed.connect(self._pressed)
        row = QHBoxLayout()
        self.task = QLineEdit(accessibleName="Task of maintenance", placeholderText="grease the screw")
        self.every = QLineEdit(accessibleName="How often", placeholderText="90 d or 40 km")
        self.add = QPushButton("Look after it", autoDefault=False)
        for line in (self.task, self.every):
            line.returnPressed.connect(self.take_on)
        self.add.clicked.connect(self.take_on)
        row.addWidget(self.task, 3)
        row.addWidget(self.every, 2)
        row.addWidget(self.add)
        box.addWidget(self.listed, 1)
        box.addWidget(self.said)
        box.addLayout(row)
        session.book_changed.connect(self._anew)

    @property
    def tasks(self) -> tuple[Any, ...]:
        """The tasks of the axis."""
        return tuple(self.state.axis.maintenance or ())

    def redraw(self) -> None:
        rows, overdue, today = [], 0, now().timestamp() / SECONDS_A_DAY
        for task in self.tasks:
            done = self._done_last(task.task)
            due = None if done is None else due_day(
                done, task.every_days, task.every_distance, self.state.solution.get("running_rate"),
                self.state.solution.get("hours_a_week"))
            late = done is None or (due is not None and due < today)
            overdue += late
            said = (self._every(task), "never" if done is None else _day(done), self._due(done, due, today))
            rows.append(RankedRow(task.task, said, ("Done", "Drop it")))
        self.listed.show_rows(rows)
        self.listed.setVisible(bool(rows))
        self.said.setText(NOTHING if not rows else f"{overdue} of {len(rows)} due now. Power off before a hand goes in." if overdue
                          else "Nothing is due.")

    def _due(self, done: float | None, due: float | None, today: float) -> str:
        if done is None:
            return "now: nobody has booked it yet"
        if due is None:
            lacking = "hours a week" if self.state.solution.get("running_rate") else "the cycle"
            return f"not known without {lacking}"
        left = due - today
        return f"{_day(due)}, overdue by {-left:.0f} days" if left < 0 else f"{_day(due)}, in {left:.0f} days"

    def _every(self, task: Any) -> str:
        ways = []
        if task.every_days is not None:
            ways.append(f"{size(task.every_days)} days")
        if task.every_distance is not None:
            linear = self.state.axis.motion == "linear"
            way = task.every_distance
            ways.append(f"{size(way / FAR)} km" if linear and way >= FAR else f"{size(way)} m" if linear
                        else f"{size(way / units.TURN)} turns")
        return " or ".join(ways)

    def _done_last(self, task: str) -> float | None:
        """The day on which it was booked last; lines of the log that were looked at are not looked at again."""
        book = self.session.entries()
        if book is not self._book:
            self._book, self._seen, self._booked = book, 0, {}
        for one in book[self._seen:]:
            if one.kind == "maintained":
                self._booked[one.axis, one.text] = one.time.timestamp() / SECONDS_A_DAY
        self._seen = len(book)
        return self._booked.get((self.state.axis.name, task))

    def take_on(self) -> None:
        """Put the task that is typed on the list."""
        task, every = self.task.text().strip(), self.every.text().strip()
        try:
            if not task or any(one.task == task for one in self.tasks):
                raise BadValue(f"“{task}” is on the list already" if task else "the task has no name")
            made = UpkeepModel.model_validate({"task": task, **self._rhythm(every)})
        except (BadValue, ValueError) as why:
            said = str(why).splitlines()[0]
            self.said.setText(f"{said[:1].upper()}{said[1:]}.")
            return
        self.session.edit(self.session.axis_path("maintenance"), (*self.tasks, made), f"look after: {task}")
        self.task.clear()
        self.every.clear()

    def _rhythm(self, typed: str) -> dict[str, float]:
        """`90 d` or `40 km` as days or a way. Raises BadValue."""
        number, _, unit = typed.replace(",", ".").partition(" ")
        linear = self.state.axis.motion == "linear"
        ways = {"km": FAR, "m": 1.0} if linear else {"turns": units.TURN, "turn": units.TURN}
        days = {"d": 1.0, "days": 1.0, "weeks": 7.0, "months": 30.4, "years": 365.25}
        try:
            value = float(number)
        except ValueError:
            value = 0.0
        unit = unit.strip()
        if not 0 < value < 1e9 or unit not in (*days, *ways):
            like = "40 km" if linear else "5000 turns"
            raise BadValue(f"“{typed}” does not say how often; allowed is the like of 90 d, 12 weeks or {like}")
        return {"every_days": value * days[unit]} if unit in days else {"every_distance": value * ways[unit]}

    def _pressed(self, task: str, words: str) -> None:
        if words == "Done":
            self.session.write(task, "maintained", self.state.axis.name)
        else:
            left = tuple(one for one in self.tasks if one.task != task)
            self.session.edit(self.session.axis_path("maintenance"), left or None, f"no more looked after: {task}")


def _day(day: float) -> str:
    return f"{datetime.fromtimestamp(day * SECONDS_A_DAY, UTC):%-d %b %Y}"
