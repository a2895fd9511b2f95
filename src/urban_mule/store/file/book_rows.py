"""What stands beside the document: what is on the hardware, the log, rounds under way."""

from __future__ import annotations

import json
from collections.abc import Iterable, Iterator
from contextlib import contextmanager, suppress
from datetime import UTC, datetime
from typing import Any, NamedTuple

from urban_mule.core.sheet.record import record
from urban_mule.store.file.open_file import OpenFile
from urban_mule.store.file.rows import Spoilt, basis_json, entry_columns, moment, plain_json, texts

ENTRY_COLUMNS = "time, subject, kind, text, cost, photograph, task, revision"
INSERT_ENTRY = f"insert into entry ({ENTRY_COLUMNS}) values (?, ?, ?, ?, ?, ?, ?, ?)"
ENTRY_KINDS = ("set", "measured", "repaired", "maintained", "note", "due")  # of lines of the log


INSERT_APPLIED = "insert into applied (time, subject, motor, stored, name, value, computed_from) values (?, ?, ?, ?, ?, ?, ?)"


class Where(NamedTuple):
    """A place on the hardware. subject: whose, by its id; motor: which of its motors, 2 is the follower's; stored: whether it is
    what a reset brings back, not what runs.
    """

    subject: str
    motor: int = 1
    stored: bool = False


@record(frozen=True)
class Applied:
    """A value that the user says is on the hardware: a number or a text, where, when, and the givens it was computed from."""

    time: datetime
    where: Where
    name: str
    value: Any
    computed_from: dict[str, Any]


@record(frozen=True)
class Entry:
    """A line of the log. subject: of whom, by its id; cost: what it cost; photograph: the attachment that belongs to it; task: of
    upkeep, by its id, which it books done; revision: the one that its text is the name of.
    """

    time: datetime
    subject: str
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


def applied_columns(subject: Any, motor: Any, stored: Any, name: Any, value: Any,
                    basis: Any) -> tuple[Where, str, Any, dict[str, Any]]:
    """Where a value is on the hardware, its name, itself, and what it was computed from, out of its row. Raises Spoilt."""
    if motor not in (1, 2) or stored not in (0, 1):
        raise Spoilt(f"{str(motor)[:20]!r}, {str(stored)[:20]!r} is no place on the hardware")
    whose, what = texts(subject, name)
    return Where(whose, int(motor), bool(stored)), what, plain_json(value), basis_json(basis)


def now() -> datetime:
    return datetime.now(UTC)


