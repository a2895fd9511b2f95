"""What every part of the document is made of: strict models whose fields the core declares, texts, and arrays of numbers."""

from __future__ import annotations

from collections.abc import Iterator
from operator import eq
from typing import TYPE_CHECKING, Annotated, Any, ClassVar, Self, TypeAlias

import numpy as np

from urban_mule.core.sheet.alike import alike
from urban_mule.core.sheet.given import LARGEST, BadValue, Given, givens, shown
from urban_mule.core.subjects import KINDS
from urban_mule.store.document.faults import Refused, refusing
from urban_mule.store.document.fields import Checked, Field

RENAMED = {name: key for (_, key), name in KINDS["linear servo"].called.items()}  # keys by the name on the sheet
LONGEST_TEXT, LONGEST_NAME = 20_000, 200
MOST = {"axes": 64, "train": 64, "cycle": 1000, "readings": 5000, "gauges": 200, "maintenance": 200, "stall_trials": 500,
        "stations": 200, "decisions": 100, "safety": 200, "parts": 2000,
        "machine_cycle": 200, "for_now": 200, "adopted": 100, "mode_names": 40, "spindles": 16, "banks": 64,
        "tables": 64, "rows": 4096, "printed_curves": 4}  # of what stands in a list of the document; more is no machine
MOST_FOREIGN = 100_000  # values in a list or object of another program
DEEPEST = 40  # objects within objects, in keys of other programs
FROM_FILE = "from the project file"  # the context in which a document is read that holds what only the file does
LARGEST_TOLERANCE = 0.9  # of a value: beyond it the value is not known at all
EXTRA = "_extra"  # where a part holds the keys of other programs


def after(check: Any) -> Any:
    """Marks a method that looks at a part when all its fields are there, and raises ValueError."""
    check.afterwards = True
    return check


class PartMeta(type):
    """Makes classes of parts: an annotation is a field, unless it says ClassVar, and its value in the class the default.

    A part of the document may be a class over records of the core, which are named there and nowhere else: what the records
    declare becomes its fields. `what`: as sentences call it; `needed`: keys that it cannot do without. A name is that in the
    schema without the *Model* that tells it from the record.
    """

    model_fields: dict[str, Field]
    afterwards: tuple[str, ...]

    def __new__(mcs, name: str, bases: tuple[type, ...], namespace: dict[str, Any]) -> type:
        over = [one for one in bases if not isinstance(one, PartMeta)]
        if over:
            base: Any = next(one for one in bases if one not in over)
            records = (record for one in over for record in getattr(one, "stands_for", (one,)))
            return part(name.removesuffix("Model"), namespace["what"], *records, base=base, required=namespace.get("needed", ()),
                        **namespace.get("more", {}))
        made: Any = super().__new__(mcs, name, bases, namespace)
        own = {key: Field(kind, made.__module__, namespace.get(key, ...)) for key, kind in made.__annotations__.items()
               if not str(kind).startswith("ClassVar")}
        for key in own.keys() & namespace.keys():
            delattr(made, key)  # a part says it itself
        made.model_fields = {**getattr(made, "model_fields", {}), **own}
        marked = (key for key, one in namespace.items() if hasattr(one, "afterwards"))
        made.afterwards = tuple(dict.fromkeys((*getattr(made, "afterwards", ()), *marked)))
        return made  # type: ignore[no-any-return]


