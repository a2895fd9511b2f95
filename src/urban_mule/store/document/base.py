"""What every part of the document is made of: strict models whose fields the core declares, texts, and arrays of numbers."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING, Annotated, Any, ClassVar, TypeAlias

import numpy as np
from pydantic import (
    BaseModel,
    ConfigDict,
    GetCoreSchemaHandler,
    GetJsonSchemaHandler,
    PlainSerializer,
    ValidationInfo,
    WithJsonSchema,
    create_model,
    model_validator,
)
from pydantic_core import CoreSchema, PydanticCustomError, core_schema

import urban_mule.store.document.no_plugins  # noqa: F401  before pydantic builds its first validator
from urban_mule.core.sheet.given import LARGEST, BadValue, Given, givens, shown
from urban_mule.core.subjects import KINDS

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
TOLERANCES_SCHEMA = {
    "type": "object", "description": "half width of a number as a share of its value, by key",
    "additionalProperties": {"type": "number", "exclusiveMinimum": 0, "maximum": LARGEST_TOLERANCE}}


USUAL_SCHEMA = {"type": "array", "items": {"type": "string"},
                "description": "keys whose value is a usual one that nobody has read off or measured yet"}

if TYPE_CHECKING:
    from pydantic._internal._model_construction import ModelMetaclass
else:
    ModelMetaclass = type(BaseModel)


class PartMeta(ModelMetaclass):
    """Lets a part of the document be a class over records of the core, which are named there and nowhere else.

    What the records declare becomes its fields. `what`: as sentences call it; `needed`: keys that it cannot do without. A name
    is that in the schema without the *Model* that tells it from the record.
    """

    def __new__(mcs, name: str, bases: tuple[type, ...], namespace: dict[str, Any], **rules: Any) -> type:
        over = [one for one in bases if not issubclass(one, BaseModel)]
        if not over:
            return super().__new__(mcs, name, bases, namespace, **rules)
        base: Any = next(one for one in bases if one not in over)
        records = (record for one in over for record in getattr(one, "stands_for", (one,)))
        return part(name.removesuffix("Model"), namespace["what"], *records, base=base, required=namespace.get("needed", ()),
                    **namespace.get("more", {}))


class Strict(BaseModel, metaclass=PartMeta):
    """A frozen part of the document that takes only its own keys and keys that begin with x_.

    `givens` are its fields that the core declares. All are checked in one go: a validator for each, as pydantic would make
    them, costs every start a tenth of a second.
    """

    # Built only as part of the whole project: two dozen validators of their own would double the start-up.
    model_config = ConfigDict(frozen=True, extra="allow", arbitrary_types_allowed=True, defer_build=True)
    what: ClassVar[str] = "this part"
    needed: ClassVar[tuple[str, ...]] = ()
    givens: ClassVar[dict[str, Given]] = {}
    records: ClassVar[tuple[type, ...]] = ()  # of the core, that declare them
    own_keys: ClassVar[tuple[str, ...]] = ()  # that only the project file holds

    @model_validator(mode="before")
    @classmethod
    def known_and_allowed(cls, data: Any, info: ValidationInfo) -> Any:
        """The keys of a part, each allowed by its given. Raises ValueError."""
        if not isinstance(data, dict):
            if isinstance(data, cls):
                return data
            raise ValueError(f"{cls.what} is an object with keys, not {shown(data)}")
        taken = {}
        for key, value in data.items():
            if key in cls.givens:
                value = cls.checked(key, value)
            elif key == "tolerances" and cls.givens:
                cls.check_tolerances(value)
            elif key == "usual" and cls.givens:
                value = cls.checked_usual(value)
            elif key not in cls.model_fields and not (key in cls.own_keys and info.context == FROM_FILE):
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
            if isinstance(value, (list, tuple)) and len(value) > MOST.get(key, len(value)):
                raise ValueError(f"holds {len(value)} {key}; at most {MOST[key]} are taken")
            taken[key] = value
        return taken

    @classmethod
    def checked(cls, key: str, value: Any) -> Any:
        """A given as the core wants it. Raises PydanticCustomError, which `exchange.sentence` knows as `given`."""
        one = cls.givens[key]
        if value is None and not cls.model_fields[key].is_required():
            return None
        try:
            value = one.check(value)
        except BadValue as why:
            raise PydanticCustomError("given", "{fault}", {"key": key, "fault": why.fault, "beyond": why.beyond}) from None
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

    @classmethod
    def __get_pydantic_json_schema__(cls, core_schema: Any, handler: GetJsonSchemaHandler) -> dict[str, Any]:
        made = handler(core_schema)
        properties = handler.resolve_ref_schema(made)["properties"]
        for key, one in cls.givens.items():
            properties[key] |= given_schema(one)
        if "tolerances" in properties:
            properties["tolerances"] |= TOLERANCES_SCHEMA
            properties["usual"] |= USUAL_SCHEMA
        return made


def given_schema(one: Given) -> dict[str, Any]:
    """The JSON Schema of one given."""
    bounds = {"exclusiveMinimum": one.above, "minimum": one.least, "maximum": one.most}
    kind = {"enum": list(one.choices)} if one.choices else {"type": "integer" if one.whole else "number", **bounds}
    return {"description": f"{one.doc} [{one.unit or '-'}]", **{key: value for key, value in kind.items() if value is not None}}


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


class Checked:
    """Marks a field whose value goes through a function first. Pydantic's own mark looks at the signature at each use."""

    def __init__(self, check: Callable[[Any], Any]) -> None:
        self._check = check

    def __get_pydantic_core_schema__(self, source: Any, handler: GetCoreSchemaHandler) -> CoreSchema:
        return core_schema.no_info_before_validator_function(self._check, handler(source))


Text = Annotated[str, Checked(text)]
Name = Annotated[str, Checked(named)]


def part(name: str, what: str, /, *records: type, base: type[Strict] = Strict, required: tuple[str, ...] = (),
         **more: Any) -> type[Any]:
    """A model whose fields are those of `base`, what the records of the core declare, and `more`."""
    found = {RENAMED.get(one.name, one.name): one for record in records for one in givens(record)}
    fields = {key: (Any, ... if key in required else None) for key in found}
    model: type[Strict] = create_model(name, __base__=base, **{**fields, "tolerances": (Any, None), "usual": (Any, None), **more})
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
    return Annotated[
        Any, Checked(lambda value: frozen_array(value, what, dimensions)),
        PlainSerializer(lambda array: array.tolist()), WithJsonSchema(schema),
    ]


if TYPE_CHECKING:
    Numbers: TypeAlias = np.ndarray
    Table: TypeAlias = np.ndarray
else:
    Numbers = array_field("a list of numbers", 1)
    Table = array_field("a list of rows of numbers", 2)
