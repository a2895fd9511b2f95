"""What stands beside the document: what is on the hardware, the log, rounds under way."""

from __future__ import annotations

import json
from collections.abc import Iterable, Iterator
from contextlib import contextmanager, suppress
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Any

from urban_mule.store.file.open_file import OpenFile
from urban_mule.store.file.rows import Spoilt, basis_json, entry_columns, moment, plain_json, texts

ENTRY_COLUMNS = "time, axis, kind, text, cost, photograph, task, revision"
INSERT_ENTRY = f"insert into entry ({ENTRY_COLUMNS}) values (?, ?, ?, ?, ?, ?, ?, ?)"
ENTRY_KINDS = ("set", "measured", "repaired", "maintained", "note", "due")  # of lines of the log


@dataclass(frozen=True)
class Applied:
    """A value that the user says is on the hardware: a number or a text, when, and the givens it was computed from."""

    time: datetime
    axis: str
    name: str
    value: Any
    computed_from: dict[str, Any]


@dataclass(frozen=True)
class Entry:
    """A line of the log. cost: what it cost; photograph: the attachment that belongs to it; task: of upkeep, which it books done;
    revision: the one that its text is the name of.
    """

    time: datetime
    axis: str
    kind: str
    text: str
    cost: float | None = None
    photograph: str = ""
    task: str = ""
    revision: int | None = None

    @property
    def said(self) -> str:
        """The line as people read it."""
        named = self.text if self.revision is None else f"Revision {self.revision} is called “{self.text}”."
        cost = "" if self.cost is None else f" Cost: {self.cost:g}."
        return f"{named}{cost}{' – with a photograph' if self.photograph else ''}"


def now() -> datetime:
    return datetime.now(UTC)


