"""The project document: validated, frozen, its fields taken from what the core declares.

A field is declared once, on a record of the core; its name, range and meaning here follow from there.
"""

from __future__ import annotations

from collections.abc import Iterator
from datetime import datetime, timedelta
from typing import Any, ClassVar, Literal, Self

from urban_mule.core.drive.pulses import PulseTimes, SharedPulses, slowest_of
from urban_mule.core.readings.gauge import Gauge
from urban_mule.core.sheet.units import LINEAR_UNITS, ROTARY_UNITS
from urban_mule.core.slack.upkeep import Upkeep
from urban_mule.core.subjects import KINDS, kinds_under
from urban_mule.core.train.links import LINKS
from urban_mule.store.document.base import Name, Strict, Text, after
from urban_mule.store.document.belief import Belief
from urban_mule.store.document.brief import DecisionBody, PartOrder, SafetyAnswer
from urban_mule.store.document.commissioning import Adopted, ForNow, StallTrialBody, StationAnswer
from urban_mule.store.document.drivers import ControllerModel, DriverModel
from urban_mule.store.document.identity import Identified, Named, each_somebody
from urban_mule.store.document.made import PLAIN_SUBJECTS, AnyLink, AnyMotorModel, AxisRecords, ProjectRecords
from urban_mule.store.document.modes import NamedMode
from urban_mule.store.document.pairs import AnyPair
from urban_mule.store.document.parts import Follower, MoveModel, StepModel
from urban_mule.store.document.practice import HiddenFaults, MadeMachine
from urban_mule.store.document.readings import AnyReading, Reading
from urban_mule.store.document.shared_motors import SharedMotors, fault_of
from urban_mule.store.document.spindles import SpindleModel

FORMAT = "urban-mule/1"
SUBJECT_KEYS = tuple(dict.fromkeys(kind.key for kind in KINDS.values() if kind.key))  # axes first

class UpkeepBody(Identified):
    """A task of maintenance; when it was done last stands in the log. photographs: names of attachments."""

    task: Name
    steps: tuple[Text, ...] | None = None
    photographs: tuple[Text, ...] | None = None


class UpkeepModel(UpkeepBody, Upkeep):
    what: ClassVar[str] = "a task of maintenance"


class AxisBody(Named):
    """One axis of the machine."""

    motion: Literal["linear", "rotary"] = "linear"
    train: tuple[AnyLink, ...] | None = None
    cycle: tuple[MoveModel, ...] | None = None
    motor: AnyMotorModel | None = None
    driver: DriverModel | None = None
    controller: ControllerModel | None = None
    follower: Follower | None = None
    maintenance: tuple[UpkeepModel, ...] | None = None
    coil_resistances: Text = ""
    coil_loops: Text = ""
    coil_plug: Text = ""
    stall_trials: tuple[StallTrialBody, ...] | None = None
    stations: tuple[StationAnswer, ...] | None = None
    for_now: tuple[ForNow, ...] | None = None
    adopted: tuple[Adopted, ...] | None = None
    belief: Belief | None = None
    mode_names: tuple[NamedMode, ...] | None = None
    parts: tuple[PartOrder, ...] | None = None
    readings: tuple[AnyReading, ...] = ()

    @after
    def fits_its_motion(self) -> Self:
        """An axis whose train and cycle fit the way it moves. Raises ValueError."""
        turned = False
        for place, stage in enumerate(self.train or ()):
            record = LINKS[stage.kind]
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
        each_somebody(self.train)  # type: ignore[arg-type]
        each_somebody(self.maintenance)
        return self

    @property
    def following(self) -> Axis | None:
        """The axis as its second motor has it: the leader's parts with what the follower says; None with one motor only."""
        if self.follower is None and (getattr(self, "motor_count", None) or 1) < 2:
            return None
        said = self.follower or Follower()
        changed: dict[str, Any] = {name: _over(getattr(self, name), getattr(said, name)) for name in ("motor", "driver")}
        if said.train is not None and len(said.train) == len(self.train or ()):
            changed["train"] = tuple(_over(one, other) for one, other in zip(self.train or (), said.train, strict=True))
        return self.model_copy(update={**changed, "follower": None})  # type: ignore[return-value]

    @property
    def kind_name(self) -> str:  # type: ignore[override]
        """Of the kind of subject that it is."""
        return f"{self.motion} {self.motor_kind}"

    @property
    def motor_kind(self) -> str:
        return "stepper" if self.motor is None else str(self.motor.kind)

    @property
    def pulse_timings(self) -> tuple[PulseTimes, ...]:
        """Pulse width, gap and direction set-up of each of its drivers [s]."""
        drivers = [one.driver for one in (self, self.following) if one is not None and one.driver is not None]
        return tuple((one.minimum_pulse_width, one.minimum_pulse_gap, one.direction_setup) for one in drivers)

    @property
    def unit(self) -> str:
        """The controller's unit, by default mm or deg."""
        chosen = None if self.controller is None else self.controller.unit
        return chosen or ("mm" if self.motion == "linear" else "deg")

    def last_reading(self, kind: str) -> Reading | None:
        """The last reading of a kind that counts among the others of its kind, or None."""
        return next((reading for reading in reversed(self.readings) if reading.kind == kind and not reading.aside
                     and not reading.declared.is_apart(reading)), None)


