"""The document checks itself by what the core declares: places of faults, keys of other programs, and the schema that agrees."""

from __future__ import annotations

import copy
import json
import random
from typing import Any

import numpy as np
import pytest

from urban_mule.demo.brush import brush_project
from urban_mule.demo.courtyard import demo_project
from urban_mule.store.document.base import Strict, Text, after
from urban_mule.store.document.faults import Refused
from urban_mule.store.document.made import LINK_MODELS
from urban_mule.store.document.project import Axis, Project
from urban_mule.store.document.readings import READING_MODELS
from urban_mule.store.exchange.open_json import export_project, parse_project, schema
from urban_mule.store.text_files import BadFile

SCHEMA = schema()
PROJECTS = {"courtyard": demo_project, "brush": brush_project}
OF_TYPE: dict[str, Any] = {
    "object": dict, "array": list, "string": str, "boolean": bool, "null": type(None), "number": (int, float), "integer": int}


def fits(value: Any, said: dict[str, Any]) -> bool:
    """Whether a value is what a JSON Schema says, as far as ours says it; written without a look at what checks documents."""
    if "$ref" in said:
        return fits(value, SCHEMA["$defs"][said["$ref"].rpartition("/")[2]])
    if "anyOf" in said:
        return any(fits(value, one) for one in said["anyOf"])
    if "discriminator" in said:
        kind = value.get("kind") if isinstance(value, dict) else None
        return isinstance(kind, str) and kind in (to := said["discriminator"]["mapping"]) and fits(value, {"$ref": to[kind]})
    if ("const" in said and value != said["const"]) or ("enum" in said and value not in said["enum"]):
        return False
    kind = said.get("type")
    if kind is not None and (not isinstance(value, OF_TYPE[kind]) or isinstance(value, bool) is not (kind == "boolean")):
        return False
    if kind in ("number", "integer"):
        return (said.get("minimum", value) <= value <= said.get("maximum", value)
                and ("exclusiveMinimum" not in said or value > said["exclusiveMinimum"]))
    if kind == "array":
        each = said.get("prefixItems", [said.get("items", {})] * len(value))
        return len(value) >= said.get("minItems", 0) and len(each) == len(value) and all(map(fits, value, each))
    if kind == "object" and "properties" in said:
        known = said["properties"]
        return set(said.get("required", ())) <= value.keys() and all(
            fits(inner, known[key]) if key in known else key.startswith("x_") for key, inner in value.items())
    return True


@pytest.mark.parametrize("name", PROJECTS)
def test_what_is_exported_is_what_the_schema_says_and_reads_back(name: str) -> None:
    text = export_project(PROJECTS[name]())
    assert fits(json.loads(text), SCHEMA)
    assert export_project(parse_project(text.encode())) == text


def _places(value: Any, at: tuple[Any, ...] = ()) -> list[tuple[Any, ...]]:
    inner = value.items() if isinstance(value, dict) else enumerate(value[:2]) if isinstance(value, list) else ()
    return [at, *(place for key, one in inner for place in _places(one, (*at, key)))]


def test_what_the_schema_refuses_is_refused_with_its_place() -> None:
    """Many documents, each with one thing wrong: what the schema says and what the checks do never pull apart."""
    rng, refused = random.Random(8), 0
    whole = json.loads(export_project(demo_project()))
    for axis in whole["axes"]:
        axis["readings"] = axis["readings"][:2]
    places = [place for place in _places(whole) if place]
    for _ in range(250):
        broken, place = copy.deepcopy(whole), rng.choice(places)
        holder = broken
        for step in place[:-1]:
            holder = holder[step]
        holder[place[-1]] = rng.choice([True, "words", -1e9, [], {}, [1.0, "a"], {"kind": "gone"}, 1e300])
        taken = True
        try:
            parse_project(json.dumps(broken).encode())
        except BadFile as why:
            taken = False
            said = str(why)
            assert said.endswith(".") and len(said) < 450 and "Error" not in said
        if not fits(broken, SCHEMA):
            refused += 1
            assert not taken, place
    assert refused > 120


