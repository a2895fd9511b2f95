"""Files that mean harm, or were spoilt: opened, or one sentence; nothing changed, nothing run, within a time and a memory."""

from __future__ import annotations

import json
import random
import resource
import sqlite3
import time
from collections.abc import Callable
from contextlib import closing, suppress
from pathlib import Path
from typing import Any

from urban_mule.demo.kept import demo_at
from urban_mule.store.exchange.csv_guess import decoded, guess
from urban_mule.store.exchange.csv_mapping import read_mapped
from urban_mule.store.exchange.csv_readings import export_csv, parse_csv
from urban_mule.store.exchange.open_json import export_project, parse_project
from urban_mule.store.file.project_file import ProjectFile
from urban_mule.store.file.salvage import salvaged
from urban_mule.store.library.parts import parse_csv as parse_parts
from urban_mule.store.library.parts import parts_csv, shipped_parts
from urban_mule.store.text_files import BadFile, utf8

LONGEST, MOST_MEMORY = 2.0, 600e6  # s of its own, whatever else the machine does, and bytes, for one file
STATEMENTS = (
    "create trigger t{n} after insert on {table} begin delete from {other}; end", "create view v{n} as select * from {table}",
    "create index i{n} on {table} (hex({column}))", "alter table {table} add column m{n} text", "drop table {other}",
    "update {table} set {column} = {value}", "delete from {other}", "pragma user_version = {number}",
    "update revision set id = id + {big}", "insert into {table} select * from {table} where 0", "pragma application_id = {number}",
    "update reading set numbers = randomblob(length(numbers))", "update reading set columns = {value}",
    "update revision set document = {value}, changes = null", "pragma writable_schema = on; update sqlite_schema set sql = {value}"
    " where name = '{table}'")
COLUMNS = {"revision": ("time", "label", "digest"), "reading": ("time", "kind", "data", "columns", "digest"),
           "applied": ("time", "subject", "motor", "value", "computed_from"), "entry": ("time", "subject", "kind", "text"),
           "subject": ("id", "kind", "name")}
VALUES = ("null", "''", "x'00ff'", "'[[[['", "1e999", "9223372036854775807", "'{{}}'", "zeroblob(100000)", "'9999-12-31'",
          "cast(x'c3' as text)")


def within(work: Callable[[], object], what: str) -> bool:
    """Do it, within the time; whether it went through. Raises AssertionError for any fault but one sentence."""
    begun = time.thread_time()
    try:
        work()
        return True
    except BadFile as why:
        said = str(why)
        assert "\n" not in said and len(said) < 1000 and "Traceback" not in said, (what, said[:300])
        return False
    finally:
        spent = time.thread_time() - begun
        assert spent < LONGEST, (what, spent)


def hostile_projects(folder: Path, count: int, seed: int) -> str:
    """So many spoilt or hostile `.mule`."""
    rng, sound = random.Random(seed), folder / "sound.mule"
    demo_at(sound).close()
    raw, opened = sound.read_bytes(), 0
    for n in range(count):
        path = folder / "hostile.mule"
        for beside in folder.glob("hostile.mule*"):
            beside.unlink()
        path.write_bytes(raw if n % 2 else _scratched(raw, rng))
        if n % 2:
            with suppress(sqlite3.Error), closing(sqlite3.connect(path)) as db:
                for k in range(rng.randrange(1, 4)):
                    table, other = rng.sample(list(COLUMNS), 2)
                    with suppress(sqlite3.Error):
                        db.executescript(rng.choice(STATEMENTS).format(
                            n=k, table=table, other=other, column=rng.choice(COLUMNS[table]), value=rng.choice(VALUES),
                            number=rng.randrange(-5, 9), big=rng.choice((1, 2**40, 2**62))))
                db.commit()
        before = path.read_bytes()

        def read(path: Path = path) -> None:
            with closing(ProjectFile.open(path)) as file:
                file.project()
                file.entries()
                file.applied()
                file.open_rounds()

        through = within(read, f"project {n}")
        opened += through
        assert through or path.read_bytes() == before, f"project {n} was refused and changed"
        within(lambda path=path: salvaged(path), f"salvage {n}")  # type: ignore[misc]
    return f"{count} files, {opened} opened, the others one sentence each and left as they were"


