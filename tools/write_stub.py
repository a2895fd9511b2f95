"""Writes made.pyi: what mypy has to know of the classes that are made over the records that the kinds of subjects declare."""

from __future__ import annotations

from pathlib import Path
from typing import Any, get_args

from urban_mule.store.document import made
from urban_mule.store.document.base import Strict
from urban_mule.store.document.identity import Identified

STUB = Path(made.__file__).with_suffix(".pyi")
KINDS_OF_PARTS = {"AnyLink": made.LINK_MODELS, "AnyMotorModel": made.MOTOR_MODELS}


def _common(models: dict[str, Any]) -> tuple[type, ...]:
    """What a part of one of several kinds is over, as far as all callers may ask: the record that all are, else all of theirs."""
    records = tuple(dict.fromkeys(one for model in models.values() for one in model.records))
    shared = [one for one in records[0].__mro__[:-1] if all(issubclass(other, one) for other in records)]
    return (shared[0],) if shared else records


def models_say_text(models: dict[str, Any], key: str) -> bool:
    """Whether a key holds a text in all of these models."""
    return all(model.model_fields[key].annotation is str for model in models.values())


def _one_of(name: str, models: dict[str, Any]) -> tuple[str, tuple[type, ...], list[str]]:
    base = Identified if all(issubclass(one, Identified) for one in models.values()) else Strict
    own = [f"    kind: Literal[{', '.join(repr(one) for one in models)}]"] if base is Strict else []
    said = {key for model in models.values() for key in model.model_fields} - {"kind", "tolerances", "usual"}
    shared = [key for key in sorted(said)
              if all(key in model.model_fields and key not in model.givens for model in models.values())]
    texts = [f"    {key}: {'str' if models_say_text(models, key) else 'Any'}" for key in shared]
    return name, (base, *_common(models)), own + texts


def stub() -> str:
    """The stub as it is to stand beside the module."""
    classes = [(name, tuple(one.stands_for), list[str]()) for name, one in vars(made).items() if hasattr(one, "stands_for")]
    classes += [_one_of(name, models) for name, models in KINDS_OF_PARTS.items()]
    assert set(KINDS_OF_PARTS) == {name for name, one in vars(made).items() if get_args(one) and name.startswith("Any")}
    names: dict[str, set[str]] = {}
    for one in (Strict, *(one for _, bases, _ in classes for one in bases)):
        names.setdefault(one.__module__, set()).add(one.__name__)
    imports = [f"from {module} import {', '.join(sorted(names[module]))}" for module in sorted(names)]
    lines = ['"""Written by `make docs`, never by hand: what mypy reads of made.py."""', "", "from typing import Any, Literal", "",
             *imports, "", "LINK_MODELS: dict[str, Any]", "MOTOR_MODELS: dict[str, Any]", "PLAIN_SUBJECTS: dict[str, Any]", "",
             "class Terminals(Strict): ..."]
    for name, bases, body in classes:
        lines += ["", f"class {name}(", *(f"    {one.__name__}," for one in bases), f"):{'' if body else ' ...'}", *body]
    return "\n".join(lines) + "\n"
