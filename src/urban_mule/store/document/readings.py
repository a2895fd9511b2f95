"""Readings as the document holds them: a model for each kind, made from what the kind declares."""

from __future__ import annotations

from dataclasses import replace
from functools import cached_property
from typing import Any, ClassVar, Literal

from pydantic import create_model, model_validator

from urban_mule.core.readings.kind import Column, ReadingKind
from urban_mule.core.readings.kinds import reading_kinds
from urban_mule.core.sheet.given import Given
from urban_mule.store.document.base import Numbers, Strict, Table, Text

SHAPES: dict[str, Any] = {"list": Numbers, "rows": Table, "text": Text, "one": Any}


PRACTICE = "simulated axis"  # the device of readings that this program made up itself


class Reading(Strict):
    """A set of readings, and what it may say of itself."""

    declared: ClassVar[ReadingKind]
    kind: str
    note: Text = ""
    taken: Text = ""
    device: Text = ""

    @model_validator(mode="after")
    def fits(self) -> Reading:
        self.declared.fits(self)
        return self

    @property
    def practice(self) -> bool:
        """Whether it comes from no machine."""
        return self.device == PRACTICE

    @cached_property
    def core(self) -> Any:
        """The reading as the core takes it."""
        return self.declared.record(**{one.name: getattr(self, one.name) for one in self.declared.columns})


def reading_model(kind: ReadingKind) -> type[Reading]:
    """The model of a kind of reading."""
    fields = {one.name: (SHAPES[one.shape], ... if one.needed else "" if one.shape == "text" else None) for one in kind.columns}
    model: type[Reading] = create_model(
        f"{kind.name.capitalize()}Reading", __base__=Reading, kind=(Literal[kind.name], ...), **fields)  # type: ignore[call-overload]
    model.declared, model.what = kind, kind.what
    model.givens = {one.name: _told(one) for one in kind.columns if one.shape == "one"}
    return model


def _told(one: Column) -> Given:
    """The given of a column, its unit in words that hold for both kinds of axis."""
    return replace(one.given, unit=one.given.unit.replace("[travel]", "m or rad"))


READING_MODELS: dict[str, type[Reading]] = {name: reading_model(kind) for name, kind in reading_kinds().items()}