class Strict(metaclass=PartMeta):
    """A frozen part of the document that takes only its own keys and keys that begin with x_.

    `givens` are its fields that the core declares, and checks.
    """

    what: ClassVar[str] = "this part"
    needed: ClassVar[tuple[str, ...]] = ()
    givens: ClassVar[dict[str, Given]] = {}
    records: ClassVar[tuple[type, ...]] = ()  # of the core, that declare them
    own_keys: ClassVar[tuple[str, ...]] = ()  # that only the project file holds

    def __init__(self, **said: Any) -> None:
        self._hold(said, "")

    @classmethod
    def model_validate(cls, data: Any, context: str = "") -> Self:
        """The part that an object with keys makes; a part stays the one that it is. Raises Refused."""
        if isinstance(data, cls):
            return data
        made = cls.__new__(cls)
        made._hold(data, context)
        return made

    @classmethod
    def model_construct(cls, **said: Any) -> Self:
        """The part that holds this, nothing of which is looked at."""
        made = cls.__new__(cls)
        held = vars(made)
        held.update({key: one.default for key, one in cls.model_fields.items() if key in said or not one.is_required()})
        held.update({key: value for key, value in said.items() if key in held})
        if len(said.keys() - held.keys()):
            held[EXTRA] = {key: value for key, value in said.items() if key not in held}
        return made

    def model_copy(self, update: dict[str, Any] | None = None) -> Self:
        """The same part with other values, which nobody looks at."""
        made = type(self).__new__(type(self))
        vars(made).update({**vars(self), **(update or {})})
        return made

    @property
    def model_extra(self) -> dict[str, Any]:
        """Keys of other programs, that begin with x_."""
        return vars(self).get(EXTRA) or {}

    def _hold(self, data: Any, context: str) -> None:
        taken = refusing(self.known_and_allowed, refusing(self.prepared, data), context)
        held = vars(self)
        for key, one in type(self).model_fields.items():
            if key in taken:
                value = taken.pop(key)
                try:
                    held[key] = value if one.take is None else one.take(value, context)
                except Refused as why:
                    raise why.inside(key) from None
            elif one.default is ...:
                raise Refused("is required and not given", (key,))
            else:
                held[key] = one.default
        if taken:
            held[EXTRA] = taken
        for name in type(self).afterwards:
            refusing(getattr(self, name))

    def __setattr__(self, name: str, value: Any) -> None:
        raise AttributeError(f"{self.what} stays as it is: {name} cannot be set")

    def __getattr__(self, name: str) -> Any:
        extra = vars(self).get(EXTRA)
        if extra and name in extra:
            return extra[name]
        raise AttributeError(f"{self.what} has no {name}")

    def __iter__(self) -> Iterator[tuple[str, Any]]:
        """Its keys and values, without what was worked out, whose names begin with _."""
        held = vars(self)
        yield from [(key, value) for key, value in held.items() if key[0] != "_"]
        yield from self.model_extra.items()

    def __eq__(self, other: object) -> bool:
        return type(self) is type(other) and alike(tuple(self), tuple(other), eq)  # type: ignore[call-overload]

    def __hash__(self) -> int:
        return hash(tuple(self))

    def __repr__(self) -> str:
        return f"{type(self).__name__}({', '.join(f'{key}={value!r}' for key, value in self if value not in (None, ''))})"

    @classmethod
    def prepared(cls, data: Any) -> Any:
        """What is to be taken, as a kind of part wants it beforehand. Raises ValueError."""
        return data

    @classmethod
    def known_and_allowed(cls, data: Any, context: str) -> dict[str, Any]:
        """The keys of a part, each allowed by its given. Raises ValueError."""
        if not isinstance(data, dict):
            raise ValueError(f"{cls.what} is an object with keys, not {shown(data)}")
        taken = {}
        for key, value in data.items():
            if key in cls.givens:
                value = cls.checked(key, value)
            elif key == "tolerances" and key in cls.model_fields:
                cls.check_tolerances(value)
            elif key == "usual" and key in cls.model_fields:
                value = cls.checked_usual(value)
            elif key not in cls.model_fields and not (key in cls.own_keys and context == FROM_FILE):
                cls.check_foreign(key, value)
            if isinstance(value, (list, tuple)) and len(value) > MOST.get(key, len(value)):
                raise ValueError(f"holds {len(value)} {key}; at most {MOST[key]} are taken")
            taken[key] = value
        return taken

    @classmethod
    def check_foreign(cls, key: str, value: Any) -> None:
        """A key that the part does not have belongs to another program, and says so. Raises ValueError."""
        if not key.startswith("x_"):
            import difflib

            near = difflib.get_close_matches(key[:LONGEST_NAME], cls.model_fields, n=1, cutoff=0.0)
            raise ValueError(f"{cls.what} has no key {shown(key)}; the nearest is {near[0]!r}")
        if not writable(key):
            raise ValueError(f"{cls.what} has the key {shown(key)}, which cannot be written")
        try:
            finite(value)
        except ValueError as why:
            raise ValueError(f"{key[:LONGEST_NAME // 5]} {why}") from None

    @classmethod
    def checked(cls, key: str, value: Any) -> Any:
        """A given as the core wants it. Raises Refused."""
        one = cls.givens[key]
        if value is None and not cls.model_fields[key].is_required():
            return None
        try:
            value = one.check(value)
        except BadValue as why:
            raise Refused(why.fault, (key,), key, why.beyond) from None
        return int(value) if one.whole else value if one.choices else float(value)

    @classmethod
    def checked_usual(cls, names: Any) -> tuple[str, ...] | None:
        """`usual` names the keys whose value is a usual one that nobody has read off or measured yet. Raises ValueError."""
        if names is not None and not isinstance(names, (list, tuple)):
            raise ValueError(f"usual is {shown(names)}; a list of keys is needed")
        for name in names or ():
            if not isinstance(name, str) or name not in cls.givens:
                raise ValueError(f"usual names {shown(name)}, which is no key of {cls.what}")
        return tuple(dict.fromkeys(names)) if names else None

    @classmethod
    def check_tolerances(cls, shares: Any) -> None:
        """`tolerances` says, by key, the half width of a number as a share of its value. Raises ValueError."""
        if shares is not None and not isinstance(shares, dict):
            raise ValueError(f"tolerances is {shown(shares)}; an object of shares by key is needed")
        for key, share in (shares or {}).items():
            one = cls.givens.get(key)
            if one is None or one.choices or one.whole:
                raise ValueError(f"tolerances names {key!r}, which is no number of {cls.what} that may vary")
            if type(share) not in (int, float) or not 0 < share <= LARGEST_TOLERANCE:
                raise ValueError(f"tolerances.{key} is {shown(share)}; allowed is a share above 0, at most {LARGEST_TOLERANCE:g}")


