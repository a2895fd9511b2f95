"""What an axis has learnt from its measurements: which givens, how sure each is since, and how they are known together."""

from __future__ import annotations

import math
import re
from typing import Any, ClassVar

import numpy as np

from urban_mule.core.sheet.given import LARGEST, shown
from urban_mule.core.subjects import KINDS, labels
from urban_mule.store.document.base import Strict, Text, after

OF_LIST = re.compile(r"^(train|cycle)\[(\d{1,4})\]\.(\w+)$")
PARTS = ("", "project", *dict.fromkeys(part for kind in KINDS.values() if kind.key == "axes" for part in kind.parts if part))
HOLDS = 1e-9  # share within which a field still has the value that was learnt
NEGATIVE, UNEVEN = -1e-9, 1e-6  # eigenvalue, and difference, that is no more than rounding
MOST_INPUTS = 400


class Belief(Strict):
    """What was learnt of an axis. inputs: paths as the open JSON has them. values: theirs when it was learnt; a row counts while
    the field still has that value. uncertainties: standard ones, in SI. correlation: rows of a matrix. before: what each value was
    before it was learnt. sources: of each, from what. taught: what tells the readings that were learnt from.
    """

    what: ClassVar[str] = "what was learnt"
    inputs: tuple[Text, ...]
    values: tuple[float, ...]
    uncertainties: tuple[float, ...]
    correlation: tuple[tuple[float, ...], ...]
    before: tuple[float, ...] | None = None
    sources: tuple[Text, ...] | None = None
    taught: tuple[Text, ...] | None = None

    @classmethod
    def prepared(cls, data: Any) -> Any:
        """Lists of plain numbers. Raises ValueError."""
        if not isinstance(data, dict):
            return data
        for key in ("values", "uncertainties", "before"):
            if data.get(key) is not None:
                _numbers(key, data[key])
        rows = data.get("correlation")
        if isinstance(rows, (list, tuple)):
            for row in rows:
                _numbers("correlation", row)
        return data

    @after
    def belongs_together(self) -> Belief:
        """As many of each, each input once and one that there is, and a correlation that is one. Raises ValueError."""
        count = len(self.inputs)
        if count > MOST_INPUTS:
            raise ValueError(f"holds {count} inputs; at most {MOST_INPUTS} are taken")
        for key in ("values", "uncertainties", "correlation", "before", "sources"):
            there = getattr(self, key)
            if there is not None and len(there) != count:
                raise ValueError(f"has {len(there)} {key} for {count} inputs")
        for place, one in enumerate(self.inputs):
            if one in self.inputs[:place]:
                raise ValueError(f"names {one!r} twice")
            known_input(one)
            if self.uncertainties[place] <= 0:
                raise ValueError(f"uncertainties[{place}], of {one}, is {self.uncertainties[place]:g}; allowed is a number above 0")
        if any(len(row) != count for row in self.correlation):
            raise ValueError(f"correlation has a row that does not hold {count} numbers")
        matrix = np.array(self.correlation, dtype=float).reshape(count, count)
        if count and (np.abs(matrix - matrix.T).max() > UNEVEN or np.abs(np.diag(matrix) - 1).max() > UNEVEN):
            raise ValueError("correlation is no symmetric matrix with 1 on its diagonal")
        if count and float(np.linalg.eigvalsh(matrix)[0]) < NEGATIVE * count:
            raise ValueError("correlation is not positive: its least eigenvalue is below 0, which no measurements make")
        return self

    def row_of(self, path: str, value: Any) -> tuple[float, float, str] | None:
        """How sure a given is that was learnt, what it was before, and from what; None where it was not, or is another now."""
        if path not in self.inputs or not isinstance(value, (int, float)):
            return None
        place = self.inputs.index(path)
        if not math.isclose(value, self.values[place], rel_tol=HOLDS):
            return None
        return (self.uncertainties[place], (self.before or self.values)[place],
                (self.sources or ("",) * len(self.inputs))[place])

    def without(self, gone: frozenset[str]) -> Belief | None:
        """What is left where some inputs are gone; None where that is nothing."""
        return self.kept([place for place, one in enumerate(self.inputs) if one not in gone])

    def kept(self, at: list[int]) -> Belief | None:
        """What was learnt of the inputs at these places; None for none."""
        if not at:
            return None
        said = {key: tuple(getattr(self, key)[place] for place in at) for key in ("inputs", "values", "uncertainties")}
        more = {key: tuple(there[place] for place in at) for key in ("before", "sources")
                if (there := getattr(self, key)) is not None}
        rows = tuple(tuple(self.correlation[row][place] for place in at) for row in at)
        return Belief(**said, **more, correlation=rows, taught=self.taught)

    def renamed(self, names: dict[str, str]) -> Belief:
        """The same of inputs that have other names now."""
        return self.model_copy(update={"inputs": tuple(names.get(one, one) for one in self.inputs)})


def _numbers(key: str, values: Any) -> None:
    if not isinstance(values, (list, tuple)):
        raise ValueError(f"{key} is {shown(values)}; a list of numbers is needed")
    for one in values:
        if type(one) not in (int, float) or not abs(one) <= LARGEST:
            raise ValueError(f"{key} holds {shown(one)}; allowed are numbers to {LARGEST:g}")


def known_input(path: str) -> None:
    """Whether a path may name an input of an axis. Raises ValueError with the nearest that does."""
    inside = OF_LIST.match(path)
    part, _, key = path.rpartition(".")
    name = inside[3] if inside else key
    if (inside or part in PARTS) and (name in labels() or any(name == one for kind in KINDS.values() for (_, one) in kind.called)):
        return
    import difflib

    near = difflib.get_close_matches(name, labels(), n=1, cutoff=0.0)
    raise ValueError(f"names {path!r}, which is no input of an axis" + (f"; the nearest is {near[0]!r}" if near else ""))
