"""Humps of the spectrum that are not the train's: what rings there, as somebody named it; kept with the axis."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from urban_mule.core.sheet.given import Given
from urban_mule.store.document.base import Strict

RINGS = ("frame", "tool", "table")


class NamedMode(Strict):
    """What rings at a frequency [Hz]."""

    what: ClassVar[str] = "a named mode"
    needed: ClassVar[tuple[str, ...]] = ("frequency",)
    givens: ClassVar[dict[str, Given]] = {"frequency": Given("frequency", "Hz", "", "where it rings", above=0)}
    rings: Literal["frame", "tool", "table"]
    frequency: Any
