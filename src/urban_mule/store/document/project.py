"""The project document: validated, frozen, its fields taken from what the core declares.

A field is declared once, on a record of the core; its name, range and meaning here follow from there.
"""

from __future__ import annotations

import difflib
from functools import cached_property
from typing import TYPE_CHECKING, Annotated, Any, ClassVar, Literal, TypeAlias, Union

import numpy as np
from pydantic import (
    BaseModel,
    BeforeValidator,
    ConfigDict,
    Field,
    GetJsonSchemaHandler,
    PlainSerializer,
    WithJsonSchema,
    create_model,
    model_validator,
)
from pydantic_core import PydanticCustomError

import urban_mule.store.document.no_plugins  # noqa: F401  before pydantic builds its first validator
from urban_mule.core.drive.mains import Mains
from urban_mule.core.drive.stepper import Driver
from urban_mule.core.load.cycle import Move
from urban_mule.core.load.linear import LinearLoad
from urban_mule.core.load.rotary import RotaryLoad
from urban_mule.core.load.torque import AnyLoad
from urban_mule.core.motor.checks import Goals
from urban_mule.core.motor.heat import Surroundings
from urban_mule.core.motor.servo import ServoDriver, ServoMotor
from urban_mule.core.motor.shaft import AnyDriver, AnyMotor, FittedBrake
from urban_mule.core.motor.stepper import StepperMotor
from urban_mule.core.parts.figures import MotorLeads, PartFigures
from urban_mule.core.ring.shaper import PathTolerance
from urban_mule.core.ring.spectrum import AccelerationReading
from urban_mule.core.scale.steps import Controller, TravelReading
from urban_mule.core.sheet.given import LARGEST, BadValue, Given, givens, shown
from urban_mule.core.slack.reversal import TwoWayReading
from urban_mule.core.train.fold import LINEAR_UNITS, ROTARY_UNITS
from urban_mule.core.train.links import STAGES

FORMAT = "urban-mule/1"
RENAMED = {"motor_peak_torque": "peak_torque"}  # a servo's data-sheet key, which on the sheet names what the cycle asks
LONGEST_TEXT = 20_000
LARGEST_TOLERANCE = 0.9  # of a value: beyond it the value is not known at all
TOLERANCES_SCHEMA = {
    "type": "object", "description": "half width of a number as a share of its value, by key",
    "additionalProperties": {"type": "number", "exclusiveMinimum": 0, "maximum": LARGEST_TOLERANCE}}


class Strict(BaseModel):
    """A frozen part of the document that takes only its own keys and keys that begin with x_.

    `givens` are its fields that the core declares. All are checked in one go: a validator for each, as pydantic would make
    them, costs every start a tenth of a second.
    """

    # Built only as part of the whole project: two dozen validators of their own would double the start-up.
    model_config = ConfigDict(frozen=True, extra="allow", arbitrary_types_allowed=True, defer_build=True)
    what: ClassVar[str] = "this part"
    givens: ClassVar[dict[str, Given]] = {}

    @model_validator(mode="before")
    @classmethod
    def known_and_allowed(cls, data: Any) -> Any:
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
            elif key not in cls.model_fields:
                if not key.startswith("x_"):
                    near = difflib.get_close_matches(key, cls.model_fields, n=1, cutoff=0.0)
                    raise ValueError(f"{cls.what} has no key {key!r}; the nearest is {near[0]!r}")
                finite(value)
            taken[key] = value
        return taken

    @classmethod
    def checked(cls, key: str, value: Any) -> Any:
        """A given as the core wants it. Raises the error that `exchange.sentence` knows as `given`."""
        one = cls.givens[key]
        if value is None and not cls.model_fields[key].is_required():
            return None
        try:
            value = one.check(value)
        except BadValue as why:
            fault = str(why).removeprefix(one.name).removeprefix(":").strip()
            raise PydanticCustomError("given", "{fault}", {"key": key, "fault": fault}) from None
        return int(value) if one.whole else value if one.choices else float(value)

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
        return made


def given_schema(one: Given) -> dict[str, Any]:
    """The JSON Schema of one given."""
    bounds = {"exclusiveMinimum": one.above, "minimum": one.least, "maximum": one.most}
    kind = {"enum": list(one.choices)} if one.choices else {"type": "integer" if one.whole else "number", **bounds}
    return {"description": f"{one.doc} [{one.unit or '-'}]", **{key: value for key, value in kind.items() if value is not None}}


def finite(value: Any) -> None:
    """Raises ValueError for a number that JSON does not know, however deep it stands."""
    if isinstance(value, float) and not np.isfinite(value):
        raise ValueError(f"{value} is not a number that this file may hold")
    for inner in value.values() if isinstance(value, dict) else value if isinstance(value, list) else ():
        finite(inner)


