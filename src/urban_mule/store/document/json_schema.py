"""The JSON Schema of the document, from the same declarations that check it."""

from __future__ import annotations

import inspect
from types import NoneType, UnionType
from typing import Annotated, Any, Literal, Union, get_args, get_origin

from urban_mule.core.sheet.given import Given
from urban_mule.store.document.base import LARGEST_TOLERANCE, Strict
from urban_mule.store.document.fields import Checked, OneOf

PLAIN = {str: "string", bool: "boolean", float: "number", int: "integer"}
BESIDE: dict[str, dict[str, Any]] = {
    "tolerances": {"type": "object", "description": "half width of a number as a share of its value, by key",
                   "additionalProperties": {"type": "number", "exclusiveMinimum": 0, "maximum": LARGEST_TOLERANCE}},
    "usual": {"type": "array", "items": {"type": "string"},
              "description": "keys whose value is a usual one that nobody has read off or measured yet"}}


def schema_of(model: type[Strict]) -> dict[str, Any]:
    """The JSON Schema of a part and of all that may stand in it."""
    named: dict[str, Any] = {}
    whole = _of_part(model, named)
    return {"$defs": dict(sorted(named.items())), **whole}


def _of_part(model: type[Strict], named: dict[str, Any]) -> dict[str, Any]:
    properties = {}
    for key, field in model.model_fields.items():
        said = {} if field.is_required() else {"default": [] if field.default == () else field.default}
        if key in model.givens:
            properties[key] = said | given_schema(model.givens[key])
        elif key in BESIDE:
            properties[key] = said | BESIDE[key]
        else:
            properties[key] = said | _of_kind(field.declared, named)
    told = inspect.cleandoc(model.__doc__) if model.__doc__ else ""
    required = [key for key, field in model.model_fields.items() if field.is_required()]
    return {"type": "object", "title": model.__name__, **({"description": told} if told else {}), "properties": properties,
            **({"required": required} if required else {}), "additionalProperties": True}


def _reference(model: type[Strict], named: dict[str, Any]) -> dict[str, Any]:
    if model.__name__ not in named:
        named[model.__name__] = {}  # before what is in it, which may hold such a part again
        named[model.__name__] = _of_part(model, named)
    return {"$ref": f"#/$defs/{model.__name__}"}


def _of_kind(kind: Any, named: dict[str, Any]) -> dict[str, Any]:
    """The schema of what a field is annotated with."""
    origin, inner = get_origin(kind), get_args(kind)
    if origin is Annotated:
        mark: Checked | OneOf = kind.__metadata__[0]
        if isinstance(mark, OneOf):
            by_kind = {word: _reference(model, named) for word, model in mark.models.items()}
            return {"oneOf": list(by_kind.values()), "discriminator": {
                "propertyName": "kind", "mapping": {word: one["$ref"] for word, one in by_kind.items()}}}
        return dict(mark.schema) if mark.schema is not None else _of_kind(inner[0], named)
    if origin is Literal:
        return {"type": "string", **({"const": inner[0]} if len(inner) == 1 else {"enum": list(inner)})}
    if origin in (Union, UnionType):
        return {"anyOf": [{"type": "null"} if one is NoneType else _of_kind(one, named) for one in inner]}
    if origin is tuple and inner[-1] is ...:
        return {"type": "array", "items": _of_kind(inner[0], named)}
    if origin is tuple:
        each = [_of_kind(one, named) for one in inner]
        return {"type": "array", "prefixItems": each, "minItems": len(each), "maxItems": len(each)}
    return {} if kind is Any else {"type": PLAIN[kind]} if kind in PLAIN else _reference(kind, named)


def given_schema(one: Given) -> dict[str, Any]:
    """The JSON Schema of one given."""
    bounds = {"exclusiveMinimum": one.above, "minimum": one.least, "maximum": one.most}
    kind = {"enum": list(one.choices)} if one.choices else {"type": "integer" if one.whole else "number", **bounds}
    return {"description": f"{one.doc} [{one.unit or '-'}]", **{key: value for key, value in kind.items() if value is not None}}
