"""Classes that nobody writes: over the records of the core that the kinds of subjects declare, or one of several by its `kind`.

mypy reads what they are from made.pyi, which `make docs` writes.
"""

from __future__ import annotations

from typing import Annotated, Any, Literal, Union

from urban_mule.core.drive.interface import SIGNALS
from urban_mule.core.parts.figures import MotorLeads, PartFigures
from urban_mule.core.subjects import KINDS, MOTORS, OWN, PROJECT, kinds_under, records_of
from urban_mule.core.train.links import LINKS
from urban_mule.store.document.base import MOST, Strict, Text, part
from urban_mule.store.document.fields import OneOf
from urban_mule.store.document.identity import Identified, Named
from urban_mule.store.document.printed import PrintedCurveModel

WRITTEN = ("axes", "spindles")  # keys of the document whose parts are more than what is given
MOST_OF_A_KIND = 64


def records(name: str, key: str, of: str) -> Any:
    """A class that stands for all records of a part of the document."""
    return type(name, (), {"stands_for": records_of(key, of), "__module__": __name__})


AxisRecords, DriverRecords = records("AxisRecords", "axes", OWN), records("DriverRecords", "axes", "driver")
ControllerRecords = records("ControllerRecords", "axes", "controller")
SpindleRecords = records("SpindleRecords", "spindles", OWN)
SpindleMotorRecords = records("SpindleMotorRecords", "spindles", "motor")
SpeedsRecords, CutRecords = records("SpeedsRecords", "spindles", "speeds"), records("CutRecords", "spindles", "cut")
ProjectRecords = type("ProjectRecords", (), {"stands_for": tuple(dict.fromkeys(
    one for kind in KINDS.values() for one in records_of(kind.key, PROJECT))), "__module__": __name__})

LINK_MODELS: dict[str, Any] = {
    kind: part(record.__name__, f"a {kind}", record, base=Identified, kind=(Literal[kind], ...)) for kind, record in LINKS.items()}
ONLY_IN_THE_DOCUMENT: dict[str, tuple[type, ...]] = {"stepper": (MotorLeads, PartFigures), "servo": (PartFigures,)}
MOTOR_MODELS: dict[str, Any] = {
    kind: part(f"{kind.title()}Motor", f"a {kind}", *records_of("axes", "motor", kind), *ONLY_IN_THE_DOCUMENT[kind],
               kind=(Literal[kind], ...), name=(Text, ""), printed_curves=(tuple[PrintedCurveModel, ...] | None, None))
    for kind in MOTORS}


def one_of(models: dict[str, Any]) -> Any:
    """Any of these models, told apart by their kind."""
    return Annotated[Union[tuple(models.values())], OneOf(models)]  # noqa: UP007


AnyLink, AnyMotorModel = one_of(LINK_MODELS), one_of(MOTOR_MODELS)


class TerminalsBody(Strict):
    """Where the signals of a driver go: the controller's terminals in the user's words."""

    what = "the terminals of a driver"


Terminals = part("Terminals", "the terminals of a driver", base=TerminalsBody, **dict.fromkeys(SIGNALS, (Text, "")))


def _plain_subject(key: str) -> Any:
    """The part of the document for subjects of which nothing is said but what is given."""
    kind = kinds_under(key)[0]
    inner = {of: (part(f"{kind.name}_{of}", f"the {of} of {kind.what}", *records_of(key, of)) | None, None)
             for of in kind.parts if of not in (OWN, PROJECT)}
    made = part(kind.name.title(), kind.what, *records_of(key, OWN), base=Named, **inner)
    made.word = made.kind_name = kind.name
    return made


PLAIN_SUBJECTS: dict[str, Any] = {kind.key: (tuple[_plain_subject(kind.key), ...] | None, None)  # type: ignore[misc]
                                  for kind in KINDS.values() if kind.key and kind.key not in WRITTEN}
MOST.update(dict.fromkeys(PLAIN_SUBJECTS, MOST_OF_A_KIND))