def _scratched(raw: bytes, rng: random.Random) -> bytes:
    bad = bytearray(raw)
    match rng.randrange(4):
        case 0:
            del bad[rng.randrange(100, len(bad)):]
        case 1:
            for _ in range(rng.choice((1, 10, 100))):
                bad[rng.randrange(16, len(bad))] = rng.randrange(256)
        case 2:
            page = rng.randrange(len(bad) // 4096) * 4096
            bad[max(page, 100):page + 4096] = bytes(4096 - (100 if page == 0 else 0))
        case _:
            one, other = (rng.randrange(1, len(bad) // 4096) * 4096 for _ in range(2))
            bad[one:one + 4096] = bad[other:other + 4096]
    return bytes(bad)


def hostile_texts(folder: Path, count: int, seed: int) -> str:
    """So many mutated JSON, CSV and parts."""
    rng, taken = random.Random(seed), 0
    with closing(demo_at(folder / "demo.mule")) as file:
        project = file.project()
    axes = (axis.model_copy(update={"readings": tuple(r for r in axis.readings if r.kind != "acceleration")})
            for axis in project.axes)
    short = project.model_copy(update={"axes": tuple(axes)})
    sources = [export_project(short), *(export_csv(r) for r in short.axes[0].readings), parts_csv(shipped_parts()[:60]),
               "t;x\n" + "\n".join(f"{n / 10};{n}" for n in range(200))]
    before = _memory()
    for n in range(count):
        kind = rng.randrange(len(sources))
        raw = _mutated(sources[kind], rng)
        if kind == 0:
            work: Callable[[], Any] = lambda raw=raw: parse_project(raw)  # noqa: E731
        elif kind == len(sources) - 2:
            work = lambda raw=raw: parse_parts(utf8(raw))  # noqa: E731
        else:
            work = lambda raw=raw: _as_table(raw)  # noqa: E731
        taken += within(work, f"text {n} of kind {kind}")
    assert _memory() - before < MOST_MEMORY
    return f"{count} texts, {taken} taken, the others one sentence each; {(_memory() - before) / 1e6:.0f} MB more at most"


def _as_table(raw: bytes) -> None:
    """As the window takes a table in: our own layout, else as it is most likely read."""
    try:
        parse_csv(utf8(raw))
    except BadFile:
        text = decoded(raw)
        read_mapped(text, guess(text, ("reversal", "positioning", "travel", "lengths", "acceleration")))


def _memory() -> float:
    return resource.getrusage(resource.RUSAGE_SELF).ru_maxrss * 1024.0


JUNK = ("\0", "\ud800", "9" * 400, "1e999", "-", "[" * 900, "{\"a\":" * 900, " " * 3000, "=1+1", "\u202e", "null", "true", "\"",
        "\n\n", ";;;;", ",,,,", "é" * 500, "0x10", "NaN", "Infinity", "\\u0000", "/" * 300,
        "(" * 300, "°" * 90, "1,2,3", "\t", "'", "x_", "kind")


def _mutated(text: str, rng: random.Random) -> bytes:
    if rng.random() < 0.3 and text.startswith("{"):
        text = json.dumps(_walked(json.loads(text), rng))
    for _ in range(rng.choice((1, 1, 2, 5))):
        at = rng.randrange(len(text) + 1)
        match rng.randrange(5):
            case 0:
                text = text[:at] + rng.choice(JUNK) + text[at:]
            case 1:
                text = text[:at] + text[at + rng.randrange(1, 60):]
            case 2:
                text = text[:at] + text[at:at + 200] * rng.choice((2, 50, 500)) + text[at + 200:]
            case 3:
                text = text.replace(rng.choice((",", ".", ";", "\n", "[", "\"", "0")), rng.choice(JUNK[:8]), rng.choice((1, 5)))
            case _:
                text = text[:at] + rng.choice(JUNK) + text[at + 1:]
    raw = bytearray(text.encode(errors="surrogatepass"))
    if rng.random() < 0.2 and raw:
        raw[rng.randrange(len(raw))] = rng.randrange(256)
    return bytes(raw)


def _walked(value: Any, rng: random.Random) -> Any:
    """A JSON value with something in it put for something else."""
    if rng.random() < 0.02:
        return rng.choice((None, [], {}, "", -1, 1e308, True, "x", [[]], {"kind": "screw"}, [0] * 70))
    if isinstance(value, dict):
        return {rng.choice(list(value)) if rng.random() < 0.01 else key: _walked(one, rng) for key, one in value.items()}
    return [_walked(one, rng) for one in value] if isinstance(value, list) else value
