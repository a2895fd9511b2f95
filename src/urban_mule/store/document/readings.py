"""Readings as the document holds them: a model for each kind, made from what the kind declares."""

from __future__ import annotations

import threading
from collections.abc import Callable, Iterable, Iterator
from dataclasses import replace
from functools import cached_property
from typing import Annotated, Any, ClassVar, Literal

import numpy as np

from urban_mule.core.readings.kind import Column, ReadingKind
from urban_mule.core.readings.kinds import reading_kinds
from urban_mule.core.readings.place import place_of
from urban_mule.core.sheet.given import Given, shown
from urban_mule.store.document.base import Numbers, Strict, Table, Text, after, made_part
from urban_mule.store.document.fields import Checked, OneOf

SHAPES: dict[str, Any] = {"list": Numbers, "rows": Table, "text": Text, "one": Any}


SIMULATED = "simulated axis"  # the device of readings that this program made up itself, in files of format 2
SOURCES = ("typed", "file", "device", "practice")  # whence a reading, or a single row of it, comes
LONGEST_REASON = 400
LATER = "_later"  # under which a set keeps how its arrays are loaded; what begins so is no column
LOADING = threading.RLock()
TEXTS = ("kind", "note", "taken", "device", "source", "gauge", "aside")


def texts_by_place(value: Any) -> dict[str, str] | None:
    """Texts by place, as `struck` and `sources` hold them. Raises ValueError."""
    if value is None:
        return None
    if not isinstance(value, dict):
        raise ValueError("is no object of texts by place")
    for place, text in value.items():
        if not place_of(place)[1]:
            raise ValueError(f"{place!r} names no number of a list; allowed is the like of up[2][3]")
        if not isinstance(text, str) or len(text) > LONGEST_REASON:
            raise ValueError(f"says of {place} {shown(text)}; allowed is a text of at most {LONGEST_REASON} characters")
    return value


def plain_conditions(value: Any) -> dict[str, Any] | None:
    """What held while a reading was taken: numbers and texts by name. Raises ValueError."""
    if value is not None and not (isinstance(value, dict) and all(
            isinstance(one, (int, float, str)) and not isinstance(one, bool) for one in value.values())):
        raise ValueError("is no object of numbers and texts by name")
    return value


