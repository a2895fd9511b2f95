"""What nobody foresaw, written down: one line a fault in a file under the user's state folder."""

from __future__ import annotations

import json
import traceback
from contextlib import suppress
from datetime import UTC, datetime
from pathlib import Path

from urban_mule.store.places import state_place

LARGEST_LOG = 1_000_000  # bytes; then it is begun anew beside the former one
LONGEST_SAID = 160


def fault_log() -> Path:
    """Where faults are written down."""
    return state_place("faults.log")


def note_fault(error: BaseException, while_: str) -> str:
    """Write down an exception that nobody foresaw, and give the sentence for the user. Never raises.

    while_: what was being done, as a sentence can hold it.
    """
    said = " ".join(f"{type(error).__name__} {error}".split())[:LONGEST_SAID]
    with suppress(Exception):
        path = fault_log()
        _write(path, json.dumps({
            "time": datetime.now(UTC).isoformat(timespec="seconds"), "while": while_, "fault": said,
            "where": "".join(traceback.format_exception(error))[-8000:]}))
        return f"Something went wrong while {while_}, and the work goes on: {said}. The whole of it stands in {path}."
    return f"Something went wrong while {while_}, and the work goes on: {said}."


def _write(path: Path, line: str) -> None:
    path.parent.mkdir(parents=True, exist_ok=True)
    if path.is_file() and path.stat().st_size > LARGEST_LOG:
        path.replace(path.with_suffix(".former.log"))
    with path.open("a", encoding="utf-8", errors="backslashreplace") as log:
        log.write(f"{line}\n")
