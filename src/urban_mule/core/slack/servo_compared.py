"""The stiffness of an axis with a servo, computed and pushed."""

from __future__ import annotations

from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.pair import Measured, pair
from urban_mule.core.sheet.quantity import quantity
from urban_mule.core.slack.compared import PUSHING, pushed

LEFT_OUT = 0.05  # share


@quantity("[effort]/[travel]", symbol="", source="trains side by side; the loop brings each motor back to where it was",
          structure=True, formula="n·k")
def stiffness_of_trains(train_stiffness: Reals, motor_count: Reals) -> Reals:
    """Effort per travel with which all trains answer a push; train_stiffness [effort/travel]."""
    return motor_count * train_stiffness


@pair("stiffness", stage="Slack", computes="stiffness_of_trains", model=LEFT_OUT, shown_as="contact_stiffness", **PUSHING)
def stiffness(contact_stiffness: float, contact_stiffness_uncertainty: float | None = None) -> Measured:
    """What a push finds of all trains [effort/travel]."""
    return pushed(contact_stiffness, contact_stiffness_uncertainty, LEFT_OUT)
