"""From parts of the document to records of the core."""

from __future__ import annotations

import dataclasses
from collections.abc import Iterable
from functools import cache
from typing import Any

from urban_mule.core.train.links import LINKS


@cache
def fields_of(kind: type) -> frozenset[str]:
    """The names of the fields of a record of the core."""
    return frozenset(field.name for field in dataclasses.fields(kind))


def record(kind: type, part: Any) -> Any:
    """A record of the core from a part of the document; what is not known stays at the record's default."""
    names = fields_of(kind)
    return kind(**{name: value for name, value in vars(part).items() if name in names and value is not None})


def core_train(stages: Iterable[Any]) -> tuple[Any, ...]:
    """The links of a train as the core takes them."""
    return tuple(record(LINKS[stage.kind], stage) for stage in stages)