class Book(OpenFile):
    """The rows beside the document. left_out: how many hold something else than they should, and are not shown."""

    left_out = 0

    def put_down(self, entries: Iterable[Entry], applied: Iterable[Applied]) -> None:
        """Write lines of the log and what is on the hardware now, as one. Raises BadFile when they cannot be written."""
        with self._transaction() as db:
            db.executemany(INSERT_ENTRY, [
                (one.time.isoformat(), one.axis, one.kind, one.text, one.cost, one.photograph, one.task, one.revision)
                for one in entries])
            db.executemany("insert into applied (time, axis, name, value, computed_from) values (?, ?, ?, ?, ?)",
                           [(one.time.isoformat(), one.axis, one.name, json.dumps(one.value), json.dumps(one.computed_from))
                            for one in applied])

    def take_back(self, entries: Iterable[Entry], applied: Iterable[Applied]) -> None:
        """Take lines and values out again that were written by mistake. Raises BadFile when that cannot be written."""
        with self._transaction() as db:
            db.executemany("delete from entry where id = (select max(id) from entry where time = ? and axis = ? and kind = ?"
                           " and text = ?)", [(one.time.isoformat(), one.axis, one.kind, one.text) for one in entries])
            db.executemany("delete from applied where time = ? and axis = ? and name = ?",
                           [(one.time.isoformat(), one.axis, one.name) for one in applied])

    def apply(self, axis: str, values: dict[str, Any], computed_from: dict[str, Any], time: datetime | None = None) -> None:
        """Record that these values are on the hardware now. Raises BadFile when it cannot be written."""
        stamp = time or now()
        self.put_down((), [Applied(stamp, axis, name, value, computed_from) for name, value in values.items()])

    def set_between(self, axis: str, since: str, until: str) -> frozenset[str]:
        """The names of what was put on the hardware of an axis from one ISO time to another."""
        with self._looking():
            rows = self._db.execute("select distinct name from applied where axis = ? and time >= ? and time <= ?",
                                    (axis, since, until))
            return frozenset(str(name) for name, in rows)

    def applied(self) -> dict[str, dict[str, Applied]]:
        """What is on the hardware, by axis: the last record of each value. Raises BadFile when they cannot be read."""
        found: dict[str, dict[str, Applied]] = {}
        with self._looking():
            rows = self._db.execute("select time, axis, name, value, computed_from from applied"
                                    " where id in (select max(id) from applied group by axis, name)")
            for time, axis, name, value, basis in rows:
                with self._sound():
                    whose, what = texts(axis, name)
                    found.setdefault(whose, {})[what] = Applied(moment(time), whose, what, plain_json(value), basis_json(basis))
        return found

    @contextmanager
    def _sound(self) -> Iterator[None]:
        """A row that does not hold what it should is left out, and counted."""
        try:
            yield
        except Spoilt:
            self.left_out += 1

    def save_round(self, key: str, axis: str, kind: str, state: dict[str, Any], ended: bool = False) -> None:
        """Keep a round as far as it has come; ended: it made a reading, or was given up. Raises BadFile."""
        row = (key, now().isoformat(), axis, kind, json.dumps(state, allow_nan=False), int(ended))
        with self._transaction() as db:
            db.execute("insert into round values (?1, ?2, ?3, ?4, ?5, ?6) on conflict (id) do update set time = ?2, axis = ?3,"
                       " state = ?5, ended = ?6", row)

    def open_rounds(self) -> list[dict[str, Any]]:
        """The rounds that were begun and not ended, oldest first. Raises BadFile when they cannot be read."""
        with self._looking():
            found = []
            for state, in self._db.execute("select state from round where not ended order by rowid"):
                with suppress(ValueError, TypeError, RecursionError):  # what is none stays where it is
                    found.append(json.loads(state))
            return found

    def write_entry(self, axis: str, kind: str, text: str, time: datetime | None = None, cost: float | None = None,
                    task: str = "") -> None:
        """Add a line to the log. Raises BadFile when it cannot be written."""
        self.put_down([Entry(time or now(), axis, kind, text, cost, task=task)], ())

    def entries(self) -> list[Entry]:
        """The log in the order in which it was written, whatever the clock said. Raises BadFile when it cannot be read."""
        with self._looking():
            found = []
            for time, *row in self._db.execute(f"select {ENTRY_COLUMNS} from entry order by id"):
                with self._sound():
                    found.append(Entry(moment(time), *entry_columns(*row)))
            return found

    def put_back(self, entries: Iterable[tuple[Any, ...]], applied: Iterable[tuple[Any, ...]],
                 attachments: Iterable[tuple[Any, ...]], rounds: Iterable[tuple[Any, ...]]) -> None:
        """Rows that were salvaged elsewhere, as they stood there. Raises BadFile when they cannot be written."""
        with self._transaction() as db:
            db.executemany(INSERT_ENTRY, entries)
            db.executemany("insert into applied (time, axis, name, value, computed_from) values (?, ?, ?, ?, ?)", applied)
            db.executemany("insert into attachment (time, name, media_type, data) values (?, ?, ?, ?)", attachments)
            db.executemany("insert into round (id, time, axis, kind, state) values (?, ?, ?, ?, ?)", rounds)

    def attach(self, name: str, media_type: str, data: bytes, time: datetime | None = None) -> None:
        """Keep a picture or another file under a name. Raises BadFile when it cannot be written."""
        with self._transaction() as db:
            db.execute("insert into attachment (time, name, media_type, data) values (?, ?, ?, ?)",
                       ((time or now()).isoformat(), name, media_type, data))

    def attachment(self, name: str) -> bytes | None:
        """What was kept last under a name, or None. Raises BadFile when it cannot be read."""
        with self._looking():
            found = self._db.execute("select data from attachment where name = ? order by id desc limit 1", (name,)).fetchone()
            return found[0] if found and isinstance(found[0], bytes) else None

    def rename_task(self, axis: str, former: str, name: str) -> None:
        """Let what was booked follow a task of upkeep to its new name. Raises BadFile when it cannot be written."""
        with self._transaction() as db:
            db.execute("update entry set task = ? where axis = ? and task = ?", (name, axis, former))

    def rename_axis(self, former: str, name: str) -> None:
        """Let the log, what is on the hardware and rounds follow an axis to its new name. Raises BadFile when it cannot be
        written.
        """
        with self._transaction() as db:
            db.execute("update round set state = json_set(state, '$.axis', ?) where axis = ? and json_valid(state)", (name, former))
            for table in ("applied", "entry", "reading", "round"):
                db.execute(f"update {table} set axis = ? where axis = ?", (name, former))
