"""The open project JSON: text to project and back."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import numpy as np
from pydantic import ValidationError
from pydantic_core import to_json

from urban_mule.store.document.base import Strict
from urban_mule.store.document.faults import sentence
from urban_mule.store.document.project import Project
from urban_mule.store.text_files import BadFile, from_file, utf8

LARGEST_FILE = 20e6
PIECE = 4000  # rows of numbers written at a time


def read_project(path: Path) -> Project:
    """The project in a JSON file. Raises BadFile."""
    return from_file(path, LARGEST_FILE, parse_project)


def parse_project(raw: bytes) -> Project:
    """The project that a JSON text holds. Raises BadFile with the place and the fault."""
    try:
        data = json.loads(utf8(raw), object_pairs_hook=_without_doubles)
    except json.JSONDecodeError as why:
        raise BadFile(f"line {why.lineno}, column {why.colno}: this is not JSON: {why.msg.lower()}.") from None
    except RecursionError:
        raise BadFile("the file is nested too deeply to be a project.") from None
    except BadFile:
        raise
    except ValueError as why:
        raise BadFile(f"this is not JSON: {str(why).split(';')[0].lower()}.") from None
    if not isinstance(data, dict):
        raise BadFile(f"the file holds {_kind(data)}; one object is needed.")
    try:
        return Project.model_validate(data)
    except ValidationError as error:
        raise BadFile(sentence(error)) from None
    except RecursionError:
        raise BadFile("the file is nested too deeply to be a project.") from None


def _without_doubles(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
    found: dict[str, Any] = {}
    for key, value in pairs:
        if key in found:
            raise BadFile(f"the key {key!r} stands twice in one object.")
        found[key] = value
    return found


def _kind(value: Any) -> str:
    names = {list: "a list", str: "a text", bool: "true or false", int: "a number", float: "a number"}
    return names.get(type(value), "nothing")


def export_project(project: Project) -> str:
    """The project as open JSON text; what is not known is left out."""
    return json.dumps(plain(project), indent=1, ensure_ascii=False, allow_nan=False) + "\n"


def plain(part: Strict) -> dict[str, Any]:
    """A part of the document as JSON holds it, without what is not known."""
    kept: dict[str, Any] = part.model_dump(mode="json", exclude_none=True, exclude_defaults=False)
    return _without_empty(kept)


def plain_value(value: Any) -> Any:
    """Any value of the document as JSON holds it; null where a part leaves it out."""
    if isinstance(value, Strict):
        return plain(value)
    if isinstance(value, (tuple, list)):
        return [plain_value(one) for one in value]
    return None if value == "" else _without_empty(value)


def _without_empty(value: Any) -> Any:
    if isinstance(value, dict):
        return {key: _without_empty(inner) for key, inner in value.items() if inner not in ("", None)}
    if isinstance(value, list) and value and isinstance(value[0], dict):
        return [_without_empty(inner) for inner in value]
    return value


def reading_text(reading: Any) -> tuple[str, list[str]]:
    """A set of readings as a JSON text, and the names of its columns.

    Numbers are written in pieces, so that a long record written in a thread lets the window have its turn.
    """
    known = {name: getattr(reading, name) for name in type(reading).model_fields} | (reading.model_extra or {})
    columns = [name for name, value in known.items() if isinstance(value, np.ndarray)]
    parts = [f"{json.dumps(name)}: {_numbers(value) if name in columns else json.dumps(value, ensure_ascii=False, allow_nan=False)}"
             for name, value in known.items() if name in columns or value not in ("", None)]
    return "{" + ", ".join(parts) + "}", columns


def _numbers(values: np.ndarray) -> str:
    pieces = (to_json(values[first:first + PIECE].tolist())[1:-1] for first in range(0, len(values), PIECE))
    return f"[{b','.join(pieces).decode()}]"


def schema() -> dict[str, Any]:
    """The JSON Schema of the open project JSON."""
    return Project.model_json_schema(mode="validation")