def text(value: object) -> str:
    if not isinstance(value, str):
        raise ValueError(f"is {shown(value)}; allowed is a text")
    if len(value) > LONGEST_TEXT:
        raise ValueError(f"has {len(value)} characters; allowed are {LONGEST_TEXT}")
    return value


def named(value: object) -> str:
    if not text(value).strip():
        raise ValueError("is empty; a name is needed")
    return text(value)


Text = Annotated[str, BeforeValidator(text)]
Name = Annotated[str, BeforeValidator(named)]


def part(name: str, what: str, /, *records: type, required: tuple[str, ...] = (), **more: Any) -> type[Strict]:
    """A model whose fields are what the records of the core declare, and `more`."""
    found = {RENAMED.get(one.name, one.name): one for record in records for one in givens(record)}
    fields = {key: (Any, ... if key in required else None) for key in found}
    model: type[Strict] = create_model(name, __base__=Strict, **{**fields, "tolerances": (Any, None), **more})
    model.what, model.givens = what, found
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
        Any, BeforeValidator(lambda value: frozen_array(value, what, dimensions)),
        PlainSerializer(lambda array: array.tolist()), WithJsonSchema(schema),
    ]


if TYPE_CHECKING:
    Column: TypeAlias = np.ndarray
    Table: TypeAlias = np.ndarray
else:
    Column = array_field("a list of numbers", 1)
    Table = array_field("a list of rows of numbers", 2)


class Reading(Strict):
    """What every set of readings may say of itself."""

    note: Text = ""
    taken: Text = ""
    device: Text = ""


class TwoWay(Reading):
    what: ClassVar[str] = "a reading"
    targets: Column
    up: Table
    down: Table

    @model_validator(mode="after")
    def fits(self) -> TwoWay:
        for name in ("up", "down"):
            if getattr(self, name).shape[1] != self.targets.size:
                raise ValueError(f"{name} has {getattr(self, name).shape[1]} columns for {self.targets.size} targets")
        if len(set(self.targets.tolist())) != self.targets.size:
            raise ValueError("targets holds a target twice")
        return self

    @cached_property
    def core(self) -> TwoWayReading:
        return TwoWayReading(self.targets, self.up, self.down)


class ReversalModel(TwoWay):
    what: ClassVar[str] = "a reversal reading"
    kind: Literal["reversal"]


class PositioningModel(TwoWay):
    what: ClassVar[str] = "a positioning reading"
    kind: Literal["positioning"]


class TravelModel(Reading):
    what: ClassVar[str] = "a travel reading"
    givens: ClassVar[dict[str, Given]] = {
        "commanded": Given("commanded", "m or rad", "", "travel commanded", nonzero=True),
        "gauge_uncertainty": Given("gauge_uncertainty", "m or rad", "", "standard uncertainty of the gauge", least=0)}
    kind: Literal["travel"]
    commanded: Any
    measured: Column
    gauge_uncertainty: Any = None

    @cached_property
    def core(self) -> TravelReading:
        return TravelReading(self.commanded, self.measured, self.gauge_uncertainty)


class AccelerationModel(Reading):
    what: ClassVar[str] = "an acceleration reading"
    kind: Literal["acceleration"]
    time: Column
    values: Table
    direction: Text = ""

    @model_validator(mode="after")
    def fits(self) -> AccelerationModel:
        if len(self.values) != self.time.size:
            raise ValueError(f"values has {len(self.values)} rows for {self.time.size} times")
        steps = np.diff(self.time)
        if np.any(steps <= 0):
            raise ValueError(f"time does not rise at sample {int(np.argmax(steps <= 0)) + 1}")
        return self

    @cached_property
    def core(self) -> AccelerationReading:
        return AccelerationReading(self.time, self.values)


READING_MODELS: dict[str, type[Reading]] = {
    "reversal": ReversalModel, "positioning": PositioningModel, "travel": TravelModel, "acceleration": AccelerationModel}
STAGE_MODELS = {
    kind: part(record.__name__, f"a {kind}", record, kind=(Literal[kind], ...))
    for kind, record in STAGES.items()
}
MOTOR_MODELS = {
    kind: part(records[0].__name__, f"a {kind}", *records, AnyMotor, FittedBrake, PartFigures,
               kind=(Literal[kind], ...), name=(Text, ""))
    for kind, records in (("stepper", (StepperMotor, MotorLeads)), ("servo", (ServoMotor,)))
}
MoveModel = part("Move", "a move", Move, required=("distance", "speed", "acceleration"))


