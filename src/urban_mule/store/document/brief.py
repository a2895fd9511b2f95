"""What the Brief leaves in the document: decisions, parts to be bought, answers to what is asked of safety."""

from __future__ import annotations

from typing import Annotated, Any, ClassVar, Literal

from urban_mule.core.brief.decisions import NAMES
from urban_mule.core.brief.fits import PartSizes
from urban_mule.core.brief.safety import ANSWERS, QUESTIONS
from urban_mule.core.parts.figures import PartFigures
from urban_mule.core.sheet.given import Given
from urban_mule.store.document.base import Name, Strict, Text
from urban_mule.store.document.fields import Checked
from urban_mule.store.document.readings import plain_conditions


class DecisionBody(Strict):
    """A decision: which school, what is decided and why, and what the earlier ones said then."""

    what: ClassVar[str] = "a decision"
    decision: Literal[NAMES]  # type: ignore[valid-type]
    school: Text = ""
    decided: Text = ""
    why: Text = ""
    taken: Text = ""
    conditions: Annotated[Any, Checked(plain_conditions)] = None


class SafetyAnswer(Strict):
    """What was answered to a question of safety, by whom and when. It is the user's answer, no certificate."""

    what: ClassVar[str] = "an answer to what is asked of safety"
    question: Literal[tuple(one.name for one in QUESTIONS)]  # type: ignore[valid-type]
    answer: Literal[ANSWERS]  # type: ignore[valid-type]
    note: Text = ""
    by: Text = ""
    taken: Text = ""


class PartOrderBody(Strict):
    """A part that is bought: of an axis by its slot, or a row of the user's own by its name.

    slot: motor, driver, controller, brake, or a link by its place, as train 0. ordered, arrived: ISO dates, or the user's words.
    """

    slot: Name
    supplier: Text = ""
    ordered: Text = ""
    arrived: Text = ""
    note: Text = ""
    quantity: Any = None


class PartOrder(PartOrderBody, PartSizes, PartFigures):
    what: ClassVar[str] = "a part to be bought"
    quantity: int | None


PartOrder.givens = {**PartOrder.givens, "quantity": Given("quantity", "", "", "how many", whole=True, least=0)}