class Book(OpenFile):
    """The rows beside the document. left_out: how many hold something else than they should, and are not shown."""

    left_out = 0

    def put_down(self, entries: Iterable[Entry], applied: Iterable[Applied]) -> None:
        """Write lines of the log and what is on the hardware now, as one. Raises BadFile when they cannot be written."""
        with self._transaction() as db:
            db.executemany(INSERT_ENTRY, [
                (one.time.isoformat(), one.subject, one.kind, one.text, one.cost, one.photograph, one.task, one.revision)
                for one in entries])
            db.executemany(INSERT_APPLIED, [
                (one.time.isoformat(), one.where.subject, one.where.motor, int(one.where.stored), one.name, json.dumps(one.value),
                 json.dumps(one.computed_from)) for one in applied])

    def take_back(self, entries: Iterable[Entry], applied: Iterable[Applied]) -> None:
        """Take lines and values out again that were written by mistake. Raises BadFile when that cannot be written."""
        with self._transaction() as db:
            db.executemany("delete from entry where id = (select max(id) from entry where time = ? and subject = ? and kind = ?"
                           " and text = ?)", [(one.time.isoformat(), one.subject, one.kind, one.text) for one in entries])
            db.executemany("delete from applied where time = ? and subject = ? and motor = ? and stored = ? and name = ?",
                           [(one.time.isoformat(), one.where.subject, one.where.motor, int(one.where.stored), one.name)
                            for one in applied])

    def apply(self, subject: str, values: dict[str, Any], computed_from: dict[str, Any], time: datetime | None = None,
              motor: int = 1) -> None:
        """Record that these values run on the hardware now. Raises BadFile when it cannot be written."""
        stamp, where = time or now(), Where(subject, motor)
        self.put_down((), [Applied(stamp, where, name, value, computed_from) for name, value in values.items()])

    def set_between(self, subject: str, since: str, until: str) -> frozenset[str]:
        """The names of what was put on the hardware of a subject from one ISO time to another."""
        with self._looking():
            rows = self._db.execute("select distinct name from applied where subject = ? and motor = 1 and time >= ? and time <= ?",
                                    (subject, since, until))
            return frozenset(str(name) for name, in rows)

    def applied(self) -> dict[Where, dict[str, Applied]]:
        """What is on the hardware, by place and name: the last record of each. Raises BadFile when they cannot be read."""
        found: dict[Where, dict[str, Applied]] = {}
        with self._looking():
            rows = self._db.execute("select time, subject, motor, stored, name, value, computed_from from applied"
                                    " where id in (select max(id) from applied group by subject, motor, stored, name)")
            for time, *row in rows:
                with self._sound():
                    where, name, value, basis = applied_columns(*row)
                    found.setdefault(where, {})[name] = Applied(moment(time), where, name, value, basis)
        return found

    def names(self) -> dict[str, str]:
        """What every subject is called, or was called last, by its id. Raises BadFile when they cannot be read."""
        with self._looking():
            rows = self._db.execute("select id, kind, name from subject")
            return {str(one): str(name) if kind == "axis" else f"{kind} {name}" for one, kind, name in rows}

    @contextmanager
    def _sound(self) -> Iterator[None]:
        """A row that does not hold what it should is left out, and counted."""
        try:
            yield
        except Spoilt:
            self.left_out += 1

    def save_round(self, key: str, subject: str, kind: str, state: dict[str, Any], ended: bool = False) -> None:
        """Keep a round as far as it has come; ended: it made a reading, or was given up. Raises BadFile."""
        row = (key, now().isoformat(), subject, kind, json.dumps(state, allow_nan=False), int(ended))
        with self._transaction() as db:
            db.execute("insert into round values (?1, ?2, ?3, ?4, ?5, ?6) on conflict (id) do update set time = ?2, state = ?5,"
                       " ended = ?6", row)

    def open_rounds(self) -> list[dict[str, Any]]:
        """The rounds that were begun and not ended, oldest first. Raises BadFile when they cannot be read."""
        with self._looking():
            found = []
            for state, in self._db.execute("select state from round where not ended order by rowid"):
                with suppress(ValueError, TypeError, RecursionError):  # what is none stays where it is
                    found.append(json.loads(state))
            return found

    def write_entry(self, subject: str, kind: str, text: str, time: datetime | None = None, cost: float | None = None,
                    task: str = "") -> None:
        """Add a line to the log. Raises BadFile when it cannot be written. cost: in the project's money."""
        self.put_down([Entry(time or now(), subject, kind, text, cost, task=task)], ())

    def entries(self) -> list[Entry]:
        """The log in the order in which it was written, whatever the clock said. Raises BadFile when it cannot be read."""
        with self._looking():
            found = []
            for time, *row in self._db.execute(f"select {ENTRY_COLUMNS} from entry order by id"):
                with self._sound():
                    found.append(Entry(moment(time), *entry_columns(*row)))
            return found

    def put_back(self, entries: Iterable[tuple[Any, ...]], applied: Iterable[tuple[Any, ...]],
                 attachments: Iterable[tuple[Any, ...]], rounds: Iterable[tuple[Any, ...]],
                 subjects: Iterable[tuple[str, str, str]]) -> None:
        """Rows that were salvaged elsewhere, as they stood there. Raises BadFile when they cannot be written."""
        with self._transaction() as db:
            db.executemany(INSERT_ENTRY, entries)
            db.executemany(INSERT_APPLIED, applied)
            db.executemany("insert into attachment (time, name, media_type, data) values (?, ?, ?, ?)", attachments)
            db.executemany("insert into round (id, time, subject, kind, state) values (?, ?, ?, ?, ?)", rounds)
            db.executemany("insert or ignore into subject values (?, ?, ?)", subjects)

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