def finite(value: Any, deep: int = 0) -> None:
    """Raises ValueError for a number or a text that cannot be written as JSON, and for what is nested too deeply."""
    if isinstance(value, float) and not np.isfinite(value):
        raise ValueError(f"{value} is not a number that this file may hold")
    if isinstance(value, str):
        text(value)
    if deep > DEEPEST:
        raise ValueError(f"is nested deeper than {DEEPEST} objects")
    if isinstance(value, (list, dict)) and len(value) > MOST_FOREIGN:
        raise ValueError(f"holds {len(value)} values; at most {MOST_FOREIGN} are kept for another program")
    if isinstance(value, dict):
        for key in value:
            text(key)
    for inner in value.values() if isinstance(value, dict) else value if isinstance(value, list) else ():
        finite(inner, deep + 1)


def text(value: object) -> str:
    """A text that can be kept. Raises ValueError."""
    if not isinstance(value, str):
        raise ValueError(f"is {shown(value)}; allowed is a text")
    if len(value) > LONGEST_TEXT:
        raise ValueError(f"has {len(value)} characters; allowed are {LONGEST_TEXT}")
    if not writable(value):
        raise ValueError(f"is {shown(value)}, which holds a sign that cannot be written")
    return value


def writable(value: str) -> bool:
    """Whether a text can be written and read back: half of a surrogate pair cannot, nor can a zero everywhere."""
    try:
        value.encode()
    except UnicodeEncodeError:
        return False
    return "\0" not in value


def named(value: object) -> str:
    """A name: one line of printable text. Raises ValueError."""
    name = text(value)
    if not name.strip():
        raise ValueError("is empty; a name is needed")
    if len(name) > LONGEST_NAME or not name.isprintable():
        raise ValueError(f"is {shown(name)}; allowed is one line of at most {LONGEST_NAME} printable characters")
    return name


Text = Annotated[str, Checked(text)]
Name = Annotated[str, Checked(named)]


def made_part(name: str, base: type[Strict], fields: dict[str, tuple[Any, Any]]) -> Any:
    """A class over another with more fields: what each may hold, and its default, ... for none."""
    defaults = {key: default for key, (_, default) in fields.items() if default is not ...}
    return PartMeta(name, (base,), {"__module__": __name__, "__annotations__": {key: kind for key, (kind, _) in fields.items()},
                                    **defaults})


def part(name: str, what: str, /, *records: type, base: type[Strict] = Strict, required: tuple[str, ...] = (),
         **more: Any) -> type[Any]:
    """A model whose fields are those of `base`, what the records of the core declare, and `more`."""
    found = {RENAMED.get(one.name, one.name): one for record in records for one in givens(record)}
    fields: dict[str, tuple[Any, Any]] = {
        **{key: (Any, ... if key in required else None) for key in found}, "tolerances": (Any, None), "usual": (Any, None), **more}
    model: type[Strict] = made_part(name, base, fields)
    model.what, model.givens, model.records = what, found, records
    made_of = base.__module__.rpartition(".")[2]
    model.__doc__ = None if made_of in ("base", "identity") else base.__doc__  # what says how parts are is no description of one
    return model


def frozen_array(value: Any, what: str, dimensions: int) -> np.ndarray:
    """Numbers as a read-only array of so many dimensions; a flat list is one column. Raises ValueError."""
    if isinstance(value, np.ndarray):
        array = np.asarray(value, dtype=float)
    else:
        if not isinstance(value, (list, tuple)) or not value:
            raise ValueError(f"is {shown(value)}; {what} is needed")
        rows = value if isinstance(value[0], (list, tuple)) else [value]
        for row in rows:
            if not isinstance(row, (list, tuple)) or len(row) != len(rows[0]):
                raise ValueError(f"has rows of different length, or a row that is {shown(row)}; {what} is needed")
            for one in row:
                if type(one) not in (int, float) or abs(one) > LARGEST:
                    raise ValueError(f"holds {shown(one)}; allowed is a number below {LARGEST:g}")
        array = np.array(value, dtype=float)
        if not np.all(np.isfinite(array)):
            raise ValueError("holds a value that is not finite; allowed is a number")
    if dimensions == 2 and array.ndim == 1:
        array = array[:, None]
    if array.ndim != dimensions or not array.size:
        raise ValueError(f"has another shape; {what} is needed")
    array.setflags(write=False)
    return array


def array_field(what: str, dimensions: int) -> Any:
    schema: dict[str, Any] = {"type": "array", "items": {"type": "number"}, "minItems": 1, "description": what}
    if dimensions == 2:
        schema["items"] = {"type": "array", "items": {"type": "number"}}
    return Annotated[Any, Checked(lambda value: frozen_array(value, what, dimensions), schema)]


if TYPE_CHECKING:
    Numbers: TypeAlias = np.ndarray
    Table: TypeAlias = np.ndarray
else:
    Numbers = array_field("a list of numbers", 1)
    Table = array_field("a list of rows of numbers", 2)
