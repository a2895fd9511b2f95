"""What commissioning leaves in the document: trials of a threshold, answers at stations, what is set only for now."""

from __future__ import annotations

from typing import Annotated, Any, ClassVar, Literal

from urban_mule.core.sheet.given import Given
from urban_mule.store.document.base import Name, Strict, Text
from urban_mule.store.document.fields import Checked
from urban_mule.store.document.readings import plain_conditions


class StallTrialBody(Strict):
    """One trial of a threshold, and what held while it was made."""

    what: ClassVar[str] = "a trial"
    threshold: int
    answer: Literal["crashed", "early", "good"]
    conditions: Annotated[Any, Checked(plain_conditions)] = None


class StationAnswer(Strict):
    """What was answered at a station: by whom and when, what was seen otherwise, and the facts of then.

    photograph: the name of a picture in the project file.
    """

    what: ClassVar[str] = "an answer at a check"
    station: Name
    state: Literal["done", "not done", "otherwise"]
    by: Text = ""
    taken: Text = ""
    note: Text = ""
    photograph: Text = ""
    conditions: Annotated[Any, Checked(plain_conditions)] = None


class ForNow(Strict):
    """Something that is set only for now, until it is put back. since, put_back: when, as ISO 8601."""

    what: ClassVar[str] = "something set only for now"
    set: Name
    since: Text = ""
    put_back: Text = ""


class Adopted(Strict):
    """A given that was taken over from what was measured: of which part it is, its value then, whence it came, and when."""

    what: ClassVar[str] = "a value used as measured"
    givens: ClassVar[dict[str, Given]] = {"value": Given("value", "", "", "the value as it was taken over, in SI")}
    part: Literal["motor", "axis", "driver"]
    given: Name
    value: Any
    source: Text = ""
    taken: Text = ""
