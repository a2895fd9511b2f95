"""Pictures of the user's own parts: kept beside the list of parts, by their names."""

from __future__ import annotations

from collections.abc import Iterator

from urban_mule.core.motor.printed import CURVES
from urban_mule.store.library.parts import Part
from urban_mule.store.places import data_place, made
from urban_mule.store.text_files import from_file, safe_name, write_whole

LARGEST = 40e6  # bytes


def pictures_of(part: Part) -> Iterator[str]:
    """The names of the pictures that a part's curves were read from."""
    yield from (curve["picture"] for curve in part.values.get(CURVES, ()) if curve.get("picture"))


def keep_picture(name: str, data: bytes) -> None:
    """Keep a picture beside the parts. Raises BadFile."""
    write_whole(made(data_place("pictures")) / f"{safe_name(name)}.jpg", data)


def kept_picture(name: str) -> bytes | None:
    """A picture that was kept, or None. Raises BadFile when it cannot be read."""
    path = data_place("pictures") / f"{safe_name(name)}.jpg"
    return from_file(path, LARGEST, bytes) if path.is_file() else None
