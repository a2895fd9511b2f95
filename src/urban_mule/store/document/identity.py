"""Who a part of the document is, whatever it is called and wherever it stands: an identity that the project file keeps.

The open JSON names the same parts by their names.
"""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any, ClassVar, Self
from uuid import uuid4

from urban_mule.core.subjects import KINDS
from urban_mule.store.document.base import Name, Strict, after, text

KEY, HELD = "id", "_id"  # as the file names it, and where a part holds it; what begins with _ is no key of the document
LONGEST = 40
BY_NAME = frozenset({"gauges", "maintenance", *(kind.key for kind in KINDS.values() if kind.key)})  # where no two bear one name


class Identified(Strict):
    """A part that is somebody: every one that is made is somebody new, and stays that through every edit."""

    own_keys: ClassVar[tuple[str, ...]] = (KEY,)

    @after
    def is_somebody(self) -> Self:
        if HELD not in vars(self):
            extra = self.model_extra
            said = {key: extra.pop(key, None) for key in self.own_keys}[KEY]
            vars(self)[HELD] = fresh() if said is None else _sound(said)
        return self

    @property
    def id(self) -> str:
        """Who it is."""
        return str(vars(self)[HELD])

    def be(self, identity: str) -> Self:
        """The same part as somebody else; only for one that was just made."""
        vars(self)[HELD] = identity
        return self


class Named(Identified):
    """Somebody with a name. word: what stands before it among all subjects; kind_name: of the kind of subject that it is."""

    word: ClassVar[str] = ""
    kind_name: ClassVar[str] = ""
    name: Name

    @property
    def called(self) -> str:
        """What it is called among all subjects."""
        return f"{self.word} {self.name}".strip()


def fresh() -> str:
    """An identity that nobody has."""
    return uuid4().hex[:16]


def _sound(said: Any) -> str:
    if not 0 < len(text(said)) <= LONGEST or not str(said).isalnum():
        raise ValueError(f"id is {str(said)[:LONGEST]!r}; allowed are up to {LONGEST} letters and digits")
    return str(said)


def each_somebody(parts: Iterable[Identified] | None) -> None:
    """Where a file gives two the same identity, the second becomes somebody of its own."""
    seen: set[str] = set()
    for one in parts or ():
        if one.id in seen:
            one.be(fresh())
        seen.add(one.id)


def let_copies_be_others(before: Iterable[Any] | None, after: Iterable[Any] | None) -> None:
    """What is copied from somebody who is still there becomes somebody of its own; nobody who was there is touched."""
    there = {id(one) for one in before or ()}
    stays = {one.id for one in after or () if id(one) in there}
    for one in after or ():
        if isinstance(one, Identified) and id(one) not in there and one.id in stays:
            one.be(fresh())


def with_identities(part: Any, made: dict[str, Any]) -> dict[str, Any]:
    """A part as JSON holds it, with the identities of it and of what is in it, as the project file holds them."""
    if isinstance(part, Identified):
        made[KEY] = part.id
    for name, value in vars(part).items():
        if isinstance(value, Strict) and name in made:
            with_identities(value, made[name])
        elif isinstance(value, tuple) and name != "readings":
            for one, inner in zip(value, made.get(name) or (), strict=False):
                if isinstance(one, Strict):
                    with_identities(one, inner)
    return made


def recognise(before: Iterable[Identified] | None, after: Iterable[Identified] | None) -> list[tuple[Any, Any]]:
    """Let parts that were made anew be those that bore their name before; all pairs of one before and the same after."""
    were, are = {one.id: one for one in before or ()}, {one.id: one for one in after or ()}
    gone = {_name(one): one for key, one in were.items() if key not in are}
    for key, one in are.items():
        if key not in were and (same := gone.pop(_name(one), None)) is not None:
            one.be(same.id)
    return [(were[one.id], one) for one in after or () if one.id in were]


def _name(part: Any) -> str:
    return str(getattr(part, "task", None) or part.name)


def recognise_all(before: Any, after: Any) -> Any:
    """The project after a change that came from elsewhere, as an import or a revision without identities, its parts recognised."""
    for name in BY_NAME - {"maintenance"}:
        for one, same in recognise(getattr(before, name), getattr(after, name)):
            recognise(getattr(one, "maintenance", None), getattr(same, "maintenance", None))
    return after