def _over(leader: Strict | None, follower: Strict | None) -> Strict | None:
    """A part of the leader with what the follower's says instead."""
    if follower is None or leader is None or getattr(leader, "kind", "") != getattr(follower, "kind", ""):
        return follower or leader
    said = {name: value for name, value in follower if value not in (None, "")}
    if "switch_bank" in said or "banks" in said:
        said = {"switch_bank": None, "banks": None, **said}
    made: Strict = type(leader).model_validate({**dict(leader), **said})  # a copy would keep what the leader has worked out
    return made


class Axis(AxisBody, AxisRecords):
    what: ClassVar[str] = "an axis"
    tolerances: dict[str, float] | None
    usual: tuple[str, ...] | None


def from_practice(axis: Axis, kind: str) -> bool:
    """Whether what is known by the last readings of a kind was made up for practice."""
    reading = axis.last_reading(kind)
    return reading is not None and reading.practice


class GaugeBody(Named):
    """What measures: kept in the project, named by the readings that it took. calibrated: when, as an ISO date."""

    unit: Text = ""
    calibrated: Text = ""

    @property
    def due(self) -> datetime | None:
        """Until when its calibration holds; None where nobody has said."""
        interval: float | None = getattr(self, "calibration_interval", None)
        try:
            begun = datetime.fromisoformat(self.calibrated)
        except ValueError:
            return None
        return None if interval is None else begun + timedelta(seconds=interval)


class GaugeModel(GaugeBody, Gauge):
    what: ClassVar[str] = "a gauge"


