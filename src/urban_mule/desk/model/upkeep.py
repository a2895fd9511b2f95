"""What is looked after on the axes: when each task was booked done last, and when it is due again."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import UTC, datetime
from typing import Any

from urban_mule.core.sheet import units
from urban_mule.core.sheet.given import BadValue
from urban_mule.core.sheet.record import record
from urban_mule.core.sheet.wording import size
from urban_mule.core.slack.upkeep import due_day
from urban_mule.desk.model.scope import Whole
from urban_mule.store.document.project import Axis
from urban_mule.store.file.project_file import Entry, now
from urban_mule.store.solve import SECONDS_A_DAY

FAR = 1000.0  # m: from here on a way is said in kilometres
CENTURY = 36525.0  # days: no calendar here goes farther


@record(frozen=True)
class Standing:
    """A task of an axis, both by their ids and in words, and how many days are left: below 0 it is overdue; None: not known.

    days: on which it was booked done; each: days from one time to the next, None where that is not known.
    """

    whose: str
    id: str
    axis: str
    task: str
    every: str
    done: str
    due: str
    left: float | None
    days: tuple[float, ...] = ()
    each: float | None = None

    @property
    def late(self) -> bool:
        return self.left is not None and self.left < 0


@record(frozen=True)
class TaskLane:
    """A task: its words, the days on which it was done, the day on which it is due, how many days lie between, and both in words.

    due: None where it is not known, minus infinity where it was never done. Days are counted as the history counts them.
    """

    name: str
    done: tuple[float, ...]
    due: float | None
    each: float | None
    said: str


class UpkeepTasks:
    """The tasks of all axes; lines of the log that were looked at are not looked at again."""

    def __init__(self, session: Whole) -> None:
        self.session = session
        self._book: list[Entry] = []
        self._seen, self._booked = 0, dict[tuple[str, str], tuple[float, ...]]()

    def of_axis(self, axis: Axis) -> tuple[Standing, ...]:
        """The tasks of an axis, in the order in which they were taken on."""
        self._look()
        return tuple(self._standing(axis, task) for task in axis.maintenance or ())

    def of_all(self) -> tuple[Standing, ...]:
        """The tasks of all axes: what is due first stands first, what is not known last."""
        found = [one for axis in self.session.project.axes for one in self.of_axis(axis)]
        return tuple(sorted(found, key=lambda one: float("inf") if one.left is None else one.left))

    def _look(self) -> None:
        book = self.session.entries()
        if book is not self._book:
            self._book, self._seen, self._booked = book, 0, {}
        for one in book[self._seen:]:
            if one.task:
                day = one.time.timestamp() / SECONDS_A_DAY  # a line that came back stands behind younger ones
                self._booked[one.subject, one.task] = tuple(sorted((*self._booked.get((one.subject, one.task), ()), day)))
        self._seen = len(book)

    def _standing(self, axis: Axis, task: Any) -> Standing:
        days, solution = self._booked.get((axis.id, task.id), ()), self.session.solution_last(axis)
        who = axis.id, task.id, axis.name, task.task, _every(task, axis.motion == "linear")
        done = days[-1] if days else 0.0
        due = due_day(done, task.every_days, task.every_distance, solution.get("running_rate"), solution.get("hours_a_week"))
        each = None if due is None else due - done
        if not days:
            return Standing(*who, "never", "now: nobody has booked it yet", float("-inf"), each=each)
        if due is None:
            lacking = "hours a week" if solution.get("running_rate") else "the cycle"
            return Standing(*who, _day(done), f"not known without {lacking}", None, days)
        left = due - today()
        if left > CENTURY:
            return Standing(*who, _day(done), "in more than a hundred years", left, days, each)
        said = f"{_day(due)}, overdue by {-left:.0f} days" if left < 0 else f"{_day(due)}, in {left:.0f} days"
        return Standing(*who, _day(done), said, left, days, each)


def lanes_of(found: Iterable[Standing], named: bool) -> list[TaskLane]:
    """The tasks as lanes of a year; named: with the axis that each belongs to."""
    day = today()
    return [TaskLane(f"{one.axis}: {one.task}" if named else one.task, one.days, None if one.left is None else day + one.left,
                     one.each, one.due) for one in found]


def today() -> float:
    """The day that it is, as the history counts them [d]."""
    return now().timestamp() / SECONDS_A_DAY


def due_words(found: tuple[Standing, ...], nothing: str) -> str:
    """How many of the tasks are due, with the caution of the work; nothing: what is said where there is no task."""
    late = sum(one.late for one in found)
    if not found:
        return nothing
    return f"{late} of {len(found)} due now. Power off before a hand goes in." if late else "Nothing is due."


DAYS = {"d": 1.0, "days": 1.0, "weeks": 7.0, "months": 30.4, "years": 365.25}


def _ways(linear: bool) -> dict[str, float]:
    return {"km": FAR, "m": 1.0} if linear else {"turns": units.TURN, "turn": units.TURN}


def rhythm(typed: str, linear: bool) -> dict[str, float]:
    """`90 d`, `40 km`, or both with an *or* between, as days and a way. Raises BadValue."""
    found: dict[str, float] = {}
    for part in typed.replace(",", ".").split(" or "):
        number, _, unit = part.strip().partition(" ")
        try:
            value = float(number)
        except ValueError:
            value = 0.0
        unit, ways = unit.strip(), _ways(linear)
        key = "every_days" if unit in DAYS else "every_distance"
        if not 0 < value < 1e9 or unit not in (*DAYS, *ways) or key in found:
            like = "40 km" if linear else "5000 turns"
            raise BadValue(f"“{typed}” does not say how often; allowed is the like of 90 d, 12 weeks, {like}, or 90 d or {like}")
        found[key] = value * (DAYS[unit] if unit in DAYS else ways[unit])
    return found


def rhythm_typed(task: Any, linear: bool) -> str:
    """How often a task is due, as `rhythm` reads it."""
    days, way = task.every_days, task.every_distance
    far = linear and way is not None and way >= FAR
    said = [] if days is None else [f"{days:g} d"]
    if way is not None:
        said.append(f"{way / FAR:g} km" if far else f"{way:g} m" if linear else f"{way / units.TURN:g} turns")
    return " or ".join(said)


def _every(task: Any, linear: bool) -> str:
    ways = [] if task.every_days is None else [f"{size(task.every_days)} days"]
    way = task.every_distance
    if way is not None:
        ways.append(f"{size(way / FAR)} km" if linear and way >= FAR else f"{size(way)} m" if linear
                    else f"{size(way / units.TURN)} turns")
    return " or ".join(ways)


def _day(day: float) -> str:
    return f"{datetime.fromtimestamp(day * SECONDS_A_DAY, UTC):%-d %b %Y}"
