"""Files up to format 5 knew everybody by name: who that is, told from the newest document."""

from __future__ import annotations

import json
import math
from collections.abc import Iterable, Mapping
from datetime import UTC, datetime
from typing import Any

from urban_mule.store.document.identity import KEY, fresh

OF_SPINDLE, FOLLOWS, STORED = "spindle ", "follower.", "stored."  # how names began there


class ByName:
    """Whoever the rows of such a file name, by id; names that nobody bears any more become somebody who is gone.

    axes: of the newest document, each with id, name, and the ids of its tasks by their names; spindles: id and name; gauges: ids by
    name.
    """

    def __init__(self, axes: Iterable[tuple[str, str, Mapping[str, str]]], spindles: Iterable[tuple[str, str]],
                 gauges: Mapping[str, str]) -> None:
        self._tasks: dict[str, Mapping[str, str]] = {}
        self._ids = {f"{OF_SPINDLE}{name}": one for one, name in spindles}
        for one, name, tasks in axes:
            self._ids[name], self._tasks[one] = one, tasks
        self._gauges, self.gone = gauges, list[tuple[str, str, str]]()
        self.begun: list[tuple[Any, ...]] = []  # rounds that the document held: subject, kind, what it keeps of itself

    def whose(self, name: Any) -> Any:
        """The id of the subject that a row names; what is no name stays what it is."""
        if not isinstance(name, str):
            return name
        if name and name not in self._ids:
            self._ids[name] = fresh()
            kind = "spindle" if name.startswith(OF_SPINDLE) else "axis"
            self.gone.append((self._ids[name], kind, name.removeprefix(OF_SPINDLE)))
        return self._ids.get(name, "")

    def entry(self, time: Any, name: Any, kind: Any, text: Any, cost: Any, photograph: Any, task: Any,
              revision: Any) -> tuple[Any, ...]:
        """A line of the log; of a task that there is no more it books nothing done."""
        subject = self.whose(name)
        return time, subject, kind, text, cost, photograph, self._tasks.get(subject, {}).get(task, ""), revision

    def applied(self, time: Any, name: Any, what: Any, value: Any, basis: Any) -> tuple[Any, ...]:
        """What was put on the hardware."""
        if not isinstance(what, str):
            return time, self.whose(name), 1, 0, what, value, basis
        motor = 2 if what.startswith(FOLLOWS) else 1
        rest = what.removeprefix(FOLLOWS)
        return time, self.whose(name), motor, int(rest.startswith(STORED)), rest.removeprefix(STORED), value, basis

    def round(self, state: str) -> str:
        """What a round keeps of itself. Raises what a text does that is none."""
        kept = json.loads(state)
        kept["subject"] = self.whose(kept.pop("axis", ""))
        kept["gauge"] = self._gauges.get(kept.get("gauge", ""), "")
        return json.dumps(kept)


def identify(document: dict[str, Any]) -> tuple[ByName, list[Any]]:
    """Whom the names of a document mean, and the changes of it that give each an identity."""
    changes: list[Any] = []

    def given(*path: Any) -> str:
        made = fresh()
        changes.append([[*path, KEY], made])
        return made

    axes = []
    for place, axis in enumerate(document.get("axes", ())):
        for nth in range(len(axis.get("train", ()))):
            given("axes", place, "train", nth)
        tasks = {str(task["task"]): given("axes", place, "maintenance", nth)
                 for nth, task in enumerate(axis.get("maintenance", ()))}
        axes.append((given("axes", place), str(axis["name"]), tasks))
    spindles = [(given("spindles", place), str(one["name"])) for place, one in enumerate(document.get("spindles", ()))]
    begun = []
    for place, one in enumerate(document.get("spindles", ())):
        if "command_round" in one:
            changes.append([["spindles", place, "command_round"], None])
            begun.append(_command_round(spindles[place][0], one["command_round"]))
    gauges = {str(one["name"]): given("gauges", place) for place, one in enumerate(document.get("gauges", ()))}
    by_name = ByName(axes, spindles, gauges)
    by_name.begun = begun
    return by_name, changes


def _command_round(subject: str, held: dict[str, Any]) -> tuple[Any, ...]:
    """A round of commands that a spindle held in the document, as a round is kept now: id, time, subject, kind, state."""
    time, key = datetime.now(UTC).isoformat(), fresh()
    taken = [{"place": f"speed[{n}]", "value": value, "typed": f"{value * 30 / math.pi:.6g}", "source": "typed", "time": time}
             for n, value in enumerate(held.get("speed") or ())]
    state = {"key": key, "kind": "command", "subject": subject, "taken": taken, "gauge": "",
             "settings": {"voltages": " ".join(f"{one:g}" for one in held["command"])}}
    return key, time, subject, "command", json.dumps(state)