def one_of(models: dict[str, Any]) -> Any:
    """Any of these models, told apart by their kind."""
    return Annotated[Union[tuple(models.values())], Field(discriminator="kind")]  # noqa: UP007


class SwitchRow(Strict):
    what: ClassVar[str] = "a row of the switch bank"
    givens: ClassVar[dict[str, Given]] = {"current_peak": Given("current_peak", "A", "", "peak current set", above=0)}
    switches: Text
    current_peak: Any

    @model_validator(mode="after")
    def binary(self) -> SwitchRow:
        if not self.switches or set(self.switches) - {"0", "1"}:
            raise ValueError(f"switches is {self.switches!r}; allowed are 0 and 1, one for each switch")
        return self


DriverModel = part("Driver", "a driver", AnyDriver, Driver, ServoDriver, name=(Text, ""),
                   switch_bank=(tuple[SwitchRow, ...] | None, None))
Unit = Annotated[Literal["m", "mm", "in", "rad", "deg", "turn"] | None, Field(None)]
ControllerModel = part("Controller", "a controller", Controller, name=(Text, ""), unit=(Unit, None))


class Follower(Strict):
    """What is known to differ on the second motor of a beam; what is left out is as the leader's."""

    what: ClassVar[str] = "a follower"
    train: tuple[one_of(STAGE_MODELS), ...] | None = None
    motor: one_of(MOTOR_MODELS) | None = None
    driver: DriverModel | None = None


AxisFields = part(
    "AxisFields", "an axis", AnyLoad, LinearLoad, RotaryLoad, PathTolerance, Goals,
    name=(Name, ...), motion=(Literal["linear", "rotary"], "linear"),
    train=(tuple[one_of(STAGE_MODELS), ...] | None, None), cycle=(tuple[MoveModel, ...] | None, None),
    motor=(one_of(MOTOR_MODELS) | None, None), driver=(DriverModel | None, None),
    controller=(ControllerModel | None, None), follower=(Follower | None, None), readings=(tuple[one_of(READING_MODELS), ...], ()),
)


class Axis(AxisFields):
    """One axis of the machine."""

    what: ClassVar[str] = "an axis"

    @model_validator(mode="after")
    def fits_its_motion(self) -> Axis:
        turned = False
        for place, stage in enumerate(self.train or ()):
            record = STAGES[stage.kind]
            if turned:
                raise ValueError(f"train[{place}] is a {stage.kind} behind the link that already turns into travel")
            if record.turns_into_travel and self.motion == "rotary":
                raise ValueError(f"train[{place}] is a {stage.kind}, which gives a linear travel; this axis is rotary")
            if stage.kind == "direct" and self.motion == "linear":
                raise ValueError(f"train[{place}] is direct, which keeps a rotation; this axis is linear")
            turned = record.turns_into_travel
        allowed = LINEAR_UNITS if self.motion == "linear" else ROTARY_UNITS
        if self.controller is not None and self.controller.unit not in (None, *allowed):
            raise ValueError(
                f"controller.unit is {self.controller.unit}; a {self.motion} axis counts in {', '.join(allowed)}")
        return self

    @property
    def motor_kind(self) -> str:
        return "stepper" if self.motor is None else str(self.motor.kind)

    @property
    def unit(self) -> str:
        """The controller's unit, by default mm or deg."""
        chosen = None if self.controller is None else self.controller.unit
        return chosen or ("mm" if self.motion == "linear" else "deg")

    def last_reading(self, kind: str) -> Any:
        """The last reading of a kind, or None."""
        return next((reading for reading in reversed(self.readings) if reading.kind == kind), None)


ProjectFields = part(
    "ProjectFields", "the project", Surroundings, Mains, format=(Literal[FORMAT], ...), name=(Text, ""),
    notes=(Text, ""), unit_system=(Literal["metric", "inch"], "metric"), axes=(tuple[Axis, ...], ...),
)


class Project(ProjectFields):
    """The whole project as a file holds it."""

    what: ClassVar[str] = "the project"

    @model_validator(mode="after")
    def axes_have_names(self) -> Project:
        names = [axis.name for axis in self.axes]
        if not names:
            raise ValueError("axes is empty; at least one axis is needed")
        for place, name in enumerate(names):
            if name in names[:place]:
                raise ValueError(f"axes[{place}].name is {name!r}, which another axis has already")
        return self

    def axis(self, name: str) -> Axis:
        """The axis of a name. Raises KeyError."""
        return next((axis for axis in self.axes if axis.name == name), None) or _no_axis(name, self)


def _no_axis(name: str, project: Project) -> Axis:
    raise KeyError(f"no axis {name!r}; there are {', '.join(axis.name for axis in project.axes)}")