class ProjectBody(Strict):
    """The whole project as a file holds it."""

    format: Literal["urban-mule/1"]
    name: Text = ""
    notes: Text = ""
    unit_system: Literal["metric", "inch"] = "metric"
    practice: bool | None = None
    machines: tuple[MadeMachine, ...] | None = None
    hidden: HiddenFaults | None = None
    readings: tuple[AnyPair, ...] | None = None
    pairs: tuple[SharedMotors, ...] | None = None
    machine_cycle: tuple[StepModel, ...] | None = None
    spindles: tuple[SpindleModel, ...] | None = None
    decisions: tuple[DecisionBody, ...] | None = None
    safety: tuple[SafetyAnswer, ...] | None = None
    parts: tuple[PartOrder, ...] | None = None
    begin_on: Text = ""
    gauges: tuple[GaugeModel, ...] | None = None
    axes: tuple[Axis, ...]

    @after
    def parts_have_names(self) -> Self:
        """A project with an axis, and no name twice in one list. Raises ValueError."""
        if not self.axes:
            raise ValueError("axes is empty; at least one axis is needed")
        for key, what in (("gauges", "gauge"), *((key, kinds_under(key)[0].what.partition(" ")[2]) for key in SUBJECT_KEYS)):
            names: set[str] = set()
            for place, one in enumerate(getattr(self, key, None) or ()):
                if one.name in names:
                    raise ValueError(f"{key}[{place}].name is {one.name!r}, which another {what} has already")
                names.add(one.name)
            each_somebody(getattr(self, key, None))
        return self

    @property
    def subjects(self) -> Iterator[Named]:
        """All that have a sheet of their own, the axes first."""
        return (one for key in SUBJECT_KEYS for one in getattr(self, key, None) or ())

    @property
    def others(self) -> tuple[Named, ...]:
        """The subjects that are no axes."""
        return tuple(one for key in SUBJECT_KEYS[1:] for one in getattr(self, key, None) or ())

    def path_of(self, who: str) -> tuple[str, int] | None:
        """Where a subject of an identity stands; None when it is gone."""
        return next(((key, place) for key in SUBJECT_KEYS for place, one in enumerate(getattr(self, key, None) or ())
                     if one.id == who), None)

    @after
    def pairs_are_axes(self) -> Self:
        """A project whose pair readings are of two linear axes. Raises ValueError."""
        linear = [axis.name for axis in self.axes if axis.motion == "linear"]
        for place, one in enumerate(self.readings or ()):
            first, second = one.axes
            if first == second or not {first, second} <= set(linear):
                raise ValueError(f"readings[{place}].axes is {first!r}, {second!r}; allowed are two different linear axes of"
                                 f" {', '.join(linear) or 'none'}")
        return self

    @after
    def motors_can_be_shared(self) -> Self:
        """Axes of a pair are two linear ones with a motor each, alike in travel and inertia, in no other. Raises ValueError."""
        taken: dict[str, int] = {}
        for place, one in enumerate(self.pairs or ()):
            fault = fault_of(one, self.axes)
            if fault:
                raise ValueError(f"pairs[{place}].axes {fault}")
            for name in one.axes:
                if name in taken:
                    raise ValueError(f"pairs[{place}].axes holds {name!r}, which is in pairs[{taken[name]}] already")
                taken[name] = place
        return self

    def pair_of(self, axis: Axis) -> SharedMotors | None:
        """The pair that an axis belongs to; None for one that moves by itself."""
        return next((one for one in self.pairs or () if axis.name in one.axes), None)

    def motor_of(self, axis: Axis) -> str:
        """Which motor of a pair is entered on an axis, A or B; nothing on one that moves by itself."""
        pair = self.pair_of(axis)
        return "" if pair is None else "AB"[pair.axes.index(axis.name)]

    def motor_name(self, axis: Axis) -> str:
        """How the motor of an axis is called on paper: as its axis, of a pair with its letter."""
        letter = self.motor_of(axis)
        return f"{axis.name}, motor {letter}" if letter else axis.name

    def fellow_of(self, axis: Axis) -> Axis | None:
        """The axis that shares both motors with this one; None for one that moves by itself."""
        pair = self.pair_of(axis)
        return None if pair is None else self.axis(pair.axes[1 - pair.axes.index(axis.name)])

    def in_cycle(self, axis: Axis) -> bool:
        """Whether an axis moves in the machine's cycle."""
        return any(axis.name in step.axes for step in self.machine_cycle or ())

    def places_sharing(self, index: int) -> tuple[int, ...]:
        """The place of an axis, and that of the other one of its pair."""
        fellow = self.fellow_of(self.axes[index])
        return (index,) if fellow is None else (index, self.axes.index(fellow))

    @property
    def pulses_shared(self) -> SharedPulses | None:
        """Timing that all drivers get from one pulse generator, followers' among them; None where they do not share one."""
        shared = getattr(self, "shared_pulses", None)
        return slowest_of(timing for axis in self.axes for timing in axis.pulse_timings) if shared else None

    def supply_of(self, axis: Axis) -> float | None:
        """The supply that an axis hangs on [V]: its own, else the one that the axes share."""
        own = None if axis.driver is None else axis.driver.supply_voltage
        return getattr(self, "supply_voltage", None) if own is None else own

    def supply_path(self, index: int) -> tuple[str | int, ...]:
        """Where the supply of an axis is said: on the project where the axes share one and this one names no other."""
        driver = self.axes[index].driver
        shared = getattr(self, "supply_voltage", None) is not None and (driver is None or driver.supply_voltage is None)
        return ("supply_voltage",) if shared else ("axes", index, "driver", "supply_voltage")

    def axis(self, name: str) -> Axis:
        """The axis of a name. Raises KeyError."""
        return next((axis for axis in self.axes if axis.name == name), None) or _no_axis(name, self)


class Project(ProjectBody, ProjectRecords):
    what: ClassVar[str] = "the project"
    more: ClassVar[dict[str, Any]] = PLAIN_SUBJECTS


def _no_axis(name: str, project: ProjectBody) -> Axis:
    raise KeyError(f"no axis {name!r}; there are {', '.join(axis.name for axis in project.axes)}")