class Reading(Strict):
    """A set of readings, and what it may say of itself.

    source: whence it comes; sources: by place, of single numbers that come from elsewhere. gauge: the name of one of the
    project's. conditions: what held at the time. struck: why single numbers do not count, by place. aside: why the whole set
    does not. confirmed: that somebody looked again and it is so.
    """

    declared: ClassVar[ReadingKind]
    kind: str
    note: Text = ""
    taken: Text = ""
    device: Text = ""
    source: Literal["typed", "file", "device", "practice", ""] = ""
    gauge: Text = ""
    aside: Text = ""
    conditions: Annotated[Any, Checked(plain_conditions)] = None
    struck: Annotated[Any, Checked(texts_by_place)] = None
    sources: Annotated[Any, Checked(texts_by_place)] = None
    confirmed: bool | None = None

    @classmethod
    def later(cls, said: dict[str, Any], arrays: Iterable[str], load: Callable[[], dict[str, Any]]) -> Reading:
        """A set whose arrays are loaded when somebody asks for one. said: the rest; load: the whole of it. Raises ValueError."""
        for name in TEXTS:
            if not isinstance(said.get(name, ""), str):
                raise ValueError(f"{name} is {shown(said[name])}; allowed is a text")
        made = cls.model_construct(**said)
        for name in arrays:
            made.__dict__.pop(name, None)
        made.__dict__[LATER] = load
        return made

    def __getattr__(self, name: str) -> Any:
        if name in type(self).model_fields:
            with LOADING:
                if name in self.whole.__dict__:
                    return self.__dict__[name]
        return super().__getattr__(name)  # type: ignore[misc]

    def __iter__(self) -> Iterator[tuple[str, Any]]:  # type: ignore[override]
        yield from super(Reading, self.whole).__iter__()

    @property
    def whole(self) -> Reading:
        """The set with its arrays there."""
        with LOADING:
            load = self.__dict__.get(LATER)
            if load is not None:
                made = type(self).model_validate(load()).__dict__
                kept = {name: self.__dict__.get(name, value) for name, value in made.items()}
                self.__dict__.clear()  # so that they stand in the order in which a set is written
                self.__dict__.update(kept)
        return self

    @after
    def fits(self) -> Reading:
        if LATER in self.__dict__:
            return self  # it is looked at when it is loaded
        self.declared.fits(self)
        self._strikes_fit()
        return self

    def _strikes_fit(self) -> None:
        """Every number struck out is there, and enough are left to make a reading. Raises ValueError."""
        if not self.struck:
            return
        for place in self.struck:
            name, at = place_of(place)
            array = getattr(self, name, None)
            shape = array.shape if isinstance(array, np.ndarray) else ()
            if len(at) != len(shape) or any(n >= m for n, m in zip(at, shape, strict=True)):
                raise ValueError(f"struck names {place}, which this reading does not hold")
        for one in self.declared.columns:
            value = getattr(self, one.name)
            rows = one.shape == "rows" and not self.declared.wide
            if rows and bool(np.any(np.all(np.isnan(self._left(one.name, value)), axis=0))):
                raise ValueError(f"struck leaves no number of {one.name} at one place; strike the whole set instead")
            if one.shape == "list" and isinstance(value, np.ndarray) and len(self._kept(value)) == 0:
                raise ValueError("struck leaves nothing; set the whole set aside instead")

    @property
    def practice(self) -> bool:
        """Whether it comes from no machine."""
        return self.source == "practice" or self.device == SIMULATED

    def _left(self, name: str, table: np.ndarray) -> np.ndarray:
        """A table with what is struck out as no number."""
        struck = [at for of, at in map(place_of, self.struck or ()) if of == name]
        if not struck:
            return table
        left = np.array(table)
        for at in struck:
            left[at] = np.nan
        return left

    def _kept(self, values: np.ndarray) -> np.ndarray:
        """A list, or rows of samples, without those struck out; lists that belong together lose the same places."""
        tables = {one.name for one in self.declared.columns if one.shape == "rows"}
        gone = {at[0] for of, at in map(place_of, self.struck or ()) if self.declared.wide or of not in tables}
        return np.delete(values, sorted(gone), axis=0) if gone else values

    @property
    def core(self) -> Any:
        """The reading as the core takes it: what is struck out does not count."""
        return self._core

    @cached_property
    def _core(self) -> Any:  # its name begins so that it is not taken for a column when the reading is edited
        values = {one.name: getattr(self, one.name) for one in self.declared.columns}
        if self.struck:
            tables = any(one.shape == "rows" for one in self.declared.columns) and not self.declared.wide
            for one in self.declared.columns:
                if one.shape == "rows" and tables:
                    values[one.name] = self._left(one.name, values[one.name])
                elif one.shape in ("list", "rows") and isinstance(values[one.name], np.ndarray) and not tables:
                    values[one.name] = self._kept(values[one.name])
        return self.declared.record(**values)


def reading_model(kind: ReadingKind) -> type[Reading]:
    """The model of a kind of reading."""
    fields = {one.name: (SHAPES[one.shape], ... if one.needed else "" if one.shape == "text" else None) for one in kind.columns}
    model: type[Reading] = made_part(
        f"{kind.name.capitalize()}Reading", Reading, {"kind": (Literal[kind.name], ...), **fields})
    model.declared, model.what = kind, kind.what
    model.givens = {one.name: _told(one) for one in kind.columns if one.shape == "one"}
    return model


def _told(one: Column) -> Given:
    """The given of a column, its unit in words that hold for both kinds of axis."""
    return replace(one.given, unit=one.given.unit.replace("[travel]", "m or rad"))


READING_MODELS: dict[str, type[Reading]] = {name: reading_model(kind) for name, kind in reading_kinds().items()}


AnyReading = Annotated[Reading, OneOf(READING_MODELS)]
