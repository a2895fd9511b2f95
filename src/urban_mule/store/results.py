"""One's own results on the practice machine, kept with the user: one line a debrief."""

from __future__ import annotations

import json
from dataclasses import asdict
from pathlib import Path

from urban_mule.core.sheet.record import record
from urban_mule.store.places import data_place, made
from urban_mule.store.text_files import BadFile, from_file, write_whole

LARGEST, MOST = 1e6, 500  # bytes of the file, and the results that are kept


@record(frozen=True)
class Result:
    """How a practice went. lesson: 0 for faults that were drawn. readings: sets taken; shortest: of the shortest way."""

    time: str
    axis: str
    lesson: int
    faults: int
    found: int
    wrong: int
    needless: int
    readings: int
    shortest: int

    @property
    def solved(self) -> bool:
        """Whether all of it was found and nothing else believed."""
        return self.found == self.faults and not self.wrong


def results_file() -> Path:
    return data_place("practice.json")


def own_results() -> tuple[Result, ...]:
    """The results so far, oldest first; what cannot be read is none. Raises BadFile for a file that is not one of results."""
    path = results_file()
    if not path.exists():
        return ()

    def parsed(raw: bytes) -> tuple[Result, ...]:
        try:
            return tuple(Result(**one) for one in json.loads(raw))
        except (ValueError, TypeError, RecursionError):
            raise BadFile("this is no list of practice results.") from None

    return from_file(path, LARGEST, parsed)


def keep_result(result: Result) -> None:
    """Add a result to those of the user. Raises BadFile."""
    made(results_file().parent)
    kept = (*own_results(), result)[-MOST:]
    write_whole(results_file(), json.dumps([asdict(one) for one in kept], indent=1) + "\n")
