"""What the user gives: each value declared once with its name, unit, symbol, meaning and allowed range."""

from __future__ import annotations

import dataclasses
import math
from collections.abc import Mapping
from functools import cache
from typing import Any

import numpy as np

from urban_mule.core.sheet.doubt import Doubt
from urban_mule.core.sheet.record import record

Reals = Any  # A float or an array of floats that broadcasts; NumPy's types cannot say "either one".
OwnUnit = str | tuple[str, str]
LARGEST = 1e15  # no length, mass, time or current of a machine comes near it: a slip of the pen


class BadValue(ValueError):
    """A given value is outside what is allowed.

    The sentence says all; for whoever words it anew `name` says of which value, `fault` the sentence without the name, and
    `beyond` whether the value lies outside the bounds of its given rather than being no number at all.
    """

    def __init__(self, sentence: str, name: str = "", fault: str = "", beyond: bool = False) -> None:
        super().__init__(sentence)
        self.name, self.fault, self.beyond = name, fault or sentence, beyond


def shown(value: Any) -> str:
    """A value as a sentence can hold it."""
    text = repr(value)
    return text if len(text) <= 40 else f"{text[:37]}…"


@record(frozen=True, eq=False, repr=False)
class Given:
    """Something that the user knows: its name, unit, symbol, meaning and allowed range.

    `label` is what people read (by default the name in words), `shown` the unit in which it is shown where that is not the
    usual one of its unit: for both systems, or (metric, inch). `assumed`: its default is physics that nobody has said.
    `plural`: its label is of several things, which are given. `written_out`: what each of the choices stands for, where they are
    short for something.
    `doubt`: how sure it usually is, where it is no decision.
    `above` and `least` are the open and the closed lower bound, `most` the closed upper bound, all in `unit`.
    """

    name: str
    unit: str
    symbol: str
    doc: str
    default: Any = None
    above: float | None = None
    least: float | None = None
    most: float | None = None
    whole: bool = False
    nonzero: bool = False
    choices: tuple[str, ...] | tuple[bool, ...] = ()
    structure: bool = False
    missing: str = ""
    label: str = ""
    shown: OwnUnit = ""
    assumed: bool = False
    plural: bool = False
    written_out: tuple[str, ...] = ()
    doubt: Doubt | None = None

    @property
    def verb(self) -> str:
        """`are` for a label of several things, else `is`."""
        return "are" if self.plural else "is"

    @property
    def absent(self) -> str:
        """That it is not given, as part of a sentence."""
        return self.missing or f"{in_a_sentence(self.label or words(self.name))} {self.verb} not given"

    def absent_of(self, whose: str) -> str:
        """That it is not given of a thing, as part of a sentence."""
        return f"the {in_a_sentence(self.label or words(self.name))} of the {whose} {self.verb} not given"

    def allowed(self) -> str:
        """What is allowed, in words and in `unit`."""
        if self.choices:
            return "one of " + ", ".join(str(one).lower() if isinstance(one, bool) else one for one in self.choices)
        kind = "a whole number" if self.whole else "a number"
        parts = [f"above {self.above:g}"] if self.above is not None else []
        if self.least is not None:
            parts.append(f"at least {self.least:g}")
        if self.most is not None:
            parts.append(f"at most {self.most:.6g}")
        if self.nonzero:
            parts.append("not zero")
        return (", " if self.whole else " ").join(part for part in (kind, " and ".join(parts)) if part)

    def check(self, value: Any) -> Any:
        """The value itself, when it is allowed.

        value: a number or array in `unit`, or one of `choices`. Raises BadValue.
        """
        if self.choices:
            if not any(value is one or (type(value) is type(one) and value == one) for one in self.choices):
                raise self._bad(f"is {shown(value)}; allowed is {self.allowed()}")
            return value
        if isinstance(value, int) and abs(value) > LARGEST:
            value = math.inf
        low: Any
        high: Any
        if isinstance(value, (float, int)) and not isinstance(value, bool):
            finite, low, high = math.isfinite(value), value, value
            uneven = finite and value % 1 != 0
        elif isinstance(value, (np.ndarray, np.number)):
            finite, low, high = bool(np.all(np.isfinite(value))), np.min(value), np.max(value)
            uneven = finite and bool(np.any(np.mod(value, 1) != 0))
        else:
            finite = False
        if not finite:
            raise self._bad(f"is {shown(value)}; allowed is {self.allowed()}")
        if self.whole and uneven and np.ndim(value) == 0:
            raise self._bad(f"is {value:.6g}; allowed is {self.allowed()}")
        if (
            (self.above is not None and low <= self.above)
            or (self.least is not None and low < self.least)
            or (self.most is not None and high > self.most)
            or (self.whole and uneven)
            or (self.nonzero and np.any(np.equal(value, 0)))
        ):
            unit = f" {self.unit.replace('[travel]', 'm or rad')}" if self.unit else ""
            raise self._bad(f"is {value:.6g}{unit}; allowed is {self.allowed()}{unit}" if np.ndim(value) == 0 else
                            f"holds a value that is not allowed; allowed is {self.allowed()}{unit}", beyond=True)
        if max(abs(low), abs(high)) > LARGEST:
            raise self._bad(f"is {shown(value)}; no magnitude above {LARGEST:g} is taken")
        if self.above == 0 and low < 1 / LARGEST:
            raise self._bad(f"is {shown(value)}; no magnitude below {1 / LARGEST:g} is taken")
        return value

    def _bad(self, fault: str, beyond: bool = False) -> BadValue:
        return BadValue(f"{self.name} {fault}", self.name, fault, beyond)


MEASURED = ("_reading", "_readings", "_history", "speed_table")  # how the names of what is measured end


def is_reading(one: Given) -> bool:
    """Whether something is measured, rather than typed or chosen."""
    return one.structure and one.name.endswith(MEASURED)


def given(unit: str, symbol: str, doc: str, **rules: Any) -> Any:
    """Declare a field of a record as something the user gives; see Given for the rules."""
    declared = Given("", unit, symbol, doc, **rules)
    return dataclasses.field(default=declared.default, metadata={"given": declared})


def givens(record: type) -> tuple[Given, ...]:
    """All that the user may give for a record, in order; the record's fields come from `given`.

    A record that is only declared, never made, needs no decorator.
    """
    return _givens(record, dataclasses.is_dataclass(record))


@cache
def _givens(record: type, made: bool) -> tuple[Given, ...]:
    fields: Mapping[str, Any] = {field.name: field for field in dataclasses.fields(record)} if made else vars(record)
    return tuple(
        with_name(field.metadata["given"], name)
        for name, field in fields.items() if isinstance(field, dataclasses.Field) and "given" in field.metadata
    )


def with_name(one: Given, name: str) -> Given:
    """A given that was declared for a field, with the name of that, and the name in words for its label where it has none."""
    said = vars(one)
    return Given(**{**said, "name": name, "label": said["label"] or words(name)})


def in_a_sentence(label: str) -> str:
    """A label as it stands within a sentence: small at its beginning, unless it is an abbreviation."""
    return label if label[1:2].isupper() or label[1:2] in " ," else label[:1].lower() + label[1:]


def words(name: str) -> str:
    """A name as people read it: `rms_torque` gives `RMS torque`."""
    text = name.replace("_", " ")
    for short in ("rms",):
        text = text.replace(short, short.upper())
    return text[:1].upper() + text[1:]