@pytest.mark.parametrize(("changed", "said"), [
    ({"axes": 3}, "axes is 3; a list is needed."),
    ({"practice": 1}, "practice is 1; allowed is true or false."),
    ({"unit_system": "feet"}, "unit_system is 'feet'; allowed is 'metric' or 'inch'."),
    ({"axes": [{"name": "X", "train": [{"kind": "string"}]}]}, "axes[0].train[0]: kind is 'string', which is not built yet"),
    ({"axes": [{"name": "X", "train": [7]}]}, "axes[0].train[0] is 7; an object with a kind is needed."),
    ({"axes": [{"name": "X", "motor": {}}]}, "axes[0].motor: kind is required and not given."),
    ({"axes": [{"name": "X", "stall_trials": [{"threshold": 1.5, "answer": "good"}]}]},
     "axes[0].stall_trials[0].threshold is 1.5; a whole number is needed."),
    ({"axes": [{"name": "X"}, {"name": "Y"}], "pairs": [{"axes": ["X"]}]}, "pairs[0].axes is ['X']; a list of 2 is needed."),
    ({"axes": [{"name": "X", "moving_mass": -1}]}, "axes[0].moving_mass is -1"),
    ({"axes": [{}]}, "axes[0].name is required and not given."),
    ({"axes": [{"name": "X", "driver": {"terminals": {"usual": ["step"]}}}]}, "usual names 'step', which is no key of"),
])
def test_every_kind_of_fault_says_where_what_and_what_is_allowed(changed: dict[str, Any], said: str) -> None:
    with pytest.raises(BadFile) as why:
        parse_project(json.dumps({"format": "urban-mule/1", "axes": [{"name": "X"}], **changed}).encode())
    assert said in str(why.value)


def test_parts_are_frozen_alike_by_what_they_say_and_keep_the_keys_of_other_programs() -> None:
    belt = {"kind": "belt", "pitch": 0.003, "teeth": 24, "x_shop": {"shelf": [1, None]}}
    one, other = (LINK_MODELS["belt"].model_validate(belt) for _ in range(2))
    assert one == other and one.id != other.id and one != other.model_copy(update={"teeth": 25})
    assert one.x_shop == {"shelf": [1, None]} and dict(one)["x_shop"] == one.model_extra["x_shop"]
    assert copy.deepcopy(one) == one and LINK_MODELS["belt"].model_validate(one) is one
    with pytest.raises(AttributeError, match="cannot be set"):
        one.teeth = 30
    with pytest.raises(AttributeError, match="a belt has no lead"):
        _ = one.lead
    with pytest.raises(Refused, match="a belt has no key 'theeth'; the nearest is 'teeth'"):
        LINK_MODELS["belt"].model_validate({**belt, "theeth": 3})
    axis = Axis.model_validate({"name": "X", "readings": [{"kind": "travel", "commanded": 0.4, "measured": [0.4, 0.401]}]})
    assert axis == axis.model_copy() and axis != Axis.model_validate({"name": "X"}), "arrays are compared as arrays"
    reading = axis.readings[0]
    assert type(reading) is READING_MODELS["travel"] and not reading.measured.flags.writeable
    assert np.array_equal(reading.measured, [0.4, 0.401])


class Shelf(Strict):
    what = "a shelf"
    name: Text
    boards: tuple[float, ...] = ()

    @after
    def holds(self) -> None:
        if sum(self.boards) > 9:
            raise ValueError("has more boards than it bears")


class Rack(Shelf):
    shelf: Shelf | None = None

    @after
    def named_apart(self) -> None:
        if self.shelf is not None and self.shelf.name == self.name:
            raise ValueError("bears the name of its shelf")


def test_a_part_is_declared_by_annotations_and_looked_at_when_it_is_whole() -> None:
    assert list(Rack.model_fields) == ["name", "boards", "shelf"] and Rack.model_fields["name"].is_required()
    assert Rack(name="a", boards=[1, 2.5]).boards == (1.0, 2.5)
    for data, said in (({"name": "a", "shelf": {"name": "b", "boards": [9, 1]}}, "shelf has more boards than it bears."),
                       ({"name": "a", "shelf": {"name": "a"}}, "bears the name of its shelf."),
                       ({"name": "a", "boards": [1, "2"]}, "boards[1] is '2'; a number is needed."),
                       ({"name": "a\0"}, "name is 'a\\x00', which holds a sign that cannot be written."),
                       ({"name": "a", "shelf": []}, "shelf: a shelf is an object with keys, not [].")):
        with pytest.raises(Refused) as why:
            Rack.model_validate(data)
        assert str(why.value) == said


def test_a_project_is_taken_as_quickly_as_it_grows() -> None:
    """What is checked is checked once: twice the axes are twice the looks, no more."""
    looked = 0

    class Counted(dict[str, Any]):
        def items(self) -> Any:
            nonlocal looked
            looked += 1
            return super().items()

    def looks(axes: int) -> int:
        nonlocal looked
        looked = 0
        Project.model_validate({"format": "urban-mule/1", "axes": [Counted(name=f"A{n}", motor=Counted(kind="stepper"))
                                                                   for n in range(axes)]})
        return looked

    assert looks(20) == 2 * looks(10) == 40
