"""Readings of the project: what belongs to two of its axes."""

from __future__ import annotations

from functools import cached_property
from typing import Annotated, Any, ClassVar, Literal, Self

from urban_mule.core.readings.pairs import AlongReading, CircleReading, CircleWay, DiagonalsReading, PieceReading
from urban_mule.core.sheet.given import Given
from urban_mule.store.document.base import Name, Numbers, Strict, Text, after
from urban_mule.store.document.fields import OneOf
from urban_mule.store.document.readings import SIMULATED


def _length(name: str, doc: str) -> Given:
    return Given(name, "m", "", doc, above=0)


def _alike(what: str, one: Any, other: Any, names: tuple[str, str]) -> None:
    if one.size != other.size:
        raise ValueError(f"{what}{names[1]} has {other.size} values for {one.size} of {names[0]}")


class PairReading(Strict):
    """What any of them says of itself. axes: two different linear axes of the project, the first is x."""

    what: ClassVar[str] = "a reading of two axes"
    kind: str
    axes: tuple[Name, Name]
    note: Text = ""
    taken: Text = ""
    device: Text = ""
    source: Literal["typed", "file", "device", "practice", ""] = ""
    gauge: Text = ""
    aside: Text = ""

    @property
    def practice(self) -> bool:
        """Whether it comes from no machine."""
        return self.source == "practice" or self.device == SIMULATED


class CircleWayBody(Strict):
    """One way round a circle."""

    what: ClassVar[str] = "a way round a circle"
    angle: Numbers
    deviation: Numbers

    @after
    def fits(self) -> Self:
        """An angle for each deviation. Raises ValueError."""
        _alike("", self.angle, self.deviation, ("angle", "deviation"))
        return self


class CircleBody(PairReading):
    """A circle, clockwise, counterclockwise or both."""

    what: ClassVar[str] = "a circle"
    givens: ClassVar[dict[str, Given]] = {"radius": _length("radius", "radius as commanded")}
    kind: Literal["circle"]
    radius: Any
    clockwise: CircleWayBody | None = None
    counterclockwise: CircleWayBody | None = None

    @after
    def one_way_at_least(self) -> Self:
        """A circle with one way round at least. Raises ValueError."""
        if self.clockwise is None and self.counterclockwise is None:
            raise ValueError("a circle is read clockwise, counterclockwise or both; neither is here")
        return self

    @property
    def core(self) -> CircleReading:
        return self._core

    @cached_property
    def _core(self) -> CircleReading:
        ways = [None if way is None else CircleWay(way.angle, way.deviation) for way in (self.clockwise, self.counterclockwise)]
        return CircleReading(self.axes, float(self.radius), *ways)


class DiagonalsBody(PairReading):
    """The two diagonals of a rectangle."""

    what: ClassVar[str] = "diagonals"
    givens: ClassVar[dict[str, Given]] = {
        **{name: _length(name, doc) for name, doc in (
            ("side_x", "side along the first axis, as commanded"), ("side_y", "side along the second axis, as commanded"),
            ("diagonal_plus", "from 0,0 to the far corner"), ("diagonal_minus", "the other one"))},
        "gauge_uncertainty": Given("gauge_uncertainty", "m", "", "standard uncertainty of the gauge", least=0)}
    kind: Literal["diagonals"]
    side_x: Any
    side_y: Any
    diagonal_plus: Any
    diagonal_minus: Any
    gauge_uncertainty: Any = None

    @property
    def core(self) -> DiagonalsReading:
        return self._core

    @cached_property
    def _core(self) -> DiagonalsReading:
        sides = self.side_x, self.side_y, self.diagonal_plus, self.diagonal_minus
        return DiagonalsReading(self.axes, *sides, self.gauge_uncertainty)


class PieceWayBody(Strict):
    """Lengths on a test piece along one axis."""

    what: ClassVar[str] = "lengths on a test piece"
    nominal: Numbers
    measured: Numbers

    @after
    def fits(self) -> Self:
        """Two diagonals, nominal and measured, above 0. Raises ValueError."""
        _alike("", self.nominal, self.measured, ("nominal", "measured"))
        for name in ("nominal", "measured"):
            if (getattr(self, name) <= 0).any():
                raise ValueError(f"{name} holds a length that is not above 0")
        return self


class PieceBody(PairReading):
    """A test piece measured along both axes."""

    what: ClassVar[str] = "a test piece"
    kind: Literal["piece"]
    x: PieceWayBody
    y: PieceWayBody

    @property
    def core(self) -> PieceReading:
        return self._core

    @cached_property
    def _core(self) -> PieceReading:
        return PieceReading(self.axes, self.x.nominal, self.x.measured, self.y.nominal, self.y.measured)


class AlongBody(PairReading):
    """What a gauge shows at places along one axis, beside a square or a straight edge."""

    what: ClassVar[str] = "readings along an edge"
    givens: ClassVar[dict[str, Given]] = {
        "gauge_uncertainty": Given("gauge_uncertainty", "m", "", "standard uncertainty of the gauge", least=0)}
    places: Numbers
    deviation: Numbers
    gauge_uncertainty: Any = None

    @after
    def fits(self) -> Self:
        """A place for each deviation. Raises ValueError."""
        _alike("", self.places, self.deviation, ("places", "deviation"))
        return self

    @property
    def core(self) -> AlongReading:
        return self._core

    @cached_property
    def _core(self) -> AlongReading:
        return AlongReading(self.axes, self.places, self.deviation, self.gauge_uncertainty)


class SquareBody(AlongBody):
    """Along a square: the second axis moves, the gauge reads along the first."""

    what: ClassVar[str] = "readings along a square"
    kind: Literal["square"]


class StraightnessBody(AlongBody):
    """Along a straight edge: the first axis moves, the gauge reads along the second."""

    what: ClassVar[str] = "readings along a straight edge"
    kind: Literal["straightness"]


PAIR_MODELS: dict[str, type[PairReading]] = {"circle": CircleBody, "diagonals": DiagonalsBody, "square": SquareBody,
                                              "straightness": StraightnessBody, "piece": PieceBody}

AnyPair = Annotated[CircleBody | DiagonalsBody | SquareBody | StraightnessBody | PieceBody, OneOf(PAIR_MODELS)]


def pair_inputs(readings: tuple[Any, ...] | None) -> dict[str, Any]:
    """What these readings give the sheet of the project: of each kind the last one that counts."""
    found: dict[str, Any] = {f"{kind}_reading": None for kind in PAIR_MODELS}
    for one in readings or ():
        if not one.aside:
            found[f"{one.kind}_reading"] = one.core
    return found
