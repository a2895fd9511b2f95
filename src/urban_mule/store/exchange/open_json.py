"""The open project JSON: text to project and back."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

from urban_mule.core.sheet.units import cut
from urban_mule.store.document.faults import Refused
from urban_mule.store.document.plain import plain
from urban_mule.store.document.project import Project
from urban_mule.store.text_files import BadFile, as_json, from_file, utf8

LARGEST_FILE, MOST_PARTS = 20e6, 1_000_000


def read_project(path: Path) -> Project:
    """The project in a JSON file. Raises BadFile."""
    return from_file(path, LARGEST_FILE, parse_project)


def parse_project(raw: bytes) -> Project:
    """The project that a JSON text holds. Raises BadFile with the place and the fault."""
    if raw.count(b"[") + raw.count(b"{") > MOST_PARTS:
        raise BadFile(f"the file holds more than {MOST_PARTS} lists and objects; at most so many are taken.")
    doubled: list[_Doubled] = []

    def pairs(found: list[tuple[str, Any]]) -> dict[str, Any]:
        made = dict(found)
        return made if len(made) == len(found) else _marked(found, doubled)

    try:
        data = json.loads(utf8(raw), object_pairs_hook=pairs)
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
        if doubled:
            raise BadFile(f"{_doubled_at(data)} stands twice in one object.")
        return Project.model_validate(data)
    except Refused as why:
        raise BadFile(str(why)) from None
    except RecursionError:
        raise BadFile("the file is nested too deeply to be a project.") from None


class _Doubled(dict[str, Any]):
    """An object in which a key stands twice."""

    key = ""


def _marked(pairs: list[tuple[str, Any]], doubled: list[_Doubled]) -> _Doubled:
    """An object in which a key stands twice, so that its place can be told once all is read."""
    made, seen = _Doubled(pairs), set[str]()
    made.key = next(key for key, _ in pairs if key in seen or seen.add(key))  # type: ignore[func-returns-value]
    doubled.append(made)
    return made


def _doubled_at(value: Any, where: str = "") -> str:
    """The place of the first key that stands twice; nothing where none does."""
    if isinstance(value, _Doubled):
        return f"{where}.{cut(value.key)}".removeprefix(".")
    inner = ((f"{where}.{cut(key)}", one) for key, one in value.items()) if isinstance(value, dict) else (
        (f"{where}[{n}]", one) for n, one in enumerate(value)) if isinstance(value, list) else ()
    return next((found for place, one in inner if isinstance(one, (dict, list)) and (found := _doubled_at(one, place))), "")


def _kind(value: Any) -> str:
    names = {list: "a list", str: "a text", bool: "true or false", int: "a number", float: "a number"}
    return names.get(type(value), "nothing")


def export_project(project: Project) -> str:
    """The project as open JSON text; what is not known is left out."""
    return as_json(plain(project)) + "\n"


def schema() -> dict[str, Any]:
    """The JSON Schema of the open project JSON."""
    from urban_mule.store.document.json_schema import schema_of

    return schema_of(Project)
